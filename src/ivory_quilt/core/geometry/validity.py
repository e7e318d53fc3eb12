"""What can be wrong with an outline, and how it can be mended."""

from shapely import Polygon, make_valid
from shapely.validation import explain_validity

from ivory_quilt.core.geometry.shape import Array, Point, Shape, polygons_of, signed_area


def crossing(points: Array) -> Point | None:
    """Return a place where the ring crosses or touches itself, or None if it is simple."""
    text = explain_validity(Polygon(points))
    if text == "Valid Geometry":
        return None
    at = text[text.find("[") + 1 : text.find("]")].split()
    try:
        return (float(at[0]), float(at[1]))
    except (IndexError, ValueError):
        return (float(points[0, 0]), float(points[0, 1]))


def untangle(points: Array, smallest: float = 1.0) -> list[Shape]:
    """Return the simple shapes that a self-crossing ring encloses, largest first.

    Loops under `smallest` mm² are dropped.
    """
    shapes = [Shape.from_polygon(p) for p in polygons_of(make_valid(Polygon(points)))]
    return sorted((s for s in shapes if s.area >= smallest), key=lambda s: -s.area)


def shape_problem(shape: Shape) -> str:
    """Return what makes `shape` unusable (one phrase), or an empty string."""
    if abs(signed_area(shape.outer)) < 1e-6:
        return "the outline encloses no area"
    if shape.polygon.is_valid:
        return ""
    return f"the outline crosses itself or its holes ({explain_validity(shape.polygon)})"
