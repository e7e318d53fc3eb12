"""Better layouts from a good one: fewer or cheaper sheets, shorter rolls, larger leftovers.

Each step is one attempt: place what was left over, empty a sheet, tighten the fullest-to-be
leftover, or construct anew in another order. Attempts that fail leave no trace.
"""

from collections.abc import Callable, Sequence

import numpy as np

from ivory_quilt.core.nesting.construct import Plan, construct, default_plan
from ivory_quilt.core.nesting.kernels.separate import separate
from ivory_quilt.core.nesting.score import Score, score_of
from ivory_quilt.core.nesting.world import UNPLACED, Ints, Solution, World

MOVES_PER_CALL = 96  # items × rounds of one kernel call: short, so that progress is told often


class Search:
    """One search thread: a world, its random state and the best solution so far."""

    def __init__(self, world: World, seed: int, flags: Ints, on_pause: Callable[[], bool]) -> None:
        """Take over `world` as constructed; `on_pause` is asked between kernel calls."""
        self.world = world
        world.add_circles()
        self.random = np.random.default_rng(seed)
        self.rng = np.array([seed * 2654435761 + 12345], dtype=np.uint64)
        self.flags = flags
        self.on_pause = on_pause
        self.plan = default_plan(world)
        self.best: Solution = world.snapshot()
        self.best_score: Score = score_of(world)
        self.failed: dict[tuple[str, int], int] = {}
        self.tightness = 0.05
        self.step_count = 0

    def step(self) -> bool:
        """Make one attempt; return whether the best got better."""
        self.world.restore(self.best)
        attempt = self._choose()
        self.step_count += 1
        attempt()
        if self.flags[0]:
            return False
        score = score_of(self.world)
        if score < self.best_score:
            self.best, self.best_score = self.world.snapshot(), score
            self.failed.clear()
            return True
        return False

    def _choose(self) -> Callable[[], None]:
        turn = self.step_count % 4
        if self.best_score.unplaced > 0 and turn != 3:
            return self._insert
        if turn == 0:
            return self._empty_one
        if turn == 3:
            return self._reconstruct
        return self._tighten

    # Attempts

    def _insert(self) -> None:
        """Put unplaced pieces anywhere and push until nothing overlaps."""
        world = self.world
        loose = np.flatnonzero(world.where[: world.count] == UNPLACED)
        regions = self._all_regions()
        if not regions or not self._fits(loose, regions):
            return
        self._scatter(loose, regions)
        self._separate(regions, 240)

    def _empty_one(self) -> None:
        """Spread the pieces of one used sheet over the others, or onto a cheaper one."""
        world = self.world
        used = world.used_regions()
        choices = []
        for region in used:
            items = world.items_in(region)
            if world.pinned[items].any() or world.regions[region].is_roll:
                continue
            fill = sum(world.kinds[i].grown_area for i in items)
            tries = self.failed.get(("empty", region), 0)
            choices.append((tries, -float(world.regions[region].cost), fill, region))
        if not choices:
            return
        region = min(choices)[-1]
        self.failed["empty", region] = self.failed.get(("empty", region), 0) + 1
        targets = [r for r in used if r != region]
        targets += self._cheaper_than(region)
        items = world.items_in(region)
        if not targets or not self._fits(items, targets):
            return
        self._scatter(items, targets)
        self._separate(targets, 144)

    def _cheaper_than(self, region: int) -> list[int]:
        """Open one fresh sheet of each stock that costs (or, at equal cost, is) less."""
        world = self.world
        mine = world.regions[region]
        used = set(world.used_regions())
        found = []
        for sheet in world.job.sheets:
            size = (sheet.cost, sheet.shape.area)
            if size >= (mine.cost, mine.stock.shape.area):
                continue
            spare = self._spare(sheet.id, used)
            if spare is not None:
                found.append(spare)
        return found[:1] if not found else [found[int(self.random.integers(len(found)))]]

    def _tighten(self) -> None:
        """Shorten the reach of one sheet or roll, so that the leftover is one larger piece."""
        world = self.world
        used = world.used_regions()
        if not used:
            return
        rolls = [r for r in used if world.regions[r].is_roll]
        loosest = min(used, key=lambda r: world.extent(r) / _length(world, r))
        region = rolls[0] if rolls else loosest
        items = world.items_in(region)
        if world.pinned[items].any():
            return
        extent = world.extent(region)
        shorter = extent * (1.0 - self.tightness * float(self.random.uniform(0.2, 1.0)))
        grown = sum(world.kinds[i].grown_area for i in items)
        x0, y0, _, y1 = world.regions[region].rect
        if grown > shorter * (y1 - y0):
            return
        if self._separate([region], 144, limit=(region, x0 + shorter)):
            self.tightness = min(0.2, self.tightness * 1.3)
        else:
            self.tightness = max(0.002, self.tightness * 0.7)

    def _reconstruct(self) -> None:
        """Construct anew in a disturbed order."""
        order = list(self.plan.order)
        rank = {i: k for k, i in enumerate(order)}
        spread = max(1.0, len(order) * float(self.random.choice([0.1, 0.25, 0.6])))
        noise = self.random.normal(0.0, spread, len(order))
        order.sort(key=lambda i: (rank[i] + noise[rank[i]], i))
        stock = list(self.plan.stock_order)
        if self.random.random() < 0.4:
            stock = self._shuffled_stock(stock)
        lean = float(self.random.choice([0.0, 0.05, 0.3, 1.0]))
        construct(self.world, Plan(tuple(order), tuple(stock), lean), self.flags)

    def _shuffled_stock(self, stock: list[str]) -> list[str]:
        """Shuffle what must be bought; what is owned stays first."""
        costs = self.world.job.stock
        owned = [s for s in stock if getattr(costs[s], "cost", 1) == 0]
        bought = [s for s in stock if s not in owned]
        self.random.shuffle(bought)
        return owned + bought

    # Means

    def _all_regions(self) -> list[int]:
        """Return every used region and one unused copy of each stock that has one."""
        world = self.world
        used = world.used_regions()
        found = list(used)
        for stock in world.job.stock.values():
            spare = self._spare(stock.id, set(used))
            if spare is not None:
                found.append(spare)
        return found

    def _spare(self, stock_id: str, used: set[int]) -> int | None:
        """Return the first copy of a stock that nothing lies on, or None."""
        quantity = getattr(self.world.job.stock[stock_id], "quantity", 1)
        copy = 0
        while quantity is None or copy < quantity:
            index = self.world.region_index(stock_id, copy)
            if index is None or index not in used:
                return index
            copy += 1
        return None

    def _fits(self, items: Sequence[int] | Ints, regions: list[int]) -> bool:
        """Return whether the areas leave any hope."""
        world = self.world
        room = sum(world.regions[r].area for r in regions)
        need = sum(world.kinds[i].grown_area for r in regions for i in world.items_in(r))
        return bool(need + sum(world.kinds[i].grown_area for i in items) <= room * (1 + 1e-9))

    def _scatter(self, items: Sequence[int] | Ints, regions: list[int]) -> None:
        """Place items at random; overlaps are the point."""
        world = self.world
        for i in items:
            region = regions[int(self.random.integers(len(regions)))]
            x0, y0, x1, y1 = world.regions[region].rect
            c, s = world.kinds[i].turns[int(self.random.integers(len(world.kinds[i].turns)))]
            x, y = self.random.uniform((x0, y0), (x1, y1))
            world.set_pose(int(i), (float(x), float(y), float(c), float(s), 1.0), region)

    def _separate(
        self, regions: list[int], rounds: int, limit: tuple[int, float] | None = None
    ) -> bool:
        """Push the pieces in `regions` apart; on failure the caller's step is undone."""
        world = self.world
        rects = world.rects()
        if limit is not None:
            rects[limit[0], 2] = limit[1]
        movable = np.array(
            [i for r in regions for i in world.items_in(r) if not world.pinned[i]], dtype=np.int64
        )
        if len(movable) == 0:
            return False
        outside = self._bring_inside(movable, rects)
        weights = np.ones((len(world.where), len(world.where)))
        data = (world.own_edges, world.e0, world.own_circles, world.c0)
        items = (world.edges, world.e0, world.circles, world.c0, world.boxes, world.where)
        allowed = np.array(regions, dtype=np.int64)
        left = len(movable) if outside else 1
        per_call = max(1, MOVES_PER_CALL // len(movable))
        for _ in range(-(-rounds // per_call)):
            left = separate(
                data,
                items,
                world.poses,
                rects,
                allowed,
                movable,
                world.turns,
                world.t0,
                world.free,
                world.mirror,
                weights,
                self.rng,
                self.flags,
                per_call,
            )
            if left == 0 or not self.on_pause():
                break
        done = left == 0 and not self.flags[0] and self._all_inside(movable, rects)
        if done:
            for i in movable:
                world.set_pose(int(i), tuple(world.poses[i]), int(world.where[i]))
        else:
            world.restore(self.best)
        return done

    def _bring_inside(self, movable: Ints, rects: np.ndarray) -> bool:
        """Move boxes that stand out of their region's box back in; return whether any did."""
        world, moved = self.world, False
        for i in movable:
            region = int(world.where[i])
            bx0, by0, bx1, by1 = world.boxes[i]
            x0, y0, x1, y1 = rects[region]
            dx = min(0.0, x1 - bx1) if bx1 > x1 else max(0.0, x0 - bx0)
            dy = min(0.0, y1 - by1) if by1 > y1 else max(0.0, y0 - by0)
            if dx or dy:
                x, y, c, s, f = world.poses[i]
                world.set_pose(int(i), (x + dx, y + dy, c, s, f), region)
                moved = True
        return moved

    def _all_inside(self, movable: Ints, rects: np.ndarray) -> bool:
        boxes, limits = self.world.boxes[movable], rects[self.world.where[movable]]
        slack = 1e-9 * (limits[:, 2:] - limits[:, :2]).max(initial=1.0)
        return bool(
            (boxes[:, :2] >= limits[:, :2] - slack).all()
            and (boxes[:, 2:] <= limits[:, 2:] + slack).all()
        )


def _length(world: World, region: int) -> float:
    x0, _, x1, _ = world.regions[region].rect
    return x1 - x0
