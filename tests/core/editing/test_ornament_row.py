"""Rows of ornaments: equal steps along the true curve, symmetric, never off the piece."""

import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import minimize_scalar

from ivory_quilt.core.document.ornament_rows import with_row
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.editing.ornament_row import AROUND, OrnamentRow, RowOf, row_places
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.edges import edges_between, edges_of
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.record import replace
from tests.effort import random_cases


def plate(shape=None, **more):
    return Piece("p", "plate", shape or rectangle(200, 100), **more)


def half_ellipse(a, b, many=4001):
    """An arch on its chord: edge A is the chord, edge B the curve."""
    t = np.linspace(0, math.pi, many)
    curve = np.column_stack((a * np.cos(t), b * np.sin(t)))
    shape = Shape.make(curve.tolist())
    return plate(shape, edges=edges_between([(-a, 0.0), (a, 0.0)]))


def test_a_row_along_a_straight_edge_by_hand():
    places = row_places(plate(), OrnamentRow("A", count=5, inset=12, ends=8))
    assert places.middles == pytest.approx(np.array([(x, 12) for x in (20, 60, 100, 140, 180)]))
    assert places.turns == pytest.approx([0] * 5)
    assert places.spacing == pytest.approx(40)
    # A spacing comes out even: 160 mm in steps of nearly 50.
    near = row_places(plate(), OrnamentRow("A", spacing=50, inset=12, ends=8))
    assert near.spacing == pytest.approx(160 / 3)
    (one,) = row_places(plate(), OrnamentRow("A", count=1, inset=12)).middles
    assert one == pytest.approx((100, 12))
    upwards = row_places(plate(), OrnamentRow("B", count=2, inset=10))
    assert upwards.middles == pytest.approx(np.array([(190, 10), (190, 90)]))
    assert upwards.turns == pytest.approx([90, 90])


@random_cases(12, 100)
@given(st.floats(80, 200), st.floats(0.5, 1.5), st.floats(0, 25), st.integers(3, 30))
def test_steps_are_equal_along_the_curve_beside_an_ellipse(a, flat, inset, count):
    """Against the arc length of the parallel curve, by quadrature (QUADPACK, Piessens 1983)."""
    b = flat * a
    inset = min(inset, 0.5 * min(a, b) ** 2 / max(a, b))  # short of the evolute: no fold
    piece = half_ellipse(a, b)
    row = OrnamentRow("B", count=count, inset=inset, ends=5.0)
    places = row_places(piece, row)

    def beside(t):
        slope = math.hypot(b * math.cos(t), a * math.sin(t))
        normal = np.array([b * math.cos(t), a * math.sin(t)]) / slope
        return np.array([a * math.cos(t), b * math.sin(t)]) - inset * normal

    def speed(t):
        curve = math.hypot(a * math.sin(t), b * math.cos(t))
        return curve - inset * a * b / curve**2

    def where(middle):
        def off(t):
            return float(np.hypot(*(beside(t) - middle)))

        rough = min(np.linspace(0, math.pi, 200), key=off)
        found = minimize_scalar(off, bounds=(rough - 0.05, rough + 0.05), options={"xatol": 1e-10})
        assert off(found.x) < 0.01
        return found.x

    at = [where(m) for m in places.middles]
    steps = [quad(speed, s, t)[0] for s, t in itertools.pairwise(at)]
    assert steps == pytest.approx([places.spacing] * (count - 1), abs=0.01)
    # The curve is its own mirror image, and so is the row.
    mirrored = places.middles[::-1] * (-1, 1)
    assert mirrored == pytest.approx(places.middles, abs=0.01)


def test_at_a_sharp_corner_a_row_begins_as_far_from_the_edge_beside():
    wedge = plate(Shape.make([(0, 0), (200, 0), (200, 100)]))
    first = row_places(wedge, OrnamentRow("A", count=2, inset=10)).middles[0]
    # The bisector of atan(1/2) at the corner: 10 mm from both edges.
    assert first == pytest.approx((10 / math.tan(math.atan(0.5) / 2), 10), abs=0.01)


