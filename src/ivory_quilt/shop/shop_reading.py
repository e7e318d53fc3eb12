"""From the store's rows to the shop: what can be read, and a sentence on each row that cannot."""

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import Any, TypeVar

from sqlalchemy import Connection, Select, select

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.stock.foam_stock import (
    Material,
    MaterialKind,
    Reservation,
    ShopStock,
    StockItem,
)
from ivory_quilt.core.units import EURO, Currency
from ivory_quilt.shop import rows
from ivory_quilt.shop.tables import (
    BAR,
    BOOK,
    CONSUMABLE,
    FLAW,
    MATERIAL,
    RESERVATION,
    SETTING,
    STOCK,
    SUPPLIER,
)

T = TypeVar("T")
Rows = Sequence[Mapping[str, Any]]
BOOK_FIELDS = tuple(f.name for f in fields(FoamBook))
_STOCK = select(STOCK).order_by(STOCK.c.thickness, STOCK.c.position, STOCK.c.id)
_BARS = select(BAR).order_by(BAR.c.kind, BAR.c.size, BAR.c.length, BAR.c.id)


@dataclass(frozen=True)
class ShopRows:
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


def read_tables(db: Connection) -> ShopRows:
    """Return all rows that make up the shop."""

    def found(query: Select[Any]) -> Rows:
        return [dict(r) for r in db.execute(query).mappings()]

    return ShopRows(
        found(_STOCK),
        found(select(MATERIAL).order_by(MATERIAL.c.id)),
        found(select(BOOK)),
        found(select(FLAW).order_by(FLAW.c.number)),
        found(select(SUPPLIER).order_by(SUPPLIER.c.id)),
        found(_BARS),
        found(select(CONSUMABLE).order_by(CONSUMABLE.c.kind, CONSUMABLE.c.id)),
        found(select(RESERVATION).order_by(RESERVATION.c.item, RESERVATION.c.project)),
        found(select(SETTING)),
    )


def shop_of(found: ShopRows) -> tuple[ShopStock, list[InputError]]:
    """Return the shop that rows hold, and what is wrong with those that hold none."""
    problems: list[InputError] = []
    shop = ShopStock(
        _items(found.stock, found.flaws, problems),
        _materials(found.materials, found.books, problems),
        _currency({r["key"]: r["value"] for r in found.settings}),
        _all("supplier", found.suppliers, rows.supplier_of_row, problems),
        _all("bar", found.bars, rows.bar_of_row, problems),
        _all("consumable", found.used, rows.consumable_of_row, problems),
        tuple(Reservation(r["project"], r["name"], r["item"], r["count"]) for r in found.held),
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


def _currency(settings: Mapping[str, Any]) -> Currency:
    try:
        return Currency(str(settings["currency"]), settings.get("currency place") == "first")
    except (KeyError, InputError):
        return EURO
