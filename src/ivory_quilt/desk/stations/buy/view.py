"""The Buy station: what each foam takes, what that costs, and what is owned already."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QGridLayout, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.units import (
    counted,
    show_area,
    show_misfits,
    show_money,
    show_number,
    show_parts,
    show_thickness,
)
from ivory_quilt.desk.canvas.quilt import quilt
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.buy.catalogue import CataloguePanel
from ivory_quilt.desk.stations.buy.order_box import OrderBox
from ivory_quilt.desk.stations.buy.ordering import Ordering
from ivory_quilt.desk.stations.buy.pictures import SheetPictures
from ivory_quilt.desk.stations.buy.presenter import BuyPresenter
from ivory_quilt.desk.stations.buy.shares_panel import SharesPanel
from ivory_quilt.desk.stations.buy.shelf import Shelf
from ivory_quilt.desk.stations.buy.shelf_pictures import ShelfPanel
from ivory_quilt.desk.stations.buy.things import ThingsPanel
from ivory_quilt.desk.stations.buy.used_box import UsedBox
from ivory_quilt.desk.stations.buy.what_if_panel import WhatIfPanel, WhatIfs
from ivory_quilt.desk.theme.palette import Palette, foam_fill, tone
from ivory_quilt.desk.widgets.basics import Stitch, clear, column, label, row, scrolled, set_tone
from ivory_quilt.desk.widgets.edgebar import EdgeBar
from ivory_quilt.desk.widgets.ledger import reckon_total_cost, reckon_total_scrap
from ivory_quilt.desk.widgets.mode_bar import ModeBar
from ivory_quilt.desk.widgets.slip import SlipFigure
from ivory_quilt.desk.work import Background, at_once
from ivory_quilt.shop.sqlite_store import load_writer

MODES = (
    ("order", "Order", "What to order, by supplier, proven to fit"),
    ("what-if", "What if", "Other ways to the same suit, side by side"),
    ("shares", "Where it goes", "Foam and money by cause and by piece; when things arrive"),
    ("shelf", "Shelf", "What lies on the shelf, to scale, and whether a piece fits"),
    ("things", "Other goods", "What is not foam: closures, lights, shoes; and when it comes"),
    ("catalogue", "Catalogue", "What is sold, by whom, in which packs; price lists in and out"),
)


class UseBar(QWidget):
    """How much of the foam taken becomes parts."""

    def __init__(self, thickness: float, share: float, look: Palette) -> None:
        """Show `share` of the bar filled."""
        super().__init__()
        self._thickness, self._share, self._look = thickness, share, look
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(f"{100 * share:.0f} % of the foam becomes parts")

    def sizeHint(self) -> QSize:
        """A thin bar."""
        return QSize(200, 12)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the bar."""
        painter = QPainter(self)
        painter.setPen(self._look.colour("ink_soft"))
        painter.setBrush(foam_fill(self._thickness, self._look, 0.15))
        box = QRectF(0.5, 0.5, self.width() - 1, self.height() - 1)
        painter.drawRect(box)
        painter.setBrush(tone(self._thickness))
        painter.drawRect(QRectF(0.5, 0.5, box.width() * self._share, box.height()))


