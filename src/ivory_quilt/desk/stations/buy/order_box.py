"""The order: what it comes to in all, how far it can be from the best, and what it says."""

from datetime import date, timedelta
from decimal import Decimal
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFileDialog, QGridLayout, QProgressBar, QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.thing import ThingStanding
from ivory_quilt.core.plan.ordering import ShoppingLine, days_of
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.stock.buy_job import BuyResult
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.stock.past_order import PriceChange
from ivory_quilt.core.units import counted, show_area, show_money
from ivory_quilt.desk.stations.buy.ordering import Ordering
from ivory_quilt.desk.stations.buy.quotes import Quotes
from ivory_quilt.desk.widgets.basics import Stitch, button, clear, column, label, row, set_tone
from ivory_quilt.desk.widgets.slip import SlipFigure
from ivory_quilt.devices.supplier import SimulatedSupplier
from ivory_quilt.files.shopping_file import ListedLine, ShoppingList, text_of, write_shopping

FORMATS = "Shopping list (*.pdf *.ods *.csv *.txt)"


class OrderBox(QWidget):
    """The order as a list by supplier, with its figures."""

    def __init__(self, ordering: Ordering) -> None:
        """Show what `ordering` finds."""
        super().__init__()
        self._ordering, self._session = ordering, ordering.session
        self.quotes = Quotes(self._session)
        self.day = date.today
        self.total = SlipFigure("great")
        self.note = label("", "note")
        self.shipping = label("", "figure")
        self.arrives = label("", "figure")
        self.arrives_note = label("", "note")
        self.kept = label("", "figure")
        self.kept_note = label("", "note")
        self.busy = QProgressBar()
        self.busy.setRange(0, 0)
        self.busy.setFixedWidth(120)
        self.lines = QVBoxLayout()
        self.lines.setSpacing(6)
        self.adopt = button("Adopt order", self._adopt, "main", "Keep its layouts; can be undone")
        self.copy = button("Copy list", self._copy, tip="As plain text, to paste")
        self.export = button("Export list …", self._export, tip="PDF, ODS, CSV or plain text")
        self.saving = label("", "note")
        self.ask = button(
            "Ask for quotes", self._ask_quotes, tip="Ask the supplier what it says to this today"
        )
        self.take_quotes = button(
            "Use these prices", self._take_quotes, tip="Write them into the catalogue"
        )
        self.order_made = button(
            "Ordered", self._ordered, tip="Keep it as ordered today, to compare later orders with"
        )
        self.last = label("", "note", wrap=True)
        figures = row(
            column(label("Order, with shipping", "heading"), self.total, self.note, None, space=2),
            None,
            column(label("Shipping", "heading"), self.shipping, None, space=2),
            column(label("Arrives", "heading"), self.arrives, self.arrives_note, None, space=2),
            column(label("Offcuts kept", "heading"), self.kept, self.kept_note, None, space=2),
            space=32,
        )
        buttons = row(self.adopt, self.order_made, self.copy, self.export, None, self.busy)
        asking = row(self.ask, self.take_quotes, self.saving, None)
        self.setLayout(column(figures, self.lines, buttons, asking, self.last, space=10))
        ordering.changed.connect(self.fill)
        self.fill()

    def fill(self) -> None:
        """Show the order as it stands."""
        ordering, result = self._ordering, self._ordering.result
        stock = self._session.stock
        self.busy.setVisible(ordering.running)
        there = result is not None
        for one in (self.adopt, self.copy, self.export, self.order_made):
            one.setEnabled(there and ordering.fits_plan)
        self._fill_asking(there=there)
        clear(self.lines)
        self.saving.setText("")
        if result is None:
            self.total.show_figure("–", None)
            text = ordering.problem or ("looking …" if ordering.running else "nothing to order yet")
            self.note.setText(text)
            set_tone(self.note, "cut" if ordering.problem else "soft")
            for figure in (self.shipping, self.arrives, self.kept):
                figure.setText("–")
            self.arrives_note.setText("")
            self.kept_note.setText("")
            return
        unpriced = any(x.unpriced for x in self._ordering.lines())
        packs = sum(x.packs for x in result.lines)
        shown = f"{packs} to buy" if unpriced else show_money(result.total, stock.currency)
        self.total.show_figure(shown, None if unpriced else partial(reckon_order, result, stock))
        self._proof(result, stock)
        self.shipping.setText(show_money(result.shipping, stock.currency))
        self.kept.setText(show_area(result.kept))
        worth = show_money(result.kept_worth, stock.currency)
        self.kept_note.setText(f"worth {worth} new" if result.kept_worth and not unpriced else "")
        days = days_of(result, stock)
        self.arrives.setText(f"{days} days" if days else "–")
        when = date.today() + timedelta(days=days)
        self.arrives_note.setText(f"{when:%d %b}, the last of it" if days else "")
        self._show_lines(stock)
        now = self._session.plan.ledger.cost
        if not unpriced and result.goods < now and not self._session.plan.unlaid:
            saved = show_money(now - result.goods, stock.currency)
            self.saving.setText(f"{saved} less foam than as laid now")
            set_tone(self.saving, "good")

    def _supplier(self) -> SimulatedSupplier:
        return SimulatedSupplier(day=self.day().toordinal())

    def _fill_asking(self, *, there: bool) -> None:
        lines = self._ordering.lines() if there else ()
        self.quotes.keep_for(lines)
        known = {s.id for s in self._session.stock.suppliers}
        can = bool(known) and self.quotes.can_answer(lines, self._supplier())
        self.ask.setVisible(can)
        self.take_quotes.setVisible(any(a.differs for a in self.quotes.answers.values()))
        last = self._ordering.last_order() if there else None
        self.last.setVisible(last is not None)
        if last is not None:
            money = show_money(last.total, self._session.stock.currency)
            self.last.setText(f"Ordered last for this project on {last.day}: {money}.")

    def _ask_quotes(self) -> None:
        lines = self._ordering.lines()
        asked = self._supplier()
        differ = self.quotes.ask(lines, asked)
        name = asked.supplier.name
        if differ:
            text = f"{name} says something else to {counted(differ, 'line')}."
            self._session.tell(text, "heat")
        else:
            self._session.tell(f"{name} says what its list says.", "good")
        self.fill()

    def _take_quotes(self) -> None:
        if self.quotes.take_over(self._supplier()):
            self._session.tell("The catalogue has today's prices; the order is looked for anew.")

    def _ordered(self) -> None:
        if self._ordering.ordered(self.day().isoformat()):
            self._session.tell(
                "Kept as ordered today. Arrived puts each line on the shelf.", "good"
            )
        else:
            self._session.tell("Nothing in it has a price yet.")

    def _proof(self, result: BuyResult, stock: ShopStock) -> None:
        lacking = sum(1 for x in self._ordering.lines() if x.unpriced)
        if lacking:
            text = f"{counted(lacking, 'price')} missing, on the right: chosen by area meanwhile"
            tone = "heat"
        elif result.unplaced:
            text, tone = f"{result.unplaced} parts fit nothing that is sold", "cut"
        elif result.total == result.bound:
            text, tone = "proven: no order can cost less", "good"
        else:
            text = f"nothing under {show_money(result.bound, stock.currency)} can fit"
            tone = "soft"
        self.note.setText(text)
        set_tone(self.note, tone)

    def _show_lines(self, stock: ShopStock) -> None:
        lines = self._ordering.lines()
        if not lines:
            self.lines.addWidget(label("Nothing to buy: the shelf has all of it.", tone="good"))
            return
        changes = self._ordering.changes()
        for supplier in dict.fromkeys(x.supplier for x in lines):
            self.lines.addWidget(Stitch())
            known = _supplier(supplier, stock)
            words = _terms(known, stock) if known is not None else ""
            name = stock.supplier_name(supplier) if supplier else "Anywhere"
            self.lines.addLayout(row(label(name, "heading"), label(words, "note"), None))
            grid = QGridLayout()
            grid.setHorizontalSpacing(20)
            grid.setVerticalSpacing(4)
            grid.setColumnStretch(2, 1)
            mine = [x for x in lines if x.supplier == supplier]
            for r, line in enumerate(mine):
                self._line(grid, r, line, changes.get(line.key), stock)
            self.lines.addLayout(grid)

    def _line(
        self,
        grid: QGridLayout,
        r: int,
        line: ShoppingLine,
        change: PriceChange | None,
        stock: ShopStock,
    ) -> None:
        right = Qt.AlignmentFlag.AlignRight
        grid.addWidget(label(f"{line.amount} ×", "mono"), r, 0, right)
        grid.addWidget(label(line.name), r, 1)
        grid.addWidget(label(line.size, "note"), r, 2)
        cost = "price?" if line.unpriced else show_money(line.cost, stock.currency)
        grid.addWidget(label(cost, "mono", "heat" if line.unpriced else ""), r, 3, right)
        arrived = button(
            "Arrived", partial(self._arrived, line), "quiet", "It is here: put it on the shelf"
        )
        arrived.setAccessibleName(f"{line.name} arrived")
        grid.addWidget(arrived, r, 4)
        answer = self.quotes.answers.get(line.key)
        if answer is not None:
            grid.addWidget(label(answer.words, "note", "heat" if answer.differs else "good"), r, 5)
        elif change is not None and abs(change.percent) >= 0.5:
            up = change.percent > 0
            words = f"{'+' if up else '−'}{abs(change.percent):.0f} % since {change.day}"
            grid.addWidget(label(words, "note", "heat" if up else "good"), r, 5)

    def _arrived(self, line: ShoppingLine) -> None:
        self._ordering.arrived(line)

    def _adopt(self) -> None:
        if self._ordering.adopt():
            self._session.tell("The order's layouts are kept.", "good")
        else:
            self._session.tell("The order's layouts are kept already.")

    def listed(self) -> ShoppingList | None:
        """Return the order as a list to write, None while there is none."""
        result, stock = self._ordering.result, self._session.stock
        if result is None:
            return None
        lines = tuple(
            ListedLine(
                stock.supplier_name(x.supplier),
                x.name,
                x.size,
                x.amount,
                None if x.unpriced else x.price,
                None if x.unpriced else x.cost,
            )
            for x in self._ordering.lines()
        )
        things = [t for t in self._session.project.things if t.standing is ThingStanding.NEEDED]
        lines += tuple(
            ListedLine(
                t.source, t.name, "", f"{t.count}", t.price, None if t.price is None else t.cost
            )
            for t in things
        )
        more = sum((t.cost for t in things), Decimal(0))
        title = f"{self._session.project.name}: to buy"
        shipping = tuple(
            (stock.supplier_name(s.id), s.shipping_of(_goods(result, s.id)))
            for s in stock.suppliers
            if _goods(result, s.id)
        )
        total = result.total + more
        bound = result.bound + more
        return ShoppingList(title, lines, shipping, total, bound, stock.currency)

    def _copy(self) -> None:
        listed = self.listed()
        if listed is not None:
            QGuiApplication.clipboard().setText(text_of(listed))
            self._session.tell("The list is copied: paste it where you like.", "good")

    def _export(self) -> None:
        name = f"{self._session.project.name} to buy.pdf"
        chosen, _ = QFileDialog.getSaveFileName(self, "Export list", name, FORMATS)
        if chosen:
            self.write_to(Path(chosen))

    def write_to(self, path: Path) -> None:
        """Write the list; tell how it went."""
        listed = self.listed()
        if listed is None:
            return
        try:
            write_shopping(listed, path)
        except InputError as error:
            self._session.tell(str(error), "cut")
            return
        self._session.tell(f"The list is in {path.name}.", "good")


