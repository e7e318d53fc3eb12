"""What holds the suit on and together: straps, tapes, buckles, rivets, magnets, zips, hinges.

Widths and allowances are common practice, no source, but for the strap's factor of four
(`core/shapes/rules.py`).
"""

import math
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import show_number

STRAP_FACTOR = 4  # of the finished width: raw edges to the middle, and folded again
TURN_BACK, TAIL = 50.0, 80.0  # mm: through the buckle and stitched; past it, to pull at
STRETCHED = 0.85  # of the way: how short elastic is cut so that it holds
HINGE_GLUE = 15.0  # mm on either side of the gap
HINGE_GAP = (5.0, 10.0)  # mm between the plates
BACKING_WIDTH = 30.0
ZIP_STEP = 50.0  # mm: the lengths in which zips are sold
EDGE_IN = 10.0  # mm from a seam's end to the first rivet


class FixingKind(StrEnum):
    """Kinds of fixings."""

    STRAP = "sewn strap"
    WEBBING = "webbing"
    HOOK_LOOP = "hook-and-loop"
    ELASTIC = "elastic"
    BUCKLE = "buckle"
    SNAP = "snap"
    RIVET = "rivets"
    MAGNET = "magnets"
    ZIP = "zip"
    HINGE = "hinge strip"
    BACKING = "backing strip"


ALONG = (FixingKind.RIVET, FixingKind.ZIP, FixingKind.HINGE, FixingKind.BACKING)
"""Kinds that go along an edge."""
ROUND = (FixingKind.STRAP, FixingKind.WEBBING, FixingKind.ELASTIC)
"""Kinds that go round a limb, or a part of the way."""
CUT_FROM_CLOTH = (FixingKind.STRAP, FixingKind.HINGE)
"""Kinds that may be cut from a sheet or roll of the shop."""
MINUTES = {
    FixingKind.STRAP: 20,
    FixingKind.WEBBING: 8,
    FixingKind.HOOK_LOOP: 8,
    FixingKind.ELASTIC: 8,
    FixingKind.BUCKLE: 6,
    FixingKind.SNAP: 4,
    FixingKind.RIVET: 2,
    FixingKind.MAGNET: 4,
    FixingKind.ZIP: 20,
    FixingKind.HINGE: 10,
    FixingKind.BACKING: 6,
}
"""Minutes of hands for one; from memory, common practice, no source."""


THING = "fixing:"
"""What the ids of things begin with that a fixing asks for."""


class Fixing(Struct, frozen=True):
    """One fixing of one piece.

    Attributes:
        edge: name of the edge that it goes along; empty for none.
        spot: the wearer's girth that it goes round; empty where `way` says how far.
        way: mm that it goes, where neither edge nor girth says it.
        width: mm, finished.
        count: how many of it.
        spacing: mm between rivets, at most.
        inside: it will sit inside a closed form, and must be in before that closes.
        cloth: id of the material that a strap or a hinge strip is cut from, laid with the pieces;
            empty: it is bought, or found among scrap.
    """

    id: str
    kind: FixingKind
    piece: str
    edge: str = ""
    spot: str = ""
    way: float = 0.0
    width: float = 20.0
    count: int = 1
    spacing: float = 40.0
    inside: bool = False
    cloth: str = ""

    @property
    def thing(self) -> str:
        """The id of the thing that it asks for."""
        return THING + self.id

    def __post_init__(self) -> None:
        where = f"{self.kind.value} on '{self.piece}'"
        if not 2 <= self.width <= 200:
            raise InputError(where, f"{self.width:g} mm wide", "2 to 200 mm")
        if not 0 <= self.way <= 5000:
            raise InputError(where, f"a way of {self.way:g} mm", "0 to 5000 mm")
        if not 1 <= self.count <= 500:
            raise InputError(where, f"{self.count} of it", "1 to 500")
        if self.cloth and self.kind not in CUT_FROM_CLOTH:
            kinds = " or ".join(k.value for k in CUT_FROM_CLOTH)
            raise InputError(where, f"cut from {self.cloth}", f"a {kinds}")
        if not 5 <= self.spacing <= 1000:
            raise InputError(where, f"a spacing of {self.spacing:g} mm", "5 to 1000 mm")


class FixingNeed(Struct, frozen=True):
    """What one fixing takes: in words for the list of things, and how it was reckoned."""

    words: str
    count: int
    reckoning: Reckoning


