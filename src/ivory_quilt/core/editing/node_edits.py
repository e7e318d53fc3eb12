"""What a hand does to the nodes and spans of an outline: edits that tell what went where.

A place on an outline is a coordinate: k + share, of span k the share of its length that lies
before (`CurvePath.locate`).
"""

import math
from collections.abc import Iterable
from enum import StrEnum

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_fit import nearest_cubic
from ivory_quilt.core.geometry.curve_path import (
    CurveNode,
    CurvePath,
    flattened,
    minus,
    plus,
    point_at,
    split,
    unit,
)
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.geometry.shape import Point, as_point
from ivory_quilt.core.record import Struct, replace

WHERE = "outline"
END = 1e-4  # of a span's parameter: no node is put nearer to one that is there


class HandleSide(StrEnum):
    """Which handle of a node."""

    BEFORE = "before"
    AFTER = "after"


class PathEdit(Struct, frozen=True):
    """An outline before and after, and what became of places on it.

    Attributes:
        was: coordinates (m,) on the old path, rising, from one place once around to it.
        now: the same places on the new path, rising.
        gone: where nodes were taken out.
    """

    before: CurvePath
    after: CurvePath
    was: tuple[float, ...] = ()
    now: tuple[float, ...] = ()
    gone: tuple[Point, ...] = ()

    def carried(self, coordinate: float) -> float:
        """Return where a coordinate of the old path is on the new one."""
        if not self.was:
            return coordinate
        n = len(self.before)
        within = (coordinate - self.was[0]) % n + self.was[0]
        return float(np.interp(within, self.was, self.now)) % len(self.after)

    def then(self, other: "PathEdit") -> "PathEdit":
        """Return this edit and another one after it as one."""
        gone = (*self.gone, *other.gone)
        if not other.was:
            return replace(self, after=other.after, gone=gone)
        if not self.was:
            return replace(other, before=self.before, gone=gone)
        # All places where either bends, carried through both.
        n = len(self.before)
        start = self.was[0]
        back = [float(np.interp(c, *_around(self, c))) for c in other.was[:-1]]
        was = sorted({*self.was[:-1], *((b - start) % n + start for b in back)})
        now: list[float] = []
        turn, m = 0.0, len(other.after)
        for place in was:
            there = other.carried(self.carried(place))
            while now and there + turn < now[-1] - 1e-9:
                turn += m
            now.append(there + turn)
        return PathEdit(self.before, other.after, (*was, was[0] + n), (*now, now[0] + m), gone)


def _around(edit: PathEdit, coordinate: float) -> tuple[list[float], list[float]]:
    """Return an edit's new and old places, turned so that a new coordinate lies among them."""
    n, m = len(edit.before), len(edit.after)
    k = math.floor((coordinate - edit.now[0]) / m)
    return [c + k * m for c in edit.now], [c + k * n for c in edit.was]


def moved_nodes(path: CurvePath, which: Iterable[int], by: Point) -> PathEdit:
    """Move nodes, their handles with them."""
    chosen = {k % len(path) for k in which}
    nodes = tuple(n.moved(by) if k in chosen else n for k, n in enumerate(path.nodes))
    near = {k + d for k in chosen for d in (-1, 0, 1)}
    return PathEdit(path, _settled(CurvePath(nodes), near))


def moved_handle(
    path: CurvePath, k: int, side: HandleSide, to: Point, *, free: bool = False
) -> PathEdit:
    """Move a handle; at a smooth node the other one stays opposite, as long as it is.

    Args:
        path: the outline.
        k: the node.
        side: which of its handles.
        to: where it goes, mm.
        free: whether the node becomes a corner, its other handle staying where it is.
    """
    node = path.node(k)
    other = HandleSide.AFTER if side is HandleSide.BEFORE else HandleSide.BEFORE
    smooth = node.smooth and not free
    span = k if side is HandleSide.AFTER else k - 1
    if smooth and path.is_straight(k - 1 if side is HandleSide.AFTER else k):
        to = _in_line(path, k, side, to)  # the other span is straight: it says the tangent
    made = replace(node, **{side.value: to}, smooth=smooth)
    if smooth and getattr(node, other.value) != node.at:
        long = math.dist(node.at, getattr(node, other.value))
        made = replace(
            made,
            **{other.value: plus(node.at, unit(minus(node.at, to)), long)},  # type: ignore[arg-type]
        )
    after = path.with_node(k, made)
    if path.is_straight(span):
        after = _with_far_handle(after, span, side)
    return PathEdit(path, _settled(after, (k - 1, k + 1)))


