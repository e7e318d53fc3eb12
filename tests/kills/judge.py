"""Pulls the plug on a maker's window at random moments, and looks at what is left.

Run by `./quilt kills [N]`; a few in the suite. What is demanded: no byte that was saved is lost, at
most the last two seconds of edits, no stock that was added, no tick and no timer, and the window
always starts again.
"""

import os
import random
import signal
import subprocess
import sys
import threading
import time
from contextlib import closing
from pathlib import Path

from ivory_quilt.core.record import Struct, field
from ivory_quilt.files.project_file import load_project
from ivory_quilt.files.recovery import RecoveryFolder
from ivory_quilt.files.timers_file import load_timers
from ivory_quilt.shop.sqlite_store import SqliteStore
from tests.kills.maker import number_of

MOST_LOST = 2.0  # s of edits
START_WITHIN = 60.0  # s


class Told(Struct):
    """What a maker's window told before its end."""

    lines: list[list[str]] = field(default_factory=list)

    def times(self, what: str) -> list[tuple[int, float]]:
        """Return (number, time) of everything told of one kind."""
        return [(int(n), float(t)) for kind, n, t, *_ in self.long if kind == what]

    @property
    def long(self):
        return [line for line in self.lines if len(line) >= 3]

    def numbers(self, what: str) -> list[int]:
        """Return the numbers told of one kind."""
        return [int(n) for line in self.lines if line[0] == what for n in line[1:2]]


def run_and_kill(
    folder: Path, seed: int, after: float, maker: str = "tests.kills.maker"
) -> tuple[Told, float]:
    """Let a maker work for `after` seconds once the window is there, then kill it."""
    command = [sys.executable, "-m", maker, str(folder), str(seed)]
    environment = os.environ | {"QT_QPA_PLATFORM": "offscreen"}
    process = subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment
    )
    told = Told()
    ready = threading.Event()

    def listen() -> None:
        assert process.stdout is not None
        for line in process.stdout:
            if not line.endswith(b"\n"):
                break
            told.lines.append(line.decode().split())
            if line.startswith(b"ready"):
                ready.set()
        ready.set()

    listener = threading.Thread(target=listen)
    listener.start()
    # Some are killed while the window is still being put together.
    early = after < 0
    if not early:
        assert ready.wait(START_WITHIN), "the window did not start"
    time.sleep(abs(after))
    process.send_signal(signal.SIGKILL)
    killed = time.time()
    assert process.stderr is not None and process.stdout is not None
    errors = process.stderr.read().decode(errors="replace")
    process.wait()
    listener.join()
    process.stdout.close()
    process.stderr.close()
    assert "Traceback" not in errors, errors
    if not early:
        assert any(line[0] == "ready" for line in told.lines), f"no window: {errors[-2000:]}"
    return told, killed


