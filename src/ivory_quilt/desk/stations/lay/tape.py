"""The tape that measures on the table, which also marks flaws."""

import math

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter

from ivory_quilt.core.units import LengthUnit, show_length
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.theme.palette import Palette


class Tape:
    """Between two places of the scene: a length, or the box that was drawn over a flaw."""

    def __init__(self) -> None:
        """Lie in the drawer."""
        self.out = False
        self.marking = False
        self._ends: tuple[QPointF, QPointF] | None = None

    def toggle(self, *, marking: bool = False) -> None:
        """Take it up, to measure or to mark, or lay it down."""
        self.out = not self.out
        self.marking = self.out and marking
        self._ends = None

    def start(self, at: QPointF) -> None:
        """Hold one end at a place."""
        self._ends = (at, at)

    def stretch(self, at: QPointF) -> bool:
        """Take the other end somewhere; False when the first is nowhere yet."""
        if self._ends is not None:
            self._ends = (self._ends[0], at)
        return self._ends is not None

    @property
    def length(self) -> float | None:
        """What it shows, mm; None while it is not stretched."""
        if self._ends is None:
            return None
        across = self._ends[1] - self._ends[0]
        return math.hypot(across.x(), across.y())

    def take_marked(self) -> tuple[QPointF, QRectF] | None:
        """Return where marking began and the box drawn, once; None when nothing was marked."""
        if self._ends is None or not self.marking:
            return None
        (start, stop), self._ends = self._ends, None
        box = QRectF(start, stop).normalized()
        return (start, box) if box.width() > 1 and box.height() > 1 else None

    def draw(self, painter: QPainter, look: Palette, unit: LengthUnit) -> None:
        """Draw it over the table."""
        length = self.length
        if length is None or self._ends is None:
            return
        a, b = self._ends
        ink, ground = look.colour("iris"), look.colour("paper")
        painter.setPen(cosmetic(ink, 2.0))
        if self.marking:
            painter.drawRect(QRectF(a, b).normalized())
            return
        painter.drawLine(a, b)
        text, middle = show_length(length, unit), (a + b) / 2
        screen_text(painter, middle, text, ink, 200, size=14, strong=True, ground=ground)