def test_all_around_every_step_is_the_same_and_it_closes():
    places = row_places(plate(), OrnamentRow(AROUND, count=26, inset=20))
    assert len(places.middles) == 26
    assert places.spacing == pytest.approx((160 + 60) * 2 / 26)
    ring = shapely.box(20, 20, 180, 80).exterior
    along = np.sort([ring.project(shapely.Point(m)) for m in places.middles])
    assert np.diff(along) == pytest.approx([places.spacing] * 25)
    assert all(ring.distance(shapely.Point(m)) < 1e-9 for m in places.middles)


@random_cases(60, 500)
@given(st.integers(0, 10**6))
def test_nothing_reaches_off_the_piece_or_it_is_refused(seed):
    random = np.random.default_rng(seed)
    turns = np.cumsum(random.uniform(0.3, 1.2, 8))
    turns *= 2 * np.pi / (turns[-1] + 0.3)
    radius = random.uniform(40, 120, 8)[:, None]
    piece = plate(Shape.make((radius * np.column_stack((np.cos(turns), np.sin(turns)))).tolist()))
    edge = str(random.choice([AROUND, *(e.name for e in edges_of(piece))]))
    of = RowOf.HOLES if random.random() < 0.5 else RowOf.MARKS
    first, last = random.uniform(2, 20, 2)
    row = OrnamentRow(
        edge, of, int(random.integers(1, 25)), 0.0, *random.uniform(0, 30, 2), first, last
    )
    project = Project(pieces=(piece,))
    try:
        made, places = with_row(project, "p", row)
    except InputError:
        return
    sizes = row.sizes(len(places.middles))
    outline = shapely.Polygon(piece.shape.outer)
    for middle, size in zip(places.middles, sizes, strict=True):
        spot = shapely.Point(middle)
        assert outline.contains(spot)
        assert outline.exterior.distance(spot) >= size / 2 - 0.02  # a circle's chords
    (after,) = made.pieces
    assert len(after.shape.holes) == (len(sizes) if of is RowOf.HOLES else 0)
    assert len(after.lines) == (0 if of is RowOf.HOLES else len(sizes))


def test_holes_are_graded_and_cut():
    row = OrnamentRow("A", count=3, inset=20, ends=10, first=6, last=18)
    made, _ = with_row(Project(pieces=(plate(),)), "p", row)
    holes = made.pieces[0].shape.holes
    assert sorted(round(float(np.ptp(h[:, 0])), 2) for h in holes) == [6, 12, 18]


def test_pieces_stand_in_turn_the_way_the_row_runs_and_are_counted():
    stud = Piece("s", "stud", rectangle(10, 6))
    spike = Piece("k", "spike", rectangle(8, 8), count=4)
    base = plate(count=2, hand=Hand.PAIR)
    project = Project(pieces=(base, stud, spike))
    row = OrnamentRow("B", RowOf.PIECES, 5, inset=15, pieces=("s", "k"))
    made, places = with_row(project, "p", row)
    # Two pairs of plates: three studs and two spikes on each; four spikes were there before.
    assert [p.count for p in made.pieces] == [2, 3 * 4, 4 + 2 * 4]
    assert len(made.pieces[0].lines) == 5
    first = made.pieces[0].lines[0].points
    assert (np.ptp(first[:, 0]), np.ptp(first[:, 1])) == pytest.approx((6, 10))  # turned upwards
    assert first[:-1].mean(axis=0) == pytest.approx(places.middles[0])
    assert made.pieces[0].labels[0].text == "3 × stud, 2 × spike"


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"edge": "Q"}, "no edge 'Q'"),
        ({"inset": 60.0, "edge": AROUND}, "so far inside"),
        ({"ends": 150.0}, "kept from each end"),
        ({"inset": 60.0}, "no place is so far"),
        ({"inset": 2.0}, "number 1 reaches over"),
        ({"count": 40}, "numbers 1 and 2 meet"),
    ],
)
def test_what_has_no_room_is_refused_in_a_sentence(changes, words):
    with pytest.raises(InputError, match=words):
        with_row(Project(pieces=(plate(),)), "p", replace(OrnamentRow("A"), **changes))


@pytest.mark.parametrize(
    "wrong",
    [
        {"count": 0},
        {"inset": -1.0},
        {"ends": float("nan")},
        {"spacing": 0.2},
        {"first": 0.0},
        {"of": RowOf.PIECES},
    ],
)
def test_numbers_that_make_no_sense_are_refused(wrong):
    with pytest.raises(InputError):
        OrnamentRow("A", **wrong)
