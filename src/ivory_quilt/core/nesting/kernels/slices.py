"""No-fit slices: along one line, exactly where a part may stand among those already placed.

For a part moved along x at a fixed height, two edges touch for an interval of positions: where
their heights overlap, the difference of their x is linear in height, so the interval runs between
its values at both ends of the overlap. The union of these intervals over all pairs of edges, and
of the stretches in between where one shape contains the other, is the slice of the no-fit polygon
at that height. It is exact: no grid along x, no bounding boxes. Vertical slices use the same code
on arrays with x and y exchanged.
"""

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.geometry import GUARD, place_edges, point_inside

MOST_INTERVALS = 8192


@njit(nogil=True, cache=True)
def _sort_merge(low, high, n):
    """Sort the first n intervals by their low end and unite those that touch; return how many."""
    if n == 0:
        return 0
    order = np.argsort(low[:n])
    sorted_low, sorted_high = low[:n][order], high[:n][order]
    m = 0
    low[0], high[0] = sorted_low[0], sorted_high[0]
    for k in range(1, n):
        if sorted_low[k] <= high[m] + GUARD:
            high[m] = max(high[m], sorted_high[k])
        else:
            m += 1
            low[m], high[m] = sorted_low[k], sorted_high[k]
    return m + 1


@njit(nogil=True, cache=True)
def pair_slice(ea, a0, a1, rise, eb, b0, b1, low, high):
    """Fill low/high with the forbidden x-shifts of A against B, A raised by `rise`.

    Returns the number of merged intervals (at most MOST_INTERVALS).
    """
    n = 0
    for i in range(a0, a1):
        ax1, ay1, ax2, ay2 = ea[i, 0], ea[i, 1] + rise, ea[i, 2], ea[i, 3] + rise
        a_low, a_high = min(ay1, ay2), max(ay1, ay2)
        a_slope = 0.0 if ay1 == ay2 else (ax2 - ax1) / (ay2 - ay1)
        for j in range(b0, b1):
            by1, by2 = eb[j, 1], eb[j, 3]
            y_low, y_high = max(a_low, min(by1, by2)), min(a_high, max(by1, by2))
            if y_low > y_high:
                continue
            bx1, bx2 = eb[j, 0], eb[j, 2]
            if ay1 == ay2:
                a_min_low, a_max_low = min(ax1, ax2), max(ax1, ax2)
                a_min_high, a_max_high = a_min_low, a_max_low
            else:
                a_min_low = ax1 + (y_low - ay1) * a_slope
                a_min_high = ax1 + (y_high - ay1) * a_slope
                a_max_low, a_max_high = a_min_low, a_min_high
            if by1 == by2:
                b_min_low, b_max_low = min(bx1, bx2), max(bx1, bx2)
                b_min_high, b_max_high = b_min_low, b_max_low
            else:
                b_slope = (bx2 - bx1) / (by2 - by1)
                b_min_low = bx1 + (y_low - by1) * b_slope
                b_min_high = bx1 + (y_high - by1) * b_slope
                b_max_low, b_max_high = b_min_low, b_min_high
            if n == MOST_INTERVALS:
                n = _sort_merge(low, high, n)
                if n == MOST_INTERVALS:
                    return n
            low[n] = min(b_min_low - a_max_low, b_min_high - a_max_high)
            high[n] = max(b_max_low - a_min_low, b_max_high - a_min_high)
            n += 1
    n = _sort_merge(low, high, n)
    # Between two touching stretches the boundaries are free of each other: a cavity or hole where
    # A may stand, or one shape inside the other.
    m = 0
    for k in range(1, n):
        shift = 0.5 * (high[m] + low[k])
        contained = point_inside(eb, b0, b1, ea[a0, 0] + shift, ea[a0, 1] + rise) or point_inside(
            ea, a0, a1, eb[b0, 0] - shift, eb[b0, 1] - rise
        )
        if contained:
            high[m] = max(high[m], high[k])
        else:
            m += 1
            low[m], high[m] = low[k], high[k]
    return 0 if n == 0 else m + 1


@njit(nogil=True, cache=True)
def row_slice(ea, na, box, rise, edges, starts, boxes, members, count, low, high, tlow, thigh):
    """Fill low/high with the merged forbidden x-shifts of A against all members."""
    n = 0
    y0, y1 = box[1] + rise - GUARD, box[3] + rise + GUARD
    for q in range(count):
        j = members[q]
        if boxes[j, 3] < y0 or boxes[j, 1] > y1:
            continue
        found = pair_slice(ea, 0, na, rise, edges, starts[j], starts[j + 1], tlow, thigh)
        for k in range(found):
            if n == MOST_INTERVALS:
                n = _sort_merge(low, high, n)
                if n == MOST_INTERVALS:
                    return n
            low[n], high[n] = tlow[k], thigh[k]
            n += 1
    return _sort_merge(low, high, n)


