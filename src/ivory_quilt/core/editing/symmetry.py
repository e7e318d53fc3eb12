"""Outlines that are alike on both sides of a centre line, and kept so."""

import math
from functools import lru_cache

import numpy as np
import shapely
from shapely import LinearRing

from ivory_quilt.core.editing.node_edits import inserted_node
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_path import CurveNode, CurvePath, minus, plus, unit
from ivory_quilt.core.geometry.shape import Array, Point, Shape, as_point
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.record import Struct, replace

ALIKE = 0.3  # mm that two sides may differ by and still be one outline's halves
ON_AXIS = 0.05  # mm: a node this near is on it


class Axis(Struct, frozen=True):
    """A centre line, without ends."""

    at: Point
    way: Point

    @classmethod
    def through(cls, a: Point, b: Point) -> "Axis":
        """Return the axis through two places.

        Raises:
            InputError: they are one place.
        """
        if math.dist(a, b) < 1e-6:
            raise InputError("centre line", "its two ends lie on one place", "two places")
        return cls(a, unit(minus(b, a)))

    def side(self, point: Point) -> float:
        """Return the distance from it, mm, above 0 to its left."""
        dx, dy = minus(point, self.at)
        return self.way[0] * dy - self.way[1] * dx

    def sides(self, points: Array) -> Array:
        """Return the distances (n,) of points (n, 2)."""
        off = points - np.asarray(self.at)
        return np.asarray(self.way[0] * off[:, 1] - self.way[1] * off[:, 0])

    def reflected(self, point: Point) -> Point:
        """Return the mirror image of a place."""
        away = self.side(point)
        return plus(point, (self.way[1], -self.way[0]), 2 * away)

    def onto(self, point: Point) -> Point:
        """Return the place on it that is nearest to a point."""
        return plus(point, (self.way[1], -self.way[0]), self.side(point))

    def mirror_image(self, points: Array) -> Array:
        """Return the mirror image of points (n, 2)."""
        normal = np.array([self.way[1], -self.way[0]])
        return np.asarray(points + 2 * self.sides(points)[:, None] * normal)


def axis_of(piece: Piece) -> Axis | None:
    """Return the line that a piece's two halves mirror each other about.

    Its centre line, if one is drawn; else an upright or level line through its middle, where its
    halves are alike. None where there is neither.
    """
    for line in piece.lines:
        if line.kind is LineKind.CENTRE and math.dist(line.points[0], line.points[-1]) > 1:
            return Axis.through(as_point(line.points[0]), as_point(line.points[-1]))
    return _found_axis(piece.shape)


@lru_cache(maxsize=512)
def _found_axis(shape: Shape) -> Axis | None:
    x0, y0, x1, y1 = shape.bounds
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    for way in ((0.0, 1.0), (1.0, 0.0)):
        axis = Axis(middle, way)
        if off_centre(shape, axis) <= ALIKE:
            return axis
    return None


def off_centre(shape: Shape, axis: Axis) -> float:
    """Return how far a shape is from its mirror image at most, mm."""
    image = LinearRing(axis.mirror_image(shape.outer))
    step = max(1, len(shape.outer) // 400)  # some points of a long outline tell enough
    return float(np.max(shapely.distance(image, shapely.points(shape.outer[::step]))))


def symmetrised(path: CurvePath, axis: Axis, kept: float) -> CurvePath:
    """Return an outline whose one side is as it is, and whose other is its mirror image.

    Args:
        path: a closed outline.
        axis: the centre line.
        kept: which side stays, above 0 the left.

    Raises:
        InputError: the outline does not cross the axis just twice.
    """
    path = _cut_at(path, axis)
    away = axis.sides(np.array([n.at for n in path.nodes]))
    on = [k for k in range(len(path)) if abs(away[k]) <= 1e-7]
    if len(on) != 2:
        raise InputError(
            "centre line",
            f"the outline meets it {len(on)} times",
            "an outline that crosses it twice",
        )
    first, second = on
    between = [k for k in range(first + 1, second)]
    around = [k % len(path) for k in range(second + 1, first + len(path))]
    inner = float(np.sum(away[between])) if between else 0.0
    outer = float(np.sum(away[around])) if around else 0.0
    start, stop, half = (
        (first, second, between)
        if inner * kept > 0 or (not between and outer * kept <= 0)
        else (second, first, around)
    )
    a, b = _end(path.node(start), axis, leaves=True), _end(path.node(stop), axis, leaves=False)
    mine = [path.node(k) for k in half]
    others = [_reflected(n, axis) for n in reversed(mine)]
    made = (a, *mine, b, *others)
    turn = start % len(made)  # nodes of the side that stays count as before, where they can
    return CurvePath(made[len(made) - turn :] + made[: len(made) - turn])


def _cut_at(path: CurvePath, axis: Axis) -> CurvePath:
    """Return the path with nodes wherever it crosses the axis; those near it lie on it."""
    nodes = tuple(
        n.moved(minus(axis.onto(n.at), n.at)) if abs(axis.side(n.at)) <= ON_AXIS else n
        for n in path.nodes
    )
    path = CurvePath(nodes)
    k = 0
    while k < len(path):
        line = path.span(k)
        side = axis.sides(line)
        side[[0, -1]] = np.where(np.abs(side[[0, -1]]) <= 1e-7, 0.0, side[[0, -1]])
        crossed = np.flatnonzero(side[:-1] * side[1:] < 0)
        if len(crossed):
            j = int(crossed[0])
            share = side[j] / (side[j] - side[j + 1])
            long = np.hypot(*np.diff(line, axis=0).T)
            at = (long[:j].sum() + share * long[j]) / long.sum()
            edit, made = inserted_node(path, k + float(at))
            path = edit.after
            node = path.node(made)
            path = path.with_node(made, node.moved(minus(axis.onto(node.at), node.at)))
        k += 1
    return path


def _end(node: CurveNode, axis: Axis, *, leaves: bool) -> CurveNode:
    """Return a node on the axis whose one handle is the other one's mirror image."""
    handle = node.after if leaves else node.before
    if node.smooth and handle != node.at:  # smooth across the axis: the tangent is square to it
        long = math.dist(node.at, handle)
        square = (axis.way[1], -axis.way[0])
        away = axis.side(handle)
        handle = plus(node.at, square, -math.copysign(long, away) if away else long)
    image = axis.reflected(handle)
    before, after = (image, handle) if leaves else (handle, image)
    return replace(node, before=before, after=after, smooth=node.smooth and handle != node.at)


def _reflected(node: CurveNode, axis: Axis) -> CurveNode:
    """Return a node's mirror image on an outline that runs on the same way round."""
    return CurveNode(
        axis.reflected(node.at),
        axis.reflected(node.after),
        axis.reflected(node.before),
        node.smooth,
    )
