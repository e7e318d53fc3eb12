"""Draft in a real window: lines, marks and words by hand, cuts, corners, the rule."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.document.seam_book import fit_of
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import CutSide, LineKind, TraceRule
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, SeamVerdict
from ivory_quilt.core.record import replace
from ivory_quilt.desk.canvas.paths import scene_point
from ivory_quilt.desk.stations.pattern.draft.presenter import Tool
from ivory_quilt.desk.stations.pattern.modes import PatternMode
from tests.desk.conftest import let_run

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-pattern")
    demo_desk.pattern.presenter.selected = ("shin-cuff",)
    demo_desk.pattern.refresh()
    demo_desk.pattern.picked.emit()
    demo_desk.act("draft")
    assert demo_desk.pattern.mode is PatternMode.DRAFT
    return demo_desk


def draft(desk):
    return desk.pattern.draft


def piece(desk, ident="shin-cuff"):
    return desk.session.project.piece(ident)


def pixel(desk, x, y):
    table = draft(desk).table
    return table.mapFromScene(scene_point((x, y)))


def click(desk, x, y):
    QTest.mouseClick(draft(desk).table.viewport(), LEFT, pos=pixel(desk, x, y))
    let_run()


def drag(desk, start, stop):
    view = draft(desk).table.viewport()
    a, b = pixel(desk, *start), pixel(desk, *stop)
    QTest.mousePress(view, LEFT, pos=a)
    QTest.mouseMove(view, (a + b) / 2)
    QTest.mouseMove(view, b)
    QTest.mouseRelease(view, LEFT, pos=b)
    let_run()


def press(desk, text):
    from PySide6.QtWidgets import QPushButton

    (found,) = [
        b
        for b in draft(desk).card.findChildren(QPushButton)
        if b.text() == text and b.isVisibleTo(desk.window)
    ]
    QTest.mouseClick(found, LEFT)
    let_run()


def middle(desk):
    x0, y0, x1, y1 = piece(desk).shape.bounds
    return (x0 + x1) / 2, y0, y1


def test_a_dragged_line_becomes_what_the_maker_says(desk):
    x, _, _ = middle(desk)
    before = len(piece(desk).lines)
    drag(desk, (x - 40, 100), (x - 40, 200))
    start, stop = draft(desk).presenter.pending
    assert start[0] == pytest.approx(stop[0])  # upright: the hand was pulled
    assert len(piece(desk).lines) == before  # nothing is kept until it is said what it is
    press(desk, "Undercut")
    assert piece(desk).lines[-1].kind is LineKind.UNDERCUT
    assert draft(desk).presenter.pending is None
    desk.act("undo")
    assert len(piece(desk).lines) == before


def test_marks_and_words_are_put_where_they_are_clicked_and_deleted_again(desk):
    press(desk, "Match mark")
    edge = next(e for e in edges_of(piece(desk)) if e.name == "B")
    at = ((edge.start[0] + edge.stop[0]) / 2, (edge.start[1] + edge.stop[1]) / 2)
    click(desk, *at)
    assert piece(desk).match_marks[-1] == pytest.approx(at, abs=2)
    press(desk, "Text")
    click(desk, 150, 150)
    assert "none" in draft(desk).card.error.text()
    QTest.keyClicks(draft(desk).card.words, "buckle here")
    click(desk, 150, 150)
    assert piece(desk).labels[-1].text == "buckle here"
    press(desk, "Select")
    click(desk, 150, 150)
    assert "buckle here" in draft(desk).card.chosen_text.text()
    desk.act("delete")
    assert piece(desk).labels == ()
    assert desk.session.project.piece("shin-cuff")  # the piece itself stays


def test_a_piece_is_parted_and_the_seam_is_known(desk):
    x, y0, y1 = middle(desk)
    many = len(desk.session.project.pieces)
    drag(desk, (x - 10, y0 - 4), (x - 10, y1 + 4))
    press(desk, "Split here")
    project = desk.session.project
    assert len(project.pieces) == many + 1
    assert {p.name for p in project.pieces} >= {"shin cuff 1", "shin cuff 2"}
    assert fit_of(project, project.seams[-1]).verdict is SeamVerdict.SITS
    desk.act("undo")
    assert len(desk.session.project.pieces) == many


def test_a_strip_a_dart_and_taking_in(desk):
    x, y0, y1 = middle(desk)
    wide = piece(desk).shape.width
    drag(desk, (x + 20, y1 + 4), (x + 20, y0 - 4))
    draft(desk).card.width_field.setText("1 in")
    press(desk, "Let in a strip")
    assert piece(desk).shape.width == pytest.approx(wide + 25.4, abs=0.01)
    desk.act("undo")
    drag(desk, (x, y0 + 1), (x, y0 + 60))
    draft(desk).card.width_field.setText("6 mm")
    press(desk, "Cut a dart")
    assert {"dart 1a", "dart 1b"} <= {e.name for e in piece(desk).edges}
    assert len(desk.session.project.seams) == 8
    desk.act("undo")
    drag(desk, (x + 40, 150), (x + 40, 200))
    press(desk, "Take in")
    assert "from edge to edge" in draft(desk).card.error.text()


def test_a_width_that_is_none_is_said_at_once(desk):
    x, y0, y1 = middle(desk)
    drag(desk, (x, y1 + 4), (x, y0 - 4))
    draft(desk).card.width_field.setText("wide")
    press(desk, "Let in a strip")
    assert "strip" in draft(desk).card.error.text()


def test_corners_by_hand_and_names_of_edges(desk):
    press(desk, "Corner")
    a = next(e for e in edges_of(piece(desk)) if e.name == "B")
    at = ((a.start[0] + 2 * a.stop[0]) / 3, (a.start[1] + 2 * a.stop[1]) / 3)
    click(desk, *at)
    assert len(piece(desk).edges) == 5
    click(desk, *at)
    assert len(piece(desk).edges) == 4
    draft(desk).presenter.rename_edge("A", "foot")
    let_run()
    assert "foot" in [e.name for e in piece(desk).edges]


def test_escape_lets_go_of_the_line(desk):
    drag(desk, (120, 100), (200, 180))
    assert draft(desk).presenter.pending
    QTest.keyClick(draft(desk).table, Qt.Key.Key_Escape)
    let_run()
    assert draft(desk).presenter.pending is None
    assert not draft(desk).card.line_box.isVisibleTo(desk.window)


def test_a_piece_has_its_own_rule_when_it_is_given_one(desk):
    rule = draft(desk).card.rule
    rule.whose.setCurrentIndex(1)
    rule.whose.activated.emit(1)
    let_run()
    assert piece(desk).rule == TraceRule()
    rule.trim.setText("5 mm")
    rule.trim.editingFinished.emit()
    let_run()
    assert piece(desk).rule == TraceRule(trim=5)
    part = desk.session.plan.parts["shin-cuff"][0]
    grown = part.shape.area - piece(desk).shape.area
    assert grown > 5 * piece(desk).shape.outline_length  # less what holes lose
    rule.side.setCurrentIndex(2)
    rule.side.activated.emit(2)
    let_run()
    assert piece(desk).rule.side is CutSide.OUTSIDE


def test_the_bench_goes_when_its_piece_goes(desk):
    desk.session.edit("x", lambda p: type(p)(name=p.name))
    let_run()
    assert desk.pattern.mode is PatternMode.BOARD
    there = {m for m, b in desk.pattern.modes.buttons.items() if b.isVisibleTo(desk.window)}
    assert there == {PatternMode.BOARD, PatternMode.LIBRARY}


def test_the_board_opens_a_piece_by_a_double_click(demo_desk):
    demo_desk.act("go-pattern")
    station = demo_desk.pattern
    item = station.items["thigh-plate"]
    at = station.board.mapFromScene(item.sceneBoundingRect().center())
    view = station.board.viewport()
    QTest.mouseClick(view, LEFT, pos=QPoint(at))
    QTest.mouseDClick(view, LEFT, pos=QPoint(at))
    let_run()
    assert station.mode is PatternMode.DRAFT
    assert station.draft.presenter.piece_id == "thigh-plate"
    assert station.draft.presenter.tool is Tool.LINE


def pick(box, words):
    index = [box.itemText(k) for k in range(box.count())].index(words)
    box.setCurrentIndex(index)
    box.activated.emit(index)


def test_studs_all_over_a_piece_and_along_a_line(desk):
    before, box = desk.session.project, draft(desk).card.row
    pick(box.edge, "over all of it")
    pick(box.of, "marks for studs")
    assert box.up_line.isVisibleTo(box)
    assert box.ends_line.isHidden()
    lines = len(piece(desk).lines)
    box.spacing.type("60 mm")
    press(desk, "Add to the piece")
    many = len(piece(desk).lines) - lines
    assert many > 6
    assert desk.window.message.text.text().startswith(f"{many} over shin cuff, 60 mm")
    box.spacing.type("7 mm")
    press(desk, "Add to the piece")
    assert "expected 1 to 1000" in box.error.text()
    desk.act("undo")
    assert desk.session.project == before
    x, y0, y1 = middle(desk)
    press(desk, "Line")
    drag(desk, (x - 60, y0 + 60), (x - 60, y1 - 60))
    press(desk, "Mark")
    pick(box.edge, f"mark line {len(piece(desk).lines)}")
    box.spacing.type("")
    box.inset.type("0")
    box.count.setValue(4)
    press(desk, "Add to the piece")
    assert box.error.text() == ""
    assert len(piece(desk).lines) == lines + 1 + 4


def test_overlapping_plates_come_out_as_long_as_typed(desk):
    box = draft(desk).card.plates
    box.count.setValue(4)
    box.length.type("400 mm")
    box.overlap.type("20 mm")
    box.taper.setText("50 %")
    box.taper.editingFinished.emit()
    assert "mm tall" in box.figure.text()
    press(desk, "Make plates")
    plates = [p for p in desk.session.project.pieces if p.name.startswith("shin cuff ")]
    assert len(plates) == 4
    assert sum(p.shape.height for p in plates) - 60 == pytest.approx(400)
    box.overlap.type("900 mm")
    press(desk, "Make plates")
    assert "overlap" in box.error.text()


def test_a_row_of_holes_and_one_of_ornaments_are_put_along_an_edge(desk):
    before, box = desk.session.project, draft(desk).card.row
    holes = len(piece(desk).shape.holes)
    pick(box.edge, "edge A")
    box.count.setValue(5)
    box.inset.type("30 mm")
    press(desk, "Add to the piece")
    assert len(piece(desk).shape.holes) == holes + 5
    assert desk.window.message.text.text().startswith("5 along A, ")
    # A row that does not fit is refused below its numbers, which stay as they are typed.
    box.inset.type("1 mm")
    press(desk, "Add to the piece")
    assert "reaches over the edge" in box.error.text()
    assert box.inset.text() == "1 mm"
    box.inset.type("60 mm")
    pick(box.of, "belt stud")
    pick(box.then, "belt lozenge")
    assert box.size_line.isHidden()
    box.spacing.type("50 mm")
    counts = [piece(desk, i).count for i in ("belt-stud", "belt-lozenge")]
    press(desk, "Add to the piece")
    assert box.error.text() == ""
    marks = [k for k in piece(desk).lines if k.kind is LineKind.MARK]
    more = [piece(desk, i).count for i in ("belt-stud", "belt-lozenge")]
    # A pair of cuffs: twice as many as stand on one.
    assert sum(more) - sum(counts) == 2 * len(marks)
    for _ in range(2):
        desk.act("undo")
    assert desk.session.project == before


def test_a_strip_goes_on_into_what_is_sewn_there(desk):
    line = (EdgeRef("shin-cuff", "A"), EdgeRef("knee-cup", "A"))
    desk.session.edit("seam", lambda p: replace(p, seams=(Seam(*line),)))
    before = desk.session.project.piece("knee-cup").shape.area
    x, y0, y1 = middle(desk)
    drag(desk, (x + 20, y1 + 4), (x + 20, y0 - 4))
    draft(desk).card.width_field.setText("10 mm")
    press(desk, "Let in a strip")
    assert "knee cup by 10 mm" in desk.window.message.text.text()
    assert desk.session.project.piece("knee-cup").shape.area > before
    desk.act("undo")
    draft(desk).card.too.click()
    drag(desk, (x + 20, y1 + 4), (x + 20, y0 - 4))
    press(desk, "Let in a strip")
    assert desk.session.project.piece("knee-cup").shape.area == before
