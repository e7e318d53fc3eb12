"""Allowances outside an outline, against an offset library and by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Polygon

from ivory_quilt.core.geometry.allowance import LIMIT, with_allowance
from ivory_quilt.core.geometry.shape import rectangle
from tests.effort import random_cases
from tests.strategies import shapes

SQUARE = rectangle(100, 60).outer


@random_cases(40, 400)
@given(shapes(size=200.0, holes=False), st.floats(0.5, 25.0))
def test_one_width_is_an_offset_with_mitred_corners(shape, width):
    made = with_allowance(shape.outer, np.full(len(shape.outer), width))
    # GEOS measures a mitre from the corner to its tip as we do.
    known = Polygon(shape.polygon.buffer(width, join_style="mitre", mitre_limit=LIMIT).exterior)
    assert made.area == pytest.approx(known.area, rel=1e-3)
    assert made.symmetric_difference(known).area < 2e-3 * known.area


@random_cases(30, 300)
@given(shapes(size=200.0, holes=False), st.lists(st.floats(0.0, 20.0), min_size=12, max_size=12))
def test_every_stretch_has_its_own_width_at_least(shape, widths):
    widths = np.array(widths[: len(shape.outer)])
    made = with_allowance(shape.outer, widths)
    assert made.buffer(1e-4).covers(shape.polygon)
    following = np.roll(shape.outer, -1, axis=0)
    for a, b, wide in zip(shape.outer, following, widths, strict=True):
        middle = (a + b) / 2
        out = np.array([b[1] - a[1], a[0] - b[0]]) / np.hypot(*(b - a))
        way = LineString([middle, middle + (wide - 1e-3) * out])
        assert wide < 2e-3 or made.buffer(1e-4).covers(way)


def test_corners_of_two_widths_are_where_both_lines_meet():
    made = with_allowance(SQUARE, np.array([20.0, 10.0, 10.0, 10.0]))
    assert made.bounds == pytest.approx((-10, -20, 110, 70))
    assert made.area == pytest.approx(120 * 90)
    raw = with_allowance(SQUARE, np.array([0.0, 10.0, 10.0, 10.0]))
    assert raw.area == pytest.approx(120 * 70)
    none = with_allowance(SQUARE, np.zeros(4))
    assert none.equals(Polygon(SQUARE))


def test_a_point_is_cut_off_where_it_would_stand_out_too_far():
    spike = np.array([(0.0, 0.0), (200.0, -5.0), (200.0, 5.0)])
    made = with_allowance(spike, np.full(3, 10.0))
    assert made.bounds[0] == pytest.approx(-10 * LIMIT, abs=0.5)


def test_a_step_joins_widths_that_differ_along_a_straight_edge():
    line = np.array([(0.0, 0.0), (50.0, 0.0), (100.0, 0.0), (100.0, 60.0), (0.0, 60.0)])
    made = with_allowance(line, np.array([20.0, 5.0, 0.0, 0.0, 0.0]))
    assert made.area == pytest.approx(100 * 60 + 50 * 20 + 50 * 5, abs=1e-3)
