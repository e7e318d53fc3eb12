"""The catalogue: what is sold and owned as tables to edit, and price lists in and out."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from decimal import Decimal
from functools import partial
from pathlib import Path

from PySide6.QtCore import QSignalBlocker, Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QWidget,
)

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.foam_stock import StockItem
from ivory_quilt.core.units import counted, parse_length, parse_money, show_thickness
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Complaint, button, column, label, row
from ivory_quilt.desk.work import Background
from ivory_quilt.files.catalogue_file import PriceList, read_price_list, write_price_list

TABLES = "Price list (*.csv *.ods)"


@dataclass(frozen=True)
class Column:
    """One column of the table of stock: how it is shown, and what a typed text makes of an item."""

    head: str
    show: Callable[[StockItem], str]
    take: Callable[[StockItem, str], StockItem] | None = None


def _count(text: str, where: str, least: int) -> int:
    if not text.strip().isdigit() or int(text) < least:
        raise InputError(where, f"'{text}'", f"a whole number, {least} or more")
    return int(text)


def _supplier_in(item: StockItem, text: str) -> StockItem:
    return replace(item, supplier=text.strip().lower())


def _price_in(item: StockItem, text: str) -> StockItem:
    price = parse_money(text, where="price") if text.strip() else None
    return replace(item, price=price, offered=item.offered or price is None)


def _steps_in(item: StockItem, text: str) -> StockItem:
    steps = []
    for part in filter(None, (p.strip() for p in text.split(";"))):
        count, colon, price = part.partition(":")
        if not colon:
            raise InputError("price steps", f"'{part}'", "packs from, colon, price: 5: 10.20")
        steps.append((_count(count.strip(), "price steps", 2), parse_money(price, where="steps")))
    return replace(item, steps=tuple(steps))


def _available_in(item: StockItem, text: str) -> StockItem:
    return replace(item, available=_count(text, "in stock", 0) if text.strip() else None)


def _measured_in(item: StockItem, text: str) -> StockItem:
    measured = parse_length(text, where="measured") if text.strip() else None
    return replace(item, measured=measured)


COLUMNS = (
    Column("Stock", lambda i: i.name),
    Column("Foam", lambda i: show_thickness(i.foam.thickness)),
    Column("Size", lambda i: i.size_text),
    Column("Supplier", lambda i: i.supplier, _supplier_in),
    Column("Price", lambda i: "" if i.price is None else f"{i.price:.2f}", _price_in),
    Column(
        "Pack of",
        lambda i: str(i.pack),
        lambda i, t: replace(i, pack=_count(t, "pack", 1)),
    ),
    Column("In stock", lambda i: "" if i.available is None else str(i.available), _available_in),
    Column("Price steps", lambda i: "; ".join(f"{n}: {p}" for n, p in i.steps), _steps_in),
    Column(
        "Measured",
        lambda i: "" if i.measured is None else show_thickness(i.measured),
        _measured_in,
    ),
    Column("Colour", lambda i: i.colour, lambda i, t: replace(i, colour=t.strip())),
    Column("Kept at", lambda i: i.place, lambda i, t: replace(i, place=t.strip())),
)
SUPPLIER_HEADS = ("Supplier", "Shipping", "Free from", "Minimum", "Days")


class CataloguePanel(QWidget):
    """A table of stock, a table of suppliers."""

    def __init__(self, session: Session, reader: Callable[[], Background]) -> None:
        """Edit the shop of `session`; price lists are read on what `reader` returns."""
        super().__init__()
        self._session, self._reader = session, reader
        self._items: list[StockItem] = []
        self._suppliers: list[Supplier | None] = []
        self.error = Complaint()
        self.items = _table([c.head for c in COLUMNS], "stock")
        self.items.cellChanged.connect(self._item_typed)
        self.suppliers = _table(SUPPLIER_HEADS, "suppliers")
        self.suppliers.setFixedHeight(150)
        self.suppliers.cellChanged.connect(self._supplier_typed)
        text = "Price for one (a roll: per metre); price steps for a pack, e.g. 5: 10.20; 10: 9.50"
        self.setLayout(
            column(
                row(
                    button("Import price list …", self._ask_import, tip="A CSV or ODS table"),
                    button("Export price list …", self._ask_export, tip="As a table to edit"),
                    None,
                ),
                self.error,
                self.items,
                label(text, "note", wrap=True),
                label("Suppliers", "heading"),
                self.suppliers,
                space=8,
                edge=16,
            )
        )

    def fill(self) -> None:
        """Show the shop as it is now."""
        stock = self._session.stock
        with QSignalBlocker(self.items):
            self._items = list(stock.items)
            self.items.setRowCount(len(self._items))
            for r, item in enumerate(self._items):
                for c, one in enumerate(COLUMNS):
                    self.items.setItem(r, c, _cell(one.show(item), typed=one.take is not None))
            self.items.resizeColumnsToContents()
        with QSignalBlocker(self.suppliers):
            self._suppliers = [*stock.suppliers, None]
            self.suppliers.setRowCount(len(self._suppliers))
            for r, supplier in enumerate(self._suppliers):
                for c, text in enumerate(_supplier_texts(supplier)):
                    self.suppliers.setItem(r, c, _cell(text, typed=True))

    def _item_typed(self, r: int, c: int) -> None:
        item, take = self._items[r], COLUMNS[c].take
        cell = self.items.item(r, c)
        if take is None or cell is None:
            return
        try:
            changed = take(item, cell.text())
            known = {s.id for s in self._session.stock.suppliers}
            if changed.supplier and changed.supplier not in known:
                raise InputError(
                    "supplier", f"'{changed.supplier}'", ", ".join(known) or "one below"
                )
            self._session.put_stock(changed)
        except InputError as error:
            self.error.setText(str(error))
        else:
            self.error.setText("")
        self.fill()

    def _supplier_typed(self, r: int, _column: int) -> None:
        texts = [self._text(r, c) for c in range(len(SUPPLIER_HEADS))]
        before = self._suppliers[r]
        store = self._session.store
        try:
            if not texts[0].strip():
                if before is not None:
                    store.remove_supplier(before.id)
            else:
                store.put_supplier(_supplier_of(texts, before))
        except InputError as error:
            self.error.setText(str(error))
        else:
            self.error.setText("")
            self._session.reload_stock()
        self.fill()

    def _text(self, r: int, c: int) -> str:
        cell = self.suppliers.item(r, c)
        return cell.text().strip() if cell is not None else ""

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
        shown = "\n".join(problems[:5]) + (
            f"\n… and {len(problems) - 5} more" if problems[5:] else ""
        )
        self.error.setText(shown)
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


def _table(heads: list[str] | tuple[str, ...], name: str) -> QTableWidget:
    table = QTableWidget(0, len(heads))
    table.setHorizontalHeaderLabels(list(heads))
    table.verticalHeader().setVisible(False)
    table.verticalHeader().setDefaultSectionSize(32)
    table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
    table.horizontalHeader().setStretchLastSection(True)
    table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    table.setAccessibleName(name)
    return table


def _cell(text: str, *, typed: bool) -> QTableWidgetItem:
    cell = QTableWidgetItem(text)
    if not typed:
        cell.setFlags(cell.flags() & ~Qt.ItemFlag.ItemIsEditable)
    return cell


def _supplier_texts(supplier: Supplier | None) -> list[str]:
    if supplier is None:
        return [""] * len(SUPPLIER_HEADS)
    free = "" if supplier.free_from is None else f"{supplier.free_from:.2f}"
    name = supplier.name or supplier.id
    return [name, f"{supplier.shipping:.2f}", free, f"{supplier.minimum:.2f}", str(supplier.days)]


def _supplier_of(texts: list[str], before: Supplier | None) -> Supplier:
    name, shipping, free, minimum, days = texts
    return Supplier(
        before.id if before is not None else name.strip().lower(),
        name.strip(),
        parse_money(shipping, where="shipping") if shipping else Decimal(0),
        parse_money(free, where="free from") if free else None,
        parse_money(minimum, where="minimum") if minimum else Decimal(0),
        _count(days or "0", "days", 0),
    )
