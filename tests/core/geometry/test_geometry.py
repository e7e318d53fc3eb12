import math
import pickle

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import Polygon

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle, flatten_bezier
from ivory_quilt.core.geometry.shape import (
    Pose,
    Shape,
    longest_chord,
    once_a_shape,
    rectangle,
    ring,
    ring_length,
    signed_area,
)
from ivory_quilt.core.geometry.validity import crossing, shape_problem, untangle
from tests.strategies import poses, shapes

coordinates = st.integers(-2000, 2000).map(lambda n: n / 10)


def test_orientation_is_put_right():
    clockwise = Shape.make([(0, 0), (0, 10), (10, 10), (10, 0)], [[(2, 2), (4, 2), (4, 4), (2, 4)]])
    assert signed_area(clockwise.outer) == 100
    assert signed_area(clockwise.holes[0]) == -4
    assert clockwise.area == 96


@pytest.mark.parametrize(
    "points",
    [
        [],
        [(0, 0), (1, 1)],
        [(0, 0), (0, 0), (1, 1), (1, 1)],
        [(0, 0), (1, float("nan")), (2, 0)],
        [(0, 0), (1e12, 0), (1, 1)],
        "abc",
        [(0, 0, 0), (1, 1, 1), (2, 0, 0)],
    ],
)
def test_degenerate_rings_are_refused(points):
    with pytest.raises(InputError, match="outline"):
        ring(points)


@given(shapes(), poses)
def test_placing_keeps_area_and_unplacing_brings_back(shape, pose):
    placed = shape.placed(pose)
    assert placed.area == pytest.approx(shape.area, rel=1e-9)
    assert ring_length(placed.outer) == pytest.approx(shape.outline_length, rel=1e-9)
    x, y = pose.apply(shape.outer[:1])[0]
    assert pose.unapply((x, y)) == pytest.approx(tuple(shape.outer[0]), abs=1e-6)


def test_a_pose_mirrors_then_turns_then_moves():
    # By hand: (1, 2) mirrored is (-1, 2), turned 90° is (-2, -1), moved by (10, 20) is (8, 19).
    assert Pose(10, 20, 90, True).apply(np.array([[1.0, 2.0]])).tolist() == [[8.0, 19.0]]


def test_quarter_turns_are_exact():
    turned = rectangle(100, 50).placed(Pose(0, 0, 270))
    assert turned.bounds == (0.0, -100.0, 50.0, 0.0)


@given(shapes())
def test_mirroring_twice_is_nothing(shape):
    twice = shape.mirrored().mirrored()
    assert twice.area == pytest.approx(shape.area)
    assert twice.polygon.symmetric_difference(shape.polygon).area < 1e-6


@given(shapes(), st.floats(0.1, 10))
def test_scaling_scales_lengths_once_and_areas_twice(shape, factor):
    scaled = shape.scaled(factor)
    assert scaled.area == pytest.approx(shape.area * factor**2, rel=1e-9)
    assert scaled.outline_length == pytest.approx(shape.outline_length * factor, rel=1e-9)


def test_shapes_compare_by_their_points():
    one, alike = (Shape.make([(0, 0), (3, 0), (3, 4), (0, 4)]) for _ in range(2))
    assert one is not alike
    assert one == alike
    assert (one != alike) is False
    assert one != rectangle(4, 3)
    assert (one == rectangle(4, 3)) is False
    assert one != "a shape"
    assert len({one, alike}) == 1


@given(shapes(), poses, st.floats(0.1, 9.0))
def test_a_shape_drawn_elsewhere_is_the_one_made_of_those_points(shape, pose, factor):
    rings = [pose.apply(r) * factor for r in shape.rings]
    assert shape_problem(shape) == ""
    moved = shape.drawn_at(rings)
    made = Shape.make(rings[0], rings[1:])
    assert moved == made
    assert not any(r.flags.writeable for r in moved.rings)
    assert shape_problem(made) == shape_problem(moved) == ""