def _in_line(path: CurvePath, k: int, side: HandleSide, to: Point) -> Point:
    node = path.node(k)
    far = path.node(k - 1 if side is HandleSide.AFTER else k + 1).at
    way = unit(minus(node.at, far))
    step = minus(to, node.at)
    long = max(step[0] * way[0] + step[1] * way[1], 0.05 * math.dist(node.at, far))
    return plus(node.at, way, long)


def _with_far_handle(path: CurvePath, span: int, side: HandleSide) -> CurvePath:
    """Give the other end of a span that was straight a handle along its chord."""
    a, b = path.node(span), path.node(span + 1)
    third = ((b.at[0] - a.at[0]) / 3, (b.at[1] - a.at[1]) / 3)
    if side is HandleSide.AFTER:
        return path.with_node(span + 1, replace(b, before=plus(b.at, third, -1.0)))
    return path.with_node(span, replace(a, after=plus(a.at, third)))


def bent_span(path: CurvePath, k: int, t: float, to: Point) -> PathEdit:
    """Pull a span so that its point at parameter `t` comes to lie at `to`; both ends stay.

    The least move of the two handles that does it. Smooth ends stay smooth: the handle beyond turns
    with them, and beside a straight line they keep to it.
    """
    t = min(max(t, 0.1), 0.9)
    a, b, c, d = path.control(k)
    if path.is_straight(k):
        third = ((d[0] - a[0]) / 3, (d[1] - a[1]) / 3)
        b, c = plus(a, third), plus(d, third, -1.0)
    step = np.array(minus(to, point_at((a, b, c, d), t)))
    w1, w2 = 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t * t
    start = path.node(k)
    share = w1 * w1 + w2 * w2
    new_b = plus(b, as_point(step), w1 / share)
    new_c = plus(c, as_point(step), w2 / share)
    made = path.with_node(k, replace(start, after=new_b))
    made = made.with_node(k + 1, replace(made.node(k + 1), before=new_c))
    for j, side in ((k, HandleSide.AFTER), (k + 1, HandleSide.BEFORE)):
        if made.node(j).smooth:
            to_there = getattr(made.node(j), side.value)
            made = moved_handle(made, j, side, to_there).after
    return PathEdit(path, made)


def inserted_node(path: CurvePath, coordinate: float) -> tuple[PathEdit, int]:
    """Put a node at a coordinate; the outline stays as it is. Return also which one it is.

    Raises:
        InputError: there is a node already.
    """
    k, t = path.parameter(coordinate)
    if not END < t < 1 - END:
        raise InputError(WHERE, "there is a node already", "a place between two nodes")
    a, b = path.node(k), path.node(k + 1)
    if path.is_straight(k):
        made = (a, CurveNode.corner(path.place(coordinate)), b)
    else:
        one, two = split(path.control(k), t)
        made = (
            replace(a, after=one[1]),
            CurveNode(one[3], one[2], two[1], smooth=True),
            replace(b, before=two[2]),
        )
    n = len(path)
    nodes = list(path.nodes)
    nodes[k], nodes[(k + 1) % n] = made[0], made[2]
    nodes.insert(k + 1, made[1])
    after = CurvePath(tuple(nodes))
    first, second = line_length(after.span(k)), line_length(after.span(k + 1))
    at = first / (first + second)
    was, now = [float(k), k + at, k + 1.0, float(k + n)], [float(k), k + 1.0, k + 2.0, k + n + 1.0]
    return PathEdit(path, after, tuple(was), tuple(now)), k + 1