def fixing_need(fixing: Fixing, edge: float, girth: float) -> FixingNeed:
    """Return what a fixing takes.

    Args:
        fixing: what and where.
        edge: length of its edge, mm; 0 for none.
        girth: of its wearer where it goes round, mm; 0 for none.

    Raises:
        InputError: nothing says how long it is.
    """
    kind, count = fixing.kind, fixing.count
    way = girth or edge or fixing.way
    if kind is FixingKind.RIVET:
        return _rivets(fixing, edge or fixing.way)
    if kind in (FixingKind.BUCKLE, FixingKind.SNAP, FixingKind.MAGNET):
        each = 2 if kind is FixingKind.MAGNET else 1
        words = {
            FixingKind.BUCKLE: f"buckle for {show_number(fixing.width, 1)} mm",
            FixingKind.SNAP: "snap, both halves",
            FixingKind.MAGNET: "magnet (two a place, poles marked)",
        }[kind]
        return FixingNeed(words, each * count, Reckoning(kind.value, {}, {"count": each * count}))
    if way <= 0:
        expected = "an edge, a girth of the wearer, or a way in mm"
        raise InputError(f"{kind.value} on '{fixing.piece}'", "nothing says how long", expected)
    if kind is FixingKind.ZIP:
        length = ZIP_STEP * math.floor(way / ZIP_STEP + 1e-9)
        if length <= 0:
            raise InputError("zip", f"an edge of {way:g} mm", f"{ZIP_STEP:g} mm or more")
        formula = f"{way:.0f} rounded down to {ZIP_STEP:g}"
        return _length(fixing, "zip", length, Step("length", formula, length, "mm"))
    if kind is FixingKind.HINGE:
        width = fixing.width if HINGE_GAP[0] <= fixing.width <= HINGE_GAP[1] else HINGE_GAP[1]
        across = width + 2 * HINGE_GLUE
        words = f"hinge strip of cloth or 2 mm foam {across:g} mm wide, gap {width:g} mm"
        formula = f"{width:g} + 2 × {HINGE_GLUE:g}"
        step = Step("width = gap + 2 × glue", formula, across, "mm")
        return _length(fixing, words, way, step, cut_width=across)
    if kind is FixingKind.BACKING:
        words = f"backing strip from scrap, {BACKING_WIDTH:g} mm wide"
        return _length(fixing, words, way, Step("length = edge", f"{way:.0f}", way, "mm"))
    return _tape(fixing, way)


def _tape(fixing: Fixing, way: float) -> FixingNeed:
    """Return a strap's or tape's length: with turn-back and tail, or stretched."""
    kind, width = fixing.kind, show_number(fixing.width, 1)
    if kind is FixingKind.ELASTIC:
        length = way * STRETCHED + TURN_BACK
        formula = f"{way:.0f} × {STRETCHED:g} + {TURN_BACK:g}"
        step = Step("way × stretched + turn-back", formula, length, "mm")
        return _length(fixing, f"elastic {width} mm", length, step)
    if kind is FixingKind.HOOK_LOOP:
        step = Step("length = way, both halves", f"{way:.0f}", way, "mm")
        return _length(fixing, f"hook-and-loop {width} mm", way, step)
    length = way + TURN_BACK + TAIL
    formula = f"{way:.0f} + {TURN_BACK:g} + {TAIL:g}"
    step = Step("way + turn-back + tail", formula, length, "mm")
    if kind is FixingKind.STRAP:
        cut = STRAP_FACTOR * fixing.width
        more = Step("cut width = 4 × finished", f"4 × {width}", cut, "mm")
        words = f"strap of cloth, {width} mm finished, cut {show_number(cut, 1)} mm wide"
        return _length(fixing, words, length, step, more, cut_width=cut)
    return _length(fixing, f"webbing {width} mm, ends heat-sealed", length, step)


def _length(
    fixing: Fixing, words: str, length: float, *steps: Step, cut_width: float = 0.0
) -> FixingNeed:
    figures = {"length": length}
    if cut_width:
        figures["cut_width"] = cut_width
    made = Reckoning(fixing.kind.value, {}, figures, tuple(steps), "common practice, no source")
    return FixingNeed(f"{words}, {math.ceil(length)} mm long", fixing.count, made)


def _rivets(fixing: Fixing, way: float) -> FixingNeed:
    """Spread rivets evenly: as many as `spacing` needs, the first and last in from the ends."""
    room = way - 2 * EDGE_IN
    if room < 0:
        problem = f"{way:g} mm is too short for two"
        raise InputError(f"rivets on '{fixing.piece}'", problem, f"{2 * EDGE_IN:g} mm or more")
    gaps = max(1, math.ceil(room / fixing.spacing - 1e-9))
    apart = room / gaps
    step = Step("apart", f"({way:.0f} − 2 × {EDGE_IN:g}) ÷ {gaps}", apart, "mm")
    count = (gaps + 1) * fixing.count
    figures = {"count": float(count), "apart": apart}
    made = Reckoning("rivets", {}, figures, (step,), "equal spacing")
    return FixingNeed(f"rivet, {gaps + 1} in a row, {apart:.1f} mm apart", count, made)
