"""The shop's own store: shelf, catalogue and materials, which outlive projects.

`ShopStore` is the one small interface; `SqliteStore` keeps it in an SQLite file. A workshop of
several benches can later share one through another class with the same methods.
"""

import json
import sqlite3
from collections.abc import Iterator
from contextlib import AbstractContextManager, closing, contextmanager
from dataclasses import astuple, fields, replace
from pathlib import Path
from typing import Protocol

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.coupons import Coupon, CouponKind
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.stock.foam_stock import (
    Material,
    MaterialKind,
    ShopStock,
    StockItem,
)
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.files.atomic import shown_name
from ivory_quilt.shop.rows import damaged_row, item_of_row, refusal
from ivory_quilt.shop.schema import BOOK_FIELDS, prepare

PATIENCE = 0.8  # s to wait for another window that writes; longer would stop the maker's own
_COLUMNS = "id, position, name, kind, material, thickness, outline, owned, price, margin, make"


class ShopStore(Protocol):
    """What the rest of the house may ask of the shop."""

    def stock(self) -> ShopStock:
        """Return everything the shop can cut from."""

    def readable_stock(self) -> tuple[ShopStock, tuple[str, ...]]:
        """Return what of it can be read, and a sentence on each entry that cannot."""

    def changed_elsewhere(self) -> bool:
        """Return whether another window wrote to the shop since this was last asked."""

    def put(self, item: StockItem) -> None:
        """Add an item, or replace the one with the same id."""

    def together(self) -> AbstractContextManager[None]:
        """Write several things at once: all of them or none."""

    def add(self, item: StockItem) -> StockItem:
        """Add an item; return it as it was added, with another id when its own is taken."""

    def change(self, before: StockItem, after: StockItem) -> None:
        """Change what differs between two states of an item; the rest stays as it is."""

    def remove(self, item_id: str) -> None:
        """Take an item out; unknown ids are ignored."""

    def put_material(self, material: Material) -> None:
        """Add a material, or replace the one with the same id."""

    def coupons(self) -> tuple[Coupon, ...]:
        """Return all test strips that were measured, oldest first."""

    def put_coupon(self, coupon: Coupon) -> None:
        """Keep a set of test strips."""

    def set_currency(self, sign: str) -> None:
        """Set the currency sign."""

    def printers(self) -> tuple[Printer, ...]:
        """Return the printers that the shop knows, by name."""

    def put_printer(self, printer: Printer) -> None:
        """Add a printer, or what its check bar measures now; it is the one in use."""

    def use_printer(self, name: str) -> None:
        """Print on another printer; an empty name for none that is known."""

    def printer(self) -> Printer | None:
        """Return the printer in use, or None."""

    def close(self) -> None:
        """Let go of the store."""


