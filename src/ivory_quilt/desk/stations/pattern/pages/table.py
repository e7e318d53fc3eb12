"""The page table: pages as they lie, their marks, and the points clicked by hand."""

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPainterPath, QPolygonF
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Point, Pose
from ivory_quilt.core.reading.pages.page import Page, moved_point
from ivory_quilt.core.reading.tracing.picture import Picture
from ivory_quilt.desk.canvas.paths import pose_transform
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.imports.pages import PagesImport
from ivory_quilt.desk.theme.palette import Palette

REACH = 14.0  # px within which a click means a mark
MOST_ACROSS = 900  # px of a scan that is shown


class PageItem(QGraphicsItem):
    """One page: paper, what is drawn on it or its scan, its marks, its number."""

    def __init__(self, page: Page, scan: Picture | None, look: Palette) -> None:
        """Draw `page` with its lower left corner at the item's place."""
        super().__init__()
        self.page, self.look = page, look
        self._lines = QPainterPath()
        for path in page.paths:
            points = [QPointF(x, -y) for x, y in path.points.tolist()]
            self._lines.addPolygon(QPolygonF([*points, points[0]] if path.closed else points))
        self._image = QImage()
        if scan is not None:
            step = max(1, max(scan.shape) // MOST_ACROSS)
            small = np.ascontiguousarray(scan[::step, ::step])
            height, width = small.shape
            image = QImage(small.data, width, height, width, QImage.Format.Format_Grayscale8)
            self._image = image.copy()

    @property
    def sheet(self) -> QRectF:
        """The page in its own scene coordinates."""
        return QRectF(0, -self.page.height, self.page.width, self.page.height)

    def boundingRect(self) -> QRectF:
        """Return the page with room for its rim."""
        return self.sheet.adjusted(-1, -1, 1, 1)

    def paint(
        self, painter: QPainter, _option: QStyleOptionGraphicsItem, _widget: QWidget | None = None
    ) -> None:
        """Paint the page a little see-through, so that the overlap of two is seen."""
        look, scale = (
            self.look,
            math.hypot(painter.worldTransform().m11(), painter.worldTransform().m12()),
        )
        paper = look.colour("raised")
        paper.setAlpha(190)
        painter.setBrush(paper)
        painter.setPen(cosmetic(look.colour("ink_soft"), 1.2, (4, 3)))
        painter.drawRect(self.sheet)
        if not self._image.isNull():
            painter.setOpacity(0.75)
            painter.drawImage(self.sheet, self._image)
            painter.setOpacity(1.0)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(look.colour("ink"), 1.2))
        painter.drawPath(self._lines)
        painter.setPen(cosmetic(look.colour("score"), 1.8))
        for mark in self.page.marks:
            x, y = mark.at
            painter.drawEllipse(QPointF(x, -y), 7 / scale, 7 / scale)
        at = QPointF(self.page.width / 2, -self.page.height + 16 / scale)
        screen_text(painter, at, f"page {self.page.number}", look.colour("ink_soft"), 200)


class PageTable(Canvas):
    """All pages of a pattern on the table."""

    clicked = Signal()
    """A point was taken."""
    refused = Signal(str)
    """Four points made no join; why."""

    def __init__(self) -> None:
        """Make an empty table."""
        super().__init__()
        self.setAccessibleName("page table")
        self._found: PagesImport | None = None
        self._shown: tuple[object, ...] = ()
        self.items_by_page: list[PageItem] = []

    def show_pages(self, found: PagesImport, look: Palette) -> None:
        """Draw the pages as they lie now."""
        self._found = found
        state = (id(found), id(found.pages), found.placed, look)
        if state != self._shown:
            fresh = not self._shown or self._shown[0] != state[0]
            self._shown = state
            self.scene().clear()
            self.items_by_page = []
            poses = found.shown_at()
            for k, (page, pose) in enumerate(zip(found.pages, poses, strict=True)):
                item = PageItem(page, found.scans[k].even if found.scans else None, look)
                item.setTransform(pose_transform(pose))
                self.scene().addItem(item)
                self.items_by_page.append(item)
            if fresh:
                self.fit()
            else:
                self.refit()
        self.viewport().update()

    def page_at(self, place: QPointF) -> tuple[int, Point] | None:
        """Return the page at a place of the scene and where on it, mm; marks pull."""
        if self._found is None:
            return None
        for index in reversed(range(len(self.items_by_page))):
            item = self.items_by_page[index]
            own = item.mapFromScene(place)
            if not item.sheet.contains(own):
                continue
            at = (own.x(), -own.y())
            near = min(item.page.marks, key=lambda m: math.dist(m.at, at), default=None)
            if near is not None and math.dist(near.at, at) <= REACH / self.scale_now:
                return index, near.at
            return index, at
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take a point on a page."""
        super().mousePressEvent(event)
        if event.button() != Qt.MouseButton.LeftButton or self._panning is not None:
            return
        hit = self.page_at(self.mapToScene(event.position().toPoint()))
        if hit is None or self._found is None:
            return
        try:
            self._found.click(*hit)
        except InputError as error:
            self.refused.emit(str(error))
        self.clicked.emit()

    def drawForeground(self, painter: QPainter, rect: QRectF | object) -> None:
        """Draw where marks lie on each other, and the points clicked."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        found, scale, look = self._found, self.scale_now, self.look
        if found is not None and len(self.items_by_page) == len(found.pages):
            poses = found.shown_at()
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(cosmetic(look.colour("good"), 3.0))
            for join in found.placed.joins:
                for a, _ in join.pairs:
                    painter.drawEllipse(_scene(poses[join.first], a), 10 / scale, 10 / scale)
            painter.setPen(cosmetic(look.colour("iris"), 2.4))
            for number, (page, at) in enumerate(found.clicks, 1):
                place = _scene(poses[page], at)
                painter.drawEllipse(place, 8 / scale, 8 / scale)
                beside = place + QPointF(14 / scale, -12 / scale)
                screen_text(painter, beside, str(number), look.colour("iris"), 40, strong=True)
        super().drawForeground(painter, rect)


def _scene(pose: Pose, point: Point) -> QPointF:
    x, y = moved_point(pose, point)
    return QPointF(x, -y)
