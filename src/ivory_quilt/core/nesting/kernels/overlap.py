"""How much a candidate place overlaps what lies there: the measure that the search descends.

Inscribed circles first: cheap, smooth and vectorised. Where none of them overlap, the exact edge
test decides, so that "no overlap" is always exact. The sums run lane by lane in a fixed order, so
that they do not depend on the width of a machine's registers.
"""

import math

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.bits import lowest_bit, without_lowest
from ivory_quilt.core.nesting.kernels.geometry import GUARD, segments_meet
from ivory_quilt.core.nesting.kernels.placing import SLANT, own_orientation
from ivory_quilt.core.nesting.kernels.tables import (
    HIGH_DIFFERENCE,
    HIGH_SUM,
    HIGH_X,
    HIGH_Y,
    LANES,
    LOW_DIFFERENCE,
    LOW_SUM,
    LOW_X,
    LOW_Y,
)


@njit(nogil=True, cache=True, _nrt=False)
def _circles_near(block, x, y, width, height):
    """Return which circles of a block, moved by (x, y), reach into a box about 0, as bits."""
    bits = 0
    for m in range(LANES):
        across = abs(block[0, m] + x) - block[2, m] - width
        along = abs(block[1, m] + y) - block[2, m] - height
        bits |= int(max(across, along) <= np.float32(0.0)) << m
    return bits


@njit(nogil=True, cache=True, _nrt=False)
def _block(circles, bits, others, x, y, lanes):
    """Add, lane by lane, what some circles of a block at (x, y) overlap another block.

    A function of its own: written into the loop around it, it is no longer vectorised, nor with a
    second array to write to (two to four times as slow: watch its time when it is changed).
    """
    zero = np.float32(0.0)
    while bits != 0:
        a = lowest_bit(bits)
        bits = without_lowest(bits)
        ar, ax, ay = circles[2, a], circles[0, a] + x, circles[1, a] + y
        for m in range(LANES):
            dx, dy, br = others[0, m] - ax, others[1, m] - ay, others[2, m]
            depth = max(ar + br - np.sqrt(dx * dx + dy * dy), zero)
            lanes[m] += depth * min(ar, br)


@njit(nogil=True, cache=True, _nrt=False, error_model="numpy")
def _soft_block(circles, others, x, y, soft, lanes):
    """Add the same, softened: circles that stand apart count too, the less the further.

    So the measure has no step where the last circles part and only outlines still meet. A division
    that might raise an error would not be vectorised.
    """
    zero = np.float32(0.0)
    twice, square = soft + soft, soft * soft
    for a in range(LANES):
        ar = circles[2, a]
        if ar < zero:
            break
        ax, ay = circles[0, a] + x, circles[1, a] + y
        for m in range(LANES):
            dx, dy, br = others[0, m] - ax, others[1, m] - ay, others[2, m]
            depth = ar + br - np.sqrt(dx * dx + dy * dy)
            far = square / max(twice - depth, soft)
            lanes[m] += (max(depth, soft) - soft + far) * max(min(ar, br), zero)


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def _circles(shapes, o, x, y, placed, j, lanes):
    """Return the sum over circle pairs of depth × the smaller radius, 0.0 when none overlap."""
    zero = np.float32(0.0)
    for m in range(LANES):
        lanes[m] = zero
    fx, fy = np.float32(x), np.float32(y)
    # Circles that stand clear of the other's box add nothing; most do where two parts touch.
    box = placed.boxes
    away_x, away_y = (
        np.float32(x - 0.5 * (box[4, j] + box[0, j])),
        np.float32(y - 0.5 * (box[5, j] + box[1, j])),
    )
    width, height = (
        np.float32(0.5 * (box[0, j] - box[4, j])),
        np.float32(0.5 * (box[1, j] - box[5, j])),
    )
    for own in range(shapes.cstart[o], shapes.cstop[o]):
        bits = _circles_near(shapes.circles[own], away_x, away_y, width, height)
        if bits != 0:
            for other in range(placed.cstart[j], placed.cstop[j]):
                _block(shapes.circles[own], bits, placed.circles[other], fx, fy, lanes)
    total = zero
    for m in range(LANES):
        total += lanes[m]
    return total


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def _soft_circles(shapes, o, x, y, placed, j, soft, lanes):
    """Return the softened sum for two shapes that are known to overlap; never less than the sum."""
    zero = np.float32(0.0)
    for m in range(LANES):
        lanes[m] = zero
    fx, fy = np.float32(x), np.float32(y)
    for other in range(placed.cstart[j], placed.cstop[j]):
        for own in range(shapes.cstart[o], shapes.cstop[o]):
            _soft_block(shapes.circles[own], placed.circles[other], fx, fy, np.float32(soft), lanes)
    total = zero
    for m in range(LANES):
        total += lanes[m]
    return total


