"""A walk: goes towards a target until nothing overlaps, a portion at a time.

A target says which regions may be used and how far each reaches. When the walk is stuck it goes
back to one of the least overlapping layouts it met, disturbs it, and tries again.
"""

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.disturb import disturbed
from ivory_quilt.core.nesting.field import OverlapField
from ivory_quilt.core.nesting.kernels.relax import PAUSED, SOLVED, relax, renew_all
from ivory_quilt.core.nesting.kernels.tables import Ints, make_scratch
from ivory_quilt.core.nesting.world import Solution
from ivory_quilt.core.record import Struct

PATIENCE = 50  # rounds without a better total before going back
STRIKES = 3  # times of going back before a walk gives its layout up
HOPELESS = 1000  # failures that no goal allows
RACE = 1.5  # times the least overlap in the pool that is given up after one strike already
POOL = 12  # layouts kept to start from again
FAR = 8  # layouts given up at one goal before it is tried further off
AGAIN = 0.35  # share of other starts that leave a layout as it was, with all weights forgotten
EFFORT = (40, 20, 8)  # samples of one move: anywhere, nearby, fitted edge to edge


class Target(Struct, frozen=True):
    """Where everything must come to lie: boxes of all regions, and those that may be used."""

    rects: Array
    allowed: Ints


