"""Edge bars: a thickness drawn at true scale in its tone, so that 10 mm is five times 2 mm."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QApplication, QWidget

from ivory_quilt.core.stock.foam_stock import MaterialKind
from ivory_quilt.core.units import show_thickness
from ivory_quilt.desk.theme.palette import tone

WIDTH = 34.0  # px


def pixels_per_mm() -> float:
    """Return the screen's true scale; screens that say nonsense count as 96 dpi."""
    screen = QApplication.primaryScreen()
    dpi = screen.physicalDotsPerInch() if screen is not None else 96.0
    if not 60.0 <= dpi <= 400.0:
        dpi = 96.0
    scale = screen.devicePixelRatio() if screen is not None else 1.0
    return dpi / scale / 25.4 if dpi / scale >= 60 else dpi / 25.4


def bar_height(thickness: float) -> float:
    """Return the height of a bar in px, at true scale."""
    return max(2.0, thickness * pixels_per_mm())


def paint_bar(
    painter: QPainter,
    rect: QRectF,
    thickness: float,
    ink: QColor,
    *,
    pattern: bool = True,
    kind: MaterialKind = MaterialKind.FOAM,
) -> None:
    """Paint a bar into `rect`; a fine slant, denser for thinner foam, helps without colour.

    Soft foam is dotted, thermoplastic a double line, cloth woven, whatever their thickness.
    """
    if kind in (MaterialKind.PLASTIC, MaterialKind.CLOTH):
        # Too thin for a pattern at true scale: they are told by their lines.
        middle = rect.center().y()
        rect = QRectF(rect.left(), middle - 3.5, rect.width(), 7.0)
        painter.setPen(QPen(ink, 1.4))
        if kind is MaterialKind.PLASTIC:
            painter.drawLine(rect.topLeft(), rect.topRight())
            painter.drawLine(rect.bottomLeft(), rect.bottomRight())
            return
        x, up = rect.left(), True
        while x < rect.right() - 3:
            ends = (rect.bottom(), rect.top()) if up else (rect.top(), rect.bottom())
            painter.drawLine(QPointF(x, ends[0]), QPointF(x + 4, ends[1]))
            x, up = x + 4, not up
        return
    colour = tone(thickness)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(colour)
    painter.drawRect(rect)
    if pattern and rect.height() >= 6:
        painter.save()
        painter.setClipRect(rect)
        shade = QColor(ink)
        shade.setAlpha(90)
        painter.setPen(QPen(shade, 1.0))
        step = 3.0 + thickness * 0.8
        x = rect.left() - rect.height()
        if kind is MaterialKind.SOFT:
            pen = QPen(shade, 2.0, Qt.PenStyle.DotLine)
            painter.setPen(pen)
            for y in range(int(rect.top()) + 2, int(rect.bottom()), 4):
                painter.drawLine(QPointF(rect.left(), y), QPointF(rect.right(), y))
            x = rect.right()
        while x < rect.right():
            painter.drawLine(QPointF(x, rect.bottom()), QPointF(x + rect.height(), rect.top()))
            x += step
        painter.restore()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(ink, 1.0))
    painter.drawRect(rect.adjusted(0.5, 0.5, -0.5, -0.5))


class EdgeBar(QWidget):
    """One thickness as a bar, as wide as the rest and as tall as the foam."""

    def __init__(
        self,
        thickness: float = 6.0,
        width: float = WIDTH,
        kind: MaterialKind = MaterialKind.FOAM,
    ) -> None:
        """Show `thickness` mm of a kind of material."""
        super().__init__()
        self._kind = kind
        self._width = width
        self._thickness = thickness
        self.set_thickness(thickness)

    def set_thickness(self, thickness: float) -> None:
        """Show another thickness."""
        self._thickness = thickness
        self.setFixedSize(self.sizeHint())
        self.setAccessibleName(f"edge of {show_thickness(thickness)} foam")
        self.update()

    def sizeHint(self) -> QSize:
        """As tall as the foam is thick on this screen."""
        thin = self._kind in (MaterialKind.PLASTIC, MaterialKind.CLOTH)
        height = 9 if thin else bar_height(self._thickness)
        return QSize(round(self._width) + 2, round(height) + 2)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the bar at the foot of the widget."""
        height = min(bar_height(self._thickness), self.height() - 2)
        rect = QRectF(1, self.height() - height - 1, self._width, height)
        if self._kind in (MaterialKind.PLASTIC, MaterialKind.CLOTH):
            rect = QRectF(1, 1, self._width, self.height() - 2)
        ink = self.palette().windowText().color()
        paint_bar(QPainter(self), rect, self._thickness, ink, kind=self._kind)
