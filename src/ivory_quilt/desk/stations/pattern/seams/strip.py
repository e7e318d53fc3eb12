"""Two edges laid out straight, one above the other: where each match mark lands on the other."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.pattern.seams import MARKS_WITHIN, SeamFit
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.theme.style import figures

HEIGHT = 132
SIDE, TOP, BAR, BETWEEN = 8, 22, 16, 44


class SeamStrip(QWidget):
    """A picture of one seam's two edges, at one scale."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("the two edges laid out straight")
        self.look: Palette = LIGHT
        self._fit: SeamFit | None = None

    def show_fit(self, fit: SeamFit | None, look: Palette) -> None:
        """Show how two edges agree."""
        self.look, self._fit = look, fit
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint both edges as bars, their marks, and the threads between them."""
        fit, look = self._fit, self.look
        if fit is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        scale = (self.width() - 2 * SIDE) / max(fit.first, fit.second)
        low = TOP + BAR + BETWEEN
        ink = look.colour("ink")
        painter.setFont(figures(12))
        for y, length in ((TOP, fit.first), (low, fit.second)):
            painter.setPen(cosmetic(ink, 1.2))
            painter.setBrush(look.colour("linen"))
            painter.drawRect(QRectF(SIDE, y, length * scale, BAR))
        self._paint_difference(painter, fit, scale, low)
        painter.setPen(ink)
        painter.drawText(QPointF(SIDE, TOP - 7), f"{show_number(fit.first, 1)} mm")
        painter.drawText(QPointF(SIDE, low + BAR + 16), f"{show_number(fit.second, 1)} mm")
        for k in fit.landings:
            good = k.off is not None and abs(k.off) <= MARKS_WITHIN
            tone = look.colour("good" if good else "cut")
            a = QPointF(SIDE + k.at * scale, TOP + BAR)
            b = QPointF(SIDE + k.lands * scale, low)
            painter.setPen(cosmetic(tone, 1.4, () if good else (4, 3)))
            painter.drawLine(a, b)
            painter.setPen(cosmetic(ink, 2.2))
            painter.drawLine(a, a - QPointF(0, BAR))
            if k.meets is not None:
                c = QPointF(SIDE + k.meets * scale, low)
                painter.drawLine(c, c + QPointF(0, BAR))
            if k.off is not None and not good:
                painter.setPen(tone)
                text = f"{show_number(abs(k.off), 1)} mm off"
                width = painter.fontMetrics().horizontalAdvance(text)
                x = min(max(b.x() - width / 2, SIDE), self.width() - SIDE - width)
                painter.drawText(QPointF(x, low - 6), text)
        for at in fit.lonely:
            painter.setPen(cosmetic(look.colour("cut"), 2.2, (3, 2)))
            c = QPointF(SIDE + at * scale, low)
            painter.drawLine(c, c + QPointF(0, BAR))

    def _paint_difference(self, painter: QPainter, fit: SeamFit, scale: float, low: float) -> None:
        """Hatch what one edge has more than the other."""
        if abs(fit.difference) < 0.05:
            return
        y = low if fit.difference > 0 else TOP
        shorter = min(fit.first, fit.second)
        room = QRectF(SIDE + shorter * scale, y, abs(fit.difference) * scale, BAR)
        if room.width() < 2:
            room.setWidth(2)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.look.colour("heat"))
        painter.drawRect(room)
