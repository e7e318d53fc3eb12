"""Hands on the table: drag, clash, turn, flip, pin, another sheet, improve, keep, stop."""

from decimal import Decimal

import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtTest import QTest

from ivory_quilt.core.document.project import Project, change_piece, remove_pieces
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Piece, Turn
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.laying import IMPROVED
from tests.desk.conftest import let_run

EVA6 = Foam(6.0, "eva")


def small_project():
    return Project(
        "Small",
        (
            Piece("a", "plate a", rectangle(120, 80)),
            Piece("b", "plate b", rectangle(100, 60), turn=Turn.DIRECTION),
            Piece(
                "c",
                "wedge",
                Shape.make([(0, 0), (90, 0), (0, 60)]),
                turn=Turn.FREE,
                face=FaceUp.EITHER,
            ),
        ),
    )


@pytest.fixture
def desk(make_desk):
    made = make_desk(small_project(), fill=False)
    made.session.put_stock(
        sheet("half", "half sheet", EVA6, (1000, 500), owned=1, price=Decimal("11.50"), margin=5)
    )
    made.rested()
    made.window.go("lay")
    let_run()
    made.window.fit()
    return made


def key(ident, copy=0, foam=EVA6):
    return (foam, (ident, copy))


def placement(desk, ident):
    return desk.lay.presenter.find(key(ident)).placement


def centre_on_screen(desk, ident):
    item = desk.lay.table.parts[key(ident)]
    x, y = item.shape_mm.placed(item.pose).label_point
    return desk.lay.table.mapFromScene(item.mapToScene(QPointF(x, -y)))


def choose(desk, wanted):
    """Choose one part as a click on it does."""
    desk.lay.table.drawing.finish()
    desk.lay.table.scene().clearSelection()
    desk.lay.table.parts[wanted].setSelected(True)
    assert desk.lay.presenter.selected == (wanted,)


def send(table, kind, at, button=Qt.MouseButton.LeftButton):
    held = Qt.MouseButton.NoButton if kind is QEvent.Type.MouseButtonRelease else button
    pressed = Qt.MouseButton.NoButton if kind is QEvent.Type.MouseMove else button
    view = table.viewport()
    event = QMouseEvent(
        kind,
        QPointF(at),
        QPointF(view.mapToGlobal(at)),
        pressed,
        held,
        Qt.KeyboardModifier.NoModifier,
    )
    handler = {
        QEvent.Type.MouseButtonPress: table.mousePressEvent,
        QEvent.Type.MouseMove: table.mouseMoveEvent,
        QEvent.Type.MouseButtonRelease: table.mouseReleaseEvent,
    }[kind]
    handler(event)


def drag(desk, ident, dx, dy, *keys, release=True):
    """Drag a part by (dx, dy) mm, y upwards, pressing keys on the way."""
    table = desk.lay.table
    start = centre_on_screen(desk, ident)
    scale = table.scale_now
    end = start + QPoint(round(dx * scale), round(-dy * scale))
    send(table, QEvent.Type.MouseButtonPress, start)
    send(table, QEvent.Type.MouseMove, start + QPoint(3, 3))
    send(table, QEvent.Type.MouseMove, (start + end) / 2)
    send(table, QEvent.Type.MouseMove, end)
    desk.answered()
    for k in keys:
        table.keyPressEvent(QKeyEvent(QEvent.Type.KeyPress, k, Qt.KeyboardModifier.NoModifier))
    if release:
        send(table, QEvent.Type.MouseButtonRelease, end)
        let_run()
    desk.answered()


def test_a_part_is_dragged_pinned_and_the_move_can_be_undone(desk):
    before = placement(desk, "a")
    drag(desk, "a", 250, 60)
    after = placement(desk, "a")
    assert after.pose.x - before.pose.x == pytest.approx(250, abs=2 / desk.lay.table.scale_now)
    assert after.pose.y - before.pose.y == pytest.approx(60, abs=2 / desk.lay.table.scale_now)
    assert desk.lay.presenter.is_pinned(key("a"))
    assert desk.session.plan.foams[0].standing is Standing.KEPT
    assert desk.lay.table.parts[key("a")].pinned
    assert desk.session.undo_label == "Move plate a"
    desk.act("undo")
    assert placement(desk, "a") == before
    desk.act("redo")
    assert placement(desk, "a") == after


