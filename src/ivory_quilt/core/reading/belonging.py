"""What belongs to what on a drawing: holes to outlines, lines and words to pieces.

Everything is looked for through a spatial index, so that a drawing of a hundred thousand outlines
takes seconds; where thousands lie within each other, only the smallest that may hold one is tried.
"""

from collections.abc import Iterator, Sequence

import numpy as np
import shapely
from shapely import LineString, Polygon, STRtree
from shapely import Point as ShapelyPoint

from ivory_quilt.core.geometry.shape import Array, Point, Shape
from ivory_quilt.core.pattern.piece import Label
from ivory_quilt.core.reading.drawn import RawText
from ivory_quilt.core.reading.found import FoundPiece
from ivory_quilt.core.record import replace

NEAR = 15.0  # mm: words this near an outline speak of it
SOME = 256  # polygons that are asked for their surroundings at a time; thousands may hold each


class PieceFinder:
    """Finds the pieces that something lies on or near to."""

    def __init__(self, pieces: Sequence[FoundPiece]) -> None:
        """Index pieces by their outlines; what else they have may change afterwards."""
        self._pieces = pieces
        self._polygons = np.array([_filled(p.shape) for p in pieces], dtype=object)
        self._areas = np.array([p.shape.area for p in pieces])
        self._tree = STRtree(self._polygons)

    def near(self, box: tuple[float, float, float, float], within: float) -> list[int]:
        """Return the pieces whose boxes come within a distance of a box, in order."""
        x0, y0, x1, y1 = box
        around = shapely.box(x0 - within, y0 - within, x1 + within, y1 + within)
        return sorted(self._tree.query(around).tolist())

    def nearest(self, at: Point) -> int | None:
        """Return the smallest piece that a place lies on, or the nearest within reach."""
        here = ShapelyPoint(at)
        near = self.near((*at, *at), NEAR)
        if not near:
            return None
        # One that holds the place is nearest, and the smallest of those is meant.
        near.sort(key=lambda k: (self._areas[k], k))
        away = shapely.distance(self._polygons[near], here)
        best = int(away.argmin())
        return near[best] if away[best] <= NEAR else None

    def owner(self, points: Array) -> int | None:
        """Return the piece that holds most of a line, or None when less than half lies in any."""
        line = LineString(points)
        best, share = None, 0.5
        for i in self.near(line.bounds, 0.0):
            polygon = self._pieces[i].shape.polygon
            shapely.prepare(polygon)
            inside = (
                1.0
                if polygon.covers(line)
                else polygon.intersection(line).length / max(line.length, 1e-9)
            )
            if inside > share:
                best, share = i, inside
                if share == 1.0:
                    break
        return best


def _filled(shape: Shape) -> Polygon:
    return Polygon(shape.outer) if shape.holes else shape.polygon


def with_words(pieces: list[FoundPiece], texts: list[tuple[int, RawText]]) -> list[FoundPiece]:
    """Keep words that stand on a piece and say nothing else as its labels; not its own name."""
    found = list(pieces)
    labels: dict[int, list[Label]] = {}
    for owner, text in texts:
        piece, words = found[owner], " ".join(text.text.split())[:80]
        inside = piece.shape.polygon.covers(ShapelyPoint(text.at))
        if words and inside and words.casefold() != piece.name.casefold():
            labels.setdefault(owner, []).append(Label(words, text.at))
    for owner, more in labels.items():
        found[owner] = replace(found[owner], labels=(*found[owner].labels, *more))
    return found


def parents_of(polygons: list[Polygon]) -> list[int | None]:
    """Return for each polygon the smallest other one that contains it."""
    parents: list[int | None] = [None] * len(polygons)
    if not polygons:
        return parents
    known = np.array(polygons, dtype=object)
    shapely.prepare(known)
    areas, boxes = shapely.area(known), shapely.bounds(known)
    tree = STRtree(known)
    for first in range(0, len(polygons), SOME):
        some = np.arange(first, min(first + SOME, len(polygons)))
        inner, outer = tree.query(shapely.points(_corners(known[some])))
        inner = some[inner]
        held = (
            (inner != outer)
            & (areas[outer] >= areas[inner])
            & (boxes[outer, :2] <= boxes[inner, :2]).all(axis=1)
            & (boxes[outer, 2:] >= boxes[inner, 2:]).all(axis=1)
        )
        inner, outer = inner[held], outer[held]
        order = np.lexsort((outer, areas[outer], inner))
        for i, j in _smallest_holding(known, inner[order], outer[order]):
            parents[i] = j
    return parents


def _corners(polygons: Array) -> Array:
    """Return the first corner of each polygon, (n, 2)."""
    return np.asarray(
        shapely.get_coordinates(shapely.get_point(shapely.get_exterior_ring(polygons), 0))
    )


def _smallest_holding(known: Array, inner: Array, outer: Array) -> Iterator[tuple[int, int]]:
    """Yield (i, j) for each i of `inner` whose first `outer` that contains it is j.

    Pairs are sorted by i, then from the smallest j. Tried one rank after another: nearly always
    the first holds.
    """
    while len(inner):
        first = np.flatnonzero(np.r_[True, inner[1:] != inner[:-1]])
        holds = shapely.covers(known[outer[first]], known[inner[first]])
        yield from zip(inner[first[holds]].tolist(), outer[first[holds]].tolist(), strict=True)
        done = np.isin(inner, inner[first[holds]])
        done[first] = True
        inner, outer = inner[~done], outer[~done]


def depths_of(parents: list[int | None], sizes: Sequence[float]) -> list[int]:
    """Return how many polygons each lies in, by each one's parent; `sizes` are their areas."""
    depth = [0] * len(parents)
    for i in sorted(range(len(parents)), key=lambda k: -sizes[k]):  # parents come first
        parent = parents[i]
        depth[i] = 0 if parent is None else depth[parent] + 1
    return depth


def overlapping(polygons: Sequence[Polygon], most: int) -> Iterator[tuple[int, int] | None]:
    """Yield (i, j), i < j, of polygons drawn across each other; None once after `most` tries.

    Where all lie on each other there are more pairs than anyone would look at.
    """
    known = np.array(polygons, dtype=object)
    if not len(known):
        return
    shapely.prepare(known)
    tree, tried = STRtree(known), 0
    for first in range(0, len(known), SOME):
        some = known[first : first + SOME]
        left, right = tree.query(some)
        left = left + first
        pairs = np.column_stack((left, right))[left < right]
        pairs = pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))][: max(most - tried, 0) + 1]
        across = shapely.overlaps(known[pairs[:most, 0]], known[pairs[:most, 1]])
        yield from ((int(i), int(j)) for i, j in pairs[:most][across])
        tried += len(pairs)
        if tried > most:
            yield None
            return
