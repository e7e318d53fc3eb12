"""Draft's table: one piece with everything on it, and the line in the hand."""

import math

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

from ivory_quilt.core.editing.snap import Snap
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.pattern.edges import beside_middle, edge_line, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.paths import line_path
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.pattern.draft.presenter import (
    CORNER_REACH,
    DraftPresenter,
    ThingKind,
    Tool,
)
from ivory_quilt.desk.theme.palette import Palette

REACH = 9.0  # px that a point is pulled
TAG = 15.0  # px that an edge's letter stands outside the edge


def scene(point: Point) -> QPointF:
    """Return a point in mm, y upwards, as a point of the scene."""
    return QPointF(point[0], -point[1])


class DraftTable(Canvas):
    """One piece, drawn on by hand."""

    drawn = Signal()
    """A line was drawn, or something chosen."""
    refused = Signal(str)
    """What was done by hand makes no sense; why."""

    def __init__(self, presenter: DraftPresenter) -> None:
        """Show what `presenter` drafts."""
        super().__init__()
        self.setAccessibleName("draft of one piece")
        self._presenter = presenter
        self._start: Point | None = None
        self._snap: Snap | None = None
        self._shown: tuple[object, ...] = ()

    def show_piece(self, piece: Piece, look: Palette) -> None:
        """Draw the piece; a piece of another size is fitted into the view."""
        state = (piece, look)
        if state == self._shown:
            self.viewport().update()
            return
        old = self._shown[0] if self._shown else None
        self._shown = state
        self.scene().clear()
        item = FoamItem(
            piece.shape,
            piece.thickness,
            look,
            "",
            "",
            piece.lines,
            marks=piece.match_marks,
            labels=piece.labels,
        )
        item.setFlag(item.GraphicsItemFlag.ItemIsSelectable, enabled=False)
        item.setToolTip("")
        self.scene().addItem(item)
        same = isinstance(old, Piece) and old.shape.bounds == piece.shape.bounds
        if not same:
            self.fit()

    def content(self) -> QRectF:
        """Return the piece's box with room for its letters."""
        box = self.scene().itemsBoundingRect()
        edge = 0.06 * max(box.width(), box.height())
        return box.adjusted(-edge, -edge, edge, edge)

    @property
    def reach(self) -> float:
        """How far a point is pulled, mm."""
        return REACH / self.scale_now

    # Hands

    def _mm(self, event: QMouseEvent) -> Point:
        at = self.mapToScene(event.position().toPoint())
        return (at.x(), -at.y())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Begin a line, or put down what the tool makes."""
        super().mousePressEvent(event)
        if event.button() != Qt.MouseButton.LeftButton or self._panning is not None:
            return
        hand, p = self._mm(event), self._presenter
        if p.piece is None:
            return
        found = p.snap(hand, self.reach)
        try:
            if p.tool is Tool.LINE:
                self._start = found.at
                p.pending = None
            elif p.tool is Tool.MATCH:
                p.add_mark(found.at)
            elif p.tool is Tool.WORDS:
                p.add_words(hand)
            elif p.tool is Tool.CORNER:
                p.corner(found.at, self.reach / 2 + min(self.reach, CORNER_REACH))
            else:
                p.choose_at(hand, 1.5 * self.reach)
        except InputError as error:
            self.refused.emit(str(error))
        self.drawn.emit()
        self.viewport().update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Show where a point would fall, and why."""
        super().mouseMoveEvent(event)
        p = self._presenter
        if p.piece is None or self._panning is not None:
            return
        wants = p.tool in (Tool.LINE, Tool.MATCH, Tool.CORNER)
        self._snap = p.snap(self._mm(event), self.reach, self._start) if wants else None
        self.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """End the line."""
        super().mouseReleaseEvent(event)
        if self._start is not None and event.button() == Qt.MouseButton.LeftButton:
            stop = self._presenter.snap(self._mm(event), self.reach, self._start).at
            self._presenter.draw(self._start, stop)
            self._start = None
            self.drawn.emit()
            self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape lets go of the line."""
        if event.key() == Qt.Key.Key_Escape and (self._start or self._presenter.pending):
            self._start = self._presenter.pending = None
            self.drawn.emit()
            self.viewport().update()
            return
        super().keyPressEvent(event)

    # Painting

    def drawForeground(self, painter: QPainter, rect: QRectF | object) -> None:
        """Draw edges, corners, the chosen thing and the line in the hand; then the rulers."""
        piece = self._presenter.piece
        if piece is not None and self._shown:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paint_edges(painter, piece)
            self._paint_chosen(painter, piece)
            self._paint_hand(painter)
        super().drawForeground(painter, rect)

    def _paint_edges(self, painter: QPainter, piece: Piece) -> None:
        scale, look = self.scale_now, self.look
        painter.setBrush(look.colour("paper"))
        painter.setPen(cosmetic(look.colour("ink"), 1.6))
        for edge in edges_of(piece):
            painter.drawEllipse(scene(edge.start), 4 / scale, 4 / scale)
        for edge in edges_of(piece):
            at = beside_middle(edge_line(piece, edge), TAG / scale)
            screen_text(painter, scene(at), edge.name, look.colour("ink_soft"), 120, strong=True)

    def _paint_chosen(self, painter: QPainter, piece: Piece) -> None:
        chosen, scale = self._presenter.chosen, self.scale_now
        if chosen is None or not self._presenter.what_is_chosen():
            return
        painter.setPen(cosmetic(self.look.colour("iris"), 4.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if chosen.kind is ThingKind.LINE:
            painter.drawPath(line_path(piece.lines[chosen.index]))
            return
        at = (
            piece.match_marks[chosen.index]
            if chosen.kind is ThingKind.MARK
            else (piece.labels[chosen.index].at)
        )
        painter.drawEllipse(scene(at), 11 / scale, 11 / scale)

    def _paint_hand(self, painter: QPainter) -> None:
        p, look, scale = self._presenter, self.look, self.scale_now
        ends = p.pending
        if self._start is not None and self._snap is not None:
            ends = (self._start, self._snap.at)
        if ends is not None:
            a, b = scene(ends[0]), scene(ends[1])
            painter.setPen(cosmetic(look.colour("iris"), 2.4))
            painter.drawLine(a, b)
            painter.setBrush(look.colour("iris"))
            painter.drawEllipse(a, 3.5 / scale, 3.5 / scale)
            painter.drawEllipse(b, 3.5 / scale, 3.5 / scale)
            length = math.dist(*ends)
            middle = (a + b) / 2 + QPointF(0, -12 / scale)
            screen_text(
                painter,
                middle,
                f"{length:.1f} mm",
                look.colour("iris"),
                120,
                strong=True,
                ground=look.colour("paper"),
            )
        if self._snap is not None and self._snap.why:
            at = scene(self._snap.at)
            painter.setPen(cosmetic(look.colour("iris"), 1.8))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 7 / scale, 7 / scale)
            beside = at + QPointF(12 / scale, -12 / scale)
            iris, ground = look.colour("iris"), look.colour("paper")
            screen_text(painter, beside, self._snap.why, iris, 200, centred=False, ground=ground)
