"""The first layout: pieces one by one, each as far to the left as exact no-fit slices allow."""

from dataclasses import dataclass, replace

import numpy as np

from ivory_quilt.core.nesting.job import RollSpec
from ivory_quilt.core.nesting.kernels.slices import best_in_region
from ivory_quilt.core.nesting.score import score_of
from ivory_quilt.core.nesting.world import UNPLACED, Ints, World

CLEAR = 1e-6  # of the largest sheet side: the clearance that exact contact is kept at
ROWS = 36  # rows tried per sheet, besides those that rest on placed parts


@dataclass(frozen=True)
class Plan:
    """How to construct: items in order, stock ids in order of preference, and the lean."""

    order: tuple[int, ...]
    stock_order: tuple[str, ...]
    lean: float = 0.05
    rows: int = ROWS


def default_plan(world: World) -> Plan:
    """Large pieces first; owned foam first (small before large), then the cheapest by area."""
    order = sorted(
        np.flatnonzero(~world.pinned).tolist(),
        key=lambda i: (-world.kinds[i].grown_area * world.kinds[i].size, i),
    )
    return Plan(tuple(order), default_stock_order(world))


def default_stock_order(world: World) -> tuple[str, ...]:
    """Owned foam first, small offcuts before large sheets; then by price per area."""

    def rank(stock_id: str) -> tuple[float, float]:
        stock = world.job.stock[stock_id]
        area = stock.shape.area
        cost = getattr(stock, "cost", None)
        if cost is None:
            return (float(stock.cost_per_mm) / stock.width, area)  # type: ignore[union-attr]
        return (float(cost) / area, area)

    return tuple(sorted(world.job.stock, key=lambda s: (rank(s), s)))


def first_layout(world: World, flags: Ints) -> None:
    """Construct with the cheapest foam by area first; where that buys, by price first as well.

    The better of the two stays: a large sheet is cheap by area and dear for one small part.
    """
    plan = default_plan(world)
    construct(world, plan, flags)
    score, best = score_of(world), world.snapshot()
    by_price = tuple(sorted(plan.stock_order, key=lambda s: _price(world, s)))
    if score.cost == 0 or by_price == plan.stock_order or flags[0]:
        return
    construct(world, replace(plan, stock_order=by_price), flags)
    if flags[0] or score_of(world) >= score:
        world.restore(best)


def _price(world: World, stock_id: str) -> tuple[float, float]:
    """A roll is as dear as the length that a sheet of average size would take."""
    stock = world.job.stock[stock_id]
    if isinstance(stock, RollSpec):
        return (float(stock.cost_per_mm) * stock.width, stock.shape.area)
    return (float(stock.cost), stock.shape.area)


def construct(world: World, plan: Plan, flags: Ints) -> None:
    """Place every unpinned item as `plan` says; those that fit nowhere stay unplaced.

    `flags[0]` stops it; what is placed by then stays.
    """
    world.clear()
    hopeless: set[tuple[int, int]] = set()
    for i in plan.order:
        if flags[0]:
            return
        _place(world, i, plan, hopeless, flags)


def _place(world: World, i: int, plan: Plan, hopeless: set[tuple[int, int]], flags: Ints) -> None:
    kind = world.kinds[i]
    turns = kind.orientations
    for stock_id in plan.stock_order:
        stock = world.job.stock[stock_id]
        quantity = getattr(stock, "quantity", 1)
        copy = 0
        while quantity is None or copy < quantity:
            region = world.region_index(stock_id, copy)
            if region is None:
                break
            members = world.members(region)
            empty = not (members < world.count).any()
            key = (region, id(kind))
            if key not in hopeless:
                if _put(world, i, region, turns, members, plan, flags):
                    return
                hopeless.add(key)
            if empty:  # it fits no fresh sheet of this stock, so none at all
                break
            copy += 1


def _put(
    world: World, i: int, region: int, turns: np.ndarray, members: Ints, plan: Plan, flags: Ints
) -> bool:
    rect = np.array(world.regions[region].rect)
    extent = max(rect[2] - rect[0], rect[3] - rect[1])
    used = sum(world.kinds[j].grown_area for j in members if j < world.count)
    if used + world.kinds[i].grown_area > world.regions[region].area * (1 + 1e-9):
        return False
    step = max((rect[3] - rect[1]) / plan.rows, 1e-3)
    part = slice(world.e0[i], world.e0[i + 1])
    _, turn, x, y = best_in_region(
        world.own_edges[part],
        turns,
        rect,
        world.slice_items,
        members,
        len(members),
        step,
        plan.lean,
        CLEAR * extent,
        flags,
    )
    if turn < 0:
        world.where[i] = UNPLACED
        return False
    c, s, f = turns[turn]
    world.set_pose(i, (x, y, c, s, f), region)
    return True