def removed_nodes(path: CurvePath, which: Iterable[int]) -> PathEdit:
    """Take nodes out; the spans beside each become one that runs as near to them as it can.

    Raises:
        InputError: fewer than three would stay, or two of a curved outline.
    """
    gone = sorted({k % len(path) for k in which}, reverse=True)
    straight = all(n.bare for k, n in enumerate(path.nodes) if k not in gone)
    least = 3 if straight else 2
    if len(path) - len(gone) < least:
        raise InputError(WHERE, f"fewer than {least} nodes would stay", "nodes that may go")
    edit = PathEdit(path, path)
    for k in gone:
        edit = edit.then(_removed(edit.after, k))
    return edit


def _removed(path: CurvePath, k: int) -> PathEdit:
    n = len(path)
    one, two = path.span(k - 1), path.span(k)
    a, gone, b = path.node(k - 1), path.node(k), path.node(k + 1)
    long = line_length(one), line_length(two)
    share = long[0] / sum(long) if sum(long) > 0 else 0.5
    if path.is_straight(k - 1) and path.is_straight(k):
        handles = (a.at, b.at)
    else:
        line = np.vstack((one, two[1:]))
        start = unit(minus(a.after if a.after != a.at else gone.at, a.at))
        stop = unit(minus(b.at, b.before if b.before != b.at else gone.at))
        handles = nearest_cubic(line, start, stop)[1:3]
    nodes = list(path.nodes)
    nodes[(k - 1) % n] = replace(a, after=handles[0])
    nodes[(k + 1) % n] = replace(nodes[(k + 1) % n], before=handles[1])
    del nodes[k]
    first = k - 1.0
    # The new path counts from node 0, or from node 1 where node 0 went.
    now = first if k else n - 2.0
    was = (first, float(k), k + 1.0, first + n)
    made = _settled(CurvePath(tuple(nodes)), (int(now), int(now) + 1))
    return PathEdit(path, made, was, (now, now + share, now + 1, now + n - 1), (gone.at,))


def smoothed(path: CurvePath, which: Iterable[int]) -> PathEdit:
    """Let the outline go on without a corner at nodes.

    Beside a straight span its line is the tangent; else the tangent runs along the chord of the
    nodes before and after, as in a Catmull-Rom spline, or midway between the two handles.
    """
    made = path
    for k in which:
        made = _smoothed(made, k)
    return PathEdit(path, _settled(made, [k + d for k in which for d in (-1, 0, 1)]))


def _smoothed(path: CurvePath, k: int) -> CurvePath:
    node, a, b = path.node(k), path.node(k - 1), path.node(k + 1)
    came, goes = unit(minus(node.at, node.before)), unit(minus(node.after, node.at))
    if path.is_straight(k - 1) and not path.is_straight(k):
        way = unit(minus(node.at, a.at))
    elif path.is_straight(k) and not path.is_straight(k - 1):
        way = unit(minus(b.at, node.at))
    elif path.is_straight(k):
        way = unit(minus(b.at, a.at))
        path = _with_far_handle(path, k - 1, HandleSide.BEFORE)
        path = _with_far_handle(path, k, HandleSide.AFTER)
    else:
        way = unit(plus(came, goes))
    if way == (0.0, 0.0):  # it turns right back
        way = unit(minus(b.at, a.at))
    long = [
        0.0 if path.is_straight(span) else math.dist(node.at, handle) or math.dist(node.at, far) / 3
        for handle, span, far in ((node.before, k - 1, a.at), (node.after, k, b.at))
    ]
    made = CurveNode(
        node.at,
        plus(node.at, way, -long[0]) if long[0] else node.at,
        plus(node.at, way, long[1]) if long[1] else node.at,
        smooth=True,
    )
    return path.with_node(k, made)


def cornered(path: CurvePath, which: Iterable[int]) -> PathEdit:
    """Let nodes be corners; the outline stays until a handle is moved."""
    chosen = {k % len(path) for k in which}
    nodes = tuple(replace(n, smooth=n.smooth and k not in chosen) for k, n in enumerate(path.nodes))
    return PathEdit(path, CurvePath(nodes))


def straightened(path: CurvePath, k: int) -> PathEdit:
    """Make a span a straight line."""
    a, b = path.node(k), path.node(k + 1)
    made = path.with_node(k, replace(a, after=a.at, smooth=False))
    b = made.node(k + 1)
    made = made.with_node(k + 1, replace(b, before=b.at, smooth=False))
    return PathEdit(path, made)