def test_what_is_drawn_too_small_or_too_large_is_looked_at_again():
    shape = rectangle(30.0, 40.0)
    assert shape_problem(shape) == ""
    assert shape_problem(shape.drawn_at([shape.outer * 1e-7])) == "the outline encloses no area"
    unusable = (shape.outer * 1e9, *(np.full((4, 2), bad) for bad in (0.0, math.nan)))
    for points in unusable:
        with pytest.raises(InputError):
            shape.drawn_at([points])


@given(shapes())
def test_the_label_stands_on_foam(shape):
    x, y, room = longest_chord(shape.edges)
    from shapely import LineString

    half = room / 2 - 1e-3
    assume(half > 0)
    chord = LineString([(x - half, y), (x + half, y)])
    assert shape.polygon.buffer(1e-3).covers(chord)


@given(
    st.lists(st.tuples(coordinates, coordinates), min_size=3, max_size=4),
    st.sampled_from([0.01, 0.5]),
)
def test_flattened_curves_keep_their_tolerance(control, tolerance):
    points = np.array(control)
    flat = np.vstack((points[:1], flatten_bezier(points, tolerance)))
    t = np.linspace(0, 1, 2001)[:, None]
    u = 1 - t
    if len(points) == 3:
        true = u * u * points[0] + 2 * u * t * points[1] + t * t * points[2]
    else:
        true = (
            u**3 * points[0]
            + 3 * u * u * t * points[1]
            + 3 * u * t * t * points[2]
            + t**3 * points[3]
        )
    from shapely import LineString, distance
    from shapely import points as make

    assume(len(flat) > 1 and np.ptp(flat, axis=0).any())
    assert distance(LineString(flat), make(true)).max() <= tolerance * 1.01


def test_circles_are_inscribed_within_tolerance():
    points = circle((5, 5), 50, 0.01)
    radii = np.hypot(points[:, 0] - 5, points[:, 1] - 5)
    assert radii == pytest.approx(np.full(len(points), 50.0))
    middle = (points + np.roll(points, 1, axis=0)) / 2
    assert 50 - np.hypot(middle[:, 0] - 5, middle[:, 1] - 5).min() <= 0.01
    assert len(points) % 4 == 0


def test_a_bow_tie_is_found_and_parted():
    bow = ring([(0, 0), (10, 10), (10, 0), (0, 10)])
    assert crossing(Polygon(bow)) == pytest.approx((5, 5))
    parts = untangle(bow)
    assert [round(p.area, 6) for p in parts] == [25, 25]
    assert crossing(Polygon([(0, 0), (1, 0), (0, 1)])) is None


def test_what_is_wrong_with_a_shape_is_said():
    assert shape_problem(rectangle(1, 1)) == ""
    assert "crosses" in shape_problem(Shape.make([(0, 0), (10, 10), (10, 0), (0, 12)]))
    outside = Shape.make([(0, 0), (9, 0), (9, 9)], [[(20, 20), (21, 20), (21, 21)]])
    assert "holes" in shape_problem(outside)
    assert "no area" in shape_problem(Shape.make([(0, 0), (5, 5), (10, 10)]))
    assert math.isclose(rectangle(3, 4).centroid[0], 1.5)


def test_what_is_worked_out_of_a_shape_is_worked_out_once():
    asked = []

    @once_a_shape
    def grown(shape, by, *, twice=False):
        asked.append((shape, by, twice))
        return shape.area + by * (2 if twice else 1)

    one, alike = Shape.make(rectangle(9.0, 9.0).outer), Shape.make(rectangle(9.0, 9.0).outer)
    assert grown(one, 2.0) == grown(one, 2.0) == one.area + 2.0
    assert grown(one, 3.0) == one.area + 3.0
    assert grown(one, 2.0, twice=True) == one.area + 4.0
    assert len(asked) == 3
    assert grown(alike, 2.0) == one.area + 2.0  # its own: it may live longer
    assert len(asked) == 4
    assert "found" not in pickle.loads(pickle.dumps(one)).__dict__
