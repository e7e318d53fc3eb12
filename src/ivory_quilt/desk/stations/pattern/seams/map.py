"""The seam map: pieces that are glued together lie together, with threads from edge to edge."""

from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPainterPath, QPolygonF

from ivory_quilt.core.document.seam_book import joined_groups
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.geometry.shape import Point, Shape
from ivory_quilt.core.pattern.edges import beside_middle, edge_at, edge_line, edges_of
from ivory_quilt.core.pattern.piece import Edge, Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.paths import shape_rect
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.pattern.board import SPACE, block
from ivory_quilt.desk.stations.pattern.presenter import piece_note
from ivory_quilt.desk.stations.pattern.seams.presenter import SIGNS, TONES, SeamPresenter
from ivory_quilt.desk.theme.palette import Palette

REACH = 12.0  # px within which an edge is meant
CLOSE = 44.0  # px between two numbers below which there is one between them
INSET = -7.0  # px: badges sit outside their edge, where they leave the name free


class SeamMap(Canvas):
    """All pieces, their edges, and which are joined."""

    edge_clicked = Signal()
    """An edge was taken in hand, or let go."""
    hovered = Signal(str)
    """What the pointer is on, in words."""

    def __init__(self, presenter: SeamPresenter) -> None:
        """Show `presenter`'s seams."""
        super().__init__()
        self.setAccessibleName("seam map")
        self._presenter = presenter
        self._at: dict[str, Point] = {}
        self._shown: tuple[object, ...] = ()
        self._hover: EdgeRef | None = None

    # Showing

    def show_pieces(self, look: Palette) -> None:
        """Draw pieces and seams; they are laid out anew when pieces or seams change."""
        project = self._presenter.session.project
        state = (project.pieces, project.seams, look)
        if state == self._shown:
            self.viewport().update()
            return
        fresh = not self._shown or len(self._at) != len(project.pieces)
        self._shown = state
        self.scene().clear()
        self._at = lay_out_groups(joined_groups(project), self.aspect)
        for piece in project.pieces:
            x, y = self._at[piece.id]
            item = FoamItem(
                piece.shape,
                piece.thickness,
                look,
                piece.name,
                piece_note(piece),
                piece.lines,
                marks=piece.match_marks,
            )
            item.setFlag(item.GraphicsItemFlag.ItemIsSelectable, enabled=False)
            item.setPos(x, -y)
            # Pointing at an edge repaints the map; the pieces themselves do not change.
            item.setCacheMode(item.CacheMode.DeviceCoordinateCache)
            self.scene().addItem(item)
        if fresh:
            self.show_joined()
        else:
            self.refit()

    def show_joined(self) -> None:
        """Show the pieces that are joined already, or everything when none are."""
        project = self._presenter.session.project
        box = QRectF()
        for piece in project.pieces:
            if any(piece.id in (s.first.piece, s.second.piece) for s in project.seams):
                x, y = self._at[piece.id]
                box = box.united(shape_rect(piece.shape).translated(x, -y))
        self.fit(None if box.isEmpty() else box.adjusted(-SPACE, -SPACE, SPACE, SPACE))

    def _scene(self, ref: EdgeRef, point: Point) -> QPointF:
        x, y = self._at[ref.piece]
        return QPointF(point[0] + x, -(point[1] + y))

    # Hands

    def edge_under(self, place: QPointF) -> EdgeRef | None:
        """Return the edge nearest to a place of the scene, within reach."""
        reach = REACH / self.scale_now
        best: tuple[float, EdgeRef] | None = None
        for piece in self._presenter.session.project.pieces:
            x, y = self._at.get(piece.id, (0.0, 0.0))
            at = (place.x() - x, -place.y() - y)
            x0, y0, x1, y1 = piece.shape.bounds
            if not (x0 - reach <= at[0] <= x1 + reach and y0 - reach <= at[1] <= y1 + reach):
                continue
            edge, away = edge_at(piece, at)
            if away <= reach and (best is None or away < best[0]):
                best = (away, EdgeRef(piece.id, edge.name))
        return best[1] if best else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take the edge under the pointer in hand."""
        super().mousePressEvent(event)
        if event.button() == Qt.MouseButton.LeftButton and self._panning is None:
            self._presenter.click(self.edge_under(self.mapToScene(event.position().toPoint())))
            self.edge_clicked.emit()
            self.viewport().update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Show which edge would be taken."""
        super().mouseMoveEvent(event)
        if self._panning is not None:
            return
        found = self.edge_under(self.mapToScene(event.position().toPoint()))
        if found != self._hover:
            self._hover = found
            self.hovered.emit(self._words(found))
            self.viewport().update()

    def _words(self, ref: EdgeRef | None) -> str:
        if ref is None:
            return ""
        piece = self._presenter.session.project.piece(ref.piece)
        edge = next(e for e in edges_of(piece) if e.name == ref.edge)
        return f"{piece.name}, edge {ref.edge}: {line_length(edge_line(piece, edge)):.1f} mm"

    # Painting

    def drawForeground(self, painter: QPainter, rect: QRectF | object) -> None:
        """Draw seams over the pieces: their edges, their threads, their numbers."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        known = {p.id: p for p in self._presenter.session.project.pieces}
        if known and self._at.keys() == known.keys():
            self._paint_corners(painter, known)
            for number, entry in enumerate(self._presenter.book, 1):
                if entry.fit is not None:
                    tone = TONES[entry.fit.verdict]
                    sign = SIGNS[entry.fit.verdict]
                    if entry.mate is not None and not entry.mate.good:
                        tone, sign = "cut", "!"
                    held = entry.seam == self._presenter.chosen
                    self._paint_seam(painter, known, entry.seam, tone, f"{number}{sign}", held=held)
            self._paint_held(painter, known)
        super().drawForeground(painter, rect)

    def _paint_corners(self, painter: QPainter, known: dict[str, Piece]) -> None:
        scale = self.scale_now
        painter.setPen(cosmetic(self.look.colour("ink"), 1.2))
        painter.setBrush(self.look.colour("paper"))
        for piece in known.values():
            if max(piece.shape.width, piece.shape.height) * scale < 40:
                continue
            for edge in edges_of(piece):
                painter.drawEllipse(
                    self._scene(EdgeRef(piece.id, ""), edge.start), 2.5 / scale, 2.5 / scale
                )

    def _paint_seam(
        self,
        painter: QPainter,
        known: dict[str, Piece],
        seam: Seam,
        tone: str,
        text: str,
        *,
        held: bool,
    ) -> None:
        look, scale = self.look, self.scale_now
        ends = []
        for ref in (seam.first, seam.second):
            edge = _edge(known[ref.piece], ref.edge)
            if edge is None:
                return
            self._stroke(painter, known[ref.piece], edge, tone, 6.0 if held else 4.0)
            inside = _inside(known[ref.piece].shape, edge, INSET / scale)
            ends.append(self._scene(ref, inside))
        if not seam.onto_other_hand:
            painter.setPen(
                cosmetic(look.colour("iris" if held else "ink_soft"), 2.4 if held else 1.4, (4, 3))
            )
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(_thread(*ends))
        if not seam.onto_other_hand and (ends[0] - ends[1]).manhattanLength() * scale < CLOSE:
            ends = [(ends[0] + ends[1]) / 2]
        for at in ends[: 1 if seam.onto_other_hand else 2]:
            painter.setPen(cosmetic(look.colour(tone), 1.6))
            painter.setBrush(look.colour("raised"))
            painter.drawEllipse(at, 11 / scale, 11 / scale)
            screen_text(painter, at, text, look.colour(tone), 40, strong=True)

    def _paint_held(self, painter: QPainter, known: dict[str, Piece]) -> None:
        p = self._presenter
        held = [p.first] if p.first else []
        if p.pending is not None:
            held = [p.pending.first, p.pending.second]
        for ref in held:
            if ref.piece in known and (edge := _edge(known[ref.piece], ref.edge)) is not None:
                self._stroke(painter, known[ref.piece], edge, "iris", 6.0)
        if self._hover is not None and self._hover not in held and self._hover.piece in known:
            edge = _edge(known[self._hover.piece], self._hover.edge)
            if edge is not None:
                self._stroke(painter, known[self._hover.piece], edge, "iris", 2.6)

    def _stroke(self, painter: QPainter, piece: Piece, edge: Edge, tone: str, width: float) -> None:
        x, y = self._at[piece.id]
        painter.setPen(cosmetic(self.look.colour(tone), width))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(_edge_path(piece.shape, edge).translated(x, -y))


def lay_out_groups(groups: tuple[tuple[Piece, ...], ...], aspect: float) -> dict[str, Point]:
    """Return where each piece's own (0, 0) lies: joined pieces in one block, blocks in rows."""
    area = sum(p.shape.width * p.shape.height for g in groups for p in g)
    widest = max((p.shape.width for g in groups for p in g), default=100.0)
    room = max((1.9 * area * aspect) ** 0.5, widest)
    at: dict[str, Point] = {}
    x, top, deepest = 0.0, 0.0, 0.0
    for group in groups:
        inner = sum(p.shape.width * p.shape.height for p in group)
        limit = min(max((1.6 * inner) ** 0.5 * 1.4, max(p.shape.width for p in group)), room)
        spots, width, height = block(list(group), limit, SPACE)
        if x > 0 and x + width > room:
            x, top, deepest = 0.0, top - deepest - 2 * SPACE, 0.0
        for spot in spots:
            at[spot.piece.id] = (spot.at[0] + x, spot.at[1] + top)
        x += width + 2.5 * SPACE
        deepest = max(deepest, height)
    return at


@lru_cache(maxsize=8192)
def _edge_path(shape: Shape, edge: Edge) -> QPainterPath:
    line = edge_line(Piece("x", "x", shape), edge)
    path = QPainterPath()
    path.addPolygon(QPolygonF([QPointF(x, -y) for x, y in line.tolist()]))
    return path


@lru_cache(maxsize=8192)
def _inside(shape: Shape, edge: Edge, inset: float) -> Point:
    """Return the place `inset` mm inside the middle of an edge."""
    return beside_middle(edge_line(Piece("x", "x", shape), edge), -inset)


def _edge(piece: Piece, name: str) -> Edge | None:
    return next((e for e in edges_of(piece) if e.name == name), None)


def _thread(a: QPointF, b: QPointF) -> QPainterPath:
    """Return a thread that hangs a little between two places."""
    path = QPainterPath(a)
    away = b - a
    sag = QPointF(-away.y(), away.x()) * 0.12
    path.quadTo((a + b) / 2 + sag, b)
    return path
