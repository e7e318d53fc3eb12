"""From the store's rows to the shop: what can be read, and a sentence on each row that cannot.

Reading is plain SQL, the same in every database, so that a window reads its shop at the start
without the library that writes it.
"""

import json
from abc import abstractmethod
from collections.abc import Callable, Mapping, Sequence
from contextlib import AbstractContextManager
from typing import Any, TypeVar

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.document.library import LibrarySet
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.coupons import Coupon, CouponKind
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.journal.entry import JournalEntry
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.bench_choices import StepSet
from ivory_quilt.core.stock.foam_stock import (
    Material,
    MaterialKind,
    Reservation,
    ShopStock,
    StockItem,
)
from ivory_quilt.core.stock.keeping import USUAL_RULE, KeepRule
from ivory_quilt.core.stock.past_order import PastOrder
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.core.units import EURO, Currency
from ivory_quilt.shop import journal_rows, rows

T = TypeVar("T")
Rows = Sequence[Mapping[str, Any]]
BOOK_FIELDS = FoamBook.__struct_fields__
Ask = Callable[[str], Rows]
"""Returns the rows of a query."""


class ShopRows(Struct, frozen=True):
    """All rows of one moment."""

    stock: Rows
    materials: Rows
    books: Rows
    flaws: Rows
    suppliers: Rows
    bars: Rows
    used: Rows
    held: Rows
    settings: Rows


def read_tables(ask: Ask) -> ShopRows:
    """Return all rows that make up the shop."""
    return ShopRows(
        ask("SELECT * FROM stock ORDER BY thickness, position, id"),
        ask("SELECT * FROM material ORDER BY id"),
        ask("SELECT * FROM book"),
        ask("SELECT * FROM flaw ORDER BY number"),
        ask("SELECT * FROM supplier ORDER BY id"),
        ask("SELECT * FROM bar ORDER BY kind, size, length, id"),
        ask("SELECT * FROM consumable ORDER BY kind, id"),
        ask("SELECT * FROM reservation ORDER BY item, project"),
        ask("SELECT * FROM setting"),
    )


def read_coupons(ask: Ask) -> tuple[Coupon, ...]:
    """Return all test strips that were measured, oldest first; damaged ones are left out."""
    made = []
    for r in ask("SELECT * FROM coupon ORDER BY number"):
        with rows.damaged_row("test strips", []):
            before, after = tuple(json.loads(r["before"])), tuple(json.loads(r["after"]))
            made.append(Coupon(r["material"], CouponKind(r["what"]), r["date"], before, after))
    return tuple(made)


def read_past_orders(ask: Ask) -> tuple[PastOrder, ...]:
    """Return the orders of the past, oldest first; damaged ones are left out."""
    made = []
    for row in ask("SELECT * FROM past_order ORDER BY day, number"):
        with rows.damaged_row("past order", []):
            made.append(rows.past_order_of_row(row))
    return tuple(made)


def read_entries(ask: Ask) -> tuple[JournalEntry, ...]:
    """Return the journal, oldest first; damaged entries are left out."""
    made = []
    for row in ask("SELECT * FROM entry ORDER BY moment, id"):
        with rows.damaged_row("entry of the journal", []):
            made.append(journal_rows.entry_of_row(row))
    return tuple(made)


def read_step_sets(ask: Ask) -> tuple[StepSet, ...]:
    """Return the sets of steps that are kept, by name; damaged ones are left out."""
    made = []
    for row in ask("SELECT * FROM step_set ORDER BY name"):
        with rows.damaged_row("set of steps", []):
            made.append(journal_rows.step_set_of_row(row))
    return tuple(made)


def read_library_sets(ask: Ask) -> tuple[LibrarySet, ...]:
    """Return the sets of pieces that the shop keeps, by name; damaged ones are left out."""
    made = []
    for row in ask("SELECT * FROM library ORDER BY name, id"):
        with rows.damaged_row("set of pieces", []):
            made.append(journal_rows.library_set_of_row(row))
    return tuple(made)


def read_printers(ask: Ask) -> tuple[Printer, ...]:
    """Return the printers that the shop knows, by name; damaged ones are left out."""
    made = []
    for row in ask("SELECT * FROM printer ORDER BY name"):
        with rows.damaged_row("printer", []):
            made.append(Printer(row["name"], row["nominal"], row["measured"], row["date"]))
    return tuple(made)


def read_printer(ask: Ask) -> Printer | None:
    """Return the printer in use, or None."""
    used = [r["value"] for r in ask("SELECT value FROM setting WHERE key = 'printer'")]
    return next((p for p in read_printers(ask) if used and p.name == used[0]), None)


def read_plotter(ask: Ask) -> KnifePlotter | None:
    """Return the shop's knife plotter, or None where nobody described one."""
    kept = [r["value"] for r in ask("SELECT value FROM setting WHERE key = 'plotter'")]
    return journal_rows.plotter_of(kept[0] if kept else None)


