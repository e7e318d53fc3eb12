"""Three sizes side by side: the key piece at one scale, foam and money, and a choice."""

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QTransform
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.compare import SizeCost, cost_of_size
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.units import parse_scalar, show_money, show_number
from ivory_quilt.desk.canvas.paths import shape_path, shape_rect
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.layout_engine import CostLayer
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.measure.presenter import MeasurePresenter
from ivory_quilt.desk.theme.palette import LIGHT, Palette, piece_fill
from ivory_quilt.desk.widgets.basics import button, clear, column, label, row
from ivory_quilt.desk.widgets.edgebar import EdgeBar
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.widgets.ledger import foam_amount
from ivory_quilt.desk.work import Background

PICTURE = 110  # px


class SizePicture(QWidget):
    """The key piece in one size, its present outline dashed behind it."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setMinimumHeight(PICTURE)
        self._piece: Piece | None = None
        self._scale, self._largest, self._look = 1.0, 1.0, LIGHT

    def show_size(self, piece: Piece, scale: float, largest: float, look: Palette) -> None:
        """Draw `piece` times `scale`; `largest` is the largest scale that is compared."""
        self._piece, self._scale, self._largest, self._look = piece, scale, largest, look
        self.setAccessibleName(f"{piece.name} at {100 * scale:.0f} %")
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint both outlines about one middle."""
        piece, look = self._piece, self._look
        if piece is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = shape_rect(piece.shape)
        most = max(self._largest, 1.0)
        room = QRectF(self.rect()).adjusted(8, 8, -8, -8)
        zoom = min(room.width() / box.width(), room.height() / box.height()) / most
        middle = room.center()
        for scale, fill in ((self._scale, True), (1.0, False)):
            k = zoom * scale
            at = middle - QPointF(box.center().x() * k, box.center().y() * k)
            path = QTransform(k, 0, 0, k, at.x(), at.y()).map(shape_path(piece.shape))
            brush = piece_fill(piece.thickness, look) if fill else Qt.BrushStyle.NoBrush
            painter.setBrush(brush)
            pen = (
                cosmetic(look.colour("ink"), 1.4)
                if fill
                else cosmetic(look.colour("ink_soft"), 1.2, (4, 3))
            )
            painter.setPen(pen)
            painter.drawPath(path)


class SizeColumn(QFrame):
    """One size: its percent, its picture, its foam, its cost."""

    def __init__(self, choose: Callable[[], None]) -> None:
        """Call `choose` when this size is taken."""
        super().__init__()
        self.setObjectName("Bar")
        self.percent = label("", "great")
        self.length = label("", "note", wrap=True)
        self.picture = SizePicture()
        self.foams = QVBoxLayout()
        self.foams.setSpacing(4)
        self.cost = label("", "figure")
        self.note = label("", "note")
        self.choose = button("Use this size", choose, "main")
        self.setLayout(
            column(
                self.percent,
                self.length,
                self.picture,
                self.foams,
                None,
                self.cost,
                self.note,
                row(self.choose, None),
                space=6,
                edge=12,
            )
        )

    def fill(self, cost: SizeCost | None, stock: ShopStock) -> None:
        """Show what a size takes, or that it is being laid."""
        clear(self.foams)
        if cost is None:
            self.cost.setText("…")
            self.note.setText("laying")
            return
        currency = stock.currency
        foams = [line.foam for line in cost.ledger.lines]
        for line in cost.ledger.lines:
            left = f", {line.unplaced} do not fit" if line.unplaced else ""
            said: QLabel = label(f"{foam_amount(line)}{left}", "note", "cut" if left else "")
            name = label(stock.foam_name(line.foam, foams))
            bar = EdgeBar(line.foam.thickness, 20, stock.material(line.foam.material).kind)
            self.foams.addLayout(row(bar, name, None, said))
        total, least = cost.ledger.cost, cost.ledger.bound
        self.cost.setText(show_money(total, currency))
        scrap = 100 * cost.ledger.scrap_share
        proven = "proven best" if total <= least else f"at least {show_money(least, currency)}"
        self.note.setText(f"{scrap:.0f} % scrap · {proven}")


