"""What a walker tries next, and how far it reaches."""

from decimal import Decimal

import numpy as np

from ivory_quilt.core.nesting.beside import side_by_side
from ivory_quilt.core.nesting.choice import Choice, Chooser
from ivory_quilt.core.nesting.goal import (
    LONG_WALK,
    SHORTEST_STEP,
    Goal,
    GoalKind,
    Pace,
    goal_of,
    scatter,
)
from ivory_quilt.core.nesting.jigsaw import BEAMS, assemble, is_jigsaw
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.placing import MATCH_SLACK, PartPlacer
from ivory_quilt.core.nesting.score import CELLS, Score
from ivory_quilt.core.nesting.walk import Target
from ivory_quilt.core.nesting.world import UNPLACED, Solution, World, regions_in
from ivory_quilt.core.record import replace

FIRST_PUSH, LONGEST_PUSH = 0.05, 0.4
"""Share that the parts of a sheet are pushed together by in one go, to leave a larger piece."""
FULL = 0.99  # share of a sheet's breadth that its parts are never pushed beyond

LONGEST_WALK = 40  # the same for the length of a roll, by a walker that does not lead
BESIDE_TRIES = 2  # layouts given up before parts are put side by side elsewhere
MATCHES = 8  # failures after which parts are no longer put together by matching edges


class Planner:
    """Makes goals for one walker, from the best layout that it knows."""

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
        self.jigsaw = is_jigsaw(self.world)
        if self.jigsaw:
            self.pace.fill = 0.92
        self.flags, self.leads = flags, leads
        fit = [any(world.may_lie(p, s) for s in world.job.stock) for p in world.pieces]
        self.fits = np.array(
            [fit[world.piece_number(i)] for i in range(world.count)], dtype=bool
        ).reshape(-1)
        self.placing = PartPlacer(
            world, random, flags, self.fits, together=self.jigsaw and self.leads
        )

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
        tired = self.pace.failed.get(GoalKind.BESIDE, 0)
        if score.apart and turn % (1 + tired // 3) == 0:
            order.append(GoalKind.BESIDE)
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
            return self.placing.next(best)
        if kind == "cheaper":
            return self._choose(best, score, kind, None)
        if kind == "smaller":
            return self._choose(best, score, kind, score.foam)
        if kind == "shorten":
            return self._shorten(best, score)
        if kind == "together":
            return self._together(best)
        if kind == "beside":
            return self._beside(best)
        return self._leftover(best, score)

    # Goals

    def _choose(
        self, best: Solution, score: Score, kind: GoalKind, area: float | None
    ) -> Goal | None:
        """Move onto other sheets that cost less, or take less foam at the same cost."""
        if any(self.world.regions[r].is_roll for r in self._used(best)) and kind == "smaller":
            return None
        failed = self.pace.failed.get(kind, 0)
        noise = self.random if failed and self.random.random() < 0.7 else None
        choice = None
        if kind == GoalKind.CHEAPER and self.leads:  # boldly; the other walkers go a step at a time
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
        return goal_of(
            self.world, kind, start, allowed, self.rects, choice.cost, 1 + min(4, failed // 2)
        )

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
        return goal_of(
            self.world, GoalKind.MATCH, start, np.array(rolls, dtype=np.int64), rects, None, 2
        )

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
        return goal_of(self.world, GoalKind.SHORTEN, start, allowed, rects, score.cost, tries)

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
        return goal_of(
            self.world, GoalKind.LEFTOVER, start, np.array(near, dtype=np.int64), rects, None, 1
        )

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
        groups = self._groups(best)
        apart = [m for m in groups if len({int(best.where[i]) for i in m}) > 1]
        if not apart:
            return None
        members = apart[int(self.random.integers(len(apart)))]
        used = self._used(best)
        fixed = [i for i in members if self.world.pinned[i]]
        region = int(self.random.choice([int(best.where[i]) for i in fixed or members]))
        start = Solution(best.poses.copy(), best.where.copy())
        home = self._home(best)
        home[list(members)] = region
        for i in members:
            if start.where[i] != region and not self.world.pinned[i]:
                self._scatter(start, i, np.array([region], dtype=np.int64))
        return goal_of(
            self.world, GoalKind.TOGETHER, start, np.array(used), self.rects, None, 2, home
        )

    def _beside(self, best: Solution) -> Goal | None:
        """Put the parts of one group side by side, and let all others make way."""
        found = side_by_side(self.world, best, self.rects, self.random)
        if found is None:
            return None
        start, held = found
        allowed = np.array(self._used(best), dtype=np.int64)
        goal = goal_of(
            self.world,
            GoalKind.BESIDE,
            start,
            allowed,
            self.rects,
            None,
            BESIDE_TRIES,
            self._home(best),
        )
        if goal is None:
            return None
        others = np.setdiff1d(goal.movable, held)
        return replace(goal, movable=others) if len(others) else goal

    # Means

    def _groups(self, best: Solution) -> list[tuple[int, ...]]:
        """Return the placed parts of each group."""
        groups = self.world.groups.values()
        return [tuple(i for i in members if best.where[i] != UNPLACED) for members in groups]

    def _home(self, best: Solution) -> Ints:
        """Return the sheet that each item must stay on: its group's, where that lies on one."""
        home = np.full(len(best.where), -1, dtype=np.int64)
        for members in self._groups(best):
            regions = {int(best.where[i]) for i in members}
            if len(regions) == 1:
                home[list(members)] = regions.pop()
        return home

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
        scatter(self.world, start, i, allowed, self.rects, self.random)

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
