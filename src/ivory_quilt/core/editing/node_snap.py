"""Where a node or handle falls that a hand drags: and why, in a word."""

import math
from collections.abc import Iterator

from ivory_quilt.core.editing.snap import Snap
from ivory_quilt.core.editing.symmetry import Axis
from ivory_quilt.core.geometry.curve_path import CurvePath, minus, plus, unit
from ivory_quilt.core.geometry.shape import Point


def snap_node(path: CurvePath, k: int, hand: Point, reach: float, axis: Axis | None = None) -> Snap:
    """Return where node `k` falls that is dragged to `hand`.

    Onto the centre line, opposite to another node, in line with or square to the straight line
    beyond a neighbour, level with and upright over other nodes; else where the hand is.

    Args:
        path: the outline before the drag.
        k: the node.
        hand: where the hand has it, mm.
        reach: how far it is pulled, mm.
        axis: the piece's centre line, if it has one.
    """
    if axis is not None and abs(axis.side(hand)) <= reach:
        return Snap(axis.onto(hand), "on the centre line")
    opposite = list(_opposite(path, k, axis)) if axis is not None else []
    near = min(opposite, key=lambda p: math.dist(p, hand), default=None)
    if near is not None and math.dist(near, hand) <= reach:
        return Snap(near, "opposite a node")
    for start, way, why in _lines_beside(path, k):
        foot = _foot(start, way, hand)
        if math.dist(foot, hand) <= reach:
            return Snap(foot, why)
    return _level(path, k, hand, reach)


def _opposite(path: CurvePath, k: int, axis: Axis) -> Iterator[Point]:
    for j, node in enumerate(path.nodes):
        if j != k % len(path) and abs(axis.side(node.at)) > 1:
            yield axis.reflected(node.at)


def _lines_beside(path: CurvePath, k: int) -> Iterator[tuple[Point, Point, str]]:
    """Yield lines that a node may fall on: (a place, its direction, why)."""
    for near, far in ((k - 1, k - 2), (k + 1, k + 2)):
        if len(path) < 4 or not path.is_straight(min(near, far)):
            continue
        here = path.node(near).at
        way = unit(minus(here, path.node(far).at))
        yield here, way, "in line with the side before it" if near < k else "in line with the next"
        yield here, (-way[1], way[0]), "square to the side"


def _foot(start: Point, way: Point, hand: Point) -> Point:
    step = minus(hand, start)
    return plus(start, way, step[0] * way[0] + step[1] * way[1])


def _level(path: CurvePath, k: int, hand: Point, reach: float) -> Snap:
    """Return where a node falls that is level with one node, or upright over one, or both."""
    others = [n.at for j, n in enumerate(path.nodes) if j != k % len(path)]
    upright = min(others, key=lambda p: abs(p[0] - hand[0]))
    level = min(others, key=lambda p: abs(p[1] - hand[1]))
    x, y, why = hand[0], hand[1], []
    if abs(level[1] - hand[1]) <= reach:
        y = level[1]
        why.append("level with a node")
    if abs(upright[0] - hand[0]) <= reach:
        x = upright[0]
        why.append("upright over a node")
    at = (x, y)
    if at in others:  # two nodes in one place make no outline
        return Snap(hand)
    return Snap(at, ", ".join(why))


def snap_handle(path: CurvePath, k: int, hand: Point, reach: float) -> Snap:
    """Return where a handle of node `k` falls: level, upright, along a straight side."""
    here = path.node(k).at
    ways = [((1.0, 0.0), "level"), ((0.0, 1.0), "upright")]
    for span, far in ((k - 1, k - 1), (k, k + 1)):
        if path.is_straight(span):
            ways.insert(0, (unit(minus(here, path.node(far).at)), "in line with the straight side"))
    for way, why in ways:
        foot = _foot(here, way, hand)
        if math.dist(foot, hand) <= reach and math.dist(foot, here) > 2 * reach:
            return Snap(foot, why)
    return Snap(hand)
