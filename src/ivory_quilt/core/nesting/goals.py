"""What a search thread tries next, and how far it reaches."""

from dataclasses import dataclass, field, replace
from decimal import Decimal
from enum import StrEnum

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.choice import Choice, Chooser
from ivory_quilt.core.nesting.jigsaw import BEAMS, assemble, is_jigsaw
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.score import CELLS, Score
from ivory_quilt.core.nesting.walk import Target
from ivory_quilt.core.nesting.world import UNPLACED, Solution, World, regions_in

FIRST_STEP, LONGEST_STEP, SHORTEST_STEP = 0.01, 0.02, 0.0008
"""Share that a roll or the foam in use is shortened by in one go: at first, at most, at least."""

FIRST_PUSH, LONGEST_PUSH = 0.05, 0.4
"""Share that the parts of a sheet are pushed together by in one go, to leave a larger piece."""
FULL = 0.99  # share of a sheet's breadth that its parts are never pushed beyond

LONG_WALK = 10  # layouts given up, and disturbed ones tried, before a goal is given up
LONGEST_WALK = 40  # the same for the length of a roll, by a thread that does not lead
MATCHES = 8  # failures after which parts are no longer put together by matching edges
SHORT_WALK = 3  # layouts given up before other parts are laid instead
EXCHANGE = 0.4  # share of turns at which a larger part takes the place of a smaller one
LIKELY = 0.82  # of the foam that parts are likely to fill
LEAST_PLACED = 0.02  # of the foam that is tried to be filled in one go
LITTLE = 0.02  # of its area that it must be larger by
WAY_TURNS = ((1, 1, 3), (8, 14, 20))
"""At which turns each way is tried: it takes a second or more, for which all others wait."""
WAYS = ((1.0, 0.0), (0.5, 0.5), (0.0, 1.0))
"""How much of what a sheet is too large is taken off its length and breadth, as exponents."""
MATCH_SLACK = 0.003  # more length than matched parts take, for the search to clear overlaps in


@dataclass
class Pace:
    """How large the steps are: longer after a success, shorter after a failure.

    `step` is the share that a length is cut by, `longest` the most of it, `growth` how much longer
    it gets at once; `fill` is how full the sheets of a choice may get.
    """

    step: float = FIRST_STEP
    longest: float = LONGEST_STEP
    growth: float = 1.1
    fill: float = 0.82
    failed: dict[str, int] = field(default_factory=dict)

    def succeeded(self) -> None:
        """Take longer steps."""
        self.step = min(self.longest, self.step * self.growth)
        self.fill = min(0.97, self.fill + 0.02)

    def fell_short(self) -> None:
        """Take shorter steps."""
        self.step = max(SHORTEST_STEP, self.step * 0.5)
        self.fill = max(0.5, self.fill - 0.03)


class GoalKind(StrEnum):
    """What a search is sent for."""

    PLACE = "place"
    CHEAPER = "cheaper"
    SMALLER = "smaller"
    SHORTEN = "shorten"
    TOGETHER = "together"
    MATCH = "match"
    LEFTOVER = "leftover"


@dataclass(frozen=True)
class Goal:
    """A target with the layout to start from.

    Attributes:
        kind: what it is for.
        movable: ids of items that may move.
        cost: what a layout that reaches it costs at most; of no use once one as cheap is known.
        tries: failures of the walk that are allowed.
        home: (i,) the region that an item must stay in, or −1.
    """

    kind: GoalKind
    target: Target
    start: Solution
    movable: Ints
    cost: Decimal | None
    tries: int
    home: Ints | None = None

    @property
    def eases(self) -> bool:
        """Whether less than the goal would be an advance as well."""
        return self.kind == GoalKind.SHORTEN


