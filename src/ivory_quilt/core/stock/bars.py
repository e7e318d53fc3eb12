"""Shaped lengths on the shelf and in the catalogue: dowels, half-rounds, strips, rods."""

from decimal import Decimal
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.job import CENT
from ivory_quilt.core.pattern.build import TrimKind
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stacks.lengths import CutLength
from ivory_quilt.core.stock.catalogue import Offer, SoldLength
from ivory_quilt.core.stock.lengths_job import LONGEST
from ivory_quilt.core.units import show_number

UNPRICED = Decimal(3)  # a metre, to choose by: never shown


class BarKind(StrEnum):
    """What is sold by the length."""

    ROUND = "round dowel"
    HALF = "half-round"
    SQUARE = "square dowel"
    BEVEL = "bevel strip"
    ROD = "rod"


_OF_TRIM = {
    TrimKind.ROUND: BarKind.ROUND,
    TrimKind.HALF: BarKind.HALF,
    TrimKind.SQUARE: BarKind.SQUARE,
    TrimKind.BEVEL: BarKind.BEVEL,
}


class BarSection(Struct, frozen=True, order=True):
    """A section that is sold by the length: its kind, and its size across in mm."""

    kind: BarKind
    size: float

    @property
    def name(self) -> str:
        """As makers say it: "10 mm half-round"."""
        return f"{show_number(self.size, 2)} mm {self.kind.value}"


def section_of(cut: CutLength, rod: float) -> BarSection:
    """Return what a length is cut from; `rod` is the diameter where it is a rod."""
    if cut.trim is None:
        return BarSection(BarKind.ROD, rod)
    return BarSection(_OF_TRIM[cut.trim.kind], cut.trim.size)


class BarItem(Struct, frozen=True):
    """Bars of one section and length, on the shelf, in the catalogue, or both.

    Attributes:
        length: of one bar, mm.
        owned: how many lie on the shelf.
        price: of one; None while nobody has said it.
    """

    id: str
    section: BarSection
    length: float
    owned: int = 0
    price: Decimal | None = None
    supplier: str = ""
    pack: int = 1
    available: int | None = None
    place: str = ""

    def __post_init__(self) -> None:
        where = f"bar '{self.id}'"
        if not self.id.strip():
            raise InputError("bar", "it has no id", "a short id")
        if not 0.5 <= self.section.size <= 500:
            raise InputError(f"{where}, size", f"{self.section.size:g} mm", "0.5 to 500 mm")
        if not 1 <= self.length <= LONGEST:
            raise InputError(f"{where}, length", f"{self.length:g} mm", "1 mm to 10 km")
        if self.owned < 0:
            raise InputError(f"{where}, owned", f"{self.owned}", "0 or more")
        self.offer()  # refuses packs and a price that make no sense

    @property
    def name(self) -> str:
        """As makers say it."""
        return f"{self.section.name}, {show_number(self.length, 0)} mm"

    def offer(self) -> Offer:
        """Return what is sold; without a price, at one by its length to choose by.

        Raises:
            InputError: its packs or price make no sense.
        """
        price = self.price
        if price is None:
            price = (UNPRICED * Decimal(repr(round(self.length / 1000, 3)))).quantize(CENT)
        breaks = ((1, price * self.pack),)
        goods = SoldLength(self.length)
        return Offer(self.id, self.supplier or "-", goods, breaks, self.pack, self.available)
