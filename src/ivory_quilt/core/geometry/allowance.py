"""An outline with an allowance outside it, each stretch with its own width, corners mitred."""

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.geometry.shape import Array, polygons_of, signed_area

LIMIT = 4.0  # times the wider allowance that a sharp corner may stand out; then it is cut off
LEAST = 1e-3  # mm: narrower is none
STRAIGHT = 1e-9  # sine of a turn that is none


def with_allowance(ring: Array, widths: Array) -> Polygon:
    """Return a ring with what lies outside it within the width of each of its stretches.

    Corners are mitred: the outer lines of both stretches are drawn on until they meet. With one
    width it is what an offset with mitred corners gives.

    Args:
        ring: `(n, 2)` mm, counter-clockwise, the first point not repeated.
        widths: `(n,)` mm, of the stretch from each point to the next.
    """
    assert signed_area(ring) > 0
    following = np.roll(ring, -1, axis=0)
    step = following - ring
    length = np.hypot(step[:, 0], step[:, 1])
    kept = length > 1e-9
    ring, following, step = ring[kept], following[kept], step[kept] / length[kept, None]
    widths = np.where(widths[kept] < LEAST, 0.0, widths[kept])
    outward = np.column_stack((step[:, 1], -step[:, 0]))
    far = outward * widths[:, None]
    wide = widths > 0
    bands = np.stack((ring, ring + far, following + far, following), axis=1)[wide]
    shapes = [Polygon(ring), *(Polygon(band) for band in bands)]
    for k in range(len(ring)):
        corner = _corner(ring[k], step[k - 1], step[k], float(widths[k - 1]), float(widths[k]))
        if corner is not None:
            shapes.append(corner)
    return largest_filled(shapely.union_all(shapes, grid_size=1e-6))


def largest_filled(found: BaseGeometry) -> Polygon:
    """Return the largest polygon of a geometry, without its holes."""
    return Polygon(max(polygons_of(found), key=lambda g: g.area).exterior)


def _corner(at: Array, before: Array, after: Array, a: float, b: float) -> Polygon | None:
    """Return the wedge that both bands leave open at a corner that turns outwards."""
    sine = float(before[0] * after[1] - before[1] * after[0])
    cosine = float(before @ after)
    if sine <= STRAIGHT or max(a, b) <= 0:
        return None
    one = at + a * np.array([before[1], -before[0]])
    other = at + b * np.array([after[1], -after[0]])
    if b < a * cosine or a < b * cosine:
        # One band reaches beyond the other's outer line: they are joined by a step.
        made = Polygon([at, one, other])
        return made if made.area > 0 else None
    # Both outer lines meet where their distances from the corner agree.
    meet = at + ((b - a * cosine) / sine) * before + a * np.array([before[1], -before[0]])
    reach = float(np.hypot(*(meet - at)))
    corners = [at, one, meet, other]
    if reach > LIMIT * max(a, b):
        # Cut off square to the middle of the corner, as far out as it may go.
        middle = (meet - at) / reach
        stop = LIMIT * max(a, b)
        ends = [_crossing(p, way, at, middle, stop) for p, way in ((one, before), (other, -after))]
        corners = [at, one, *ends, other]
    made = Polygon(corners)
    return made if made.area > 0 else None


def _crossing(start: Array, way: Array, at: Array, middle: Array, stop: float) -> Array:
    """Return where a line comes `stop` out from a corner along its middle."""
    out = float(way @ middle)
    return np.asarray(start + way * ((stop - float((start - at) @ middle)) / out))
