"""Half patterns: where their fold is, and the whole that they open to."""

import numpy as np
import pytest

from ivory_quilt.core.editing.reshape import FoldEdge, fold_edge, same_shape, unfolded
from ivory_quilt.core.editing.resize import offset
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace

# Its long side has a point more, halfway, and the outline begins there.
HALF = Piece("h", "half", Shape.make([(20, 50), (20, 0), (90, 0), (85, 45), (60, 95), (20, 100)]))


def with_line(kind, *points):
    return replace(HALF, lines=(PieceLine(kind, np.array(points, dtype=float)),))


def ends(edge):
    return sorted([edge.start, edge.stop])


def test_the_longest_straight_edge_is_the_fold():
    assert ends(fold_edge(HALF)) == [(20, 0), (20, 100)]


@pytest.mark.parametrize(
    ("kind", "points", "fold"),
    [
        (LineKind.FOLD, [(20, 0), (90, 0)], [(20, 0), (90, 0)]),
        (LineKind.FOLD, [(40, 10), (40, 90)], [(20, 0), (20, 100)]),  # a fold within the foam
        (LineKind.CENTRE, [(20, 0), (90, 0)], [(20, 0), (20, 100)]),
    ],
)
def test_only_a_fold_line_on_the_outline_says_otherwise(kind, points, fold):
    assert ends(fold_edge(with_line(kind, *points))) == fold


@pytest.mark.parametrize(("long", "found"), [(0.8, False), (1.4, True)])
def test_a_stroke_of_a_millimetre_is_no_fold(long, found):
    edge = fold_edge(with_line(LineKind.FOLD, (30, 0), (30 + long, 0)))
    assert (edge.start[1] == edge.stop[1]) == found


def test_round_pieces_have_no_fold():
    turn = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    disc = Shape.make(np.column_stack((50 * np.cos(turn), 50 * np.sin(turn))))
    assert fold_edge(replace(HALF, shape=disc)) is None


def test_a_whole_has_every_mark_twice_but_those_on_the_fold():
    piece = replace(HALF, match_marks=((20.0, 30.0), (90.0, 0.0)))
    whole = unfolded(piece, FoldEdge((20.0, 0.0), (20.0, 100.0)))
    assert whole.shape.area == pytest.approx(2 * HALF.shape.area, rel=1e-4)
    assert sorted(whole.match_marks) == [
        pytest.approx((0.0, 0.0)),
        pytest.approx((70.0, 30.0)),
        pytest.approx((140.0, 0.0)),
    ]
    (centre,) = whole.lines
    assert centre.kind is LineKind.CENTRE
    assert centre.points[:, 0] == pytest.approx([70.0, 70.0])


def test_what_lies_on_both_sides_of_a_line_is_no_half():
    with pytest.raises(InputError, match="both sides"):
        unfolded(HALF, FoldEdge((40.0, 0.0), (40.0, 100.0)))


@pytest.mark.parametrize(("off", "alike"), [(0.25, True), (0.4, False)])
def test_outlines_are_alike_within_a_third_of_a_millimetre(off, alike):
    """A notch so deep changes neither width nor height nor much of the area."""
    one = rectangle(100, 50)
    two = Shape.make([(0, 0), (49, 0), (50, off), (51, 0), (100, 0), (100, 50), (0, 50)])
    assert same_shape(one, Shape.make(two.outer + np.array([7.0, 9.0]))) == alike
    assert not same_shape(one, rectangle(100.4, 50))
    assert not same_shape(one, Shape.make(one.outer, [[(9, 9), (20, 9), (20, 20)]]))


@pytest.mark.parametrize("by", [0.01, -0.01, 3.0, -3.0])
def test_marks_stay_on_an_outline_that_is_moved(by):
    piece = Piece("p", "plate", rectangle(100, 50), match_marks=((30.0, 0.0),))
    made = offset(piece, by)
    assert made.match_marks == (pytest.approx((30.0, -by)),)
