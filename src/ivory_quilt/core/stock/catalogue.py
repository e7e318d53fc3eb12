"""What is sold: suppliers, and what each offers in which packs at which price."""

from decimal import ROUND_HALF_UP, Decimal
from itertools import pairwise

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.job import CENT
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.lengths_job import LONGEST
from ivory_quilt.core.units import parse_money

MOST_MONEY = Decimal(10**7)
MOST_PACKS = 10_000
ZERO = Decimal(0)


class Supplier(Struct, frozen=True):
    """Where goods come from.

    Attributes:
        shipping: of one order.
        free_from: sum of goods from which shipping is free; None for never.
        minimum: least sum of goods of an order.
        days: until it arrives.
    """

    id: str
    name: str = ""
    shipping: Decimal = ZERO
    free_from: Decimal | None = None
    minimum: Decimal = ZERO
    days: int = 0

    def __post_init__(self) -> None:
        where = f"supplier '{self.id}'"
        if not self.id.strip():
            raise InputError("supplier", "it has no id", "a short id")
        money = (("shipping", self.shipping), ("minimum", self.minimum))
        for name, value in (*money, ("free_from", self.free_from or ZERO)):
            check_money(value, f"{where}, {name}")
        if not 0 <= self.days <= 1000:
            raise InputError(f"{where}, days", f"{self.days}", "0 to 1000")

    def shipping_of(self, goods: Decimal) -> Decimal:
        """Return what shipping an order of so much costs; of nothing, nothing."""
        if not goods or (self.free_from is not None and goods >= self.free_from):
            return ZERO
        return self.shipping


class SoldSheet(Struct, frozen=True):
    """A sheet or tile as it is sold; `margin` is not used along its edges, mm."""

    shape: Shape
    margin: float = 0.0


class SoldRoll(Struct, frozen=True):
    """A roll as it is sold, whole: mm."""

    width: float
    length: float
    margin: float = 0.0

    @property
    def shape(self) -> Shape:
        """The whole roll as a rectangle, its length along x."""
        return rectangle(self.length, self.width)


class SoldLength(Struct, frozen=True):
    """A bar as it is sold, mm."""

    length: float


class Offer(Struct, frozen=True):
    """Something a supplier sells.

    Attributes:
        pack: how many are in a pack.
        available: packs that the supplier has; None for as many as are wanted.
        breaks: (packs from, price of one pack); the price of the step reached counts for all packs.
    """

    id: str
    supplier: str
    goods: SoldSheet | SoldRoll | SoldLength
    breaks: tuple[tuple[int, Decimal], ...]
    pack: int = 1
    available: int | None = None

    def __post_init__(self) -> None:
        where = f"offer '{self.id}'"
        if not 1 <= self.pack <= MOST_PACKS:
            raise InputError(f"{where}, pack", f"{self.pack}", f"1 to {MOST_PACKS}")
        if self.available is not None and self.available < 0:
            raise InputError(f"{where}, available", f"{self.available}", "0 or more, or null")
        if not self.breaks:
            raise InputError(f"{where}, breaks", "it has no price", "[[1, price]]")
        froms = [n for n, _ in self.breaks]
        if froms[0] < 1 or any(b <= a for a, b in pairwise(froms)):
            raise InputError(f"{where}, breaks", f"from {froms} packs", "rising numbers from 1 on")
        for _, price in self.breaks:
            check_money(price, f"{where}, breaks")
        if isinstance(self.goods, SoldLength | SoldRoll) and not 0 < self.goods.length <= LONGEST:
            raise InputError(f"{where}, length", f"{self.goods.length:g} mm", "above 0")
        if isinstance(self.goods, SoldRoll) and not 0 < self.goods.width <= LONGEST:
            raise InputError(f"{where}, width", f"{self.goods.width:g} mm", "above 0")

    @property
    def most_packs(self) -> int:
        """How many packs can be had."""
        return MOST_PACKS if self.available is None else min(self.available, MOST_PACKS)

    def price(self, packs: int) -> Decimal | None:
        """Return the price of one pack when so many are ordered; None where that is too few."""
        reached = [p for n, p in self.breaks if n <= packs]
        return reached[-1] if reached else None

    def cost(self, packs: int) -> Decimal:
        """Return what so many packs cost; 0 of none.

        Raises:
            InputError: fewer than are sold, or more than there are.
        """
        if not packs:
            return ZERO
        price = self.price(packs)
        if price is None or packs > self.most_packs:
            raise InputError(f"offer '{self.id}'", f"{packs} packs", f"1 to {self.most_packs}")
        return price * packs

    @property
    def usual_price(self) -> Decimal:
        """Return the price of one of what is in the pack, by its first step, to the cent."""
        return (self.breaks[0][1] / self.pack).quantize(CENT, rounding=ROUND_HALF_UP)


def parse_steps(text: str) -> tuple[tuple[int, Decimal], ...]:
    """Read further price steps: ``5: 10.20; 10: 9.50``, packs from and the price of one.

    Raises:
        InputError: naming the step that is none.
    """
    made = []
    for part in filter(None, (p.strip() for p in text.split(";"))):
        count, colon, price = part.partition(":")
        if not colon or not count.strip().isdigit():
            expected = "packs from, colon, price: 5: 10.20; 10: 9.50"
            raise InputError("steps", f"'{part}'", expected)
        made.append((int(count), parse_money(price, where="steps")))
    return tuple(made)


def show_steps(steps: tuple[tuple[int, Decimal], ...]) -> str:
    """Return price steps as they are typed."""
    return "; ".join(f"{n}: {p}" for n, p in steps)


def check_money(value: Decimal, where: str) -> None:
    """Refuse what is no sum of money.

    Raises:
        InputError: below 0, without end, or finer than a thousandth of a cent.
    """
    if not value.is_finite() or not 0 <= value <= MOST_MONEY:
        raise InputError(where, f"{value}"[:40], f"0 to {MOST_MONEY}")
    if int(value.as_tuple().exponent) < -6:
        raise InputError(where, f"{value}"[:40], "at most 6 decimals")
