"""No-fit slices: along one line, exactly where a part may stand among those already placed.

A ring is parted into chains along which y never falls. Two chains, one moved along x at a fixed
height, touch for exactly one interval of positions: where their heights overlap the difference of
their x is continuous, so it runs between its least and greatest value, and these are taken at
vertices because both chains are straight in between. The union of the intervals over all pairs of
chains, and of the stretches in between where one shape contains the other, is the slice of the
no-fit polygon at that height. It is exact: no grid along x, no bounding boxes. Vertical slices use
the same code with x and y exchanged.
"""

import numpy as np
from numba import njit

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.kernels.geometry import GUARD, place_edges, point_inside
from ivory_quilt.core.nesting.kernels.intervals import INTERVALS, merge, roomier
from ivory_quilt.core.nesting.kernels.tables import (
    COS,
    FLIP,
    FOOT,
    LEFT,
    RIGHT,
    SIN,
    SPIN_COS,
    SPIN_FLIP,
    SPIN_SIN,
    TOP,
    X1,
    X2,
    Y1,
    Y2,
)

MOST_RESTS = 16  # placed parts that rows rest on

LEVEL, UPRIGHT = False, True  # the way a slice runs: upright ones have x and y exchanged


@njit(nogil=True, cache=True)
def make_chains(edges, start, stop, swap, vertices, at, heads, head_at):
    """Part the rings of edges[start:stop] into chains of rising y.

    Vertices (x, y) go to vertices[at:], rising along each chain; heads[head_at + k] is where chain
    k starts (an index into `vertices`), with one more entry for the end. `swap` exchanges x and y.
    A ring of n edges needs at most 2n vertices and n chains.

    Returns:
        The number of chains.
    """
    ix, iy = (1, 0) if swap else (0, 1)
    chains, v, first = 0, at, start
    while first < stop:
        last = first  # one ring: edges[first:last + 1]
        while (
            last + 1 < stop
            and edges[last, X2] == edges[last + 1, X1]
            and (edges[last, Y2] == edges[last + 1, Y1])
        ):
            last += 1
        n = last + 1 - first
        low = 0
        for k in range(1, n):
            if edges[first + k, iy] < edges[first + low, iy]:
                low = k
        k = 0
        while k < n:
            # One run of edges in one direction; level edges go along with it.
            direction, begin = 0.0, k
            while k < n:
                e = first + (low + k) % n
                f = first + (low + k + 1) % n
                dy = edges[f, iy] - edges[e, iy]
                if dy != 0.0:
                    if direction == 0.0:
                        direction = dy
                    elif (dy > 0.0) != (direction > 0.0):
                        break
                k += 1
            heads[head_at + chains] = v
            chains += 1
            for m in range(k - begin + 1):
                step = m if direction >= 0.0 else k - begin - m
                e = first + (low + begin + step) % n
                vertices[v, 0], vertices[v, 1] = edges[e, ix], edges[e, iy]
                v += 1
        first = last + 1
    heads[head_at + chains] = v
    return chains


@njit(nogil=True, cache=True)
def _x_range(vertices, j, stop, y):
    """Return (least x, greatest x, j) of a chain at height y; j moves up from where it was."""
    while j + 1 < stop and vertices[j + 1, 1] < y:
        j += 1
    if vertices[j, 1] >= y or j + 1 >= stop:
        low = high = vertices[j, 0]
        k = j + 1
    elif vertices[j + 1, 1] > y:
        y1, y2 = vertices[j, 1], vertices[j + 1, 1]
        x = vertices[j, 0] + (y - y1) * (vertices[j + 1, 0] - vertices[j, 0]) / (y2 - y1)
        return x, x, j
    else:
        low = high = vertices[j + 1, 0]
        k = j + 2
    while k < stop and vertices[k, 1] == y:
        low, high = min(low, vertices[k, 0]), max(high, vertices[k, 0])
        k += 1
    return low, high, j


@njit(nogil=True, cache=True)
def _chain_interval(va, a0, a1, rise, vb, b0, b1):
    """Return (low, high) of the shifts at which two chains touch; low > high when they cannot."""
    y_low, y_high = max(va[a0, 1] + rise, vb[b0, 1]), min(va[a1 - 1, 1] + rise, vb[b1 - 1, 1])
    low, high = 1e300, -1e300
    if y_low > y_high:
        return low, high
    j = b0
    for i in range(a0, a1):
        y = va[i, 1] + rise
        if y > y_high:
            break
        if y >= y_low:
            x0, x1, j = _x_range(vb, j, b1, y)
            low, high = min(low, x0 - va[i, 0]), max(high, x1 - va[i, 0])
    j = a0
    for i in range(b0, b1):
        y = vb[i, 1] - rise
        if vb[i, 1] > y_high:
            break
        if vb[i, 1] >= y_low:
            x0, x1, j = _x_range(va, j, a1, y)
            low, high = min(low, vb[i, 0] - x1), max(high, vb[i, 0] - x0)
    return low, high


