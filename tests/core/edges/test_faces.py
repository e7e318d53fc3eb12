"""Far-face outlines of bevelled edges, against exact half planes and the general library."""

import math
from itertools import product

import numpy as np
import pytest
from hypothesis import assume, given, reject
from hypothesis import strategies as st
from shapely import Point, Polygon, symmetric_difference

from ivory_quilt.core.edges.faces import offset_faces
from ivory_quilt.core.edges.profiles import Knife, knives_of, outline_at
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.build import Profile, ProfileKind
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.seams import EdgeRef, Joint, Seam
from ivory_quilt.demo.project import demo_project
from tests.core.edges.plates import plate
from tests.effort import random_cases

ANGLES = st.floats(-60, 60)


def star(radii):
    """A star-shaped polygon of many corners, convex or concave as the radii say."""
    turn = np.linspace(0, 2 * math.pi, len(radii), endpoint=False)
    return Shape.make(np.column_stack((np.cos(turn) * radii, np.sin(turn) * radii)))


def all_round(shape, by):
    return offset_faces(shape, [np.full(len(r), by) for r in shape.rings])


def convex(n, seed):
    rng = np.random.default_rng(seed)
    # Spread evenly but for a good half of their distance: few have corners that are filtered out.
    turn = (np.arange(n) + rng.uniform(0, 0.6, n)) * 2 * math.pi / n + rng.uniform(0, 6)
    points = np.column_stack((np.cos(turn), np.sin(turn))) * 100
    return Shape.from_polygon(Polygon(points).convex_hull)


@random_cases(150, 1500)
@given(st.integers(3, 12), st.integers(0, 10**6), st.data())
def test_convex_faces_are_where_all_bevel_planes_say(n, seed, data):
    """A convex face with a bevel of its own on each edge is the common part of half planes."""
    shape = convex(max(n, 3), seed)
    steps = np.roll(shape.outer, -1, axis=0) - shape.outer
    assume(np.hypot(*steps.T).min() > 4)
    turns = np.abs(np.degrees(np.diff(np.unwrap(np.arctan2(*np.vstack((steps, steps[:1])).T)))))
    # Mitres that are cut off, and edges that count as one curve, are tried elsewhere.
    assume(turns.min() > 10 and turns.max() < 130)
    by = np.array([5 * math.tan(math.radians(data.draw(ANGLES))) for _ in shape.outer])
    box = Polygon([(-400, -400), (400, -400), (400, 400), (-400, 400)])
    exact = box
    for a, step, away in zip(shape.outer, steps, by, strict=True):
        along = step / np.hypot(*step)
        out = np.array([along[1], -along[0]])
        p = a + away * out
        half = [
            p - 900 * along,
            p + 900 * along,
            p + 900 * along - 900 * out,
            p - 900 * along - 900 * out,
        ]
        exact = exact.intersection(Polygon(half))
    # No edge has vanished from the far face.
    assume(exact.area > 100 and len(exact.exterior.coords) - 1 == len(shape.outer))
    found = offset_faces(shape, [by])
    # On a grid: the general library gets outlines that agree to the last digits wrong without one.
    apart = symmetric_difference(found.polygon, exact, grid_size=1e-6)
    assert apart.area < 1e-6 * exact.area + 1e-6


@random_cases(200, 2000)
@given(st.lists(st.floats(45, 100), min_size=5, max_size=40), ANGLES, st.sampled_from([2, 6, 10]))
def test_concave_and_holed_faces_agree_with_the_general_library(radii, angle, thickness):
    """shapely (GEOS) buffers with mitred corners; a polygon within another of 1.2 times it."""
    by = thickness * math.tan(math.radians(angle))
    # Moved by less than its own rounding, the library once gave back no polygon at all.
    assume(by == 0 or abs(by) > 1e-9)
    outer = star(np.array(radii))
    hole = star(np.full(24, 18.0)).outer
    shape = Shape.make(outer.outer, [hole])
    assume(not shape_problem(shape))
    exact = shape.polygon.buffer(by, join_style="mitre", mitre_limit=60)
    further = shape.polygon.buffer(by * 1.2, join_style="mitre", mitre_limit=60)
    assume(exact.geom_type == further.geom_type == "Polygon" and not further.is_empty)
    found = all_round(shape, by)
    assert not shape_problem(found)
    # Corners that stand out beyond the limit are cut off: what is left out lies near them.
    outside = found.polygon.difference(exact.buffer(0.02))
    assert outside.area < 0.02
    missing = exact.difference(found.polygon.buffer(0.02))
    assert missing.area < 0.25 * abs(by) ** 2 * len(radii) + 0.05