def _goods(result: BuyResult, supplier: str) -> Decimal:
    return sum((x.cost for x in result.lines if x.offer.supplier == supplier), Decimal(0))


def _terms(supplier: Supplier, stock: ShopStock) -> str:
    """Return a supplier's terms, as far as it has any."""
    terms = [f"{supplier.days} days"] if supplier.days else []
    if supplier.minimum:
        terms.append(f"minimum {show_money(supplier.minimum, stock.currency)}")
    if supplier.free_from is not None:
        terms.append(f"ships free from {show_money(supplier.free_from, stock.currency)}")
    return ", ".join(terms)


def _supplier(ident: str, stock: ShopStock) -> Supplier | None:
    return next((s for s in stock.suppliers if s.id == ident), None)


def reckon_order(result: BuyResult, stock: ShopStock) -> Reckoning:
    """Explain what an order comes to, and the bound."""
    sign = stock.currency.sign
    steps = [
        Step(x.offer.id.removeprefix("buy:"), f"{x.packs} × {x.price:.2f}", f"{x.cost:.2f}", sign)
        for x in result.lines
    ]
    steps.append(Step("goods", "Σ", f"{result.goods:.2f}", sign))
    steps.append(Step("shipping", "Σ of the suppliers", f"{result.shipping:.2f}", sign))
    steps.append(Step("in all", "goods + shipping", f"{result.total:.2f}", sign))
    bound = "areas, what fits where, large pieces that cannot share, packs, steps and shipping"
    steps.append(Step("proven lower bound", bound, f"{result.bound:.2f}", sign))
    return Reckoning("order", {}, {}, tuple(steps), "the shop's catalogue; mixed-integer program")
