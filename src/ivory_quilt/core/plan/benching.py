"""From a plan to the steps at the bench, and what follows what.

Waits are common practice, no published source: filler and primer an hour, paint two, the last coat
a night; cement by the maker's school, then an open time of three minutes on a fresh can.
"""

import math
from collections import defaultdict
from collections.abc import Iterable, Iterator

from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.plan.consuming import glued_seams, is_drawn
from ivory_quilt.core.plan.costing import PieceGroup, piece_groups
from ivory_quilt.core.plan.effort import USUAL_RATES, Rates, bevelled_length
from ivory_quilt.core.plan.plan import Plan, used_sheets
from ivory_quilt.core.schedule.bench_choices import BenchChoices, FormOrder
from ivory_quilt.core.schedule.schedule_job import Follow
from ivory_quilt.core.schedule.step import BenchStep, BenchSteps, StepKind
from ivory_quilt.core.stock.foam_stock import MaterialKind
from ivory_quilt.core.units import counted

BATCH = 0.2  # m² that are primed or painted in one go
OPEN = 3  # minutes in which brushed faces can be joined, on a fresh can: common practice
BRUSH = 4.0  # minutes for a metre of seam, or a tenth of a square metre, both faces
BRUSHING = 3.0  # minutes that brushing a stage may take before its start dries
FILLER_DRY, PRIMER_DRY, PAINT_DRY, LAST_DRY = 60, 60, 120, 480
FILL_RATE, SAND_RATE = 4.0, 6.0  # minutes a metre of seam
SOAKED = 10  # minutes until a porous face takes its second coat
STRAP_MINUTES, FIT_MINUTES, PACK_MINUTES = 15, 20, 20
SOFT = (MaterialKind.SOFT, MaterialKind.CLOTH)


def bench_steps(
    plan: Plan,
    choices: BenchChoices,
    ready: dict[str, int] | None = None,
    rates: Rates = USUAL_RATES,
) -> BenchSteps:
    """Return the steps of a plan by the maker's choices.

    Args:
        plan: with its layouts: what lies on one sheet is cut at once.
        choices: of schools and coats.
        ready: minutes from the start before which things are not here: by "foam", for bought
            sheets, and by the ids of pieces whose things arrive later.
        rates: minutes that hands take.
    """
    made = _Bench(plan, choices, ready or {}, rates)
    made.cut()
    for piece in plan.project.pieces:
        if piece.count:
            made.piece(piece)
    made.seams()
    made.finish()
    return BenchSteps(tuple(made.steps), tuple(made.follows))


