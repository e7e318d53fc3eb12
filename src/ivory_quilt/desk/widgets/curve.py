"""A small curve of what a search has gained: cost over time, with the bound as a stitched line."""

from decimal import Decimal

from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from ivory_quilt.desk.theme.palette import LIGHT, Palette

Point = tuple[float, Decimal, float]


class CostCurve(QWidget):
    """Steps down as better layouts are found; foam used where the cost stays the same."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.look: Palette = LIGHT
        self.history: tuple[Point, ...] = ()
        self.bound = Decimal(0)
        self.setFixedSize(QSize(110, 34))
        self.setAccessibleName("cost so far, and the least that is possible")

    def show_run(self, history: tuple[Point, ...], bound: Decimal, look: Palette) -> None:
        """Show a run's history and its bound."""
        self.history, self.bound, self.look = history, bound, look
        self.update()

    @property
    def values(self) -> list[float]:
        """What is drawn: costs, or the foam wasted where all cost the same."""
        costs = [float(c) for _, c, _ in self.history]
        if len(set(costs)) > 1:
            return costs
        return [1.0 - d for _, _, d in self.history]

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Draw the steps and the bound."""
        if len(self.history) < 2:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        values = self.values
        floor = float(self.bound) if len({c for _, c, _ in self.history}) > 1 else min(values)
        top, low = max(values), min(*values, floor)
        area = QRectF(self.rect()).adjusted(3, 4, -3, -5)
        end = max(self.history[-1][0], 1e-9)

        def at(t: float, v: float) -> QPointF:
            share = (v - low) / (top - low) if top > low else 0.5
            return QPointF(
                area.left() + area.width() * t / end, area.bottom() - share * area.height()
            )

        pen = QPen(self.look.colour("good"), 1.2)
        pen.setDashPattern([4, 3])
        painter.setPen(pen)
        painter.drawLine(at(0.0, floor), at(end, floor))
        steps = QPolygonF()
        for k, ((t, _, _), v) in enumerate(zip(self.history, values, strict=True)):
            if k:
                steps.append(at(t, values[k - 1]))
            steps.append(at(t, v))
        painter.setPen(QPen(self.look.colour("ink"), 1.8))
        painter.drawPolyline(steps)