def arched(path: CurvePath, k: int, rise: float) -> PathEdit:
    """Make a span an arc of a circle that rises over its chord, below 0 into the piece.

    One cubic up to a right angle, else as many as it takes, each off the circle by less than
    0.03 % of its radius; handles (4/3)·tan(θ/4)·r (the usual approximation, for example Goldapp
    1991).

    Raises:
        InputError: no rise, or more than a full circle has.
    """
    a, b = path.node(k), path.node(k + 1)
    chord = math.dist(a.at, b.at)
    if not 1e-3 <= abs(rise) <= 20 * chord:
        raise InputError("rise", f"{rise:g} mm", f"up to 20 times the chord of {chord:.1f} mm")
    half = 2 * math.atan(2 * abs(rise) / chord)  # half the arc's angle
    radius = chord / (2 * math.sin(half)) if half < math.pi else math.inf
    # To the right of the way that outlines run is outside.
    turn = 1.0 if rise > 0 else -1.0
    many = max(1, math.ceil(2 * half / (math.pi / 2) - 1e-9))
    step = 2 * half / many
    u = unit(minus(b.at, a.at))
    way = math.atan2(u[1], u[0]) - turn * half
    long = 4 / 3 * math.tan(step / 4) * radius
    points = [a.at]
    ways = [way + turn * step * j for j in range(many + 1)]
    for j in range(many):
        between = ways[j] + turn * step / 2
        hop = 2 * radius * math.sin(step / 2)
        points.append(plus(points[-1], (math.cos(between), math.sin(between)), hop))
    points[-1] = b.at
    made = [
        CurveNode(
            p,
            plus(p, (math.cos(w), math.sin(w)), -long),
            plus(p, (math.cos(w), math.sin(w)), long),
            smooth=True,
        )
        for p, w in zip(points, ways, strict=True)
    ]
    first = replace(a, after=made[0].after, smooth=False)
    last = replace(b, before=made[-1].before, smooth=False)
    n = len(path)
    nodes = list(path.nodes)
    nodes[k % n], nodes[(k + 1) % n] = first, last
    nodes[k % n + 1 : k % n + 1] = made[1:-1]
    start = float(k % n)
    was, now = (start, start + 1, start + n), (start, start + many, start + n + many - 1)
    return PathEdit(path, CurvePath(tuple(nodes)), was, now)


def rise_of(path: CurvePath, k: int) -> float:
    """Return how far a span rises over its chord at most, mm; below 0 into the piece."""
    line = path.span(k)
    way = unit(minus(as_point(line[-1]), as_point(line[0])))
    off = line - line[0]
    out = off[:, 0] * way[1] - off[:, 1] * way[0]
    return float(out[int(np.abs(out).argmax())])


def span_length(path: CurvePath, k: int) -> float:
    """Return a span's length, mm."""
    return line_length(flattened(path.control(k)))


def _settled(path: CurvePath, which: Iterable[int]) -> CurvePath:
    """Return a path whose smooth nodes go on smoothly where a straight span beside them turned."""
    for k in {j % len(path) for j in which}:
        node = path.node(k)
        if not node.smooth:
            continue
        before, after = path.is_straight(k - 1), path.is_straight(k)
        if before and after:
            path = path.with_node(k, replace(node, smooth=False))
        elif before:
            way = unit(minus(node.at, path.node(k - 1).at))
            long = math.dist(node.at, node.after)
            path = path.with_node(k, replace(node, after=plus(node.at, way, long)))
        elif after:
            way = unit(minus(node.at, path.node(k + 1).at))
            long = math.dist(node.at, node.before)
            path = path.with_node(k, replace(node, before=plus(node.at, way, long)))
    return path


def tangents(path: CurvePath, k: int) -> tuple[Point, Point]:
    """Return the directions, of length 1, in which an outline comes to a node and leaves it."""
    ways: list[Point] = []
    for span, ends in ((k - 1, (3, 2, 1, 0)), (k, (0, 1, 2, 3))):
        control = path.control(span)
        here = control[ends[0]]
        far = next((control[j] for j in ends[1:] if math.dist(control[j], here) > 1e-9), here)
        ways.append(unit(minus(far, here)))
    return (-ways[0][0], -ways[0][1]), ways[1]
