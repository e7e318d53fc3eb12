"""Rows of the shop's store: what they hold, and what is said of one that is damaged or refused."""

import json
import sqlite3
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from decimal import Decimal
from typing import Any

from ivory_quilt.core.errors import InputError, one_line
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.stock.bars import BarItem, BarKind, BarSection
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind, RateSource
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.stock.past_order import OrderedLine, PastOrder

Row = Mapping[str, Any]


class UnusableStore(InputError):
    """The file is no store, or is damaged; other refusals pass, and leave it whole."""


def refusal(store: str, error: Exception) -> InputError:
    """Return what the database or the system says of a store, as a sentence."""
    inner = getattr(error, "orig", None)  # what the driver said, where it was asked by SQLAlchemy
    cause = inner if isinstance(inner, Exception) else error
    text = one_line(str(cause))
    if isinstance(cause, sqlite3.OperationalError):
        if "locked" in text or "busy" in text:
            problem = "another window is writing to it at this moment"
            return InputError(store, problem, "the same again in a moment")
        if "full" in text or "disk I/O" in text:
            return InputError(store, f"it cannot be written ({text})", "space on the disk")
        if "readonly" in text or "unable to open" in text:
            problem = f"it cannot be written ({text})"
            return InputError(store, problem, "a place that may be written")
    if cause is not error and not isinstance(cause, sqlite3.Error):
        return InputError(store, f"its server refuses ({text})", "a server that answers")
    return UnusableStore(store, f"it cannot be used ({text})", "a shop store")


@contextmanager
def damaged_row(what: str, problems: list[InputError]) -> Iterator[None]:
    """Note a row that cannot be read, and go on with the next."""
    try:
        yield
    except (ValueError, ArithmeticError, LookupError, TypeError) as error:
        why = error.problem if isinstance(error, InputError) else one_line(str(error))
        problem = f"its row is damaged ({why})"
        problems.append(
            InputError(f"shop store, {one_line(what)}", problem, "a row that this program wrote")
        )


def _money(value: Any) -> Decimal | None:
    return None if value is None else Decimal(str(value))


def _whole(value: Any) -> int | None:
    return None if value is None else int(str(value))


def item_of_row(row: Row) -> StockItem:
    """Return the stock item that a row holds.

    Raises:
        ValueError, ArithmeticError, LookupError, TypeError: the row is damaged.
    """
    rings = json.loads(str(row["outline"]))
    measured = row["measured"]
    return StockItem(
        str(row["id"]),
        str(row["name"]),
        StockKind(str(row["kind"])),
        Foam(float(str(row["thickness"])), str(row["material"])),
        Shape.make(rings[0], rings[1:], where=f"stock '{row['name']}'"),
        int(str(row["owned"])),
        _money(row["price"]),
        float(str(row["margin"])),
        str(row["make"]),
        (),
        str(row["supplier"]),
        int(str(row["pack"])),
        _whole(row["available"]),
        tuple((int(n), Decimal(str(p))) for n, p in json.loads(str(row["steps"]))),
        None if measured is None else float(str(measured)),
        str(row["colour"]),
        str(row["place"]),
        bool(int(str(row["offered"]))),
        str(row["sides"]),
        str(row["state"]),
    )


def row_of_item(item: StockItem, position: int) -> dict[str, object]:
    """Return the row that holds a stock item, but for its flaws."""
    rings = [[list(map(float, p)) for p in ring] for ring in item.shape.rings]
    return {
        "id": item.id,
        "position": position,
        "name": item.name,
        "kind": item.kind.value,
        "material": item.foam.material,
        "thickness": item.foam.thickness,
        "outline": json.dumps(rings),
        "owned": item.owned,
        "price": None if item.price is None else str(item.price),
        "margin": item.margin,
        "make": item.make,
        "supplier": item.supplier,
        "pack": item.pack,
        "available": item.available,
        "steps": json.dumps([[n, str(p)] for n, p in item.steps]),
        "measured": item.measured,
        "colour": item.colour,
        "place": item.place,
        "offered": int(item.offered),
        "sides": item.sides,
        "state": item.state,
    }


def supplier_of_row(row: Row) -> Supplier:
    """Return the supplier that a row holds."""
    return Supplier(
        str(row["id"]),
        str(row["name"]),
        Decimal(str(row["shipping"])),
        _money(row["free_from"]),
        Decimal(str(row["minimum"])),
        int(str(row["days"])),
    )


def row_of_supplier(supplier: Supplier) -> dict[str, object]:
    """Return the row that holds a supplier."""
    free = supplier.free_from
    return {
        "id": supplier.id,
        "name": supplier.name,
        "shipping": str(supplier.shipping),
        "free_from": None if free is None else str(free),
        "minimum": str(supplier.minimum),
        "days": supplier.days,
    }


def bar_of_row(row: Row) -> BarItem:
    """Return the bars that a row holds."""
    return BarItem(
        str(row["id"]),
        BarSection(BarKind(str(row["kind"])), float(str(row["size"]))),
        float(str(row["length"])),
        int(str(row["owned"])),
        _money(row["price"]),
        str(row["supplier"]),
        int(str(row["pack"])),
        _whole(row["available"]),
        str(row["place"]),
    )


def row_of_bar(bar: BarItem) -> dict[str, object]:
    """Return the row that holds bars."""
    return {
        "id": bar.id,
        "kind": bar.section.kind.value,
        "size": bar.section.size,
        "length": bar.length,
        "owned": bar.owned,
        "price": None if bar.price is None else str(bar.price),
        "supplier": bar.supplier,
        "pack": bar.pack,
        "available": bar.available,
        "place": bar.place,
    }


def consumable_of_row(row: Row) -> Consumable:
    """Return what is used up, of the row that holds it."""
    return Consumable(
        str(row["id"]),
        str(row["name"]),
        ConsumableKind(str(row["kind"])),
        float(str(row["size"])),
        float(str(row["coverage"])),
        int(str(row["coats"])),
        _money(row["price"]),
        str(row["supplier"]),
        float(str(row["left"])),
        str(row["opened"]),
        int(str(row["months"])),
        RateSource(str(row["rate"])),
    )


def row_of_consumable(what: Consumable) -> dict[str, object]:
    """Return the row that holds something that is used up."""
    return {
        "id": what.id,
        "name": what.name,
        "kind": what.kind.value,
        "size": what.size,
        "coverage": what.coverage,
        "coats": what.coats,
        "price": None if what.price is None else str(what.price),
        "supplier": what.supplier,
        "left": what.left,
        "opened": what.opened,
        "months": what.months,
        "rate": what.rate.value,
    }


def past_order_of_row(row: Row) -> PastOrder:
    """Return the past order that a row holds.

    Raises:
        ValueError, ArithmeticError, LookupError, TypeError: the row is damaged.
    """
    lines = tuple(
        OrderedLine(str(item), str(name), str(supplier), int(count), Decimal(str(cost)))
        for item, name, supplier, count, cost in json.loads(str(row["lines"]))
    )
    return PastOrder(str(row["day"]), str(row["project"]), lines, Decimal(str(row["shipping"])))


def row_of_past_order(order: PastOrder) -> dict[str, object]:
    """Return the row that holds a past order."""
    lines = [[x.item, x.name, x.supplier, x.count, str(x.cost)] for x in order.lines]
    return {
        "day": order.day,
        "project": order.project,
        "shipping": str(order.shipping),
        "lines": json.dumps(lines),
    }
