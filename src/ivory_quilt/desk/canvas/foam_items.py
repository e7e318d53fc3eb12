"""What lies on a canvas: sheets of foam, and pieces or parts."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.desk.canvas.paths import line_path, shape_path
from ivory_quilt.desk.theme.palette import Palette, foam_fill, mix, tone
from ivory_quilt.desk.theme.style import words

_DASHES = {
    LineKind.SCORE: [6.0, 3.0],
    LineKind.FOLD: [10.0, 3.0, 2.0, 3.0],
    LineKind.MARK: [1.5, 2.5],
}


def cosmetic(colour: QColor, width: float, dashes: list[float] | None = None) -> QPen:
    """Return a pen of `width` px at any zoom."""
    pen = QPen(colour, width)
    pen.setCosmetic(True)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if dashes:
        pen.setDashPattern([d / width for d in dashes])
    return pen


def screen_text(
    painter: QPainter,
    at: QPointF,
    text: str,
    colour: QColor,
    room: float,
    *,
    size: int = 12,
    strong: bool = False,
    centred: bool = True,
) -> bool:
    """Write `text` at a scene point in screen pixels, cut to `room` px; False when too narrow."""
    font = words(size, strong=strong)
    metrics = QFontMetricsF(font)
    shown = metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)
    if len(shown) < min(len(text), 4):
        return False
    place = painter.worldTransform().map(at)
    painter.save()
    painter.resetTransform()
    painter.setFont(font)
    painter.setPen(colour)
    width = metrics.horizontalAdvance(shown)
    x = place.x() - width / 2 if centred else place.x()
    painter.drawText(QPointF(x, place.y() + metrics.ascent() / 2 - 1), shown)
    painter.restore()
    return True


class FoamItem(QGraphicsItem):
    """A piece or part of foam in its tone, with its lines and its name."""

    def __init__(
        self,
        shape: Shape,
        thickness: float,
        palette: Palette,
        name: str = "",
        note: str = "",
        lines: tuple[PieceLine, ...] = (),
    ) -> None:
        """Draw `shape` where it is; move the item to move the foam."""
        super().__init__()
        self.look = palette
        self.name, self.note = name, note
        self.thickness = thickness
        self.pinned = False
        self.clash = False
        self.set_shape(shape, lines)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsSelectable)
        self.setAcceptHoverEvents(True)
        self.setToolTip(f"{name}\n{note}" if note else name)

    def set_shape(self, shape: Shape, lines: tuple[PieceLine, ...]) -> None:
        """Draw another outline."""
        self.prepareGeometryChange()
        self.shape_mm = shape
        self._path = shape_path(shape)
        self._lines = [(k.kind, line_path(k.points)) for k in lines]
        x, y = shape.label_point
        self._label_at = QPointF(x, -y)

    def boundingRect(self) -> QRectF:
        """Return the outline's box with room for the pen."""
        return self._path.boundingRect().adjusted(-2, -2, 2, 2)

    def shape(self) -> QPainterPath:
        """Return where the item can be grasped: the outline, holes included."""
        path = QPainterPath()
        path.addPolygon(self._path.toFillPolygon())
        return path

    def paint(
        self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None
    ) -> None:
        """Paint the foam, its lines, its name."""
        look = self.look
        ink = look.colour("ink")
        fill = mix(look.colour("paper"), tone(self.thickness), 0.62)
        selected = self.isSelected()
        painter.setBrush(fill)
        if self.clash:
            painter.setPen(cosmetic(look.colour("cut"), 3.0))
        elif selected:
            painter.setPen(cosmetic(look.colour("iris"), 3.0))
        else:
            painter.setPen(cosmetic(ink, 1.2))
        painter.drawPath(self._path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for kind, path in self._lines:
            name = "ink_soft" if kind is LineKind.MARK else "score"
            painter.setPen(cosmetic(look.colour(name), 1.4, _DASHES[kind]))
            painter.drawPath(path)
        scale = painter.worldTransform().m11()
        room = min(self.shape_mm.width * scale * 0.86, 220.0)
        height = self.shape_mm.height * scale
        text = ink if not look.dark else look.colour("ink")
        if height > 15 and room > 30:
            lift = QPointF(0, -7 / scale) if self.note and height > 40 else QPointF(0, 0)
            screen_text(painter, self._label_at + lift, self.name, text, room, strong=True)
            if self.note and height > 40:
                under = self._label_at + QPointF(0, 8 / scale)
                screen_text(painter, under, self.note, text, room)
        if self.pinned:
            self._paint_pin(painter, scale)

    def _paint_pin(self, painter: QPainter, scale: float) -> None:
        """Mark a pinned part: a filled dot with a ring, at the label."""
        at = self._label_at + QPointF(0, -18 / scale)
        painter.setPen(cosmetic(self.look.colour("ink"), 1.6))
        painter.setBrush(self.look.colour("iris"))
        painter.drawEllipse(at, 4.5 / scale, 4.5 / scale)


class SheetItem(QGraphicsItem):
    """A sheet of foam on the table, with its margin and its title above it."""

    def __init__(
        self,
        shape: Shape,
        thickness: float,
        margin: float,
        palette: Palette,
        title: str,
        note: str,
        rest: Shape | None = None,
    ) -> None:
        """Draw the sheet; `rest` is foam of a roll that stays on the roll."""
        super().__init__()
        self.look = palette
        self.shape_mm = shape
        self.thickness = thickness
        self.title, self.note = title, note
        self._path = shape_path(shape)
        self._rest = shape_path(rest) if rest is not None else None
        inner = shape.polygon.buffer(-margin, join_style="mitre") if margin > 0 else None
        self._margin = QPainterPath()
        if inner is not None and not inner.is_empty and inner.geom_type == "Polygon":
            self._margin = shape_path(Shape.from_polygon(inner))
        self.setZValue(-10)
        self.target = False

    def boundingRect(self) -> QRectF:
        """Return the sheet's box with room for its title."""
        box = self._path.boundingRect()
        if self._rest is not None:
            box = box.united(self._rest.boundingRect())
        return box.adjusted(-4, -TITLE_ROOM, 4, 4)

    def paint(
        self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None
    ) -> None:
        """Paint the foam, its edge and its title."""
        look = self.look
        if self._rest is not None:
            painter.setPen(cosmetic(look.colour("thread"), 1.4, [4, 3]))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(self._rest)
        painter.setBrush(foam_fill(self.thickness, look, 0.22))
        line = look.colour("iris") if self.target else look.colour("ink_soft")
        painter.setPen(cosmetic(line, 3.0 if self.target else 1.4))
        painter.drawPath(self._path)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(look.colour("thread"), 1.2, [4, 3]))
        painter.drawPath(self._margin)
        scale = painter.worldTransform().m11()
        box = self._path.boundingRect()
        room = box.width() * scale
        top = QPointF(box.left(), box.top() - 25 / scale)
        screen_text(painter, top, self.title, look.colour("ink"), room, strong=True, centred=False)
        under = QPointF(box.left(), box.top() - 10 / scale)
        screen_text(painter, under, self.note, look.colour("ink_soft"), room, centred=False)


TITLE_ROOM = 90.0  # mm above a sheet, for its title
