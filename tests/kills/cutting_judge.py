"""Pulls the plug in cutting mode at random moments: no tick lost, none twice, no foam either.

Run by `./quilt kills-cutting [N]`; a few in the suite.
"""

import random
import sys
import tempfile
import time
from collections import Counter
from contextlib import closing
from itertools import pairwise
from pathlib import Path

from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stock.foam_stock import ShopStock, StockKind, sheet
from ivory_quilt.files.project_file import load_project, save_project
from ivory_quilt.files.recovery import RecoveryFolder
from ivory_quilt.shop.opening import open_store
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore
from tests.kills.cutter import spent_text
from tests.kills.judge import run_and_kill

FOAM = Foam(6.0, "eva")
SHEETS = 60
ENDS_A_SUIT = 3
SIZES = ((180, 120, 20), (90, 60, 30), (40, 40, 30), (260, 90, 10))


def prepare(folder: Path) -> None:
    """Put a shop with foam, and a suit laid on it, into a folder."""
    half = sheet("half", "half sheet", FOAM, (600, 400), owned=SHEETS, margin=5)
    where = Places(folder / "data", folder / "config")
    opened = open_store(where.store)
    opened.store.put(half)
    opened.store.close()
    pieces = tuple(
        Piece(f"p{k}", f"plate {k}", rectangle(w, h), count=n) for k, (w, h, n) in enumerate(SIZES)
    )
    project = Project("suit", pieces)
    plan = derive(project, ShopStock((half,)))
    result = lay(plan.foams[0].job, limit=Limit(steps=0), clock=lambda: 0.0)
    save_project(keep_layout(project, KeptLayout(FOAM, result.placements)), folder / "suit.ivq")


def sheets_in(text: str) -> dict[str, str]:
    """Return each sheet of a told state: its id, and how it stands."""
    parts = (one.split(":", 1) for one in text.split("/") if ":" in one)
    return {ident: rest for ident, rest in parts}


def one_step_apart(a: str, b: str) -> bool:
    """Return whether one step of a maker's leads from one told state to the other."""
    old, new = sheets_in(a), sheets_in(b)
    changed = [i for i in {*old, *new} if old.get(i) != new.get(i)]
    if len(changed) > 1:
        return False
    for ident in changed:
        if ident in old and ident in new:
            (k1, s1), (k2, s2) = old[ident].split(":"), new[ident].split(":")
            differ = sum(x != y for x, y in zip(s1, s2, strict=False))
            if k1 == k2 and len(s1) == len(s2) and differ > 1:
                return False
            if k1 == k2 and abs(len(s1) - len(s2)) > 1:
                return False
    return True


def begun_since(a: str, b: str) -> bool:
    """Return whether a sheet lies under the knife by now whose order was still worked out."""
    old, new = sheets_in(a), sheets_in(b)
    fresh = [new[i] for i in new if i not in old]
    same = all(new.get(i) == old[i] for i in old)
    return same and len(fresh) == 1 and set(fresh[0].removeprefix("k:")) == {"w"}


class CuttingJudge:
    """Follows one folder through many sudden ends in cutting mode."""

    def __init__(self, folder: Path) -> None:
        self.root = self.folder = folder
        self.ends = 0
        self.steps = 0

    def one(self, seed: int) -> None:
        """Let one window work and end, then judge."""
        if self.ends % ENDS_A_SUIT == 0:  # else all of it would be cut before long
            self.folder = self.root / f"suit-{self.ends // ENDS_A_SUIT}"
            prepare(self.folder)
        chance = random.Random(seed)
        told, _ = run_and_kill(
            self.folder,
            seed,
            chance.choice((chance.uniform(0.2, 2.0), chance.uniform(2.0, 9.0))),
            "tests.kills.cutter",
        )
        said = [line[1] if len(line) > 1 else "-" for line in told.lines if line[0] == "now"]
        under_way = [line[0] for line in told.lines][-1] == "doing"
        left = RecoveryFolder(self.folder / "data" / "recovery").leftovers()
        states = [one.read() for one in left]
        saved = load_project(self.folder / "suit.ivq")
        newest = states[0] if states else None
        found = spent_text((newest.project if newest is not None else saved).spent) or "-"
        last = said[-1]
        right = found == last or (under_way and one_step_apart(last, found))
        right = right or begun_since(last, found)
        assert right, f"{last} was told, {found} is kept (under way: {under_way})"
        self.ends += 1
        self.steps += sum(a != b for a, b in pairwise(said))
        with closing(SqliteStore(self.folder / "data" / "shop.sqlite")) as store:
            spent = (newest.project if newest is not None else saved).spent
            move = newest.move if newest is not None else None
            if move is not None and not store.knows_move(move.token):
                spent = move.before
            self._foam(store.stock(), spent)

    def _foam(self, shop: ShopStock, spent: tuple) -> None:
        """All foam is on the shelf or cut, and every offcut is where it belongs."""
        there = {i.id: i.owned for i in shop.items}
        used = Counter(s.item.id for s in spent if s.owned)
        assert there.get("half", 0) + used["half"] == SHEETS, (there, used)
        made = [i for s in spent if not s.under_knife for i in s.left]
        labels = Counter(i.id for i in made if i.kind is StockKind.OFFCUT)
        assert all(n == 1 for n in labels.values()), labels
        for label in labels:
            assert there.get(label, 0) + used[label] == 1, (label, there, used)
        for label in there:
            known = label == "half" or label in labels or label.startswith("scrap")
            assert known or not label.startswith(("A", "B")), f"{label} came from nowhere"


def main(count: int, seed: int) -> None:
    with tempfile.TemporaryDirectory() as name:
        judge = CuttingJudge(Path(name))
        began = time.time()
        for k in range(count):
            judge.one(seed + k)
            if (k + 1) % 25 == 0 or k + 1 == count:
                rate = (time.time() - began) / (k + 1)
                print(
                    f"{judge.ends} sudden ends in cutting mode, {judge.steps} steps made, "
                    f"none lost, none twice, {rate:.1f} s each",
                    flush=True,
                )


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]))
