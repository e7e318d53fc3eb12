"""What stands in the catalogue's tables, and what a typed text makes of it."""

from collections.abc import Callable
from decimal import Decimal
from enum import Enum
from functools import partial
from typing import Any, TypeVar

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.bars import BarItem, BarKind, BarSection
from ivory_quilt.core.stock.catalogue import Supplier, parse_steps, show_steps
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind, RateSource
from ivory_quilt.core.stock.foam_stock import StockItem
from ivory_quilt.core.units import (
    parse_length,
    parse_money,
    parse_scalar,
    show_number,
    show_thickness,
    typed_length,
)
from ivory_quilt.desk.widgets.fields import typed_word
from ivory_quilt.desk.widgets.record_table import Column

T = TypeVar("T")


def count_of(text: str, where: str, least: int) -> int:
    """Return a whole number.

    Raises:
        InputError: none, or too small.
    """
    if not text.strip().isdigit() or int(text) < least:
        raise InputError(where, f"'{text}'", f"a whole number, {least} or more")
    return int(text)


def _field(name: str, read: Callable[[str], Any]) -> Callable[[T, str], T]:
    """Return what puts a field, read of a text, into goods."""

    def take(goods: T, text: str) -> T:
        return replace(goods, **{name: read(text)})  # type: ignore[type-var]

    return take


def _word(text: str) -> str:
    return text.strip()


def _supplier(text: str) -> str:
    return text.strip().lower()


def _price(text: str) -> Decimal | None:
    return parse_money(text, where="price") if text.strip() else None


def _sum(where: str) -> Callable[[str], Decimal]:
    return lambda text: parse_money(text or "0", where=where)


def _count(where: str, least: int = 0) -> Callable[[str], int]:
    return lambda text: count_of(text or "0", where, least)


def _money(amount: Decimal | None) -> str:
    return "" if amount is None else f"{amount:.2f}"


def _available(text: str) -> int | None:
    return count_of(text, "in stock", 0) if text.strip() else None


def _price_in(item: StockItem, text: str) -> StockItem:
    price = _price(text)
    return replace(item, price=price, offered=item.offered or price is None)


def _measured(text: str) -> float | None:
    return parse_length(text, where="measured") if text.strip() else None


def _one_of(kinds: type[Enum], where: str) -> Callable[[str], Any]:
    return partial(typed_word, kinds, where)


STOCK: tuple[Column[StockItem], ...] = (
    Column("Stock", lambda i: i.name),
    Column("Foam", lambda i: show_thickness(i.foam.thickness)),
    Column("Size", lambda i: i.size_text),
    Column("Supplier", lambda i: i.supplier, _field("supplier", _supplier)),
    Column("Price", lambda i: _money(i.price), _price_in),
    Column("Pack of", lambda i: str(i.pack), _field("pack", _count("pack", 1))),
    Column(
        "In stock",
        lambda i: "" if i.available is None else str(i.available),
        _field("available", _available),
    ),
    Column("Price steps", lambda i: show_steps(i.steps), _field("steps", parse_steps)),
    Column(
        "Measured",
        lambda i: "" if i.measured is None else show_thickness(i.measured),
        _field("measured", _measured),
    ),
    Column("Colour", lambda i: i.colour, _field("colour", _word)),
    Column("State", lambda i: i.state, _field("state", _word)),
    Column("Kept at", lambda i: i.place, _field("place", _word)),
)


def _section_in(bar: BarItem, text: str) -> BarItem:
    """Read a section as makers say it: "10 mm half-round"."""
    return replace(bar, section=section_of_text(text))


def section_of_text(text: str) -> BarSection:
    """Return the section that a text names: a size, then what it is.

    Raises:
        InputError: no size, or no such section.
    """
    kinds = {k.value: k for k in BarKind}
    for word, kind in kinds.items():
        if text.strip().lower().endswith(word):
            return BarSection(kind, parse_length(text.strip()[: -len(word)], where="section"))
    raise InputError("section", f"'{text}'", f"a size and one of {', '.join(kinds)}")


BARS: tuple[Column[BarItem], ...] = (
    Column("Section", lambda b: b.section.name, _section_in),
    Column(
        "Length",
        lambda b: f"{show_number(b.length, 1)} mm",
        _field("length", lambda t: typed_length(t, where="length")),
    ),
    Column("Owned", lambda b: str(b.owned), _field("owned", _count("owned"))),
    Column("Price", lambda b: _money(b.price), _field("price", _price)),
    Column("Supplier", lambda b: b.supplier, _field("supplier", _supplier)),
    Column("Pack of", lambda b: str(b.pack), _field("pack", _count("pack", 1))),
    Column("Kept at", lambda b: b.place, _field("place", _word)),
)


def _number(where: str) -> Callable[[str], float]:
    return lambda text: parse_scalar(text, where=where)


def _rate_in(what: Consumable, text: str) -> Consumable:
    return replace(what, coverage=parse_scalar(text, where="covers"), rate=RateSource.MAKER)


USED: tuple[Column[Consumable], ...] = (
    Column("Name", lambda c: c.name, _field("name", _word)),
    Column("Kind", lambda c: c.kind.value, _field("kind", _one_of(ConsumableKind, "kind"))),
    Column("Size, mL", lambda c: show_number(c.size, 0), _field("size", _number("size"))),
    Column("Covers, m²/L", lambda c: show_number(c.coverage, 2), _rate_in),
    Column("Coats", lambda c: str(c.coats), _field("coats", _count("coats", 1))),
    Column("Rate is", lambda c: c.rate.value, _field("rate", _one_of(RateSource, "rate"))),
    Column("At hand, mL", lambda c: show_number(c.left, 0), _field("left", _number("at hand"))),
    Column("Opened", lambda c: c.opened, _field("opened", _word)),
    Column("Good, months", lambda c: str(c.months), _field("months", _count("months"))),
    Column("Price", lambda c: _money(c.price), _field("price", _price)),
    Column("Supplier", lambda c: c.supplier, _field("supplier", _supplier)),
)


def _free_from(text: str) -> Decimal | None:
    return parse_money(text, where="free from") if text.strip() else None


SUPPLIERS: tuple[Column[Supplier], ...] = (
    Column("Supplier", lambda s: s.name or s.id, _field("name", _word)),
    Column("Shipping", lambda s: _money(s.shipping), _field("shipping", _sum("shipping"))),
    Column("Free from", lambda s: _money(s.free_from), _field("free_from", _free_from)),
    Column("Minimum", lambda s: _money(s.minimum), _field("minimum", _sum("minimum"))),
    Column("Days", lambda s: str(s.days), _field("days", _count("days"))),
)
