"""Turning outlines and putting them in place: what the tables hold of an item is written here."""

import math

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.tables import (
    COS,
    FLIP,
    HIGH_DIFFERENCE,
    HIGH_SUM,
    HIGH_X,
    HIGH_Y,
    LANES,
    LOW_DIFFERENCE,
    LOW_SUM,
    LOW_X,
    LOW_Y,
    SIN,
    SPIN_COS,
    SPIN_FLIP,
    SPIN_SIN,
    X,
    Y,
)

COARSE = 0.01  # mm; more than single precision loses
SLANT = math.tan(math.pi / 8)  # the lines that run half way between an axis and a diagonal


@njit(nogil=True, cache=True, _nrt=False)
def box_edges(edges, start, stop, blocks, at):
    """Write the middle and half the extent of every edge's box to blocks from `at`; pad the last.

    They are a hair too large, as they only sort out what cannot meet: singles do for that.
    """
    count = stop - start
    used = (count + LANES - 1) // LANES
    for k in range(used * LANES):
        b, m = at + k // LANES, k % LANES
        if k < count:
            e = start + k
            ax, ay, bx, by = edges[0, e], edges[1, e], edges[2, e], edges[3, e]
            blocks[b, 0, m], blocks[b, 1, m] = 0.5 * (ax + bx), 0.5 * (ay + by)
            blocks[b, 2, m] = 0.5 * abs(bx - ax) + COARSE
            blocks[b, 3, m] = 0.5 * abs(by - ay) + COARSE
        else:
            blocks[b, 0, m] = blocks[b, 1, m] = 0.0
            blocks[b, 2, m] = blocks[b, 3, m] = -1e9
    return at + used


@njit(nogil=True, cache=True, _nrt=False)
def turn_into_scratch(shapes, source, c, s, f):
    """Write orientation `source` (about its centre), flipped and turned, to the scratch row."""
    o = shapes.start.shape[0] - 1
    edges, at = shapes.edges, shapes.start[o]
    lx = ly = ls = ld = la = lb = lc = le = 1e300
    hx = hy = hs = hd = ha = hb = hc = he = -1e300
    for k in range(shapes.start[source], shapes.stop[source]):
        ax, ay = edges[0, k] * f, edges[1, k]
        bx, by = edges[2, k] * f, edges[3, k]
        px, py = c * ax - s * ay, s * ax + c * ay
        qx, qy = c * bx - s * by, s * bx + c * by
        if f > 0.0:
            edges[0, at], edges[1, at], edges[2, at], edges[3, at] = px, py, qx, qy
        else:  # the foam stays on the left of every edge
            edges[0, at], edges[1, at], edges[2, at], edges[3, at] = qx, qy, px, py
        lx, hx = min(lx, px), max(hx, px)
        ly, hy = min(ly, py), max(hy, py)
        ls, hs = min(ls, px + py), max(hs, px + py)
        ld, hd = min(ld, px - py), max(hd, px - py)
        kx, ky = SLANT * px, SLANT * py
        la, ha = min(la, px + ky), max(ha, px + ky)
        lb, hb = min(lb, px - ky), max(hb, px - ky)
        lc, hc = min(lc, kx + py), max(hc, kx + py)
        le, he = min(le, kx - py), max(he, kx - py)
        at += 1
    shapes.stop[o] = at
    shapes.bstop[o] = box_edges(edges, shapes.start[o], at, shapes.coarse, shapes.bstart[o])
    box = shapes.boxes
    box[o, HIGH_X], box[o, HIGH_Y], box[o, HIGH_SUM], box[o, HIGH_DIFFERENCE] = hx, hy, hs, hd
    box[o, LOW_X], box[o, LOW_Y], box[o, LOW_SUM], box[o, LOW_DIFFERENCE] = lx, ly, ls, ld
    box = shapes.slants
    box[o, HIGH_X], box[o, HIGH_Y], box[o, HIGH_SUM], box[o, HIGH_DIFFERENCE] = ha, hb, hc, he
    box[o, LOW_X], box[o, LOW_Y], box[o, LOW_SUM], box[o, LOW_DIFFERENCE] = la, lb, lc, le
    at = shapes.cstart[o]
    c32, s32, f32 = np.float32(c), np.float32(s), np.float32(f)
    for b in range(shapes.cstart[source], shapes.cstop[source]):
        for m in range(LANES):
            ax, ay = shapes.circles[b, 0, m] * f32, shapes.circles[b, 1, m]
            shapes.circles[at, 0, m] = c32 * ax - s32 * ay
            shapes.circles[at, 1, m] = s32 * ax + c32 * ay
            shapes.circles[at, 2, m] = shapes.circles[b, 2, m]
        at += 1
    shapes.cstop[o] = at
    shapes.spin[o, SPIN_COS], shapes.spin[o, SPIN_SIN], shapes.spin[o, SPIN_FLIP] = c, s, f
    return o


@njit(nogil=True, cache=True, _nrt=False)
def put(shapes, placed, i, o, x, y, region):
    """Place item i in orientation o."""
    at = placed.start[i] - shapes.start[o]
    for k in range(shapes.start[o], shapes.stop[o]):
        placed.edges[0, at + k] = shapes.edges[0, k] + x
        placed.edges[1, at + k] = shapes.edges[1, k] + y
        placed.edges[2, at + k] = shapes.edges[2, k] + x
        placed.edges[3, at + k] = shapes.edges[3, k] + y
    fx, fy = np.float32(x), np.float32(y)
    at = placed.bstart[i]
    for b in range(shapes.bstart[o], shapes.bstop[o]):
        for m in range(LANES):
            placed.coarse[at, 0, m] = shapes.coarse[b, 0, m] + fx
            placed.coarse[at, 1, m] = shapes.coarse[b, 1, m] + fy
            placed.coarse[at, 2, m] = shapes.coarse[b, 2, m]
            placed.coarse[at, 3, m] = shapes.coarse[b, 3, m]
        at += 1
    at = placed.cstart[i]
    for b in range(shapes.cstart[o], shapes.cstop[o]):
        for m in range(LANES):
            placed.circles[at, 0, m] = shapes.circles[b, 0, m] + fx
            placed.circles[at, 1, m] = shapes.circles[b, 1, m] + fy
        at += 1
    shift = (x, y, x + y, x - y)
    for m in range(4):
        placed.boxes[m, i] = shapes.boxes[o, m] + shift[m]
        placed.boxes[m + 4, i] = shapes.boxes[o, m + 4] + shift[m]
    slide = (x + SLANT * y, x - SLANT * y, SLANT * x + y, SLANT * x - y)
    for m in range(4):
        placed.slants[i, m] = shapes.slants[o, m] + slide[m]
        placed.slants[i, m + 4] = shapes.slants[o, m + 4] + slide[m]
    pose = placed.poses
    pose[i, X], pose[i, Y] = x, y
    pose[i, COS], pose[i, SIN], pose[i, FLIP] = (
        shapes.spin[o, SPIN_COS],
        shapes.spin[o, SPIN_SIN],
        shapes.spin[o, SPIN_FLIP],
    )
    if shapes.free[shapes.kind[i]] == 0:
        placed.turn[i] = o
    placed.where[i] = region


@njit(nogil=True, cache=True, _nrt=False)
def own_orientation(shapes, placed, i):
    """Return the orientation row of item i as it lies; a free item is turned into the scratch."""
    k = shapes.kind[i]
    if shapes.free[k] == 0:
        return placed.turn[i]
    pose = placed.poses
    return turn_into_scratch(shapes, shapes.first[k], pose[i, COS], pose[i, SIN], pose[i, FLIP])
