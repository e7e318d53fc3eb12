"""The shop's own store: shelf, catalogue and materials, which outlive projects.

`ShopStore` is the one small interface; `SqliteStore` keeps it in an SQLite file. A workshop of
several benches can later share one through another class with the same methods.
"""

import json
import sqlite3
from contextlib import closing
from dataclasses import astuple, fields, replace
from decimal import Decimal
from pathlib import Path
from typing import Protocol

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.coupons import Coupon, CouponKind
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.stock.foam_stock import (
    Material,
    MaterialKind,
    ShopStock,
    StockItem,
    StockKind,
)
from ivory_quilt.core.stock.printer import Printer

SCHEMA_VERSION = 4
_BOOK_FIELDS = ", ".join(f.name for f in fields(FoamBook))
_PRINTERS = """
CREATE TABLE printer (
  name TEXT PRIMARY KEY, nominal REAL NOT NULL, measured REAL NOT NULL, date TEXT NOT NULL
);
"""
_BOOKS = """
CREATE TABLE book (
  material TEXT PRIMARY KEY, neutral REAL NOT NULL, shrink_along REAL NOT NULL,
  shrink_across REAL NOT NULL, density REAL NOT NULL, dish_limit REAL NOT NULL,
  tightest REAL NOT NULL, springback REAL NOT NULL, kind TEXT NOT NULL
);
CREATE TABLE coupon (
  number INTEGER PRIMARY KEY, material TEXT NOT NULL, what TEXT NOT NULL, date TEXT NOT NULL,
  before TEXT NOT NULL, after TEXT NOT NULL
);
"""
_FLAWS = """
CREATE TABLE flaw (
  number INTEGER PRIMARY KEY, stock TEXT NOT NULL, outline TEXT NOT NULL
);
"""
_SCHEMA = """
CREATE TABLE material (
  id TEXT PRIMARY KEY, name TEXT NOT NULL, both_faces_alike INTEGER NOT NULL
);
CREATE TABLE stock (
  id TEXT PRIMARY KEY, position INTEGER NOT NULL, name TEXT NOT NULL, kind TEXT NOT NULL,
  material TEXT NOT NULL, thickness REAL NOT NULL, outline TEXT NOT NULL,
  owned INTEGER NOT NULL, price TEXT, margin REAL NOT NULL, make TEXT NOT NULL
);
CREATE TABLE setting (key TEXT PRIMARY KEY, value TEXT NOT NULL);
"""