class Judge:
    """Follows one folder through many sudden ends."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.stock: set[int] = set()
        self.timing: set[int] = set()
        self.saved: list[int] = []
        self.lost: list[float] = []

    def one(self, seed: int) -> None:
        """Let one window work and end, then judge."""
        chance = random.Random(seed)
        after = -chance.uniform(0.2, 1.5) if chance.random() < 0.15 else chance.uniform(0.0, 4.0)
        told, killed = run_and_kill(self.folder, seed, after)
        assert not any(line[0] == "shop" for line in told.lines), told.lines[:3]
        self._stock(told)
        at_file = self._file(told)
        self._edits(told, killed, at_file)
        self._ticks(told)
        self._timers(told)

    def _ticks(self, told: Told) -> None:
        """Every tick that was told is kept, but for those that were undone since."""
        ticked: list[str] = []
        for line in told.lines:
            if line[0] == "undoing":
                ticked = []
            elif line[0] == "ticked":
                ticked.append(f"step {line[1]}")
        if not ticked:
            return
        left = RecoveryFolder(self.folder / "data" / "recovery").leftovers()
        kept = [one.read().project for one in left]
        path = self.folder / "suit.ivq"
        kept += [load_project(path)] if path.exists() else []
        held = [{d.id for d in project.bench.done} for project in kept]
        assert any(set(ticked) <= ids for ids in held), f"a tick is lost of {ticked}"
        for project in kept:
            ids = [d.id for d in project.bench.done]
            assert len(ids) == len(set(ids)), "a tick is there twice"

    def _timers(self, told: Told) -> None:
        """Every timer that was told runs on."""
        self.timing |= set(told.numbers("timing"))
        self.timing -= set(told.numbers("stopping"))
        there = load_timers(self.folder / "data" / "timers.json")
        numbers = {int(t.id.split()[-1]) for t in there}
        assert self.timing <= numbers, f"lost timers: {sorted(self.timing - numbers)}"

    def _stock(self, told: Told) -> None:
        """Everything that was added to the shop is there."""
        self.stock |= set(told.numbers("added"))
        store = self.folder / "data" / "shop.sqlite"
        if not store.exists():
            return
        with closing(SqliteStore(store)) as opened:
            there = {int(i.id[1:]) for i in opened.stock().items}
        assert self.stock <= there, f"lost stock: {sorted(self.stock - there)}"

    def _file(self, told: Told) -> int | None:
        """The file holds the last state that was saved, or the one that was being saved."""
        saved, saving = told.numbers("saved"), told.numbers("saving")
        path = self.folder / "suit.ivq"
        self.saved += saved
        if not self.saved and not path.exists():
            return None
        number = number_of(load_project(path))
        may = {self.saved[-1]} if self.saved else set()
        if len(saving) > len(saved):
            may.add(saving[-1])
        assert number in may, f"the file is at {number}, not at one of {sorted(may)}"
        self.saved.append(number)
        spare = self.folder / "suit.ivq~"
        if spare.exists():
            load_project(spare)
        return number

    def _edits(self, told: Told, killed: float, at_file: int | None) -> None:
        """What was done until two seconds before the end is in the file or can be recovered."""
        done = told.times("edit")
        saves = told.times("saving")
        sure = [(n, t) for n, t in done if t <= killed - MOST_LOST]
        left = RecoveryFolder(self.folder / "data" / "recovery").leftovers()
        found = [number_of(one.read().project) for one in left]
        present = [n for n, _ in done] + [n for n, _ in saves] + told.numbers("taken")
        if at_file is not None:
            found.append(at_file)
        if sure:
            # The state at that moment, or any that came after it.
            since = [n for n, t in done if t >= sure[-1][1]] + [n for n, _ in saves]
            assert set(found) & set(since), (
                f"lost: {found} is kept, of {since}; killed at {killed}, {told.lines[-12:]}"
            )
        kept = [t for n, t in done if n in found]
        if done:
            self.lost.append(max(0.0, killed - max(kept, default=done[0][1])))
        # Nothing else is offered; the very last step may have been done and not told yet.
        newest = max(present, default=0)
        assert all(n in present or n == at_file or n > newest or not done for n in found[:1]), found


def main(count: int, folder: Path, seed: int) -> None:
    judge = Judge(folder)
    began = time.time()
    for k in range(count):
        judge.one(seed + k)
        if (k + 1) % 25 == 0 or k + 1 == count:
            worst = max(judge.lost, default=0.0)
            rate = (time.time() - began) / (k + 1)
            print(f"{k + 1} sudden ends, at most {worst:.2f} s lost, {rate:.1f} s each", flush=True)
    hidden = [p.name for p in folder.rglob(".ivory-quilt-*")]
    print(f"hidden copies left: {len(hidden)}", flush=True)


if __name__ == "__main__":
    import tempfile

    with tempfile.TemporaryDirectory() as made:
        main(int(sys.argv[1]), Path(made), int(sys.argv[2]) if len(sys.argv) > 2 else 1)
