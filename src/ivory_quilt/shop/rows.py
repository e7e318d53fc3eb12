"""Rows of the shop's store: what they hold, and what is said of one that is damaged or refused."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from decimal import Decimal

from ivory_quilt.core.errors import InputError, one_line
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind


def refusal(text: str) -> tuple[str, str]:
    """Return (what is wrong, what was expected) of what the database says."""
    if "locked" in text or "busy" in text:
        return "another window is writing to it at this moment", "the same again in a moment"
    if "full" in text or "disk I/O" in text:
        return f"it cannot be written ({text})", "space on the disk"
    if "readonly" in text or "unable to open" in text:
        return f"it cannot be written ({text})", "a place that may be written"
    return f"it cannot be used ({one_line(text)})", "a shop store"


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
