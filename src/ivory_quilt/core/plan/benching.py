"""From a plan to the steps at the bench, and what follows what.

Waits are common practice, no published source: filler and primer an hour, paint two, the last coat
a night; cement by the maker's school, then an open time of three minutes on a fresh can.
"""

import math
from collections import deque

from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.fixing import MINUTES
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.pattern.region_shapes import is_on
from ivory_quilt.core.plan.consuming import GluedSeam, glued_seams, is_drawn
from ivory_quilt.core.plan.costing import piece_groups
from ivory_quilt.core.plan.cutting import part_of
from ivory_quilt.core.plan.effort import bevelled_length, part_minutes
from ivory_quilt.core.plan.finishing_steps import FIT_MINUTES, LAST_DRY, Finishing
from ivory_quilt.core.plan.gluing import joints_of
from ivory_quilt.core.plan.gluing_steps import glue_joint, open_minutes
from ivory_quilt.core.plan.painting import PAINT_DRY, paint_area
from ivory_quilt.core.plan.plan import Plan, used_sheets
from ivory_quilt.core.plan.step_list import StepList
from ivory_quilt.core.plan.surfacing import FLAT_WORKS, add_works
from ivory_quilt.core.schedule.bench_choices import BenchChoices, FormOrder, SealOrder
from ivory_quilt.core.schedule.bench_schedule import DAY
from ivory_quilt.core.schedule.step import BenchSteps, StepKind
from ivory_quilt.core.schedule.step_changes import in_sittings, with_changes
from ivory_quilt.core.stacks.case import stitched_metres
from ivory_quilt.core.stacks.sewing import sewing_metres
from ivory_quilt.core.stock.foam_stock import MaterialKind
from ivory_quilt.core.stock.spent_sheet import SpentSheet
from ivory_quilt.core.stock.work_rates import Rates
from ivory_quilt.core.units import counted

SITTING = 150  # minutes that hands do one thing at most; our choice
TEMPLATE_MINUTES = 1.5  # to print and cut out one, from memory
MOCK_RATE = 4.0  # minutes a metre of outline to cut from card and tape, from memory
SEW_RATE = 6.0  # minutes a metre of stitches, pinned first, from memory
SHUT_RATE = 8.0  # minutes a square metre of sheet, both faces, from memory


def bench_steps(
    plan: Plan,
    choices: BenchChoices,
    ready: dict[str, int] | None = None,
    rates: Rates | None = None,
    today: str = "",
) -> BenchSteps:
    """Return the steps of a plan by the maker's choices.

    Args:
        plan: with its layouts: what lies on one sheet is cut at once.
        choices: of schools and coats.
        ready: minutes from the start before which things are not here: by "foam", for bought
            sheets, and by the ids of pieces whose things arrive later.
        rates: minutes that hands take; None: the shop's.
        today: ISO date, by which a can of cement is old.

    Raises:
        InputError: a step of the maker's own order would wait for itself.
    """
    made = StepList(rates or plan.stock.rates)
    bench = _Bench(made, plan, choices, ready or {}, today)
    bench.prepare()
    bench.cut()
    for piece in plan.project.pieces:
        if piece.count:
            bench.piece(piece)
    bench.fixed_inside()
    bench.joined()
    Finishing(made, plan, choices, bench.joints, bench.ready).add_all()
    evening = max((b - a for a, b in (e.minutes for e in choices.evenings)), default=SITTING)
    steps = with_changes(made.made(), choices.changes, choices.own)
    return in_sittings(steps, min(SITTING, evening))


