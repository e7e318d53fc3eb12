"""Bars in rows: a name, a bar in several fillings, and a figure at its end."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.record import Struct
from ivory_quilt.desk.theme.palette import LIGHT, Palette, mix
from ivory_quilt.desk.theme.style import figures, pixels, words

NAME, VALUE, HIGH, SPACE = 190, 150, 16, 8
FILLINGS = {
    "parts": ("score", Qt.BrushStyle.SolidPattern, 0.65),
    "kept": ("good", Qt.BrushStyle.Dense6Pattern, 0.9),
    "edges": ("ink_soft", Qt.BrushStyle.VerPattern, 0.9),
    "gaps": ("ink_soft", Qt.BrushStyle.SolidPattern, 0.35),
    "hollows": ("cut", Qt.BrushStyle.BDiagPattern, 0.9),
    "rest": ("heat", Qt.BrushStyle.DiagCrossPattern, 0.9),
}
"""Each filling's colour, pattern and strength: told apart without colour vision, too."""


class ShareRow(Struct, frozen=True):
    """A name, (filling, amount) along the bar, and what stands at its end."""

    name: str
    parts: tuple[tuple[str, float], ...]
    text: str

    @property
    def whole(self) -> float:
        """The bar's length in its own unit."""
        return sum(v for _, v in self.parts)


class ShareBars(QWidget):
    """Rows of bars at one scale, with a legend when they have several fillings."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.rows: tuple[ShareRow, ...] = ()
        self.legend: tuple[tuple[str, str], ...] = ()
        self.look: Palette = LIGHT
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_rows(
        self,
        rows: tuple[ShareRow, ...],
        look: Palette,
        legend: tuple[tuple[str, str], ...] = (),
    ) -> None:
        """Draw these; `legend` names fillings in words."""
        self.rows, self.look, self.legend = rows, look, legend
        self.setAccessibleName("; ".join(f"{r.name}: {r.text}" for r in rows))
        self.setVisible(bool(rows))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        """A line a row, and one for the legend."""
        lines = len(self.rows) + bool(self.legend)
        return QSize(NAME + VALUE + 300, lines * (pixels(HIGH) + SPACE) + 4)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the bars."""
        painter = QPainter(self)
        high = float(pixels(HIGH))
        room = max(60.0, self.width() - NAME - VALUE - 2.0 * SPACE)
        most = max((r.whole for r in self.rows), default=0.0) or 1.0
        y = 2.0
        for shown in self.rows:
            painter.setPen(self.look.colour("ink"))
            painter.setFont(words(13))
            where = QRectF(0, y, NAME, high)
            left = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
            text = painter.fontMetrics().elidedText(
                shown.name, Qt.TextElideMode.ElideRight, NAME - 4
            )
            painter.drawText(where, left, text)
            x = float(NAME + SPACE)
            for filling, amount in shown.parts:
                wide = room * amount / most
                self._fill(painter, QRectF(x, y, wide, high), filling)
                x += wide
            painter.setPen(self.look.colour("ink"))
            painter.setFont(figures(12))
            painter.drawText(QRectF(x + SPACE, y, VALUE, high), left, shown.text)
            y += high + SPACE
        self._paint_legend(painter, y, high)

    def _paint_legend(self, painter: QPainter, y: float, high: float) -> None:
        x = float(NAME + SPACE)
        painter.setFont(words(12))
        for filling, word in self.legend:
            self._fill(painter, QRectF(x, y + 2, high, high - 4), filling)
            painter.setPen(self.look.colour("ink_soft"))
            wide = painter.fontMetrics().horizontalAdvance(word) + 4.0
            middle = Qt.AlignmentFlag.AlignVCenter
            painter.drawText(QRectF(x + high + 5, y, wide, high), middle, word)
            x += high + wide + 16

    def _fill(self, painter: QPainter, box: QRectF, filling: str) -> None:
        colour, pattern, strength = FILLINGS[filling]
        ink = mix(self.look.colour("paper"), self.look.colour(colour), strength)
        painter.fillRect(box, self.look.colour("raised"))
        painter.fillRect(box, QBrush(ink, pattern))
        painter.setPen(QPen(self.look.colour("ink_soft"), 0.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if box.width() > 0.5:
            painter.drawRect(box)
