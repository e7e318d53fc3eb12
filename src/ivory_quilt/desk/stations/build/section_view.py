"""The cross-section under the piece: true to scale, with places to pull."""

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.stacks.section import Handle, Section
from ivory_quilt.core.units import show_number, show_thickness
from ivory_quilt.desk.theme.palette import LIGHT, Palette, foam_fill
from ivory_quilt.desk.theme.style import figures, words
from ivory_quilt.desk.widgets.edgebar import pixels_per_mm

EDGE = 30.0  # px around the drawing
LARGEST = 3.0  # times actual size, where that helps
GRIP, SMALL_GRIP, REACH = 8.0, 5.5, 22.0  # px
LEGEND = 180.0  # px that names of several layers take
BESIDE = 150.0  # px for figures at its right
WIDE = 520  # px: a narrower view has names and figures above and below only


class SectionView(QWidget):
    """One cross-section."""

    pulled = Signal(object, float, float)
    """(handle, x, y): it is pulled to there, mm."""
    let_go = Signal()

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setAccessibleName("cross-section; pull its round handles, or use the arrow keys")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.look: Palette = LIGHT
        self.title, self.enlarge = "", False
        self.section: Section | None = None
        self._held: Handle | None = None
        self._scale, self._origin = 1.0, QPointF()
        self._hot: Handle | None = None

    def sizeHint(self) -> QSize:
        """Room for a horn's thickness at true size."""
        return QSize(480, 250)

    def show_section(
        self, section: Section | None, look: Palette, title: str, *, enlarge: bool = False
    ) -> None:
        """Show a section; `enlarge` lets a small one be larger than life."""
        self.section, self.look, self.title, self.enlarge = section, look, title, enlarge
        if self._held is None:
            self._place()
        self.update()

    # Where things are

    def _place(self) -> None:
        if self.section is None or not self.section.bands:
            return
        points = [b.outline for b in self.section.bands]
        if self.section.body is not None:
            points.append(self.section.body)
        every = np.vstack(points)
        low, high = every.min(axis=0), every.max(axis=0)
        width, height = (max(float(v), 1.0) for v in high - low)
        wide = self.width() >= WIDE
        aside = LEGEND if wide and len(self._legend()) > 1 else 0.0
        beside = BESIDE if wide else 0.0
        room = (self.width() - 2 * EDGE - beside - aside, self.height() - 2 * EDGE - 16)
        fits = min(room[0] / width, room[1] / height)
        true = pixels_per_mm()
        self._scale = self._round(fits / true) * true
        middle = (low + high) / 2
        self._origin = QPointF(
            (self.width() + aside - 0.4 * beside) / 2 - middle[0] * self._scale,
            self.height() / 2 + 10 + middle[1] * self._scale,
        )

    def _legend(self) -> list[tuple[str, str, float]]:
        """Return (thickness, name, its value) of every band, each once."""
        bands = self.section.bands if self.section is not None else ()
        return list(
            dict.fromkeys((show_thickness(b.thickness), b.name, b.thickness) for b in bands)
        )

    def _round(self, most: float) -> float:
        """Return the largest plain scale that fits."""
        plain = (LARGEST, 2.0, 1.0, 1 / 2, 1 / 3, 1 / 4, 1 / 5, 1 / 8, 1 / 10, 1 / 20)
        allowed = plain if self.enlarge else plain[2:]
        return next((s for s in allowed if s <= most), most)

    @property
    def scale_words(self) -> str:
        """The scale, as a maker says it."""
        share = self._scale / pixels_per_mm()
        if abs(share - 1) < 1e-6:
            return "actual size"
        if share > 1:
            return f"{show_number(share, 1)} times actual size"
        return f"1 : {show_number(1 / share, 1)}"

    def at(self, x: float, y: float) -> QPointF:
        """Return where a place of the section is in the widget."""
        return QPointF(self._origin.x() + x * self._scale, self._origin.y() - y * self._scale)

    def _back(self, point: QPointF) -> tuple[float, float]:
        return (
            (point.x() - self._origin.x()) / self._scale,
            (self._origin.y() - point.y()) / self._scale,
        )

    def _near(self, point: QPointF) -> Handle | None:
        handles = self.section.handles if self.section is not None else ()
        away = [(math.hypot(*_xy(self.at(*h.at) - point)), k) for k, h in enumerate(handles)]
        best = min(away, default=(math.inf, 0))
        return handles[best[1]] if best[0] <= REACH else None

    # Hands

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of a handle."""
        if event.button() == Qt.MouseButton.LeftButton:
            self._held = self._near(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Pull it."""
        if self._held is not None:
            self.pulled.emit(self._held, *self._back(event.position()))
            return
        self._hot = self._near(event.position())
        self.setCursor(
            Qt.CursorShape.SizeAllCursor if self._hot is not None else Qt.CursorShape.ArrowCursor
        )
        self.setToolTip(self._hot.words if self._hot is not None else "")
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        """Let go."""
        if self._held is not None:
            self._held = None
            self.let_go.emit()
            self._place()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Pull the first handle by the arrow keys, 1 mm a press."""
        ways = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, 1),
            Qt.Key.Key_Down: (0, -1),
        }
        way = ways.get(Qt.Key(event.key()))
        if way is None or self.section is None or not self.section.handles:
            super().keyPressEvent(event)
            return
        step = 5.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        handle = self.section.handles[0]
        x, y = handle.at
        self.pulled.emit(handle, x + way[0] * step, y + way[1] * step)
        self.let_go.emit()

    def resizeEvent(self, _event: object) -> None:
        """Fit the drawing again."""
        self._place()

    # Painting

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the section."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.look.colour("paper"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(self.look.colour("ink_soft"))
        painter.setFont(words(12))
        if self.section is None or not self.section.bands:
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.title)
            return
        painter.drawText(QPointF(12, 20), f"{self.title}: {self.scale_words}")
        self._paint_body(painter)
        for band in self.section.bands:
            self._paint_band(painter, band.outline, band.thickness, other=band.other)
            if band.neutral is not None:
                pen = QPen(self.look.colour("heat"), 1.2)
                pen.setDashPattern([5, 4])
                painter.setPen(pen)
                painter.drawPolyline([self.at(*p) for p in band.neutral.tolist()])
        self._paint_words(painter)
        self._paint_handles(painter)
        if self.hasFocus():
            painter.setPen(self.look.colour("iris"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def _paint_body(self, painter: QPainter) -> None:
        body = self.section.body if self.section is not None else None
        if body is None:
            return
        painter.setPen(QPen(self.look.colour("thread"), 3))
        painter.drawPolyline([self.at(*p) for p in body.tolist()])

    def _paint_band(
        self, painter: QPainter, outline: np.ndarray, thickness: float, *, other: bool
    ) -> None:
        path = QPainterPath(self.at(*outline[0].tolist()))
        for p in outline[1:].tolist():
            path.lineTo(self.at(*p))
        path.closeSubpath()
        strength = 0.28 if other else 0.72
        painter.setBrush(foam_fill(thickness, self.look, strength))
        painter.setPen(QPen(self.look.colour("ink_soft" if other else "ink"), 1.3))
        painter.drawPath(path)

    def _paint_words(self, painter: QPainter) -> None:
        assert self.section is not None
        painter.setFont(figures(12))
        painter.setPen(self.look.colour("ink"))
        for place, text in self.section.measures:
            painter.drawText(self.at(*place) + QPointF(0, 4), text)
        legend = self._legend()
        painter.setFont(words(12))
        y = self.height() - 12.0 - 18 * (min(len(legend), 9) - 1)
        for thickness, name, value in legend[:9]:
            box = QRectF(12, y - 10, 12, 12)
            painter.setBrush(foam_fill(value, self.look, 0.72))
            painter.setPen(QPen(self.look.colour("ink"), 1))
            painter.drawRect(box)
            painter.drawText(QPointF(30, y), f"{thickness}  {name}")
            y += 18

    def _paint_handles(self, painter: QPainter) -> None:
        assert self.section is not None
        for handle in self.section.handles:
            held = handle.same(self._held)
            hot = handle.same(self._hot)
            painter.setPen(QPen(self.look.colour("iris"), 2.4))
            painter.setBrush(self.look.colour("iris" if held or hot else "paper"))
            grip = GRIP if len(self.section.handles) < 3 or held or hot else SMALL_GRIP
            painter.drawEllipse(self.at(*handle.at), grip, grip)


def _xy(point: QPointF) -> tuple[float, float]:
    return point.x(), point.y()
