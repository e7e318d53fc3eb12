"""Paths for the eye: true to the outline, in fewer corners where no screen shows them."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Polygon

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.desk.canvas.foam_items import PLAINER, FoamItem
from ivory_quilt.desk.canvas.paths import MANY, THINNED, line_path, plain_paths, shape_path
from ivory_quilt.desk.theme.palette import LIGHT

BY = (0.1, 0.3, 0.8)


def rings(path):
    """Return a path's rings in mm, y upwards."""
    return [np.array([(p.x(), -p.y()) for p in polygon]) for polygon in path.toSubpathPolygons()]


@st.composite
def wavy(draw):
    """An outline of many points, with or without a hole."""
    lobes, phase = draw(st.integers(2, 7)), draw(st.floats(0, 6))
    at = np.linspace(0, 2 * np.pi, draw(st.integers(200, 400)), endpoint=False)
    radius = 80 + 25 * np.sin(lobes * at + phase)
    outer = np.column_stack((radius * np.cos(at), radius * np.sin(at)))
    hole = 20 * np.column_stack((np.cos(at), np.sin(at)))
    return Shape.make(outer, [hole] if draw(st.booleans()) else [])


def test_a_path_of_few_points_is_the_outline_itself(qapp):
    shape = Shape.make([(0, 0), (31.25, 0.5), (12, 40)], [[(10, 5), (16, 5), (13, 12)]])
    outer, hole = rings(shape_path(shape))
    assert outer[:-1].tolist() == shape.outer.tolist()
    assert hole[:-1].tolist() == shape.holes[0].tolist()
    assert (outer[0] == outer[-1]).all()  # closed


@given(wavy())
def test_plainer_paths_keep_within_what_they_may_be_off(qapp, shape):
    corners = [sum(len(r) for r in shape.rings) + 1]
    for path, by in zip((shape_path(shape), *plain_paths(shape, BY)), (THINNED, *BY), strict=True):
        drawn = rings(path)
        assert len(drawn) == len(shape.rings)
        plain = Polygon(drawn[0], drawn[1:])
        assert plain.boundary.hausdorff_distance(shape.polygon.boundary) <= by + 1e-9
        corners.append(sum(len(r) for r in drawn))
    assert corners == sorted(corners, reverse=True)
    assert corners[-1] < corners[0] / 2


def test_an_outline_that_would_vanish_is_kept(qapp):
    at = np.linspace(0, 2 * np.pi, MANY + 1, endpoint=False)
    dot = Shape.make(0.05 * np.column_stack((np.cos(at), np.sin(at))))
    for path in plain_paths(dot, BY):
        assert len(rings(path)[0]) >= 3
        assert path.boundingRect().width() > 0.05


def test_long_lines_are_thinned_and_short_ones_are_not(qapp):
    at = np.linspace(0, 3, MANY + 60)
    long = PieceLine(LineKind.SCORE, np.column_stack((40 * at, 15 * np.sin(at))))
    (drawn,) = rings(line_path(long))
    assert len(drawn) < len(at) / 2
    assert LineString(drawn).hausdorff_distance(LineString(long.points)) <= THINNED
    short = PieceLine(LineKind.SCORE, np.array([[0.0, 0.0], [10.0, 0.01], [20.0, 0.0]]))
    assert rings(line_path(short))[0].tolist() == short.points.tolist()


@pytest.mark.parametrize("angle", [0, 37, 90])
def test_a_strip_with_no_room_for_words_is_drawn_without(qapp, angle):
    strip = FoamItem(rectangle(310, 18), 2.0, LIGHT, "shoulder rim", "", (), Pose(5, 5, angle))
    assert strip.more_from > (0.8 if angle == 0 else 1.4)
    assert math.isinf(FoamItem(rectangle(310, 18), 2.0, LIGHT).more_from)  # no name, no lines
    assert strip.plain(None).boundingRect().width() > 17
    assert len(PLAINER) == len(strip._own_plain)
