"""Hundreds of parts painted in one go.

To call Python for every item of a scene takes several times as long as to draw a small part. So the
parts of a quilt are painted by one item below them; they themselves are there to be grasped, and
paint only while they are chosen, above all others.
"""

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QTransform
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.view import Canvas


class FoamLayer(QGraphicsItem):
    """Paints foam items that are handed over to it; it lies below them and is never hit."""

    def __init__(self) -> None:
        """Paint nothing yet."""
        super().__init__()
        self._items: dict[int, FoamItem] = {}
        self._boxes: Array | None = None
        self._bounds = QRectF()
        self.setZValue(-5)
        self.setAcceptedMouseButtons(Qt.MouseButton.NoButton)

    def take(self, item: FoamItem) -> None:
        """Paint `item` from now on, wherever it goes, unless it is chosen."""
        self._items[id(item)] = item
        item.layer = self
        self.renew(item.ground)

    def drop(self, item: FoamItem) -> None:
        """Paint an item no longer."""
        if self._items.pop(id(item), None) is not None:
            item.layer = None
            self.renew(item.ground)

    def renew(self, ground: QRectF) -> None:
        """Paint a place anew; what lies there may have changed."""
        self._boxes = None
        if not self._bounds.contains(ground):
            self.prepareGeometryChange()
            self._bounds = self._bounds.united(ground)
        self.update(ground)

    def boundingRect(self) -> QRectF:
        """Return where items were so far."""
        return self._bounds

    def shape(self) -> QPainterPath:
        """Return nothing: hands take the items, not the layer."""
        return QPainterPath()

    def paint(
        self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None
    ) -> None:
        """Paint what is in sight."""
        canvas = widget.parent() if widget is not None else None
        exposed = canvas.exposed if isinstance(canvas, Canvas) else [self._bounds]
        base = painter.worldTransform()
        scale = base.m11()
        at: tuple[float, float] | None = None
        for item in self._in_sight(exposed):
            if item.at != at:
                at = item.at
                painter.setWorldTransform(QTransform.fromTranslate(*at) * base)
            item.draw(painter, scale)
        painter.setWorldTransform(base)

    def _in_sight(self, places: list[QRectF]) -> list[FoamItem]:
        """Return the items that reach into any of some places, less those that are chosen."""
        items = list(self._items.values())
        if self._boxes is None:
            grounds = (i.ground for i in items)
            self._boxes = np.array(
                [(g.left(), g.top(), g.right(), g.bottom()) for g in grounds]
            ).reshape(-1, 4)
        boxes, seen = self._boxes, np.zeros(len(items), dtype=bool)
        for place in places:
            seen |= (
                (boxes[:, 0] <= place.right()) & (boxes[:, 2] >= place.left())
                & (boxes[:, 1] <= place.bottom()) & (boxes[:, 3] >= place.top())
            )  # fmt: skip
        found = (items[k] for k in np.flatnonzero(seen))
        return [item for item in found if item.isVisible() and not item.chosen]
