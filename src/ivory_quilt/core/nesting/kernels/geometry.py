"""Placing edges, and whether two placed shapes share any point."""

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.tables import (
    COS,
    FLIP,
    FOOT,
    LEFT,
    RIGHT,
    SIN,
    TOP,
    X1,
    X2,
    Y1,
    Y2,
    X,
    Y,
)

GUARD = 1e-7
"""Widening of every box test: (s + x) − x is not always s, and an edge on the box must count."""


@njit(nogil=True, cache=True)
def place_edges(source, start, stop, pose, out, at, box):
    """Write source[start:stop], mirrored, turned and moved by `pose`, to out[at:]; fill `box`.

    `pose` is (x, y, cos, sin, flip), flip −1.0 for mirrored and 1.0 otherwise.
    """
    x, y, c, s, f = pose[X], pose[Y], pose[COS], pose[SIN], pose[FLIP]
    bx0, by0, bx1, by1 = 1e300, 1e300, -1e300, -1e300
    for k in range(start, stop):
        ax, ay = source[k, 0] * f, source[k, 1]
        bx, by = source[k, 2] * f, source[k, 3]
        px, py = c * ax - s * ay + x, s * ax + c * ay + y
        qx, qy = c * bx - s * by + x, s * bx + c * by + y
        o = at + k - start
        out[o, 0], out[o, 1], out[o, 2], out[o, 3] = px, py, qx, qy
        bx0, bx1 = min(bx0, px, qx), max(bx1, px, qx)
        by0, by1 = min(by0, py, qy), max(by1, py, qy)
    box[LEFT], box[FOOT], box[RIGHT], box[TOP] = bx0, by0, bx1, by1


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def segments_meet(ax, ay, bx, by, cx, cy, dx, dy):
    """Return whether two closed segments share a point (touching and collinear count).

    All tests at once: a branch that cannot be foreseen costs more than they do.
    """
    apart = (max(ax, bx) < min(cx, dx)) | (max(cx, dx) < min(ax, bx))
    apart |= (max(ay, by) < min(cy, dy)) | (max(cy, dy) < min(ay, by))
    d1 = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
    d2 = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax)
    d3 = (dx - cx) * (ay - cy) - (dy - cy) * (ax - cx)
    d4 = (dx - cx) * (by - cy) - (dy - cy) * (bx - cx)
    apart |= ((d1 > 0) & (d2 > 0)) | ((d1 < 0) & (d2 < 0))
    apart |= ((d3 > 0) & (d4 > 0)) | ((d3 < 0) & (d4 < 0))
    return not apart


@njit(nogil=True, cache=True)
def point_inside(edges, start, stop, x, y):
    """Return whether (x, y) is inside by the even-odd rule."""
    inside = False
    for k in range(start, stop):
        y1, y2 = edges[k, Y1], edges[k, Y2]
        if (y1 > y) != (y2 > y):
            x1 = edges[k, X1]
            if x < x1 + (y - y1) * (edges[k, X2] - x1) / (y2 - y1):
                inside = not inside
    return inside


@njit(nogil=True, cache=True)
def shapes_meet(ea, a0, a1, box_a, eb, b0, b1, box_b):
    """Return whether two placed shapes share a point (boundaries touch, or one contains).

    Each shape must be connected: one vertex then tells whether it lies inside the other.
    """
    x0, y0 = max(box_a[0], box_b[0]) - GUARD, max(box_a[1], box_b[1]) - GUARD
    x1, y1 = min(box_a[2], box_b[2]) + GUARD, min(box_a[3], box_b[3]) + GUARD
    if x0 > x1 or y0 > y1:
        return False
    for i in range(a0, a1):
        ax, ay, bx, by = ea[i, 0], ea[i, 1], ea[i, 2], ea[i, 3]
        if max(ax, bx) < x0 or min(ax, bx) > x1 or max(ay, by) < y0 or min(ay, by) > y1:
            continue
        for j in range(b0, b1):
            if segments_meet(ax, ay, bx, by, eb[j, 0], eb[j, 1], eb[j, 2], eb[j, 3]):
                return True
    return point_inside(eb, b0, b1, ea[a0, 0], ea[a0, 1]) or point_inside(
        ea, a0, a1, eb[b0, 0], eb[b0, 1]
    )


@njit(nogil=True, cache=True)
def random_unit(state):
    """Return the next number in [0, 1) of a SplitMix64 generator; `state` is uint64[1]."""
    state[0] += np.uint64(0x9E3779B97F4A7C15)
    z = state[0]
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    z = z ^ (z >> np.uint64(31))
    return (z >> np.uint64(11)) * (1.0 / 9007199254740992.0)
