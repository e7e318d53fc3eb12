"""Rows of the shop's store: what they hold, and what is said of one that is damaged or refused."""

import json
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from decimal import Decimal

from ivory_quilt.core.errors import InputError, one_line
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind


class UnusableStore(InputError):
    """The file is no store, or is damaged; other refusals pass, and leave it whole."""


def refusal(store: str, error: Exception) -> InputError:
    """Return what the database or the system says of a store, as a sentence."""
    text = str(error)
    if isinstance(error, sqlite3.OperationalError):
        if "locked" in text or "busy" in text:
            problem = "another window is writing to it at this moment"
            return InputError(store, problem, "the same again in a moment")
        if "full" in text or "disk I/O" in text:
            return InputError(store, f"it cannot be written ({text})", "space on the disk")
        if "readonly" in text or "unable to open" in text:
            problem = f"it cannot be written ({text})"
            return InputError(store, problem, "a place that may be written")
    return UnusableStore(store, f"it cannot be used ({one_line(text)})", "a shop store")


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


def item_of_row(row: tuple[object, ...]) -> StockItem:
    """Return the stock item that a row holds.

    Raises:
        ValueError, ArithmeticError, LookupError, TypeError: the row is damaged.
    """
    item_id, _, name, kind, material, thickness, outline, owned, price, margin, make = row
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
