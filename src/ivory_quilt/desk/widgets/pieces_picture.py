"""A small picture of all pieces of a project, to be judged beside another."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QWidget

from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.theme.palette import LIGHT, Palette, piece_fill

APART = 12.0  # mm between pieces


def _size(piece: Piece) -> tuple[float, float]:
    return piece.shape.width, piece.shape.height


class PiecesPicture(QWidget):
    """Pieces in rows, at the scale at which all have room."""

    def __init__(self, name: str) -> None:
        """Show nothing yet; `name` is for screen readers."""
        super().__init__()
        self.setAccessibleName(name)
        self._laid: list[tuple[Piece, bool, float, float]] = []
        self._size = (1.0, 1.0)
        self.look: Palette = LIGHT

    def sizeHint(self) -> QSize:
        """Large enough to tell one piece from another."""
        return QSize(320, 200)

    def show_pieces(
        self, pieces: tuple[Piece, ...], other: tuple[Piece, ...], look: Palette
    ) -> None:
        """Show pieces where they lie beside another state of them, at the same scale.

        What the other has not, or has otherwise, is outlined more strongly.
        """
        self.look = look
        known = {p.id: p for p in other}
        mine = {p.id: p for p in pieces}
        # Both states in one order: the longer one's, then what only the other has.
        first, second = sorted((pieces, other), key=len, reverse=True)
        there = {p.id for p in first}
        order = [p.id for p in (*first, *(p for p in second if p.id not in there))]
        sizes = [
            [max(s) for s in zip(*(_size(k[i]) for k in (known, mine) if i in k), strict=True)]
            for i in order
        ]
        room = sum((w + APART) * (h + APART) for w, h in sizes)
        wide = max((1.9 * room) ** 0.5, max((w for w, _ in sizes), default=1.0))
        self._laid = []
        x = y = high = reach = 0.0
        for ident, (width, height) in zip(order, sizes, strict=True):
            if x and x + width > wide:
                x, y, high = 0.0, y + high + APART, 0.0
            if ident in mine:
                self._laid.append((mine[ident], mine[ident] != known.get(ident), x, y))
            x += width + APART
            reach, high = max(reach, x), max(high, height)
        self._size = (max(reach - APART, 1.0), max(y + high, 1.0))
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Draw the pieces in their thickness's tone."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(4, 4, -4, -4)
        scale = min(room.width() / self._size[0], room.height() / self._size[1], 2.0)
        painter.translate(room.topLeft())
        painter.scale(scale, scale)
        for piece, differs, x, y in self._laid:
            colour = self.look.colour("iris" if differs else "ink")
            painter.setPen(cosmetic(colour, 3.0 if differs else 1.0))
            left, _, _, top = piece.shape.bounds
            path = QPainterPath()
            path.setFillRule(Qt.FillRule.OddEvenFill)
            for ring in piece.shape.rings:
                points = [QPointF(x + px - left, y + top - py) for px, py in ring.tolist()]
                path.addPolygon(QPolygonF(points))
                path.closeSubpath()
            painter.setBrush(piece_fill(piece.thickness, self.look))
            painter.drawPath(path)
