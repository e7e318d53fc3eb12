"""Seams: two edges glued edge to edge, compared before anything is cut.

Two pieces lie face up side by side, so the first edge is walked from its start and the second from
its stop. A piece's edge joined to the same edge of its other hand, and seams that are said to be
`turned`, are walked from start and start.

Limits are common practice, no source: foam can be eased by up to about 2 %.
"""

from enum import StrEnum
from itertools import pairwise

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import along_line, line_length
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.pattern.edges import edge_line, edge_of, marks_on
from ivory_quilt.core.pattern.piece import Edge, Piece
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct, replace

EASE = 0.02  # of the shorter edge (default from practice, no source)
# mm, and of the length: nobody cuts truer (from memory, no source).
SITS_WITHIN, SITS_SHARE = 0.5, 0.002
MARKS_WITHIN = 1.5  # mm that match marks may miss each other (from memory, no source)
PAIRED_WITHIN = 12.0  # mm: marks farther apart are not meant for each other (our choice)


class EdgeRef(Struct, frozen=True, order=True):
    """An edge of a piece, by the piece's id and the edge's name."""

    piece: str
    edge: str


class Joint(StrEnum):
    """How two edges meet: bevel to bevel, or the first against the other's face."""

    MITRE = "mitre"
    BUTT = "butt"


class Seam(Struct, frozen=True):
    """Two edges that are glued together. `turned` runs the second the other way.

    Attributes:
        dihedral: angle between the two outer faces, measured through the foam, degrees; 180 in
            one plane, more in a valley.
        joint: how the edges meet at that angle.
    """

    first: EdgeRef
    second: EdgeRef
    turned: bool = False
    dihedral: float = 180.0
    joint: Joint = Joint.MITRE

    def __post_init__(self) -> None:
        if not 20 <= self.dihedral <= 340:
            raise InputError("dihedral", f"{self.dihedral:g}°", "20 to 340°")

    @property
    def onto_other_hand(self) -> bool:
        """Whether an edge meets the same edge of the piece's other hand."""
        return self.first == self.second

    def touches(self, ref: EdgeRef) -> bool:
        """Return whether an edge takes part."""
        return ref in (self.first, self.second)


class SeamVerdict(StrEnum):
    """What becomes of a seam on the bench."""

    SITS = "sits"
    EASE = "ease it in"
    NO = "does not fit"


class Landing(Struct, frozen=True):
    """Where a match mark of the first edge lands on the second, mm from the seam's start.

    `meets` is the mark of the second edge that is meant for it, None when there is none.
    """

    at: float
    lands: float
    meets: float | None

    @property
    def off(self) -> float | None:
        """How far the two marks miss each other, mm; None when there is only one."""
        return None if self.meets is None else self.meets - self.lands


class SeamFit(Struct, frozen=True):
    """How the two edges of a seam agree.

    Attributes:
        first: length of the first edge, mm.
        second: length of the second.
        landings: one for each match mark of the first edge.
        lonely: marks of the second edge that nothing meets, mm from the seam's start.
        ease: the share that may be eased in.
    """

    first: float
    second: float
    landings: tuple[Landing, ...] = ()
    lonely: tuple[float, ...] = ()
    ease: float = EASE

    @property
    def difference(self) -> float:
        """How much longer the second edge is, mm."""
        return self.second - self.first

    @property
    def percent(self) -> float:
        """The difference as a share of the shorter edge, in percent."""
        return 100 * self.difference / min(self.first, self.second)

    @property
    def verdict(self) -> SeamVerdict:
        """What becomes of it."""
        off, shorter = abs(self.difference), min(self.first, self.second)
        if off <= max(SITS_WITHIN, SITS_SHARE * shorter):
            return SeamVerdict.SITS
        return SeamVerdict.EASE if off <= self.ease * shorter + 1e-9 else SeamVerdict.NO

    @property
    def marks_off(self) -> float:
        """The farthest that two marks miss each other, mm."""
        return max((abs(k.off) for k in self.landings if k.off is not None), default=0.0)

    @property
    def marks_meet(self) -> bool:
        """Whether every mark has its other, and falls on it."""
        alone = self.lonely or any(k.meets is None for k in self.landings)
        return not alone and self.marks_off <= MARKS_WITHIN

    def sections(self) -> tuple[tuple[float, float], ...]:
        """Return the lengths between one pair of marks and the next, on both edges."""
        pairs = [(k.at, k.meets) for k in self.landings if k.meets is not None]
        ends = [(0.0, 0.0), *pairs, (self.first, self.second)]
        return tuple((b[0] - a[0], b[1] - a[1]) for a, b in pairwise(ends))

    def reckon(self) -> Reckoning:
        """Explain the verdict."""
        shorter = min(self.first, self.second)
        allowed = max(SITS_WITHIN, SITS_SHARE * shorter)
        steps = [
            Step("first edge", "along the outline", self.first, "mm"),
            Step("second edge", "along the outline", self.second, "mm"),
            Step("difference", f"{self.second:.2f} − {self.first:.2f}", self.difference, "mm"),
            Step("as a share", f"{self.difference:.2f} ÷ {shorter:.2f}", self.percent, "%"),
            Step(
                "sits up to",
                f"max({SITS_WITHIN:g}, {100 * SITS_SHARE:g} % × {shorter:.1f})",
                allowed,
                "mm",
            ),
            Step(
                "can be eased up to",
                f"{100 * self.ease:g} % × {shorter:.1f}",
                self.ease * shorter,
                "mm",
            ),
        ]
        for k in self.landings:
            if k.off is not None:
                lands = f"{k.at:.1f} × {self.second:.1f} ÷ {self.first:.1f}"
                steps.append(Step("a mark lands at", lands, k.lands, "mm"))
                steps.append(
                    Step("and misses its other by", f"{k.meets:.1f} − {k.lands:.1f}", k.off, "mm")
                )
        return Reckoning(
            "seam",
            {"first": self.first, "second": self.second, "ease": self.ease},
            {"difference": self.difference, "percent": self.percent, "verdict": self.verdict},
            tuple(steps),
            "common practice, no source: edges of one length; foam eases by about 2 %",
        )