@njit(nogil=True, cache=True)
def add_pair(a, rise, b, swap, low, high, n):
    """Append the forbidden x-shifts of shape A, raised by `rise`, against shape B.

    `a` and `b` are (edges, start, stop, vertices, heads, first head, chains). Intervals go to
    low[n:], high[n:]; the pair's own are merged. Two combs make thousands: none is ever left out.

    Returns:
        (low, high, the new number of intervals); the arrays are larger ones where those given
        were full.
    """
    ea, a0, a1, va, ha, ah, ac = a
    eb, b0, b1, vb, hb, bh, bc = b
    start = n
    for i in range(ac):
        for j in range(bc):
            x0, x1 = _chain_interval(
                va, ha[ah + i], ha[ah + i + 1], rise, vb, hb[bh + j], hb[bh + j + 1]
            )
            if x0 <= x1:
                if n == len(low):
                    low, high = roomier(low), roomier(high)
                low[n], high[n] = x0, x1
                n += 1
    n = merge(low, high, start, n)
    if n <= start + 1:
        return low, high, n
    # Between two touching stretches the boundaries are free of each other: a cavity or hole where
    # A may stand, or one shape inside the other.
    ix, iy = (1, 0) if swap else (0, 1)
    m = start
    for k in range(start + 1, n):
        shift = 0.5 * (high[m] + low[k])
        ax, ay = ea[a0, ix] + shift, ea[a0, iy] + rise
        bx, by = eb[b0, ix] - shift, eb[b0, iy] - rise
        if swap:
            ax, ay, bx, by = ay, ax, by, bx
        if point_inside(eb, b0, b1, ax, ay) or point_inside(ea, a0, a1, bx, by):
            high[m] = max(high[m], high[k])
        else:
            m += 1
            low[m], high[m] = low[k], high[k]
    return low, high, m + 1


@njit(nogil=True, cache=True)
def _shape_of(items, j, swap):
    """Return placed item j as `add_pair` takes it."""
    edges, starts, _, vertices, heads, chains, vertices2, heads2, chains2 = items
    if swap:
        return (edges, starts[j], starts[j + 1], vertices2, heads2, 2 * starts[j], chains2[j])
    return (edges, starts[j], starts[j + 1], vertices, heads, 2 * starts[j], chains[j])


@njit(nogil=True, cache=True)
def whole_slice(a, box, rise, swap, items, members, count, low, high):
    """Return (low, high, how many): the merged forbidden shifts of A against all members.

    They are written to the arrays given, or to larger ones where those are too small.
    """
    boxes = items[2]
    across = 0 if swap else 1
    y0, y1 = box[across] + rise - GUARD, box[across + 2] + rise + GUARD
    n = 0
    for q in range(count):
        j = members[q]
        if boxes[j, across + 2] >= y0 and boxes[j, across] <= y1:
            low, high, n = add_pair(a, rise, _shape_of(items, j, swap), swap, low, high, n)
    return low, high, merge(low, high, 0, n)


@njit(nogil=True, cache=True)
def _in_row(box, rise, swap, boxes, members, count, ways):
    """Fill `ways` with the members in A's way at this height; return how many.

    A row of it: member, and the least and the greatest position at which the boxes meet.
    """
    along, across = (1, 0) if swap else (0, 1)
    y0, y1 = box[across] + rise - GUARD, box[across + 2] + rise + GUARD
    n = 0
    for q in range(count):
        j = members[q]
        if boxes[j, across + 2] >= y0 and boxes[j, across] <= y1:
            ways[n, 0] = j
            ways[n, 1] = boxes[j, along] - box[along + 2] - GUARD
            ways[n, 2] = boxes[j, along + 2] - box[along] + GUARD
            n += 1
    return n


@njit(nogil=True, cache=True)
def least_free(a, box, rise, swap, items, members, count, start, most, clear, work):
    """Return the least free position of A from `start` on, or one beyond `most`.

    Members are looked at only where their boxes are in the way, the one that reaches furthest
    first: most of what lies in a row need not be worked out. `work` is (low, high, ways): scratch.
    """
    low, high, ways = work
    rest = _in_row(box, rise, swap, items[2], members, count, ways)
    x = start
    while x <= most:
        best = -1
        for q in range(rest):
            if ways[q, 1] <= x <= ways[q, 2] and (best < 0 or ways[q, 2] > ways[best, 2]):
                best = q
        if best < 0:
            break
        low, high, n = add_pair(
            a, rise, _shape_of(items, int(ways[best, 0]), swap), swap, low, high, 0
        )
        ways[best, 1] = 1e300
        for k in range(n):
            if low[k] > x:
                ways[best, 1] = low[k]  # up to there it leaves the way free
                break
            if high[k] >= x:
                x = high[k] + clear
    return x


