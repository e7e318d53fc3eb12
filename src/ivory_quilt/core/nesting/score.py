"""Which of two layouts is better, and what a layout costs."""

from decimal import Decimal
from typing import NamedTuple

from ivory_quilt.core.nesting.job import RollSpec, SheetSpec, StockUse
from ivory_quilt.core.nesting.world import UNPLACED, World

CENT = Decimal("0.01")


class Score(NamedTuple):
    """Smaller is better, compared in this order.

    Attributes:
        unplaced: grown area left over, mm².
        cost: of all sheets and roll lengths used.
        foam: area of the stock used, owned or bought, mm² (less means a larger reserve).
        reach: of the loosest sheet, as a share of its length (less means a larger leftover).
    """

    unplaced: float
    cost: Decimal
    foam: float
    reach: float


def stock_cost(world: World, region: int) -> Decimal:
    """Return what using this region costs."""
    stock = world.regions[region].stock
    if isinstance(stock, SheetSpec):
        return stock.cost
    return (stock.cost_per_mm * Decimal(repr(round(world.used_length(region), 6)))).quantize(CENT)


def stock_area(world: World, region: int) -> float:
    """Return the area of foam that is taken: the sheet, or the roll's used length."""
    stock = world.regions[region].stock
    if isinstance(stock, RollSpec):
        return world.used_length(region) * stock.width
    return stock.shape.area


def total_cost(world: World) -> Decimal:
    """Return the cost of everything used."""
    return sum((stock_cost(world, r) for r in world.used_regions()), Decimal(0))


def score_of(world: World) -> Score:
    """Return the score of the present poses."""
    used = world.used_regions()
    loose = sum(
        world.kinds[i].grown_area for i in range(world.count) if world.where[i] == UNPLACED
    )
    shares = []
    for region in used:
        x0, _, x1, _ = world.regions[region].rect
        shares.append(world.extent(region) / (x1 - x0))
    foam = sum(stock_area(world, r) for r in used)
    return Score(loose, total_cost(world), round(foam, 3), round(min(shares, default=0.0), 6))


def stock_use(world: World) -> tuple[StockUse, ...]:
    """Return each sheet and roll used, with its density."""
    found = []
    for region in world.used_regions():
        stock = world.regions[region].stock
        area = sum(world.kinds[i].spec.shape.area for i in world.items_in(region))
        length = world.used_length(region) if isinstance(stock, RollSpec) else None
        density = area / stock_area(world, region) if stock_area(world, region) else 0.0
        found.append(StockUse(stock.id, world.regions[region].copy, length, round(density, 6)))
    return tuple(found)


def density(world: World) -> float:
    """Return piece area ÷ area of the foam used, 0 when nothing is placed."""
    used = world.used_regions()
    area = sum(world.kinds[i].spec.shape.area for r in used for i in world.items_in(r))
    foam = sum(stock_area(world, r) for r in used)
    return round(area / foam, 6) if foam else 0.0
