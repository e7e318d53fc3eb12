"""The table: sheets as a quilt, parts that hands can move. A clash shows at once."""

import math
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
)

from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.nesting.check import Violation
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.record import replace
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.paths import shape_rect
from ivory_quilt.desk.canvas.quilt import Quilt, SheetSpot
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.lay.dragged_part import DraggedPart
from ivory_quilt.desk.stations.lay.drawing import QuiltDrawing, spot_rect
from ivory_quilt.desk.stations.lay.hands import HandQuestion, question
from ivory_quilt.desk.stations.lay.manual_layout import ManualLayout
from ivory_quilt.desk.stations.lay.presenter import LayPresenter, PartKey
from ivory_quilt.desk.stations.lay.tape import Tape
from ivory_quilt.desk.stations.lay.turn_handle import at_handle, draw_handle, handle_of
from ivory_quilt.desk.theme.palette import Palette

SLOP = 4  # px a press may wander before it is a drag


class Table(Canvas):
    """All used sheets with their parts."""

    picked = Signal()
    """Other parts are selected."""
    let_go = Signal()
    """A part in the hand was let go without a change; it must be shown where it lies."""

    def __init__(self, presenter: LayPresenter) -> None:
        """Show what `presenter` works on."""
        super().__init__()
        self.setAccessibleName("table with all sheets")
        self._presenter = presenter
        self.spots: list[SheetSpot] = []
        self.drawing = QuiltDrawing(self.scene(), presenter.is_pinned)
        self.drawing.portion_done.connect(self._mark_chosen)
        self._content = QRectF()
        self._hold: DraggedPart | None = None
        self._filling = False
        self.work: ManualLayout | None = None
        self.tape = Tape()
        self.scene().selectionChanged.connect(self._selected)
        self.setDragMode(Canvas.DragMode.RubberBandDrag)

    @property
    def holding(self) -> bool:
        """Whether a part is in the hand."""
        return self._hold is not None and self._hold.moving

    # Showing

    def show_quilt(self, quilt: Quilt, look: Palette) -> None:
        """Draw the sheets and parts of every foam that changed; the selection stays."""
        self._hold = None
        self.spots = list(quilt.sheets)
        self._filling = True
        self.drawing.show(quilt, look)
        self._filling = False
        self._content = QRectF()
        for spot in quilt.sheets:
            self._content = self._content.united(spot_rect(spot))
        for left in quilt.tray:
            box = shape_rect(left.part.shape).translated(left.origin[0], -left.origin[1])
            self._content = self._content.united(box)

    def content(self) -> QRectF:
        """Return where the sheets are, drawn already or not."""
        return self._content

    def forget(self) -> None:
        """Draw everything anew the next time."""
        self._filling = True
        self.drawing.forget()
        self._filling = False

    @property
    def parts(self) -> dict[PartKey, FoamItem]:
        """All parts on the table."""
        return self.drawing.parts

    def _mark_chosen(self) -> None:
        """Mark what is chosen, on items made anew too."""
        self._filling = True
        chosen = set(self._presenter.selected)
        for key, item in self.parts.items():
            if item.isSelected() is not (key in chosen):
                item.setSelected(key in chosen)
        self._filling = False

    def _selected(self) -> None:
        if self._filling:
            return
        chosen = self.scene().selectedItems()
        self._presenter.selected = tuple(key for key, item in self.parts.items() if item in chosen)
        self.picked.emit()

    # Hands

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of the part under the pointer."""
        if event.button() == Qt.MouseButton.LeftButton and not self._space:
            at = self.mapToScene(event.position().toPoint())
            if self.tape.out:
                self.tape.start(at)
                return
            handle = self.handle
            if at_handle(event.position(), handle):
                self._grasp(next(i for i in self.parts.values() if i.isSelected()), at)
                if self._hold is not None:
                    self._hold.turning = True
                return
            item = next(
                (i for i in self.scene().items(at) if isinstance(i, FoamItem) and i.data(0)), None
            )
            keys = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
            if item is not None and not event.modifiers() & keys:
                self._grasp(item, at)
        super().mousePressEvent(event)

    def _grasp(self, item: FoamItem, at: QPointF) -> None:
        key: PartKey = item.data(0)
        found = self._presenter.find(key)
        if found is None:
            return
        placement = found.placement
        spot = next(s for s in self.spots if s.key == (placement.sheet, placement.sheet_copy))
        self._hold = DraggedPart(key, item, placement, spot)
        self._hold.grip = at

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Carry the part; show at once where it would clash."""
        hold = self._hold
        at = self.mapToScene(event.position().toPoint())
        if event.buttons() & Qt.MouseButton.LeftButton and self.tape.stretch(at):
            self.viewport().update()
            return
        if hold is None or self._panning is not None:
            super().mouseMoveEvent(event)
            return
        if not hold.moving:
            moved = (at - hold.grip) * self.scale_now
            if abs(moved.x()) + abs(moved.y()) < SLOP:
                return
            hold.moving = True
            hold.item.setZValue(10)
            if not hold.item.isSelected():
                self.scene().clearSelection()
                hold.item.setSelected(True)
        if hold.turning:
            self._turn_by_handle(hold, at)
            return
        free = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        self._carry(hold, at, slide=not free)

    def _turn_by_handle(self, hold: DraggedPart, at: QPointF) -> None:
        """Turn the part so that its handle points to the pointer, as far as its rules allow."""
        middle = hold.item.mapToScene(hold.item.boundingRect().center())
        angle = math.degrees(math.atan2(-(at.y() - middle.y()), at.x() - middle.x())) - 90.0
        pose = self._presenter.turned_to(hold.key, hold.placement.pose, angle % 360.0)
        if pose is not None:
            hold.placement = hold.wanted = replace(hold.placement, pose=pose)
            self._redraw(hold)

    def _carry(self, hold: DraggedPart, at: QPointF, *, slide: bool = True) -> None:
        delta = at - hold.grip
        hold.grip = at
        pose = hold.wanted.pose
        # Scene y points down.
        x, y = pose.x + delta.x(), pose.y - delta.y()
        hold.placement = hold.wanted = replace(hold.wanted, pose=replace(pose, x=x, y=y))
        self._change_sheet(hold, at)
        if slide:
            self._slide(hold)
        else:
            self._redraw(hold)

    def _slide(self, hold: DraggedPart) -> None:
        """Where the part would clash, take it to the nearest free place: it slides along.

        The engine is asked for that place and answers within a frame; what is shown stays until
        then. One question at a time: the next is about where the hand is by then.
        """
        found = self._presenter.find(hold.key)
        if found is None or self.work is None:
            return
        planned, index, _ = found
        broken = self._presenter.check(planned, index, hold.wanted)
        if not broken or not self.work.hands.ready:
            self._redraw(hold, broken)
        elif hold.asked is None:
            self._ask(hold, question(planned, index, "near", hold.wanted))

    def _ask(self, hold: DraggedPart, asked: HandQuestion) -> None:
        assert self.work is not None
        hold.asked = asked.held
        self.work.hands.ask(asked, partial(self._answered, hold, asked.how))

    def _answered(self, hold: DraggedPart, how: str, near: Placement | None) -> None:
        asked, hold.asked = hold.asked, None
        if self._hold is not hold and not hold.released:
            return
        if asked != hold.wanted:  # the hand went on meanwhile
            self._slide(hold)
        else:
            if near is not None:
                hold.placement = near
                if how == "dropped":
                    hold.wanted = near
            self._redraw(hold, [] if near is not None else None)
        if hold.released and hold.asked is None:
            self._put_down(hold)

    def drop_held(self) -> bool:
        """Let the part in the hand drop into the nearest gap; False when none is in the hand."""
        hold = self._hold
        found = self._presenter.find(hold.key) if hold is not None and hold.moving else None
        if hold is None or found is None or self.work is None:
            return False
        if self.work.hands.ready and hold.asked is None:
            self._ask(hold, question(found.plan, found.number, "dropped", hold.wanted))
        return True

    def _change_sheet(self, hold: DraggedPart, at: QPointF) -> None:
        """Hand the part over to the sheet under the pointer, if it is of the same foam."""
        for spot in self.spots:
            if spot.key == hold.spot.key or spot.foam.foam != hold.spot.foam.foam:
                continue
            local = QPointF(at.x() - spot.origin[0], at.y() + spot.origin[1])
            x0, y0, x1, y1 = spot.shape.bounds
            if x0 <= local.x() <= x1 and y0 <= -local.y() <= y1:
                dx = hold.spot.origin[0] - spot.origin[0]
                dy = hold.spot.origin[1] - spot.origin[1]
                pose = hold.wanted.pose
                hold.placement = hold.wanted = replace(
                    hold.wanted,
                    sheet=spot.key[0],
                    sheet_copy=spot.key[1],
                    pose=replace(pose, x=pose.x + dx, y=pose.y + dy),
                )
                hold.spot = spot
                return

    def _redraw(self, hold: DraggedPart, broken: list[Violation] | None = None) -> None:
        """Show the part where it is held; `broken` saves the check where it was made already."""
        found = self._presenter.find(hold.key)
        if found is None:
            return
        planned, index, _ = found
        hold.item.set_pose(hold.placement.pose)
        hold.item.setPos(hold.spot.origin[0], -hold.spot.origin[1])
        if broken is None:
            broken = self._presenter.check(planned, index, hold.placement)
        self._show_clash(hold, planned, index, broken)
        self.viewport().update()

    def _show_clash(
        self, hold: DraggedPart, planned: FoamPlan, index: int, broken: list[Violation]
    ) -> None:
        hold.problem = self._presenter.why(planned, broken, index) if broken else ""
        assert planned.result is not None
        parts = self.parts
        touched = {i for v in broken for i in v.who if i != index}
        for i, p in enumerate(planned.result.placements):
            item = parts.get((planned.foam, (p.piece, p.copy)))
            if item is not None and item is not hold.item:
                item.clash = i in touched
        hold.item.clash = bool(broken)
        for key, sheet in self.drawing.sheets.items():
            sheet.target = key == hold.spot.key and not broken

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Put the part down; where it clashes it goes back."""
        hold, self._hold = self._hold, None
        super().mouseReleaseEvent(event)
        self._mark()
        if hold is None or not hold.moving:
            return
        if hold.asked is not None:
            hold.released = True
        else:
            self._put_down(hold)

    def _put_down(self, hold: DraggedPart) -> None:
        self._clear_marks()
        if not self._presenter.move(hold.key, hold.placement):
            self.let_go.emit()

    def _clear_marks(self) -> None:
        for item in self.parts.values():
            item.clash = False
        for sheet in self.drawing.sheets.values():
            sheet.target = False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Turn and flip what is in the hand; Escape lets go."""
        hold = self._hold
        if hold is None or not hold.moving:
            super().keyPressEvent(event)
            return
        pose: Pose | None = None
        if event.key() == Qt.Key.Key_R:
            back = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            pose = self._presenter.turned(hold.key, hold.placement.pose, -1 if back else 1)
        elif event.key() == Qt.Key.Key_D:
            self.drop_held()
        elif event.key() == Qt.Key.Key_X:
            pose = self._presenter.flipped(hold.key, hold.placement.pose)
        elif event.key() == Qt.Key.Key_Escape:
            self._hold = None
            self._clear_marks()
            self.let_go.emit()
        if pose is not None:
            hold.placement = hold.wanted = replace(hold.placement, pose=pose)
            self._redraw(hold)

    # Turning by the handle, measuring

    @property
    def handle(self) -> QPointF | None:
        """Where the handle of the only chosen part is, in the view; None without one."""
        chosen = self.scene().selectedItems() if self.isVisible() else []
        if len(chosen) != 1 or (self._hold is not None and not self._hold.turning):
            return None
        key: PartKey = chosen[0].data(0)
        if not self._presenter.may_turn(key):
            return None
        return handle_of(self, chosen[0])

    def toggle_measuring(self) -> None:
        """Take up the tape, or lay it down."""
        self._toggle_tape("Drag from one place to another to measure; M ends it.", marking=False)

    def toggle_marking(self) -> None:
        """Take up the marker for flaws, or lay it down."""
        self._toggle_tape("Drag over a flaw of an owned sheet; Shift+M ends it.", marking=True)

    def _toggle_tape(self, hint: str, *, marking: bool) -> None:
        self.tape.toggle(marking=marking)
        if self.tape.out:
            self.viewport().setCursor(Qt.CursorShape.CrossCursor)
            self._presenter.session.tell(hint)
        else:
            self.viewport().unsetCursor()
        self.viewport().update()

    def _mark(self) -> None:
        """Mark what the marker was drawn over."""
        marked = self.tape.take_marked()
        if marked is None:
            return
        start, box = marked
        for spot in self.spots:
            if spot_rect(spot, 0.0).contains(start):
                corner = (box.left() - spot.origin[0], -box.bottom() - spot.origin[1])
                self._presenter.mark_flaw(spot, corner, (box.width(), box.height()))
                return

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """A part in the hand goes back when the window loses the keyboard."""
        if self._hold is not None and not self._hold.moving:
            self._hold = None
        super().focusOutEvent(event)

    def drawForeground(self, painter: QPainter, rect: object) -> None:
        """Write what is in the way beside the pointer."""
        super().drawForeground(painter, rect)
        hold = self._hold
        self.tape.draw(painter, self.look, self.unit)
        if (at := self.handle) is not None:
            draw_handle(painter, at, self.look)
        if hold is None or not hold.moving:
            return
        hold.draw_gap(painter, self.look)
        if hold.problem:
            hold.draw_problem(painter, self.look, self)
