"""The library in a real window: pieces kept, found, described, brought in for another wearer."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.document.project import Project
from ivory_quilt.desk.stations.pattern.modes import PatternMode
from tests.desk.conftest import let_run

LEGS = ("knee-cup", "knee-lame", "shin-cuff")


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-pattern")
    demo_desk.session.selected = LEGS
    demo_desk.act("library")
    assert demo_desk.pattern.mode is PatternMode.LIBRARY
    return demo_desk


def card(desk):
    return desk.pattern.library.card


def press(made):
    QTest.mouseClick(made, Qt.MouseButton.LeftButton)
    let_run()


def keep(desk, name="legs", tags="knees, parade"):
    card(desk).fresh.setText(name)
    card(desk).fresh_tags.setText(tags)
    press(card(desk).keep)


def test_pieces_are_kept_and_brought_into_another_project(desk):
    assert "Nothing is kept yet" in card(desk).hint.text()
    assert "3 pieces selected" in card(desk).what.text()
    keep(desk)
    assert card(desk).list.count() == 1
    assert "3 pieces, 6 parts" in card(desk).facts.text()
    assert len(desk.pattern.library.table.scene().items()) > 3
    wearers = desk.session.project.wearers
    desk.session.start(Project("other", wearers=wearers))
    let_run()
    desk.act("library")
    desk.pattern.library.presenter.wearer_id = wearers[1].id
    desk.pattern.refresh()
    assert "Made for another size" in card(desk).match.text()
    assert card(desk).percent.text() == "92.7 %"
    press(card(desk).bring)
    assert desk.pattern.mode is PatternMode.BOARD
    assert {p.id for p in desk.session.project.pieces} == set(LEGS)
    assert set(desk.session.selected) == set(LEGS)
    desk.act("undo")
    assert desk.session.project.pieces == ()


def test_sets_are_found_described_and_deleted(desk):
    keep(desk, "legs", "knees")
    desk.session.selected = ("collar-front",)
    keep(desk, "collar", "neck")
    assert [card(desk).list.item(k).text() for k in range(2)] == ["collar", "legs"]
    QTest.keyClicks(card(desk).search, "knee")
    let_run()
    assert card(desk).list.count() == 1
    card(desk).note.setText("shin is tight")
    card(desk).note.editingFinished.emit()
    card(desk).tags.setText("Shin, knees")
    card(desk).tags.editingFinished.emit()
    legs = next(k for k in desk.session.store.library_sets() if k.name == "legs")
    assert (legs.note, legs.tags) == ("shin is tight", ("shin", "knees"))
    card(desk).name.setText(" ")
    card(desk).name.editingFinished.emit()
    assert "no name" in card(desk).error.text()
    press(card(desk).remove)
    assert [k.name for k in desk.session.store.library_sets()] == ["collar"]
    assert "No set has these words" in card(desk).hint.text()


def test_bad_input_is_said(desk):
    keep(desk, " ")
    assert "no name" in card(desk).error.text()
    keep(desk)
    card(desk).percent.setText("huge")
    press(card(desk).bring)
    assert "size" in card(desk).error.text()
    assert card(desk).percent.text() == "huge"
    card(desk).percent.setText("5 %")
    press(card(desk).bring)
    assert "10 to 1000 %" in card(desk).error.text()
