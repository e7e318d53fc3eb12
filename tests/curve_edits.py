"""Random edits of outlines, and their exact measures by a font library."""

import math

from fontTools.misc.bezierTools import calcCubicArcLength
from fontTools.pens.areaPen import AreaPen

from ivory_quilt.core.editing.node_edits import (
    HandleSide,
    arched,
    bent_span,
    inserted_node,
    moved_handle,
    moved_nodes,
    removed_nodes,
    smoothed,
    straightened,
    tangents,
)
from ivory_quilt.core.geometry.curve_path import plus


def off_tangent(path, k):
    """How far an outline turns at a node, degrees."""
    came, goes = tangents(path, k)
    turn = math.atan2(came[0] * goes[1] - came[1] * goes[0], came[0] * goes[0] + came[1] * goes[1])
    return math.degrees(abs(turn))


def exact(path):
    """Length by adaptive quadrature and area by Green's theorem, of the cubics themselves."""
    pen = AreaPen()
    pen.moveTo(path.node(0).at)
    length = 0.0
    for k in range(len(path)):
        a, b, c, d = path.control(k)
        pen.curveTo(b, c, d)
        length += calcCubicArcLength(a, b, c, d)
    pen.closePath()
    return length, pen.value


def random_edit(rng, path):
    k = int(rng.integers(len(path)))
    by = tuple(rng.uniform(-5, 5, 2).tolist())
    what = int(rng.integers(8))
    if what == 0:
        return moved_nodes(path, [k], by)
    if what == 1:
        side = HandleSide.BEFORE if by[0] > 0 else HandleSide.AFTER
        return moved_handle(path, k, side, plus(getattr(path.node(k), side.value), by))
    if what == 2:
        return bent_span(path, k, 0.5, plus(path.place(k + 0.5), by))
    if what == 3:
        return inserted_node(path, k + float(rng.uniform(0.1, 0.9)))[0]
    if what == 4:
        return removed_nodes(path, [k])
    if what == 5:
        return smoothed(path, [k])
    if what == 6:
        return straightened(path, k)
    return arched(path, k, by[0])
