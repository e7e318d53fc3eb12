"""The shelf as pictures to scale: what lies there, of which thickness, and whether a piece fits."""

from collections.abc import Callable
from decimal import Decimal
from functools import partial

from PySide6.QtCore import QObject, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QComboBox, QWidget

from ivory_quilt.core.errors import QuiltError
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, SheetSpec
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.stock.foam_stock import StockItem
from ivory_quilt.core.units import show_thickness
from ivory_quilt.desk.canvas.paths import placed_path, shape_path
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.theme.palette import LIGHT, Palette, foam_fill, mix, tone
from ivory_quilt.desk.theme.style import pixels, words
from ivory_quilt.desk.widgets.basics import column, filled_later, label, row, scrolled
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.work import TaskRunner

SCALE = 0.16  # px per mm, the same for all so that sizes can be compared
SPACE, FOOT = 20.0, 40.0
SECONDS = 0.6  # that the engine looks for a place on one sheet
WIDEST = 2400.0  # mm of a roll that are drawn


class FitSearch(QObject):
    """Asks the engine on which items of the shelf the parts of one piece find room."""

    changed = Signal()
    _found = Signal(int, str, object)

    def __init__(self, session: Session, engine: LayoutEngine) -> None:
        """Look at `session`'s shelf."""
        super().__init__()
        self._session, self._engine = session, engine
        self._tasks: TaskRunner | None = None
        self._number = 0
        self.piece = ""
        self.fits: dict[str, tuple[Placement, ...]] = {}
        """By item: where the piece's first part lies on it; empty where it finds no room."""
        self._found.connect(self._take, Qt.ConnectionType.QueuedConnection)

    def ask(self, piece_id: str, items: list[StockItem]) -> None:
        """Look for room for a piece on each of some items; an empty id asks no more."""
        self._number += 1
        self.piece, self.fits = piece_id, {}
        if piece_id and items:
            if self._tasks is None:
                self._tasks = TaskRunner(self)
            work = partial(self._run, self._number, self._session.plan, piece_id, items)
            self._tasks.run(work, self._ended)
        self.changed.emit()

    def close(self) -> None:
        """End everything: the desk closes."""
        self._number += 1
        if self._tasks is not None:
            self._tasks.close()

    def _run(self, number: int, plan: Plan, piece_id: str, items: list[StockItem]) -> None:
        parts = plan.parts.get(piece_id, ())
        if not parts:
            return
        part = parts[0]
        lay = self._engine.order_layer(lambda: number == self._number)
        for item in items:
            if number != self._number:
                return
            alike = part.may_flip or plan.stock.material(item.foam.material).both_faces_alike
            piece = PieceSpec(part.id, part.shape, 1, part.rotations, alike)
            sheet = SheetSpec(item.id, item.shape, 1, Decimal(0), item.margin, item.defects)
            found = lay(LayJob((piece,), (sheet,)), SECONDS, Decimal(0), ())
            self._found.emit(number, item.id, found.placements)

    def _take(self, number: int, item_id: str, placements: tuple[Placement, ...]) -> None:
        if number == self._number:
            self.fits[item_id] = placements
            self.changed.emit()

    @staticmethod
    def _ended(_nothing: None, error: Exception | None) -> None:
        if error is not None and not isinstance(error, QuiltError):
            raise error


