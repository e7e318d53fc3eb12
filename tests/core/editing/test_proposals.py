"""Which seams are offered: how alike edges must be, and what a piece may be joined to itself by."""

import numpy as np
import pytest

from ivory_quilt.core.editing.proposals import propose_seams
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.edges import edges_between
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.record import replace


def bowed(ident, chord=100.0, rise=12.0, wobble=0.0, **more):
    """A block with a bowed foot, its corners given; `wobble` mm are added to the bow's third."""
    x = np.linspace(0.0, chord, 61)
    y = -rise * np.sin(np.pi * x / chord) - wobble * np.sin(3 * np.pi * x / chord)
    points = [*zip(x.tolist(), y.tolist(), strict=True), (chord, 70.0), (0.0, 70.0)]
    corners = [(0.0, 0.0), (chord, 0.0), (chord, 70.0), (0.0, 70.0)]
    return Piece(ident, f"shin {ident}", Shape.make(points), edges=edges_between(corners), **more)


def hollow(ident, chord=100.0, rise=12.0, wobble=0.0, **more):
    """What lies against a bowed block: a block with the same bow cut out of its top."""
    x = np.linspace(chord, 0.0, 61)
    y = 71.0 - rise * np.sin(np.pi * x / chord) - wobble * np.sin(3 * np.pi * x / chord)
    points = [(0.0, 0.0), (chord, 0.0), *zip(x.tolist(), y.tolist(), strict=True)]
    corners = [(0.0, 0.0), (chord, 0.0), (chord, 71.0), (0.0, 71.0)]
    return Piece(ident, f"shin {ident}", Shape.make(points), edges=edges_between(corners), **more)


def offered(*pieces, **more):
    """Seams of two pieces that are offered, by their edges."""
    found = [p for p in propose_seams(pieces, **more) if p.seam.first.piece != p.seam.second.piece]
    return {(p.seam.first.edge, p.seam.second.edge): p for p in found}


def test_a_bow_and_its_hollow_are_offered_with_the_reason():
    found = offered(bowed("a"), hollow("b"))
    best = found["A", "C"]
    assert best.reason == "equally long, lie against each other"
    assert best.fit.difference == pytest.approx(0, abs=1e-6)
    assert best.score == pytest.approx(1.1, abs=0.02)


@pytest.mark.parametrize(("wobble", "alike"), [(1.0, True), (2.6, True), (3.4, False)])
def test_how_alike_two_shapes_must_be(wobble, alike):
    """Root mean square off each other, as a share of the length: at most two hundredths."""
    found = offered(bowed("a"), hollow("b", wobble=wobble), ease=10.0)
    assert (("A", "C") in found) == alike


@pytest.mark.parametrize(("longer", "found"), [(1.0, True), (1.015, True), (1.03, False)])
def test_how_much_longer_an_edge_may_be_is_what_can_be_eased(longer, found):
    pair = (bowed("a"), hollow("b", chord=100.0 * longer, rise=12.0 * longer))
    assert (("A", "C") in offered(*pair)) == found
    assert (("A", "C") in offered(*pair, ease=5.0)) == (longer < 1.05)


@pytest.mark.parametrize(
    ("change", "less"),
    [({"thickness": 8.0}, 0.15), ({"material": "tile"}, 0.15), ({"name": "wing b"}, 0.4)],
)
def test_other_foam_and_another_name_make_a_seam_less_likely(change, less):
    plain = offered(bowed("a"), hollow("b"))["A", "C"].score
    other = offered(bowed("a"), replace(hollow("b"), **change))["A", "C"].score
    assert plain - other == pytest.approx(less)


def test_what_is_too_unlikely_is_not_offered():
    """Another name alone (1.1 − 0.4) is offered; with other foam and a length 0.2 % off not."""
    assert ("A", "C") in offered(bowed("a"), replace(hollow("b"), name="wing b"))
    longer = replace(hollow("b", chord=100.2, rise=12.024), name="wing b", thickness=8.0)
    assert ("A", "C") not in offered(bowed("a"), longer)


def test_how_far_apart_lengths_are_is_said():
    pair = (bowed("a"), hollow("b", chord=100.8, rise=12.096))
    assert offered(*pair)["A", "C"].reason.startswith("lengths within 0.8 %")


