"""Draft's table: one piece with everything on it, and the line in the hand."""

import math
from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

from ivory_quilt.core.editing.snap import Snap
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.pattern.edges import beside_middle, edge_line, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.paths import line_path, scene_point, shape_path
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.canvas.view import RULER, Canvas
from ivory_quilt.desk.stations.pattern.draft.outline_hand import OutlineHand, curve_path
from ivory_quilt.desk.stations.pattern.draft.picture_hand import PictureHand
from ivory_quilt.desk.stations.pattern.draft.presenter import (
    CORNER_REACH,
    DraftPresenter,
    ThingKind,
    Tool,
)
from ivory_quilt.desk.stations.pattern.draft.redraw_hand import RedrawHand
from ivory_quilt.desk.theme.palette import Palette

REACH = 9.0  # px that a point is pulled
FAINT = 0.35  # how strongly a piece is painted over a picture
OVER_PICTURE = (Tool.OUTLINE, Tool.REDRAW, Tool.PICTURE)
TAG = 15.0  # px that an edge's letter stands outside the edge


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
        self.upwards = True
        self._presenter = presenter
        self._start: Point | None = None
        self._snap: Snap | None = None
        self._shown: tuple[object, ...] = ()
        self.outline = OutlineHand(presenter.outline)
        self.redraw = RedrawHand(presenter.outline, presenter.picture)
        self.picture = PictureHand(presenter.picture)

    def show_piece(self, piece: Piece, look: Palette) -> None:
        """Draw the piece; a piece of another size is fitted into the view."""
        over = self._presenter.picture.underlay
        faint = over is not None and self._presenter.tool in OVER_PICTURE
        state = (piece, look, id(over.grey) if over is not None else 0, faint)
        if state == self._shown:
            self.viewport().update()
            return
        old, was = (self._shown[0], self._shown[2]) if self._shown else (None, None)
        self._shown = state
        self.scene().clear()
        self.outline.hover = None
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
        if faint:  # the picture is seen through it
            item.setOpacity(FAINT)
        kept = isinstance(old, Piece) and old.id == piece.id and was == state[2]
        if not kept:
            self.fit()

    def content(self) -> QRectF:
        """Return the piece's box with room for its letters."""
        box = self.scene().itemsBoundingRect().united(self.picture.ground())
        edge = 0.06 * max(box.width(), box.height())
        return box.adjusted(-edge, -edge, edge, edge)

    @property
    def reach(self) -> float:
        """How far a point is pulled, mm."""
        return REACH / self.scale_now

    # Hands

    def _mm(self, event: QMouseEvent) -> Point:
        at = self.viewportTransform().inverted()[0].map(event.position())
        return (at.x(), -at.y())

    def _do(self, work: Callable[[], object]) -> None:
        """Do what a hand did, or say why not; the card shows what came of it."""
        try:
            work()
        except InputError as error:
            self.refused.emit(str(error))
        else:
            self.refused.emit("")
        self.drawn.emit()
        self.viewport().update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Begin a line, or put down what the tool makes."""
        super().mousePressEvent(event)
        if event.button() != Qt.MouseButton.LeftButton or self._panning is not None:
            return
        hand, p = self._mm(event), self._presenter
        if p.piece is None:
            return
        if p.tool is Tool.OUTLINE:
            self._do(lambda: self.outline.press(hand, self.reach, event))
            return
        if p.tool is Tool.REDRAW:
            self.redraw.press(hand)
            return
        if p.tool is Tool.PICTURE:
            self.picture.press(hand, event)
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
        hand = self._mm(event)
        self._snap = None
        if p.tool is Tool.OUTLINE:
            self._snap = self.outline.move(hand, self.reach, event)
        elif p.tool is Tool.REDRAW:
            self.redraw.move(hand)
        elif p.tool is Tool.PICTURE:
            self.picture.move(hand)
        elif p.tool in (Tool.LINE, Tool.MATCH, Tool.CORNER):
            self._snap = p.snap(hand, self.reach, self._start)
        self.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """End the line."""
        super().mouseReleaseEvent(event)
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._snap = None
        if self._presenter.tool is Tool.OUTLINE:
            self._do(self.outline.release)
        elif self._presenter.tool is Tool.REDRAW:
            self._do(lambda: self.redraw.release(self.reach))
        elif self._presenter.tool is Tool.PICTURE:
            self._do(self.picture.release)
        elif self._start is not None:
            stop = self._presenter.snap(self._mm(event), self.reach, self._start).at
            self._presenter.draw(self._start, stop)
            self._start = None
            self.drawn.emit()
            self.viewport().update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Put a node on the outline."""
        super().mouseDoubleClickEvent(event)
        if self._presenter.tool is Tool.OUTLINE:
            self._do(lambda: self.outline.double_click(self._mm(event), self.reach))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape lets go of what is in the hand; arrows nudge nodes."""
        if self._presenter.tool is Tool.OUTLINE:
            known = []
            self._do(lambda: known.append(self.outline.key(event)))
            if known != [False]:
                return
        if event.key() == Qt.Key.Key_Escape and self.redraw.let_go():
            self.viewport().update()
            return
        if event.key() == Qt.Key.Key_Escape and (self._start or self._presenter.pending):
            self._start = self._presenter.pending = None
            self.drawn.emit()
            self.viewport().update()
            return
        super().keyPressEvent(event)

    # Painting

    def drawBackground(self, painter: QPainter, rect: QRectF | object) -> None:
        """Paint the table, and the picture beneath the piece."""
        super().drawBackground(painter, rect)  # type: ignore[arg-type]
        self.picture.paint_picture(painter)

    def drawForeground(self, painter: QPainter, rect: QRectF | object) -> None:
        """Draw edges, corners, the chosen thing and the line in the hand; then the rulers."""
        piece = self._presenter.piece
        if piece is not None and self._shown:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            tool = self._presenter.tool
            self._paint_edges(painter, piece, corners=tool is not Tool.OUTLINE)
            if tool is Tool.OUTLINE:
                top = self.mapToScene(self.viewport().width() // 2, RULER + 20)
                self.outline.paint(painter, self.look, self.scale_now, top)
            elif tool is Tool.REDRAW:
                self._paint_outline(painter)
                self.redraw.paint(painter, self.look)
            elif tool is Tool.PICTURE:
                self._paint_outline(painter)
                self.picture.paint(painter, self.look)
            self._paint_version(painter)
            self._paint_chosen(painter, piece)
            self._paint_hand(painter)
        super().drawForeground(painter, rect)

    def _paint_outline(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(self.look.colour("ink"), 1.8))
        for path in self._presenter.outline.paths():
            painter.drawPath(curve_path(path))

    def _paint_version(self, painter: QPainter) -> None:
        """Draw the version compared, dashed, and where the piece differs most from it."""
        versions, look, scale = self._presenter.versions, self.look, self.scale_now
        was, found = versions.was(), versions.comparison()
        if was is None or found is None:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(look.colour("score"), 2.0, (6.0, 4.0)))
        painter.drawPath(shape_path(was.shape))
        for apart, sign, tone in ((found.out, "+", "good"), (found.within, "−", "heat")):
            if apart is None:
                continue
            at = scene_point(apart.at)
            painter.setPen(cosmetic(look.colour(tone), 2.4))
            painter.drawEllipse(at, 6 / scale, 6 / scale)
            text = f"{sign}{show_number(apart.by, 1)} mm"
            beside = at + QPointF(0, -16 / scale)
            ground = look.colour("paper")
            screen_text(painter, beside, text, look.colour(tone), 160, strong=True, ground=ground)

    def _paint_edges(self, painter: QPainter, piece: Piece, *, corners: bool) -> None:
        scale, look = self.scale_now, self.look
        painter.setBrush(look.colour("paper"))
        painter.setPen(cosmetic(look.colour("ink"), 1.6))
        for edge in edges_of(piece) if corners else ():
            painter.drawEllipse(scene_point(edge.start), 4 / scale, 4 / scale)
        for edge in edges_of(piece):
            at = beside_middle(edge_line(piece, edge), TAG / scale)
            screen_text(
                painter, scene_point(at), edge.name, look.colour("ink_soft"), 120, strong=True
            )

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
        painter.drawEllipse(scene_point(at), 11 / scale, 11 / scale)

    def _paint_hand(self, painter: QPainter) -> None:
        p, look, scale = self._presenter, self.look, self.scale_now
        ends = p.pending
        if self._start is not None and self._snap is not None:
            ends = (self._start, self._snap.at)
        if ends is not None:
            a, b = scene_point(ends[0]), scene_point(ends[1])
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
            at = scene_point(self._snap.at)
            painter.setPen(cosmetic(look.colour("iris"), 1.8))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 7 / scale, 7 / scale)
            beside = at + QPointF(12 / scale, -12 / scale)
            iris, ground = look.colour("iris"), look.colour("paper")
            screen_text(painter, beside, self._snap.why, iris, 200, centred=False, ground=ground)
