"""Where a region lies on a piece, and how much of a piece a tone covers."""

import numpy as np
from shapely import LineString, Polygon, union_all
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.edges import edge_line, edge_of, edges_of
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import Piece, PieceLine
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.record import replace

CLOSED = 0.5  # mm that a line's two ends may be apart and still close


def line_names(piece: Piece) -> tuple[str, ...]:
    """Return what each of a piece's lines is called: its own name, else the next free number.

    A line that is named keeps its name when one before it is taken away.
    """
    taken = {k.name for k in piece.lines if k.name}
    made = []
    for number, line in enumerate(piece.lines, 1):
        name = line.name
        if not name:
            while str(number) in taken:
                number += 1
            name = str(number)
            taken.add(name)
        made.append(name)
    return tuple(made)


def with_name_kept(piece: Piece, region: FaceRegion) -> Piece:
    """Return the piece with the line that a region is about called so from now on."""
    if region.on is not RegionKind.LINE:
        return piece
    names = line_names(piece)
    lines = tuple(
        replace(k, name=n) if n == region.of else k for k, n in zip(piece.lines, names, strict=True)
    )
    return piece if lines == piece.lines else replace(piece, lines=lines)


def lines_named(piece: Piece, name: str) -> tuple[PieceLine, ...]:
    """Return the lines of a name; the parts of one that was cut in two have the same."""
    return tuple(k for k, n in zip(piece.lines, line_names(piece), strict=True) if n == name)


def region_on(piece: Piece, region: FaceRegion) -> BaseGeometry:
    """Return what a region is of a piece's face; nothing where the place is not there."""
    foam = piece.shape.polygon
    if region.on is RegionKind.WHOLE:
        return foam
    if region.on is RegionKind.EDGE:
        known = [e.name for e in edges_of(piece)]
        names = [n for n in known if region.of in ("", n)]
        lines = [LineString(edge_line(piece, edge_of(piece, n))) for n in names]
        return union_all([k.buffer(region.width) for k in lines]).intersection(foam)
    found = [_along(k.points, region.width) for k in lines_named(piece, region.of)]
    return union_all(found).intersection(foam) if found else Polygon()


def _along(points: Array, width: float) -> BaseGeometry:
    """Return a stripe along a line; of no width, what the line encloses."""
    if width:
        return LineString(points).buffer(width / 2, cap_style="flat")
    if len(points) < 3 or np.hypot(*(points[0] - points[-1])) > CLOSED:
        return Polygon()
    return Polygon(points).buffer(0)


def is_on(piece: Piece, area: PaintArea) -> bool:
    """Return whether a tone is on a piece: it is meant for it, and its place is there."""
    return share_on(piece, area) > 0


def share_on(piece: Piece, area: PaintArea) -> float:
    """Return which share of a piece's outer face a tone covers, 0 to 1."""
    if not area.covers(piece.id):
        return 0.0
    if area.on is RegionKind.WHOLE:
        return area.share
    return area.share * float(region_on(piece, area.region).area) / piece.shape.area
