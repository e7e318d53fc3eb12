"""What comes after gluing, batch by batch: try on, fill, sand, prime, paint, seal, fasten, pack."""

from collections.abc import Iterable, Iterator, Mapping

from ivory_quilt.core.pattern.fixing import MINUTES
from ivory_quilt.core.pattern.surface import SurfaceKind
from ivory_quilt.core.plan.costing import PieceGroup, piece_groups
from ivory_quilt.core.plan.gluing import GluedJoint, choice_of
from ivory_quilt.core.plan.painting import PAINT_DRY, paint_area, painted_in, unpainted
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.step_list import StepList
from ivory_quilt.core.plan.surfacing import JOINED_WORKS, add_works
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.units import counted

BATCH = 0.2  # m² that are primed or painted in one go
FILLER_DRY, PRIMER_DRY, LAST_DRY = 60, 60, 480
FILL_RATE, SAND_RATE = 4.0, 6.0  # minutes a metre of seam
STRAP_MINUTES, FIT_MINUTES, PACK_MINUTES = 15, 20, 20


class Finishing:
    """The end of the work, from a list of steps in which everything is joined."""

    def __init__(
        self,
        made: StepList,
        plan: Plan,
        choices: BenchChoices,
        joints: tuple[GluedJoint, ...],
        ready: Mapping[str, int],
    ) -> None:
        """Add to `made`; `ready` are minutes before which a piece's things are not here."""
        self.made, self.plan, self.choices = made, plan, choices
        self.joints, self.ready = joints, ready

    def add_all(self) -> None:
        """Add every step up to packing."""
        made, groups = self.made, piece_groups(self.plan.project)
        everything = [s for g in groups for p in g.pieces for s in made.last[p]]
        if not everything:
            return
        ids = [p for g in groups for p in g.pieces]
        title = "all that is joined, before anything permanent"
        checks = self.plan.project.checks
        if checks:
            title += f"; {counted(len(checks), 'check')}"
        minutes = FIT_MINUTES + 2 * len(checks)
        fit = made.add("fit", StepKind.FIT, title, minutes, ids, after=everything)
        ends = [self._batch(b, fit) for b in self._batches(groups)]
        made.add("pack", StepKind.PACK, "the suit", PACK_MINUTES, ids, after=ends)

    def _outer(self, pieces: Iterable[str]) -> float:
        """Return the outer area of pieces, m²."""
        found = [self.plan.project.piece(p) for p in pieces]
        return self.plan.suit_count * sum(p.shape.area * p.cut_count for p in found) / 1e6

    def _batches(self, groups: tuple[PieceGroup, ...]) -> Iterator[tuple[PieceGroup, ...]]:
        """Yield groups that are painted together: so large that a coat is worth the mess."""
        batch: list[PieceGroup] = []
        for group in groups:
            batch.append(group)
            if self._outer(p for g in batch for p in g.pieces) >= BATCH:
                yield tuple(batch)
                batch = []
        if batch:
            yield tuple(batch)

    def _batch(self, groups: tuple[PieceGroup, ...], fit: str) -> str:
        """Finish one batch; return its last step."""
        made, pieces = self.made, tuple(p for g in groups for p in g.pieces)
        name, ident = self._name(groups, pieces), pieces[0]
        worked = tuple(self.plan.project.piece(p) for p in pieces)
        suits = self.plan.suit_count
        steps, dries = add_works(made, worked, (SurfaceKind.CLAY,), suits, [fit], name)
        before = steps[-1]
        seams = self._filled_metres(pieces)
        if seams:
            fill, sand = f"fill:{ident}", f"sand:{ident}"
            minutes = seams * FILL_RATE
            made.add(fill, StepKind.FILL, name, minutes, pieces, after=[before], least=dries)
            minutes = seams * SAND_RATE
            before = made.add(
                sand, StepKind.SAND, name, minutes, pieces, after=[fill], least=FILLER_DRY
            )
            dries = 0
        steps, dries = add_works(made, worked, JOINED_WORKS, suits, [before], name, dries)
        before, wait = self._coats(name, ident, pieces, steps[-1], dries)
        ready = max((self.ready.get(p, 0) for p in pieces), default=0)
        fixings = [f for f in self.plan.project.fixings if f.piece in pieces and not f.inside]
        minutes = sum(MINUTES[f.kind] * f.count for f in fixings) * suits or STRAP_MINUTES
        return made.add(
            f"strap:{ident}",
            StepKind.STRAP,
            name,
            minutes,
            pieces,
            after=[before],
            least=wait,
            ready=ready,
        )

    def _name(self, groups: tuple[PieceGroup, ...], pieces: tuple[str, ...]) -> str:
        largest = max(groups, key=lambda g: self._outer(g.pieces))
        more = len(pieces) - len(largest.pieces)
        if more and len(largest.pieces) > 1:
            return f"{counted(len(pieces), 'piece')} with {largest.name}"
        return f"{largest.name} and {more} more" if more else largest.name

    def _coats(
        self, name: str, ident: str, pieces: tuple[str, ...], before: str, wait: int
    ) -> tuple[str, int]:
        """Add wiping and all coats; return the last of them, and how long it dries.

        `wait`: minutes that what comes `before` dries.
        """
        made, outer = self.made, self._outer(pieces)
        project, suits = self.plan.project, self.plan.suit_count
        ground = unpainted(project.paint, pieces)
        coats = (
            (StepKind.PRIME, self.choices.primer, PRIMER_DRY),
            (StepKind.PAINT, self.choices.paint if ground else 0, PAINT_DRY),
            (StepKind.SEAL, self.choices.sealer, PAINT_DRY),
        )
        later = [a for a in project.paint if not a.before_glue]
        tones = [(a, on) for a in later if (on := painted_in(project, a, pieces))]
        if any(n for _, n, _ in coats) or tones:
            wipe = f"wipe:{ident}"
            minutes = 1 + 5 * outer
            before = made.add(
                wipe, StepKind.WIPE, name, minutes, pieces, after=[before], least=wait
            )
            wait = 0
        for kind, count, dry in coats:
            on = ground if kind is StepKind.PAINT else pieces
            for k in range(count):
                title = f"{name}, coat {k + 1} of {count}" if count > 1 else name
                step = f"{kind.name.lower()}{k + 1}:{ident}"
                minutes = self._outer(on) * made.rates.coat
                before = made.add(step, kind, title, minutes, on, after=[before], least=wait)
                wait = dry
            for area, mine in tones if kind is StepKind.PAINT else ():
                before = paint_area(made, project, area, mine, suits, [before], name, wait)
                wait = PAINT_DRY
            if kind is StepKind.PAINT:
                before, wait = self._drawn(name, pieces, before, wait)
        return before, LAST_DRY if wait else 0

    def _drawn(self, name: str, pieces: tuple[str, ...], before: str, wait: int) -> tuple[str, int]:
        """Draw the lines that stay in sight, on the last coat of paint."""
        worked = [self.plan.project.piece(p) for p in pieces]
        kinds, suits = (SurfaceKind.DRAW,), self.plan.suit_count
        steps, left = add_works(self.made, worked, kinds, suits, [before], name, wait)
        return (before, wait) if steps == [before] else (steps[-1], left)

    def _filled_metres(self, pieces: tuple[str, ...]) -> float:
        """Return the length of the batch's seams that are filled; each counts with its first."""
        here = [j for j in self.joints if not j.face and j.pieces[0] in pieces]
        return sum(j.size for j in here if choice_of(j, self.choices).filled)