class BuyStation(Station):
    """Foam to buy."""

    ident = "buy"

    def __init__(self, session: Session, engine: LayoutEngine) -> None:
        """Show the purchase of `session`; orders are laid with `engine`."""
        super().__init__(session)
        self.presenter = BuyPresenter(session)
        self.ordering = Ordering(session, engine)
        self.order = OrderBox(self.ordering)
        self.used = UsedBox(session)
        self.asked = WhatIfs(session, engine, self.ordering)
        self.what_if = WhatIfPanel(self.asked)
        self.modes = ModeBar(MODES, self.show_mode)
        self.total = SlipFigure("figure")
        self.total_note = label("", "note")
        self.waste = SlipFigure("figure")
        self.sections = QVBoxLayout()
        self.sections.setSpacing(12)
        figures = row(
            column(label("Foam as laid now", "heading"), self.total, self.total_note, space=2),
            None,
            column(label("Scrap", "heading"), self.waste, None, space=2),
            space=48,
        )
        inside = QWidget()
        layout = column(self.order, Stitch(), figures, self.sections, self.used, None, space=16)
        layout.setContentsMargins(24, 20, 24, 20)
        inside.setLayout(layout)
        self.centre = scrolled(inside)
        ways = QWidget()
        around = column(self.what_if, None, space=0)
        around.setContentsMargins(24, 20, 24, 20)
        ways.setLayout(around)
        self.stack = QStackedWidget()
        self.stack.addWidget(self.centre)
        self.stack.addWidget(scrolled(ways))
        self.reader: Background = at_once
        self.background: Background = at_once
        self.shares = SharesPanel(session, self.ordering, lambda: self.background)
        self.stack.addWidget(self.shares)
        self.pictures = ShelfPanel(session, engine, lambda: self.show_mode("order"))
        self.stack.addWidget(self.pictures)
        self.things = ThingsPanel(session)
        self.stack.addWidget(self.things)
        self.catalogue = CataloguePanel(session, lambda: self.reader)
        self.stack.addWidget(self.catalogue)
        middle = QWidget()
        middle.setLayout(column(self.modes, self.stack, space=0))
        self.shelf = Shelf(self.presenter, lambda: self.reader)
        self._blocks: dict[Foam, QWidget] = {}
        self._loading = False
        self._state: object = None
        self.lay_out(middle, self.shelf)
        self.offer("order", lambda: self.show_mode("order"))
        self.offer("what-if", lambda: self.show_mode("what-if"))
        self.offer("shares", lambda: self.show_mode("shares"))
        self.offer("shelf", lambda: self.show_mode("shelf"))
        self.offer("things", lambda: self.show_mode("things"))
        self.offer("catalogue", lambda: self.show_mode("catalogue"))
        self.show_mode("order")
        self.ordering.changed.connect(self._ask)

    def show_mode(self, mode: str) -> None:
        """Show the order, or other ways."""
        self.mode = mode
        self.stack.setCurrentIndex([m for m, _, _ in MODES].index(mode))
        self.modes.show_mode(mode, {m for m, _, _ in MODES})
        self._fill_mode()

    def _fill_mode(self) -> None:
        if self.mode == "catalogue":
            self.catalogue.fill()
        elif self.mode == "things":
            self.things.fill()
        elif self.mode == "shares":
            self.shares.fill(self.look)
        elif self.mode == "shelf":
            self.pictures.fill(self.look)
        self._ask()

    def _ask(self) -> None:
        if self.mode == "what-if" and not self.session.plan.unlaid:
            self.asked.ask()

    def refresh(self) -> None:
        """Show the present purchase."""
        plan = self.session.plan
        self.shelf.fill()
        self.order.fill()
        self.what_if.look = self.look
        if not plan.unlaid:
            self.ordering.look()
        self._fill_mode()
        laid = tuple((f.standing, f.result) for f in plan.foams)
        state = (plan.ledger, plan.lengths, laid, self.look, self.session.stock.currency)
        if state == self._state:
            return
        self._state = state
        ledger, sign = plan.ledger, self.session.stock.currency
        self.total.show_figure(
            show_money(ledger.cost, sign), lambda: reckon_total_cost(ledger, sign)
        )
        self.waste.show_figure(
            f"{100 * ledger.scrap_share:.0f} %" if ledger.foam_area else "–",
            (lambda: reckon_total_scrap(ledger, self.session.stock)) if ledger.foam_area else None,
        )
        self._note()
        self.used.fill()
        clear(self.sections)
        self._blocks.clear()
        spots = quilt(plan).sheets
        for foam in plan.foams:
            block = QWidget()
            mine = [s for s in spots if s.foam.foam == foam.foam]
            pictures = SheetPictures(mine, self.look) if mine else None
            block.setLayout(self._section(foam, pictures))
            self.sections.addWidget(block)
            self._blocks[foam.foam] = block
        if plan.lengths:
            self.sections.addWidget(self._lengths())
        if not plan.foams:
            text = "What to buy stands here once there are pieces. Say meanwhile, on the right, "
            self.sections.addWidget(label(text + "what foam the shop has.", wrap=True))

    def _lengths(self) -> QWidget:
        """Return the list of shaped lengths to cut, each with its reckoning."""
        made, lines = QWidget(), []
        for cut in self.session.plan.lengths:
            figure = SlipFigure("mono")
            figure.show_figure(
                f"{cut.count} × {show_number(cut.length, 0)} mm",
                lambda c=cut: c.reckoning,  # type: ignore[misc]
            )
            words = f"{cut.words}, along {cut.where} of {cut.name}"
            lines.append(row(figure, label(words), None, space=12))
        title = label("Shaped lengths to cut", "title")
        made.setLayout(column(Stitch(), title, *lines, space=6))
        return made

    def _note(self) -> None:
        ledger = self.session.plan.ledger
        sign = self.session.stock.currency
        if ledger.unpriced and not self.session.plan.unlaid:
            text = f"counted in sheets: {counted(ledger.unpriced, 'price')} missing, on the right"
            tone_name = "heat"
        elif self.session.plan.unlaid:
            text, tone_name = "some foam is not laid yet", "heat"
        elif ledger.unplaced:
            text, tone_name = f"{show_misfits(ledger.unplaced)} on this stock", "cut"
        elif ledger.parts and ledger.cost == ledger.bound:
            text, tone_name = "proven: no layout on this stock can cost less", "good"
        elif ledger.parts:
            text, tone_name = f"no layout can cost under {show_money(ledger.bound, sign)}", "soft"
        else:
            text, tone_name = "nothing yet", "soft"
        self.total_note.setText(text)
        set_tone(self.total_note, tone_name)

    def _section(self, foam: FoamPlan, pictures: QWidget | None) -> QVBoxLayout:
        line = foam.line
        sign = self.session.stock.currency
        name = show_thickness(foam.foam.thickness)
        material = self.session.stock.material_name(foam.foam.material)
        cost = SlipFigure()
        cost.setAlignment(Qt.AlignmentFlag.AlignRight)
        cost.show_figure(
            show_money(line.cost, sign) if line.laid else "–",
            (lambda: line.reckon_cost(sign)) if line.laid else None,
        )
        head = row(
            EdgeBar(foam.foam.thickness, 40, self.session.stock.material(foam.foam.material).kind),
            label(f"{name} {material}", "title"),
            label(show_parts(line.parts), "note"),
            None,
            cost,
            space=12,
        )
        if foam.standing is Standing.NO_STOCK:
            text = "The shop has no foam of this kind: add it on the right, or the usual sizes."
            return column(Stitch(), head, label(text, tone="cut", wrap=True), space=8)
        if not line.laid:
            return column(Stitch(), head, label("laying …", "note"), space=8)
        waste = SlipFigure("mono")
        waste.show_figure(f"{100 * line.scrap_share:.0f} % scrap", line.reckon_scrap)
        used = f"{show_area(line.part_area)} of {show_area(line.foam_area)} become parts"
        rows: list[QWidget | QVBoxLayout | QGridLayout] = [self._table(foam)]
        if line.unplaced:
            text = f"{show_misfits(line.unplaced)}: add larger or more foam on the right."
            rows.append(label(text, tone="cut", wrap=True))
        if pictures is not None:
            rows.append(pictures)
        bar = UseBar(foam.foam.thickness, 1 - line.waste_share, self.look)
        return column(Stitch(), head, *rows, bar, row(label(used, "note"), None, waste), space=8)

    def _table(self, foam: FoamPlan) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(24)
        grid.setVerticalSpacing(4)
        right = Qt.AlignmentFlag.AlignRight
        for r, entry in enumerate(self.presenter.rows(foam)):
            grid.addWidget(label(entry.amount, "mono"), r, 0, right)
            grid.addWidget(label(entry.name), r, 1)
            grid.addWidget(label(entry.origin, "note"), r, 2)
            grid.addWidget(label(entry.unit_price, "mono", "soft"), r, 3, right)
            grid.addWidget(label(entry.cost, "mono"), r, 4, right)
        grid.setColumnStretch(1, 1)
        return grid

    def enter(self) -> None:
        """Show the purchase; what writes to the shop is loaded before anybody needs it."""
        if not self._loading:
            self._loading = True
            self.background(load_writer, lambda _, __: None)
        super().enter()

    def leave(self) -> None:
        """Stop looking for orders: the desk closes."""
        self.ordering.close()
        self.asked.close()
        self.pictures.fit.close()

    def show_foam(self, foam: Foam) -> None:
        """Scroll to one foam."""
        block = self._blocks.get(foam)
        if block is not None:
            self.centre.ensureWidgetVisible(block)
