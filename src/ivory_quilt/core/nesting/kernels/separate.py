"""Overlap minimisation with guided local search.

All items lie in their regions from the start and may overlap; a pair's weight grows while it
overlaps, so that the search leaves dead ends. A step moves one overlapping item to the best of
sampled poses, refined by coordinate descent. The measure is cheap: inscribed circles first, the
exact edge test only where no circles overlap, so that "no overlap" is always exact.
"""

import math

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.geometry import (
    GUARD,
    place_circles,
    place_edges,
    random_unit,
    shapes_meet,
)


@njit(nogil=True, cache=True)
def _overlap(ea, a0, a1, ca, ca0, ca1, box_a, eb, b0, b1, cb, cb0, cb1, box_b):
    """Return how much two placed items overlap (a length, mm); exactly 0 when they do not."""
    dx = min(box_a[2], box_b[2]) - max(box_a[0], box_b[0])
    dy = min(box_a[3], box_b[3]) - max(box_a[1], box_b[1])
    if dx < -GUARD or dy < -GUARD:
        return 0.0
    total = 0.0
    for i in range(ca0, ca1):
        x, y, r = ca[i, 0], ca[i, 1], ca[i, 2]
        for j in range(cb0, cb1):
            u, v, reach = cb[j, 0] - x, cb[j, 1] - y, r + cb[j, 2]
            d2 = u * u + v * v
            if d2 < reach * reach:
                total += (reach - math.sqrt(d2)) * min(r, cb[j, 2])
    size = min(box_a[2] - box_a[0], box_b[2] - box_b[0], box_a[3] - box_a[1], box_b[3] - box_b[1])
    if total > 0.0:
        return math.sqrt(total) + 0.02 * size
    if shapes_meet(ea, a0, a1, box_a, eb, b0, b1, box_b):
        return 0.01 * size + 0.02 * max(0.0, min(dx, dy, size))
    return 0.0


@njit(nogil=True, cache=True)
def _pair(i, j, items):
    """Return how much two items overlap as they lie."""
    edges, starts, circles, cstarts, boxes, _ = items
    return _overlap(
        edges, starts[i], starts[i + 1], circles, cstarts[i], cstarts[i + 1], boxes[i],
        edges, starts[j], starts[j + 1], circles, cstarts[j], cstarts[j + 1], boxes[j],
    )  # fmt: skip


@njit(nogil=True, cache=True)
def _candidate(i, region, data, items, weights, cand, limit):
    """Return the weighted overlap of the candidate pose of item i, or more than `limit`."""
    shape_edges, e0, shape_circles, c0 = data
    edges, starts, circles, cstarts, boxes, where = items
    pose, ce, cc, box = cand
    ne, nc = e0[i + 1] - e0[i], c0[i + 1] - c0[i]
    place_edges(shape_edges, e0[i], e0[i + 1], pose, ce, 0, box)
    place_circles(shape_circles, c0[i], c0[i + 1], pose, cc, 0)
    total = 0.0
    for j in range(where.shape[0]):
        if j == i or where[j] != region:
            continue
        w = _overlap(
            ce,
            0,
            ne,
            cc,
            0,
            nc,
            box,
            edges,
            starts[j],
            starts[j + 1],
            circles,
            cstarts[j],
            cstarts[j + 1],
            boxes[j],
        )
        if w > 0.0:
            total += w * weights[i, j]
            if total >= limit:
                return total
    return total


@njit(nogil=True, cache=True)
def _inside(pose, region, shape_box, i, e0, shape_edges, rng, anywhere):
    """Clamp (or draw anywhere) the pose's position so that the turned box stays in the region.

    Returns False when the turned item is too large for it.
    """
    c, s, f = pose[2], pose[3], pose[4]
    x0, y0, x1, y1 = 1e300, 1e300, -1e300, -1e300
    for k in range(e0[i], e0[i + 1]):
        ax, ay = shape_edges[k, 0] * f, shape_edges[k, 1]
        px, py = c * ax - s * ay, s * ax + c * ay
        x0, x1 = min(x0, px), max(x1, px)
        y0, y1 = min(y0, py), max(y1, py)
    shape_box[0], shape_box[1], shape_box[2], shape_box[3] = x0, y0, x1, y1
    lx, hx = region[0] - x0, region[2] - x1
    ly, hy = region[1] - y0, region[3] - y1
    if lx > hx or ly > hy:
        return False
    if anywhere:
        pose[0] = lx + (hx - lx) * random_unit(rng)
        pose[1] = ly + (hy - ly) * random_unit(rng)
    else:
        pose[0] = min(max(pose[0], lx), hx)
        pose[1] = min(max(pose[1], ly), hy)
    return True