class ShopStore(Protocol):
    """What the rest of the house may ask of the shop."""

    def stock(self) -> ShopStock:
        """Return everything the shop can cut from."""

    def put(self, item: StockItem) -> None:
        """Add an item, or replace the one with the same id."""

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
    """The shop in one SQLite file; made when it is missing."""

    def __init__(self, path: Path) -> None:
        """Open or make the store at `path`.

        Raises:
            InputError: not a shop store, from a newer version, or it cannot be opened.
        """
        self._path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._db = sqlite3.connect(path)
        except (OSError, sqlite3.Error) as error:
            raise self._unusable(error) from None
        try:
            self._prepare()
        except (sqlite3.Error, InputError) as error:
            self._db.close()
            if isinstance(error, InputError):
                raise
            raise self._unusable(error) from None

    def _unusable(self, error: Exception) -> InputError:
        return InputError(str(self._path), f"cannot be used ({error})", "a shop store")

    def _prepare(self) -> None:
        version = self._db.execute("PRAGMA user_version").fetchone()[0]
        if version > SCHEMA_VERSION:
            raise InputError(
                str(self._path),
                f"it is of a newer Ivory Quilt (store version {version})",
                f"version {SCHEMA_VERSION} or older",
            )
        if 0 < version < SCHEMA_VERSION:
            steps = {1: _PRINTERS + _BOOKS, 2: _BOOKS, 3: ""}[version] + _FLAWS
            with self._db:
                self._db.executescript(f"BEGIN;{steps}PRAGMA user_version={SCHEMA_VERSION};")
        if version == 0:
            schema = _SCHEMA + _PRINTERS + _BOOKS + _FLAWS
            with self._db:
                self._db.executescript(f"BEGIN;{schema}PRAGMA user_version={SCHEMA_VERSION};")
                self._db.execute("INSERT INTO material VALUES ('eva', 'EVA foam', 1)")
                self._db.execute("INSERT INTO material VALUES ('tile', 'EVA floor tile', 0)")

    def stock(self) -> ShopStock:
        """Return everything the shop can cut from.

        Raises:
            InputError: a row in the file is damaged; the message names it.
        """
        rows = self._db.execute("SELECT * FROM stock ORDER BY thickness, position, id").fetchall()
        materials = self._db.execute("SELECT * FROM material ORDER BY id").fetchall()
        books = {}
        for name, kind, *values in self._db.execute(
            f"SELECT material, kind, {_BOOK_FIELDS} FROM book"
        ):
            books[name] = (FoamBook(*values), MaterialKind(kind))
        flaws: dict[str, list[Shape]] = {}
        for stock, outline in self._db.execute("SELECT stock, outline FROM flaw ORDER BY number"):
            flaws.setdefault(stock, []).append(Shape.make(json.loads(outline)))
        sign = self._db.execute("SELECT value FROM setting WHERE key='currency'").fetchone()
        return ShopStock(
            tuple(replace(_item(r), defects=tuple(flaws.get(r[0], ()))) for r in rows),
            tuple(Material(i, n, bool(a), *books.get(i, ())) for i, n, a in materials),
            sign[0] if sign else "€",
        )

    def put(self, item: StockItem) -> None:
        """Add an item, or replace the one with the same id."""
        rings = [[list(map(float, p)) for p in ring] for ring in item.shape.rings]
        with self._db:
            found = self._db.execute("SELECT position FROM stock WHERE id=?", (item.id,)).fetchone()
            last = self._db.execute("SELECT COALESCE(MAX(position), 0) FROM stock").fetchone()[0]
            self._db.execute(
                "INSERT OR REPLACE INTO stock VALUES (?,?,?,?,?,?,?,?,?,?,?)",
                (
                    item.id,
                    found[0] if found else last + 1,
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
                self._db.execute(
                    "INSERT INTO flaw (stock, outline) VALUES (?,?)", (item.id, outline)
                )

    def remove(self, item_id: str) -> None:
        """Take an item out; unknown ids are ignored."""
        with self._db:
            self._db.execute("DELETE FROM stock WHERE id=?", (item_id,))
            self._db.execute("DELETE FROM flaw WHERE stock=?", (item_id,))

    def put_material(self, material: Material) -> None:
        """Add a material, or replace the one with the same id."""
        with self._db:
            self._db.execute(
                "INSERT OR REPLACE INTO material VALUES (?,?,?)",
                (material.id, material.name, int(material.both_faces_alike)),
            )
            self._db.execute(
                f"INSERT OR REPLACE INTO book (material, kind, {_BOOK_FIELDS}) "
                "VALUES (?,?,?,?,?,?,?,?,?)",
                (material.id, material.kind.value, *astuple(material.book)),
            )

    def coupons(self) -> tuple[Coupon, ...]:
        """Return all test strips that were measured, oldest first."""
        rows = self._db.execute(
            "SELECT material, what, date, before, after FROM coupon ORDER BY number"
        )
        return tuple(
            Coupon(m, CouponKind(w), d, tuple(json.loads(b)), tuple(json.loads(a)))
            for m, w, d, b, a in rows
        )

    def put_coupon(self, coupon: Coupon) -> None:
        """Keep a set of test strips."""
        row = (
            coupon.material,
            coupon.what.value,
            coupon.date,
            json.dumps(coupon.before),
            json.dumps(coupon.after),
        )
        with self._db:
            self._db.execute(
                "INSERT INTO coupon (material, what, date, before, after) VALUES (?,?,?,?,?)", row
            )

    def set_currency(self, sign: str) -> None:
        """Set the currency sign."""
        with self._db:
            self._db.execute("INSERT OR REPLACE INTO setting VALUES ('currency', ?)", (sign,))

    def printers(self) -> tuple[Printer, ...]:
        """Return the printers that the shop knows, by name."""
        rows = self._db.execute("SELECT name, nominal, measured, date FROM printer ORDER BY name")
        return tuple(Printer(*row) for row in rows)

    def put_printer(self, printer: Printer) -> None:
        """Add a printer, or what its check bar measures now; it is the one in use."""
        with self._db:
            self._db.execute(
                "INSERT OR REPLACE INTO printer VALUES (?,?,?,?)",
                (printer.name, printer.nominal, printer.measured, printer.date),
            )
        self.use_printer(printer.name)

    def use_printer(self, name: str) -> None:
        """Print on another printer; an empty name for none that is known."""
        with self._db:
            self._db.execute("INSERT OR REPLACE INTO setting VALUES ('printer', ?)", (name,))

    def printer(self) -> Printer | None:
        """Return the printer in use, or None."""
        found = self._db.execute("SELECT value FROM setting WHERE key='printer'").fetchone()
        return next((p for p in self.printers() if found and p.name == found[0]), None)

    def close(self) -> None:
        """Let go of the file."""
        self._db.close()


def _item(row: tuple[object, ...]) -> StockItem:
    item_id, _, name, kind, material, thickness, outline, owned, price, margin, make = row
    try:
        rings = json.loads(str(outline))
        return StockItem(
            str(item_id),
            str(name),
            StockKind(str(kind)),
            Foam(float(str(thickness)), str(material)),
            Shape.make(rings[0], rings[1:], where=f"stock '{name}'"),
            int(str(owned)),
            None if price is None else Decimal(str(price)),
            float(str(margin)),
            str(make),
        )
    except (ValueError, ArithmeticError, IndexError, TypeError) as error:
        raise InputError(
            f"shop store, stock '{item_id}'",
            f"its row is damaged ({error})",
            "a row that this program wrote",
        ) from None


def read_stock(path: Path) -> ShopStock:
    """Return the stock of a store file, and close it again.

    Raises:
        InputError: see `SqliteStore`.
    """
    with closing(SqliteStore(path)) as store:
        return store.stock()
