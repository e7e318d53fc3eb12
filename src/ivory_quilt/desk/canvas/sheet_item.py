"""A sheet of foam as it lies on a canvas: its edge and margin, its flaws, what is left of it."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.desk.canvas.paths import polygon_path, shape_path
from ivory_quilt.desk.canvas.pens import HAIR, cosmetic, draw_outline
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.theme.palette import Palette, foam_fill

TITLE_ROOM = 200.0  # mm above a sheet, for its title


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
            self._margin = polygon_path(inner)
        box = self._path.boundingRect()
        if self._rest is not None:
            box = box.united(self._rest.boundingRect())
        self._bounds = box.adjusted(-4, -TITLE_ROOM, 4, 4)
        self.setZValue(-10)
        self.target = False
        self._rooms: list[tuple[QRectF, str]] = []
        self._flaws: list[QPainterPath] = []

    def set_flaws(self, flaws: tuple[Shape, ...]) -> None:
        """Hatch marked flaws."""
        self._flaws = [shape_path(flaw) for flaw in flaws]

    def set_rooms(self, rooms: list[tuple[QRectF, str]]) -> None:
        """Outline empty places, each with its size."""
        if rooms != self._rooms:
            self._rooms = rooms
            self.update()

    def boundingRect(self) -> QRectF:
        """Return the sheet's box with room for its title."""
        return self._bounds

    def paint(
        self, painter: QPainter, _option: QStyleOptionGraphicsItem, _widget: QWidget | None = None
    ) -> None:
        """Paint the foam, its edge and its title."""
        look = self.look
        if self._rest is not None:
            painter.setPen(cosmetic(look.colour("thread"), 1.4, (4, 3)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(self._rest)
        line = look.colour("iris") if self.target else look.colour("ink_soft")
        pen = cosmetic(line, 3.0 if self.target else HAIR)
        draw_outline(painter, self._path, foam_fill(self.thickness, look, 0.22), pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(look.colour("thread"), HAIR, (4, 3)))
        painter.drawPath(self._margin)
        scale = painter.worldTransform().m11()
        for flaw in self._flaws:
            painter.setPen(cosmetic(look.colour("cut"), 1.4, (2, 2)))
            painter.drawPath(flaw)
            edge = flaw.boundingRect()
            painter.drawLine(edge.topLeft(), edge.bottomRight())
            painter.drawLine(edge.topRight(), edge.bottomLeft())
        for place, size in self._rooms:
            painter.setPen(cosmetic(look.colour("good"), 1.6, (4, 3)))
            inset = 3 / scale
            painter.drawRect(place.adjusted(inset, inset, -inset, -inset))
            self._write_size(painter, place, size, scale)
        self._write_title(painter, scale)

    def _write_size(self, painter: QPainter, place: QRectF, size: str, scale: float) -> None:
        """Write the size of an empty place in one line, or in two where it is narrow."""
        colour, width = self.look.colour("good"), place.width() * scale - 8
        height, middle = place.height() * scale, place.center()
        if height > 18 and screen_text(painter, middle, size, colour, width, whole=True):
            return
        if height > 36:
            first, last = size.split(" × ")
            above = middle - QPointF(0, 8 / scale)
            if screen_text(painter, above, f"{first} ×", colour, width, whole=True):
                below = middle + QPointF(0, 8 / scale)
                screen_text(painter, below, last, colour, width, whole=True)

    def _write_title(self, painter: QPainter, scale: float) -> None:
        look, box = self.look, self._path.boundingRect()
        room = box.width() * scale
        top = QPointF(box.left(), box.top() - 25 / scale)
        screen_text(painter, top, self.title, look.colour("ink"), room, strong=True, centred=False)
        under = QPointF(box.left(), box.top() - 10 / scale)
        screen_text(painter, under, self.note, look.colour("ink_soft"), room, centred=False)
