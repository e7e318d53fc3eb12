"""The compiled kernels against a general geometry library, on random shapes and poses."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Point, Polygon, maximum_inscribed_circle

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.kernels.geometry import random_unit, segments_meet, shapes_meet
from ivory_quilt.core.nesting.kernels.slices import add_pair, make_chains
from ivory_quilt.core.nesting.prepare import (
    CIRCLE_CELLS,
    TOUCH,
    grow,
    inscribed_circles,
    polygon_edges,
)
from tests.strategies import poses, shapes


def edges_and_box(shape):
    edges = polygon_edges(shape.polygon)
    x0, y0, x1, y1 = shape.bounds
    return edges, np.array([x0, y0, x1, y1])


@given(shapes(), shapes(), poses)
def test_meeting_is_what_the_library_says(a, b, pose):
    b = b.placed(Pose(pose.x / 6, pose.y / 6, pose.rotation, pose.mirrored))
    ea, box_a = edges_and_box(a)
    eb, box_b = edges_and_box(b)
    meets = shapes_meet(ea, 0, len(ea), box_a, eb, 0, len(eb), box_b)
    distance = a.polygon.distance(b.polygon)
    if distance > 1e-6:
        assert not meets
    elif a.polygon.intersection(b.polygon).area > 1e-6:
        assert meets


def test_touching_counts_as_meeting():
    assert segments_meet(0, 0, 10, 0, 5, 0, 5, 5)
    assert segments_meet(0, 0, 10, 0, 10, 0, 20, 0)
    assert segments_meet(0, 0, 10, 0, 4, 0, 6, 0)
    assert not segments_meet(0, 0, 10, 0, 11, 0, 20, 0)
    ea, box = edges_and_box(rectangle(10, 10))
    eb, box_b = edges_and_box(rectangle(10, 10).placed(Pose(10, 3)))
    assert shapes_meet(ea, 0, 4, box, eb, 0, 4, box_b)
    ec, box_c = edges_and_box(rectangle(2, 2).placed(Pose(4, 4)))
    assert shapes_meet(ea, 0, 4, box, ec, 0, 4, box_c)
    assert shapes_meet(ec, 0, 4, box_c, ea, 0, 4, box)


def prepared(shape, swap):
    edges = polygon_edges(shape.polygon)
    n = len(edges)
    vertices = np.zeros((2 * n, 2))
    heads = np.zeros(2 * n + 1, dtype=np.int64)
    count = make_chains(edges, 0, n, swap, vertices, 0, heads, 0)
    return (edges, 0, n, vertices, heads, 0, count)


@given(shapes())
def test_chains_rise_and_hold_every_edge(shape):
    edges, _, n, vertices, heads, _, count = prepared(shape, False)
    length = 0.0
    for k in range(count):
        chain = vertices[heads[k] : heads[k + 1]]
        assert (np.diff(chain[:, 1]) >= 0).all()
        length += np.hypot(*np.diff(chain, axis=0).T).sum()
    around = np.hypot(edges[:, 2] - edges[:, 0], edges[:, 3] - edges[:, 1]).sum()
    assert length == pytest.approx(around)
    assert heads[count] <= 2 * n


@pytest.mark.parametrize("swap", [False, True])
@given(a=shapes(), b=shapes(size=140.0), rise=st.floats(-110, 110, allow_nan=False))
def test_a_slice_is_the_no_fit_polygon_at_that_height(swap, a, b, rise):
    low, high = np.zeros(1), np.zeros(1)  # they grow
    low, high, n = add_pair(prepared(a, swap), rise, prepared(b, swap), swap, low, high, 0)
    spans = list(zip(low[:n], high[:n], strict=True))

    def overlap(shift):
        pose = Pose(rise, shift) if swap else Pose(shift, rise)
        return a.placed(pose).polygon.intersection(b.polygon).area

    for k, (lo, hi) in enumerate(spans):
        assert lo <= hi
        if k:
            assert lo > spans[k - 1][1]
        # Just outside an interval the shapes are apart.
        for edge in (lo - 1e-4, hi + 1e-4):
            if not any(x <= edge <= y for x, y in spans):
                assert overlap(edge) < 1e-6
    for shift in np.linspace(-160, 160, 41):
        if not any(lo - 1e-6 <= shift <= hi + 1e-6 for lo, hi in spans):
            assert overlap(shift) < 1e-6
        elif any(lo + 1e-3 < shift < hi - 1e-3 for lo, hi in spans):
            pose = Pose(rise, shift) if swap else Pose(shift, rise)
            assert a.placed(pose).polygon.distance(b.polygon) == 0


def test_a_cavity_is_found_by_a_slice():
    frame = Shape.make(rectangle(100, 100).outer, [rectangle(60, 60).outer + 20])
    low, high = np.zeros(64), np.zeros(64)
    plug = rectangle(20, 20)
    low, high, n = add_pair(
        prepared(plug, False), 40.0, prepared(frame, False), False, low, high, 0
    )
    assert np.round(low[:n], 6).tolist() == [-20, 60]
    assert np.round(high[:n], 6).tolist() == [20, 100]


@given(shapes(size=200.0), st.sampled_from([0.0, 1.0, 2.0, 5.0]))
def test_grown_outlines_contain_the_part_and_half_its_gap(shape, gap):
    grown = grow(shape, gap)
    assert grown.is_valid
    # All but the hair that is agreed, which a corner may be short of by half as much again.
    needed = shape.polygon.buffer(gap / 2 - 1.5 * TOUCH, quad_segs=32)
    assert needed.difference(grown).area < 1e-6
    # And not much more than that: foam is dear.
    assert grown.difference(shape.polygon.buffer(gap / 2 + 0.7, quad_segs=32)).area < 1e-6


@given(shapes())
def test_inscribed_circles_lie_inside_and_apart_the_largest_first(shape):
    circles = inscribed_circles(shape.polygon)
    for k, (x, y, r) in enumerate(circles):
        assert shape.polygon.buffer(1e-6).covers(Point(x, y).buffer(r * 0.999))
        for u, v, q in circles[:k]:
            assert np.hypot(u - x, v - y) >= r + q - 1e-9
            assert q >= r
    # The library's largest circle, found by another way; ours is limited to its grid.
    library = maximum_inscribed_circle(shape.polygon, tolerance=0.01).length
    step = max(shape.width, shape.height) / CIRCLE_CELLS
    assert library - step <= circles[0, 2] <= library + 0.02


def test_a_shape_thinner_than_the_grid_has_one_circle():
    ((x, y, r),) = inscribed_circles(Polygon([(0, 0), (1000, 900), (1000, 900.5)]))
    assert 0 < r < 0.5
    assert 0 < x < 1000
    assert y == pytest.approx(0.9 * x, abs=0.5)


def test_random_numbers_are_even_and_repeat():
    state = np.array([7], dtype=np.uint64)
    first = [random_unit(state) for _ in range(20000)]
    again = np.array([7], dtype=np.uint64)
    assert [random_unit(again) for _ in range(5)] == first[:5]
    histogram, _ = np.histogram(first, bins=10, range=(0, 1))
    assert histogram.min() > 1800
    assert histogram.max() < 2200