class _Bench:
    """Cutting, forming and gluing, put into a list of steps."""

    def __init__(
        self,
        made: StepList,
        plan: Plan,
        choices: BenchChoices,
        ready: dict[str, int],
        today: str,
    ) -> None:
        self.made, self.plan, self.choices, self.ready = made, plan, choices, ready
        self.rates, self.suits = made.rates, plan.suit_count
        self.open_time = open_minutes(choices.can_opened, today)
        self.joints = joints_of(plan, choices)
        self.known = {p.id for p in plan.project.pieces}
        self.before_cut: dict[str, list[str]] = {}
        self.on_form: deque[str] = deque([""] * choices.forms)
        """Of each former with clamps, the longest unused first: the step that frees it."""

    # Before foam is touched

    def prepare(self) -> None:
        """Print the templates; try each group in card or cheap foam, where that is wanted."""
        pieces = [p for p in self.plan.project.pieces if p.count]
        if not pieces:
            return
        ids = [p.id for p in pieces]
        minutes = TEMPLATE_MINUTES * len(pieces)
        first = self.made.add("templates", StepKind.PATTERN, "print and cut out", minutes, ids)
        for piece in ids:
            self.made.last[piece] = [first]
        if not self.choices.mock_up:
            return
        for group in piece_groups(self.plan.project):
            mine = [p for p in group.pieces if p in ids]
            if not mine:
                continue
            metres = sum(self.plan.project.piece(p).shape.polygon.length for p in mine) / 1000
            title, ident = group.name, mine[0]
            made = self.made.add(
                f"mock:{ident}", StepKind.MOCKUP, title, metres * MOCK_RATE, mine, after=[first]
            )
            words = f"mock-up of {title}"
            tried = self.made.add(
                f"try:{ident}", StepKind.FIT, words, FIT_MINUTES / 2, mine, after=[made]
            )
            for piece in mine:
                self.made.last[piece] = [tried]

    # Cutting

    def cut(self) -> None:
        """Cut sheet by sheet; what is cut already takes no time any more."""
        for begun in self.plan.project.spent:
            if begun.under_knife:
                self.go_on(begun)
        for foam in self.plan.foams:
            name = self.plan.stock.foam_name(foam.foam, (f.foam for f in self.plan.foams))
            for sheet in used_sheets(foam, self.plan.stock):
                here = sheet.parts
                ids = tuple(dict.fromkeys(p.piece_id for p in here))
                once = sum(part_minutes(p, self.rates) for p in here)
                minutes = once * self.rates.cut_again
                words = f"{name} sheet {sheet.number}: {counted(len(here), 'part')}"
                ident = sheet.cut_step
                ready = 0 if sheet.owned else self.ready.get("foam", 0)
                before = list(dict.fromkeys(s for p in ids for s in self.prepared(p)))
                if self.choices.seal is SealOrder.BEFORE_CUT:
                    area = sheet.item.shape.area / 1e6
                    shut = ident.replace("cut:", "shut:", 1)
                    words_shut = f"{name} sheet {sheet.number}"
                    shutting = self.made.add(
                        shut, StepKind.SHUT, words_shut, SHUT_RATE * area, ids, ready=ready
                    )
                    before = [*before, shutting]
                self.made.add(ident, StepKind.CUT, words, minutes, ids, after=before, ready=ready)
                self._cut_with(ident, ids)

    def go_on(self, sheet: SpentSheet) -> None:
        """Cut what is left of a sheet that lies under the knife."""
        found = [part_of(self.plan, sheet, p) for p in sheet.parts if p.waiting]
        parts = [part for part in found if part is not None]
        if not parts:
            return
        ids = tuple(dict.fromkeys(p.piece_id for p in parts))
        minutes = sum(part_minutes(p, self.rates) for p in parts) * self.rates.cut_again
        words = f"{sheet.item.name}, begun: {counted(len(parts), 'part')} more"
        before = list(dict.fromkeys(s for p in ids for s in self.prepared(p)))
        ident = f"cut:begun:{sheet.id}"
        self.made.add(ident, StepKind.CUT, words, minutes, ids, after=before)
        self._cut_with(ident, ids)

    def _cut_with(self, step: str, pieces: tuple[str, ...]) -> None:
        """Say that pieces are cut once a step is done, and those before it that cut them."""
        for piece in pieces:
            was = [s for s in self.made.last[piece] if s.startswith("cut:")]
            self.made.last[piece] = [*was, step]

    def prepared(self, piece: str) -> list[str]:
        """Return what comes before a piece is cut."""
        found = self.before_cut.setdefault(piece, list(self.made.last[piece]))
        base = self.plan.project.piece(piece).build.placing if piece in self.known else None
        if self.choices.mock_up and base is not None and base.base in self.known:
            # Ornaments are patterned on the base that is there.
            found = [*found, *self.before_cut.get(base.base, self.made.last[base.base])]
        return found

    # One piece

    def piece(self, piece: Piece) -> None:
        """Bevel, roughen, form and laminate one piece, in the order of the maker's school."""
        self._bevel(piece)
        self._worked_flat(piece)
        form_last = self.choices.order is FormOrder.GLUE_FIRST
        if not form_last:
            self._form(piece)
        self._layers(piece)
        self._sew(piece)
        if form_last:
            self._form(piece)
        self._painted_before_glue(piece)

    def _one(self, piece: Piece, what: str, kind: StepKind, minutes: float) -> None:
        if minutes <= 0:
            return
        ident = f"{what}:{piece.id}"
        count = piece.cut_count * self.suits
        title = piece.name if count == 1 else f"{piece.name} × {count}"
        before = self.made.last[piece.id]
        self.made.last[piece.id] = [
            self.made.add(ident, kind, title, minutes, [piece.id], after=before)
        ]

    def _bevel(self, piece: Piece) -> None:
        parts = self.plan.parts.get(piece.id, ())
        length = sum(bevelled_length(p) * p.count for p in parts) / 1000
        grooves = (
            sum(line_length(k.points) for k in piece.lines if k.kind is LineKind.UNDERCUT)
            * piece.cut_count
            * self.suits
            / 1000
        )
        self._one(piece, "bevel", StepKind.BEVEL, (length + 2 * grooves) * self.rates.bevel)

    def _worked_flat(self, piece: Piece) -> None:
        """Carve, burn and texture what is easier reached while it lies flat."""
        count = piece.cut_count * self.suits
        name = piece.name if count == 1 else f"{piece.name} × {count}"
        before = self.made.last[piece.id]
        self.made.last[piece.id], _ = add_works(
            self.made, [piece], FLAT_WORKS, self.suits, before, name
        )

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
        curved = piece.build.form.kind is not FormKind.FLAT
        on_form = bool(extra) and curved and self.choices.order is FormOrder.FORM_FIRST
        count = piece.cut_count * self.suits
        taken = min(count, self.choices.forms) if on_form else 0
        freed = [self.on_form.popleft() for _ in range(taken)]
        self.made.last[piece.id] += [s for s in dict.fromkeys(freed) if s]
        for joint in self.joints:
            if joint.id.startswith("layer:") and joint.pieces == (piece.id,):
                glue_joint(self.made, joint, self.choices, self.open_time)
        if piece.build.wrap is not None and piece.build.wrap.spare:
            around = 2 * piece.shape.polygon.length / 1000 * piece.cut_count * self.suits
            self._one(piece, "trim", StepKind.BEVEL, around * self.rates.bevel)
        if on_form:
            self._set_on_form(piece, count, taken)

    def _sew(self, piece: Piece) -> None:
        """Hem and dart a piece of cloth; sew and pull on its case."""
        made = self.plan.made.get(piece.id)
        metres = sewing_metres(piece) + stitched_metres(made.cuts if made is not None else ())
        self._one(piece, "sew", StepKind.SEW, metres * SEW_RATE * piece.cut_count * self.suits)

    def _set_on_form(self, piece: Piece, count: int, taken: int) -> None:
        """Take a laminated curve off: it stays pinned to its form for hours, best overnight."""
        nights = math.ceil(count / taken)
        title = f"{piece.name}, after a night"
        if nights > 1:
            title = f"{piece.name}, {taken} a night, {nights} nights"
        ident = self.made.add(
            f"set:{piece.id}",
            StepKind.SET,
            title,
            nights,
            [piece.id],
            after=self.made.last[piece.id],
            least=LAST_DRY + (nights - 1) * DAY,
        )
        self.made.last[piece.id] = [ident]
        self.on_form.extend([ident] * taken)

    def _painted_before_glue(self, piece: Piece) -> None:
        """Paint what cannot be reached, or masked, once the piece is glued on."""
        for area in self.plan.project.paint:
            if area.before_glue and is_on(piece, area):
                name, before = piece.name, self.made.last[piece.id]
                last = paint_area(
                    self.made, self.plan.project, area, (piece.id,), self.suits, before, name, 0
                )
                dry = self.made.add(
                    f"dry:{area.id}:{piece.id}",
                    StepKind.WIPE,
                    f"{name}: {area.tone} off the faces to be glued",
                    1,
                    [piece.id],
                    after=[last],
                    least=PAINT_DRY,
                )
                self.made.last[piece.id] = [dry]

    def _textured(self, material: str) -> bool:
        found = self.plan.stock.material(material)
        return found.kind is MaterialKind.FOAM and not found.both_faces_alike and "tile" in material

    # Gluing

    def joined(self) -> None:
        """Join pieces at their seams, and what is placed on a base onto it."""
        for joint in self.joints:
            if not joint.id.startswith("layer:"):
                glue_joint(self.made, joint, self.choices, self.open_time)
        for seam in glued_seams(self.plan.project):
            if seam.stitched and seam.one.count and seam.other.count and seam.count:
                self._sew_seam(seam)

    def _sew_seam(self, joint: GluedSeam) -> None:
        """Sew one seam of two pieces of cloth."""
        pieces = list(dict.fromkeys([joint.one.id, joint.other.id]))
        title = f"{joint.one.name} to {joint.other.name}"
        if len(pieces) == 1:
            title = f"{joint.one.name} closed"
        minutes = joint.length / 1000 * joint.count * self.suits * SEW_RATE
        before = [s for p in pieces for s in self.made.last[p]]
        ident = f"sew:{joint.one.id}.{joint.seam.first.edge}:{joint.number}"
        step = self.made.add(ident, StepKind.SEW, title, minutes, pieces, after=before)
        for piece in pieces:
            self.made.last[piece] = [step]

    def fixed_inside(self) -> None:
        """Put in what will sit inside a closed form, before that closes."""
        for fixing in self.plan.project.fixings:
            if not fixing.inside or fixing.piece not in self.known:
                continue
            piece = self.plan.project.piece(fixing.piece)
            minutes = MINUTES[fixing.kind] * fixing.count * piece.cut_count * self.suits
            title = f"{fixing.kind.value} inside {piece.name}, before it closes"
            step = self.made.add(
                f"inside:{fixing.id}",
                StepKind.STRAP,
                title,
                minutes,
                [piece.id],
                after=self.made.last[piece.id],
                ready=self.ready.get(piece.id, 0),
            )
            self.made.last[piece.id] = [step]
