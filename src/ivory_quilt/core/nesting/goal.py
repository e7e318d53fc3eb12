"""A goal of the search: where parts may lie, what to start from, and how large its steps are."""

from decimal import Decimal
from enum import StrEnum

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.walk import Target
from ivory_quilt.core.nesting.world import Solution, World
from ivory_quilt.core.record import Struct, field

FIRST_STEP, LONGEST_STEP, SHORTEST_STEP = 0.01, 0.02, 0.0008
"""Share that a roll or the foam in use is shortened by in one go: at first, at most, at least."""
LONG_WALK = 10  # layouts given up, and disturbed ones tried, before a goal is given up


class Pace(Struct):
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
    BESIDE = "beside"
    MATCH = "match"
    LEFTOVER = "leftover"


class Goal(Struct, frozen=True):
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


def goal_of(
    world: World,
    kind: GoalKind,
    start: Solution,
    allowed: Ints,
    rects: Array,
    cost: Decimal | None,
    tries: int,
    home: Ints | None = None,
) -> Goal | None:
    """Return a goal on the regions `allowed`, None when nothing may move there."""
    where = start.where[: world.count]
    movable = np.flatnonzero(np.isin(where, allowed) & ~world.pinned).astype(np.int64)
    if len(movable) == 0 or len(allowed) == 0:
        return None
    return Goal(kind, Target(rects, allowed), start, movable, cost, tries, home)


def scatter(
    world: World, start: Solution, i: int, allowed: Ints, rects: Array, random: np.random.Generator
) -> None:
    """Drop item i anywhere on the regions `allowed`; overlaps are the point."""
    areas = np.array([world.regions[r].area for r in allowed])
    region = int(random.choice(allowed, p=areas / areas.sum()))
    x0, y0, x1, y1 = rects[region]
    spins = world.kinds[i].orientations
    start.poses[i, :2] = random.uniform((x0, y0), (x1, y1))
    start.poses[i, 2:] = spins[int(random.integers(len(spins)))]
    start.where[i] = region
