"""What the journal says of the shop's rates: old value, new value, interval, and how many times.

Nothing changes by itself: the maker accepts a rate, and every plan uses it from then on.
"""

import math
from collections.abc import Iterable
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.coupons import Coupon, book_value
from ivory_quilt.core.journal.entry import EntryKind, JournalEntry
from ivory_quilt.core.journal.estimate import (
    Estimate,
    limit_estimate,
    mean_estimate,
    ratio_estimate,
    share_estimate,
)
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stock.consumables import ConsumableKind, RateSource
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.stock.work_rates import FASTEST, SLOWEST


class LearnedKind(StrEnum):
    """What is learned."""

    PACE = "time"
    SPOILED = "spoiled parts"
    COVERAGE = "cement's coverage"
    NEUTRAL = "neutral line"
    DISH = "dish limit"
    SHRINK = "test strips"


class Learned(Struct, frozen=True):
    """One rate: what the shop reckons with, and what the journal says.

    Attributes:
        about: the kind of step or the material that it is of.
        factor: what both values are multiplied by to be shown in `unit`.
    """

    kind: LearnedKind
    about: str
    name: str
    unit: str
    old: float
    found: Estimate
    factor: float = 1.0

    @property
    def sure(self) -> bool:
        """Whether the old value is not in the interval."""
        return self.found.differs_from(self.old)


def learned_from(
    entries: Iterable[JournalEntry], coupons: Iterable[Coupon], stock: ShopStock
) -> tuple[Learned, ...]:
    """Return every rate that there are observations of."""
    entries = tuple(entries)
    made = [
        *_paces(entries, stock),
        *_spoiled(entries, stock),
        *_coverage(entries, stock),
        *_of_materials(entries, stock),
        *_strips(tuple(coupons), stock),
    ]
    return tuple(made)


def _paces(entries: tuple[JournalEntry, ...], stock: ShopStock) -> list[Learned]:
    ratios: dict[str, list[float]] = {}
    for entry in entries:
        if entry.kind is EntryKind.TIME and entry.planned > 0 and entry.value > 0:
            ratios.setdefault(entry.about, []).append(entry.value / entry.planned)
    made = []
    for about, found in sorted(ratios.items()):
        if len(found) < 2:
            continue
        old = stock.rates.pace(about)
        name = f"{about}: times the rates from memory"
        made.append(Learned(LearnedKind.PACE, about, name, "×", old, ratio_estimate(found)))
    return made


def _spoiled(entries: tuple[JournalEntry, ...], stock: ShopStock) -> list[Learned]:
    cut = sum(e.value for e in entries if e.kind is EntryKind.CUT)
    spoiled = sum(e.value for e in entries if e.kind is EntryKind.SPOILED)
    if cut + spoiled < 1:
        return []
    found = share_estimate(round(spoiled), round(cut + spoiled))
    name = "parts spoiled in cutting"
    return [Learned(LearnedKind.SPOILED, "", name, "%", stock.rates.spoiled, found, factor=100.0)]


def _coverage(entries: tuple[JournalEntry, ...], stock: ShopStock) -> list[Learned]:
    cement = next((c for c in stock.consumables if c.kind is ConsumableKind.CEMENT), None)
    used = [e for e in entries if e.kind is EntryKind.CEMENT and e.value > 0 and e.planned > 0]
    if cement is None or len(used) < 2:
        return []
    # m² that went on ÷ L that were used up.
    found = ratio_estimate([1000 * e.planned / e.value for e in used])
    name = f"{cement.name}: a litre covers"
    return [Learned(LearnedKind.COVERAGE, cement.id, name, "m²", cement.coverage, found)]


def _of_materials(entries: tuple[JournalEntry, ...], stock: ShopStock) -> list[Learned]:
    made = []
    for material in sorted({e.about for e in entries}):
        book, name = stock.material(material).book, stock.material_name(material)
        mine = [e for e in entries if e.about == material]
        rings = [e.value for e in mine if e.kind is EntryKind.NEUTRAL]
        if len(rings) >= 2:
            text, unit = f"{name}: neutral line", "of the thickness"
            found = mean_estimate(rings)
            made.append(Learned(LearnedKind.NEUTRAL, material, text, unit, book.neutral, found))
        dishes = [e for e in mine if e.kind is EntryKind.DISH and e.value > 0]
        held = [e.value for e in dishes if e.went_well]
        failed = [e.value for e in dishes if not e.went_well]
        if held and failed:
            text, found = f"{name}: dished by heat alone up to", limit_estimate(held, failed)
            made.append(
                Learned(LearnedKind.DISH, material, text, "% strain", book.dish_limit, found)
            )
    return made


def _strips(coupons: tuple[Coupon, ...], stock: ShopStock) -> list[Learned]:
    made = []
    latest = {(c.material, c.what): c for c in coupons}
    for (material, what), coupon in latest.items():
        try:
            result = coupon.result
        except InputError:
            continue
        book = stock.material(material).book
        found = Estimate(result.mean, result.low, result.high, result.count)
        name = f"{stock.material_name(material)}: {what.value}"
        about = f"{material}\n{what.name}"
        made.append(Learned(LearnedKind.SHRINK, about, name, "%", book_value(book, what), found))
    return made


def accepted(learned: Learned, stock: ShopStock) -> ShopStock:
    """Return the shop with a learned value in place of the old one.

    Raises:
        InputError: a value that no shop has.
    """
    value = learned.found.value
    if learned.kind is LearnedKind.PACE:
        pace = min(SLOWEST, max(FASTEST, round(value, 3)))
        return replace(stock, rates=stock.rates.with_pace(learned.about, pace))
    if learned.kind is LearnedKind.SPOILED:
        return replace(stock, rates=replace(stock.rates, spoiled=round(value, 4)))
    if learned.kind is LearnedKind.COVERAGE:
        used = tuple(
            replace(c, coverage=round(value, 3), rate=RateSource.MAKER)
            if c.id == learned.about
            else c
            for c in stock.consumables
        )
        return replace(stock, consumables=used)
    fields = {
        LearnedKind.NEUTRAL: {"neutral": round(value, 3)},
        LearnedKind.DISH: {"dish_limit": round(value, 2)},
    }
    material, _, what = learned.about.partition("\n")
    change = fields.get(learned.kind) or {_BOOK[what]: round(value, 3)}
    materials = tuple(
        replace(m, book=replace(m.book, **change)) if m.id == material else m
        for m in stock.materials
    )
    return replace(stock, materials=materials)


_BOOK = {"ALONG": "shrink_along", "ACROSS": "shrink_across", "SPRINGBACK": "springback"}


def ring_neutral(strip: float, inside: float, thickness: float) -> float:
    """Return where the neutral line lies: a strip of `strip` mm closed to a ring, `inside` mm
    across within, of foam `thickness` mm thick: strip = π × (inside + 2 × neutral × thickness).

    Raises:
        InputError: measures that no ring has.
    """
    if not (strip > 0 and inside > 0 and thickness > 0):
        raise InputError("ring", "a measure is not above 0", "strip, inside and thickness in mm")
    share = (strip / math.pi - inside) / (2 * thickness)
    if not 0 <= share <= 1:
        problem = f"the neutral line would lie {share:.2f} thicknesses from the inner face"
        raise InputError("ring", problem, "a strip between the inner and the outer way round")
    return share
