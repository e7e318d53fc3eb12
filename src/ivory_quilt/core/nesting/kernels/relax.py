"""Overlap minimisation with guided local search.

All items lie in their regions from the start and may overlap; a pair's weight grows while it
overlaps, so that the search leaves dead ends. A move takes one overlapping item to the best of
sampled places (anywhere, nearby, and fitted edge to edge), refined by descent along lines.
"""

import math

from numba import njit

from ivory_quilt.core.nesting.kernels.geometry import random_unit
from ivory_quilt.core.nesting.kernels.overlap import candidate, renew_pairs
from ivory_quilt.core.nesting.kernels.placing import own_orientation, put, turn_into_scratch
from ivory_quilt.core.nesting.kernels.tables import (
    FOOT,
    HIGH_X,
    HIGH_Y,
    LEFT,
    LOW_X,
    LOW_Y,
    RIGHT,
    SPIN_COS,
    SPIN_FLIP,
    SPIN_SIN,
    TOP,
)

REFINED = 3  # sampled places that are refined
SOLVED, STUCK, PAUSED = 0, 1, 2


@njit(nogil=True, cache=True, _nrt=False)
def _draw_turn(shapes, k, rng):
    """Return any allowed orientation of kind k, turned into the scratch row if it is free."""
    first, last = shapes.first[k], shapes.first[k + 1]
    if shapes.free[k] == 0:
        return first + int(random_unit(rng) * (last - first))
    a = random_unit(rng) * 2 * math.pi
    f = 1.0
    if shapes.free[k] == 2 and random_unit(rng) < 0.5:
        f = -1.0
    return turn_into_scratch(shapes, first, math.cos(a), math.sin(a), f)


@njit(nogil=True, cache=True, _nrt=False)
def _match(shapes, placed, i, o, region, rects, tries, rng, spot):
    """Fit an edge of item i to an edge of a neighbour, end to end; write (x, y) to `spot`.

    A free item is turned so that the two edges lie along each other; others need a pair that
    does already. Returns the orientation, or −1 when no pair was found.
    """
    k = shapes.kind[i]
    n = placed.where.shape[0]
    for _ in range(tries):
        j = int(random_unit(rng) * (n + 1))
        if j == i or (j < n and placed.where[j] != region):
            continue
        if j == n:  # the sheet itself, run around the other way
            side = int(random_unit(rng) * 4)
            x0, y0 = rects[region, LEFT], rects[region, FOOT]
            x1, y1 = rects[region, RIGHT], rects[region, TOP]
            if side == 0:
                ux, uy, vx, vy = x1, y0, x0, y0
            elif side == 1:
                ux, uy, vx, vy = x1, y1, x1, y0
            elif side == 2:
                ux, uy, vx, vy = x0, y1, x1, y1
            else:
                ux, uy, vx, vy = x0, y0, x0, y1
        else:
            b = placed.start[j] + int(random_unit(rng) * (placed.stop[j] - placed.start[j]))
            ux, uy = placed.edges[0, b], placed.edges[1, b]
            vx, vy = placed.edges[2, b], placed.edges[3, b]
        bx, by = vx - ux, vy - uy
        a = shapes.start[o] + int(random_unit(rng) * (shapes.stop[o] - shapes.start[o]))
        ax = shapes.edges[2, a] - shapes.edges[0, a]
        ay = shapes.edges[3, a] - shapes.edges[1, a]
        la, lb = math.hypot(ax, ay), math.hypot(bx, by)
        if la < 1e-6 or lb < 1e-6:
            continue
        end = random_unit(rng) < 0.5
        if shapes.free[k] != 0:
            # The turn that takes edge a's direction to the opposite of edge b's.
            c = -(ax * bx + ay * by) / (la * lb)
            s = -(ax * by - ay * bx) / (la * lb)
            c0, s0, f = (
                shapes.spin[o, SPIN_COS],
                shapes.spin[o, SPIN_SIN],
                shapes.spin[o, SPIN_FLIP],
            )
            px = shapes.edges[2, a] if end else shapes.edges[0, a]
            py = shapes.edges[3, a] if end else shapes.edges[1, a]
            o = turn_into_scratch(shapes, shapes.first[k], c * c0 - s * s0, s * c0 + c * s0, f)
            px, py = c * px - s * py, s * px + c * py
        else:
            if ax * bx + ay * by > -0.9995 * la * lb:
                continue
            px = shapes.edges[2, a] if end else shapes.edges[0, a]
            py = shapes.edges[3, a] if end else shapes.edges[1, a]
        spot[0], spot[1] = (ux - px, uy - py) if end else (vx - px, vy - py)
        return o
    return -1


@njit(nogil=True, cache=True, _nrt=False)
def _keep(top, x, y, shapes, o, region, value):
    """Put a candidate among the best, in place of the worst of them."""
    worst = 0
    for k in range(1, REFINED):
        if top[k, 7] > top[worst, 7]:
            worst = k
    if value < top[worst, 7]:
        top[worst, 0], top[worst, 1] = x, y
        top[worst, 2], top[worst, 3] = shapes.spin[o, SPIN_COS], shapes.spin[o, SPIN_SIN]
        top[worst, 4], top[worst, 5], top[worst, 6] = shapes.spin[o, SPIN_FLIP], o, region
        top[worst, 7] = value


