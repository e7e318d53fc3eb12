"""Strips let into a piece and its neighbours: seams that fitted fit again."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.letting_in import let_in
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import fit_of
from ivory_quilt.core.editing.surgery import CutLine
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from tests.effort import random_cases

# The top of one is glued to the foot of the other, walked the other way.
SEAM = Seam(EdgeRef("p", "C"), EdgeRef("q", "A"))
PIECES = (Piece("p", "skirt", rectangle(200, 80)), Piece("q", "waist", rectangle(200, 60)))
UP = CutLine((60.0, 90.0), (60.0, -10.0))
"""From above downwards: what lies to its left, the further end, moves away."""


def test_the_neighbour_grows_where_the_line_meets_the_seam():
    before = Project("x", PIECES, seams=(SEAM,))
    made = let_in(before, "p", UP, 25.0, neighbours=True)
    assert made.neighbours == (("waist", pytest.approx(25.0)),)
    assert made.project.piece("p").shape.width == pytest.approx(225)
    assert made.project.piece("q").shape.width == pytest.approx(225)
    assert fit_of(made.project, SEAM).difference == pytest.approx(0.0, abs=1e-6)
    assert made.project.piece("q").shape.height == pytest.approx(60)


def test_without_the_neighbours_the_seam_is_left_open():
    before = Project("x", PIECES, seams=(SEAM,))
    made = let_in(before, "p", UP, 25.0, neighbours=False)
    assert made.neighbours == ()
    assert made.project.piece("q") is PIECES[1]
    assert abs(fit_of(made.project, SEAM).difference) == pytest.approx(25.0)


def test_who_is_sewn_elsewhere_stays_and_so_does_the_other_hand():
    aside = Seam(EdgeRef("p", "D"), EdgeRef("q", "B"))
    closed = Seam(EdgeRef("p", "B"), EdgeRef("p", "D"))
    hand = Seam(EdgeRef("p", "A"), EdgeRef("p", "A"))
    made = let_in(Project("x", PIECES, seams=(aside, closed, hand)), "p", UP, 25.0, neighbours=True)
    assert made.neighbours == ()
    assert made.project.piece("q").shape.area == PIECES[1].shape.area


@random_cases(20, 200)
@given(st.floats(40, 160), st.floats(-40, 40), st.floats(2, 60))
def test_a_slanting_strip_lets_the_seam_fit_as_before(at, lean, width):
    line = CutLine((at + lean, 90.0), (at - lean, -10.0))
    made = let_in(Project("x", PIECES, seams=(SEAM,)), "p", line, width, neighbours=True)
    assert len(made.neighbours) == 1
    assert fit_of(made.project, SEAM).difference == pytest.approx(0.0, abs=1e-6)