@njit(nogil=True, cache=True)
def _draw_turn(pose, i, turns, t0, free, mirror, rng, angle_step):
    """Draw another orientation: any allowed one, or a small turn of a free item."""
    if free[i]:
        if angle_step > 0.0:
            d = (random_unit(rng) * 2 - 1) * angle_step
            c, s = pose[2], pose[3]
            pose[2], pose[3] = c * math.cos(d) - s * math.sin(d), s * math.cos(d) + c * math.sin(d)
        else:
            a = random_unit(rng) * 2 * math.pi
            pose[2], pose[3] = math.cos(a), math.sin(a)
    else:
        k = t0[i] + int(random_unit(rng) * (t0[i + 1] - t0[i]))
        pose[2], pose[3] = turns[k, 0], turns[k, 1]
    if mirror[i] and random_unit(rng) < 0.5:
        pose[4] = -pose[4]


@njit(nogil=True, cache=True)
def _total(i, data, items, weights, cand, poses):
    for k in range(5):
        cand[0][k] = poses[i, k]
    return _candidate(i, items[5][i], data, items, weights, cand, 1e300)


@njit(nogil=True, cache=True)
def separate(
    data,
    items,
    poses,
    regions,
    allowed,
    movable,
    turns,
    t0,
    free,
    mirror,
    weights,
    rng,
    flags,
    most_rounds,
):
    """Move overlapping items until none overlaps, `flags[0]` is set or the rounds are used up.

    Args:
        data: (shape_edges, e0, shape_circles, c0): items' own edges and circles, by offsets.
        items: (edges, starts, circles, cstarts, boxes, where): as placed now; `where` = region.
        poses: (n, 5) x, y, cos, sin, flip of every item; changed in place.
        regions: (r, 4) boxes that items must stay in; allowed: ids of regions to use.
        movable: ids of items that may move.
        turns, t0: allowed (cos, sin) by offsets; free: 1 where any angle is allowed.
        mirror: 1 where flipping is allowed.
        weights: (n, n) pair weights, changed in place.
        rng: uint64[1]; flags: int64[2], flags[0] stops, flags[1] counts the rounds done.

    Returns:
        The number of items that still overlap.
    """
    shape_edges, e0, shape_circles, c0 = data
    edges, starts, circles, cstarts, boxes, where = items
    n = where.shape[0]
    most_e, most_c = 1, 1
    for i in range(n):
        most_e, most_c = max(most_e, e0[i + 1] - e0[i]), max(most_c, c0[i + 1] - c0[i])
    cand = (np.zeros(5), np.zeros((most_e, 4)), np.zeros((most_c, 3)), np.zeros(4))
    pose = cand[0]
    shape_box = np.zeros(4)
    top = np.zeros((3, 6))  # the best sampled poses and their region
    top_value = np.zeros(3)
    order = movable.copy()
    left = 0
    for _ in range(most_rounds):
        left = 0
        for k in range(order.shape[0] - 1, 0, -1):
            m = int(random_unit(rng) * (k + 1))
            order[k], order[m] = order[m], order[k]
        for q in range(order.shape[0]):
            i = order[q]
            if flags[0] != 0:
                return max(left, 1)
            now = _total(i, data, items, weights, cand, poses)
            if now == 0.0:
                continue
            left += 1
            size = max(boxes[i, 2] - boxes[i, 0], boxes[i, 3] - boxes[i, 1])
            for k in range(5):
                top[0, k] = poses[i, k]
            top[0, 5] = where[i]
            top_value[0] = now
            top_value[1], top_value[2] = 1e300, 1e300
            for draw in range(42):
                local = draw >= 24
                r = where[i]
                for k in range(5):
                    pose[k] = poses[i, k]
                if local:
                    pose[0] += (random_unit(rng) * 2 - 1) * 0.5 * size
                    pose[1] += (random_unit(rng) * 2 - 1) * 0.5 * size
                    if draw % 2:
                        _draw_turn(pose, i, turns, t0, free, mirror, rng, 0.3)
                else:
                    r = allowed[int(random_unit(rng) * allowed.shape[0])]
                    _draw_turn(pose, i, turns, t0, free, mirror, rng, 0.0)
                if not _inside(pose, regions[r], shape_box, i, e0, shape_edges, rng, not local):
                    continue
                value = _candidate(i, r, data, items, weights, cand, top_value[2])
                if value < top_value[2]:
                    k = 2
                    while k > 0 and value < top_value[k - 1]:
                        top_value[k] = top_value[k - 1]
                        top[k] = top[k - 1]
                        k -= 1
                    top_value[k] = value
                    for m in range(5):
                        top[k, m] = pose[m]
                    top[k, 5] = r
                if top_value[0] == 0.0:
                    break
            for k in range(3):
                if top_value[k] >= 1e300 or (k > 0 and top_value[0] == 0.0):
                    continue
                r = int(top[k, 5])
                step, turn_step = 0.25 * size, 0.15
                while step > 1e-4 * size and top_value[k] > 0.0:
                    improved = False
                    tries = 6 if free[i] else 4
                    first = int(random_unit(rng) * tries)
                    for d in range(tries):
                        way = (first + d) % tries
                        for m in range(5):
                            pose[m] = top[k, m]
                        if way == 0:
                            pose[0] += step
                        elif way == 1:
                            pose[0] -= step
                        elif way == 2:
                            pose[1] += step
                        elif way == 3:
                            pose[1] -= step
                        else:
                            a = turn_step if way == 4 else -turn_step
                            c, s = pose[2], pose[3]
                            pose[2] = c * math.cos(a) - s * math.sin(a)
                            pose[3] = s * math.cos(a) + c * math.sin(a)
                        if not _inside(pose, regions[r], shape_box, i, e0, shape_edges, rng, False):
                            continue
                        value = _candidate(i, r, data, items, weights, cand, top_value[k])
                        if value < top_value[k]:
                            top_value[k] = value
                            for m in range(5):
                                top[k, m] = pose[m]
                            improved = True
                            break
                    if not improved:
                        step *= 0.5
                        turn_step *= 0.5
            k = 0
            if top_value[1] < top_value[k]:
                k = 1
            if top_value[2] < top_value[k]:
                k = 2
            if top_value[k] < now:
                for m in range(5):
                    poses[i, m] = top[k, m]
                where[i] = int(top[k, 5])
                place_edges(shape_edges, e0[i], e0[i + 1], poses[i], edges, starts[i], boxes[i])
                place_circles(shape_circles, c0[i], c0[i + 1], poses[i], circles, cstarts[i])
        flags[1] += 1
        # Weights: grow where there is overlap, in proportion to it; fade elsewhere.
        largest = 0.0
        for q in range(movable.shape[0]):
            i = movable[q]
            for j in range(n):
                if j == i or where[j] != where[i]:
                    continue
                w = _pair(i, j, items)
                largest = max(largest, w)
        if largest == 0.0:
            return 0
        for q in range(movable.shape[0]):
            i = movable[q]
            for j in range(n):
                if j == i:
                    continue
                w = 0.0
                if where[j] == where[i]:
                    w = _pair(i, j, items)
                if w > 0.0:
                    weights[i, j] = min(1e9, weights[i, j] * (1.2 + 0.8 * w / largest))
                else:
                    weights[i, j] = max(1.0, weights[i, j] * 0.95)
                weights[j, i] = weights[i, j]
    return max(left, 1)
