"""Parts that were one: put back together by matching edges and corners.

Where many edges have a partner of the same length, sampling finds the joint only by luck. Here the
leftmost open corner is filled again and again with the parts whose edges run along it, and of all
arrangements a handful with the most contact is carried on (a beam search). What comes out may
overlap by hundredths of a millimetre: the search that follows clears that.
"""

import math
from itertools import pairwise

import numpy as np
import shapely
from shapely import Polygon, box
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.geometry.shape import Array, simplified
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.prepare import Prepared
from ivory_quilt.core.nesting.world import UNPLACED, Solution, World
from ivory_quilt.core.record import Struct

BEAMS = (24, 80)  # arrangements carried on from part to part: at first, and when that failed
ENOUGH = 0.3  # share of all edge length that must have a partner
LIKE = 0.15  # mm by which partners' lengths may differ
ALONG = math.radians(0.6)  # between a part's edge and the one that it is laid along
MOST_PARTS = 60
POCKETS = 2  # parts that may be put into what is left, as it is
CORNERS = 3  # open corners tried before an arrangement is given up
OVERLAP = 0.03  # mm: depth of overlap that is let pass, times the outline's length
SLIVER = 0.04  # mm: half the width of what is left between parts and counts as nothing
CONTACT = 0.08  # mm within which outlines count as touching


class OrientedPart(Struct, frozen=True):
    """A part in one orientation: its corners, and where each edge from there leads (radians)."""

    spin: tuple[float, float, float]
    points: Array
    ahead: Array
    behind: Array
    polygon: Polygon


class Arrangement(Struct, frozen=True):
    """Parts put together so far, and the foam that is still free."""

    free: Polygon
    laid: tuple[tuple[int, float, float, OrientedPart], ...]
    left: frozenset[int]
    contact: float
    length: float

    @property
    def score(self) -> float:
        """Share of the laid parts' outlines that touches something."""
        return self.contact / self.length if self.length else 0.0


def is_jigsaw(world: World) -> bool:
    """Return whether so many edges have a partner that it is worth matching them."""
    items = [i for i in range(world.count) if not world.pinned[i]]
    if not 2 < len(items) <= MOST_PARTS or world.pinned.any():
        return False
    if any(world.kinds[i].spec.rotations is None for i in items):
        return False
    lengths: list[tuple[float, int]] = []
    for i in items:
        edges = world.kinds[i].edges
        along = np.hypot(edges[:, 2] - edges[:, 0], edges[:, 3] - edges[:, 1])
        lengths += [(float(v), i) for v in along if v > 1.0]
    lengths.sort()
    total = sum(v for v, _ in lengths)
    matched = 0.0
    for (a, i), (b, j) in pairwise(lengths):
        if i != j and b - a < LIKE:
            matched += 2 * a
    return matched > ENOUGH * total


def assemble(
    world: World, regions: list[int], beam: int, flags: Ints, rects: Array | None = None
) -> Solution:
    """Return a layout of the parts that match on `regions`, in that order; others are unplaced.

    With `rects` regions reach only so far. The last part or two, for which their pocket is a hair
    too narrow, are put into it all the same: the search that follows makes room.
    """
    faces = {id(k): _faces(k) for k in world.pieces}
    poses, where = world.poses.copy(), world.where.copy()
    where[: world.count] = UNPLACED
    left = frozenset(range(world.count))
    for region in regions:
        rect = world.regions[region].rect if rects is None else tuple(rects[region])
        done = _fill(world, region, rect, left, faces, beam, flags)
        for i, x, y, face in done.laid:
            poses[i] = (x, y, *face.spin)
            where[i] = region
        left = done.left
        if rects is not None and 0 < len(left) <= POCKETS and not done.free.is_empty:
            at = done.free.representative_point()
            for i in left:
                poses[i, :2] = at.x, at.y
                where[i] = region
            left = frozenset()
        if not left or flags[0]:
            break
    return Solution(poses, where)


def _fill(
    world: World,
    region: int,
    rect: tuple[float, float, float, float],
    left: frozenset[int],
    faces: dict[int, list[OrientedPart]],
    width: int,
    flags: Ints,
) -> Arrangement:
    x0, y0, x1, y1 = rect
    if world.regions[region].is_roll:
        need = sum(world.kinds[i].grown_area for i in left)
        x1 = min(x1, x0 + 3.0 * need / (y1 - y0))
    foam: BaseGeometry = box(x0, y0, x1, y1)
    for frame in world.regions[region].frame:
        foam = foam.difference(frame)
    room = _largest(foam)
    beam = [Arrangement(room, (), left, 0.0, 0.0)]
    best = beam[0]
    while beam and not flags[0]:
        grown: dict[tuple[tuple[int, int, int], ...], Arrangement] = {}
        for one in beam:
            for more in _next(world, one, faces):
                key = tuple(sorted((i, round(x), round(y)) for i, x, y, _ in more.laid))
                if key not in grown or more.score > grown[key].score:
                    grown[key] = more
        beam = sorted(grown.values(), key=lambda a: -a.score)[:width]
        for one in beam:
            if (_area(world, one), one.score) > (_area(world, best), best.score):
                best = one
        if beam and not beam[0].left:
            break
    return best


