"""Two versions of a piece laid over each other: where they differ, and by how much."""

import numpy as np
import shapely
from shapely import Polygon

from ivory_quilt.core.geometry.shape import Array, Point, Shape, as_point
from ivory_quilt.core.pattern.edges import edge_length, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct

STEP = 1.0  # mm between the places of an outline that are looked at
MOST_PLACES = 4000
SAME = 0.05  # mm: outlines that differ by less are the same


class FurthestPlace(Struct, frozen=True):
    """The place where one outline is furthest from another, mm."""

    by: float
    at: Point


class EdgeDifference(Struct, frozen=True):
    """An edge's length before and after; None where it is not there."""

    name: str
    before: float | None
    after: float | None


class Comparison(Struct, frozen=True):
    """What is different between a piece as it was and as it is.

    Attributes:
        out: where it reaches furthest beyond what it was; None where nowhere.
        within: where it stays furthest short of what it was.
        width, height, area: of the piece now less what they were, mm and mm².
        edges: those whose length changed.
    """

    out: FurthestPlace | None
    within: FurthestPlace | None
    width: float
    height: float
    area: float
    edges: tuple[EdgeDifference, ...]

    @property
    def same(self) -> bool:
        """Whether the outlines are the same."""
        return self.out is None and self.within is None


def compared(was: Piece, now: Piece) -> Comparison:
    """Return what is different between two versions of a piece, each as it lies.

    Distances are those of one outline's places to the foam of the other, holes among it: the
    greater of the two is the Hausdorff distance of the two shapes.
    """
    old, new = was.shape, now.shape
    lengths = [{e.name: edge_length(p, e) for e in edges_of(p)} for p in (was, now)]
    names = dict.fromkeys((*lengths[0], *lengths[1]))
    edges = tuple(
        EdgeDifference(name, lengths[0].get(name), lengths[1].get(name))
        for name in names
        if _differs(lengths[0].get(name), lengths[1].get(name))
    )
    return Comparison(
        _furthest(new, old.polygon),
        _furthest(old, new.polygon),
        new.width - old.width,
        new.height - old.height,
        new.area - old.area,
        edges,
    )


def _differs(one: float | None, other: float | None) -> bool:
    return one is None or other is None or abs(one - other) > SAME


def _furthest(shape: Shape, foam: Polygon) -> FurthestPlace | None:
    """Return the place of a shape's outlines that lies furthest from some foam."""
    places = np.vstack([_places(r) for r in shape.rings])
    away = np.asarray(shapely.distance(foam, shapely.points(places)))
    k = int(away.argmax())
    return FurthestPlace(float(away[k]), as_point(places[k])) if away[k] > SAME else None


def _places(ring: Array) -> Array:
    """Return a ring's points, and more between them where they lie far apart."""
    closed = np.vstack((ring, ring[:1]))
    long = np.hypot(*np.diff(closed, axis=0).T)
    step = max(STEP, float(long.sum()) / MOST_PLACES)
    spans = [
        np.linspace(a, b, max(1, int(np.ceil(far / step))), endpoint=False)
        for a, b, far in zip(closed[:-1], closed[1:], long.tolist(), strict=True)
    ]
    return np.vstack(spans)