def test_left_and_right_do_not_meet_and_what_is_cut_none_times_is_no_piece():
    left, right = bowed("a", hand=Hand.LEFT), hollow("b", hand=Hand.RIGHT)
    assert offered(left, right) == {}
    assert offered(bowed("a"), hollow("b", count=0)) == {}
    known = [p.seam for p in propose_seams((bowed("a"), hollow("b")))]
    assert offered(bowed("a"), hollow("b"), known=known) == {}


@pytest.mark.parametrize(("length", "offers"), [(12.5, False), (18.0, True)])
def test_edges_too_short_to_say_anything_are_left_out(length, offers):
    x = np.linspace(0.0, length, 31)
    foot = np.column_stack((x, -3 * np.sin(np.pi * x / length)))
    one = Shape.make([*foot, (length, 55.0), (0.0, 55.0)])
    top = np.column_stack((x[::-1], 91 - 3 * np.sin(np.pi * x[::-1] / length)))
    two = Shape.make([(0.0, 0.0), (length, 0.0), *top])
    corners = [(0.0, 0.0), (length, 0.0), (length, 55.0), (0.0, 55.0)]
    a = Piece("a", "rib a", one, edges=edges_between(corners))
    high = [(0.0, 0.0), (length, 0.0), (length, 91.0), (0.0, 91.0)]
    b = Piece("b", "rib b", two, edges=edges_between(high))
    assert (("A", "C") in offered(a, b)) == offers


def strips(width, *, longer=0.0, marks=True):
    """Two straight strips whose marks fall together: straight edges alone are not enough."""
    a = Piece("a", "rib a", rectangle(width, 23.0))
    b = Piece("b", "rib b", rectangle(width + longer, 37.0))
    if marks:
        a = replace(a, match_marks=((width * 0.3, 23.0),))
        b = replace(b, match_marks=((width * 0.3, 0.0),))
    return a, b


@pytest.mark.parametrize(("longer", "offers"), [(0.0, True), (0.26, True), (0.35, False)])
def test_straight_edges_must_be_equally_long(longer, offers):
    assert (("C", "A") in offered(*strips(100.0, longer=longer))) == offers


def test_straight_edges_are_offered_for_their_marks():
    best = offered(*strips(100.0))["C", "A"]
    assert best.reason == "equally long, both straight, marks meet"
    assert best.score == pytest.approx(0.9 - 0.3 + 0.25 + 0.2, abs=1e-6)


@pytest.mark.parametrize(("rise", "straight"), [(1.05, True), (1.5, False)])
def test_how_straight_is_straight(rise, straight):
    """A bow of 1.05 mm in 100 is straight (0.32 % root mean square off its mean), 1.5 is not."""
    found = offered(bowed("a", rise=rise), hollow("b", rise=rise))["A", "C"]
    assert ("both straight" in found.reason) == straight


def tube(apart, end=60.0, **more):
    """A band whose two ends, bowed alike, lie so many of their lengths apart."""
    y = np.linspace(0.0, end, 41)
    bow = 6 * np.sin(np.pi * y / end)
    long = apart * end
    right = np.column_stack((long + bow, y))
    left = np.column_stack((bow, y))[::-1]
    corners = [(0.0, 0.0), (long, 0.0), (long, end), (0.0, end)]
    return Piece("t", "tube t", Shape.make([*right, *left]), edges=edges_between(corners), **more)


@pytest.mark.parametrize(
    ("apart", "closes"), [(0.42, False), (0.6, True), (2.0, True), (3.7, True), (4.6, False)]
)
def test_a_band_closes_into_a_tube_when_its_ends_lie_so_far_apart(apart, closes):
    found = [p.seam for p in propose_seams((tube(apart), bowed("z", chord=400.0)))]
    own = [(s.first.edge, s.second.edge) for s in found if s.first.piece == s.second.piece == "t"]
    assert (("B", "D") in own) == closes


