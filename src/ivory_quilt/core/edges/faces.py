"""Outlines of both faces of a piece whose edges are bevelled.

Each stretch of the outline is moved out by its own distance; corners are mitred, as bevel planes
meet. Where an outline moved in crosses itself, what is left of the face is what lies to the left of
all of it: the parts around which the moved ring winds once or more (winding number of an offset
curve, a standard of computational geometry).
"""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt
from shapely import LinearRing, LineString, Polygon, polygonize, unary_union
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Shape, polygons_of, ring, signed_area

MITRE_LIMIT = 5.0  # times the offset that a corner may stand out before it is cut off
NEARLY_STRAIGHT = np.radians(8.0)
HALF = 0.5  # of a stretch that a mitre may take from either end
SHARP = np.radians(140.0)  # turns beyond it are spikes
SPECK = 0.5  # mm²: smaller remains of a face are none


def offset_faces(shape: Shape, distances: Sequence[Array]) -> Shape:
    """Return an outline whose stretches are moved out, each by its own distance.

    Args:
        shape: the outline and its holes.
        distances: for each ring, for each of its vertices, how far the stretch from it to the
            next one moves away from the foam, mm; below 0 into it.

    Raises:
        InputError: nothing would be left, or it would fall apart.
    """
    if all(not np.any(d) for d in distances):
        return shape
    rings = [_moved(r, d) for r, d in zip(shape.rings, distances, strict=True)]
    outer = _wound(rings[0])
    if outer is None:
        raise InputError("bevel", "nothing would be left of the other face", "a smaller angle")
    holes = [h for h in (_wound(r[::-1]) for r in rings[1:]) if h is not None]
    solid: BaseGeometry = outer
    for hole in holes:
        solid = solid.difference(hole)
    parts = [p for p in polygons_of(solid) if p.area > SPECK]
    if len(parts) != 1:
        problem = "would fall apart" if parts else "would have nothing left"
        raise InputError("bevel", f"the other face {problem}", "a smaller angle")
    return Shape.from_polygon(parts[0])


def _moved(points: Array, distances: Array) -> Array:
    """Return a ring's raw offset; it may cross itself."""
    if not np.any(distances):
        return points
    step = np.roll(points, -1, axis=0) - points
    length = np.hypot(step[:, 0], step[:, 1])
    along = step / length[:, None]
    normal = np.column_stack((along[:, 1], -along[:, 0]))  # out of a ring that runs to the left
    plain, met = _plain_corners(points, along, normal, length, distances)
    if plain.all():
        return met
    made: list[Array] = []
    for k in range(len(points)):
        j = k - 1
        if plain[k]:
            made.append(met[k])
        else:
            made += _corner(
                points[k],
                along[j],
                along[k],
                normal[j],
                normal[k],
                float(distances[j]),
                float(distances[k]),
                (float(length[j]), float(length[k])),
            )
    return np.array(made)