class Planner:
    """Makes goals for one thread, from the best layout that it knows."""

    def __init__(
        self,
        chooser: Chooser,
        world: World,
        random: np.random.Generator,
        flags: Ints,
        *,
        leads: bool,
    ) -> None:
        """Plan for `world`; one of several planners `leads`."""
        self.chooser, self.world, self.random = chooser, world, random
        self.rects = self.world.rects()
        self.pace = Pace()
        self.leftover_pace = Pace(FIRST_PUSH, LONGEST_PUSH, 2.0)
        self.place_pace: Pace | None = None
        self._ways = [
            (turn, w, h, beam)
            for beam, turns in zip(BEAMS, WAY_TURNS, strict=True)
            for turn, (w, h) in zip(turns, WAYS, strict=True)
        ]
        self._placings = 0
        self.jigsaw = is_jigsaw(self.world)
        if self.jigsaw:
            self.pace.fill = 0.92
        self.flags, self.leads = flags, leads
        fit = [any(world.may_lie(p, s) for s in world.job.stock) for p in world.pieces]
        self.fits = np.array(
            [fit[world.piece_number(i)] for i in range(world.count)], dtype=bool
        ).reshape(-1)

    def next(self, best: Solution, score: Score, turn: int, bound: Decimal) -> Goal | None:
        """Return what to try on the `turn`-th time, or None when nothing is left to try."""
        kinds = self._order(best, score, turn, bound)
        for kind in kinds:
            goal = self._make(kind, best, score)
            if goal is not None:
                return goal
        return None

    def _order(self, best: Solution, score: Score, turn: int, bound: Decimal) -> list[GoalKind]:
        order: list[GoalKind] = []
        if score.unplaced > 0:
            order.append(GoalKind.PLACE)
        rolls = [r for r in self._used(best) if self.world.regions[r].is_roll]
        if score.cost > bound:
            tired = self.pace.failed.get(GoalKind.CHEAPER, 0)
            if (
                self.world.job.sheets
                and (not rolls or turn % 4 == 3)
                and turn % (1 + tired // 3) == 0
            ):
                order.append(GoalKind.CHEAPER)
            if rolls:
                order.append(GoalKind.SHORTEN)
        if score.split:
            order.append(GoalKind.TOGETHER)
        order += (
            [GoalKind.SMALLER, GoalKind.LEFTOVER]
            if turn % 2
            else [GoalKind.LEFTOVER, GoalKind.SMALLER]
        )
        if score.cost > bound and not rolls and self.world.job.sheets:
            order.append(GoalKind.CHEAPER)
        if rolls and GoalKind.SHORTEN not in order:
            order.append(GoalKind.SHORTEN)
        return order

    def _make(self, kind: GoalKind, best: Solution, score: Score) -> Goal | None:
        if kind == "place":
            return self._put_together() or self._place(best)
        if kind == "cheaper":
            return self._choose(best, score, kind, None)
        if kind == "smaller":
            return self._choose(best, score, kind, score.foam)
        if kind == "shorten":
            return self._shorten(best, score)
        if kind == "together":
            return self._together(best)
        return self._leftover(best, score)

    # Goals

    def _put_together(self) -> Goal | None:
        """Put parts that were one together on the one sheet, as if it were only as large as they.

        How much larger it is, and which way, is not known: each way is tried once.
        """
        if not (self.jigsaw and self.leads and len(self.rects) == 1):
            return None
        if self.world.regions[0].is_roll or self.world.regions[0].frame:
            return None
        self._placings += 1
        while self._ways and self._ways[0][0] <= self._placings and not self.flags[0]:
            _, wide, high, beam = self._ways.pop(0)
            start = assemble(self.world, [0], beam, self.flags, self._taken_in(wide, high))
            if not (start.where[: self.world.count] == UNPLACED).any():
                one = np.zeros(1, dtype=np.int64)
                return self._goal(GoalKind.PLACE, start, one, self.rects, None, 2)
        return None

    def _taken_in(self, wide: float, high: float) -> Array:
        """Return the one sheet's box as large as all parts, taken in along x and y as exponents."""
        rects = self.rects.copy()
        x0, y0, x1, y1 = rects[0]
        need = sum(kind.grown_area for kind in self.world.kinds) * (1 + MATCH_SLACK)
        share = min(1.0, need / ((x1 - x0) * (y1 - y0)))
        rects[0, 2], rects[0, 3] = x0 + (x1 - x0) * share**wide, y0 + (y1 - y0) * share**high
        return rects

    def _place(self, best: Solution) -> Goal | None:
        """Lay some of what is left over, or a larger part in the place of a smaller one.

        How much in one go follows from how that went: more after a success, less after a failure.
        """
        where = best.where[: self.world.count]
        loose = np.flatnonzero((where == UNPLACED) & self.fits)
        if len(loose) == 0:
            return None
        allowed = np.arange(len(self.rects), dtype=np.int64)
        area = np.array([k.grown_area for k in self.world.kinds])
        start = Solution(best.poses.copy(), best.where.copy())
        laid = np.flatnonzero((where != UNPLACED) & ~self.world.pinned)
        if len(laid) and self.random.random() < EXCHANGE:
            i = int(self.random.choice(loose, p=area[loose] / area[loose].sum()))
            smaller = laid[area[laid] < area[i] * (1 - LITTLE)]
            if len(smaller):
                # The larger the part that makes room, the sooner the other one finds it.
                j = int(self.random.choice(smaller, p=area[smaller] / area[smaller].sum()))
                self._scatter(start, i, allowed)
                start.poses[i, :2], start.where[i] = best.poses[j, :2], best.where[j]
                start.where[j] = UNPLACED
                return self._goal(GoalKind.PLACE, start, allowed, self.rects, None, SHORT_WALK)
        room = sum(self.world.regions[r].area for r in allowed)
        if self.place_pace is None:  # so much that it is likely to go at all
            fill = float(area[where != UNPLACED].sum()) / room
            self.place_pace = Pace(max(LEAST_PLACED, LIKELY - fill), 1.0, 2.0)
        order = self.random.permutation(loose)
        budget, taken = self.place_pace.step * room, 0.0
        some: list[int] = []
        for i in order:
            if not some or taken + area[i] <= budget:
                some.append(int(i))
                taken += area[i]
        for i in some:
            self._scatter(start, i, allowed)
        tries = LONG_WALK if len(some) == len(loose) and taken < 0.05 * room else SHORT_WALK
        return self._goal(GoalKind.PLACE, start, allowed, self.rects, None, tries)

    def _choose(
        self, best: Solution, score: Score, kind: GoalKind, area: float | None
    ) -> Goal | None:
        """Move onto other sheets that cost less, or take less foam at the same cost."""
        if any(self.world.regions[r].is_roll for r in self._used(best)) and kind == "smaller":
            return None
        failed = self.pace.failed.get(kind, 0)
        noise = self.random if failed and self.random.random() < 0.7 else None
        choice = None
        if kind == GoalKind.CHEAPER and self.leads:  # boldly; the other threads go a step at a time
            choice = self.chooser.cheaper(score.cost, None, noise, self.pace.fill)
        if choice is None:
            choice = self.chooser.cheaper(score.cost, area, noise)
        if choice is None:
            return None
        allowed = self._regions_of(choice, best)
        start = Solution(best.poses.copy(), best.where.copy())
        if self.jigsaw and self.leads and failed < MATCHES:
            order = allowed if not failed else self.random.permutation(allowed)
            start = assemble(self.world, [int(r) for r in order], BEAMS[0] // 2, self.flags)
        for i in range(self.world.count):
            if start.where[i] not in allowed and self.fits[i] and not self.world.pinned[i]:
                self._scatter(start, i, allowed)
        return self._goal(kind, start, allowed, self.rects, choice.cost, 1 + min(4, failed // 2))

    def matched(self, best: Solution, beam: int) -> Goal | None:
        """Put a jigsaw together on the roll in use, and let the search clear what is left over."""
        rolls = [r for r in self._used(best) if self.world.regions[r].is_roll]
        if len(rolls) != 1 or len(self._used(best)) > 1:
            return None
        start = assemble(self.world, rolls, beam, self.flags)
        if (start.where[: self.world.count] == UNPLACED).any():
            return None
        rects = self.rects.copy()
        reach = self.reach(start, rolls[0], 0) * (1 + MATCH_SLACK)
        if reach >= self.reach(best, rolls[0], 0):
            return None
        rects[rolls[0], 2] = rects[rolls[0], 0] + reach
        return self._goal(GoalKind.MATCH, start, np.array(rolls, dtype=np.int64), rects, None, 2)

    def _shorten(self, best: Solution, score: Score) -> Goal | None:
        """Take a little off the length of a roll."""
        used = self._used(best)
        rolls = [r for r in used if self.world.regions[r].is_roll]
        if not rolls:
            return None
        region = int(self.random.choice(rolls))
        x0, extent = float(self.rects[region, 0]), self.reach(best, region, 0)
        step = self.pace.step * extent
        rects = self.rects.copy()
        rects[region, 2] = x0 + extent - step
        poses = best.poses.copy()
        split = x0 + extent * float(self.random.uniform(0.1, 0.9))
        on = (best.where == region) & (poses[:, 0] > split)
        on[: self.world.count] &= ~self.world.pinned
        on[self.world.count :] = False
        poses[on, 0] -= step
        start = Solution(poses, best.where.copy())
        allowed = np.array(used, dtype=np.int64)
        tries = LONG_WALK if self.leads else LONGEST_WALK
        return self._goal(GoalKind.SHORTEN, start, allowed, rects, score.cost, tries)

    def eased(self, goal: Goal, best: Solution) -> Goal | None:
        """Return a goal that takes off half as much, or None when that is hardly anything."""
        rects = goal.target.rects.copy()
        for region in np.flatnonzero(rects[:, 2] < self.rects[:, 2]):
            now = float(self.rects[region, 0]) + self.reach(best, int(region), 0)
            left = now - rects[region, 2]
            if left < 2 * SHORTEST_STEP * (now - self.rects[region, 0]):
                return None
            rects[region, 2] = now - left / 2
        return replace(goal, target=Target(rects, goal.target.allowed))

    def _leftover(self, best: Solution, score: Score) -> Goal | None:
        """Push what lies on one sheet together, so that what is left of it is one larger piece."""
        sheets = [r for r in self._used(best) if not self.world.regions[r].is_roll]
        edges = [(region, axis) for region in sheets for axis in (0, 1)]
        reach = None
        for k in self.random.permutation(len(edges)):
            region, axis = edges[k]
            reach = self._push(best, score, region, axis, alone=len(sheets) == 1)
            if reach is not None:
                break
        if reach is None:
            return None
        rects = self.rects.copy()
        rects[region, 2 + axis] = rects[region, axis] + reach
        others = [r for r in sheets if r != region]
        near = [region, *(int(v) for v in self.random.permutation(others)[:2])]
        start = Solution(best.poses.copy(), best.where.copy())
        return self._goal(GoalKind.LEFTOVER, start, np.array(near, dtype=np.int64), rects, None, 1)

    def _push(
        self, best: Solution, score: Score, region: int, axis: int, *, alone: bool
    ) -> float | None:
        """Return how far along an axis a sheet's parts should reach, None if that gains nothing.

        So far at most that what is left along the edge beats the largest leftover known, and, where
        they are `alone` and cannot go elsewhere, no less than their own area takes.
        """
        members = np.flatnonzero(best.where[: self.world.count] == region)
        if self.world.pinned[members].any():
            return None
        whole = float(self.rects[region, 2 + axis] - self.rects[region, axis])
        across = float(self.rects[region, 3 - axis] - self.rects[region, 1 - axis])
        extent = self.reach(best, region, axis)
        need = sum(self.world.kinds[i].grown_area for i in members) if alone else 0.0
        least = need / (FULL * across)
        cell = max(whole, across) / CELLS  # which a leftover is measured to
        most = min(extent * (1 - SHORTEST_STEP), whole - cell + score.leftover / across)
        if most <= least:
            return None
        return max(least, min(most, extent * (1 - self.leftover_pace.step)))

    def _together(self, best: Solution) -> Goal | None:
        """Bring the parts of one group onto one sheet."""
        groups: dict[str, list[int]] = {}
        for i, kind in enumerate(self.world.kinds):
            if kind.spec.group is not None and best.where[i] != UNPLACED:
                groups.setdefault(kind.spec.group, []).append(i)
        apart = [m for m in groups.values() if len({int(best.where[i]) for i in m}) > 1]
        if not apart:
            return None
        members = apart[int(self.random.integers(len(apart)))]
        used = self._used(best)
        fixed = [i for i in members if self.world.pinned[i]]
        region = int(self.random.choice([int(best.where[i]) for i in fixed or members]))
        start = Solution(best.poses.copy(), best.where.copy())
        home = np.full(len(best.where), -1, dtype=np.int64)
        for group in groups.values():
            regions = {int(best.where[i]) for i in group}
            stay = region if group is members else regions.pop() if len(regions) == 1 else -1
            home[group] = stay
        for i in members:
            if start.where[i] != region and not self.world.pinned[i]:
                self._scatter(start, i, np.array([region], dtype=np.int64))
        return self._goal(GoalKind.TOGETHER, start, np.array(used), self.rects, None, 2, home)

    # Means

    def _goal(
        self,
        kind: GoalKind,
        start: Solution,
        allowed: Ints,
        rects: Array,
        cost: Decimal | None,
        tries: int,
        home: Ints | None = None,
    ) -> Goal | None:
        where = start.where[: self.world.count]
        movable = np.flatnonzero(np.isin(where, allowed) & ~self.world.pinned).astype(np.int64)
        if len(movable) == 0 or len(allowed) == 0:
            return None
        return Goal(kind, Target(rects, allowed), start, movable, cost, tries, home)

    def _used(self, best: Solution) -> list[int]:
        return regions_in(best.where[: self.world.count])

    def reach(self, best: Solution, region: int, axis: int) -> float:
        """Return how far the parts in a region reach along x (axis 0) or y (1), from its edge.

        Worked out from the parts: a walk's field holds what the walk is at.
        """
        most = 0.0
        for i in np.flatnonzero(best.where[: self.world.count] == region):
            x, y, c, s, f = best.poses[i]
            ex, ey = self.world.kinds[i].edges[:, 0] * f, self.world.kinds[i].edges[:, 1]
            along = x + c * ex - s * ey if axis == 0 else y + s * ex + c * ey
            most = max(most, float(along.max()) - float(self.rects[region, axis]))
        return most

    def _scatter(self, start: Solution, i: int, allowed: Ints) -> None:
        """Drop item i anywhere; overlaps are the point."""
        areas = np.array([self.world.regions[r].area for r in allowed])
        region = int(self.random.choice(allowed, p=areas / areas.sum()))
        x0, y0, x1, y1 = self.rects[region]
        spins = self.world.kinds[i].orientations
        start.poses[i, :2] = self.random.uniform((x0, y0), (x1, y1))
        start.poses[i, 2:] = spins[int(self.random.integers(len(spins)))]
        start.where[i] = region

    def _regions_of(self, choice: Choice, best: Solution) -> Ints:
        """Return regions for a choice of sheets: those in use first, then fresh ones; and rolls."""
        used = set(self._used(best))
        found = []
        for stock_id, count in self.chooser.with_pins(choice).items():
            copies = [r for r, reg in enumerate(self.world.regions) if reg.stock.id == stock_id]
            pinned = {int(self.world.where[i]) for i in np.flatnonzero(self.world.pinned)}
            copies.sort(key=lambda r: (r not in pinned, r not in used, self.world.regions[r].copy))
            found += copies[:count]
        return np.array(found, dtype=np.int64)