@njit(nogil=True, cache=True, _nrt=False)
def _limit(top):
    """Return the value that a candidate must stay under to be kept."""
    most = top[0, 7]
    for k in range(1, REFINED):
        most = max(most, top[k, 7])
    return most


@njit(nogil=True, cache=True, _nrt=False)
def _descend(shapes, placed, i, spot, rects, step, least, scratch, rng):
    """Refine the candidate in `spot` (a row of the best) by moves along lines; steps in mm."""
    k = shapes.kind[i]
    free = shapes.free[k] != 0
    region = int(spot[6])
    if free:
        o = turn_into_scratch(shapes, shapes.first[k], spot[2], spot[3], spot[4])
    else:
        o = int(spot[5])
    span = max(shapes.size[k, 1], 1e-9)
    x_step = y_step = step
    turn_step = step / span
    least_turn = least / span
    x, y, value = spot[0], spot[1], spot[7]
    box = shapes.boxes
    while value > 0.0 and (x_step > least or y_step > least or (free and turn_step > least_turn)):
        axis = int(random_unit(rng) * (6 if free else 4))
        turning = axis >= 4
        dx, dy = 0.0, 0.0
        if axis == 0:
            dx = x_step
        elif axis == 1:
            dy = y_step
        elif axis == 2:
            dx, dy = 0.7 * x_step, 0.7 * y_step
        elif axis == 3:
            dx, dy = 0.7 * x_step, -0.7 * y_step
        c, s, f = shapes.spin[o, SPIN_COS], shapes.spin[o, SPIN_SIN], shapes.spin[o, SPIN_FLIP]
        better = False
        bx, by = x, y
        for turn in range(2):
            sign = 1.0 - 2.0 * turn
            if turning:
                dc, ds = math.cos(turn_step), sign * math.sin(turn_step)
                turn_into_scratch(shapes, shapes.first[k], c * dc - s * ds, s * dc + c * ds, f)
            lx, hx = rects[region, LEFT] - box[o, LOW_X], rects[region, RIGHT] - box[o, HIGH_X]
            ly, hy = rects[region, FOOT] - box[o, LOW_Y], rects[region, TOP] - box[o, HIGH_Y]
            if lx > hx or ly > hy:
                continue
            u, v = min(max(x + sign * dx, lx), hx), min(max(y + sign * dy, ly), hy)
            if u == x and v == y and not turning:
                continue
            scratch.looked[0] += 1
            found = candidate(shapes, placed, i, o, u, v, region, value, scratch)
            if found < value:
                bx, by, value, better = u, v, found, True
                if turning:
                    break
        x, y = bx, by
        scale = 1.1 if better else 0.5
        if turning:
            if not better:
                turn_into_scratch(shapes, shapes.first[k], c, s, f)
            turn_step *= scale
            continue
        if axis != 1:
            x_step *= scale
        if axis != 0:
            y_step *= scale
    spot[0], spot[1], spot[7] = x, y, value
    spot[2], spot[3] = shapes.spin[o, SPIN_COS], shapes.spin[o, SPIN_SIN]


@njit(nogil=True, cache=True, _nrt=False)
def _move(shapes, placed, i, rects, allowed, share, now, effort, scratch, rng):
    """Take item i to the best place found, if it is better than where it lies."""
    k = shapes.kind[i]
    size = shapes.size[k, 1]
    box, top, spot = shapes.boxes, scratch.top, scratch.spot
    o = own_orientation(shapes, placed, i)
    for m in range(REFINED):
        top[m, 7] = 1e300
    _keep(top, placed.poses[i, 0], placed.poses[i, 1], shapes, o, placed.where[i], now)
    anywhere, nearby, fitted = effort[0], effort[1], effort[2]
    for draw in range(anywhere + nearby + fitted):
        region = placed.where[i]
        if draw < anywhere or draw >= anywhere + nearby:
            u = random_unit(rng)
            if draw < anywhere or u < 0.5:
                u, m = random_unit(rng), 0
                while m < allowed.shape[0] - 1 and u > share[m]:
                    m += 1
                region = allowed[m] if placed.home[i] < 0 else placed.home[i]
            o = _draw_turn(shapes, k, rng)
        elif draw % 2:
            o = _draw_turn(shapes, k, rng)
        else:
            o = own_orientation(shapes, placed, i)
        if draw >= anywhere + nearby:
            o = _match(shapes, placed, i, o, region, rects, 12, rng, spot)
            if o < 0:
                continue
        lx, hx = rects[region, LEFT] - box[o, LOW_X], rects[region, RIGHT] - box[o, HIGH_X]
        ly, hy = rects[region, FOOT] - box[o, LOW_Y], rects[region, TOP] - box[o, HIGH_Y]
        if lx > hx or ly > hy:
            continue
        if draw < anywhere:
            x, y = lx + (hx - lx) * random_unit(rng), ly + (hy - ly) * random_unit(rng)
        elif draw < anywhere + nearby:
            x = placed.poses[i, 0] + (random_unit(rng) - 0.5) * size
            y = placed.poses[i, 1] + (random_unit(rng) - 0.5) * size
        else:
            x, y = spot[0], spot[1]
        x, y = min(max(x, lx), hx), min(max(y, ly), hy)
        scratch.looked[0] += 1
        value = candidate(shapes, placed, i, o, x, y, region, _limit(top), scratch)
        _keep(top, x, y, shapes, o, region, value)
        if value == 0.0:
            break
    small = shapes.size[k, 0]
    best = 0
    for m in range(REFINED):
        if top[m, 7] < 1e299:
            _descend(shapes, placed, i, top[m], rects, 0.25 * small, 0.02 * small, scratch, rng)
        if top[m, 7] < top[best, 7]:
            best = m
    _descend(shapes, placed, i, top[best], rects, 0.01 * small, 0.001 * small, scratch, rng)
    if top[best, 7] >= now:
        return
    if shapes.free[k] != 0:
        o = turn_into_scratch(shapes, shapes.first[k], top[best, 2], top[best, 3], top[best, 4])
    else:
        o = int(top[best, 5])
    put(shapes, placed, i, o, top[best, 0], top[best, 1], int(top[best, 6]))
    renew_pairs(shapes, placed, i, scratch)