@njit(nogil=True, cache=True, _nrt=False)
def _edges_near(block, x, y, width, height):
    """Return which edges of a block, moved by (x, y), reach into a box about 0, as bits."""
    bits = 0
    for m in range(LANES):
        across = abs(block[0, m] + x) - block[2, m] - width
        along = abs(block[1, m] + y) - block[3, m] - height
        bits |= int(max(across, along) <= np.float32(0.0)) << m
    return bits


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def _edges_meet(shapes, o, x, y, placed, j, x0, y0, x1, y1, near):
    """Return whether an edge of the outline at (x, y) meets an edge of item j within a box."""
    a, b, mine, theirs = shapes.edges, placed.edges, shapes.coarse, placed.coarse
    fx, fy = np.float32(x - 0.5 * (x0 + x1)), np.float32(y - 0.5 * (y0 + y1))
    width, height = np.float32(0.5 * (x1 - x0)), np.float32(0.5 * (y1 - y0))
    mx, my = np.float32(x), np.float32(y)
    first, last = placed.bstart[j], placed.bstop[j]
    found = 0
    for q in range(first, last):
        near[q - first] = _edges_near(theirs[q], fx - mx, fy - my, width, height)
        found |= near[q - first]
    if found == 0:
        return False
    for p in range(shapes.bstart[o], shapes.bstop[o]):
        own = _edges_near(mine[p], fx, fy, width, height)
        base = shapes.start[o] + (p - shapes.bstart[o]) * LANES
        while own != 0:
            m = lowest_bit(own)
            own = without_lowest(own)
            k = base + m
            px, py, qx, qy = a[0, k] + x, a[1, k] + y, a[2, k] + x, a[3, k] + y
            ex, ey = -(mine[p, 0, m] + mx), -(mine[p, 1, m] + my)
            for q in range(first, last):
                close = near[q - first]
                if close == 0:
                    continue
                close &= _edges_near(theirs[q], ex, ey, mine[p, 2, m], mine[p, 3, m])
                other = placed.start[j] + (q - placed.bstart[j]) * LANES
                while close != 0:
                    e = other + lowest_bit(close)
                    close = without_lowest(close)
                    if segments_meet(px, py, qx, qy, b[0, e], b[1, e], b[2, e], b[3, e]):
                        return True
    return False


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def _inside(edges, start, stop, x, y):
    """Return whether (x, y) is inside by the even-odd rule."""
    inside = False
    for k in range(start, stop):
        y1, y2 = edges[1, k], edges[3, k]
        if (y1 > y) != (y2 > y) and x < edges[0, k] + (y - y1) * (edges[2, k] - edges[0, k]) / (
            y2 - y1
        ):
            inside = not inside
    return inside


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def _meet(shapes, o, x, y, placed, j, near):
    """Return whether the outline at (x, y) and item j share a point. Both are connected."""
    box, other = shapes.boxes, placed.boxes
    x0 = max(box[o, LOW_X] + x, other[LOW_X, j]) - GUARD
    x1 = min(box[o, HIGH_X] + x, other[HIGH_X, j]) + GUARD
    y0 = max(box[o, LOW_Y] + y, other[LOW_Y, j]) - GUARD
    y1 = min(box[o, HIGH_Y] + y, other[HIGH_Y, j]) + GUARD
    own, theirs = shapes.edges, placed.edges
    a0, a1, b0, b1 = shapes.start[o], shapes.stop[o], placed.start[j], placed.stop[j]
    if _edges_meet(shapes, o, x, y, placed, j, x0, y0, x1, y1, near):
        return True
    # One within the other, as far as the boxes allow it.
    if (
        box[o, LOW_X] + x >= other[LOW_X, j]
        and box[o, HIGH_X] + x <= other[HIGH_X, j]
        and box[o, LOW_Y] + y >= other[LOW_Y, j]
        and box[o, HIGH_Y] + y <= other[HIGH_Y, j]
    ) and _inside(theirs, b0, b1, own[0, a0] + x, own[1, a0] + y):
        return True
    return (
        box[o, LOW_X] + x <= other[LOW_X, j]
        and box[o, HIGH_X] + x >= other[HIGH_X, j]
        and box[o, LOW_Y] + y <= other[LOW_Y, j]
        and box[o, HIGH_Y] + y >= other[HIGH_Y, j]
    ) and _inside(own, a0, a1, theirs[0, b0] - x, theirs[1, b0] - y)