@njit(nogil=True, cache=True)
def first_free(low, high, n, start, stop, clear):
    """Return the least free position in [start, stop], or a number above `stop`."""
    x = start
    for k in range(n):
        if high[k] < x:
            continue
        if low[k] > x:
            break
        x = high[k] + clear
    return x


@njit(nogil=True, cache=True)
def slide_back(low, high, n, here, start, clear):
    """Return the least position ≥ `start` reachable from free `here` without a jump."""
    floor = start
    for k in range(n):
        if high[k] <= here:
            floor = max(floor, high[k] + clear)
    return min(floor, here)


@njit(nogil=True, cache=True)
def _swap_axes(source, start, stop, out):
    for k in range(start, stop):
        out[k, 0], out[k, 1] = source[k, 1], source[k, 0]
        out[k, 2], out[k, 3] = source[k, 3], source[k, 2]


@njit(nogil=True, cache=True)
def best_in_region(
    shape_edges, turns, region, edges, swapped, starts, boxes, members, count, step, lean, clear, flags
):
    """Find the pose of a part that stands furthest left (then lowest) in a region.

    Args:
        shape_edges: (e, 4) edges about the part's centre.
        turns: (t, 3) rows cos, sin, flip: the orientations to try.
        region: (x0, y0, x1, y1), where the part's box must stay.
        edges: placed edges of all items; `swapped`: the same with x and y exchanged.
        starts: item i owns edges[starts[i]:starts[i + 1]].
        boxes: (n, 4) boxes of the items.
        members: ids of items in this region, `count` of them.
        step: distance between the rows tried, mm.
        lean: weight of the height against the reach along x when poses are compared.
        clear: least clearance kept, mm.
        flags: flags[0] != 0 stops the search.

    Returns:
        (score, turn index, x, y) with turn index −1 when nothing fits.
    """
    e = shape_edges.shape[0]
    moved = np.zeros((e, 4))
    turned = np.zeros((e, 4))
    box = np.zeros(4)
    swapped_box = np.zeros(4)
    low = np.zeros(MOST_INTERVALS)
    high = np.zeros(MOST_INTERVALS)
    tlow = np.zeros(MOST_INTERVALS)
    thigh = np.zeros(MOST_INTERVALS)
    swapped_boxes = np.zeros((boxes.shape[0], 4))
    for q in range(count):
        j = members[q]
        swapped_boxes[j, 0], swapped_boxes[j, 1] = boxes[j, 1], boxes[j, 0]
        swapped_boxes[j, 2], swapped_boxes[j, 3] = boxes[j, 3], boxes[j, 2]
    pose = np.zeros(5)
    best, best_turn, best_x, best_y = 1e300, -1, 0.0, 0.0
    for t in range(turns.shape[0]):
        pose[2], pose[3], pose[4] = turns[t, 0], turns[t, 1], turns[t, 2]
        place_edges(shape_edges, 0, e, pose, moved, 0, box)
        x_low, x_high = region[0] - box[0], region[2] - box[2]
        y_low, y_high = region[1] - box[1], region[3] - box[3]
        if x_low > x_high or y_low > y_high:
            continue
        _swap_axes(moved, 0, e, turned)
        swapped_box[0], swapped_box[1], swapped_box[2], swapped_box[3] = box[1], box[0], box[3], box[2]
        rows = int((y_high - y_low) / step) + 1
        for r in range(rows + 1 + 2 * count):
            if flags[0] != 0:
                return best, best_turn, best_x, best_y
            if r < rows:
                y = y_low + r * step
            elif r == rows:
                y = y_high
            else:  # rows where the part rests on, or hangs under, something placed
                j = members[(r - rows - 1) // 2]
                y = boxes[j, 3] - box[1] + clear if (r - rows) % 2 else boxes[j, 1] - box[3] - clear
                if y < y_low or y > y_high:
                    continue
            n = row_slice(
                moved, e, box, y, edges, starts, boxes, members, count, low, high, tlow, thigh
            )
            x = first_free(low, high, n, x_low, x_high, clear)
            if x > x_high:
                continue
            score = x + box[2] - region[0] + lean * (y + box[3] - region[1])
            if score >= best:
                continue
            for _ in range(2):  # settle: down, then left again
                n = row_slice(
                    turned, e, swapped_box, x, swapped, starts, swapped_boxes, members, count,
                    low, high, tlow, thigh,
                )
                y = slide_back(low, high, n, y, y_low, clear)
                n = row_slice(
                    moved, e, box, y, edges, starts, boxes, members, count, low, high, tlow, thigh
                )
                x = slide_back(low, high, n, x, x_low, clear)
            score = x + box[2] - region[0] + lean * (y + box[3] - region[1])
            if score < best:
                best, best_turn, best_x, best_y = score, t, x, y
    return best, best_turn, best_x, best_y