class ShelfPictures(QWidget):
    """What is owned, drawn at one scale, wrapped to the width."""

    def __init__(self, fit: FitSearch, plan: Callable[[], Plan]) -> None:
        """Show what `fit` finds on them."""
        super().__init__()
        self._fit, self._plan = fit, plan
        self.items: list[StockItem] = []
        self._places: list[QPointF] = []
        self.look: Palette = LIGHT

    def show_items(self, items: list[StockItem], look: Palette) -> None:
        """Draw these items."""
        self.items, self.look = items, look
        self._arrange()
        names = ", ".join(i.name for i in items)
        self.setAccessibleName(f"pictures of {names}" if names else "an empty shelf")
        self.update()

    def _arrange(self) -> None:
        width = max(320, self.width())
        x = y = tallest = 0.0
        self._places = []
        for item in self.items:
            w = max(150.0, min(item.length, WIDEST) * SCALE)
            h = item.breadth * SCALE + FOOT + (pixels(12) - 12) * 2
            if x > 0 and x + w > width:
                x, y, tallest = 0.0, y + tallest + SPACE, 0.0
            self._places.append(QPointF(x, y))
            x, tallest = x + w + SPACE, max(tallest, h)
        self.setMinimumHeight(round(y + tallest + 8))

    def sizeHint(self) -> QSize:
        """As high as the rows are."""
        return QSize(600, self.minimumHeight())

    def resizeEvent(self, _event: object) -> None:
        """Wrap anew."""
        self._arrange()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint what lies there, and the piece where it fits."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        parts = self._plan().parts.get(self._fit.piece, ())
        for item, place in zip(self.items, self._places, strict=True):
            x0, _, _, y1 = item.shape.bounds
            painter.save()
            painter.translate(place)
            painter.setClipRect(QRectF(-2, -2, WIDEST * SCALE, item.breadth * SCALE + 4))
            painter.scale(SCALE, SCALE)
            painter.translate(-x0, y1)
            pen = QPen(self.look.colour("ink"), 1.4)
            pen.setCosmetic(True)
            painter.setPen(pen)
            painter.setBrush(foam_fill(item.foam.thickness, self.look, 0.3))
            painter.drawPath(shape_path(item.shape))
            found = self._fit.fits.get(item.id)
            if found and parts:
                painter.setBrush(mix(self.look.colour("paper"), tone(item.foam.thickness), 0.85))
                painter.drawPath(placed_path(parts[0].shape, found[0].pose))
            painter.restore()
            self._words(painter, item, place, found)

    def _words(
        self,
        painter: QPainter,
        item: StockItem,
        place: QPointF,
        found: tuple[Placement, ...] | None,
    ) -> None:
        foot = place.y() + item.breadth * SCALE + 4
        high = pixels(12) + 5
        painter.setFont(words(12))
        painter.setPen(self.look.colour("ink"))
        several = f"{item.owned} × " if item.owned > 1 else ""
        title = f"{several}{item.name}, {show_thickness(item.foam.thickness)}"
        painter.drawText(QRectF(place.x(), foot, 320, high), Qt.AlignmentFlag.AlignLeft, title)
        painter.setPen(self.look.colour("ink_soft"))
        under = item.place or item.size_text
        if found is not None:
            under = "fits" if found else "no room"
            painter.setPen(self.look.colour("good" if found else "cut"))
        elif self._fit.piece:
            under = "looking …"
        box = QRectF(place.x(), foot + high, 320, high)
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft, under)


class ShelfPanel(QWidget):
    """The shelf's pictures, by thickness, and for a piece."""

    def __init__(
        self, session: Session, engine: LayoutEngine, to_order: Callable[[], None]
    ) -> None:
        """Show `session`'s shelf; `to_order` leads to where stock is added."""
        super().__init__()
        self._session = session
        self.look: Palette = LIGHT
        self.fit = FitSearch(session, engine)
        self.pictures = ShelfPictures(self.fit, lambda: session.plan)
        self.thickness = filled_later("thickness", lambda _: self.fill())
        self.piece = filled_later("piece that would fit", lambda _: self._ask())
        self.fit.changed.connect(self.pictures.update)
        self.empty = EmptyState(
            "buy",
            "Nothing lies on the shelf yet: say at the side how many you own of a sheet, or add an "
            "offcut with its outline.",
            "Back to the order",
            to_order,
        )
        self.area = scrolled(self.pictures)
        self.setLayout(
            column(
                row(
                    label("Shown"),
                    self.thickness,
                    label("Would it fit?"),
                    self.piece,
                    None,
                ),
                self.area,
                self.empty,
                space=12,
                edge=16,
            )
        )

    def fill(self, look: Palette | None = None) -> None:
        """Show what lies on the shelf now."""
        self.look = look or self.look
        owned = [i for i in self._session.stock.items if i.owned]
        kinds = sorted({i.foam.thickness for i in owned})
        _refill(
            self.thickness,
            [("", "all thicknesses"), *((f"{t:g}", show_thickness(t)) for t in kinds)],
        )
        pieces = [p for p in self._session.project.pieces if p.count]
        _refill(self.piece, [("", "no piece"), *((p.id, p.name) for p in pieces)])
        wanted = self.thickness.currentData() or ""
        shown = [i for i in owned if not wanted or f"{i.foam.thickness:g}" == wanted]
        self.area.setVisible(bool(owned))
        self.empty.setVisible(not owned)
        self.pictures.show_items(shown, self.look)

    def _ask(self) -> None:
        ident = self.piece.currentData() or ""
        if ident:
            piece = self._session.project.piece(ident)
            mine = f"{piece.thickness:g}"
            at = self.thickness.findData(mine)
            self.thickness.setCurrentIndex(max(0, at))
        self.fill()
        self.fit.ask(ident, self.pictures.items)


def _refill(box: QComboBox, entries: list[tuple[str, str]]) -> None:
    """Offer entries in a box; what is chosen stays where it is still there."""
    known = [(box.itemData(k), box.itemText(k)) for k in range(box.count())]
    if known == entries:
        return
    chosen = box.currentData()
    box.clear()
    for value, word in entries:
        box.addItem(word, value)
    box.setCurrentIndex(max(0, box.findData(chosen)))
