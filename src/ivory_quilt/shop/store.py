"""The shop's own store: shelf, catalogue and materials, which outlive projects.

`ShopStore` is the one small interface; an SQLite file keeps it by default, a PostgreSQL server for
a workshop of several benches (`IVORY_QUILT_STORE`).
"""

import os
from collections.abc import Mapping
from contextlib import AbstractContextManager, closing
from pathlib import Path
from typing import Protocol

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.document.library import LibrarySet
from ivory_quilt.core.forming.coupons import Coupon
from ivory_quilt.core.journal.entry import JournalEntry
from ivory_quilt.core.schedule.bench_choices import StepSet
from ivory_quilt.core.stock.bars import BarItem
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.consumables import Consumable
from ivory_quilt.core.stock.foam_stock import Material, ShopStock, StockItem
from ivory_quilt.core.stock.keeping import KeepRule
from ivory_quilt.core.stock.past_order import PastOrder
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.core.stock.work_rates import Rates
from ivory_quilt.core.units import Currency
from ivory_quilt.shop.sqlite_store import SqliteStore

ADDRESS = "IVORY_QUILT_STORE"
"""The environment's word for where the store is: a server's address, or a file."""


class ShopStore(Protocol):
    """What the rest of the house may ask of the shop."""

    def stock(self) -> ShopStock:
        """Return everything the shop can cut from and buy."""

    def readable_stock(self) -> tuple[ShopStock, tuple[str, ...]]:
        """Return what of it can be read, and a sentence on each entry that cannot."""

    def changed_elsewhere(self) -> bool:
        """Return whether another window wrote to the shop since this was last asked."""

    def together(self) -> AbstractContextManager[None]:
        """Write several things at once: all of them or none."""

    def put(self, item: StockItem) -> None:
        """Add an item, or replace the one with the same id."""

    def add(self, item: StockItem) -> StockItem:
        """Add an item; return it as it was added, with another id when its own is taken."""

    def change(self, before: StockItem, after: StockItem) -> None:
        """Change what differs between two states of an item; the rest stays as it is."""

    def remove(self, item_id: str) -> None:
        """Take an item out; unknown ids are ignored."""

    def put_material(self, material: Material) -> None:
        """Add a material, or replace the one with the same id."""

    def put_supplier(self, supplier: Supplier) -> None:
        """Add a supplier, or replace the one with the same id."""

    def remove_supplier(self, supplier_id: str) -> None:
        """Take a supplier out; what it sells is sold by nobody in particular then."""

    def put_bar(self, bar: BarItem) -> None:
        """Add bars, or replace those with the same id."""

    def remove_bar(self, bar_id: str) -> None:
        """Take bars out; unknown ids are ignored."""

    def put_consumable(self, what: Consumable) -> None:
        """Add something that is used up, or replace what has the same id."""

    def remove_consumable(self, ident: str) -> None:
        """Take something that is used up out; unknown ids are ignored."""

    def reserve(self, project: str, name: str, wants: Mapping[str, int]) -> None:
        """Let a project hold so many of some items, and nothing else of the shelf any more."""

    def release(self, project: str) -> None:
        """Let go of everything that a project holds."""

    def note_move(self, old: str, new: str) -> None:
        """Remember the token of a move of foam in place of an older one."""

    def knows_move(self, token: str) -> bool:
        """Return whether the move of foam with this token was made."""

    def coupons(self) -> tuple[Coupon, ...]:
        """Return all test strips that were measured, oldest first."""

    def put_coupon(self, coupon: Coupon) -> None:
        """Keep a set of test strips."""

    def past_orders(self) -> tuple[PastOrder, ...]:
        """Return the orders of the past, oldest first."""

    def put_past_order(self, order: PastOrder) -> None:
        """Keep an order; another of the same day and project takes the place of the one before."""

    def entries(self) -> tuple[JournalEntry, ...]:
        """Return the journal, oldest first."""

    def put_entry(self, entry: JournalEntry) -> None:
        """Write an entry of the journal, or replace the one with the same id."""

    def remove_entry(self, ident: str) -> None:
        """Take an entry out; unknown ids are ignored."""

    def step_sets(self) -> tuple[StepSet, ...]:
        """Return the sets of steps that are kept for next time, by name."""

    def put_step_set(self, kept: StepSet) -> None:
        """Keep a set of steps; one that is usual takes that from the one before."""

    def remove_step_set(self, name: str) -> None:
        """Let go of a set of steps; unknown names are ignored."""

    def library_sets(self) -> tuple[LibrarySet, ...]:
        """Return the sets of pieces that the shop keeps, by name."""

    def put_library_set(self, kept: LibrarySet) -> None:
        """Keep a set of pieces, or replace the one with the same id."""

    def remove_library_set(self, ident: str) -> None:
        """Let go of a set of pieces; unknown ids are ignored."""

    def set_rates(self, rates: Rates) -> None:
        """Say how long hands take from now on, and how often a part is spoiled."""

    def set_currency(self, currency: Currency) -> None:
        """Set the currency of all prices."""

    def set_keep_rule(self, rule: KeepRule) -> None:
        """Say which offcuts are worth a place on the shelf."""

    def printers(self) -> tuple[Printer, ...]:
        """Return the printers that the shop knows, by name."""

    def put_printer(self, printer: Printer) -> None:
        """Add a printer, or what its check bar measures now; it is the one in use."""

    def use_printer(self, name: str) -> None:
        """Print on another printer; an empty name for none that is known."""

    def printer(self) -> Printer | None:
        """Return the printer in use, or None."""

    def plotter(self) -> KnifePlotter | None:
        """Return the shop's knife plotter, or None where nobody described one."""

    def put_plotter(self, plotter: KnifePlotter) -> None:
        """Say how the shop's knife plotter works."""

    def close(self) -> None:
        """Let go of the store."""


def is_server(address: str) -> bool:
    """Return whether an address names a server rather than a file."""
    return address.startswith(("postgresql://", "postgres://"))


def open_address(address: str) -> ShopStore:
    """Open the store at a server's address.

    Raises:
        InputError: no such server, or it refuses.
    """
    from ivory_quilt.shop.postgres_store import PostgresStore

    return PostgresStore(address)


def asked_address() -> str:
    """Return where the environment says that the store is, or an empty string."""
    return os.environ.get(ADDRESS, "").strip()


def read_stock(path: Path) -> ShopStock:
    """Return the stock of a store file that is there, and close it again.

    Raises:
        InputError: see `SqliteStore`.
    """
    with closing(SqliteStore(path, make=False)) as store:
        return store.stock()


def new_stock() -> ShopStock:
    """Return the stock of a shop that was never opened."""
    with closing(SqliteStore(None)) as store:
        return store.stock()
