"""What belongs to what on a drawing: holes to outlines, lines and words to pieces."""

from dataclasses import replace

from shapely import LineString, Polygon, STRtree, prepare
from shapely import Point as ShapelyPoint

from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.pattern.piece import Label
from ivory_quilt.core.reading.drawn import RawText
from ivory_quilt.core.reading.found import FoundPiece

NEAR = 15.0  # mm: words this near an outline speak of it


def with_words(pieces: list[FoundPiece], texts: list[tuple[int, RawText]]) -> list[FoundPiece]:
    """Keep words that stand on a piece and say nothing else as its labels; not its own name."""
    found = list(pieces)
    for owner, text in texts:
        piece, words = found[owner], " ".join(text.text.split())[:80]
        inside = piece.shape.polygon.covers(ShapelyPoint(text.at))
        if words and inside and words.casefold() != piece.name.casefold():
            found[owner] = replace(piece, labels=(*piece.labels, Label(words, text.at)))
    return found


def nearest_piece(at: Point, pieces: list[FoundPiece]) -> int | None:
    """Return the smallest piece that a place lies on, or the nearest within reach."""
    here = ShapelyPoint(at)
    best: tuple[float, float, int] | None = None
    for k, piece in enumerate(pieces):
        x0, y0, x1, y1 = piece.shape.bounds
        if not (x0 - NEAR <= at[0] <= x1 + NEAR and y0 - NEAR <= at[1] <= y1 + NEAR):
            continue
        distance = Polygon(piece.shape.outer).distance(here)
        rank = (distance, piece.shape.area, k)
        if distance <= NEAR and (best is None or rank < best):
            best = rank
    return best[2] if best else None


def parents_of(polygons: list[Polygon]) -> list[int | None]:
    """Return for each polygon the smallest other one that contains it."""
    if not polygons:
        return []
    tree = STRtree(polygons)
    inner, outer = tree.query(polygons, predicate="within")
    parents: list[int | None] = [None] * len(polygons)
    for i, j in zip(inner.tolist(), outer.tolist(), strict=True):
        if i == j:
            continue
        best = parents[i]
        if best is None or polygons[j].area < polygons[best].area:
            parents[i] = j
    return parents


def depth_of(i: int, parents: list[int | None]) -> int:
    """Return how many polygons one lies in, by each one's parent."""
    depth, at = 0, parents[i]
    while at is not None and depth < len(parents):
        depth, at = depth + 1, parents[at]
    return depth


def owner_of(points: Array, pieces: list[FoundPiece]) -> int | None:
    """Return the piece that holds most of a line, or None when less than half lies in any."""
    line = LineString(points)
    best, share = None, 0.5
    for i, piece in enumerate(pieces):
        x0, y0, x1, y1 = piece.shape.bounds
        lx0, ly0, lx1, ly1 = line.bounds
        if lx0 > x1 or lx1 < x0 or ly0 > y1 or ly1 < y0:
            continue
        polygon = piece.shape.polygon
        prepare(polygon)
        inside = (
            1.0
            if polygon.covers(line)
            else polygon.intersection(line).length / max(line.length, 1e-9)
        )
        if inside > share:
            best, share = i, inside
    return best
