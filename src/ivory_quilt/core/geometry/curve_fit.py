"""Curves through points: an outline of many short lines becomes few nodes and cubics.

Method: least squares on the two handle lengths with given end tangents, Newton's step on the
parameters, and a cut at the worst point where that does not do (Schneider, "An algorithm for
automatically fitting digitized curves", Graphics Gems, 1990).
"""

import math
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.geometry.curve_path import CurveNode, CurvePath, minus, plus, unit
from ivory_quilt.core.geometry.outline import corners_along
from ivory_quilt.core.geometry.shape import Array, Point, as_point

FIT = 0.05  # mm that curves may be off the lines they replace
CORNER = math.radians(25.0)  # what turns by more at one point is a corner (our choice)
SMOOTH_WITHIN = math.radians(3.0)  # two spans whose tangents differ by less go on smoothly
RISE = 0.1  # mm: sides that would rise by more, were they arcs, are straight (our choice)
ROUNDS = 6  # of Newton's step
WORTH_ROUNDS = 30.0  # times the tolerance: further off, another cut is better than more rounds


def fitted(ring: Array, tolerance: float = FIT) -> CurvePath:
    """Return a closed ring (n, 2) as few nodes and curves, each node on a point of the ring.

    Straight sides stay straight, corners corners. All of the ring's points lie within `tolerance`
    mm of the curves.
    """
    points, turns, sides = _bent(ring)
    n = len(points)
    corner = turns > CORNER
    bends = np.where(corner, 0.0, turns)
    rise = sides * np.maximum(bends, np.roll(bends, -1)) / 8  # an arc's sagitta, for small angles
    straight = (rise > max(RISE, 2 * tolerance)) | (corner & np.roll(corner, -1))
    breaks = np.flatnonzero(corner | straight | np.roll(straight, 1))
    if len(breaks) < 2:
        breaks = np.union1d(breaks, _extremes(points))
    ways_in, ways_out, smooth = _tangents(points, breaks, straight)
    nodes: list[CurveNode] = []
    for j, k in enumerate(breaks.tolist()):
        nxt = (j + 1) % len(breaks)
        run = points[np.arange(k, k + (int(breaks[nxt]) - k - 1) % n + 2) % n]
        cubics = fit_line(run, ways_out[j], ways_in[nxt], tolerance)
        if j == 0:
            nodes.append(CurveNode(as_point(run[0]), as_point(run[0]), as_point(run[0])))
        nodes[-1] = CurveNode(nodes[-1].at, nodes[-1].before, cubics[0][1], bool(smooth[j]))
        for one, other in pairwise(cubics):
            nodes.append(CurveNode(one[3], one[2], other[1], smooth=True))
        nodes.append(CurveNode(cubics[-1][3], cubics[-1][2], cubics[-1][3]))
    last = nodes.pop()  # the first once more
    first = nodes[0]
    nodes[0] = CurveNode(first.at, last.before, first.after, first.smooth)
    return CurvePath(tuple(nodes))


def _bent(ring: Array) -> tuple[Array, Array, Array]:
    """Return the points where a ring turns at all, by how much, rad, and the sides after them."""
    while True:
        step = np.roll(ring, -1, axis=0) - ring
        way = np.arctan2(step[:, 1], step[:, 0])
        turns = np.abs((way - np.roll(way, 1) + math.pi) % (2 * math.pi) - math.pi)
        keep = turns > 1e-7
        if keep.all() or keep.sum() < 3:
            return ring, turns, np.hypot(step[:, 0], step[:, 1])
        ring = ring[keep]


def _extremes(points: Array) -> Array:
    """Return the outermost points to all four sides: where a round outline is taken hold of."""
    x, y = points.T
    return np.unique([x.argmax(), y.argmax(), x.argmin(), y.argmin()])


def _tangents(
    points: Array, breaks: npt.NDArray[np.intp], straight: npt.NDArray[np.bool_]
) -> tuple[list[Point], list[Point], list[bool]]:
    """Return the directions of coming in and going out at each break, and whether it is smooth."""
    ways_in, ways_out, smooth = [], [], []
    n = len(points)
    at_break = np.zeros(n, dtype=bool)
    at_break[breaks] = True
    for k in breaks.tolist():
        before, after = points[np.arange(k - 2, k + 1) % n], points[np.arange(k, k + 3) % n]
        if straight[k - 1] or at_break[k - 1]:
            before = before[1:]
        if straight[k] or at_break[(k + 1) % n]:
            after = after[:2]
        came, goes = end_tangent(before[::-1]), end_tangent(after)
        came = (-came[0], -came[1])
        off = math.acos(min(1.0, max(-1.0, came[0] * goes[0] + came[1] * goes[1])))
        curved = len(before) > 2 or len(after) > 2
        joined = off < SMOOTH_WITHIN and curved
        if not straight[k - 1] and not straight[k] and _turn_at(points, k) < CORNER:
            joined = True  # a round outline taken hold of
            came = goes = _middle_tangent(points[np.arange(k - 1, k + 2) % n])
        elif joined and straight[k - 1]:
            goes = came
        elif joined and straight[k]:
            came = goes
        elif joined:
            came = goes = unit(plus(came, goes))
        ways_in.append(came)
        ways_out.append(goes)
        smooth.append(joined)
    return ways_in, ways_out, smooth


def _turn_at(points: Array, k: int) -> float:
    a, b, c = points[np.arange(k - 1, k + 2) % len(points)]
    one, two = b - a, c - b
    return abs(math.atan2(one[0] * two[1] - one[1] * two[0], float(one @ two)))


