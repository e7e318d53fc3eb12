"""Triangles over one flat panel: its boundary points are given, the inside is filled evenly.

Delaunay triangles (Qhull, through SciPy) of the boundary and of a hexagonal lattice inside,
smoothed twice.
"""

import math
from functools import lru_cache
from itertools import pairwise

import numpy as np
from scipy.spatial import Delaunay, cKDTree

from ivory_quilt.core.formup.assembly import Array, Bools, Ints
from ivory_quilt.core.record import Struct

CLEAR = 0.72  # of an edge's length: the lattice stays that far from the boundary
SMOOTHINGS = 2
SLIVER = 1e-7  # of an edge's length squared: a triangle of less area is none
KNOWN = 64  # panels whose triangles are remembered


class Blank(Struct, frozen=True):
    """All that a panel's triangles depend on: pieces that are alike, or unchanged, share them.

    Attributes:
        outline: `(count, 2)` boundary points, as bytes; `corners` of the panel the same.
        folds: both ends of each fold across it, `(2, 2)`, as bytes.
        closing: corners at which the panel closes onto itself.
        facing: boundary points, the smaller number first, that become one.
    """

    outline: bytes
    corners: bytes
    folds: tuple[bytes, ...]
    edge: float
    closing: tuple[int, ...]
    facing: frozenset[tuple[int, int]]


Triangulated = tuple[tuple[Array, Ints, tuple[Ints, ...]] | None, tuple[int, ...]]


@lru_cache(maxsize=KNOWN)
def triangulated(blank: Blank) -> Triangulated:
    """Return points, triangles, and the points along each fold; or the segments to be split."""
    outline, corners = (_pairs(b) for b in (blank.outline, blank.corners))
    edge, facing = blank.edge, set(blank.facing)
    count = len(outline)
    held = [outline]
    lines: list[Ints] = []
    total = count
    for ends in map(_pairs, blank.folds):
        long = float(np.linalg.norm(ends[1] - ends[0]))
        parts = max(1, math.ceil(long / edge - 1e-6))
        inside = ends[0] + np.outer(np.arange(1, parts) / parts, ends[1] - ends[0])
        tips = [int(np.argmin(np.linalg.norm(outline - e, axis=1))) for e in ends]
        numbers = [tips[0], *range(total, total + len(inside)), tips[1]]
        lines.append(np.array(numbers, dtype=np.int64))
        held.append(inside)
        total += len(inside)
    for corner in blank.closing:
        fan = _fan(outline, corner)
        held.append(fan)
        total += len(fan)
    fixed = np.vstack(held)
    sides = np.roll(corners, -1, 0) - corners
    # The longest, the first of those that are as long: the same however the panel is turned.
    longest = int(np.argmax(np.round(np.linalg.norm(sides, axis=1), 6)))
    filling = _lattice(outline, fixed, edge, sides[longest])
    points = np.vstack([fixed, filling]) if len(filling) else fixed
    triangles = _triangles(points, outline, edge)
    if len(filling):
        for _ in range(SMOOTHINGS):
            points = _smoothed(points, triangles, total)
        triangles = _triangles(points, outline, edge)
    wanted = [(k, (k + 1) % count) for k in range(count)]
    wanted += [(int(a), int(b)) for n in lines for a, b in pairwise(n)]
    lost = np.flatnonzero(~np.isin(_codes(np.array(wanted)), _codes(_edges(triangles)))).tolist()
    if lost:
        beyond = [k for k in lost if k < count]
        if not beyond:  # a fold that is crossed by an edge: finer all round it
            beyond = [int(n[0]) for n in lines] + [(int(n[-1]) - 1) % count for n in lines]
        return None, tuple(beyond)
    points, triangles = _without_ears(points, triangles, count)
    points, triangles = _opened(points, triangles, facing)
    used = np.unique(triangles)
    if not np.isin(np.arange(count), used).all():
        gone = int(np.setdiff1d(np.arange(count), used)[0])
        return None, (gone, (gone - 1) % count)
    keep = np.full(len(points), -1)
    keep[used] = np.arange(len(used))
    points, triangles = points[used], keep[triangles]
    for array in (points, triangles):
        array.flags.writeable = False  # several panels have it
    return (points, triangles, tuple(keep[n] for n in lines)), ()


def _pairs(data: bytes) -> Array:
    return np.frombuffer(data, dtype=np.float64).reshape(-1, 2)


def _opened(points: Array, triangles: Ints, facing: set[tuple[int, int]]) -> tuple[Array, Ints]:
    """Part edges in three that go right across to a point that becomes the same: tips of cones."""
    if not facing:
        return points, triangles
    made = triangles.tolist()
    spots = points.tolist()
    new: dict[tuple[int, int], tuple[int, int]] = {}
    k = 0
    while k < len(made):
        corners = made[k]
        for turn in range(3):
            i, j, far = (corners[(turn + n) % 3] for n in range(3))
            key = (min(i, j), max(i, j))
            if key not in facing:
                continue
            if key not in new:
                low, high = np.array(spots[key[0]]), np.array(spots[key[1]])
                new[key] = (len(spots), len(spots) + 1)
                spots += [((2 * low + high) / 3).tolist(), ((low + 2 * high) / 3).tolist()]
            first, second = new[key] if i == key[0] else new[key][::-1]
            made[k] = [i, first, far]
            made += [[first, second, far], [second, j, far]]
            break
        else:
            k += 1
    return np.array(spots), np.array(made, dtype=np.int64)