def shop_of(found: ShopRows) -> tuple[ShopStock, list[InputError]]:
    """Return the shop that rows hold, and what is wrong with those that hold none."""
    problems: list[InputError] = []
    settings = {r["key"]: r["value"] for r in found.settings}
    shop = ShopStock(
        _items(found.stock, found.flaws, problems),
        _materials(found.materials, found.books, problems),
        _currency(settings),
        _all("supplier", found.suppliers, rows.supplier_of_row, problems),
        _all("bar", found.bars, rows.bar_of_row, problems),
        _all("consumable", found.used, rows.consumable_of_row, problems),
        tuple(Reservation(r["project"], r["name"], r["item"], r["count"]) for r in found.held),
        _keep_rule(settings),
        journal_rows.rates_of(settings.get("rates")),
    )
    return shop, problems


def _all(
    what: str, found: Rows, make: Callable[[rows.Row], T], problems: list[InputError]
) -> tuple[T, ...]:
    made = []
    for row in found:
        with rows.damaged_row(f"{what} '{row['id']}'", problems):
            made.append(make(row))
    return tuple(made)


def _items(stock: Rows, flaws: Rows, problems: list[InputError]) -> tuple[StockItem, ...]:
    marked: dict[str, list[Shape]] = {}
    for row in flaws:
        with rows.damaged_row(f"flaw of '{row['stock']}'", problems):
            marked.setdefault(row["stock"], []).append(Shape.make(json.loads(row["outline"])))

    def item(row: rows.Row) -> StockItem:
        return replace(rows.item_of_row(row), defects=tuple(marked.get(row["id"], ())))

    return _all("stock", stock, item, problems)


def _materials(materials: Rows, books: Rows, problems: list[InputError]) -> tuple[Material, ...]:
    known: dict[str, tuple[FoamBook, MaterialKind]] = {}
    for row in books:
        with rows.damaged_row(f"book of '{row['material']}'", problems):
            book = FoamBook(*(float(row[f]) for f in BOOK_FIELDS))
            known[row["material"]] = (book, MaterialKind(row["kind"]))

    def material(row: rows.Row) -> Material:
        alike = bool(row["both_faces_alike"])
        return Material(str(row["id"]), str(row["name"]), alike, *known.get(row["id"], ()))

    return _all("material", materials, material, problems)


def _keep_rule(settings: Mapping[str, Any]) -> KeepRule:
    try:
        joined = settings.get("keep joined", "yes") == "yes"
        return KeepRule(float(settings["keep side"]), float(settings["keep area"]), joined)
    except (KeyError, ValueError):
        return USUAL_RULE


def _currency(settings: Mapping[str, Any]) -> Currency:
    try:
        return Currency(str(settings["currency"]), settings.get("currency place") == "first")
    except (KeyError, InputError):
        return EURO


class ReadingStore:
    """What of a store is read, whichever database it is in.

    Every method may raise `InputError`: the store cannot be reached or read.
    """

    @abstractmethod
    def _reading(self) -> AbstractContextManager[None]:
        """Read one state, whatever others write meanwhile."""

    @abstractmethod
    def _ask(self, sql: str) -> Rows:
        """Return the rows of a query."""

    def stock(self) -> ShopStock:
        """Return everything the shop can cut from and buy.

        Raises:
            InputError: a row in the store is damaged; the message names it.
        """
        stock, problems = self._read()
        if problems:
            raise problems[0]
        return stock

    def readable_stock(self) -> tuple[ShopStock, tuple[str, ...]]:
        """Return what of the shop can be read, and a sentence on each entry that cannot."""
        stock, problems = self._read()
        return stock, tuple(str(p) for p in problems)

    def _read(self) -> tuple[ShopStock, list[InputError]]:
        with self._reading():
            found = read_tables(self._ask)
        return shop_of(found)

    def coupons(self) -> tuple[Coupon, ...]:
        """Return all test strips that were measured, oldest first; damaged ones are left out."""
        with self._reading():
            return read_coupons(self._ask)

    def past_orders(self) -> tuple[PastOrder, ...]:
        """Return the orders of the past, oldest first; damaged ones are left out."""
        with self._reading():
            return read_past_orders(self._ask)

    def entries(self) -> tuple[JournalEntry, ...]:
        """Return the journal, oldest first; damaged entries are left out."""
        with self._reading():
            return read_entries(self._ask)

    def step_sets(self) -> tuple[StepSet, ...]:
        """Return the sets of steps that are kept for next time, by name."""
        with self._reading():
            return read_step_sets(self._ask)

    def library_sets(self) -> tuple[LibrarySet, ...]:
        """Return the sets of pieces that the shop keeps, by name."""
        with self._reading():
            return read_library_sets(self._ask)

    def printers(self) -> tuple[Printer, ...]:
        """Return the printers that the shop knows, by name; damaged ones are left out."""
        with self._reading():
            return read_printers(self._ask)

    def plotter(self) -> KnifePlotter | None:
        """Return the shop's knife plotter, or None where nobody described one."""
        with self._reading():
            return read_plotter(self._ask)

    def printer(self) -> Printer | None:
        """Return the printer in use, or None."""
        with self._reading():
            return read_printer(self._ask)
