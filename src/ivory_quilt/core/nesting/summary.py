"""What a set of placements comes to: foam used, cost, density, what is left over.

Works on the original pieces and the reported poses alone, so that a layout changed by hand is
counted exactly as one that the engine made.
"""

from collections import defaultdict
from decimal import Decimal

from ivory_quilt.core.nesting.bounds import cost_bound
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement, RollSpec, StockUse, roll_cost


def used_stock(placements: tuple[Placement, ...]) -> dict[tuple[str, int], list[Placement]]:
    """Return what lies on each sheet (id, copy)."""
    on: dict[tuple[str, int], list[Placement]] = defaultdict(list)
    for placement in placements:
        on[placement.sheet, placement.sheet_copy].append(placement)
    return on


def summarise(
    job: LayJob, placements: tuple[Placement, ...], bound: Decimal | None = None
) -> LayResult:
    """Return `placements` as a result with cost, density and stock use; rules are not checked."""
    shapes = {p.id: p.shape for p in job.pieces}
    on = used_stock(placements)
    uses, cost, foam, covered = [], Decimal(0), 0.0, 0.0
    for (stock_id, copy), members in sorted(on.items()):
        stock = job.stock[stock_id]
        area = sum(shapes[m.piece].area for m in members)
        length = None
        if isinstance(stock, RollSpec):
            reach = max(shapes[m.piece].placed(m.pose).bounds[2] for m in members)
            length = stock.length_for(reach)
            cost += roll_cost(stock.cost_per_mm, length)
            taken = length * stock.width
        else:
            cost += stock.cost
            taken = stock.shape.area
        uses.append(StockUse(stock_id, copy, length, round(area / taken, 6)))
        foam += taken
        covered += area
    placed = {(p.piece, p.copy) for p in placements}
    unplaced = tuple(
        (p.id, c) for p in job.pieces for c in range(p.quantity) if (p.id, c) not in placed
    )
    lowest = cost_bound(job) if bound is None else bound
    return LayResult(
        placements=placements,
        unplaced=unplaced,
        stock=tuple(uses),
        cost=cost,
        cost_bound=lowest if unplaced else min(lowest, cost),
        density=round(covered / foam, 6) if foam else 0.0,
    )


def foam_areas(job: LayJob, result: LayResult) -> tuple[float, float]:
    """Return (area of the parts placed, area of the foam they take), mm²."""
    shapes = {p.id: p.shape for p in job.pieces}
    covered = sum(shapes[p.piece].area for p in result.placements)
    taken = 0.0
    for use in result.stock:
        stock = job.stock[use.id]
        if isinstance(stock, RollSpec):
            taken += (use.used_length or 0.0) * stock.width
        else:
            taken += stock.shape.area
    return covered, taken