@njit(nogil=True, cache=True, _nrt=False)
def renew_all(shapes, placed, movable, scratch):
    """Work out every pair anew, for a layout that was just loaded."""
    n = placed.where.shape[0]
    for i in range(n):
        for j in range(n):
            placed.pairs[i, j] = 0.0
    for q in range(movable.shape[0]):
        renew_pairs(shapes, placed, movable[q], scratch)


@njit(nogil=True, cache=True, _nrt=False)
def _total(placed):
    total = 0.0
    n = placed.where.shape[0]
    for i in range(n):
        for j in range(i + 1, n):
            total += placed.pairs[i, j]
    return total


@njit(nogil=True, cache=True, _nrt=False)
def _learn(placed):
    """Let the weights of overlapping pairs grow in proportion, and the others fade."""
    n = placed.where.shape[0]
    largest = 0.0
    for i in range(n):
        for j in range(i + 1, n):
            largest = max(largest, placed.pairs[i, j])
    for i in range(n):
        for j in range(i + 1, n):
            w = placed.weights[i, j]
            if placed.pairs[i, j] > 0.0:
                w = min(1e25, w * (1.2 + 0.8 * placed.pairs[i, j] / largest))
            elif w > 1.0:
                w = max(1.0, w * 0.95)
            placed.weights[i, j] = w
            placed.weights[j, i] = w


@njit(nogil=True, cache=True, _nrt=False)
def relax(
    shapes,
    placed,
    movable,
    rects,
    allowed,
    share,
    effort,
    best_poses,
    best_where,
    stats,
    patience,
    quota,
    scratch,
    rng,
    flags,
):
    """Move overlapping items until none overlaps.

    Args:
        shapes, placed: see `tables`; pairs must be up to date.
        movable: ids of items that may move.
        rects: (r, 4) boxes x0, y0, x1, y1 that items must stay in.
        allowed: ids of regions to use; share: how often, cumulated.
        effort: int64[3]: samples anywhere, nearby, and fitted edge to edge.
        best_poses, best_where: the least overlapping layout so far, written here.
        stats: float64[3]: its total overlap; rounds since it got better; all rounds.
        patience: rounds without a better total before giving up.
        quota: candidate places to look at before pausing.
        scratch: room to work in.
        rng: uint64[1]; flags: flags[0] != 0 stops.

    Returns:
        SOLVED, STUCK (patience ran out), or PAUSED (the quota did, or a stop).
    """
    order = scratch.order
    for a in range(movable.shape[0]):
        order[a] = movable[a]
    n = placed.where.shape[0]
    scratch.looked[0] = 0
    while scratch.looked[0] < quota:
        for a in range(movable.shape[0] - 1, 0, -1):
            b = int(random_unit(rng) * (a + 1))
            order[a], order[b] = order[b], order[a]
        for q in range(movable.shape[0]):
            i = order[q]
            if flags[0] != 0:
                return PAUSED
            now = 0.0
            for j in range(n):
                now += placed.pairs[i, j] * placed.weights[i, j]
            if now > 0.0:
                _move(
                    shapes,
                    placed,
                    i,
                    rects,
                    allowed,
                    share,
                    now,
                    effort,
                    scratch,
                    rng,
                )
        stats[2] += 1
        total = _total(placed)
        if total < stats[0]:
            if total < 0.98 * stats[0]:
                stats[1] = 0
            stats[0] = total
            for i in range(n):
                for m in range(5):
                    best_poses[i, m] = placed.poses[i, m]
                best_where[i] = placed.where[i]
        if total == 0.0:
            return SOLVED
        stats[1] += 1
        if stats[1] > patience:
            return STUCK
        _learn(placed)
    return PAUSED
