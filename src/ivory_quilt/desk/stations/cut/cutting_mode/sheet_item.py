"""A sheet under the knife: what is cut, what is not, and the part in hand."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QPainter, QPainterPath
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.geometry.shape import Array, rectangle
from ivory_quilt.core.pattern.piece import PieceLine
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.spent_sheet import CutState, SpentSheet
from ivory_quilt.desk.canvas.paths import label_place, line_path, placed_path, run_path, shape_path
from ivory_quilt.desk.canvas.pens import cosmetic, line_pen
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.theme.palette import Palette, foam_fill, piece_fill

LEAST_ROOM = 18.0  # px: a narrower part takes no number
SIGNS = {CutState.CUT: "✓", CutState.CHANGED: "✓ changed", CutState.SPOILED: "spoiled"}
INKS = {CutState.CUT: "good", CutState.CHANGED: "good", CutState.SPOILED: "cut"}


class _DrawnPart(Struct, frozen=True):
    path: QPainterPath
    lines: tuple[tuple[PieceLine, QPainterPath], ...]
    at: QPointF
    room: float


class SheetUnderKnifeItem(QGraphicsItem):
    """The whole sheet; the part in hand is the one that the eye lands on."""

    def __init__(
        self,
        sheet: SpentSheet,
        lines: tuple[tuple[PieceLine, ...], ...],
        present: int | None,
        cuts: tuple[Array, ...],
        look: Palette,
    ) -> None:
        """Draw `sheet` with its own (0, 0) at the item's.

        `lines` are those on each part, `cuts` where the one in hand is cut now; none: all around.
        """
        super().__init__()
        self._sheet, self._present, self._look = sheet, present, look
        shape = sheet.item.shape
        if sheet.used_length is not None:
            shape = rectangle(sheet.used_length, sheet.item.breadth)
        self._path = shape_path(shape)
        self._parts = []
        self._cuts = tuple(run_path(cut) for cut in cuts)
        for part, mine in zip(sheet.parts, lines, strict=True):
            drawn = tuple((line, line_path(line.placed(part.pose))) for line in mine)
            at, room = label_place(part.shape, part.pose)
            self._parts.append(_DrawnPart(placed_path(part.shape, part.pose), drawn, at, room))

    def boundingRect(self) -> QRectF:
        """Return the sheet's box."""
        return self._path.boundingRect().adjusted(-6, -6, 6, 6)

    def at(self, point: QPointF) -> int | None:
        """Return the number of the part at a place of the scene, or None."""
        return next((k for k, d in enumerate(self._parts) if d.path.contains(point)), None)

    def paint(
        self, painter: QPainter, _option: QStyleOptionGraphicsItem, _widget: QWidget | None = None
    ) -> None:
        """Paint foam that is there as foam, what is cut out as the table below it."""
        look = self._look
        thickness = self._sheet.item.foam.thickness
        painter.setPen(cosmetic(look.colour("ink_soft"), 1.4))
        painter.setBrush(foam_fill(thickness, look, 0.22))
        painter.drawPath(self._path)
        for number in range(len(self._parts)):
            if number != self._present:
                self._paint_part(painter, number)
        if self._present is not None:
            self._paint_in_hand(painter, self._present)

    def _paint_part(self, painter: QPainter, number: int) -> None:
        look, drawn = self._look, self._parts[number]
        state = self._sheet.parts[number].state
        if state is CutState.WAITING:
            painter.setPen(cosmetic(look.colour("ink_soft"), 1.2))
            painter.setBrush(foam_fill(self._sheet.item.foam.thickness, look, 0.22))
            painter.drawPath(drawn.path)
            self._word(painter, drawn, f"{number + 1}", "ink_soft")
            return
        painter.setPen(cosmetic(look.colour("thread"), 1.2))
        painter.setBrush(look.colour("paper"))
        painter.drawPath(drawn.path)
        if state is CutState.SPOILED:
            painter.setBrush(QBrush(look.colour("cut"), Qt.BrushStyle.BDiagPattern))
            painter.drawPath(drawn.path)
        self._word(painter, drawn, SIGNS[state], INKS[state])

    def _paint_in_hand(self, painter: QPainter, number: int) -> None:
        look, drawn = self._look, self._parts[number]
        state = self._sheet.parts[number].state
        ink = "cut" if state is CutState.WAITING else INKS[state]
        strong = cosmetic(look.colour(ink), 4.0)
        painter.setPen(cosmetic(look.colour("ink_soft"), 1.2) if self._cuts else strong)
        painter.setBrush(piece_fill(self._sheet.item.foam.thickness, look))
        painter.drawPath(drawn.path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for line, path in drawn.lines:
            painter.setPen(line_pen(line.kind, look, 2.4))
            painter.drawPath(path)
        painter.setPen(strong)
        for path in self._cuts:
            painter.drawPath(path)
        self._word(painter, drawn, SIGNS.get(state, f"{number + 1}"), "ink", size=28)

    def _word(
        self, painter: QPainter, drawn: _DrawnPart, word: str, ink: str, *, size: int = 14
    ) -> None:
        scale = painter.worldTransform().m11()
        room, height = drawn.room * scale - 4, drawn.path.boundingRect().height() * scale
        if room > LEAST_ROOM and height > size + 2:
            colour = self._look.colour(ink)
            screen_text(painter, drawn.at, word, colour, room, size=size, strong=True, whole=True)