class Walk:
    """The state of one walker's search; deterministic by its seed and the quotas it is given."""

    def __init__(self, field: OverlapField, seed: int, flags: Ints) -> None:
        """Search with `field`, which nobody else uses; `flags[0]` stops a portion."""
        self.field = field
        self.flags = flags
        self.random = np.random.default_rng(seed)
        self.rng = np.array([(seed * 2654435761 + 12345) % 2**63], dtype=np.uint64)
        self.effort = np.array(EFFORT, dtype=np.int64)
        self.movable: Ints = np.zeros(0, dtype=np.int64)
        self.target: Target | None = None
        self.stats = np.array([np.inf, 0.0, 0.0])
        self.strikes = 0
        self.least = np.inf
        self.pool: list[tuple[float, Solution]] = []
        self.failures = 0
        self.scratch = make_scratch(field.placed)

    def aim(self, target: Target, start: Solution, movable: Ints, home: Ints | None = None) -> None:
        """Begin anew towards `target` from a layout whose items may overlap and stand out.

        `home` names the region that an item must stay in, −1 where it may lie in any.
        """
        self.target, self.movable = target, movable
        self.field.placed.home[:] = -1 if home is None else home
        self._share = np.cumsum(_areas(target)) / _areas(target).sum()
        self.pool = []
        self.failures = 0
        self._begin(start)

    def ease(self, target: Target) -> None:
        """Go on from where everything lies towards a target with a little more room."""
        self.target = target
        self._forget()

    def _forget(self) -> None:
        """Count rounds, strikes and the least overlap anew."""
        self.stats[:2] = np.inf, 0
        self.strikes = 0
        self.least = np.inf

    @property
    def rounds(self) -> int:
        """Rounds made so far, over all targets."""
        return int(self.stats[2])

    def _begin(self, start: Solution) -> None:
        placed = self.field.placed
        self.field.load(start.poses, start.where)
        self._bring_inside()
        placed.weights[:, :] = 1.0
        renew_all(self.field.shapes, placed, self.movable, self.scratch)
        self._forget()

    def work(self, quota: int) -> int:
        """Search on for a portion; return SOLVED, or PAUSED when the portion is used up."""
        assert self.target is not None
        field, best = self.field, self.field.best
        status = relax(
            field.shapes,
            field.placed,
            self.movable,
            self.target.rects,
            self.target.allowed,
            self._share,
            self.effort,
            best.poses,
            best.where,
            self.stats,
            PATIENCE,
            quota,
            self.scratch,
            self.rng,
            self.flags,
        )
        if status == SOLVED:
            if self._all_inside():
                return SOLVED
            # A part that is larger than its target as it lies overlaps nothing and never moves.
            self.failures = HOPELESS
            return PAUSED
        if status != PAUSED:
            self._go_back()
        return PAUSED

    def _go_back(self) -> None:
        total = float(self.stats[0])
        if total < 0.98 * self.least:
            self.strikes = 0
            self.least = total
        else:
            self.strikes += 1
        best = self.field.best
        if self.strikes < STRIKES and not (
            self.strikes >= 1 and self.pool and total > RACE * self.pool[0][0]
        ):
            self._restore(Solution(best.poses.copy(), best.where.copy()))
            self.stats[1] = 0
            return
        self.failures += 1
        self.pool.append((total, Solution(best.poses.copy(), best.where.copy())))
        self.pool.sort(key=lambda p: p[0])
        del self.pool[POOL:]
        pick = min(len(self.pool) - 1, int(abs(self.random.normal(0.0, 0.25)) * len(self.pool)))
        assert self.target is not None
        rects, allowed = self.target.rects, self.target.allowed
        start = self.pool[pick][1]
        # Many walks end for want of patience only: trying once more brings the most to their goal,
        # round for round.
        if self.random.random() >= AGAIN:
            far = self.failures > FAR
            start = disturbed(start, self.field, self.movable, rects, allowed, self.random, far=far)
        self._begin(start)

    def _restore(self, solution: Solution) -> None:
        """Go back to a layout and keep what the weights have learned."""
        self.field.load(solution.poses, solution.where)
        renew_all(self.field.shapes, self.field.placed, self.movable, self.scratch)

    def _bring_inside(self) -> None:
        """Move items that stand out of their region's box back in."""
        assert self.target is not None
        placed, rects = self.field.placed, self.target.rects
        for i in self.movable:
            region = int(placed.where[i])
            if region not in self.target.allowed:
                region = int(self.random.choice(self.target.allowed))
            x0, y0, x1, y1 = rects[region]
            self._turn_to_fit(int(i), region)
            high_x, high_y, _, _, low_x, low_y, _, _ = placed.boxes[:, i]
            pose = placed.poses[i].copy()
            dx = x1 - high_x if high_x > x1 else max(0.0, x0 - low_x)
            dy = y1 - high_y if high_y > y1 else max(0.0, y0 - low_y)
            if dx or dy or region != placed.where[i]:
                pose[0] += dx
                pose[1] += dy
                self.field.set(int(i), pose, region)

    def _turn_to_fit(self, i: int, region: int) -> None:
        """Take another orientation where the present one is larger than the target."""
        assert self.target is not None
        shapes, placed = self.field.shapes, self.field.placed
        x0, y0, x1, y1 = self.target.rects[region]
        wide, high = x1 - x0 + 1e-9, y1 - y0 + 1e-9
        box = placed.boxes[:, i]
        if box[0] - box[4] <= wide and box[1] - box[5] <= high:
            return
        kind = shapes.kind[i]
        for o in range(int(shapes.first[kind]), int(shapes.first[kind + 1])):
            own = shapes.boxes[o]
            if own[0] - own[4] <= wide and own[1] - own[5] <= high:
                pose = np.array([*placed.poses[i, :2], *shapes.spin[o]])
                self.field.set(i, pose, region)
                return

    def _all_inside(self) -> bool:
        assert self.target is not None
        placed = self.field.placed
        boxes, rects = placed.boxes[:, self.movable], self.target.rects[placed.where[self.movable]]
        slack = 1e-6
        return bool(
            (boxes[0] <= rects[:, 2] + slack).all()
            and (boxes[1] <= rects[:, 3] + slack).all()
            and (boxes[4] >= rects[:, 0] - slack).all()
            and (boxes[5] >= rects[:, 1] - slack).all()
        )

    def solution(self) -> Solution:
        """Return the present layout."""
        placed = self.field.placed
        return Solution(placed.poses.copy(), placed.where.copy())


def _areas(target: Target) -> Array:
    rects = target.rects[target.allowed]
    return (rects[:, 2] - rects[:, 0]) * (rects[:, 3] - rects[:, 1])
