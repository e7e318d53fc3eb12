"""Ornaments and holes in a row along an edge: where each comes, evenly along the true curve."""

from collections.abc import Callable
from enum import StrEnum

import numpy as np
import shapely

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import Outline, along_line, corners_along, line_length
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.edges import edge_line, edge_of, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct

AROUND = ""
"""The edge's name of a row all around the piece."""
LINE = "line "
"""Begins the name of a line on the piece that a row runs along: line 1, line 2."""
MOST = 1000
STEP = 0.05  # mm to either side, to find which way the row runs
TIGHT = 0.5  # of the squared sum of two directions: from about 140° on a corner is no bend
FINE = 0.5  # mm between places that are looked at
HALVINGS = 40
SLACK = 1e-6  # mm
NEAR = 1e-6  # mm that are none


class RowOf(StrEnum):
    """What stands in a row."""

    HOLES = "holes"
    MARKS = "marks"
    PIECES = "pieces"


class OrnamentRow(Struct, frozen=True):
    """A row along an edge.

    Attributes:
        edge: its name; `AROUND`: all around the piece; `LINE` and a number: along a line on it.
        of: holes to punch, round marks for bought ones, or pieces of the project.
        count: how many; used where there is no `spacing`.
        spacing: from middle to middle, mm, as nearly as it comes out even; 0: by `count`.
        inset: from the edge to the middles, mm; of a line, to its left.
        ends: more room at either end, mm: without it the first and last middle are as far from the
            edges beside as from their own.
        first: size of the first, mm across; of holes and marks.
        last: size of the last, between them graded evenly.
        pieces: ids of the pieces that stand there in turn.
    """

    edge: str
    of: RowOf = RowOf.HOLES
    count: int = 12
    spacing: float = 0.0
    inset: float = 12.0
    ends: float = 0.0
    first: float = 8.0
    last: float = 8.0
    pieces: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if not 1 <= self.count <= MOST:
            raise InputError("row", f"{self.count} in it", f"1 to {MOST}")
        for name, value in (("inset", self.inset), ("from the ends", self.ends)):
            if not 0 <= value <= 1000:
                raise InputError(name, f"{value:g} mm", "0 to 1000 mm")
        if not (self.spacing == 0 or 1 <= self.spacing <= 1000):
            raise InputError("spacing", f"{self.spacing:g} mm", "1 to 1000 mm")
        for name, value in (("size of the first", self.first), ("size of the last", self.last)):
            if not 0.5 <= value <= 500:
                raise InputError(name, f"{value:g} mm", "0.5 to 500 mm")
        if self.of is RowOf.PIECES and not self.pieces:
            raise InputError("row", "no piece stands in it", "one or more")

    def sizes(self, count: int) -> Array:
        """Return how large each of so many is, mm across."""
        return np.linspace(self.first, self.last, count)


class RowPlaces(Struct, frozen=True, eq=False):
    """Where a row stands.

    Attributes:
        middles: `(n, 2)` mm on the piece.
        turns: `(n,)` degrees: which way the row runs at each.
        spacing: from middle to middle along the row, mm; 0 for a single one.
    """

    middles: Array
    turns: Array
    spacing: float


def row_places(piece: Piece, row: OrnamentRow) -> RowPlaces:
    """Return where a row's middles come: equally far along the line beside the edge.

    Raises:
        InputError: there is no such edge, or no room for such a row.
    """
    line, closed = row_line(piece, row)
    ends = 0.0 if closed else row.ends
    room = line_length(line) - 2 * ends
    if room < -NEAR:
        words = f"{line_length(line):.1f} mm long, {ends:g} mm kept from each end"
        raise InputError(_where(piece, row), words, "a row that is longer than that")
    room = max(room, 0.0)
    count = row.count
    if row.spacing:
        steps = max(1, round(room / row.spacing))
        count = steps if closed else steps + 1
        if count > MOST:
            raise InputError("row", f"{count} in it", f"1 to {MOST}")
    if closed:
        at = np.arange(count) * room / count
        spacing = room / count
    elif count == 1:
        at, spacing = np.array([ends + room / 2]), 0.0
    else:
        at = ends + np.linspace(0.0, room, count)
        spacing = room / (count - 1)
    way = _at(line, at + STEP, closed=closed) - _at(line, at - STEP, closed=closed)
    turns = np.degrees(np.arctan2(way[:, 1], way[:, 0]))
    return RowPlaces(_at(line, at, closed=closed), turns, spacing)


