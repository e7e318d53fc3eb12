"""Line ornaments: strokes from a drawing put onto a piece once, or in a run along an edge or line.

A run bends with what it follows: along it the motif is as long as its share of the true curve,
across it as high as was typed.
"""

from collections.abc import Iterable

import numpy as np
from shapely import LineString, MultiLineString
from shapely.ops import linemerge

from ivory_quilt.core.editing.ornament_row import OrnamentRow, row_line
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import Outline, along_line, line_length
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.pattern.piece import LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.region_shapes import line_names
from ivory_quilt.core.record import Struct, replace

FINE = 1.0  # mm between places of a stroke that is bent
LEAST = 0.5  # mm of a stroke that is kept
MOST_STROKES, MOST_PLACES = 2000, 200_000


class Motif(Struct, frozen=True, eq=False):
    """Strokes (n, 2), mm, in a box from (0, 0) to (width, height)."""

    strokes: tuple[Array, ...]
    width: float
    height: float


class MotifRun(Struct, frozen=True):
    """A run along an edge or a line.

    Attributes:
        row: what it runs along (`edge`), from it to the motif's middle (`inset`), room at the ends
            (`ends`), and how often (`count`).
        height: of the motif across the run, mm.
    """

    row: OrnamentRow
    height: float

    def __post_init__(self) -> None:
        if not 0 < self.height <= 2000:
            raise InputError("motif", f"{self.height:g} mm high", "above 0 to 2000 mm")


def motif_of(strokes: Iterable[Array], where: str) -> Motif:
    """Return the motif that strokes make; single points are none.

    Raises:
        InputError: there is nothing, or too much.
    """
    kept = [s for s in strokes if len(s) > 1]
    if not kept:
        raise InputError(where, "it has no strokes", "lines to put onto the piece")
    if len(kept) > MOST_STROKES or sum(map(len, kept)) > MOST_PLACES:
        raise InputError(where, f"{len(kept)} strokes", f"a motif: at most {MOST_STROKES}")
    places = np.vstack(kept)
    low, size = places.min(axis=0), np.ptp(places, axis=0)
    if max(size) < LEAST:
        raise InputError(where, "it is smaller than half a millimetre", "a larger drawing")
    return Motif(tuple(s - low for s in kept), float(size[0]), float(size[1]))


def with_motif(piece: Piece, motif: Motif, at: Point, width: float, turn: float) -> Piece:
    """Return a piece with a motif once, its middle at a place, so wide, turned by degrees.

    Raises:
        InputError: a width that is none, or nothing of it is on the piece.
    """
    if not 0 < width <= 5000:
        raise InputError("motif", f"{width:g} mm wide", "above 0 to 5000 mm")
    scale = width / max(motif.width, 1e-9) if motif.width > LEAST else width / motif.height
    angle = np.radians(turn)
    spin = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    middle = np.array([motif.width, motif.height]) / 2
    return _drawn(piece, [(s - middle) * scale @ spin + np.asarray(at) for s in motif.strokes])


def with_motif_run(piece: Piece, motif: Motif, run: MotifRun) -> Piece:
    """Return a piece with a run of a motif along an edge or line.

    Raises:
        InputError: no such edge, no room, or a motif without length.
    """
    if motif.width < LEAST:
        raise InputError("motif", "it has no length to run along an edge", "a wider one")
    line, closed = row_line(piece, run.row)
    length = line_length(line)
    room = length - (0.0 if closed else 2 * run.row.ends)
    if room <= 0:
        raise InputError("motif", f"the edge is {length:.0f} mm long", "less room at the ends")
    start = 0.0 if closed else run.row.ends
    each = room / run.row.count
    across = run.height / motif.height if motif.height > LEAST else 1.0
    made = []
    for k in range(run.row.count):
        for stroke in motif.strokes:
            fine = _fine(stroke, FINE * motif.width / each)
            at = start + (k + fine[:, 0] / motif.width) * each
            made.append(_beside(line, at, (fine[:, 1] - motif.height / 2) * across, closed=closed))
    return _drawn(piece, made)


def _fine(stroke: Array, step: float) -> Array:
    """Return a stroke with places no further apart than a step."""
    length = np.hypot(*np.diff(stroke, axis=0).T)
    shares = [np.arange(n) / n for n in np.maximum(1, np.ceil(length / step)).astype(int)]
    runs = [a + s[:, None] * (b - a) for a, b, s in zip(stroke, stroke[1:], shares, strict=False)]
    return np.vstack((*runs, stroke[-1:]))


def _beside(line: Array, at: Array, away: Array, *, closed: bool) -> Array:
    """Return the places so far along a line and so far to its left."""
    total = line_length(line)

    def places(where: Array) -> Array:
        if closed:
            return Outline(line[:-1]).places(where % total)
        return along_line(line, np.clip(where, 0.0, total))

    way = places(at + 0.25) - places(at - 0.25)
    way = way / np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)[:, None]
    return np.asarray(places(at) + away[:, None] * np.column_stack((-way[:, 1], way[:, 0])))


def _drawn(piece: Piece, strokes: list[Array]) -> Piece:
    """Return a piece with strokes as marks of one name; what is off the foam is left out.

    Raises:
        InputError: nothing of them is on it.
    """
    foam, name = piece.shape.polygon, _free(piece)
    lines = []
    for stroke in strokes:
        inside = LineString(stroke).intersection(foam)
        if isinstance(inside, MultiLineString):
            inside = linemerge(inside)
        for part in getattr(inside, "geoms", [inside]):
            if part.geom_type == "LineString" and part.length >= LEAST:
                points = np.asarray(part.coords)[:, :2]
                points.setflags(write=False)
                lines.append(PieceLine(LineKind.MARK, points, name=name))
    if not lines:
        raise InputError(f"piece '{piece.name}'", "nothing of the motif is on it", "another place")
    # Those that had only a number keep it.
    named = zip(piece.lines, line_names(piece), strict=True)
    return replace(piece, lines=(*(replace(k, name=n) for k, n in named), *lines))


def _free(piece: Piece) -> str:
    """Return the number that the next line gets."""
    numbers = [int(n) for n in line_names(piece) if n.isdigit()]
    return str(max(numbers, default=0) + 1)
