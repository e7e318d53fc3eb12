"""What lies on the board: headings of foams, and pieces."""

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QGraphicsItem, QGraphicsScene, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.units import counted, show_thickness
from ivory_quilt.desk.canvas.foam_items import FoamItem
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


def draw_board(
    scene: QGraphicsScene, pieces: tuple[Piece, ...], aspect: float, stock: ShopStock, look: Palette
) -> dict[str, FoamItem]:
    """Draw all pieces anew, in blocks by foam; return each piece's item by its id."""
    scene.clear()
    items: dict[str, FoamItem] = {}
    if not pieces:
        return items
    board = arrange(pieces, aspect)
    for group in board.groups:
        scene.addItem(GroupHead(group, stock.material_name(group.foam.material), look))
    for spot in board.spots:
        piece = spot.piece
        item = FoamItem(
            piece.shape,
            piece.thickness,
            look,
            piece.name,
            piece_note(piece),
            piece.lines,
            marks=piece.match_marks,
            labels=piece.labels,
        )
        item.setPos(spot.at[0], -spot.at[1])
        item.setData(0, piece.id)
        scene.addItem(item)
        items[piece.id] = item
    return items
