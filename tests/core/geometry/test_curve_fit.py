"""Outlines made of few nodes and curves: corners, straight sides, closeness, huge and tiny ones."""

import math
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_fit import fit_line, fitted
from ivory_quilt.core.geometry.curve_path import CurveNode, CurvePath, point_at, split
from ivory_quilt.core.geometry.curves import circle
from tests.effort import random_cases


def off(path, ring):
    """The most that any point of a ring lies off the curves, mm."""
    line = shapely.LinearRing(path.ring())
    return float(shapely.distance(line, shapely.points(ring)).max())


def test_a_polygon_stays_its_corners_and_straight_sides():
    ring = np.array([(0.0, 0), (60, 0), (60, 30), (30, 12), (0, 30)])
    path = fitted(ring)
    assert [n.at for n in path.nodes] == [tuple(p) for p in ring.tolist()]
    assert all(path.is_straight(k) for k in range(5))
    more = np.insert(ring, 1, [(20, 0), (40, 0)], axis=0)  # points on a side say nothing
    assert len(fitted(more)) == 5


def test_a_circle_is_four_smooth_nodes():
    path = fitted(circle((10, 20), 40))
    assert len(path) == 4
    assert all(n.smooth for n in path.nodes)
    for node in path.nodes:
        handle = math.dist(node.at, node.after)
        # The usual handle of a quarter circle, (4/3)·tan(π/8)·r.
        assert handle == pytest.approx(4 / 3 * math.tan(math.pi / 8) * 40, rel=0.003)


def test_a_slot_goes_from_lines_into_arcs_without_a_corner():
    right = circle((80, 20), 20)
    right = right[right[:, 0] >= 80 - 1e-9]
    right = right[np.argsort(np.arctan2(right[:, 1] - 20, right[:, 0] - 80))]
    left = np.column_stack((100 - right[:, 0], 40 - right[:, 1]))
    path = fitted(np.vstack((right, left)))
    straight = [k for k in range(len(path)) if path.is_straight(k)]
    assert len(straight) == 2
    assert all(n.smooth for n in path.nodes)
    assert len(path) <= 8


@given(
    st.integers(0, 10**6),
    st.integers(3, 7),
    st.floats(0.02, 1.0),
)
@random_cases(25, 200)
def test_every_point_lies_within_the_tolerance(seed, waves, tolerance):
    rng = np.random.default_rng(seed)
    t = np.linspace(0, 2 * math.pi, 400)[:-1]
    r = 60 * (1 + 0.12 * np.sin(waves * t + rng.uniform(0, 6)) + 0.05 * np.cos(2 * t))
    ring = np.column_stack((r * np.cos(t), r * np.sin(t)))
    path = fitted(ring, tolerance)
    assert off(path, ring) <= tolerance + 0.011  # flattened within 0.01 mm
    assert len(path) < 60
    assert len(fitted(ring, 1.0)) <= len(fitted(ring, 0.02))


def test_a_line_between_given_tangents_keeps_them():
    x = np.linspace(0, 50, 60)
    line = np.column_stack((x, 6 * np.sin(x / 8)))
    way = (8 / math.hypot(8, 6), 6 / math.hypot(8, 6))
    cubics = fit_line(line, way, (1.0, 0.0), 0.05)
    first = np.subtract(cubics[0][1], cubics[0][0])
    assert first[0] * way[1] - first[1] * way[0] == pytest.approx(0, abs=1e-9)
    assert cubics[-1][2][1] == pytest.approx(cubics[-1][3][1])
    for one, two in pairwise(cubics):
        assert one[3] == two[0]


def test_a_cubic_cut_in_two_is_the_same_curve():
    control = ((0.0, 0.0), (10.0, 40.0), (60.0, -20.0), (80.0, 30.0))
    one, two = split(control, 0.3)
    for t in (0.0, 0.4, 1.0):
        assert point_at(one, t) == pytest.approx(point_at(control, 0.3 * t))
        assert point_at(two, t) == pytest.approx(point_at(control, 0.3 + 0.7 * t))


def test_places_on_a_path_are_found_again():
    path = fitted(circle((0, 0), 30))
    for at in (0.0, 0.25, 1.7, 3.99):
        found, away = path.locate(path.place(at))
        assert away < 1e-9
        assert found == pytest.approx(at, abs=1e-6)
        k, t = path.parameter(at)
        assert point_at(path.control(k), t) == pytest.approx(path.place(at), abs=0.02)
    turned = path.turned_round()
    assert off(turned, path.ring()) < 1e-9
    assert turned.node(0).after == path.node(-1).before


@pytest.mark.parametrize(
    "nodes", [(CurveNode.corner((0, 0)),), (CurveNode.corner((math.nan, 0)),) * 3]
)
def test_what_is_no_outline_is_refused(nodes):
    with pytest.raises(InputError, match="outline"):
        CurvePath(nodes)