def _plain_corners(
    points: Array, along: Array, normal: Array, length: Array, distances: Array
) -> tuple[npt.NDArray[np.bool_], Array]:
    """Return which corners are one point after the move, and where; the same as `_corner` has."""
    before, n0, d0 = np.roll(along, 1, axis=0), np.roll(normal, 1, axis=0), np.roll(distances, 1)
    n1, d1, long0 = normal, distances, np.roll(length, 1)
    cross = before[:, 0] * along[:, 1] - before[:, 1] * along[:, 0]
    turn = np.abs(np.arctan2(cross, (before * along).sum(axis=1)))
    alike = d0 == d1
    straight = (turn < 1e-9) & alike
    mixed = (n0 * n1).sum(axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        a = (d0 - d1 * mixed) / (1 - mixed * mixed)
        b = (d1 - d0 * mixed) / (1 - mixed * mixed)
        meet = a[:, None] * n0 + b[:, None] * n1
        back, on = -(meet * before).sum(axis=1) / long0, (meet * along).sum(axis=1) / length
        used_up = (np.minimum(back, on) > 0) & (np.maximum(back, on) > HALF)
        limit = MITRE_LIMIT * np.maximum(np.abs(d0), np.abs(d1))
        near = (turn < SHARP) | (np.hypot(meet[:, 0], meet[:, 1]) <= limit)
    parted = (turn < 1e-9) | ((turn < NEARLY_STRAIGHT) & ~alike) | (np.abs(cross) < 1e-6)
    met = ~parted & ~used_up & near
    still = alike & (d0 == 0.0)
    by = np.where(
        still[:, None],
        0.0,
        np.where(straight[:, None], d0[:, None] * n0, np.where(met[:, None], meet, 0.0)),
    )
    return still | straight | met, points + by


def _corner(
    at: Array,
    before: Array,
    after: Array,
    n0: Array,
    n1: Array,
    d0: float,
    d1: float,
    lengths: tuple[float, float],
) -> list[Array]:
    """Return the point or points where two moved stretches meet.

    `lengths` are those of the stretches before they are moved.
    """
    cross = float(before[0] * after[1] - before[1] * after[0])
    dot = float(before @ after)
    turn = np.arctan2(cross, dot)
    if d0 == d1 == 0.0:
        return [at]
    if abs(turn) < 1e-9 or (abs(turn) < NEARLY_STRAIGHT and d0 != d1):
        return [at + d0 * n0] if d0 == d1 else [at + d0 * n0, at + d1 * n1]
    if abs(cross) < 1e-6:  # folded back on itself
        return [at + d0 * n0, at + d1 * n1]
    # Where both moved lines meet: p·n0 = d0 and p·n1 = d1.
    mixed = float(n0 @ n1)
    a = (d0 - d1 * mixed) / (1 - mixed * mixed)
    b = (d1 - d0 * mixed) / (1 - mixed * mixed)
    meet = a * n0 + b * n1
    # Where that would take up both stretches, the moved lines are let cross: what they enclose
    # beyond the crossing winds the other way, and goes.
    used = (-float(meet @ before) / lengths[0], float(meet @ after) / lengths[1])
    if min(used) > 0 and max(used) > HALF:
        return [at + d0 * n0, at + d1 * n1]
    limit = MITRE_LIMIT * max(abs(d0), abs(d1))
    if abs(turn) < SHARP or float(np.hypot(*meet)) <= limit:
        return [at + meet]
    if (turn > 0 and max(d0, d1) > 0) or (turn < 0 and min(d0, d1) < 0):
        reach = limit / 2
        return [at + d0 * n0 + reach * before, at + d1 * n1 - reach * after]
    return [at + d0 * n0, at + d1 * n1]


def _wound(points: Array) -> Polygon | None:
    """Return the largest part of the plane around which a ring winds to the left, or None."""
    points = np.asarray(ring(points, where="other face"))
    line = LinearRing(points)
    if line.is_simple:
        return Polygon(points) if signed_area(points) > SPECK else None
    faces = polygonize([unary_union(LineString(np.vstack((points, points[:1]))))])
    kept = []
    for face in faces.geoms:
        if face.area < 1e-9:
            continue
        inside = face.representative_point()
        if _winding(points, inside.x, inside.y) > 0:
            kept.append(face)
    if not kept:
        return None
    whole = unary_union(kept)
    parts = sorted(getattr(whole, "geoms", [whole]), key=lambda p: -p.area)
    best = parts[0]
    if best.area <= SPECK:
        return None
    if len(parts) > 1 and parts[1].area > SPECK:
        raise InputError("bevel", "the other face would fall apart", "a smaller angle")
    return Polygon(best.exterior)


def _winding(points: Array, x: float, y: float) -> int:
    """Return how often a closed ring winds around a place (crossing count with direction)."""
    a = points - (x, y)
    b = np.roll(a, -1, axis=0)
    left = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    up = (a[:, 1] <= 0) & (b[:, 1] > 0) & (left > 0)
    down = (a[:, 1] > 0) & (b[:, 1] <= 0) & (left < 0)
    return int(up.sum() - down.sum())
