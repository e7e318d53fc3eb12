"""Undercuts and scores on a piece: how deep, how near to an edge or each other, which cross."""

import numpy as np
import pytest

from ivory_quilt.core.edges.groove_check import first_crease, grooves_cross, grooves_of
from ivory_quilt.core.edges.grooves import blade
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace

PLATE = Piece("p", "plate", rectangle(200.0, 120.0), thickness=8.0)


def line(kind, *points, crease=None):
    return PieceLine(kind, np.array(points, dtype=float), crease)


def undercut(*points, **crease):
    return line(LineKind.UNDERCUT, *points, crease=Crease(**{"skin": 3.0, **crease}))


def told(*lines, piece=PLATE):
    return [g.problems for g in grooves_of(replace(piece, lines=lines))]


def test_a_score_goes_half_through():
    """Common practice, no source: a half-depth score opens into a clean line."""
    score = line(LineKind.SCORE, (20, 60), (180, 60), crease=Crease(0.0))
    (groove,) = grooves_of(replace(PLATE, lines=(score,)))
    assert (groove.depth, groove.width, groove.line, groove.problems) == (4.0, 0.0, 0, ())


def test_an_undercut_is_as_wide_as_its_walls_lean():
    (groove,) = grooves_of(replace(PLATE, lines=(undercut((20, 60), (180, 60), angle=90.0),)))
    assert groove.depth == pytest.approx(5.0)
    assert groove.width == pytest.approx(10.0)  # 45° from each side
    assert groove.wall == 45.0


def test_lines_that_do_not_say_how_they_are_cut_are_no_grooves():
    lines = (line(LineKind.UNDERCUT, (20, 60), (180, 60)), line(LineKind.MARK, (20, 60), (180, 60)))
    assert grooves_of(replace(PLATE, lines=lines)) == ()
    assert first_crease(LineKind.UNDERCUT).angle == 90.0
    assert first_crease(LineKind.SCORE).angle == 0.0


@pytest.mark.parametrize(
    ("thickness", "skin", "tears"),
    [
        (8.0, 2.2, False),
        (8.0, 1.8, True),  # a quarter of the foam
        (2.0, 1.1, False),
        (2.0, 0.9, True),  # a millimetre of thin foam
    ],
)
def test_how_much_skin_must_stay(thickness, skin, tears):
    piece = replace(PLATE, thickness=thickness)
    (problems,) = told(undercut((100, 0), (100, 120), skin=skin), piece=piece)
    assert bool(problems) == tears
    assert all("may tear" in p for p in problems)


def test_a_recess_that_is_left_open_needs_no_skin_to_bend():
    assert told(undercut((100, -5), (100, 125), skin=0.5, folds=False)) == [()]


@pytest.mark.parametrize(("up", "near"), [(12.0, True), (12.9, True), (13.2, False)])
def test_a_wall_is_no_nearer_to_the_edge_than_the_foam_is_thick(up, near):
    """The groove is 10 mm wide, the foam 8 thick: its middle stays 13 mm from the edge."""
    (problems,) = told(undercut((40, up), (160, up), angle=90.0))
    assert bool(problems) == near
    assert problems == ((f"its wall is {up - 5:.1f} mm from the edge, the foam is 8 mm",) * near)


@pytest.mark.parametrize(("tab", "told_of"), [(0.85, False), (1.15, True)])
def test_a_millimetre_of_edge_beside_a_groove_says_nothing(tab, told_of):
    """A tooth of the edge reaches towards the groove: its tip, so wide, is too near."""
    x = 100.0
    shape = Shape.make(
        [(0, 0), (x, 0), (x, 50), (x + tab, 50), (x + tab, 0), (200, 0), (200, 120), (0, 120)]
    )
    piece = replace(PLATE, shape=shape)
    (problems,) = told(undercut((-5, 62.99), (205, 62.99), angle=90.0), piece=piece)
    assert bool(problems) == told_of


@pytest.mark.parametrize(
    ("away", "words"),
    [
        (9.0, "crosses another groove"),
        (9.9, "crosses another groove"),
        (10.1, "is 0.1 mm from another groove, the foam is 8 mm"),
        (15.0, "is 5.0 mm from another groove, the foam is 8 mm"),
        (17.9, "is 7.9 mm from another groove, the foam is 8 mm"),
        (18.1, ""),
    ],
)
def test_two_grooves_leave_as_much_as_the_foam_is_thick(away, words):
    one, two = undercut((90, -5), (90, 125)), undercut((90 + away, -5), (90 + away, 125))
    assert told(one, two) == [(words,) * bool(words)] * 2


def test_a_score_beside_a_groove_is_no_groove():
    score = line(LineKind.SCORE, (95, -5), (95, 125), crease=Crease(0.0))
    blank = line(LineKind.UNDERCUT, (95, -5), (95, 125))
    assert told(undercut((90, -5), (90, 125)), score, blank) == [(), ()]


def test_foam_cannot_follow_two_folds_that_cross():
    fold = line(LineKind.FOLD, (0, 0), (100, 100), crease=Crease(40.0))
    other = line(LineKind.UNDERCUT, (0, 100), (100, 0), crease=Crease(90.0))
    apart = line(LineKind.FOLD, (150, 0), (150, 100), crease=Crease(40.0))
    assert grooves_cross((fold, other))
    assert grooves_cross((apart, fold, other))
    assert not grooves_cross((fold, apart))
    assert not grooves_cross((fold,))
    assert not grooves_cross((fold, replace(other, crease=Crease(90.0, folds=False))))
    assert not grooves_cross((fold, replace(other, kind=LineKind.SCORE)))
    assert not grooves_cross((fold, replace(other, crease=None)))


def test_an_undercut_that_cannot_be_says_why():
    (groove,) = grooves_of(replace(PLATE, lines=(undercut((20, 60), (180, 60), skin=9.0),)))
    assert len(groove.problems) == 1
    assert (groove.width, groove.depth, groove.wall) == (0.0, 0.0, 45.0)


@pytest.mark.parametrize(("degrees", "near"), [(33.0, True), (40.0, False), (90.0, False)])
def test_a_groove_may_run_out_over_an_edge_unless_it_runs_along_it(degrees, near):
    """Its side is 13 mm from the edge for 13 ÷ sin of the angle; the last 21 mm are its end's."""
    turn = np.radians(degrees)
    end = (70 + 100 * np.cos(turn), 100 * np.sin(turn))
    (problems,) = told(undercut((70, 0), end, angle=90.0))
    assert bool(problems) == near


def test_a_blades_edge_is_twice_its_bevel():
    """tan of the bevel is half the thickness ÷ the width."""
    found = blade(6.0, 20.0).results
    assert found["angle"] == pytest.approx(8.5308, abs=1e-4)
    assert found["edge"] == pytest.approx(17.0615, abs=1e-4)
