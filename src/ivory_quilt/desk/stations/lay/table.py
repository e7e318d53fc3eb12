"""The table: sheets as a quilt, parts that hands can move. A clash shows at once."""

from dataclasses import replace

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter
from PySide6.QtWidgets import QGraphicsItem

from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Hand
from ivory_quilt.core.plan import FoamPlan
from ivory_quilt.desk.canvas.foam_items import FoamItem, SheetItem
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.lay.presenter import (
    LayPresenter,
    PartKey,
    Quilt,
    SheetSpot,
    TraySpot,
)
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.theme.style import words

SLOP = 4  # px a press may wander before it is a drag


_Drawn = tuple[list[SheetSpot], list[TraySpot], Palette]


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
        self.parts: dict[PartKey, FoamItem] = {}
        self.spots: list[SheetSpot] = []
        self._sheets: dict[tuple[str, int], SheetItem] = {}
        self._drawn: dict[Foam, tuple[_Drawn, list[QGraphicsItem]]] = {}
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
        self._filling = True
        self._hold = None
        self.spots = list(quilt.sheets)
        by_foam: dict[Foam, tuple[list[SheetSpot], list[TraySpot]]] = {}
        for spot in quilt.sheets:
            by_foam.setdefault(spot.foam.foam, ([], []))[0].append(spot)
        for left in quilt.tray:
            by_foam.setdefault(left.foam.foam, ([], []))[1].append(left)
        for foam in [f for f in self._drawn if f not in by_foam]:
            self._wipe(foam)
        for foam, (sheets, tray) in by_foam.items():
            state = (sheets, tray, look)
            if foam in self._drawn and self._drawn[foam][0] == state:
                continue
            if not self._move_parts(foam, sheets, tray, look):
                self._wipe(foam)
                items = self._show_foam(sheets, tray, look)
                self._drawn[foam] = (state, items)
            else:
                self._drawn[foam] = (state, self._drawn[foam][1])
        chosen = set(self._presenter.selected)
        for key, item in self.parts.items():
            item.setSelected(key in chosen)
        self._filling = False

    def _move_parts(
        self, foam: Foam, sheets: list[SheetSpot], tray: list[TraySpot], look: Palette
    ) -> bool:
        """Move a foam's parts to where they lie now, if nothing else about it changed."""
        if foam not in self._drawn or tray:
            return False
        old_sheets, old_tray, old_look = self._drawn[foam][0]
        before = [(s.key, s.origin, s.shape, s.foam.parts) for s in old_sheets]
        after = [(s.key, s.origin, s.shape, s.foam.parts) for s in sheets]
        if before != after or old_tray or old_look is not look:
            return False
        at = {s.key: s for s in sheets}
        result = sheets[0].foam.result
        assert result is not None
        for placement in result.placements:
            key: PartKey = (foam, (placement.piece, placement.copy))
            item, spot = self.parts[key], at[placement.sheet, placement.sheet_copy]
            item.pinned = self._presenter.is_pinned(key)
            item.setPos(spot.origin[0], -spot.origin[1])
            if item.pose != placement.pose:
                item.set_pose(placement.pose)
        for spot in sheets:
            self._sheets[spot.key].note = spot.note
            self._sheets[spot.key].update()
        return True

    def forget(self) -> None:
        """Draw everything anew the next time."""
        for foam in list(self._drawn):
            self._wipe(foam)

    def _wipe(self, foam: Foam) -> None:
        if foam in self._drawn:
            for item in self._drawn.pop(foam)[1]:
                self.scene().removeItem(item)
        self.parts = {k: v for k, v in self.parts.items() if k[0] != foam}

    def _show_foam(
        self, sheets: list[SheetSpot], tray: list[TraySpot], look: Palette
    ) -> list[QGraphicsItem]:
        items: list[QGraphicsItem] = []
        for spot in sheets:
            items += self._show_sheet(spot, look)
        for left in tray:
            part = left.part
            item = FoamItem(part.shape, part.foam.thickness, look, part.label, "does not fit")
            item.clash = True
            item.setPos(left.origin[0], -left.origin[1])
            item.setFlag(FoamItem.GraphicsItemFlag.ItemIsSelectable, False)
            items.append(item)
        for made in items:
            self.scene().addItem(made)
        return items

    def _show_sheet(self, spot: SheetSpot, look: Palette) -> list[QGraphicsItem]:
        margin = spot.item.margin
        thickness = spot.foam.foam.thickness
        sheet = SheetItem(spot.shape, thickness, margin, look, spot.title, spot.note, spot.rest)
        sheet.setPos(spot.origin[0], -spot.origin[1])
        items: list[QGraphicsItem] = [sheet]
        self._sheets[spot.key] = sheet
        assert spot.foam.result is not None
        for placement in spot.foam.result.placements:
            if (placement.sheet, placement.sheet_copy) != spot.key:
                continue
            part = spot.foam.part(placement.piece)
            key: PartKey = (spot.foam.foam, (placement.piece, placement.copy))
            hand = "" if part.hand is Hand.NONE else part.hand.value
            number = f"{placement.copy + 1} of {part.count}" if part.count > 1 else ""
            note = " ".join(x for x in (hand, number) if x)
            item = FoamItem(
                part.shape, thickness, look, part.name, note, part.lines, placement.pose
            )
            item.pinned = self._presenter.is_pinned(key)
            item.setPos(spot.origin[0], -spot.origin[1])
            item.setData(0, key)
            items.append(item)
            self.parts[key] = item
        return items

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
        touched = {i for v in broken for i in v.who if i != index}
        for i, p in enumerate(planned.result.placements):
            item = self.parts.get((planned.foam, (p.piece, p.copy)))
            if item is not None and item is not hold.item:
                item.clash = i in touched
        hold.item.clash = bool(broken)
        for key, sheet in self._sheets.items():
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
        for sheet in self._sheets.values():
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
