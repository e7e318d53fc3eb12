"""The first layout: pieces one by one, each as far to the left as exact no-fit slices allow."""

from collections.abc import Callable
from decimal import Decimal
from functools import partial

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.job import RollSpec
from ivory_quilt.core.nesting.kernels.slices import best_in_region, nothing_known
from ivory_quilt.core.nesting.patterns import FEW, Pattern, fill, patterns_of
from ivory_quilt.core.nesting.prepare import Prepared
from ivory_quilt.core.nesting.world import UNPLACED, Ints, World
from ivory_quilt.core.record import Struct, replace

CLEAR = 1e-6  # of the largest sheet side: the clearance that exact contact is kept at
SEVERAL = 80  # parts from which on fewer rows do
MANY = 200  # parts from which on one way to construct is enough
KINDS = 300  # different parts from which on those nearly alike are judged alike
LOT = 48  # parts laid between two pauses
PATTERNS = 4  # regular patterns that are tried for many equal parts
ROWS = 36  # rows tried per sheet, besides those that rest on placed parts
ALIKE = 0.9  # of area and size: a part so nearly as large as one that found no room finds none


class Construction(Struct, frozen=True):
    """How to construct: items in order, stock ids in order of preference, and the lean."""

    order: tuple[int, ...]
    stock_order: tuple[str, ...]
    lean: float = 0.05
    rows: int = ROWS


def default_plan(world: World) -> Construction:
    """The worthiest and largest pieces first, on owned foam first, then on the cheapest by area."""
    order = sorted(
        np.flatnonzero(~world.pinned).tolist(),
        key=lambda i: (
            -world.kinds[i].spec.worth,
            -world.kinds[i].grown_area * world.kinds[i].size,
            i,
        ),
    )
    return Construction(tuple(order), default_stock_order(world))


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


def first_layout(world: World, flags: Ints, pause: Callable[[], None] = lambda: None) -> None:
    """Construct with the cheapest foam by area first; where that buys, by price first as well.

    The better of the two stays: a large sheet is cheap by area and dear for one small part.
    `pause` is called whenever some more parts lie as they will if the first of them stays.
    """
    plan = default_plan(world)
    construct(world, plan, flags, pause=pause)
    score, best = _score(world), world.snapshot()
    by_price = tuple(sorted(plan.stock_order, key=lambda s: _price(world, s)))
    plans: list[Callable[[], None]] = []
    if score[1] > 0 and by_price != plan.stock_order and world.count <= MANY:
        plans.append(lambda: construct(world, replace(plan, stock_order=by_price), flags))
    many = _many_equal(world)
    if many:
        plans += [
            partial(_with_pattern, world, plan, many, p, flags) for p in _patterns(world, many)
        ]
    for attempt in plans:
        if flags[0]:
            break
        attempt()
        if not flags[0] and _score(world) < score:
            score, best = _score(world), world.snapshot()
        else:
            world.restore(best)


def _many_equal(world: World) -> list[int]:
    """Return the copies of the one part that makes up most of the job, where there are many."""
    for number, piece in enumerate(world.pieces):
        copies = [
            i for i in range(world.count) if world.piece_number(i) == number and not world.pinned[i]
        ]
        need = sum(k.grown_area for k in world.kinds)
        if len(copies) >= FEW and 2 * len(copies) * piece.grown_area > need:
            return copies
    return []


def _patterns(world: World, copies: list[int]) -> list[Pattern]:
    return patterns_of(world.kinds[copies[0]])[:PATTERNS]


def _with_pattern(
    world: World, plan: Construction, copies: list[int], pattern: Pattern, flags: Ints
) -> None:
    """Lay many equal parts in a regular pattern on empty sheets, then the rest as planned."""
    world.clear()
    left = list(copies)
    for stock_id in plan.stock_order:
        quantity = getattr(world.job.stock[stock_id], "quantity", 1)
        copy = 0
        while left and (quantity is None or copy < quantity):
            region = world.region_index(stock_id, copy)
            if region is None:
                break
            if not (world.members(region) < world.count).any():
                laid = fill(world, left, region, pattern)
                left = left[laid:]
                if not laid:
                    break
            copy += 1
    construct(world, plan, flags, keep=True)