@random_cases(100, 1000)
@given(st.lists(st.floats(60, 100), min_size=6, max_size=30), ANGLES)
def test_a_far_face_is_as_far_as_it_should_be_along_every_edge(radii, angle):
    """Middles of long edges: their nearest place on the far face is thickness × tan away."""
    shape = star(np.array(radii))
    by = 4 * math.tan(math.radians(angle))
    found = all_round(shape, by).polygon.exterior
    steps = np.roll(shape.outer, -1, axis=0) - shape.outer
    long = np.hypot(*steps.T) > 8 * abs(by) + 4
    assume(long.any())
    for middle in (shape.outer + steps / 2)[long]:
        assert found.distance(Point(middle)) <= abs(by) + 1e-6


def test_sharp_tips_move_in_without_whiskers():
    """A four-pointed star with hollow sides: the far face is one simple outline inside it."""
    # From tip to tip, each side bowed in by a circle that meets its neighbour at 16°.
    bow, side = 60.0, []
    corners = [(60, 0), (0, 60), (-60, 0), (0, -60)]
    for k, (x, y) in enumerate(corners):
        u, v = corners[(k + 1) % 4]
        share = np.linspace(0, 1, 40, endpoint=False)
        inward = bow * share * (1 - share)
        side.append(
            np.column_stack((x + share * (u - x), y + share * (v - y)))
            - inward[:, None] * np.sign([x + u, y + v]) / math.sqrt(2)
        )
    boss = Shape.make(demo_project().piece("lantern-boss").shape.outer)
    for tipped, by in product((Shape.make(np.vstack(side)), boss), (-1.0, -4.0, -8.4)):
        found = all_round(tipped, by)
        assert tipped.polygon.buffer(1e-6).covers(found.polygon)
        exact = tipped.polygon.buffer(by, join_style="mitre", mitre_limit=60)
        assert symmetric_difference(found.polygon, exact, grid_size=1e-6).area < 0.002 * exact.area
        assert not shape_problem(found)


def test_a_face_that_vanishes_says_so():
    with pytest.raises(InputError, match="nothing"):
        all_round(rectangle(20, 10), -6)
    waist = Shape.make(
        [
            (0, 0),
            (40, 0),
            (40, 18),
            (80, 18),
            (80, 0),
            (120, 0),
            (120, 40),
            (80, 40),
            (80, 22),
            (40, 22),
            (40, 40),
            (0, 40),
        ]
    )
    with pytest.raises(InputError, match="fall apart"):
        all_round(waist, -3)


IN, OUT = Profile(ProfileKind.IN, 45), Profile(ProfileKind.OUT, 30)
MEET = Profile(ProfileKind.MEET)


def test_a_bevel_moves_only_its_edge_and_only_on_the_other_face():
    piece = plate(A=IN, B=OUT)
    assert [e.name for e in edges_of(piece)] == ["A", "B", "C", "D"]
    knives = knives_of(piece)
    inner = outline_at(piece, knives, 0.0, 6.0, 0.0)
    outer = outline_at(piece, knives, 6.0, 6.0, 0.0)
    assert inner.bounds == pytest.approx((0, 0, 100, 60))
    assert outer.bounds == pytest.approx((0, 6, 100 + 6 * math.tan(math.radians(30)), 60))
    middle = outline_at(piece, knives, 3.0, 6.0, 6.0)  # the outer face carries the line
    assert middle.bounds == pytest.approx((0, -3, 100 - 3 * math.tan(math.radians(30)), 60))


def test_a_blade_comes_to_an_edge_in_the_middle():
    piece = plate(A=Profile(ProfileKind.BLADE, width=20))
    knives = knives_of(piece)
    at = [outline_at(piece, knives, h, 6.0, 0.0).bounds[1] for h in (0.0, 1.5, 3.0, 6.0)]
    assert at == pytest.approx([20, 10, 0, 20])