def test_a_clash_shows_at_once_and_is_never_accepted(desk):
    table = desk.lay.table
    before = {i: placement(desk, i) for i in "abc"}
    target = centre_on_screen(desk, "b") - centre_on_screen(desk, "a")
    drag(desk, "a", target.x() / table.scale_now, -target.y() / table.scale_now, release=False)
    assert table.holding
    assert table.parts[key("a")].clash
    assert table.parts[key("b")].clash
    assert "too near" in table._hold.problem
    table.viewport().repaint()
    send(table, QEvent.Type.MouseButtonRelease, centre_on_screen(desk, "b"))
    desk.answered()
    assert {i: placement(desk, i) for i in "abc"} == before
    assert "stays where it was" in desk.window.message.text.text()
    assert table.parts[key("a")].pose == before["a"].pose
    assert not any(item.clash for item in table.parts.values())
    assert not desk.session.history


def test_a_part_cannot_be_dragged_off_the_foam(desk):
    drag(desk, "a", -60, 0)
    assert "edge of the foam" in desk.window.message.text.text()
    assert not desk.session.history


def test_escape_puts_the_part_back(desk):
    before = placement(desk, "a")
    drag(desk, "a", 250, 60, Qt.Key.Key_Escape)
    assert placement(desk, "a") == before
    assert not desk.session.history


def test_parts_turn_in_the_hand_as_their_rules_allow(desk):
    drag(desk, "a", 260, 90, Qt.Key.Key_R)
    assert placement(desk, "a").pose.rotation in (90.0, 270.0, 0.0, 180.0)
    turned = placement(desk, "a").pose.rotation
    drag(desk, "a", 20, 0, Qt.Key.Key_R)
    assert (placement(desk, "a").pose.rotation - turned) % 360 == 90
    # Keeps the sheet's direction: only end for end.
    before = placement(desk, "b").pose.rotation
    drag(desk, "b", 380, 40, Qt.Key.Key_R)
    assert (placement(desk, "b").pose.rotation - before) % 360 == 180


def test_selected_parts_turn_flip_and_take_an_angle(desk):
    drag(desk, "c", 450, 80)
    choose(desk, key("c"))
    before = placement(desk, "c").pose
    desk.act("turn")
    assert (placement(desk, "c").pose.rotation - before.rotation) % 360 == pytest.approx(15)
    desk.act("turn-back")
    assert placement(desk, "c").pose.rotation == pytest.approx(before.rotation)
    desk.act("flip")
    assert placement(desk, "c").pose.mirrored is not before.mirrored
    card = desk.lay.part_card
    card.angle.setText("33.5")
    card.angle.returnPressed.emit()
    assert placement(desk, "c").pose.rotation == pytest.approx(33.5)
    card.angle.setText("steep")
    card.angle.returnPressed.emit()
    assert "angle" in card.error.text()
    choose(desk, key("a"))
    card.angle.setText("10")
    card.angle.returnPressed.emit()
    assert "may not be rotated to that angle" in desk.window.message.text.text()
    planned = desk.session.plan.foams[0]
    assert violations(planned.job, planned.result.placements) == []


def test_a_shown_face_is_never_flipped(make_desk):
    project = Project("Tile", (Piece("t", "tile plate", rectangle(90, 60), "tile", 8.0),))
    desk = make_desk(project)
    desk.rested()
    desk.window.go("lay")
    foam = Foam(8.0, "tile")
    choose(desk, key("t", foam=foam))
    desk.act("flip")
    assert "its face must show" in desk.window.message.text.text()
    assert not desk.session.history


