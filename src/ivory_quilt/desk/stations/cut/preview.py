"""A preview of the papers: template pages or cut sheets, as they come out of the printer."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.cutting.paper_layout import OVERLAP
from ivory_quilt.desk.canvas.foam_items import ticks_path
from ivory_quilt.desk.canvas.paths import (
    label_place,
    line_path,
    placed_path,
    pose_transform,
    shape_path,
)
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import label_choices, screen_label, screen_text
from ivory_quilt.desk.theme.palette import LIGHT, Palette, foam_fill, mix, tone
from ivory_quilt.files.papers.cut_sheets import CutSheet, part_label
from ivory_quilt.files.papers.templates import CHECK_BAR
from ivory_quilt.files.papers.tiling import MARGIN, PageFrame, TemplatePage

# Paper is white in every theme: ink and lines on it are those of the light one.
INK = LIGHT
NAMED_FROM = 40.0  # pixels: less takes no name


class TemplatePageItem(QGraphicsItem):
    """One template page at true size."""

    def __init__(self, page: TemplatePage, look: Palette) -> None:
        """Draw `page` with its lower left corner at the item's (0, 0)."""
        super().__init__()
        self._page, self._size, self._look = page, page.size, look
        self._frame = PageFrame(page.size)
        ox, oy = self._frame.origin
        self._outlines = []
        self._lines = []
        self._ticks = []
        self._tags = []
        for spot in page.spots:
            piece, tag = spot.face.template.piece, spot.face.tag
            path = placed_path(piece.shape, spot.pose).translated(ox, -oy)
            self._outlines.append((path, piece.thickness))
            ticks = ticks_path(piece.shape, piece.match_marks)
            self._ticks.append(pose_transform(spot.pose).map(ticks).translated(ox, -oy))
            if tag is not None:
                self._tags.append(placed_path(tag, spot.pose).translated(ox, -oy))
            for line in piece.lines:
                inner = pose_transform(spot.pose).map(line_path(line))
                self._lines.append(inner.translated(ox, -oy))

    def boundingRect(self) -> QRectF:
        """Return the page's box."""
        return QRectF(-2, -self._size[1] - 2, self._size[0] + 4, self._size[1] + 4)

    def paint(
        self, painter: QPainter, _option: QStyleOptionGraphicsItem, _widget: QWidget | None = None
    ) -> None:
        """Paint the page, its templates, joins and foot."""
        width, height = self._size
        page = QRectF(0, -height, width, height)
        painter.setPen(cosmetic(self._look.colour("ink_soft"), 1.0))
        painter.setBrush(Qt.GlobalColor.white)
        painter.drawRect(page)
        ox, oy = self._frame.origin
        usable = QRectF(ox, -oy - self._frame.height, self._frame.width, self._frame.height)
        painter.save()
        painter.setClipRect(usable, Qt.ClipOperation.IntersectClip)
        for path, thickness in self._outlines:
            painter.setPen(cosmetic(INK.colour("cut"), 1.4))
            painter.setBrush(mix(INK.colour("paper"), tone(thickness), 0.28))
            painter.drawPath(path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(INK.colour("score"), 1.2, (5, 3)))
        for path in self._lines:
            painter.drawPath(path)
        painter.setPen(cosmetic(INK.colour("ink"), 1.6))
        for path in self._ticks:
            painter.drawPath(path)
        painter.setPen(cosmetic(INK.colour("ink_soft"), 1.0, (2, 2)))
        for path in self._tags:
            painter.drawPath(path)
        self._names(painter)
        painter.restore()
        self._joins(painter, usable)
        self._words(painter)

    def _names(self, painter: QPainter) -> None:
        """Write each template's number and name where its words stand, as far as they fit."""
        scale = painter.worldTransform().m11()
        ox, oy = self._frame.origin
        for spot in self._page.spots:
            if not spot.whole:
                continue
            use = spot.face.template.uses[0]
            ((x, y),) = spot.pose.apply(np.array([spot.face.at]))
            room = min(spot.face.block.width, 60.0) * scale
            if room > NAMED_FROM:
                at = QPointF(x + ox, -(y + oy))
                ink = INK.colour("ink")
                screen_text(painter, at, f"{use.number} {use.piece.name}", ink, room, strong=False)

    def _joins(self, painter: QPainter, usable: QRectF) -> None:
        tile = self._page.tile
        if tile is None:
            return
        half, there = OVERLAP / 2, set(tile.pages)
        marks: list[QPointF] = []
        painter.setPen(cosmetic(self._look.colour("ink_soft"), 1.0, (3, 3)))
        column, row = tile.column, tile.row
        columns = [usable.left() + half] * ((column - 1, row) in there)
        columns += [usable.right() - half] * ((column + 1, row) in there)
        for x in columns:
            painter.drawLine(QPointF(x, usable.top()), QPointF(x, usable.bottom()))
            marks += [QPointF(x, usable.bottom() - s * usable.height()) for s in (0.25, 0.75)]
        rows = [usable.bottom() - half] * ((column, row - 1) in there)
        rows += [usable.top() + half] * ((column, row + 1) in there)
        for y in rows:
            painter.drawLine(QPointF(usable.left(), y), QPointF(usable.right(), y))
            marks += [QPointF(usable.left() + s * usable.width(), y) for s in (0.25, 0.75)]
        painter.setPen(cosmetic(INK.colour("ink"), 1.2))
        for m in marks:
            painter.drawLine(m - QPointF(4, 0), m + QPointF(4, 0))
            painter.drawLine(m - QPointF(0, 4), m + QPointF(0, 4))

    def _words(self, painter: QPainter) -> None:
        painter.setPen(cosmetic(INK.colour("ink"), 1.2))
        y = -(MARGIN + 4)
        painter.drawLine(QPointF(MARGIN, y), QPointF(MARGIN + CHECK_BAR, y))
        for k in (0, 5, 10):
            painter.drawLine(QPointF(MARGIN + 10 * k, y), QPointF(MARGIN + 10 * k, y - 2.5))
        scale = painter.worldTransform().m11()
        room = self._size[0] * scale - 6
        tile = self._page.tile
        names = [f"{s.face.template.number} {s.face.template.piece.name}" for s in self._page.spots]
        text = names[0] if len(names) == 1 else f"{names[0]} and {len(names) - 1} more"
        if tile is not None:
            text = f"{tile.name}: {text}"
        if room > 90:
            at = QPointF(MARGIN, -self._size[1] + 7)
            screen_text(painter, at, text, INK.colour("ink"), room, strong=True, centred=False)
        elif tile is not None:
            at = QPointF(self._size[0] / 2, -self._size[1] / 2)
            screen_text(painter, at, tile.name, INK.colour("ink"), room, strong=True)