def joined(first, second, dihedral, joint=Joint.MITRE):
    seam = Seam(EdgeRef(first.id, "B"), EdgeRef(second.id, "D"), False, dihedral, joint)
    pieces = {first.id: first, second.id: second}
    return seam, pieces


@given(st.floats(25, 335), st.sampled_from([2.0, 4.0, 6.0, 10.0]), st.sampled_from([4.0, 6.0, 8.0]))
def test_edges_that_meet_close_the_angle_with_equal_faces(dihedral, one, other):
    first, second = plate("a", one, B=MEET), plate("b", other, D=MEET)
    seam, pieces = joined(first, second, dihedral)
    try:
        a = knives_of(first, [seam], pieces)
        b = knives_of(second, [seam], pieces)
    except InputError as error:
        assert "butt it" in str(error)
        reject()
    angle_a = a[0].angle if a else 0.0
    angle_b = b[0].angle if b else 0.0
    assert angle_a + angle_b == pytest.approx(180 - dihedral, abs=1e-6)
    faces = [one / math.cos(math.radians(angle_a)), other / math.cos(math.radians(angle_b))]
    assume(dihedral != 180)
    assert faces[0] == pytest.approx(faces[1], rel=1e-6)


def test_an_edge_meets_what_its_neighbour_was_given():
    first, second = plate("a", 6, B=MEET), plate("b", 6, D=Profile(ProfileKind.IN, 45))
    seam, pieces = joined(first, second, 180)
    (knife,) = knives_of(first, [seam], pieces)
    assert knife == Knife("B", 45.0, why=knife.why)  # a lap: in on one, out on the next
    square = plate("b", 6)
    seam, pieces = joined(first, square, 120)
    assert knives_of(first, [seam], pieces)[0].angle == pytest.approx(60)
    seam, pieces = joined(first, square, 60, Joint.BUTT)
    assert knives_of(first, [seam], pieces)[0].angle == pytest.approx(30)


def test_edges_that_are_gone_are_left_out():
    assert knives_of(plate(Z=IN)) == ()


@pytest.mark.parametrize(
    ("half", "reach"),
    [
        (25.0, 1 / math.sin(math.radians(25))),
        (15.0, 1 / math.sin(math.radians(15))),
        # Beyond five times the offset the tip is cut off, half as far out.
        (4.0, math.sin(math.radians(4)) + 2.5 * math.cos(math.radians(4))),
    ],
)
def test_a_sharp_tip_stands_out_no_further_than_its_mitre_may(half, reach):
    """A mitre stands out 1 ÷ sin of half the tip's angle; five times is our choice."""
    rise = 100 * math.tan(math.radians(half))
    spike = Shape.make([(0, -rise), (100, 0), (0, rise)])
    assert all_round(spike, 1.0).bounds[2] == pytest.approx(100 + reach, abs=1e-6)
    # A slit as sharp, in a plate whose edges move in: the far face is open as far beyond its end.
    wide = min(rise, 190.0)
    deep = wide / math.tan(math.radians(half))
    slit = Shape.make(
        [(-200, -60), (200, -60), (200, deep), (wide, deep), (0, 0), (-wide, deep), (-200, deep)]
    )
    moved = all_round(slit, -1.0).outer
    assert moved[np.abs(moved[:, 0]) < 5, 1][moved[np.abs(moved[:, 0]) < 5, 1] > -50].min() == (
        pytest.approx(-reach, abs=1e-6)
    )


def test_two_bevels_along_one_straight_line_leave_a_step():
    """What lies in one line has no mitre: each stretch stands where its own bevel puts it."""
    foot = Shape.make([(0, 0), (50, 0), (100, 0.5), (100, 60), (0, 60)])
    found = offset_faces(foot, [np.array([2.0, 0.0, 0.0, 0.0, 0.0])])
    assert found.area - foot.area == pytest.approx(100.0, abs=1.0)
    assert [list(p) for p in found.outer.round(6).tolist()].count([50.0, -2.0]) == 1
    assert [50.0, 0.0] in found.outer.round(6).tolist()


def test_an_edge_whose_neighbour_is_gone_is_cut_square():
    first, second = plate("a", 6, B=MEET), plate("b", 6)
    seam, pieces = joined(first, second, 120)
    assert knives_of(first, [seam], pieces)[0].angle == pytest.approx(60)
    assert knives_of(first, [seam], {"a": first}) == ()