def test_pins_hold_while_the_rest_is_laid_anew(desk):
    drag(desk, "a", 300, 90)
    pinned = placement(desk, "a")
    desk.session.edit("More", lambda p: change_piece(p, "b", count=6))
    assert desk.session.plan.foams[0].standing in (Standing.STALE, Standing.PROPOSED)
    desk.rested()
    assert placement(desk, "a") == pinned
    assert len(desk.session.plan.foams[0].result.placements) == 8
    desk.act("keep")
    choose(desk, key("a"))
    desk.act("pin")
    assert not desk.lay.presenter.is_pinned(key("a"))
    desk.act("pin")
    assert desk.lay.presenter.is_pinned(key("a"))


def test_a_part_can_be_carried_to_another_sheet_of_the_same_foam(make_desk):
    project = Project("Two", (Piece("a", "a", rectangle(380, 300), count=4),))
    desk = make_desk(project)
    desk.rested()
    desk.window.go("lay")
    desk.window.fit()
    let_run()
    sheets = {p.sheet + str(p.sheet_copy) for p in desk.session.plan.foams[0].result.placements}
    assert len(sheets) >= 2
    spots = {s.key: s for s in desk.lay.table.spots}
    placements = desk.session.plan.foams[0].result.placements
    count = {k: sum((p.sheet, p.sheet_copy) == k for p in placements) for k in spots}
    target = next(s for k, s in spots.items() if count[k] == 1 and s.shape.width > 900)
    mover = next(p for p in placements if (p.sheet, p.sheet_copy) != target.key)
    other = next(p for p in placements if (p.sheet, p.sheet_copy) == target.key)
    free_x = 560 if other.pose.apply(rectangle(380, 300).outer)[:, 0].max() < 540 else 30
    item = desk.lay.table.parts[(EVA6, (mover.piece, mover.copy))]
    x0, y0, _, _ = item.shape_mm.placed(item.pose).bounds
    start = item.mapToScene(QPointF(x0 + 100, -(y0 + 100)))
    end = QPointF(target.origin[0] + free_x + 100, -(target.origin[1] + 60 + 100))
    table = desk.lay.table
    a, b = table.mapFromScene(start), table.mapFromScene(end)
    send(table, QEvent.Type.MouseButtonPress, a)
    send(table, QEvent.Type.MouseMove, a + QPoint(6, 6))
    send(table, QEvent.Type.MouseMove, b)
    send(table, QEvent.Type.MouseButtonRelease, b)
    desk.answered()
    moved = next(
        p
        for p in desk.session.plan.foams[0].result.placements
        if (p.piece, p.copy) == (mover.piece, mover.copy)
    )
    assert (moved.sheet, moved.sheet_copy) == target.key


def test_foam_that_the_shop_lacks_is_said(make_desk):
    desk = make_desk(Project("X", (Piece("x", "x", rectangle(50, 50), thickness=3.0),)))
    let_run()
    assert desk.session.plan.foams[0].standing is Standing.NO_STOCK
    assert "buy" in desk.window.wants()
    assert "no foam in the shop" in [e.text for e in entries(desk)]


def entries(desk):
    from ivory_quilt.desk.widgets.ledger import FoamEntry

    return desk.window.ledger.findChildren(FoamEntry)


def test_parts_that_fit_nowhere_lie_beside_the_sheets(make_desk):
    desk = make_desk(Project("X", (Piece("x", "giant", rectangle(2500, 1500)),)))
    desk.rested()
    desk.window.go("lay")
    assert desk.session.plan.ledger.unplaced == 1
    assert "does not fit" in desk.lay.strip.text.text()
    assert "lay" in desk.window.wants()
    assert not desk.window.can_keep()
    assert desk.lay.stack.currentWidget() is desk.lay.table


def test_improving_can_be_watched_stopped_and_kept(demo_desk):
    desk = demo_desk
    desk.laid()
    first = desk.session.plan.ledger.cost
    desk.rested()
    desk.window.go("lay")
    desk.act("improve")
    assert desk.window.laying.busy
    assert let_run(lambda: desk.lay.strip.bar.value() > 0, 20)
    assert desk.lay.strip.stop.isEnabled()
    assert not desk.lay.strip.improve.isEnabled()
    desk.act("stop")
    assert let_run(lambda: not desk.window.laying.busy, 10)
    assert desk.session.plan.ledger.cost <= first
    assert desk.session.plan.ledger.unplaced == 0
    desk.act("keep")
    assert {f.standing for f in desk.session.plan.foams} == {Standing.KEPT}
    assert not desk.window.can_keep()
    for foam in desk.session.plan.foams:
        assert violations(foam.job, foam.result.placements) == []


