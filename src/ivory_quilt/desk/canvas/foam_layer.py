"""Hundreds of parts painted in one go.

To call Python for every item of a scene takes several times as long as to draw a small part. So the
parts of a quilt are painted by one item below them; they themselves are there to be grasped, and
paint only while they are chosen, above all others. In views of many parts the outlines of one tone
on one sheet are one path.
"""

from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
import numpy.typing as npt
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QTransform
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.desk.canvas.foam_items import FoamItem, body_pen, level_of
from ivory_quilt.desk.canvas.pens import cosmetic, draw_outline
from ivory_quilt.desk.canvas.view import Canvas

WORTH = 12  # outlines from which on to make one path of them is worth it
Flags = npt.NDArray[np.bool_]


class Batch:
    """Parts of one tone on one sheet."""

    def __init__(self, items: list[FoamItem], numbers: list[int]) -> None:
        """Take those of `items` that have these `numbers`."""
        self.numbers = np.array(numbers)
        self._items = [items[k] for k in numbers]
        self.at = self._items[0].at
        self._paths: dict[int, QPainterPath] = {}

    def draw(self, painter: QPainter, scale: float, level: int) -> None:
        """Paint the foam of all with its outlines."""
        if level not in self._paths:
            path = QPainterPath()
            # Holes run the other way round; parts that overlap must not look like holes.
            path.setFillRule(Qt.FillRule.WindingFill)
            for item in self._items:
                path.addPath(item.plain(level))
            self._paths[level] = path
        look, fill = self._items[0].look, QColor.fromRgba(self._items[0].fill)
        pen = cosmetic(look.colour("ink"), body_pen(scale))
        draw_outline(painter, self._paths[level], fill, pen)


class Notes:
    """What to know of items before they are painted, as long as nothing becomes of them."""

    def __init__(self, items: list[FoamItem]) -> None:
        """Look at all of them."""
        self.items = items
        grounds = (i.ground for i in items)
        self.boxes = np.array(
            [(g.left(), g.top(), g.right(), g.bottom()) for g in grounds]
        ).reshape(-1, 4)
        self.shown: Flags = np.array([i.isVisible() and not i.chosen for i in items], dtype=bool)
        self.more_from = np.array([i.more_from for i in items])
        alike: dict[tuple[float, float, int], list[int]] = {}
        for k, item in enumerate(items):
            if (key := item.alike) is not None:
                alike.setdefault(key, []).append(k)
        self.batches = [Batch(items, n) for n in alike.values() if len(n) >= WORTH]

    def in_sight(self, places: list[QRectF]) -> Flags:
        """Return which reach into any of some places and are not chosen."""
        boxes, seen = self.boxes, np.zeros(len(self.items), dtype=bool)
        for place in places:
            seen |= (
                (boxes[:, 0] <= place.right())
                & (boxes[:, 2] >= place.left())
                & (boxes[:, 1] <= place.bottom())
                & (boxes[:, 3] >= place.top())
            )
        return seen & self.shown


class FoamLayer(QGraphicsItem):
    """Paints foam items that are handed over to it; it lies below them and is never hit."""

    def __init__(self) -> None:
        """Paint nothing yet."""
        super().__init__()
        self._items: dict[int, FoamItem] = {}
        self._notes: Notes | None = None
        self._waits = False
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
        self._notes = None
        if not self._waits:
            self.cover(ground)
            self.update(ground)

    def cover(self, place: QRectF) -> None:
        """Reach over a place where something will lie: whenever it grows, all is painted anew."""
        if not self._bounds.contains(place):
            self.prepareGeometryChange()
            self._bounds = self._bounds.united(place)

    @contextmanager
    def together(self) -> Iterator[None]:
        """Do what becomes of many items, and only then renew it all."""
        self._waits = True
        try:
            yield
        finally:
            self._waits = False
            if self._notes is None and self._items:
                self._notes = Notes(list(self._items.values()))
                left, top = self._notes.boxes[:, :2].min(axis=0).tolist()
                right, low = self._notes.boxes[:, 2:].max(axis=0).tolist()
                self.cover(QRectF(QPointF(left, top), QPointF(right, low)))
                self.update()

    def boundingRect(self) -> QRectF:
        """Return where items were so far."""
        return self._bounds

    def shape(self) -> QPainterPath:
        """Return nothing: hands take the items, not the layer."""
        return QPainterPath()

    def paint(
        self, painter: QPainter, _option: QStyleOptionGraphicsItem, widget: QWidget | None = None
    ) -> None:
        """Paint what is in sight."""
        canvas = widget.parent() if widget is not None else None
        exposed = canvas.exposed if isinstance(canvas, Canvas) else [self._bounds]
        if self._notes is None:
            self._notes = Notes(list(self._items.values()))
        notes = self._notes
        base = painter.worldTransform()
        scale = base.m11()
        level = level_of(scale)
        seen = notes.in_sight(exposed)
        bodies = seen.copy()
        for batch in notes.batches:
            if level is None:
                break
            if 2 * np.count_nonzero(seen[batch.numbers]) >= len(batch.numbers):
                painter.setWorldTransform(QTransform.fromTranslate(*batch.at) * base)
                batch.draw(painter, scale, level)
                bodies[batch.numbers] = False
        more = seen & (scale >= notes.more_from)
        at: tuple[float, float] | None = None
        for k in np.flatnonzero(bodies | more).tolist():
            item = notes.items[k]
            if item.at != at:
                at = item.at
                painter.setWorldTransform(QTransform.fromTranslate(*at) * base)
            if bodies[k]:
                item.draw_body(painter, scale)
            if more[k]:
                item.draw_more(painter, scale)
        painter.setWorldTransform(base)
