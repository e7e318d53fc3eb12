"""The catalogue: what is sold and owned as tables to edit, and price lists in and out."""

from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path
from typing import TypeVar

from PySide6.QtWidgets import QFileDialog, QTabWidget, QWidget

from ivory_quilt.core.document.project import free_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.bars import BarItem
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind
from ivory_quilt.core.stock.foam_stock import StockItem
from ivory_quilt.core.units import counted
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.buy.catalogue_columns import (
    BARS,
    STOCK,
    SUPPLIERS,
    USED,
    section_of_text,
)
from ivory_quilt.desk.widgets.basics import Complaint, button, column, label, row
from ivory_quilt.desk.widgets.record_table import RecordTable
from ivory_quilt.desk.work import Background
from ivory_quilt.devices.supplier import SimulatedSupplier
from ivory_quilt.files.catalogue_file import PriceList, read_price_list, write_price_list

TABLES = "Price list (*.csv *.ods)"
HELP = (
    "Price for one (a roll: per metre); price steps for a pack, e.g. 5: 10.20; 10: 9.50. Type into "
    "the empty row to add, empty the first cell to take out. A rate that you type is your own."
)


Goods = TypeVar("Goods", StockItem, BarItem, Consumable)


class CataloguePanel(QWidget):
    """Tables of stock, bars, what is used up, and suppliers."""

    def __init__(self, session: Session, reader: Callable[[], Background]) -> None:
        """Edit the shop of `session`; price lists are read on what `reader` returns."""
        super().__init__()
        self._session, self._reader = session, reader
        self.error = Complaint()
        say = self.error.setText
        self.items: RecordTable[StockItem] = RecordTable(
            "stock", STOCK, lambda: session.stock.items, self._put_item, say
        )
        self.bars: RecordTable[BarItem] = RecordTable(
            "bars",
            BARS,
            lambda: session.stock.bars,
            lambda bar: self._write(lambda: session.store.put_bar(self._known(bar))),
            say,
            remove=lambda bar: self._write(lambda: session.store.remove_bar(bar.id)),
            fresh=self._fresh_bar,
        )
        self.used: RecordTable[Consumable] = RecordTable(
            "used up",
            USED,
            lambda: session.stock.consumables,
            lambda what: self._write(lambda: session.store.put_consumable(self._known(what))),
            say,
            remove=lambda what: self._write(lambda: session.store.remove_consumable(what.id)),
            fresh=lambda name: Consumable(
                self._fresh_id(name), name, ConsumableKind.CEMENT, 750.0, 3.5
            ),
        )
        self.suppliers: RecordTable[Supplier] = RecordTable(
            "suppliers",
            SUPPLIERS,
            lambda: session.stock.suppliers,
            lambda one: self._write(lambda: session.store.put_supplier(one)),
            say,
            remove=lambda one: self._write(lambda: session.store.remove_supplier(one.id)),
            fresh=lambda name: Supplier(name.lower(), name),
        )
        self.tabs = QTabWidget()
        for table, word in (
            (self.items, "Foam"),
            (self.bars, "Bars"),
            (self.used, "Used up"),
            (self.suppliers, "Suppliers"),
        ):
            self.tabs.addTab(table, word)
        self.setLayout(
            column(
                row(
                    button("Import price list …", self._ask_import, tip="A CSV or ODS table"),
                    button("Export price list …", self._ask_export, tip="As a table to edit"),
                    button(
                        "Ask a supplier",
                        self.ask_supplier,
                        tip="A simulated one: its list of today, with what it has run out of",
                    ),
                    None,
                ),
                self.error,
                self.tabs,
                label(HELP, "note", wrap=True),
                space=8,
                edge=16,
            )
        )

    def fill(self) -> None:
        """Show the shop as it is now."""
        for table in (self.items, self.bars, self.used, self.suppliers):
            table.fill()

    def _write(self, work: Callable[[], object]) -> None:
        """Write to the store, and show the shop as it is then.

        Raises:
            InputError: the store refuses.
        """
        work()
        self._session.reload_stock()

    def _known(self, goods: Goods) -> Goods:
        """Return goods whose supplier the shop knows.

        Raises:
            InputError: it does not.
        """
        known = {s.id for s in self._session.stock.suppliers}
        if goods.supplier and goods.supplier not in known:
            expected = ", ".join(sorted(known)) or "a supplier of the last table"
            raise InputError("supplier", f"'{goods.supplier}'", expected)
        return goods

    def _put_item(self, item: StockItem) -> None:
        self._session.put_stock(self._known(item))

    def _fresh_bar(self, text: str) -> BarItem:
        section = section_of_text(text)
        return BarItem(self._fresh_id(section.name), section, 1000.0)

    def _fresh_id(self, wish: str) -> str:
        stock = self._session.stock
        return free_name(wish, {*(b.id for b in stock.bars), *(c.id for c in stock.consumables)})

    # Price lists

    def _ask_import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Import price list", "", TABLES)
        if name:
            self.read_list(Path(name))

    def read_list(self, path: Path) -> None:
        """Bring a price list in; rows that make no sense are told, the others come in."""
        self._reader()(partial(read_price_list, path), self._have_list)

    def _have_list(self, found: PriceList | None, error: Exception | None) -> None:
        if found is None:
            self.error.setText(str(error))
            return
        take_price_list(self._session, found)
        problems = [str(p) for p in found.problems]
        more = [f"… and {len(problems) - 5} more"] if problems[5:] else []
        self.error.setText("\n".join([*problems[:5], *more]))
        self.fill()

    def ask_supplier(self, day: int | None = None) -> None:
        """Bring in the simulated supplier's list of today: prices change, things run out."""
        today = date.today().toordinal() if day is None else day
        asked = SimulatedSupplier(day=today)
        found = PriceList(asked.price_list(), (), (asked.supplier,), ())
        take_price_list(self._session, found)
        self.fill()

    def _ask_export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Export price list", "price list.ods", TABLES)
        if name:
            path = Path(name)
            if self._session.try_shop(lambda: write_price_list(self._session.stock, path)):
                self._session.tell(f"The price list is in {path.name}.", "good")


def take_price_list(session: Session, found: PriceList) -> None:
    """Put a price list into the shop: known ids are changed, what is owned stays; tell of it."""
    store, stock = session.store, session.stock
    # A list knows a supplier by name; the shop may know it by another id.
    named = {s.name.lower(): s.id for s in stock.suppliers}
    ids = {s.id: named.get(s.name.lower(), s.id) for s in found.suppliers}

    def put() -> None:
        with store.together():
            for one in found.suppliers:
                store.put_supplier(replace(one, id=ids[one.id]))
            for item in found.items:
                known = stock.item(item.id)
                owned = max(item.owned, known.owned if known is not None else 0)
                supplier = ids.get(item.supplier, "")
                store.put(replace(item, owned=owned, supplier=supplier))
            for bar in found.bars:
                old = next((b for b in stock.bars if b.id == bar.id), None)
                owned = max(bar.owned, old.owned if old is not None else 0)
                store.put_bar(replace(bar, owned=owned, supplier=ids.get(bar.supplier, "")))

    if session.try_shop(put):
        session.reload_stock()
        count = counted(len(found.items) + len(found.bars), "row")
        refused = f", {counted(len(found.problems), 'row')} refused" if found.problems else ""
        session.tell(f"{count} came in{refused}.", "heat" if found.problems else "good")