def test_a_kept_layout_is_improved_as_one_edit_that_can_be_undone(desk):
    desk.act("keep")
    drag(desk, "a", 500, 250)
    kept = desk.session.project
    choose(desk, key("a"))
    desk.act("pin")
    unpinned = desk.session.project
    desk.window.laying.improve(seconds=10.0)
    assert let_run(lambda: not desk.window.laying.busy, 40)
    assert desk.session.undo_label == IMPROVED
    desk.act("undo")
    assert desk.session.project == unpinned
    desk.act("undo")
    assert desk.session.project == kept


def test_the_gap_is_an_edit_and_everything_is_laid_anew(desk):
    desk.lay.gap.setText("wide")
    desk.lay.gap.editingFinished.emit()
    assert "gap" in desk.lay.gap_error.text()
    desk.lay.gap.setText("1/2 in")
    desk.lay.gap.editingFinished.emit()
    assert desk.session.project.gap == 12.7
    assert desk.lay.gap_error.text() == ""
    desk.rested()
    planned = desk.session.plan.foams[0]
    assert planned.job.gap == 12.7
    assert violations(planned.job, planned.result.placements) == []
    desk.act("undo")
    assert desk.session.project.gap == 2.0


def test_how_long_to_improve_and_the_cost_to_stop_at_are_decided_on_the_card(make_desk):
    desk = make_desk(small_project(), fill=False)
    desk.session.put_stock(sheet("half", "half sheet", EVA6, (1000, 500), price=Decimal("11.50")))
    desk.rested()
    desk.window.go("lay")
    box, laying = desk.lay.run_box, desk.window.laying
    assert box.span.currentText() == "12 s per foam"
    assert laying.improve_seconds == 12.0
    box.span.textActivated.emit("1 minute per foam")
    assert laying.improve_seconds == 60.0

    def type_cost(text):
        box.target.setText(text)
        box.target.editingFinished.emit()
        return box.error.text()

    assert "cost to stop at" in type_cost("cheap")
    assert laying.target is None
    assert type_cost("99,50 €") == ""
    assert laying.target == Decimal("99.50")
    desk.lay.refresh()
    assert box.target.text() == "99.50 €"
    bound = desk.session.plan.ledger.bound
    assert bound > 0
    assert type_cost(str(bound - 1)) == f"No layout of these parts costs less than {bound:.2f} €."
    assert type_cost("") == ""
    assert laying.target is None


def test_the_ledger_tells_what_an_edit_changed(desk):
    cost = desk.session.plan.ledger.cost
    desk.session.edit("Many", lambda p: change_piece(p, "a", count=60))
    desk.rested()
    change = desk.session.last_change
    assert change.cost == desk.session.plan.ledger.cost - cost > 0
    assert change.foams[0][1].startswith("+")
    assert "+" in desk.window.ledger.cost_note.text()
    desk.act("undo")
    desk.rested()
    assert desk.session.plan.ledger.cost == cost
    desk.session.edit("None", lambda p: remove_pieces(p, ["a", "b", "c"]))
    assert desk.session.plan.foams == ()


def test_clicking_the_ledger_opens_the_station_that_decides(demo_desk):
    desk = demo_desk
    desk.laid()
    entry = entries(desk)[2]
    QTest.mouseClick(entry, Qt.MouseButton.LeftButton)
    assert desk.window.station is desk.lay
    slip = desk.window.ledger.cost.open_slip()
    assert slip.isVisible()
    slip.close()
    slip = desk.window.ledger.scrap.open_slip()
    slip.close()
    QTest.keyClick(entries(desk)[0], Qt.Key.Key_Return)
    assert desk.window.station is desk.lay
