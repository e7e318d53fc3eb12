"""The nearest place where a part is free, and how far it can be pushed until it touches."""

import math

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.geometry import place_edges
from ivory_quilt.core.nesting.kernels.intervals import INTERVALS
from ivory_quilt.core.nesting.kernels.slices import (
    LEVEL,
    UPRIGHT,
    make_chains,
    whole_slice,
)
from ivory_quilt.core.nesting.kernels.tables import COS, FLIP, FOOT, LEFT, RIGHT, SIN, TOP, X, Y


@njit(nogil=True, cache=True)
def _nearest(low, high, n, at, least, most, clear):
    """Return the free position nearest to `at` within [least, most], or 1e300."""
    best = 1e300
    start = least
    for k in range(n + 1):
        stop = min(most, low[k] - clear) if k < n else most
        if start <= stop:
            x = min(max(at, start), stop)
            if abs(x - at) < abs(best - at):
                best = x
        if k < n:
            start = max(start, high[k] + clear)
    return best


@njit(nogil=True, cache=True)
def nearest_free(shape_edges, pose, region, items, members, count, reach, step, clear, out):
    """Find the free place of a part nearest to where it is held, its orientation kept.

    Rows and columns around the place are asked for their exact free stretches, so that the part
    comes to touch what it is pushed against and slides along it.

    Args:
        shape_edges: (e, 4) edges about the part's centre.
        pose: (5,) where it is held.
        region: box that the part must stay in.
        items, members, count: what lies there already, as in `best_in_region`.
        reach: how far to look, mm; step: between rows; clear: least clearance kept.
        out: (2,) the place found.

    Returns:
        The distance to it, or 1e300 when there is none within reach.
    """
    e = shape_edges.shape[0]
    moved, box = np.zeros((e, 4)), np.zeros(4)
    low, high = np.zeros(INTERVALS), np.zeros(INTERVALS)
    turned = np.zeros(5)
    turned[COS], turned[SIN], turned[FLIP] = pose[COS], pose[SIN], pose[FLIP]
    place_edges(shape_edges, 0, e, turned, moved, 0, box)
    x_low, x_high = region[LEFT] - box[LEFT], region[RIGHT] - box[RIGHT]
    y_low, y_high = region[FOOT] - box[FOOT], region[TOP] - box[TOP]
    if x_low > x_high or y_low > y_high:
        return 1e300
    va, va2 = np.zeros((2 * e, 2)), np.zeros((2 * e, 2))
    ha, ha2 = np.zeros(2 * e, dtype=np.int64), np.zeros(2 * e, dtype=np.int64)
    a = (moved, 0, e, va, ha, 0, make_chains(moved, 0, e, LEVEL, va, 0, ha, 0))
    a2 = (moved, 0, e, va2, ha2, 0, make_chains(moved, 0, e, UPRIGHT, va2, 0, ha2, 0))
    x0, y0 = min(max(pose[X], x_low), x_high), min(max(pose[Y], y_low), y_high)
    best = reach
    found = False
    rows = int(reach / step) + 1
    for k in range(2 * rows + 1):
        off = ((k + 1) // 2) * step * (1.0 if k % 2 else -1.0)
        if abs(off) > best:
            break
        y = y0 + off
        if y_low <= y <= y_high:
            low, high, n = whole_slice(a, box, y, LEVEL, items, members, count, low, high)
            x = _nearest(low, high, n, x0, x_low, x_high, clear)
            away = math.hypot(x - pose[X], y - pose[Y])
            if away < best:
                best, found, out[0], out[1] = away, True, x, y
        x = x0 + off
        if x_low <= x <= x_high:
            low, high, n = whole_slice(a2, box, x, UPRIGHT, items, members, count, low, high)
            y = _nearest(low, high, n, y0, y_low, y_high, clear)
            away = math.hypot(x - pose[X], y - pose[Y])
            if away < best:
                best, found, out[0], out[1] = away, True, x, y
    return best if found else 1e300


@njit(nogil=True, cache=True)
def push(shape_edges, pose, region, items, members, count, across, forwards, clear):
    """Return how far a free part can be pushed along x (or y, `across`) until it touches."""
    e = shape_edges.shape[0]
    moved, box = np.zeros((e, 4)), np.zeros(4)
    low, high = np.zeros(INTERVALS), np.zeros(INTERVALS)
    turned = np.zeros(5)
    turned[COS], turned[SIN], turned[FLIP] = pose[COS], pose[SIN], pose[FLIP]
    place_edges(shape_edges, 0, e, turned, moved, 0, box)
    v, h = np.zeros((2 * e, 2)), np.zeros(2 * e, dtype=np.int64)
    a = (moved, 0, e, v, h, 0, make_chains(moved, 0, e, across, v, 0, h, 0))
    axis = 1 if across else 0
    here, rise = pose[axis], pose[1 - axis]
    stop = region[2 + axis] - box[2 + axis] if forwards else region[axis] - box[axis]
    low, high, n = whole_slice(a, box, rise, across, items, members, count, low, high)
    for k in range(n):
        if forwards and low[k] - clear >= here:
            stop = min(stop, low[k] - clear)
        elif not forwards and high[k] + clear <= here:
            stop = max(stop, high[k] + clear)
    return stop - here
