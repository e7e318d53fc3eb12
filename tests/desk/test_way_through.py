"""A maker's way through the desk: drop a drawing, decide, lay, pin, print, undo, reopen."""

from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent

from ivory_quilt.core.pattern.piece import FaceUp, Hand, Turn
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.units import LengthUnit
from ivory_quilt.demo.suit import demo_drawings
from ivory_quilt.desk.asking import Unsaved
from ivory_quilt.files.project_file import load_project
from tests.desk.conftest import let_run

SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="200mm" viewBox="0 0 300 200">'
    '<path id="wing" d="M10 10 L110 10 L10 90 Z"/><rect id="plate" x="150" y="10" width="80" '
    'height="60"/></svg>'
)


def drop(window, *paths):
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(p)) for p in paths])
    copy = Qt.DropAction.CopyAction
    keys = (Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    enter = QDragEnterEvent(QPoint(400, 300), copy, data, *keys)
    window.dragEnterEvent(enter)
    if enter.isAccepted():
        window.dropEvent(QDropEvent(QPointF(400, 300), copy, data, *keys))
    return enter.isAccepted()


def write(folder, name="wing.svg", text=SVG):
    path = Path(folder) / name
    path.write_text(text)
    return path


def brought_in(desk, count):
    return let_run(lambda: len(desk.session.project.pieces) == count, 10)


def test_drop_decide_lay_print_undo_reopen(empty_desk, tmp_path):
    desk = empty_desk
    assert desk.pattern.centre.currentWidget() is desk.pattern.empty
    # A dropped drawing becomes pieces at true size, chosen and on the board.
    assert drop(desk.window, write(tmp_path))
    assert brought_in(desk, 2)
    assert desk.pattern.centre.currentWidget() is desk.pattern.canvas
    wing = desk.session.project.pieces[0]
    assert (wing.name, wing.shape.area) == ("wing", pytest.approx(4000))
    assert len(desk.pattern.presenter.selected) == 2
    # Decide: a pair of 4 mm wings, hidden face, turning freely.
    desk.pattern.presenter.selected = (wing.id,)
    desk.pattern.refresh()
    card = desk.pattern.piece_card
    for box, value in ((card.hand, Hand.PAIR), (card.face, FaceUp.EITHER), (card.turn, Turn.FREE)):
        index = box.findData(value)
        box.setCurrentIndex(index)
        box.activated.emit(index)
    card.thickness.setEditText("4mm")
    card.thickness.lineEdit().editingFinished.emit()
    card.count.setValue(2)
    card.name.setText("left wing")
    card.name.editingFinished.emit()
    wing = desk.session.project.piece(wing.id)
    assert (wing.name, wing.thickness, wing.hand, wing.count) == ("left wing", 4.0, Hand.PAIR, 2)
    assert (wing.face, wing.turn) == (FaceUp.EITHER, Turn.FREE)
    # Everything is laid by itself, and can be kept.
    desk.rested()
    desk.window.go("lay")
    desk.lay.table.drawing.finish()
    assert len(desk.lay.table.parts) == 5
    desk.act("keep")
    assert {f.standing for f in desk.session.plan.foams} == {Standing.KEPT}
    # Papers.
    target = tmp_path / "templates.pdf"
    desk.cut.ask_file = lambda name, kinds: str(target)
    desk.act("print-templates")
    assert let_run(target.exists, 10)
    # Save, undo everything, redo everything, reopen.
    path = tmp_path / "suit.ivq"
    desk.session.save(path)
    kept = desk.session.project
    steps = len(desk.session.history)
    assert steps >= 8
    for _ in range(steps):
        desk.act("undo")
    assert desk.session.project.pieces == ()
    for _ in range(steps):
        desk.act("redo")
    assert desk.session.project == kept
    assert load_project(path) == kept
    desk.window.documents.open(path)
    assert desk.session.project == kept
    assert not desk.session.dirty
    assert {f.standing for f in desk.session.plan.foams} == {Standing.KEPT}


def test_several_drawings_at_once(empty_desk, tmp_path):
    paths = []
    for name, data in demo_drawings().items():
        path = tmp_path / name
        path.write_bytes(data)
        paths.append(path)
    assert drop(empty_desk.window, *paths)
    assert brought_in(empty_desk, 43)
    assert len({p.id for p in empty_desk.session.project.pieces}) == 43


def test_what_is_no_drawing_is_refused_in_a_sentence(empty_desk, tmp_path):
    window = empty_desk.window
    assert not drop(window, write(tmp_path, "notes.txt", "hello"))
    window.drawings.read_files([write(tmp_path, "notes.txt", "hello")])
    assert "notes.txt cannot be imported" in window.message.text.text()
    window.drawings.read_files([write(tmp_path, "bad.svg", "<svg")])
    assert let_run(lambda: "not readable XML" in window.message.text.text(), 5)
    assert empty_desk.session.project.pieces == ()


def test_a_drawing_without_units_asks_for_one_length(empty_desk, tmp_path):
    desk = empty_desk
    bare = SVG.replace('width="300mm" height="200mm" ', "")
    desk.window.drawings.read_files([write(tmp_path, "bare.svg", bare)])
    panel = desk.pattern.imports
    assert let_run(lambda: bool(desk.pattern.presenter.imports), 5)
    assert desk.session.project.pieces == ()
    assert panel.isVisible()
    from PySide6.QtWidgets import QLineEdit

    drawn, real = panel.findChildren(QLineEdit)
    assert drawn.text() == "220"
    real.setText("not a length")
    real.returnPressed.emit()
    assert desk.session.project.pieces == ()
    # 220 units are 110 mm: half size, a quarter of the area.
    real.setText("110 mm")
    real.returnPressed.emit()
    assert let_run(lambda: bool(desk.session.project.pieces), 10)
    assert desk.session.project.pieces[0].shape.area == pytest.approx(1000)
    assert desk.pattern.presenter.imports == []


def test_problems_are_listed_and_mended(empty_desk, tmp_path):
    desk = empty_desk
    odd = SVG.replace(
        "</svg>",
        '<path id="open" d="M20 110 L80 110 L80 170 L20 170"/>'
        '<path id="bow" d="M100 110 L160 170 L160 110 L100 170 Z"/>'
        '<path d="M160 20 L200 60" fill="none" stroke="red"/></svg>',
    )
    desk.window.drawings.read_files([write(tmp_path, "odd.svg", odd)])
    assert brought_in(desk, 2)
    found = desk.pattern.presenter.imports[0]
    assert [p.code for p in found.open_problems] == [
        "self-crossing",
        "open-outline",
        "open-outline",
    ]
    assert "pattern" in desk.window.wants()
    from PySide6.QtWidgets import QPushButton

    def press(text):
        keys = desk.pattern.imports.findChildren(QPushButton)
        next(k for k in keys if k.text().startswith(text)).click()
        let_run()

    press("Split it into 2 outlines")
    assert len(desk.session.project.pieces) == 4
    press("Close it with a straight line")
    assert len(desk.session.project.pieces) == 5
    press("Keep it as a score line of plate")
    plate = next(p for p in desk.session.project.pieces if p.name == "plate")
    assert len(plate.lines) == 1
    assert desk.pattern.presenter.imports == []
    assert "pattern" not in desk.window.wants()
    desk.act("undo")
    assert all(not p.lines for p in desk.session.project.pieces)


def test_scaling_copying_and_deleting_pieces(empty_desk, tmp_path):
    desk = empty_desk
    desk.window.drawings.read_files([write(tmp_path)])
    assert brought_in(desk, 2)
    desk.act("select-all")
    card = desk.pattern.piece_card
    assert card.title.text() == "2 pieces"
    card.measured.setText("10 mm")
    card.real.setText("zero")
    card._scale()
    assert "length" in card.scale_error.text()
    card.real.setText("20 mm")
    card._scale()
    assert desk.session.project.pieces[0].shape.area == pytest.approx(16000)
    assert "200.0 %" in desk.session.undo_label
    desk.act("copy")
    assert len(desk.session.project.pieces) == 4
    desk.act("delete")
    assert len(desk.session.project.pieces) == 2
    desk.act("undo")
    assert len(desk.session.project.pieces) == 4


def test_a_wrong_thickness_is_said_at_the_field(empty_desk, tmp_path):
    desk = empty_desk
    desk.window.drawings.read_files([write(tmp_path)])
    assert brought_in(desk, 2)
    card = desk.pattern.piece_card
    for wrong in ("thick", "0", "900 mm"):
        card.thickness.setEditText(wrong)
        card.thickness.lineEdit().editingFinished.emit()
        assert "thickness" in card.error.text()
    assert {p.thickness for p in desk.session.project.pieces} == {6.0}


def test_unsaved_work_is_asked_for(empty_desk, tmp_path):
    desk = empty_desk
    desk.window.drawings.read_files([write(tmp_path)])
    assert brought_in(desk, 2)
    asked = []
    desk.window.documents.asking.unsaved = lambda _: asked.append(1) or Unsaved.CANCEL
    desk.act("new")
    assert len(desk.session.project.pieces) == 2
    assert not desk.window.close()
    path = tmp_path / "kept.ivq"
    desk.session.path = path
    desk.window.documents.asking.unsaved = lambda _: asked.append(1) or Unsaved.SAVE
    desk.act("new")
    assert desk.session.project.pieces == ()
    assert len(load_project(path).pieces) == 2
    assert len(asked) == 3


def test_a_broken_project_leaves_the_open_one_alone(demo_desk, tmp_path):
    before = demo_desk.session.project
    for name, text in (("a.ivq", "{"), ("b.ivq", '{"format":"ivory-quilt/project","version":9}')):
        demo_desk.window.documents.open(write(tmp_path, name, text))
        assert demo_desk.session.project is before
    assert "newer Ivory Quilt" in demo_desk.window.message.text.text()


def test_window_state_theme_unit_and_recent_files_are_kept(make_desk, tmp_path):
    first = make_desk()
    first.session.save(tmp_path / "one.ivq")
    first.window.documents.open(tmp_path / "one.ivq")
    first.act("theme")
    first.act("unit")
    first.act("fold-card")
    first.act("go-buy")
    first.window.resize(1100, 700)
    first.window.close()
    second = make_desk(size=None)
    assert second.window.settings.dark
    assert second.window.settings.unit is LengthUnit.CM
    assert second.lay.canvas.unit is LengthUnit.CM
    assert not second.pattern.card.isVisibleTo(second.pattern)
    assert second.window.station is second.buy
    assert second.window.size().height() == 700
    second.window.documents.fill_recent(second.window.menus.recent)
    assert [a.text() for a in second.window.menus.recent.actions()] == ["one.ivq"]


def test_the_project_can_be_named(demo_desk):
    demo_desk.act("rename")
    namer = demo_desk.window.panels.namer
    namer.field.setText("Night parade")
    namer._done()
    assert demo_desk.session.project.name == "Night parade"
    assert "Night parade" in demo_desk.window.windowTitle()
    demo_desk.act("rename")
    namer.field.setText("  ")
    namer._done()
    assert demo_desk.session.project.name == "Night parade"
