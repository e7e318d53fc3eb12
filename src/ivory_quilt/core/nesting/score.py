"""Which of two layouts is better, and what a layout costs."""

from decimal import Decimal
from typing import NamedTuple

from ivory_quilt.core.nesting.job import RollSpec, SheetSpec
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
    loose = sum(world.kinds[i].grown_area for i in range(world.count) if world.where[i] == UNPLACED)
    shares = []
    for region in used:
        x0, _, x1, _ = world.regions[region].rect
        shares.append(world.extent(region) / (x1 - x0))
    foam = sum(stock_area(world, r) for r in used)
    return Score(loose, total_cost(world), round(foam, 3), round(min(shares, default=0.0), 6))