@njit(nogil=True, cache=True)
def slid_back(a, box, rise, swap, items, members, count, here, start, clear, work):
    """Return the least position ≥ `start` that A reaches from free `here` without a jump."""
    low, high, ways = work
    rest = _in_row(box, rise, swap, items[2], members, count, ways)
    floor = start
    while True:
        best = -1
        for q in range(rest):
            if ways[q, 1] <= here and (best < 0 or ways[q, 2] > ways[best, 2]):
                best = q
        if best < 0 or ways[best, 2] + clear < floor:
            return min(floor, here)
        low, high, n = add_pair(
            a, rise, _shape_of(items, int(ways[best, 0]), swap), swap, low, high, 0
        )
        ways[best, 1] = 1e300
        for k in range(n):
            if high[k] <= here:
                floor = max(floor, high[k] + clear)


def nothing_known(turns: Array, region: Array, step: float, items: int) -> Array:
    """Return what `best_in_region` is told of a part that it has not looked at in a region yet.

    A row for each of `turns`, with room for all rows at distances of `step` and at `items`.
    """
    rows = int((region[TOP] - region[FOOT]) / step) + 2 + 2 * items
    return np.full((len(turns), rows), -np.inf)


@njit(nogil=True, cache=True)
def best_in_region(
    shape_edges, turns, region, items, members, count, step, lean, clear, known, flags
):
    """Find the pose of a part that stands furthest left (then lowest) in a region.

    Args:
        shape_edges: (e, 4) edges about the part's centre.
        turns: (t, 3) rows cos, sin, flip: the orientations to try.
        region: (x0, y0, x1, y1), where the part's box must stay.
        items: (edges, starts, boxes, vertices, heads, chains, and the last three with x and y
            exchanged) of all placed items, as `World` keeps them.
        members: ids of items in this region, `count` of them.
        step: distance between the rows tried, mm.
        lean: weight of the height against the reach along x when poses are compared.
        clear: least clearance kept, mm.
        known: (t, rows) the least x that is free in each row, as far as an earlier call for the
            same part and region found out: nothing is taken off in between. Written as well; see
            `nothing_known`.
        flags: flags[0] != 0 stops the search.

    Returns:
        (score, turn index, x, y) with turn index −1 when nothing fits.
    """
    e = shape_edges.shape[0]
    boxes = items[2]
    moved = np.zeros((e, 4))
    box = np.zeros(4)
    work = (np.zeros(INTERVALS), np.zeros(INTERVALS), np.zeros((count, 3)))
    va = np.zeros((2 * e, 2))
    va2 = np.zeros((2 * e, 2))
    ha = np.zeros(2 * e, dtype=np.int64)
    ha2 = np.zeros(2 * e, dtype=np.int64)
    pose = np.zeros(5)
    best, best_turn, best_x, best_y = 1e300, -1, 0.0, 0.0
    # On a full sheet the rows at every part would take too long: at every second or third then.
    stride = 1 + count // MOST_RESTS
    for t in range(turns.shape[0]):
        pose[COS], pose[SIN], pose[FLIP] = (
            turns[t, SPIN_COS],
            turns[t, SPIN_SIN],
            turns[t, SPIN_FLIP],
        )
        place_edges(shape_edges, 0, e, pose, moved, 0, box)
        x_low, x_high = region[LEFT] - box[LEFT], region[RIGHT] - box[RIGHT]
        y_low, y_high = region[FOOT] - box[FOOT], region[TOP] - box[TOP]
        if x_low > x_high or y_low > y_high:
            continue
        a = (moved, 0, e, va, ha, 0, make_chains(moved, 0, e, LEVEL, va, 0, ha, 0))
        a2 = (moved, 0, e, va2, ha2, 0, make_chains(moved, 0, e, UPRIGHT, va2, 0, ha2, 0))
        rows = int((y_high - y_low) / step) + 1
        for r in range(rows + 1 + 2 * ((count + stride - 1) // stride)):
            if flags[0] != 0:
                return best, best_turn, best_x, best_y
            slot = r
            if r < rows:
                y = y_low + r * step
            elif r == rows:
                y = y_high
            else:  # rows where the part rests on, or hangs under, something placed
                j = members[(r - rows - 1) // 2 * stride]
                slot = rows + 1 + 2 * j + (r - rows) % 2
                y = (
                    boxes[j, TOP] - box[FOOT] + clear
                    if (r - rows) % 2
                    else boxes[j, FOOT] - box[TOP] - clear
                )
                if y < y_low or y > y_high:
                    continue
            base = box[RIGHT] - region[LEFT] + lean * (y + box[TOP] - region[FOOT])
            furthest = min(x_high, best - base)  # beyond it the score is no better
            x = max(x_low, known[t, slot])
            if x > furthest:
                continue
            x = least_free(a, box, y, LEVEL, items, members, count, x, furthest, clear, work)
            known[t, slot] = x
            if x > furthest:
                continue
            for _ in range(2):  # settle: down, then left again
                y = slid_back(a2, box, x, UPRIGHT, items, members, count, y, y_low, clear, work)
                x = slid_back(a, box, y, LEVEL, items, members, count, x, x_low, clear, work)
            score = x + box[RIGHT] - region[LEFT] + lean * (y + box[TOP] - region[FOOT])
            if score < best:
                best, best_turn, best_x, best_y = score, t, x, y
    return best, best_turn, best_x, best_y
