"""A simulated supplier: serves a price list, answers quotes, runs out, changes prices by its seed.

It stands in for a shop's web site or its mail: a real one would be asked in the same way.
"""

from decimal import ROUND_HALF_UP, Decimal
from random import Random

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.job import CENT
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind, sheet

SIZES = ((1000.0, 500.0), (2000.0, 1000.0), (600.0, 400.0))
THICKNESSES = (2.0, 4.0, 6.0, 8.0, 10.0)
RATE = 3.4  # money a m² and mm of thickness, invented


class Quote(Struct, frozen=True):
    """What the supplier answers: the price of one pack for so many, and how many it has."""

    item: str
    packs: int
    price: Decimal
    in_stock: int


class SimulatedSupplier:
    """One supplier as it is on one day; the same seed and day give the same answers."""

    def __init__(self, seed: int = 1, day: int = 0) -> None:
        """Be the supplier of a seed, so many days on."""
        first = Random(seed)
        name = first.choice(("Mosswick", "Fernhollow", "Larkmeadow", "Puddlecote"))
        self.supplier = Supplier(
            name.lower(),
            name,
            Decimal(first.randint(35, 90)) / 10,
            Decimal(first.choice((50, 80, 120))),
            Decimal(first.choice((0, 10, 15))),
            first.randint(2, 9),
        )
        self._day = Random(f"{seed} {day}")
        self._items = [self._item(t, size) for t in THICKNESSES for size in SIZES]

    def _item(self, thickness: float, size: tuple[float, float]) -> StockItem:
        area = Decimal(repr(size[0] * size[1] / 1e6))
        drift = Decimal(repr(round(self._day.uniform(0.9, 1.15), 4)))
        price = (area * Decimal(repr(RATE * thickness)) * drift).quantize(CENT, ROUND_HALF_UP)
        pack = 4 if thickness <= 2 and size[0] <= 600 else 1
        name = f"{thickness:g} mm {size[0]:g} × {size[1]:g}"
        made = sheet(
            f"{self.supplier.id} {thickness:g} {size[0]:g}x{size[1]:g}",
            name,
            Foam(thickness, "eva"),
            size,
            kind=StockKind.SHEET,
            price=price,
            margin=5.0,
            make=self.supplier.name,
        )
        cheaper = (price * pack * Decimal("0.92")).quantize(CENT, ROUND_HALF_UP)
        return replace(
            made,
            supplier=self.supplier.id,
            pack=pack,
            available=self._day.choice((0, 2, 5, 12, None)),
            steps=((5, cheaper),),
        )

    def price_list(self) -> tuple[StockItem, ...]:
        """Return everything it sells today; what it has run out of is there with none in stock."""
        return tuple(self._items)

    def quote(self, item_id: str, packs: int) -> Quote:
        """Answer what so many packs of an item cost, one pack.

        Raises:
            InputError: it does not sell that, or has not so many.
        """
        for item in self._items:
            if item.id == item_id:
                offer = item.offer()
                price = offer.price(packs)
                if price is None or packs > offer.most_packs:
                    problem = f"{packs} wanted, {offer.most_packs} in stock"
                    raise InputError(item.name, problem, "fewer, or another supplier")
                return Quote(item_id, packs, price, offer.most_packs)
        raise InputError(
            f"'{item_id}'", f"{self.supplier.name} does not sell it", "an item of its list"
        )
