"""The list before cutting, mirroring and unfolding at the Pattern station."""

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.piece import Hand, Piece
from tests.desk.conftest import let_run

HOOK = Shape.make([(0, 0), (60, 0), (60, 20), (20, 20), (20, 60), (0, 60)])
HALF = Shape.make([(0, 0), (70, 10), (60, 80), (0, 120)])
PROJECT = Project(
    "hands",
    (
        Piece("l", "left horn root", HOOK, hand=Hand.LEFT),
        Piece("r", "right horn root", HOOK, hand=Hand.RIGHT),
        Piece("half", "breast plate", HALF),
    ),
)


@pytest.fixture
def desk(make_desk):
    made = make_desk(PROJECT)
    assert let_run(lambda: made.pattern.review.isVisibleTo(made.pattern), 10)
    return made


def press(desk, words):
    buttons = desk.pattern.review.findChildren(QPushButton)
    button = next(b for b in buttons if b.text() == words)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    let_run(seconds=0.2)


def test_a_finding_is_shown_and_mended_as_one_step(desk):
    press(desk, "Mirror 'right horn root'")
    assert desk.session.history == ["Fix: mirror 'right horn root'"]
    assert let_run(lambda: not desk.pattern.review.isVisibleTo(desk.pattern), 10)
    desk.act("undo")
    assert let_run(lambda: desk.pattern.review.isVisibleTo(desk.pattern), 10)


def test_a_finding_leads_to_its_pieces(desk):
    press(desk, "Show")
    assert desk.pattern.presenter.selected == ("r", "l")
    assert desk.pattern.piece_card.isVisibleTo(desk.pattern)


def test_a_finding_can_be_left_so(desk):
    press(desk, "Dismiss")
    assert not desk.pattern.review.isVisibleTo(desk.pattern)
    assert not desk.session.history


def pick(desk, *idents):
    station = desk.pattern
    station.presenter.selected = idents
    station.refresh()
    station.picked.emit()


def test_a_half_is_unfolded_by_its_card(desk):
    pick(desk, "half")
    assert desk.pattern.piece_card.unfold.isEnabled()
    desk.act("unfold")
    whole = desk.session.project.piece("half")
    assert whole.shape.area == pytest.approx(2 * HALF.area, rel=1e-3)
    assert desk.session.history == ["Unfold breast plate"]
    desk.act("undo")
    assert desk.session.project.piece("half").shape == HALF


def test_mirroring_swaps_the_hand(desk):
    pick(desk, "l")
    desk.act("mirror")
    left = desk.session.project.piece("l")
    assert left.hand is Hand.RIGHT
    assert not np.array_equal(left.shape.outer, HOOK.outer)


def test_what_has_no_straight_edge_cannot_be_unfolded(make_desk):
    desk = make_desk(Project("d", (Piece("d", "disc", Shape.make(circle((0, 0), 40.0))),)))
    pick(desk, "d")
    assert not desk.pattern.piece_card.unfold.isEnabled()
    assert not desk.window.actions_by_id["unfold"].isEnabled()


def test_what_lies_on_both_sides_is_refused_on_the_card(make_desk):
    # Its longest straight edge is the floor of a bay, with an arm on either side.
    bay = [(0, 0), (50, -10), (100, 0), (100, 60), (90, 60), (90, 20), (10, 20), (10, 60), (0, 60)]
    desk = make_desk(Project("b", (Piece("b", "bay", Shape.make(bay)),)))
    pick(desk, "b")
    desk.act("unfold")
    assert "both sides of the fold" in desk.pattern.piece_card.error.text()
    assert not desk.session.history
