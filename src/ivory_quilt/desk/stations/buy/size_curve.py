"""What the suit costs in other sizes: a bar for each, darker as far as it is proven."""

from decimal import Decimal

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import Currency
from ivory_quilt.desk.theme.palette import LIGHT, Palette, mix
from ivory_quilt.desk.theme.style import figures, pixels, words

BAR, SPACE, HIGH = 72, 24, 120


class SizePrice(Struct, frozen=True):
    """A size as a factor, what it costs with shipping, and what it costs at least."""

    size: float
    total: Decimal
    bound: Decimal


class SizeCurve(QWidget):
    """Bars by size; the present size is named as such."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.prices: list[SizePrice] = []
        self.currency = Currency()
        self.look: Palette = LIGHT
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_prices(self, prices: list[SizePrice], currency: Currency, look: Palette) -> None:
        """Draw these, the smallest size first."""
        self.prices = sorted(prices, key=lambda p: p.size)
        self.currency, self.look = currency, look
        told = ", ".join(f"{100 * p.size:.0f} %: {currency.show(p.total)}" for p in self.prices)
        self.setAccessibleName(f"cost by size: {told}")
        self.setVisible(len(self.prices) > 1)
        self.update()

    def sizeHint(self) -> QSize:
        """Bars, and two lines of words."""
        return QSize(5 * (BAR + SPACE), HIGH + 3 * pixels(14))

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the bars."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        most = float(max((p.total for p in self.prices), default=Decimal(0))) or 1.0
        line = pixels(14) + 4
        base = line + HIGH
        centre = Qt.AlignmentFlag.AlignHCenter
        for k, price in enumerate(self.prices):
            x = float(k * (BAR + SPACE)) + SPACE / 2
            high = HIGH * float(price.total) / most
            sure = HIGH * float(price.bound) / most
            painter.setPen(self.look.colour("ink_soft"))
            painter.setBrush(mix(self.look.colour("paper"), self.look.colour("score"), 0.25))
            painter.drawRect(QRectF(x, base - high, BAR, high))
            painter.setBrush(mix(self.look.colour("paper"), self.look.colour("score"), 0.65))
            painter.drawRect(QRectF(x, base - sure, BAR, sure))
            painter.setPen(self.look.colour("ink"))
            painter.setFont(figures(12))
            wide = QRectF(x - SPACE / 2, base - high - line, BAR + SPACE, line)
            painter.drawText(wide, centre, self.currency.show(price.total))
            now = abs(price.size - 1) < 1e-9
            painter.setFont(words(12, strong=now))
            text = "as it is" if now else f"{100 * price.size:.0f} %"
            painter.drawText(QRectF(x - SPACE / 2, base + 4, BAR + SPACE, line), centre, text)