class SizesPanel(QWidget):
    """A step smaller, the fit, a step larger: each laid, so that its cost is known."""

    def __init__(
        self,
        session: Session,
        presenter: MeasurePresenter,
        background: Callable[[], Background],
        layer: CostLayer,
        to_body: Callable[[], None],
    ) -> None:
        """Compare sizes of `presenter`'s pieces; lay them by `layer`, on what `background` returns.

        `to_body` leads to where a measure is chosen.
        """
        super().__init__()
        self._session, self._presenter = session, presenter
        self._background, self._layer = background, layer
        self.look = LIGHT
        self.costs: dict[float, SizeCost] = {}
        self._asked: tuple[object, ...] = ()
        self.say = label("", wrap=True)
        self.columns = [SizeColumn(partial(self._choose, k)) for k in range(3)]
        body = QHBoxLayout()
        body.setSpacing(12)
        for one in self.columns:
            body.addWidget(one, 1)
        self.body = QWidget()
        self.body.setLayout(body)
        self.empty = EmptyState(
            "measure",
            "Choose a measure and the piece that must meet it: three sizes are then laid side by "
            "side, each with its foam and its cost.",
            "Go to Body",
            to_body,
        )
        self.setLayout(column(self.say, self.body, self.empty, space=10, edge=16))

    def scales(self) -> tuple[float, ...]:
        """Return the sizes to compare, as factors; empty while there is no fit.

        Raises:
            InputError: the step is no number.
        """
        from ivory_quilt.core.document.sizing import size_choices

        fit = self._presenter.fit()
        if fit is None:
            return ()
        step = parse_scalar(self._presenter.choices.step.strip("± %"), where="step") / 100
        if not 0.001 <= step <= 0.5:
            raise InputError("step", f"{100 * step:g} %", "0.1 to 50 %")
        return size_choices(fit, step)

    def refresh(self, look: Palette) -> None:
        """Show the sizes; what is not laid yet is laid elsewhere."""
        self.look = look
        piece = self._presenter.key_piece
        try:
            scales = self.scales()
            self.say.setText("Three sizes side by side; the dashed line is the present size.")
        except InputError as error:
            scales = ()
            self.say.setText(str(error))
        wanting = not scales and (piece is None or self._presenter.measure is None)
        self.say.setVisible(not wanting)
        self.empty.setVisible(wanting)
        self.empty.set_look(look)
        self.body.setVisible(bool(scales))
        if not scales or piece is None:
            return
        ids = self._presenter.together()
        state = (self._session.project, self._session.stock, ids, scales)
        if state != self._asked:
            self._asked = state
            self.costs = {}
            for scale in sorted(scales, key=lambda s: abs(s - scales[1])):
                self._ask(state, scale)
        self._fill(piece, scales)

    def _fill(self, piece: Piece, scales: tuple[float, ...]) -> None:
        words = (
            f"{self._presenter.choices.step} % smaller",
            "the fit",
            f"{self._presenter.choices.step} % larger",
        )
        for one, scale, word in zip(self.columns, scales, words, strict=True):
            one.percent.setText(f"{show_number(100 * scale, 1)} %")
            size = f"{show_number(piece.shape.width * scale, 0)} × "
            size += f"{show_number(piece.shape.height * scale, 0)} mm"
            one.length.setText(f"{word}: {piece.name} {size}")
            one.picture.show_size(piece, scale, max(scales), self.look)
            one.fill(self.costs.get(scale), self._session.stock)

    def _ask(self, state: tuple[object, ...], scale: float) -> None:
        project, stock = self._session.project, self._session.stock
        ids = self._presenter.together()

        def work() -> SizeCost | None:
            if state != self._asked:
                return None  # another fit is wanted by now

            def wanted() -> bool:
                return state == self._asked

            found = cost_of_size(project, ids, scale, stock, self._layer(wanted), wanted)
            return found if wanted() else None

        self._background()(work, partial(self._have, state))

    def forget(self) -> None:
        """Stop asking: the desk closes."""
        self._asked = ()

    def _have(
        self, state: tuple[object, ...], cost: SizeCost | None, error: Exception | None
    ) -> None:
        if isinstance(error, InputError):
            self.say.setText(str(error))
        elif error is not None:
            raise error
        elif cost is not None and state == self._asked:
            self.costs[cost.scale] = cost
            self.refresh(self.look)

    def _choose(self, index: int) -> None:
        scales = self.scales()
        if scales:
            self._presenter.apply_scale(scales[index])
