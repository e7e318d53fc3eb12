"""The table: sheets as a quilt, parts that hands can move. A clash shows at once."""

from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter

from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.plan import FoamPlan
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.paths import shape_rect
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.lay.drawing import QuiltDrawing
from ivory_quilt.desk.stations.lay.presenter import LayPresenter, PartKey, Quilt, SheetSpot
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.theme.style import words

SLOP = 4  # px a press may wander before it is a drag


class Hold:
    """A part in the maker's hand."""

    def __init__(self, key: PartKey, item: FoamItem, placement: Placement, spot: SheetSpot) -> None:
        """Take hold of `item`, which lies on `spot`."""
        self.key, self.item = key, item
        self.placement, self.spot = placement, spot
        self.grip = QPointF()
        self.moving = False
        self.problem = ""


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
        self._hold: Hold | None = None
        self._filling = False
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
            box = shape_rect(spot.rest or spot.shape).translated(spot.origin[0], -spot.origin[1])
            self._content = self._content.united(box.adjusted(0, -90, 0, 0))
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
        planned, index = found
        assert planned.result is not None
        placement = planned.result.placements[index]
        spot = next(s for s in self.spots if s.key == (placement.sheet, placement.sheet_copy))
        self._hold = Hold(key, item, placement, spot)
        self._hold.grip = at

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Carry the part; show at once where it would clash."""
        hold = self._hold
        if hold is None or self._panning is not None:
            super().mouseMoveEvent(event)
            return
        at = self.mapToScene(event.position().toPoint())
        if not hold.moving:
            moved = (at - hold.grip) * self.scale_now
            if abs(moved.x()) + abs(moved.y()) < SLOP:
                return
            hold.moving = True
            hold.item.setZValue(10)
            if not hold.item.isSelected():
                self.scene().clearSelection()
                hold.item.setSelected(True)
        self._carry(hold, at)

    def _carry(self, hold: Hold, at: QPointF) -> None:
        delta = at - hold.grip
        hold.grip = at
        pose = hold.placement.pose
        # Scene y points down.
        x, y = pose.x + delta.x(), pose.y - delta.y()
        hold.placement = replace(hold.placement, pose=replace(pose, x=x, y=y))
        self._change_sheet(hold, at)
        self._redraw(hold)

    def _change_sheet(self, hold: Hold, at: QPointF) -> None:
        """Hand the part over to the sheet under the pointer, if it is of the same foam."""
        for spot in self.spots:
            if spot.key == hold.spot.key or spot.foam.foam != hold.spot.foam.foam:
                continue
            local = QPointF(at.x() - spot.origin[0], at.y() + spot.origin[1])
            x0, y0, x1, y1 = spot.shape.bounds
            if x0 <= local.x() <= x1 and y0 <= -local.y() <= y1:
                dx = hold.spot.origin[0] - spot.origin[0]
                dy = hold.spot.origin[1] - spot.origin[1]
                pose = hold.placement.pose
                hold.placement = replace(
                    hold.placement,
                    sheet=spot.key[0],
                    sheet_copy=spot.key[1],
                    pose=replace(pose, x=pose.x + dx, y=pose.y + dy),
                )
                hold.spot = spot
                return

    def _redraw(self, hold: Hold) -> None:
        found = self._presenter.find(hold.key)
        if found is None:
            return
        planned, index = found
        hold.item.set_pose(hold.placement.pose)
        hold.item.setPos(hold.spot.origin[0], -hold.spot.origin[1])
        self._show_clash(hold, planned, index)
        self.viewport().update()

    def _show_clash(self, hold: Hold, planned: FoamPlan, index: int) -> None:
        broken = self._presenter.check(planned, index, hold.placement)
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
        if hold is not None and hold.moving:
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
        elif event.key() == Qt.Key.Key_X:
            pose = self._presenter.flipped(hold.key, hold.placement.pose)
        elif event.key() == Qt.Key.Key_Escape:
            self._hold = None
            self._clear_marks()
            self.let_go.emit()
        if pose is not None:
            hold.placement = replace(hold.placement, pose=pose)
            self._redraw(hold)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """A part in the hand goes back when the window loses the keyboard."""
        if self._hold is not None and not self._hold.moving:
            self._hold = None
        super().focusOutEvent(event)

    def drawForeground(self, painter: QPainter, rect: object) -> None:
        """Write what is in the way beside the pointer."""
        super().drawForeground(painter, rect)
        hold = self._hold
        if hold is None or not hold.moving or not hold.problem:
            return
        painter.save()
        painter.resetTransform()
        painter.setFont(words(14, strong=True))
        at = self.mapFromScene(hold.grip)
        metrics = painter.fontMetrics()
        width = metrics.horizontalAdvance(hold.problem) + 20
        x = min(at.x() + 16, self.viewport().width() - width - 8)
        y = max(at.y() - 40, 30)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.look.colour("cut"))
        painter.drawRoundedRect(x, y, width, 28, 6, 6)
        painter.setPen(self.look.colour("paper"))
        painter.drawText(x + 10, y + 19, hold.problem)
        painter.restore()
