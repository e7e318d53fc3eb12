"""Orders of the past: what was ordered when, and what the same costs now."""

from decimal import Decimal

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct


class OrderedLine(Struct, frozen=True):
    """One line of an order: `count` pieces of an item for `cost`, shipping not counted."""

    item: str
    name: str
    supplier: str
    count: int
    cost: Decimal

    def __post_init__(self) -> None:
        if self.count < 1:
            raise InputError(f"order, '{self.name}'", f"{self.count} pieces", "one or more")
        if not self.cost.is_finite() or self.cost < 0:
            raise InputError(f"order, '{self.name}'", f"cost {self.cost}", "0 or more")

    @property
    def each(self) -> Decimal:
        """Cost of one piece."""
        return self.cost / self.count


class PastOrder(Struct, frozen=True):
    """What was ordered on one `day` (ISO) for a project."""

    day: str
    project: str
    lines: tuple[OrderedLine, ...]
    shipping: Decimal = Decimal(0)

    @property
    def total(self) -> Decimal:
        """What it came to, with shipping."""
        return sum((x.cost for x in self.lines), self.shipping)


class PriceChange(Struct, frozen=True):
    """What one piece of an item cost the last time that it was ordered, and costs now."""

    item: str
    day: str
    before: Decimal
    now: Decimal

    @property
    def percent(self) -> float:
        """By how much it is dearer now, percent; 0 when it was free."""
        return 100 * float((self.now - self.before) / self.before) if self.before else 0.0


def price_changes(
    lines: tuple[OrderedLine, ...], past: tuple[PastOrder, ...]
) -> dict[str, PriceChange]:
    """Return, by item, how prices changed since each was ordered last.

    Args:
        lines: of the present order.
        past: orders of before, in any order.
    """
    last: dict[str, tuple[str, Decimal]] = {}
    for order in sorted(past, key=lambda o: o.day):
        for line in order.lines:
            last[line.item] = (order.day, line.each)
    return {x.item: PriceChange(x.item, *last[x.item], x.each) for x in lines if x.item in last}