def seam_fit(first: Piece, second: Piece, seam: Seam, ease: float = EASE) -> SeamFit:
    """Compare the two edges of a seam.

    Raises:
        InputError: one of the pieces has no such edge.
    """
    one, other = edge_of(first, seam.first.edge), edge_of(second, seam.second.edge)
    a, b = sewn_length(first, one), sewn_length(second, other)
    marks = [at for at, _ in marks_on(first, one)]
    others = [at for at, _ in marks_on(second, other)]
    if not walks_alike(seam):
        others = sorted(b - at for at in others)
    lands = [at * b / a for at in marks]
    paired = _paired(lands, others)
    landings = tuple(
        Landing(at, land, None if k is None else others[k])
        for at, land, k in zip(marks, lands, paired, strict=True)
    )
    met = {k for k in paired if k is not None}
    lonely = tuple(at for k, at in enumerate(others) if k not in met)
    return SeamFit(a, b, landings, lonely, ease)


def sewn_length(piece: Piece, edge: Edge) -> float:
    """Return an edge's length once its darts are sewn, mm."""
    length, sewing = line_length(edge_line(piece, edge)), piece.build.sewing
    if sewing is None:
        return length
    return max(length - sewing.taken_by_darts(edge.name), 1e-3)


def walks_alike(seam: Seam) -> bool:
    """Return whether both edges are walked from their start."""
    return seam.onto_other_hand != seam.turned


def _paired(lands: list[float], others: list[float]) -> list[int | None]:
    """Pair marks in their order when there are as many, else the nearest first."""
    if len(lands) == len(others):
        return list(range(len(lands)))
    paired: list[int | None] = [None] * len(lands)
    gaps = sorted((abs(x - y), i, j) for i, x in enumerate(lands) for j, y in enumerate(others))
    used: set[int] = set()
    for gap, i, j in gaps:
        if gap <= PAIRED_WITHIN and paired[i] is None and j not in used:
            paired[i] = j
            used.add(j)
    return paired


# Match marks


def marks_evenly(first: Piece, second: Piece, seam: Seam, count: int) -> tuple[Piece, Piece]:
    """Give both edges `count` match marks that part them evenly: the ease is spread.

    Marks that the two edges had are taken away.

    Raises:
        InputError: no such edge, or not 1 to 40 marks.
    """
    if not 1 <= count <= 40:
        raise InputError("match marks", f"{count}", "1 to 40")
    shares = np.arange(1, count + 1) / (count + 1)
    a, b = _lengths(first, second, seam)
    return _marked(first, second, seam, shares * a, shares * b)


def marks_locally(
    first: Piece, second: Piece, seam: Seam, begin: float, end: float
) -> tuple[Piece, Piece]:
    """Give both edges two match marks, so that all ease falls between them.

    Outside the marks both edges are equally long; the stretch between them on the shorter edge
    runs from share `begin` to share `end` of its length.

    Raises:
        InputError: no such edge, or not 0 < begin < end < 1.
    """
    if not 0 < begin < end < 1:
        raise InputError("match marks", f"{begin:g} to {end:g}", "two shares between 0 and 1")
    a, b = _lengths(first, second, seam)
    shorter = min(a, b)
    low, high = begin * shorter, end * shorter
    at_first = np.array([low, high + max(a - shorter, 0.0)])
    at_second = np.array([low, high + max(b - shorter, 0.0)])
    return _marked(first, second, seam, at_first, at_second)


def _lengths(first: Piece, second: Piece, seam: Seam) -> tuple[float, float]:
    fit = seam_fit(first, second, seam)
    return fit.first, fit.second


def _marked(
    first: Piece, second: Piece, seam: Seam, at_first: Array, at_second: Array
) -> tuple[Piece, Piece]:
    one, other = edge_of(first, seam.first.edge), edge_of(second, seam.second.edge)
    a, b = edge_line(first, one), edge_line(second, other)
    if not walks_alike(seam):
        b = b[::-1]
    points = _pairs(along_line(a, at_first))
    others = _pairs(along_line(b, at_second))
    if seam.onto_other_hand:
        others = []
    if first.id == second.id:
        kept = _without_marks(_without_marks(first, seam.first.edge), seam.second.edge)
        made = replace(kept, match_marks=(*kept.match_marks, *points, *others))
        return made, made
    kept, rest = _without_marks(first, seam.first.edge), _without_marks(second, seam.second.edge)
    return (
        replace(kept, match_marks=(*kept.match_marks, *points)),
        replace(rest, match_marks=(*rest.match_marks, *others)),
    )


def _without_marks(piece: Piece, name: str) -> Piece:
    gone = {mark for _, mark in marks_on(piece, edge_of(piece, name))}
    return replace(piece, match_marks=tuple(m for m in piece.match_marks if m not in gone))


def _pairs(points: Array) -> list[Point]:
    return [(float(x), float(y)) for x, y in points]
