"""A small picture of all pieces of a project, to be judged beside another."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QWidget

from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.theme.palette import LIGHT, Palette, piece_fill

APART = 12.0  # mm between pieces


class PiecesPicture(QWidget):
    """Pieces in rows, at the scale at which all have room."""

    def __init__(self, name: str) -> None:
        """Show nothing yet; `name` is for screen readers."""
        super().__init__()
        self.setAccessibleName(name)
        self._laid: list[tuple[Piece, float, float]] = []
        self._size = (1.0, 1.0)
        self.look: Palette = LIGHT

    def sizeHint(self) -> QSize:
        """Large enough to tell one piece from another."""
        return QSize(320, 200)

    def show_pieces(self, pieces: tuple[Piece, ...], look: Palette) -> None:
        """Show pieces, in rows about as wide as they are high."""
        self.look = look
        room = sum((p.shape.width + APART) * (p.shape.height + APART) for p in pieces)
        widest = max((p.shape.width for p in pieces), default=1.0)
        wide = max((1.9 * room) ** 0.5, widest)
        self._laid = []
        x = y = height = reach = 0.0
        for piece in pieces:
            if x and x + piece.shape.width > wide:
                x, y, height = 0.0, y + height + APART, 0.0
            self._laid.append((piece, x, y))
            x += piece.shape.width + APART
            reach = max(reach, x)
            height = max(height, piece.shape.height)
        self._size = (max(reach - APART, 1.0), max(y + height, 1.0))
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Draw the pieces in their thickness's tone."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(4, 4, -4, -4)
        scale = min(room.width() / self._size[0], room.height() / self._size[1], 2.0)
        painter.translate(room.topLeft())
        painter.scale(scale, scale)
        painter.setPen(cosmetic(self.look.colour("ink"), 1.0))
        for piece, x, y in self._laid:
            left, _, _, top = piece.shape.bounds
            path = QPainterPath()
            path.setFillRule(Qt.FillRule.OddEvenFill)
            for ring in piece.shape.rings:
                points = [QPointF(x + px - left, y + top - py) for px, py in ring.tolist()]
                path.addPolygon(QPolygonF(points))
                path.closeSubpath()
            painter.setBrush(piece_fill(piece.thickness, self.look))
            painter.drawPath(path)