class CutSheetItem(QGraphicsItem):
    """One cut sheet: foam with numbered, named parts."""

    def __init__(self, sheet: CutSheet, look: Palette) -> None:
        """Draw `sheet` with its own (0, 0) at the item's."""
        super().__init__()
        self._sheet, self._look = sheet, look
        self._path = shape_path(sheet.shape)
        self._parts = []
        for part, placement in sheet.parts:
            move = pose_transform(placement.pose)
            lines = [move.map(line_path(k)) for k in part.lines]
            at, room = label_place(part.shape, placement.pose)
            label = part_label(part, placement, sheet.number_of(part, placement))
            path = move.map(shape_path(part.shape))
            self._parts.append((path, lines, at, label, room))

    def boundingRect(self) -> QRectF:
        """Return the sheet's box with room for its title."""
        return self._path.boundingRect().adjusted(-3, -200, 3, 3)

    def paint(
        self, painter: QPainter, _option: QStyleOptionGraphicsItem, _widget: QWidget | None = None
    ) -> None:
        """Paint the sheet: cut lines solid, score lines dashed."""
        look = self._look
        thickness = self._sheet.foam.foam.thickness
        painter.setPen(cosmetic(look.colour("ink_soft"), 1.4))
        painter.setBrush(foam_fill(thickness, look, 0.12))
        painter.drawPath(self._path)
        scale = painter.worldTransform().m11()
        for path, lines, at, text, room in self._parts:
            painter.setPen(cosmetic(look.colour("cut"), 1.6))
            painter.setBrush(foam_fill(thickness, look, 0.3))
            painter.drawPath(path)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(cosmetic(look.colour("score"), 1.4, (6, 3)))
            for line in lines:
                painter.drawPath(line)
            height = path.boundingRect().height() * scale
            if height > 15:
                ground = foam_fill(thickness, look, 0.3)
                ink = look.colour("ink")
                found = label_choices(text, "", room * scale - 6, height - 4)
                screen_label(painter, at, found[0] if found else (), ink, ground)
        box = self._path.boundingRect()
        top = QPointF(box.left(), box.top() - 25 / scale)
        room = box.width() * scale
        title = f"{self._sheet.number} · {self._sheet.item.name}"
        screen_text(painter, top, title, look.colour("ink"), room, strong=True, centred=False)
        under = QPointF(box.left(), box.top() - 10 / scale)
        note = f"{len(self._sheet.parts)} parts · {'shelf' if self._sheet.owned else 'to buy'}"
        screen_text(painter, under, note, look.colour("ink_soft"), room, centred=False)
