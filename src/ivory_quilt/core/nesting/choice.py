"""Which sheets to try next: cheaper than what is known, and as roomy as that allows.

An integer program over how many of each stock are used. Parts are assigned to stock that they fit
by size alone; areas must suffice. What it proposes may still be impossible to lay: that is for the
search to find out, and what failed is proposed again only when its turn comes.
"""

from collections import Counter
from collections.abc import Mapping
from decimal import Decimal
from functools import cached_property

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.job import SheetSpec
from ivory_quilt.core.nesting.world import World
from ivory_quilt.core.record import Struct

TIGHTEST = 0.995  # share of the area that parts may need for a choice to be worth a try
CENTS = 100


class Choice(Struct, frozen=True):
    """How many of each stock id, with the cost and area of all together."""

    counts: tuple[tuple[str, int], ...]
    cost: Decimal
    area: float


class Chooser:
    """Proposes choices of sheets for one world; rolls are left out (their length is searched)."""

    def __init__(self, world: World) -> None:
        """Work out which parts fit which stock."""
        self.world = world
        self.sheets = [s for s in world.job.sheets if s.quantity is None or s.quantity > 0]
        self.areas = np.array([_room(world, s) for s in self.sheets])
        self.most = np.array(
            [_most(s, a, self.need) for s, a in zip(self.sheets, self.areas, strict=True)]
        )

    @cached_property
    def need(self) -> float:
        """Grown area of all parts, mm²."""
        return float(sum(k.grown_area for k in self.world.kinds))

    @cached_property
    def groups(self) -> tuple[Array, Array]:
        """Parts by the set of sheets that they fit: (area of each group, (g, s) 1 if it fits)."""
        found: Counter[tuple[bool, ...]] = Counter()
        for kind in self.world.kinds:
            fits = tuple(self.world.may_lie(kind, s.id) for s in self.sheets)
            if any(fits):
                found[fits] += kind.grown_area  # type: ignore[assignment]
        return np.array(list(found.values()), dtype=float), np.array(list(found), dtype=float)

    def cheaper(
        self,
        cost: Decimal,
        area: float | None,
        noise: np.random.Generator | None = None,
        fill: float | None = None,
    ) -> Choice | None:
        """Return the roomiest choice under `cost`; or at most that cost and under an area.

        With `fill`, the cheapest choice that parts need fill to that share only. `noise` makes one
        kind of sheet seem roomier than another: for when the first failed.
        """
        if not self.sheets or (self.areas <= 0).all():
            return None
        cents = np.array([float(s.cost * CENTS) for s in self.sheets])
        worth = self.areas.copy()
        if noise is not None:
            worth = worth * noise.uniform(0.6, 1.4, len(worth))
        rows, low, high = [cents], [0.0], [float(cost * CENTS) - (0 if area is not None else 1)]
        if area is not None:
            whole = np.array([s.shape.area for s in self.sheets])
            rows.append(whole)
            low.append(0.0)
            high.append(area * (1 - 1e-6) - 1e-6)
        if fill is not None:
            # A cent counts for more than all the room that could be had instead.
            worth = worth * (0.5 / max(1.0, float(self.areas @ self.most))) - cents
        counts = self._solve(worth, rows, low, high, fill or TIGHTEST)
        if counts is None:
            return None
        pairs = tuple((s.id, int(n)) for s, n in zip(self.sheets, counts, strict=True) if n)
        total = sum((s.cost * int(n) for s, n in zip(self.sheets, counts, strict=True)), Decimal(0))
        return Choice(pairs, total, float(self.areas @ counts))

    def _solve(
        self, worth: Array, rows: list[Array], low: list[float], high: list[float], fill: float
    ) -> Array | None:
        """Maximise the worth of n sheets of each kind so that all groups of parts find room."""
        # Half a second to load, and only ever needed off the interface thread.
        from scipy.optimize import Bounds, LinearConstraint, milp

        areas, fits = self.groups
        if len(areas) == 0:
            return None
        g, s = fits.shape
        size = s + g * s  # counts, then the area of group i laid on kind j of sheet
        matrix, lows, highs = [], [], []
        for row, least, most in zip(rows, low, high, strict=True):
            matrix.append(np.concatenate((row, np.zeros(g * s))))
            lows.append(least)
            highs.append(most)
        for i in range(g):
            line = np.zeros(size)
            line[s + i * s : s + (i + 1) * s] = fits[i]
            matrix.append(line)
            lows.append(areas[i])
            highs.append(np.inf)
        for j in range(s):
            line = np.zeros(size)
            line[j] = -self.areas[j] * fill
            line[s + j :: s] = 1.0
            matrix.append(line)
            lows.append(-np.inf)
            highs.append(0.0)
        answer = milp(
            np.concatenate((-worth, np.zeros(g * s))),
            constraints=LinearConstraint(np.array(matrix), lows, highs),
            bounds=Bounds(np.zeros(size), np.concatenate((self.most, np.full(g * s, np.inf)))),
            integrality=np.concatenate((np.ones(s), np.zeros(g * s))),
        )
        return None if answer.x is None else np.round(answer.x[:s])

    def with_pins(self, choice: Choice) -> Mapping[str, int]:
        """Return the counts of a choice, raised to what pinned parts lie on."""
        counts = dict(choice.counts)
        pinned = {int(self.world.where[i]) for i in np.flatnonzero(self.world.pinned)}
        taken = Counter(self.world.regions[r].stock.id for r in pinned)
        return {s: max(counts.get(s, 0), taken[s]) for s in sorted({*counts, *taken})}


def _room(world: World, sheet: SheetSpec) -> float:
    region = world.region_index(sheet.id, 0)
    return world.regions[region].area if region is not None else 0.0


def _most(sheet: SheetSpec, area: float, need: float) -> float:
    if area <= 0:
        return 0.0
    enough = float(np.ceil(need / area * 1.6)) + 1
    return enough if sheet.quantity is None else min(float(sheet.quantity), enough)