@njit(nogil=True, cache=True, _nrt=False)
def _gaps(box, o, x, y, other, gaps):
    """Write how far a candidate's eight-sided box stands apart from each item's."""
    s, d = x + y, x - y
    hx, hy, hs, hd = (
        box[o, HIGH_X] + x,
        box[o, HIGH_Y] + y,
        box[o, HIGH_SUM] + s,
        box[o, HIGH_DIFFERENCE] + d,
    )
    lx, ly, ls, ld = (
        box[o, LOW_X] + x,
        box[o, LOW_Y] + y,
        box[o, LOW_SUM] + s,
        box[o, LOW_DIFFERENCE] + d,
    )
    for j in range(gaps.shape[0]):
        gap = max(lx - other[HIGH_X, j], other[LOW_X, j] - hx)
        gap = max(gap, max(ly - other[HIGH_Y, j], other[LOW_Y, j] - hy))
        gap = max(gap, max(ls - other[HIGH_SUM, j], other[LOW_SUM, j] - hs))
        gaps[j] = max(gap, max(ld - other[HIGH_DIFFERENCE, j], other[LOW_DIFFERENCE, j] - hd))


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def _boxes_meet(shapes, placed, i, o, x, y, region, scratch):
    """Write the ids of items whose sixteen-sided boxes meet the candidate's; return how many.

    Eight sides for all items, lane by lane; the other eight for what is left.
    """
    gaps, hits, where = scratch.gaps, scratch.hits, placed.where
    own, other = shapes.slants, placed.slants
    a, b, c, d = x + SLANT * y, x - SLANT * y, SLANT * x + y, SLANT * x - y
    _gaps(shapes.boxes, o, x, y, placed.boxes, gaps)
    count = 0
    for j in range(gaps.shape[0]):
        if (
            gaps[j] <= GUARD
            and where[j] == region
            and j != i
            and (placed.ghost[j] & placed.tolerant[i]) == 0
            and own[o, 4] + a - other[j, 0] <= GUARD
            and other[j, 4] - own[o, 0] - a <= GUARD
            and own[o, 5] + b - other[j, 1] <= GUARD
            and other[j, 5] - own[o, 1] - b <= GUARD
            and own[o, 6] + c - other[j, 2] <= GUARD
            and other[j, 6] - own[o, 2] - c <= GUARD
            and own[o, 7] + d - other[j, 3] <= GUARD
            and other[j, 7] - own[o, 3] - d <= GUARD
        ):
            hits[count] = j
            count += 1
    return count


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def _value(shapes, i, j, depth):
    """Return the overlap of two items from the sum of their circles' depths."""
    ki, kj = shapes.kind[i], shapes.kind[j]
    return math.sqrt(depth) * shapes.weight[ki] * shapes.weight[kj]


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def _soft(shapes, i, j):
    return 0.01 * max(shapes.size[shapes.kind[i], 1], shapes.size[shapes.kind[j], 1])


@njit(nogil=True, cache=True, forceinline=True, _nrt=False)
def candidate(shapes, placed, i, o, x, y, region, limit, scratch):
    """Return the weighted overlap of item i in orientation o at (x, y), or more than `limit`.

    An overlap is a length: the root of circle depth × radius, times the two shapes' weights.
    """
    hits = scratch.hits
    count = _boxes_meet(shapes, placed, i, o, x, y, region, scratch)
    # First what circles overlap, which is the least that it comes to: most candidates end here.
    total, unsure, sure = 0.0, 0, 0
    for q in range(count):
        j = hits[q]
        depth = _circles(shapes, o, x, y, placed, j, scratch.lanes)
        if depth > 0.0:
            least = _value(shapes, i, j, depth) * placed.weights[i, j]
            total += least
            if total >= limit:
                return total
            scratch.sure[sure], scratch.least[sure] = j, least
            sure += 1
        else:
            hits[unsure] = j
            unsure += 1
    # Then what it comes to softened, which is no less, pair by pair.
    for q in range(sure):
        j = scratch.sure[q]
        depth = _soft_circles(shapes, o, x, y, placed, j, _soft(shapes, i, j), scratch.lanes)
        found = _value(shapes, i, j, depth) * placed.weights[i, j]
        total += found - scratch.least[q]
        if total >= limit:
            return total
    for q in range(unsure):
        j = hits[q]
        if _meet(shapes, o, x, y, placed, j, scratch.near):
            depth = _soft_circles(shapes, o, x, y, placed, j, _soft(shapes, i, j), scratch.lanes)
            total += _value(shapes, i, j, depth) * placed.weights[i, j]
            if total >= limit:
                return total
    return total


@njit(nogil=True, cache=True, _nrt=False)
def renew_pairs(shapes, placed, i, scratch):
    """Work out anew what item i overlaps as it lies."""
    o = own_orientation(shapes, placed, i)
    x, y = placed.poses[i, 0], placed.poses[i, 1]
    for j in range(placed.where.shape[0]):
        placed.pairs[i, j] = 0.0
        placed.pairs[j, i] = 0.0
    count = _boxes_meet(shapes, placed, i, o, x, y, placed.where[i], scratch)
    for q in range(count):
        j = scratch.hits[q]
        if _circles(shapes, o, x, y, placed, j, scratch.lanes) <= 0.0 and not _meet(
            shapes, o, x, y, placed, j, scratch.near
        ):
            continue
        depth = _soft_circles(shapes, o, x, y, placed, j, _soft(shapes, i, j), scratch.lanes)
        found = _value(shapes, i, j, depth)
        placed.pairs[i, j] = found
        placed.pairs[j, i] = found
