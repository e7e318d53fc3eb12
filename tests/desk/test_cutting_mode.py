"""Cutting mode in a real window: by keys and clicks, spoiled parts, undo, shelf and journal."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.journal.entry import EntryKind
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.core.stock.spent_sheet import CutState
from ivory_quilt.files.project_file import load_project
from ivory_quilt.files.recovery import UnsavedWork
from tests.desk.conftest import let_run

EVA6 = Foam(6.0, "eva")


@pytest.fixture
def mode_desk(make_desk):
    pieces = (
        Piece("p", "plate", rectangle(400, 300), count=2),
        Piece("s", "stud", rectangle(60, 50), count=3),
    )
    desk = make_desk(Project(pieces=pieces), fill=False)
    desk.store.put(sheet("s", "half sheet", EVA6, (1000, 500), owned=2, margin=5))
    desk.session.reload_stock()
    desk.laid()
    desk.window.go("cut")
    desk.cut.show_list.click()
    desk.knife, desk.mode = desk.cut.knife, desk.cut.mode
    return desk


def press(widget, text):
    next(b for b in widget.findChildren(QPushButton) if b.text().startswith(text)).click()
    let_run()


def begin(desk):
    press(desk.cut.list, "Cut part by part")
    assert desk.mode.pages.currentIndex() == 0
    press(desk.mode.before, "All at hand")
    assert let_run(lambda: desk.knife.sheet is not None, 10)
    assert desk.mode.isVisible()
    assert desk.cut.head.isHidden()


def key(desk, which):
    QTest.keyClick(desk.mode, which)
    let_run()


def shelf(desk):
    return {i.id: i.owned for i in desk.store.stock().items}


def states(desk):
    return [p.state.name for p in desk.session.project.spent[0].parts]


def test_a_sheet_is_cut_by_keys_alone_and_its_rest_goes_to_the_shelf(mode_desk):
    desk = mode_desk
    begin(desk)
    assert shelf(desk) == {"s": 1}
    assert desk.session.plan.foams[0].standing is Standing.CUT
    for _ in range(2):
        key(desk, Qt.Key.Key_Space)
    assert desk.mode.progress.text() == "2 of 5"
    key(desk, Qt.Key.Key_1)
    key(desk, Qt.Key.Key_2)
    assert desk.mode.said.text().endswith("is cut otherwise than drawn.")
    desk.mode.remark.setText("trimmed 3 mm")
    desk.mode.remark.editingFinished.emit()
    desk.mode.setFocus()
    key(desk, Qt.Key.Key_Space)
    assert states(desk) == ["CUT", "CUT", "CUT", "CHANGED", "CUT"]
    assert desk.session.project.spent[0].parts[3].remark == "trimmed 3 mm"
    assert desk.mode.pages.currentIndex() == 2
    press(desk.mode.after, "Sheet is done")
    assert not desk.mode.isVisible()
    assert not desk.cut.head.isHidden()
    assert "A1" in shelf(desk)
    (spent,) = desk.session.project.spent
    assert not spent.under_knife
    assert desk.session.plan.ledger.cut == 5


def test_small_parts_come_first_and_the_part_in_hand_is_told(mode_desk):
    begin(mode_desk)
    labels = [p.label for p in mode_desk.knife.sheet.parts]
    assert labels == ["stud"] * 3 + ["plate"] * 2
    assert mode_desk.mode.name.text() == "stud"
    assert mode_desk.mode.count.text() == "1 of 3\nTemplate 2"
    key(mode_desk, Qt.Key.Key_Right)
    assert mode_desk.mode.number.text() == "2"
    key(mode_desk, Qt.Key.Key_Left)
    assert mode_desk.mode.next.text() == "Then 2: stud"


def test_a_click_takes_a_part_in_hand(mode_desk):
    desk = mode_desk
    begin(desk)
    part = desk.knife.sheet.parts[4]
    x, y = part.shape.placed(part.pose).label_point
    at = desk.mode.canvas.mapFromScene(x, -y)
    QTest.mouseClick(desk.mode.canvas.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(at))
    assert desk.knife.present == 4
    desk.mode.keys[CutState.CUT].click()
    assert states(desk) == ["WAITING"] * 4 + ["CUT"]
    assert desk.knife.present == 0


def test_a_spoiled_part_is_laid_on_its_own_sheet_or_elsewhere_with_its_cost(mode_desk):
    desk = mode_desk
    begin(desk)
    key(desk, Qt.Key.Key_3)
    assert desk.session.plan.foams[0].job.pieces[1].quantity == 1
    desk.laid()
    assert let_run(lambda: not desk.knife.spoilt.looking, 20)
    assert desk.mode.cost.text() == "stud on other foam: +1 from shelf, no money more."
    assert desk.mode.here.isVisible()
    desk.mode.here.click()
    assert len(desk.knife.sheet.parts) == 6
    assert desk.session.plan.foams[0].standing is Standing.CUT
    assert desk.knife.present == 1
    assert desk.mode.name.text() == "stud"
    for _ in range(5):
        key(desk, Qt.Key.Key_Space)
    assert desk.mode.after.words.text() == "1 spoiled: asked for again."
    press(desk.mode.after, "Sheet is done")
    assert desk.session.plan.ledger.cut == 5
    noted = {e.kind: e for e in desk.store.entries()}
    assert noted[EntryKind.CUT].value == 5
    assert noted[EntryKind.SPOILED].value == 1
    desk.session.undo()
    assert EntryKind.SPOILED not in {e.kind for e in desk.store.entries()}
    assert "A1" not in shelf(desk)


def test_the_journal_learns_how_long_the_cutting_took(mode_desk):
    desk = mode_desk
    times = iter((0.0, 90.0, 180.0, 181.0, 5000.0, 5300.0))
    desk.knife.clock = lambda: next(times)
    begin(desk)
    for _ in range(5):
        key(desk, Qt.Key.Key_Space)
    press(desk.mode.after, "Sheet is done")
    (noted,) = [e for e in desk.store.entries() if e.kind is EntryKind.TIME]
    # Two studs of 90 s and a plate of 300 s; one was ticked at once, one after a pause.
    assert noted.value == 8.0
    studs, plate = 2 * (1 + 0.22 * 3), 1 + 1.4 * 3
    assert noted.planned == pytest.approx(studs + plate)
    assert noted.about == "cut"


def test_undo_takes_the_part_in_hand_again_and_goes_back_to_the_whole_sheet(mode_desk):
    desk = mode_desk
    begin(desk)
    for which in (Qt.Key.Key_Space, Qt.Key.Key_3):
        key(desk, which)
    press(desk.mode, "Undo")
    assert states(desk) == ["CUT"] + ["WAITING"] * 4
    assert desk.knife.present == 1
    desk.window.actions_by_id["undo"].trigger()
    assert desk.knife.present == 0
    desk.window.actions_by_id["undo"].trigger()
    let_run()
    assert desk.session.project.spent == ()
    assert shelf(desk) == {"s": 2}
    assert not desk.mode.isVisible()


def test_a_sheet_set_aside_is_gone_on_with_and_what_was_not_cut_is_laid_anew(mode_desk):
    desk = mode_desk
    begin(desk)
    key(desk, Qt.Key.Key_Space)
    press(desk.mode, "Set aside")
    press(desk.cut.list, "Go on")
    assert desk.mode.progress.text() == "1 of 5"
    press(desk.mode, "Sheet is done …")
    assert desk.mode.after.words.text() == "4 parts not cut: to be laid anew."
    press(desk.mode.after, "Go on cutting")
    assert desk.mode.pages.currentIndex() == 1
    press(desk.mode, "Sheet is done …")
    desk.mode.after.boxes[0][0].setChecked(False)
    press(desk.mode.after, "Sheet is done")
    assert sum(p.quantity for p in desk.session.plan.foams[0].job.pieces) == 4
    assert "A1" not in shelf(desk)


def test_a_begun_sheet_is_taken_back_as_long_as_the_maker_likes(mode_desk):
    desk = mode_desk
    begin(desk)
    key(desk, Qt.Key.Key_Space)
    press(desk.mode, "Set aside")
    press(desk.cut.list, "Take back")
    assert desk.session.project.spent == ()
    assert shelf(desk) == {"s": 2}


def test_each_tick_is_on_the_disk_before_the_key_is_up_again(mode_desk):
    desk = mode_desk
    begin(desk)
    kept = UnsavedWork(desk.window.keeper.journal.folder, "", None, "", "")
    for many in range(1, 5):
        QTest.keyClick(desk.mode, Qt.Key.Key_Space)
        states = [p.state for p in kept.read().project.spent[0].parts]
        assert states == [CutState.CUT] * many + [CutState.WAITING] * (5 - many)


def test_a_saved_project_has_its_sheet_still_under_the_knife(mode_desk, tmp_path):
    desk = mode_desk
    begin(desk)
    key(desk, Qt.Key.Key_Space)
    key(desk, Qt.Key.Key_3)
    desk.session.save(tmp_path / "suit.ivq")
    again = load_project(tmp_path / "suit.ivq")
    assert again == desk.session.project
    desk.session.open(tmp_path / "suit.ivq")
    assert not desk.mode.isVisible()
    assert [s.id for s in desk.knife.open_sheets] == ["cut"]


def test_a_sheet_laid_otherwise_meanwhile_is_not_begun(mode_desk):
    desk = mode_desk
    press(desk.cut.list, "Cut part by part")
    desk.session.edit("more", lambda p: replace(p, pieces=(replace(p.pieces[0], count=1),)))
    press(desk.mode.before, "All at hand")
    assert let_run(lambda: not desk.knife.beginning, 10)
    assert desk.session.project.spent == ()
    assert shelf(desk) == {"s": 2}