def _score(world: World) -> tuple[float, Decimal, float]:
    return world.bill(world.where, world.extent)


def _price(world: World, stock_id: str) -> tuple[float, float]:
    """A roll is as dear as the length that a sheet of average size would take."""
    stock = world.job.stock[stock_id]
    if isinstance(stock, RollSpec):
        return (float(stock.cost_per_mm) * stock.width, stock.shape.area)
    return (float(stock.cost), stock.shape.area)


def construct(
    world: World,
    plan: Construction,
    flags: Ints,
    *,
    keep: bool = False,
    pause: Callable[[], None] = lambda: None,
) -> None:
    """Place every unpinned item as `plan` says; those that fit nowhere stay unplaced.

    `flags[0]` stops it; what is placed by then stays. With `keep`, what lies already stays too.
    After every `LOT` items it pauses.
    """
    if not keep:
        world.clear()
    hopeless = Hopeless(of_all_sizes=len(world.pieces) > KINDS)
    known: dict[int, Array] = {}  # least free places by region, of the kind laid just now
    kind = None
    for number, i in enumerate(plan.order):
        if flags[0]:
            return
        if number % LOT == LOT - 1:
            pause()
        if world.where[i] != UNPLACED:
            continue
        if world.kinds[i] is not kind:
            kind = world.kinds[i]
            known.clear()
        _place(world, i, plan, hopeless, known, flags)


class Hopeless:
    """Which parts find no room in a region any more: those that did not, as it only fills up.

    Of very many parts, those that are nearly as large as one that found none as well: a troupe
    has each part in many sizes.
    """

    def __init__(self, *, of_all_sizes: bool) -> None:
        """Nothing is hopeless yet."""
        self._kinds: set[tuple[int, int]] = set()
        self._least: dict[int, list[tuple[float, float]]] | None = {} if of_all_sizes else None

    def is_so(self, region: int, kind: Prepared, *, empty: bool) -> bool:
        """Return whether a part need not be tried in a region."""
        if (region, id(kind)) in self._kinds:
            return True
        if self._least is None or empty:
            return False
        area, size = kind.grown_area, kind.size
        return any(
            area >= ALIKE * failed and size >= ALIKE * long
            for failed, long in self._least.get(region, ())
        )

    def note(self, region: int, kind: Prepared, *, empty: bool) -> None:
        """A part found no room in a region; of an empty one that says nothing of others."""
        self._kinds.add((region, id(kind)))
        if self._least is not None and not empty:
            least = self._least.setdefault(region, [])
            area, size = kind.grown_area, kind.size
            least[:] = [(a, s) for a, s in least if a < area or s < size]
            least.append((area, size))


def _place(
    world: World,
    i: int,
    plan: Construction,
    hopeless: Hopeless,
    known: dict[int, Array],
    flags: Ints,
) -> None:
    kind = world.kinds[i]
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
            if not hopeless.is_so(region, kind, empty=empty):
                if _put(world, i, region, members, plan, known, flags):
                    return
                hopeless.note(region, kind, empty=empty)
            if empty:  # it fits no fresh sheet of this stock, so none at all
                break
            copy += 1


def _put(
    world: World,
    i: int,
    region: int,
    members: Ints,
    plan: Construction,
    known: dict[int, Array],
    flags: Ints,
) -> bool:
    turns, rect = world.kinds[i].orientations, np.array(world.regions[region].rect)
    extent = max(rect[2] - rect[0], rect[3] - rect[1])
    if world.kinds[i].spec.hidden:
        members = np.array([j for j in members if not world.is_ghost(j)], dtype=np.int64)
    used = sum(world.kinds[j].grown_area for j in members if j < world.count)
    if used + world.kinds[i].grown_area > world.regions[region].area * (1 + 1e-9):
        return False
    rows = plan.rows if world.count <= SEVERAL else plan.rows / 3
    step = max((rect[3] - rect[1]) / rows, 1e-3)
    if region not in known:
        known[region] = nothing_known(turns, rect, step, len(world.where))
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
        known[region],
        flags,
    )
    if turn < 0:
        world.where[i] = UNPLACED
        return False
    c, s, f = turns[turn]
    world.set_pose(i, (x, y, c, s, f), region)
    return True
