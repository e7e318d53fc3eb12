"""Things that are not foam: closures, buckles, lenses, lights, shoes, leather, and when they come.

They hold up a build as often as foam does.
"""

import re
from decimal import Decimal
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

DAY = re.compile(r"\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])")
MOST = 10_000


class ThingStanding(StrEnum):
    """Where a thing stands."""

    NEEDED = "to buy"
    ORDERED = "ordered"
    ON_HAND = "on hand"


class Thing(Struct, frozen=True):
    """Something that the suit needs and that is not cut from a sheet.

    Attributes:
        price: of one; None while nobody has said it.
        source: where it comes from.
        piece: id of the piece that it is for; empty for the whole suit.
        arrives: ISO date on which it is here, empty while not known.
        needed: ISO date by which it must be, empty for no day.
    """

    id: str
    name: str
    count: int = 1
    price: Decimal | None = None
    source: str = ""
    piece: str = ""
    standing: ThingStanding = ThingStanding.NEEDED
    arrives: str = ""
    needed: str = ""

    def __post_init__(self) -> None:
        where = f"'{self.name}'"
        if not self.name.strip():
            raise InputError("other goods", "a thing has no name", "a name")
        if not 1 <= self.count <= MOST:
            raise InputError(f"{where}, how many", f"{self.count}", f"1 to {MOST}")
        price = self.price
        if price is not None and not (price.is_finite() and 0 <= price <= 10**7):
            raise InputError(f"{where}, price", f"{price}"[:40], "0 or more")
        for word, day in (("arrives", self.arrives), ("needed by", self.needed)):
            if day and not DAY.fullmatch(day):
                raise InputError(f"{where}, {word}", f"'{day}'", "a date such as 2027-03-01")

    @property
    def cost(self) -> Decimal:
        """What it costs still: nothing where it is on hand, or without a price."""
        if self.standing is ThingStanding.ON_HAND or self.price is None:
            return Decimal(0)
        return self.price * self.count

    @property
    def late(self) -> bool:
        """Whether it comes after the day by which it is needed."""
        here = self.standing is ThingStanding.ON_HAND
        return bool(self.needed and self.arrives and not here and self.arrives > self.needed)