def _edges(triangles: Ints) -> Ints:
    """Return the edges of triangles, `(3 m, 2)`."""
    return np.vstack([triangles[:, [k, (k + 1) % 3]] for k in range(3)])


def _codes(pairs: Ints) -> Ints:
    """Return one number for each pair of points, whichever comes first."""
    found: Ints = pairs.min(1) * (1 << 32) + pairs.max(1)
    return found


def _fan(outline: Array, corner: int) -> Array:
    """Return points around a corner that closes onto itself, so that no triangle closes with it."""
    at = outline[corner]
    ahead, back = outline[(corner + 1) % len(outline)] - at, outline[corner - 1] - at
    start = math.atan2(ahead[1], ahead[0])
    angle = (math.atan2(back[1], back[0]) - start) % (2 * math.pi)
    parts = max(4, math.ceil(angle / math.radians(60)))
    turns = start + angle * np.arange(1, parts) / parts
    radius = (np.linalg.norm(ahead) + np.linalg.norm(back)) / 2
    made: Array = at + radius * np.column_stack([np.cos(turns), np.sin(turns)])
    return made


def _lattice(outline: Array, fixed: Array, edge: float, along: Array) -> Array:
    """Return a hexagonal lattice inside an outline, rows along a way, clear of fixed points."""
    ahead = np.roll(outline, -1, 0) - outline
    turn = math.atan2(along[1], along[0])
    c, s = math.cos(turn), math.sin(turn)
    frame = np.array([[c, -s], [s, c]])
    turned = outline @ frame
    low, high = turned.min(0), turned.max(0)
    rows = max(1, round((high[1] - low[1]) / (edge * math.sqrt(3) / 2)))
    columns = max(1, round((high[0] - low[0]) / edge))
    across, up = (high - low) / (columns, rows)
    x, y = np.meshgrid(np.arange(columns + 2), np.arange(1, rows))
    spots = np.column_stack(
        [(low[0] + (x - 0.5 * (y % 2)) * across).ravel(), (low[1] + y * up).ravel()]
    )
    if not len(spots):
        return np.empty((0, 2))
    spots = spots @ frame.T
    spots = spots[_inside(spots, outline)]
    if not len(spots):
        return np.empty((0, 2))
    # Away from points as well as from the segments between them, whose length may be an edge.
    halves = outline + ahead / 2
    near, _ = cKDTree(np.vstack([fixed, halves])).query(spots)
    found: Array = spots[near > CLEAR * edge]
    return found


def _inside(spots: Array, outline: Array) -> Bools:
    """Return which points are inside an outline, by the even-odd rule."""
    x, y = spots[:, 0][:, None], spots[:, 1][:, None]
    x0, y0 = outline[:, 0], outline[:, 1]
    x1, y1 = np.roll(x0, -1), np.roll(y0, -1)
    crosses = (y0 > y) != (y1 > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = x0 + (y - y0) * (x1 - x0) / (y1 - y0)
    inside: Bools = (np.sum(crosses & (at > x), axis=1) % 2).astype(bool)
    return inside


def _triangles(points: Array, outline: Array, edge: float) -> Ints:
    """Return the Delaunay triangles inside an outline, counter-clockwise, no slivers."""
    made = Delaunay(points).simplices.astype(np.int64)
    p, q, r = (points[made[:, k]] for k in range(3))
    twice = (q[:, 0] - p[:, 0]) * (r[:, 1] - p[:, 1]) - (q[:, 1] - p[:, 1]) * (r[:, 0] - p[:, 0])
    made[twice < 0] = made[twice < 0][:, [0, 2, 1]]
    kept = (np.abs(twice) > SLIVER * edge**2) & _inside((p + q + r) / 3, outline)
    found: Ints = made[kept]
    return found


def _smoothed(points: Array, triangles: Ints, fixed: int) -> Array:
    """Return points moved to the middle of their neighbours, but for the first `fixed`."""
    one = np.concatenate([triangles[:, k] for k in (0, 1, 2, 1, 2, 0)])
    other = np.concatenate([triangles[:, k] for k in (1, 2, 0, 0, 1, 2)])
    count = np.bincount(one, minlength=len(points))
    made = points.copy()
    for axis in (0, 1):
        total = np.bincount(one, weights=points[other, axis], minlength=len(points))
        made[fixed:, axis] = total[fixed:] / np.maximum(count[fixed:], 1)
    return made


def _without_ears(points: Array, triangles: Ints, count: int) -> tuple[Array, Ints]:
    """Split triangles with two edges on the boundary, which two panels would close to nothing."""
    on = np.stack(
        [_on_boundary(triangles[:, k], triangles[:, (k + 1) % 3], count) for k in range(3)],
        axis=1,
    )
    ears = np.flatnonzero(on.sum(1) >= 2)
    if not len(ears):
        return points, triangles
    middles = points[triangles[ears]].mean(1)
    new = len(points) + np.arange(len(ears))
    a, b, c = triangles[ears].T
    fresh = np.vstack(
        [np.column_stack([a, b, new]), np.column_stack([b, c, new]), np.column_stack([c, a, new])]
    )
    return np.vstack([points, middles]), np.vstack([np.delete(triangles, ears, 0), fresh])


def _on_boundary(start: Ints, stop: Ints, count: int) -> Bools:
    made: Bools = (start < count) & (stop < count) & ((start + 1) % count == stop)
    return made
