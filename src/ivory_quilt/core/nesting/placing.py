"""Laying what is left over: bit by bit, in exchange, or put together as the parts once were."""

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.goal import LONG_WALK, Goal, GoalKind, Pace, goal_of, scatter
from ivory_quilt.core.nesting.jigsaw import BEAMS, assemble
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.world import UNPLACED, Solution, World

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


class PartPlacer:
    """Makes the goals of one walker that lay parts which lie nowhere yet."""

    def __init__(
        self,
        world: World,
        random: np.random.Generator,
        flags: Ints,
        fits: npt.NDArray[np.bool_],
        *,
        together: bool,
    ) -> None:
        """Place on `world` the items that `fits` (i,) says may lie anywhere.

        `together`: whether putting parts together by their edges is tried.
        """
        self._world, self._random, self._flags, self._fits = world, random, flags, fits
        self._together = together
        self._rects = world.rects()
        self.pace: Pace | None = None
        """How much is placed in one go; None before the first time."""
        self._ways = [
            (turn, w, h, beam)
            for beam, turns in zip(BEAMS, WAY_TURNS, strict=True)
            for turn, (w, h) in zip(turns, WAYS, strict=True)
        ]
        self._turns = 0

    def next(self, best: Solution) -> Goal | None:
        """Return what to try next, None when nothing is left over."""
        return self._put_together() or self._place(best)

    def _put_together(self) -> Goal | None:
        """Put parts that were one together on the one sheet, as if it were only as large as they.

        How much larger it is, and which way, is not known: each way is tried once.
        """
        if not (self._together and len(self._rects) == 1):
            return None
        if self._world.regions[0].is_roll or self._world.regions[0].frame:
            return None
        self._turns += 1
        while self._ways and self._ways[0][0] <= self._turns and not self._flags[0]:
            _, wide, high, beam = self._ways.pop(0)
            start = assemble(self._world, [0], beam, self._flags, self._taken_in(wide, high))
            if not (start.where[: self._world.count] == UNPLACED).any():
                one = np.zeros(1, dtype=np.int64)
                return goal_of(self._world, GoalKind.PLACE, start, one, self._rects, None, 2)
        return None

    def _taken_in(self, wide: float, high: float) -> Array:
        """Return the one sheet's box as large as all parts, taken in along x and y as exponents."""
        rects = self._rects.copy()
        x0, y0, x1, y1 = rects[0]
        need = sum(kind.grown_area for kind in self._world.kinds) * (1 + MATCH_SLACK)
        share = min(1.0, need / ((x1 - x0) * (y1 - y0)))
        rects[0, 2], rects[0, 3] = x0 + (x1 - x0) * share**wide, y0 + (y1 - y0) * share**high
        return rects

    def _place(self, best: Solution) -> Goal | None:
        """Lay some of what is left over, or a larger part in the place of a smaller one.

        How much in one go follows from how that went: more after a success, less after a failure.
        """
        where = best.where[: self._world.count]
        loose = np.flatnonzero((where == UNPLACED) & self._fits)
        if len(loose) == 0:
            return None
        allowed = np.arange(len(self._rects), dtype=np.int64)
        area = np.array([k.grown_area for k in self._world.kinds])
        value = self._world.values
        worth = value / area
        start = Solution(best.poses.copy(), best.where.copy())
        laid = np.flatnonzero((where != UNPLACED) & ~self._world.pinned)
        if len(laid) and self._random.random() < EXCHANGE:
            i = int(self._random.choice(loose, p=value[loose] / value[loose].sum()))
            smaller = laid[value[laid] < value[i] * (1 - LITTLE)]
            if len(smaller):
                # The larger the part that makes room, the sooner the other one finds it.
                j = int(self._random.choice(smaller, p=area[smaller] / area[smaller].sum()))
                self._scatter(start, i, allowed)
                start.poses[i, :2], start.where[i] = best.poses[j, :2], best.where[j]
                start.where[j] = UNPLACED
                return goal_of(
                    self._world, GoalKind.PLACE, start, allowed, self._rects, None, SHORT_WALK
                )
        room = sum(self._world.regions[r].area for r in allowed)
        if self.pace is None:  # so much that it is likely to go at all
            fill = float(area[where != UNPLACED].sum()) / room
            self.pace = Pace(max(LEAST_PLACED, LIKELY - fill), 1.0, 2.0)
        order = self._random.permutation(loose)
        order = order[np.argsort(-worth[order], kind="stable")]
        budget, taken = self.pace.step * room, 0.0
        some: list[int] = []
        for i in order:
            if not some or taken + area[i] <= budget:
                some.append(int(i))
                taken += area[i]
        for i in some:
            self._scatter(start, i, allowed)
        tries = LONG_WALK if len(some) == len(loose) and taken < 0.05 * room else SHORT_WALK
        return goal_of(self._world, GoalKind.PLACE, start, allowed, self._rects, None, tries)

    def _scatter(self, start: Solution, i: int, allowed: Ints) -> None:
        scatter(self._world, start, i, allowed, self._rects, self._random)