def end_tangent(points: Array) -> Point:
    """Return the direction of a line at its first point, of length 1.

    Of two points the way to the second; of more, that of the parabola through the first, or by
    least squares through all of them.
    """
    if len(points) == 2:
        return unit(minus(as_point(points[1]), as_point(points[0])))
    at = corners_along(points)
    rows = np.column_stack((at[1:], at[1:] ** 2))
    found = np.linalg.lstsq(rows, points[1:] - points[0], rcond=None)[0]
    return unit(as_point(found[0]))


def _middle_tangent(points: Array) -> Point:
    """Return the direction at the middle one of three points: of the parabola through them."""
    one, two = points[1] - points[0], points[2] - points[1]
    a, b = float(np.hypot(*one)), float(np.hypot(*two))
    return unit(as_point(one * (b / a) + two * (a / b)))


Cubic = tuple[Point, Point, Point, Point]


def fit_line(points: Array, start: Point, stop: Point, tolerance: float) -> list[Cubic]:
    """Return cubics along an open line (m, 2), one going on smoothly from the other.

    Args:
        points: the line; its first and last point are kept.
        start: direction at its first point, of length 1.
        stop: direction at its last point, forwards.
        tolerance: mm that any of the points may be off.
    """
    if len(points) == 2 and _along(points, start) and _along(points, stop):
        a, d = as_point(points[0]), as_point(points[1])
        return [(a, a, d, d)]
    done: list[Cubic] = []
    rest = [(points, start, stop)]
    while rest:
        line, one, two = rest.pop()
        cubic, worst = _best(line, one, two, tolerance)
        if worst is None:
            done.append(cubic)
            continue
        lo, hi = max(worst - 1, 0), worst + 2
        middle = _middle_tangent(line[lo:hi])
        rest += [(line[worst:], middle, two), (line[: worst + 1], one, middle)]
    return done


def _along(points: Array, way: Point) -> bool:
    straight = end_tangent(points[[0, -1]])
    return straight[0] * way[0] + straight[1] * way[1] > 1 - 1e-9


def _best(points: Array, start: Point, stop: Point, tolerance: float) -> tuple[Cubic, int | None]:
    """Return the best cubic, and which point is too far off, None where none is."""
    at = corners_along(points)
    t = at / at[-1]
    cubic = fit_one(points, start, stop, t)
    for round_ in range(ROUNDS):
        off = points - _eval(cubic, t)
        away = np.hypot(off[:, 0], off[:, 1])
        worst = int(away.argmax())
        if away[worst] <= tolerance or len(points) < 3:
            return _as_cubic(cubic), None
        if away[worst] > WORTH_ROUNDS * tolerance and round_:
            break
        t = _nearer(cubic, points, t)
        cubic = fit_one(points, start, stop, t)
    return _as_cubic(cubic), min(max(worst, 1), len(points) - 2)


def fit_one(points: Array, start: Point, stop: Point, t: Array) -> Array:
    """Return the control points (4, 2) of the one cubic nearest to points at parameters `t`."""
    a, d = points[0], points[-1]
    one, two = np.asarray(start), -np.asarray(stop)
    u = 1 - t
    b1, b2 = 3 * u * u * t, 3 * u * t * t
    rest = points - np.outer(u**3 + b1, a) - np.outer(t**3 + b2, d)
    c11, c12, c22 = (b1 * b1).sum(), (b1 * b2).sum() * (one @ two), (b2 * b2).sum()
    x1, x2 = (b1 * (rest @ one)).sum(), (b2 * (rest @ two)).sum()
    chord = float(np.hypot(*(d - a)))
    flat = c11 * c22 - c12 * c12
    lengths = (
        ((x1 * c22 - x2 * c12) / flat, (c11 * x2 - c12 * x1) / flat)
        if abs(flat) > 1e-12 * max(c11 * c22, 1e-300)
        else (0.0, 0.0)
    )
    if min(lengths) < 1e-3 * chord:  # no handle turns round: Schneider's way out
        lengths = (chord / 3, chord / 3)
    return np.array([a, a + one * lengths[0], d + two * lengths[1], d])


def nearest_cubic(points: Array, start: Point, stop: Point) -> Cubic:
    """Return the one cubic that runs nearest to an open line (m, 2), with tangents as given."""
    at = corners_along(points)
    t = at / at[-1]
    control = fit_one(points, start, stop, t)
    for _ in range(3 * ROUNDS):
        t = _nearer(control, points, t)
        control = fit_one(points, start, stop, t)
    return _as_cubic(control)


def _as_cubic(control: Array) -> Cubic:
    a, b, c, d = (as_point(p) for p in control)
    return a, b, c, d


def _eval(control: Array, t: Array) -> Array:
    u = 1 - t
    weights = np.column_stack((u**3, 3 * u * u * t, 3 * u * t * t, t**3))
    return np.asarray(weights @ control)


def _nearer(control: Array, points: Array, t: Array) -> Array:
    """Return parameters nearer to the points' feet: one step of Newton on (P − Q)·P′ = 0."""
    first = 3 * np.diff(control, axis=0)
    second = 2 * np.diff(first, axis=0)
    u = (1 - t)[:, None]
    s = t[:, None]
    speed = u * u * first[0] + 2 * u * s * first[1] + s * s * first[2]
    bend = u * second[0] + s * second[1]
    off = _eval(control, t) - points
    top = (off * speed).sum(1)
    low = (speed * speed).sum(1) + (off * bend).sum(1)
    step = np.where(np.abs(low) > 1e-12, top / np.where(low == 0, 1, low), 0.0)
    made = np.clip(t - step, 0.0, 1.0)
    made[0], made[-1] = 0.0, 1.0
    return np.maximum.accumulate(made)
