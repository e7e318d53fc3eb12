"""Versions on Draft's card, in a real window."""

from datetime import date

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from ivory_quilt.core.document.project import put_pieces
from ivory_quilt.core.editing.resize import stretched
from ivory_quilt.core.pattern.piece import Wanted
from tests.desk.conftest import let_run


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-pattern")
    demo_desk.pattern.presenter.selected = ("collar-front", "collar-back")
    demo_desk.pattern.refresh()
    demo_desk.pattern.picked.emit()
    demo_desk.act("draft")
    presenter(demo_desk).today = lambda: date(2026, 12, 1)
    return demo_desk


def presenter(desk):
    return desk.pattern.draft.presenter.versions


def box(desk):
    return desk.pattern.draft.card.versions


def press(desk, text):
    found = [b for b in box(desk).findChildren(QPushButton) if b.text() == text]
    QTest.mouseClick(found[0], Qt.MouseButton.LeftButton)
    let_run()


def widen(desk, factor=1.1):
    desk.session.edit(
        "wider", lambda p: put_pieces(p, [stretched(p.piece("collar-front"), factor, 1)])
    )
    let_run()


def test_a_version_is_kept_compared_and_taken_back(desk):
    was = desk.session.project.piece("collar-front")
    press(desk, "Keep")
    (version,) = desk.session.project.versions
    assert (version.name, version.when) == ("round 1", "2026-12-01")
    press(desk, "Compare")
    assert box(desk).words.text() == "The outline is the same."
    widen(desk)
    wide = 0.1 * was.shape.width
    assert f"{wide:.0f} mm wider" in box(desk).words.text()
    assert "beyond it" in box(desk).words.text()
    shown = desk.pattern.draft.table.grab().toImage()
    press(desk, "Take back")
    assert desk.session.project.piece("collar-front") == was
    desk.act("undo")
    press(desk, "Compare")
    assert box(desk).words.text() == ""
    assert desk.pattern.draft.table.grab().toImage() != shown


def test_selected_pieces_are_kept_together_and_noted(desk):
    box(desk).others.click()
    box(desk).name.setText("in card")
    press(desk, "Keep")
    (version,) = desk.session.project.versions
    assert {p.id for p in version.pieces} == {"collar-front", "collar-back"}
    presenter(desk).note(version, "neck too tight")
    assert desk.session.project.versions[0].note == "neck too tight"
    box(desk).name.setText("in card")
    press(desk, "Keep")
    assert "already" in box(desk).error.text()
    press(desk, "×")
    assert desk.session.project.versions == ()


def test_a_mock_up_is_added_in_the_pieces_own_material(desk):
    press(desk, "Add")
    made = desk.session.project.piece("collar-front-mock-up")
    assert (made.material, made.thickness, made.wanted) == ("eva", 2.0, Wanted.FIRST)
    box(desk).thickness.setText("thin")
    press(desk, "Add")
    assert "mock-up" in box(desk).error.text()
