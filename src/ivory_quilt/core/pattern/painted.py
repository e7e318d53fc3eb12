"""Where a tone is on a piece: all of it, a strip along edges, inside or along a line."""

import re
from dataclasses import replace

import numpy as np
from shapely import LineString, Polygon, union_all
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.edges import edge_line, edge_of, edges_of
from ivory_quilt.core.pattern.paint import PaintArea, PaintOn
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.units import parse_length, show_number

CLOSED = 0.5  # mm that a line's two ends may be apart and still close


def region_on(piece: Piece, area: PaintArea) -> BaseGeometry:
    """Return what a tone covers of a piece's outer face; nothing where the place is not there."""
    foam = piece.shape.polygon
    if area.on is PaintOn.WHOLE:
        return foam
    if area.on is PaintOn.EDGE:
        names = [area.of] if area.of else [e.name for e in edges_of(piece)]
        known = {e.name for e in edges_of(piece)}
        lines = [LineString(edge_line(piece, edge_of(piece, n))) for n in names if n in known]
        return union_all([k.buffer(area.width) for k in lines]).intersection(foam)
    number = int(area.of)
    if not 1 <= number <= len(piece.lines):
        return Polygon()
    points = piece.lines[number - 1].points
    if area.width:
        return LineString(points).buffer(area.width / 2, cap_style="flat").intersection(foam)
    if len(points) < 3 or np.hypot(*(points[0] - points[-1])) > CLOSED:
        return Polygon()
    return Polygon(points).buffer(0).intersection(foam)


def share_on(piece: Piece, area: PaintArea) -> float:
    """Return which share of a piece's outer face a tone covers, 0 to 1."""
    if not area.covers(piece.id):
        return 0.0
    if area.on is PaintOn.WHOLE:
        return area.share
    return area.share * float(region_on(piece, area).area) / piece.shape.area


def region_words(area: PaintArea) -> str:
    """Return where a tone is in the words that `typed_region` reads."""
    wide = f" {show_number(area.width, 2)} mm" if area.width else ""
    if area.on is PaintOn.WHOLE:
        return "whole"
    if area.on is PaintOn.EDGE:
        return f"edge {area.of}{wide}" if area.of else f"edges{wide}"
    return f"line {area.of}{wide}"


def typed_region(area: PaintArea, text: str) -> PaintArea:
    """Return a tone where a text says that it is: whole, edge A 12 mm, edges 8 mm, line 2.

    A line alone is what it encloses; with a width, a stripe along it.

    Raises:
        InputError: it says none of these.
    """
    plain = " ".join(text.split())
    if plain.lower() in ("", "whole", "all"):
        return replace(area, on=PaintOn.WHOLE, of="", width=0.0)
    found = re.fullmatch(
        r"(edges?|line)\s*(?:(?<=edge )(.+?)|(?<=line )(\d+))?(?:\s+([\d.,/ ]+\s*\S*))?",
        plain,
        re.I,
    )
    where = f"paint '{area.tone}', region"
    expected = "whole, edge A 12 mm, edges 8 mm, line 2 or line 2 10 mm"
    if found is None:
        raise InputError(where, f"'{text}'", expected)
    word, edge, line, wide = found.groups()
    width = parse_length(wide, where=where) if wide else 0.0
    if word.lower() == "line":
        if line is None:
            raise InputError(where, f"'{text}'", expected)
        return replace(area, on=PaintOn.LINE, of=line, width=width)
    if not width or (word.lower() == "edge" and not edge):
        raise InputError(where, f"'{text}'", expected)
    return replace(area, on=PaintOn.EDGE, of=edge or "", width=width)