def row_line(piece: Piece, row: OrnamentRow) -> tuple[Array, bool]:
    """Return the line that a row stands on, and whether it comes back to where it begins."""
    if row.edge == AROUND:
        ring = piece.shape.outer
        beside = _parallel(np.vstack((ring, ring[:1])), row.inset, closed=True)
        if beside is not None and shapely.LinearRing(beside).is_simple:
            return beside, True
        inner = shapely.Polygon(ring).buffer(-row.inset, join_style="mitre")
        if not isinstance(inner, shapely.Polygon) or inner.is_empty:
            raise InputError(_where(piece, row), "no line runs so far inside it", "a smaller inset")
        return shapely.get_coordinates(inner.exterior.normalize())[::-1], True
    if (drawn := _drawn_line(piece, row)) is not None:
        return drawn
    edge = edge_line(piece, edge_of(piece, row.edge))
    beside = _parallel(edge, row.inset, closed=False)
    if beside is not None:
        return _clear_of_others(piece, row, beside), False
    found = shapely.offset_curve(shapely.LineString(edge), row.inset, join_style="mitre")
    if not isinstance(found, shapely.LineString) or found.is_empty:
        raise InputError(_where(piece, row), "it turns too tightly for that", "a smaller inset")
    places = shapely.get_coordinates(found)
    if np.hypot(*(places[-1] - edge[0])) < np.hypot(*(places[0] - edge[0])):
        places = places[::-1]
    return _clear_of_others(piece, row, places), False


def _drawn_line(piece: Piece, row: OrnamentRow) -> tuple[Array, bool] | None:
    """Return the line on a piece that a row runs along, None where it runs along an edge."""
    number = row.edge.removeprefix(LINE)
    if number == row.edge or any(e.name == row.edge for e in edges_of(piece)):
        return None
    if not (number.isdigit() and 1 <= int(number) <= len(piece.lines)):
        raise InputError(_where(piece, row), "there is no such line", f"1 to {len(piece.lines)}")
    points = piece.lines[int(number) - 1].points
    closed = bool(len(points) > 3 and np.hypot(*(points[0] - points[-1])) <= SLACK)
    beside = _parallel(points, row.inset, closed=closed)
    if beside is None or line_length(beside) <= NEAR:
        raise InputError(_where(piece, row), "it turns too tightly for that", "a smaller inset")
    return beside, closed


def _clear_of_others(piece: Piece, row: OrnamentRow, line: Array) -> Array:
    """Return the middle part of a row's line that is as far from all other edges as from its own.

    So a row keeps clear of its neighbours' edges at sharp corners as well as at square ones.
    """
    if row.inset <= NEAR:
        return line
    ring = shapely.LinearRing(piece.shape.outer)
    shapely.prepare(ring)
    whole = piece.shape.polygon

    def clear(at: Array) -> Array:
        spots = shapely.points(along_line(line, at))
        far = shapely.distance(spots, ring) >= row.inset - SLACK
        return np.asarray(far & shapely.covers(whole, spots))

    length = line_length(line)
    at = np.linspace(0.0, length, max(3, 2 * round(length / FINE) + 1))
    good = clear(at)
    middle = min(np.flatnonzero(good), key=lambda k: abs(k - len(at) // 2), default=None)
    if middle is None:
        raise InputError(_where(piece, row), "no place is so far from all edges", "a smaller inset")
    low, high = int(middle), int(middle)
    while low > 0 and good[low - 1]:
        low -= 1
    while high < len(at) - 1 and good[high + 1]:
        high += 1
    start = at[low] if low == 0 else _boundary(clear, at[low], at[low - 1])
    stop = at[high] if high == len(at) - 1 else _boundary(clear, at[high], at[high + 1])
    inner = corners_along(line)
    kept = inner[(inner > start + NEAR) & (inner < stop - NEAR)]
    return along_line(line, np.concatenate(([start], kept, [stop])))


def _boundary(clear: Callable[[Array], Array], good: float, bad: float) -> float:
    """Return how far along a line is clear, between a place that is and one that is not."""
    for _ in range(HALVINGS):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if clear(np.array([middle]))[0] else (good, middle)
    return good


def _parallel(line: Array, inset: float, *, closed: bool) -> Array | None:
    """Return a line so far to the left of another, mitred; None where it would fold.

    The library's own thins the line first, by a hundredth of the inset: rows would stand unevenly.
    """
    if inset <= NEAR:
        return line
    steps = np.diff(line, axis=0)
    ways = steps / np.hypot(*steps.T)[:, None]
    before = np.vstack((ways[-1:] if closed else ways[:1], ways))
    after = np.vstack((ways, ways[:1] if closed else ways[-1:]))
    middle = before + after
    # Its length is twice the cosine of half the turn: a mitre is as much longer.
    square = (middle**2).sum(axis=1)
    if square.min() < TIGHT:
        return None
    left = np.column_stack((-middle[:, 1], middle[:, 0]))
    moved: Array = line + 2.0 * inset * left / square[:, None]
    folds = (np.diff(moved, axis=0) * ways).sum(axis=1) <= 0
    return None if folds.any() else moved


def _at(line: Array, at: Array, *, closed: bool) -> Array:
    return Outline(line[:-1]).places(at) if closed else along_line(line, at)


def _where(piece: Piece, row: OrnamentRow) -> str:
    return f"row along {row.edge or 'the outline'} of '{piece.name}'"