class SqliteStore:
    """The shop in one SQLite file; made when it is missing.

    Every method may raise `InputError`: the file is damaged, locked by another program, on a full
    disk, or may not be written; nothing is half done then.
    """

    def __init__(self, path: Path | None, *, make: bool = True) -> None:
        """Open or make the store at `path`; None keeps it in memory, for this run alone.

        Raises:
            InputError: not a shop store, from a newer version, or it cannot be opened; or it is
                not there and `make` is off.
        """
        self._path = path
        name = "the shop store" if path is None else shown_name(path)
        self._name = name
        if path is not None and not make and not path.is_file():
            raise InputError(name, "there is no shop store", "an existing store")
        with self._told():
            if path is not None:
                path.parent.mkdir(parents=True, exist_ok=True)
            self._db = sqlite3.connect(path or ":memory:", timeout=PATIENCE)
            self._db.text_factory = lambda data: data.decode("utf-8", "replace")
        try:
            with self._told():
                prepare(self._db, name)
                self._seen = self._version()
        except InputError:
            self._db.close()
            raise

    @contextmanager
    def _told(self) -> Iterator[None]:
        """Say in a sentence what the database or the system refuses."""
        try:
            yield
        except (OSError, sqlite3.Error, OverflowError, UnicodeError) as error:
            raise refusal(self._name, error) from None

    @contextmanager
    def together(self) -> Iterator[None]:
        """Write several things at once, with the newest state before the eyes: all or none."""
        if self._db.in_transaction:  # a part of what is done together
            yield
            return
        with self._told(), self._db:
            self._db.execute("BEGIN IMMEDIATE")
            yield
        self._seen = self._version()

    def _version(self) -> int:
        return int(self._db.execute("PRAGMA data_version").fetchone()[0])

    def changed_elsewhere(self) -> bool:
        """Return whether another window wrote to the shop since this was last asked."""
        with self._told():
            before, self._seen = self._seen, self._version()
        return self._seen != before

    def stock(self) -> ShopStock:
        """Return everything the shop can cut from.

        Raises:
            InputError: a row in the file is damaged; the message names it.
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
        with self._told():
            rows = self._db.execute(
                f"SELECT {_COLUMNS} FROM stock ORDER BY thickness, position, id"
            ).fetchall()
            materials = self._db.execute(
                "SELECT id, name, both_faces_alike FROM material ORDER BY id"
            ).fetchall()
            books = self._db.execute(f"SELECT material, kind, {BOOK_FIELDS} FROM book").fetchall()
            flaws = self._db.execute("SELECT stock, outline FROM flaw ORDER BY number").fetchall()
            sign = self._db.execute("SELECT value FROM setting WHERE key='currency'").fetchone()
        problems: list[InputError] = []
        known: dict[str, tuple[FoamBook, MaterialKind]] = {}
        for name, kind, *values in books:
            with damaged_row(f"book of '{name}'", problems):
                known[name] = (FoamBook(*map(float, values)), MaterialKind(kind))
        marked: dict[str, list[Shape]] = {}
        for stock, outline in flaws:
            with damaged_row(f"flaw of '{stock}'", problems):
                marked.setdefault(stock, []).append(Shape.make(json.loads(outline)))
        items = []
        for row in rows:
            with damaged_row(f"stock '{row[0]}'", problems):
                items.append(replace(item_of_row(row), defects=tuple(marked.get(row[0], ()))))
        made = []
        for ident, name, alike in materials:
            with damaged_row(f"material '{ident}'", problems):
                made.append(Material(str(ident), str(name), bool(alike), *known.get(ident, ())))
        return ShopStock(tuple(items), tuple(made), str(sign[0]) if sign else "€"), problems

    def put(self, item: StockItem) -> None:
        """Add an item, or replace the one with the same id."""
        with self.together():
            self._insert(item)

    def add(self, item: StockItem) -> StockItem:
        """Add an item; return it as it was added, with another id when its own is taken."""
        with self.together():
            taken = {i for (i,) in self._db.execute("SELECT id FROM stock")}
            ident, number = item.id, 1
            while ident in taken:
                number += 1
                ident = f"{item.id}-{number}"
            item = replace(item, id=ident)
            self._insert(item)
        return item

    def change(self, before: StockItem, after: StockItem) -> None:
        """Change what differs between two states of an item; the rest stays as it is.

        Raises:
            InputError: another window took the item out, or changed the same thing meanwhile.
        """
        with self.together():
            row = self._db.execute(
                f"SELECT {_COLUMNS} FROM stock WHERE id=?", (before.id,)
            ).fetchone()
            if row is None:
                raise InputError(
                    before.name, "it was taken out of the shop meanwhile", "an item of the shop"
                )
            there = replace(item_of_row(row), defects=self._flaws(before.id))
            changed = {
                f.name: getattr(after, f.name)
                for f in fields(StockItem)
                if getattr(after, f.name) != getattr(before, f.name)
            }
            for name, value in changed.items():
                now = getattr(there, name)
                if now not in (getattr(before, name), value):
                    word = {"owned": "the number owned", "defects": "its flaws"}.get(name, name)
                    told = f"{word} was changed in another window meanwhile"
                    said = f", it is {now} now" if name in ("owned", "price", "name") else ""
                    raise InputError(before.name, told + said, "a look at it again")
            self._insert(replace(there, **changed))

    def _flaws(self, item_id: str) -> tuple[Shape, ...]:
        found = self._db.execute(
            "SELECT outline FROM flaw WHERE stock=? ORDER BY number", (item_id,)
        )
        return tuple(Shape.make(json.loads(outline)) for (outline,) in found)

    def _insert(self, item: StockItem) -> None:
        found = self._db.execute("SELECT position FROM stock WHERE id=?", (item.id,)).fetchone()
        (last,) = self._db.execute("SELECT MAX(CAST(position AS INTEGER)) FROM stock").fetchone()
        rings = [[list(map(float, p)) for p in ring] for ring in item.shape.rings]
        self._db.execute(
            f"INSERT OR REPLACE INTO stock ({_COLUMNS}) VALUES (?,?,?,?,?,?,?,?,?,?,?)",
            (
                item.id,
                found[0] if found else (last or 0) + 1,
                item.name,
                item.kind.value,
                item.foam.material,
                item.foam.thickness,
                json.dumps(rings),
                item.owned,
                None if item.price is None else str(item.price),
                item.margin,
                item.make,
            ),
        )
        self._db.execute("DELETE FROM flaw WHERE stock=?", (item.id,))
        for flaw in item.defects:
            outline = json.dumps([list(map(float, p)) for p in flaw.outer])
            self._db.execute("INSERT INTO flaw (stock, outline) VALUES (?,?)", (item.id, outline))

    def remove(self, item_id: str) -> None:
        """Take an item out; unknown ids are ignored."""
        with self.together():
            self._db.execute("DELETE FROM stock WHERE id=?", (item_id,))
            self._db.execute("DELETE FROM flaw WHERE stock=?", (item_id,))

    def put_material(self, material: Material) -> None:
        """Add a material, or replace the one with the same id."""
        with self.together():
            self._db.execute(
                "INSERT OR REPLACE INTO material VALUES (?,?,?)",
                (material.id, material.name, int(material.both_faces_alike)),
            )
            self._db.execute(
                f"INSERT OR REPLACE INTO book (material, kind, {BOOK_FIELDS}) "
                "VALUES (?,?,?,?,?,?,?,?,?)",
                (material.id, material.kind.value, *astuple(material.book)),
            )

    def coupons(self) -> tuple[Coupon, ...]:
        """Return all test strips that were measured, oldest first; damaged ones are left out."""
        with self._told():
            rows = self._db.execute(
                "SELECT material, what, date, before, after FROM coupon ORDER BY number"
            ).fetchall()
        made = []
        for m, w, d, b, a in rows:
            with damaged_row("test strips", []):
                made.append(Coupon(m, CouponKind(w), d, tuple(json.loads(b)), tuple(json.loads(a))))
        return tuple(made)

    def put_coupon(self, coupon: Coupon) -> None:
        """Keep a set of test strips."""
        row = (
            coupon.material,
            coupon.what.value,
            coupon.date,
            json.dumps(coupon.before),
            json.dumps(coupon.after),
        )
        with self.together():
            self._db.execute(
                "INSERT INTO coupon (material, what, date, before, after) VALUES (?,?,?,?,?)", row
            )

    def set_currency(self, sign: str) -> None:
        """Set the currency sign."""
        self._set("currency", sign)

    def _set(self, key: str, value: str) -> None:
        with self.together():
            self._db.execute("INSERT OR REPLACE INTO setting VALUES (?, ?)", (key, value))

    def printers(self) -> tuple[Printer, ...]:
        """Return the printers that the shop knows, by name; damaged ones are left out."""
        with self._told():
            rows = self._db.execute(
                "SELECT name, nominal, measured, date FROM printer ORDER BY name"
            ).fetchall()
        made = []
        for row in rows:
            with damaged_row("printer", []):
                made.append(Printer(*row))
        return tuple(made)

    def put_printer(self, printer: Printer) -> None:
        """Add a printer, or what its check bar measures now; it is the one in use."""
        with self.together():
            self._db.execute(
                "INSERT OR REPLACE INTO printer VALUES (?,?,?,?)",
                (printer.name, printer.nominal, printer.measured, printer.date),
            )
        self.use_printer(printer.name)

    def use_printer(self, name: str) -> None:
        """Print on another printer; an empty name for none that is known."""
        self._set("printer", name)

    def printer(self) -> Printer | None:
        """Return the printer in use, or None."""
        with self._told():
            found = self._db.execute("SELECT value FROM setting WHERE key='printer'").fetchone()
        return next((p for p in self.printers() if found and p.name == found[0]), None)

    def copy_to(self, path: Path) -> None:
        """Keep a copy of the whole store at `path`, all at once."""
        temporary = path.with_name(f"{path.name}.new")
        with self._told():
            temporary.unlink(missing_ok=True)
            with closing(sqlite3.connect(temporary)) as copy:
                self._db.backup(copy)
            temporary.replace(path)

    def close(self) -> None:
        """Let go of the file."""
        self._db.close()


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
