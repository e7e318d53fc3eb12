"""A part in the maker's hand: where it was wanted, where it is shown, and what is in the way."""

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPathStroker

from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.quilt import SheetSpot
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.lay.presenter import PartKey
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.theme.style import words


class DraggedPart:
    """A part in the maker's hand."""

    def __init__(self, key: PartKey, item: FoamItem, placement: Placement, spot: SheetSpot) -> None:
        """Take hold of `item`, which lies on `spot`."""
        self.key, self.item = key, item
        self.placement, self.spot = placement, spot
        self.grip = QPointF()
        self.moving = False
        self.problem = ""
        self.turning = False
        self.wanted = placement
        self.asked: Placement | None = None
        """The place that the engine was asked about, while it has not answered."""
        self.released = False
        """Whether it was put down already, and waits only for the answer."""

    def draw_gap(self, painter: QPainter, look: Palette) -> None:
        """Draw the gap that must stay free around it."""
        gap = self.spot.foam.job.gap
        if gap <= 0:
            return
        stroker = QPainterPathStroker()
        stroker.setWidth(2 * gap)
        stroker.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        shade = QColor(look.colour("cut" if self.problem else "good"))
        shade.setAlphaF(0.35)
        painter.fillPath(self.item.mapToScene(stroker.createStroke(self.item.outline)), shade)

    def draw_problem(self, painter: QPainter, look: Palette, canvas: Canvas) -> None:
        """Write what is in the way beside the pointer."""
        painter.save()
        painter.resetTransform()
        painter.setFont(words(14, strong=True))
        at = canvas.mapFromScene(self.grip)
        width = painter.fontMetrics().horizontalAdvance(self.problem) + 20
        x = min(at.x() + 16, canvas.viewport().width() - width - 8)
        y = max(at.y() - 40, 30)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("cut"))
        painter.drawRoundedRect(x, y, width, 28, 6, 6)
        painter.setPen(look.colour("paper"))
        painter.drawText(x + 10, y + 19, self.problem)
        painter.restore()
