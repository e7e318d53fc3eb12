"""What can be wrong with an outline, and how it can be mended."""

import numpy as np
import shapely
from shapely import Polygon, STRtree, make_valid
from shapely.validation import explain_validity

from ivory_quilt.core.geometry.shape import PROBLEM, Array, Point, Shape, polygons_of, signed_area

SOME = 256  # edges that are compared with all others at a time
MOST_CROSSINGS = 3000  # of one outline that are untangled: each is a loop to be kept or not


def crossing(polygon: Polygon) -> Point | None:
    """Return a place where a polygon's outline crosses or touches itself, None if it is simple."""
    if polygon.is_valid:
        return None
    text = explain_validity(polygon)
    at = text[text.find("[") + 1 : text.find("]")].split()
    try:
        return (float(at[0]), float(at[1]))
    except (IndexError, ValueError):
        x, y = polygon.exterior.coords[0][:2]
        return (float(x), float(y))


def crossings(points: Array, most: int = MOST_CROSSINGS) -> int:
    """Return how often a ring's edges cross each other, counted until there are more than `most`.

    Edges that follow each other meet at a corner, which is none.
    """
    n, found = len(points), 0
    sides = np.stack((points, np.roll(points, -1, axis=0)), axis=1)
    edges = np.asarray(shapely.linestrings(sides), dtype=object)
    tree = STRtree(edges)
    for first in range(0, n, SOME):
        some = np.arange(first, min(first + SOME, n))
        a, b = tree.query(edges[some])
        a = some[a]
        apart = (b - a > 1) & (b - a < n - 1)
        a, b = a[apart], b[apart]
        for k in range(0, len(a), MOST_CROSSINGS):
            mine, other = a[k : k + MOST_CROSSINGS], b[k : k + MOST_CROSSINGS]
            found += int(shapely.intersects(edges[mine], edges[other]).sum())
            if found > most:
                return found
    return found


def untangle(points: Array, smallest: float = 1.0) -> list[Shape]:
    """Return the simple shapes that a self-crossing ring encloses, largest first.

    Loops under `smallest` mm² are dropped.
    """
    shapes = [Shape.from_polygon(p) for p in polygons_of(make_valid(Polygon(points)))]
    return sorted((s for s in shapes if s.area >= smallest), key=lambda s: -s.area)


def shape_problem(shape: Shape) -> str:
    """Return what makes `shape` unusable (one phrase), or an empty string; looked at once."""
    known = shape.__dict__.get(PROBLEM)
    if known is None:
        known = shape.__dict__[PROBLEM] = _problem(shape)
    return str(known)


def _problem(shape: Shape) -> str:
    if abs(signed_area(shape.outer)) < 1e-6:
        return "the outline encloses no area"
    if shape.polygon.is_valid:
        return ""
    return f"the outline crosses itself or its holes ({explain_validity(shape.polygon)})"