@pytest.mark.parametrize(("end", "closes"), [(30.0, False), (42.0, True)])
def test_a_tubes_end_is_no_small_part_of_its_outline(end, closes):
    """A long way around by tabs on the sides: the ends are 7 and 9 hundredths of the outline."""
    y = np.linspace(0.0, end, 41)
    bow = 4 * np.sin(np.pi * y / end)
    long = 2.0 * end
    right = np.column_stack((long + bow, y))
    left = np.column_stack((bow, y))[::-1]
    tab = 160.0 - end * 1.2
    points = [
        *right,
        (long * 0.6, end),
        (long * 0.6, end + tab),
        (long * 0.4, end + tab),
        (long * 0.4, end),
        *left,
    ]
    corners = [
        (0.0, 0.0),
        (long, 0.0),
        (long, end),
        (long * 0.6, end),
        (long * 0.6, end + tab),
        (long * 0.4, end + tab),
        (long * 0.4, end),
        (0.0, end),
    ]
    piece = Piece("t", "tube t", Shape.make(points), edges=edges_between(corners))
    found = [p.seam for p in propose_seams((piece, bowed("z", chord=400.0)))]
    ends = {"B", "H"}
    assert any({s.first.edge, s.second.edge} == ends for s in found) == closes


def test_a_notch_is_offered_as_a_dart_and_a_point_is_not():
    notch = Shape.make([(0, 0), (70, 0), (75, 50), (80, 0), (160, 0), (150, 90), (4, 95)])
    corners = [(0, 0), (70, 0), (75, 50), (80, 0), (160, 0), (150, 90), (4, 95)]
    piece = Piece("n", "cap n", notch, edges=edges_between(corners))
    other = bowed("z", chord=300.0)
    # Two straight legs of one length: only a mark at the same place of both makes them a seam.
    marked = replace(piece, match_marks=((72.5, 25.0), (77.5, 25.0)))
    found = [p.seam for p in propose_seams((marked, other))]
    assert [(s.first.edge, s.second.edge) for s in found] == [("B", "C")]
    point = Shape.make([(0, 0), (70, 0), (75, -50), (80, 0), (160, 0), (150, 90), (4, 95)])
    out = replace(
        marked,
        shape=point,
        edges=edges_between([(x, -y if x == 75 else y) for x, y in corners]),
        match_marks=((72.5, -25.0), (77.5, -25.0)),
    )
    assert [p.seam for p in propose_seams((out, other))] == []


def test_an_ornament_whose_sides_are_all_alike_is_not_joined_to_itself():
    turn = np.radians(np.arange(0, 360, 60))
    corners = np.column_stack((80 * np.cos(turn), 80 * np.sin(turn)))
    rosette = Piece(
        "r",
        "shin rosette",
        Shape.make(corners),
        edges=edges_between([(x, y) for x, y in corners.tolist()]),
    )
    found = [p.seam for p in propose_seams((rosette, bowed("a"), hollow("b")))]
    assert [
        (s.first.piece, s.second.piece) for s in found if "r" in (s.first.piece, s.second.piece)
    ] == []
    assert ("a", "b") in [(s.first.piece, s.second.piece) for s in found]


@pytest.mark.parametrize("longer", [1.0, 1.005])
def test_one_bowed_edge_is_enough_to_say_something(longer):
    """Only where both are straight must lengths be the same, and does the score fall for it."""
    chord = 100.0 * longer
    a = replace(bowed("a", rise=1.0), match_marks=((50.0, -1.0),))
    b = replace(hollow("b", chord=chord, rise=1.8), match_marks=((chord / 2, 69.2),))
    best = offered(a, b)["A", "C"]
    assert best.reason.endswith("lie against each other, marks meet")
    assert best.score > 1.2


@pytest.mark.parametrize(("count", "offers"), [(1, False), (2, True), (6, True)])
def test_a_gore_is_joined_to_its_own_copies(count, offers):
    y = np.linspace(0.0, 100.0, 31)
    right = np.column_stack((20 * np.cos(np.pi * y / 200), y))
    left = right[::-1][1:] * [-1.0, 1.0]
    shape = Shape.make(np.vstack((right, left)))
    corners = [(20.0, 0.0), (0.0, 100.0), (-20.0, 0.0)]
    gore = Piece("g", "crown gore", shape, edges=edges_between(corners), count=count)
    found = [p.seam for p in propose_seams((gore, bowed("z", chord=300.0)))]
    assert [(s.first.piece, s.second.piece) for s in found] == [("g", "g")] * offers
