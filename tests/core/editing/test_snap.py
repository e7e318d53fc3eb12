"""Where a point drawn by hand falls: corners, middles, marks, ends, level, upright, on the edge."""

import numpy as np
import pytest

from ivory_quilt.core.editing.snap import snap
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace

PLATE = Piece("p", "plate", rectangle(100.0, 60.0))
REACH = 4.0


@pytest.mark.parametrize(
    ("hand", "at", "why"),
    [
        ((2, 1), (0, 0), "corner of A"),
        ((98, 58), (100, 60), "corner of C"),
        ((52, 3), (50, 0), "middle of A"),
        ((97, 31), (100, 30), "middle of B"),
        ((2, 28), (0, 30), "middle of D"),
        ((20, 3), (20, 0), "on the edge"),
        ((20, 63), (20, 60), "on the edge"),
        ((20, 4.5), (20, 4.5), ""),
        ((30, 30), (30, 30), ""),
    ],
)
def test_a_point_falls_on_what_is_near(hand, at, why):
    found = snap(PLATE, hand, REACH)
    assert found.at == pytest.approx(at)
    assert found.why == why


def test_marks_and_ends_of_lines_pull_more_than_the_edge():
    line = PieceLine(LineKind.SCORE, np.array([[30.0, 20.0], [70.0, 25.0]]))
    piece = replace(PLATE, match_marks=((20.0, 0.0),), lines=(line,))
    assert snap(piece, (22, 2), REACH).why == "match mark"
    assert snap(piece, (22, 2), REACH).at == (20.0, 0.0)
    assert snap(piece, (31, 22), REACH).at == (30.0, 20.0)
    assert snap(piece, (69, 23), REACH).at == (70.0, 25.0)
    assert snap(piece, (69, 23), REACH).why == "end of a line"


def test_of_two_things_the_nearer_pulls():
    piece = replace(PLATE, match_marks=((5.0, 0.0),))
    assert snap(piece, (2, 1), REACH).why == "corner of A"
    assert snap(piece, (3, 1), REACH).why == "match mark"


@pytest.mark.parametrize(
    ("hand", "at", "why"),
    [
        ((60, 22), (60, 20), "level"),
        ((60, 17), (60, 20), "level"),
        ((32, 50), (30, 50), "upright"),
        ((27, 50), (30, 50), "upright"),
        ((97, 23), (100, 20), "level, on the edge"),
        ((3, 23), (0, 20), "level, on the edge"),
        ((33, 57), (30, 60), "upright, on the edge"),
        ((33, 3), (30, 0), "upright, on the edge"),
        ((60, 40), (60, 40), ""),
        ((34, 24), (34, 24), ""),  # too short to be either
        ((60, 24.5), (60, 24.5), ""),
    ],
)
def test_a_lines_second_point_makes_it_level_or_upright(hand, at, why):
    found = snap(PLATE, hand, REACH, start=(30.0, 20.0))
    assert found.at == pytest.approx(at)
    assert found.why == why


def test_a_level_line_ends_where_a_slanted_edge_is_at_its_height():
    tent = Piece("t", "tent", Shape.make([(0, 0), (100, 0), (60, 80)]))
    found = snap(tent, (93, 31), REACH, start=(30.0, 29.0))
    # From (100, 0) to (60, 80) the edge is at x = 100 − y ÷ 2: too far to the left of the hand.
    assert (found.at, found.why) == ((93.0, 29.0), "level")
    near = snap(tent, (87, 31), REACH, start=(30.0, 29.0))
    assert near.at == pytest.approx((85.5, 29.0))
    assert near.why == "level, on the edge"


def test_of_two_crossings_the_nearer_is_taken():
    slot = Shape.make([(0, 0), (60, 0), (60, 60), (34, 60), (34, 20), (30, 20), (30, 60), (0, 60)])
    found = snap(Piece("s", "slot", slot), (33, 53), 4.0, start=(5.0, 51.0))
    assert found.at == pytest.approx((34.0, 51.0))
