"""What lies on the board: headings of foams, and pieces."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath
from PySide6.QtWidgets import QGraphicsItem, QGraphicsScene, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.geometry.shape import Shape, polygons_of
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.region_shapes import is_on, region_on
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.units import counted, show_thickness
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.paths import shape_path
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.stations.pattern.board import BoardGroup, arrange
from ivory_quilt.desk.stations.pattern.presenter import piece_note
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.widgets.edgebar import bar_height, paint_bar


class GroupHead(QGraphicsItem):
    """The heading of one foam's pieces: edge bar, words, a stitched line."""

    def __init__(self, group: BoardGroup, material: str, palette: Palette) -> None:
        """Show the heading at the group's corner."""
        super().__init__()
        self._group, self._material, self.look = group, material, palette
        self.setPos(group.at[0], -group.at[1])

    def boundingRect(self) -> QRectF:
        """Return the heading's strip."""
        return QRectF(-10, -10, self._group.width + 20, self._group.head + 10)

    def paint(
        self, painter: QPainter, _option: QStyleOptionGraphicsItem, _widget: QWidget | None = None
    ) -> None:
        """Paint the heading; bar and words keep their size on the screen."""
        painter.setPen(cosmetic(self.look.colour("thread"), 1.6, (4, 3)))
        painter.drawLine(QPointF(0, 0), QPointF(self._group.width, 0))
        middle = self._group.head / 2
        scale = painter.worldTransform().m11()
        thickness = self._group.foam.thickness
        at = painter.worldTransform().map(QPointF(0, middle))
        # True to scale, but never over the pieces below.
        height = min(bar_height(thickness), max(self._group.head * scale - 6, 6))
        painter.save()
        painter.resetTransform()
        bar = QRectF(at.x(), at.y() - height / 2, 30, height)
        paint_bar(painter, bar, thickness, self.look.colour("ink"))
        painter.restore()
        name, many = show_thickness(thickness), counted(self._group.parts, "cut part")
        room = self._group.width * scale - 44
        # The first wording that the column has room for.
        for text in (f"{name} {self._material} · {many}", f"{name} · {many}", name):
            if screen_text(
                painter,
                QPointF(40 / scale, middle),
                text,
                self.look.colour("ink"),
                room,
                size=13,
                strong=True,
                centred=False,
                whole=True,
            ):
                return


class PaintedItem(FoamItem):
    """A piece in the tones that it is painted in, one over the other."""

    tones: tuple[tuple[QPainterPath, QColor], ...] = ()

    def draw_body(self, painter: QPainter, scale: float) -> None:
        """Paint the foam, then its tones, within its outline."""
        super().draw_body(painter, scale)
        for path, colour in self.tones:
            painter.fillPath(path, colour)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(self.look.colour("iris" if self.chosen else "ink"), 1.2))
        painter.drawPath(shape_path(self.shape_mm))

    def ground_of_words(self) -> QColor | None:
        """Return paper: a tone may be as dark as ink."""
        return self.look.colour("paper")


def tones_of(
    piece: Piece, paint: tuple[PaintArea, ...]
) -> tuple[list[tuple[QPainterPath, QColor]], list[str]]:
    """Return a piece's tones as they are painted, and what they are called."""
    found, names = [], []
    for area in paint:
        if not is_on(piece, area):
            continue
        names.append(area.tone)
        if not area.shows:
            continue
        for polygon in polygons_of(region_on(piece, area.region)):
            found.append((shape_path(Shape.from_polygon(polygon)), QColor(area.colour)))
    return found, names


def draw_board(
    scene: QGraphicsScene,
    pieces: tuple[Piece, ...],
    aspect: float,
    stock: ShopStock,
    look: Palette,
    paint: tuple[PaintArea, ...] = (),
) -> dict[str, FoamItem]:
    """Draw all pieces anew, in blocks by foam; return each piece's item by its id.

    With `paint` they are shown in its tones, named below their own names.
    """
    scene.clear()
    items: dict[str, FoamItem] = {}
    if not pieces:
        return items
    board = arrange(pieces, aspect)
    for group in board.groups:
        scene.addItem(GroupHead(group, stock.material_name(group.foam.material), look))
    for spot in board.spots:
        piece = spot.piece
        tones, names = tones_of(piece, paint)
        note = piece_note(piece)
        kind = PaintedItem if tones else FoamItem
        item = kind(
            piece.shape,
            piece.thickness,
            look,
            piece.name,
            "\n".join((", ".join((note, *names)), note)) if names else note,
            piece.lines,
            marks=piece.match_marks,
            labels=piece.labels,
        )
        item.setPos(spot.at[0], -spot.at[1])
        item.setData(0, piece.id)
        if isinstance(item, PaintedItem):
            item.tones = tuple(tones)
        scene.addItem(item)
        items[piece.id] = item
    return items