class _Bench:
    def __init__(
        self, plan: Plan, choices: BenchChoices, ready: dict[str, int], rates: Rates
    ) -> None:
        self.plan, self.choices, self.ready, self.rates = plan, choices, ready, rates
        self.suits = plan.suit_count
        self.joints = tuple(glued_seams(plan.project))
        self.steps: list[BenchStep] = []
        self.follows: list[Follow] = []
        self.last: dict[str, list[str]] = defaultdict(list)
        """Of each piece: the steps that come before whatever is done to it next."""

    def add(
        self,
        ident: str,
        kind: StepKind,
        title: str,
        minutes: float,
        pieces: Iterable[str],
        *,
        after: Iterable[str] = (),
        least: int = 0,
        ready: int = 0,
    ) -> str:
        """Add a step after others; nothing takes less than a minute."""
        booth = kind in (StepKind.PRIME, StepKind.PAINT, StepKind.SEAL)
        whole = max(1, math.ceil(minutes))
        self.steps.append(BenchStep(ident, kind, title, whole, tuple(pieces), booth, ready))
        self.follows += [Follow(ident, before, least) for before in dict.fromkeys(after)]
        return ident

    # Cutting

    def cut(self) -> None:
        """Cut sheet by sheet; what is cut already takes no time any more."""
        for foam in self.plan.foams:
            name = self.plan.stock.foam_name(foam.foam, (f.foam for f in self.plan.foams))
            for sheet in used_sheets(foam, self.plan.stock):
                here = sheet.parts
                around = sum(p.shape.polygon.length for p in here) / 1000
                ids = tuple(dict.fromkeys(p.piece_id for p in here))
                minutes = len(here) * self.rates.trace + around * self.rates.cut
                words = f"{name} sheet {sheet.number}: {counted(len(here), 'part')}"
                ident = f"cut:{foam.foam.material}:{foam.foam.thickness:g}:{sheet.number}"
                ready = 0 if sheet.owned else self.ready.get("foam", 0)
                self.add(ident, StepKind.CUT, words, minutes, ids, ready=ready)
                for piece in ids:
                    self.last[piece].append(ident)

    # One piece

    def piece(self, piece: Piece) -> None:
        """Bevel, roughen, form and laminate one piece, in the order of the maker's school."""
        self._bevel(piece)
        form_last = self.choices.order is FormOrder.GLUE_FIRST
        if not form_last:
            self._form(piece)
        self._layers(piece)
        if form_last:
            self._form(piece)

    def _one(self, piece: Piece, what: str, kind: StepKind, minutes: float) -> None:
        if minutes <= 0:
            return
        ident = f"{what}:{piece.id}"
        count = piece.cut_count * self.suits
        title = piece.name if count == 1 else f"{piece.name} × {count}"
        before = self.last[piece.id]
        self.last[piece.id] = [self.add(ident, kind, title, minutes, [piece.id], after=before)]

    def _bevel(self, piece: Piece) -> None:
        parts = self.plan.parts.get(piece.id, ())
        made = self.plan.made[piece.id].piece
        length = sum(bevelled_length(made, p) * p.count for p in parts) / 1000
        grooves = (
            sum(line_length(k.points) for k in piece.lines if k.kind is LineKind.UNDERCUT)
            * piece.cut_count
            * self.suits
            / 1000
        )
        self._one(piece, "bevel", StepKind.BEVEL, (length + 2 * grooves) * self.rates.bevel)

    def _form(self, piece: Piece) -> None:
        kind = piece.build.form.kind
        if kind is FormKind.FLAT and not piece.build.sealed:
            return
        each = self.rates.dish if kind is FormKind.DISHED else self.rates.form
        self._one(piece, "form", StepKind.FORM, each * piece.cut_count * self.suits)

    def _layers(self, piece: Piece) -> None:
        """Glue layers, wraps and covers on, one after the other, each in stages."""
        parts = self.plan.parts.get(piece.id, ())
        extra = [p for p in parts if not is_drawn(piece.id, p)]
        textured = [p for p in parts if self._textured(p.foam.material)]
        if extra and textured:
            area = sum(p.shape.area * p.count for p in textured) / 1e6
            self._one(piece, "roughen", StepKind.ROUGHEN, 1 + 20 * area)
        for part in extra:
            size = 10 * part.shape.area / 1e6 * part.count
            soft = self.plan.stock.material(part.foam.material).kind in SOFT
            self._glue(
                f"layer:{part.id}", f"{part.name} onto {piece.name}", [piece.id], size, soft=soft
            )

    def _textured(self, material: str) -> bool:
        found = self.plan.stock.material(material)
        return found.kind is MaterialKind.FOAM and not found.both_faces_alike and "tile" in material

    # Glue

    def _glue(self, ident: str, title: str, pieces: list[str], size: float, *, soft: bool) -> None:
        """Brush and join in stages that fit the open time; porous faces are brushed twice."""
        stages = max(1, math.ceil(size * BRUSH / BRUSHING))
        brush = size * BRUSH / stages
        before = [s for p in pieces for s in self.last[p]]
        least = self.choices.join.least
        for k in range(stages):
            name = f"{title}, stage {k + 1} of {stages}" if stages > 1 else title
            end = f"{ident}:{k}"
            coat = self.add(f"coat:{end}", StepKind.COAT, name, brush, pieces, after=before)
            if soft:
                again, words = f"coat2:{end}", f"{name}, again"
                self.add(again, StepKind.COAT, words, brush, pieces, after=[coat], least=SOAKED)
                coat = again
            join = f"join:{end}"
            self.add(join, StepKind.JOIN, name, brush, pieces)
            self.follows.append(Follow(join, coat, least, least + OPEN))
            before = [join]
        for piece in pieces:
            self.last[piece] = before

    def seams(self) -> None:
        """Join pieces at their seams, and what is placed on a base onto it."""
        project = self.plan.project
        for joint in self.joints:
            one, other = joint.one, joint.other
            if not (one.count and other.count and joint.count):
                continue
            both = list(dict.fromkeys([one.id, other.id]))
            title = f"{one.name} to {other.name}" if len(both) > 1 else f"{one.name} closed"
            soft = self.plan.stock.material(one.material).kind in SOFT
            ident = f"seam:{one.id}.{joint.seam.first.edge}:{joint.number}"
            metres = joint.length / 1000 * joint.count * self.suits
            self._glue(ident, title, both, metres, soft=soft)
        known = {p.id: p for p in project.pieces}
        for piece in project.pieces:
            base = piece.build.placing.base if piece.build.placing is not None else ""
            if piece.count and base in known and known[base].count and base != piece.id:
                size = 10 * piece.shape.area / 1e6 * piece.cut_count * self.suits
                title = f"{piece.name} onto {known[base].name}"
                self._glue(f"onto:{piece.id}", title, [piece.id, base], size, soft=False)

    # Finishing, group by group

    def finish(self) -> None:
        """Try on, fill, sand, wipe, prime, paint, seal, strap; pack the whole."""
        groups = piece_groups(self.plan.project)
        everything = [s for g in groups for p in g.pieces for s in self.last[p]]
        if not everything:
            return
        all_ids = [p for g in groups for p in g.pieces]
        fit = self.add(
            "fit",
            StepKind.FIT,
            "all that is joined, before anything permanent",
            FIT_MINUTES,
            all_ids,
            after=everything,
        )
        ends = [self._batch(b, fit) for b in self._batches(groups)]
        self.add("pack", StepKind.PACK, "the suit", PACK_MINUTES, all_ids, after=ends)

    def _outer(self, pieces: Iterable[str]) -> float:
        """Return the outer area of pieces, m²."""
        found = [self.plan.project.piece(p) for p in pieces]
        return self.suits * sum(p.shape.area * p.cut_count for p in found) / 1e6

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
        pieces = tuple(p for g in groups for p in g.pieces)
        largest = max(groups, key=lambda g: self._outer(g.pieces))
        more = len(pieces) - len(largest.pieces)
        name = f"{largest.name} and {more} more" if more else largest.name
        if more and len(largest.pieces) > 1:
            name = f"{counted(len(pieces), 'piece')} with {largest.name}"
        outer, ident = self._outer(pieces), pieces[0]
        before, wait = fit, 0
        seams = self._seam_metres(pieces)
        if self.choices.filled and seams:
            before = self.add(
                f"fill:{ident}", StepKind.FILL, name, seams * FILL_RATE, pieces, after=[before]
            )
            sand = f"sand:{ident}"
            minutes = seams * SAND_RATE
            before = self.add(
                sand, StepKind.SAND, name, minutes, pieces, after=[before], least=FILLER_DRY
            )
        coats = (
            (StepKind.PRIME, self.choices.primer, PRIMER_DRY),
            (StepKind.PAINT, self.choices.paint, PAINT_DRY),
            (StepKind.SEAL, self.choices.sealer, PAINT_DRY),
        )
        if any(n for _, n, _ in coats):
            before = self.add(
                f"wipe:{ident}", StepKind.WIPE, name, 1 + 5 * outer, pieces, after=[before]
            )
        for kind, count, dry in coats:
            for k in range(count):
                title = f"{name}, coat {k + 1} of {count}" if count > 1 else name
                step = f"{kind.name.lower()}{k + 1}:{ident}"
                minutes = outer * self.rates.coat
                before = self.add(step, kind, title, minutes, pieces, after=[before], least=wait)
                wait = dry
        if wait:
            wait = LAST_DRY
        ready = max((self.ready.get(p, 0) for p in pieces), default=0)
        return self.add(
            f"strap:{ident}",
            StepKind.STRAP,
            name,
            STRAP_MINUTES,
            pieces,
            after=[before],
            least=wait,
            ready=ready,
        )

    def _seam_metres(self, pieces: tuple[str, ...]) -> float:
        here = [j for j in self.joints if j.one.id in pieces]
        return sum(j.length * j.one.cut_count * self.suits / 1000 for j in here)