def _area(world: World, one: Arrangement) -> float:
    return round(sum(world.kinds[i].grown_area for i, _, _, _ in one.laid))


def _next(
    world: World, one: Arrangement, faces: dict[int, list[OrientedPart]]
) -> list[Arrangement]:
    """Return the arrangement with one part more, in every way that fits its first open corner."""
    for at, ahead, behind in _open_corners(one.free)[:CORNERS]:
        found, seen = [], set()
        for i in one.left:
            kind = world.kinds[i]
            if id(kind) in seen:  # copies are alike
                continue
            seen.add(id(kind))
            for face in faces[id(kind)]:
                # A corner of the part whose edge ahead, or behind, runs along the corner's.
                for v in np.flatnonzero(
                    (_apart(face.ahead, ahead) < ALONG) | (_apart(face.behind, behind) < ALONG)
                ):
                    more = _with(one, i, face, at[0] - face.points[v, 0], at[1] - face.points[v, 1])
                    if more is not None:
                        found.append(more)
        if found:
            return found
    return []


def _with(one: Arrangement, i: int, face: OrientedPart, x: float, y: float) -> Arrangement | None:
    part = shapely.affinity.translate(face.polygon, x, y)
    fx0, fy0, fx1, fy1 = one.free.bounds
    px0, py0, px1, py1 = part.bounds
    if px0 < fx0 - CONTACT or py0 < fy0 - CONTACT or px1 > fx1 + CONTACT or py1 > fy1 + CONTACT:
        return None
    outside = part.area - part.intersection(one.free).area
    if outside > OVERLAP * part.length:
        return None
    contact = part.exterior.intersection(one.free.exterior.buffer(CONTACT)).length
    # Slivers between two parts are no room for another.
    rest = one.free.difference(part.buffer(SLIVER / 4, join_style="mitre"))
    free = _largest(rest.buffer(-SLIVER, join_style="mitre").buffer(SLIVER, join_style="mitre"))
    return Arrangement(
        free,
        (*one.laid, (i, x, y, face)),
        one.left - {i},
        one.contact + contact,
        one.length + part.length,
    )


def _largest(shape: shapely.Geometry) -> Polygon:
    if isinstance(shape, Polygon):
        return shape
    return max(getattr(shape, "geoms", []), key=lambda p: p.area, default=Polygon())


def _open_corners(free: Polygon) -> list[tuple[Array, float, float]]:
    """Return convex corners of the free foam, leftmost first: where, and how both sides run."""
    if free.is_empty or free.area < 1.0:
        return []
    ring = np.asarray(shapely.geometry.polygon.orient(simplified(free, 0.02)).exterior.coords)[:-1]
    ahead = np.roll(ring, -1, axis=0) - ring
    behind = np.roll(ring, 1, axis=0) - ring
    turn = ahead[:, 0] * behind[:, 1] - ahead[:, 1] * behind[:, 0]
    long = (np.hypot(*ahead.T) > 0.5) & (np.hypot(*behind.T) > 0.5)
    corners = [
        (ring[k], math.atan2(ahead[k, 1], ahead[k, 0]), math.atan2(behind[k, 1], behind[k, 0]))
        for k in np.flatnonzero((turn > 0) & long)
    ]
    return sorted(corners, key=lambda c: (round(c[0][0] / 2), c[0][1]))


def _apart(angles: Array, angle: float) -> Array:
    return np.abs((angles - angle + math.pi) % (2 * math.pi) - math.pi)


def _faces(kind: Prepared) -> list[OrientedPart]:
    found = []
    ring = np.asarray(shapely.geometry.polygon.orient(kind.grown).exterior.coords)[:-1]
    for c, s, f in kind.orientations:
        x, y = ring[:, 0] * f, ring[:, 1]
        points = np.column_stack((c * x - s * y, s * x + c * y))
        if f < 0:
            points = points[::-1]
        ahead = np.roll(points, -1, axis=0) - points
        behind = np.roll(points, 1, axis=0) - points
        found.append(
            OrientedPart(
                (float(c), float(s), float(f)),
                points,
                np.arctan2(ahead[:, 1], ahead[:, 0]),
                np.arctan2(behind[:, 1], behind[:, 0]),
                Polygon(points),
            )
        )
    return found
