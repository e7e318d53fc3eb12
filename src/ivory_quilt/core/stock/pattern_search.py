"""Patterns for a cutting-stock job: made as prices ask for them, listed, and put together whole.

P. C. Gilmore and R. E. Gomory, "A linear programming approach to the cutting-stock problem",
Operations Research 9 (1961); whole numbers of uses by diving.
"""

import math
from collections.abc import Callable

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.stock.bar_filling import fill_bars
from ivory_quilt.core.stock.cut_patterns import CutPattern, Ints, LinearAnswer, PatternMaster
from ivory_quilt.core.stock.knapsack import Knapsack

STATES = 30_000  # steps into which the longest bar is parted at most
QUICK_STATES = 2500
ROUGHLY, MOST_TURNS = 12, 5000  # patterns added a bar
STEADY = 0.7  # of the last prices in the next ones
SURE = 0.75  # of a pattern is as good as all of it
Going = Callable[[], bool]


class PatternSearch:
    """Lengths and bars in whole steps, and what can be cut of them.

    Attributes:
        room: steps in each bar.
        wide: of each length, rounded up: patterns found so do fit.
        narrow: rounded down, with `rough_room` rounded up: no true pattern is left out so.
        exact: whether nothing had to be rounded.
    """

    def __init__(self, widths: list[int], room: list[int], demand: Ints, going: Going) -> None:
        """Lengths of `widths` (with their kerf) and bars of `room`, in the finest steps."""
        self.demand, self.going = demand, going
        unit = math.gcd(*widths, *room)
        if max(room) // unit > STATES:
            unit = -(-max(room) // STATES)
        self.exact = all(w % unit == 0 for w in (*widths, *room))
        self.room = np.array([r // unit for r in room])
        self.wide = np.array([-(-w // unit) for w in widths])
        self.narrow = np.array([w // unit for w in widths])
        self.rough_room = np.array([-(-r // unit) for r in room])
        # Most patterns are found in wider steps, and only the last ones in fine ones.
        wider = max(1, int(self.room.max()) // QUICK_STATES)
        self.rough = [(-(-self.wide // w), self.room // w) for w in {wider, 1}]
        self.rough.sort(key=lambda it: int(it[1].max()))

    def start(self, demand: Ints, master: PatternMaster) -> None:
        """Begin with each length alone on each bar that holds it, as often as it goes."""
        for b in range(len(self.room)):
            for k in np.flatnonzero((self.wide <= self.room[b]) & (demand > 0)):
                counts = [0] * len(self.wide)
                counts[k] = int(min(self.room[b] // self.wide[k], demand[k]))
                master.add(CutPattern(b, tuple(counts)))

    def generate(
        self, master: PatternMaster, demand: Ints, limits: Array, *, roughly: bool = False
    ) -> LinearAnswer:
        """Solve the linear program, with the patterns that it needs.

        Where bars cost nothing, as soon as everything is covered; `roughly`, as far as a few more
        patterns take it.
        """
        free = not master.costs.any()
        lp = master.solve(demand, limits)
        before = lp.worth
        for widths, room in self.rough[:1] if roughly else self.rough:
            tries = ROUGHLY if roughly else MOST_TURNS
            while tries and not (free and not lp.missing) and self.going():
                tries -= 1
                # Prices between the last ones and these swing less: P. Wentges, "Weighted
                # Dantzig-Wolfe decomposition …", Int. Transactions in Op. Research 4 (1997).
                between = STEADY * before + (1 - STEADY) * lp.worth
                for worth in (between, lp.worth):
                    before = worth
                    if self._price_patterns(master, lp, worth, demand, limits, widths, room):
                        break
                else:
                    break
                lp = master.solve(demand, limits)
        return lp

    def _price_patterns(
        self,
        master: PatternMaster,
        lp: LinearAnswer,
        worth: Array,
        demand: Ints,
        limits: Array,
        widths: Ints,
        room: Ints,
    ) -> bool:
        """Add each bar's best pattern at some prices, where at the program's own it is worth more
        than it costs; return whether any is new.
        """
        added = False
        table = Knapsack(widths, demand, worth, int(room.max()))
        for b in np.flatnonzero(limits > 0):
            counts = table.counts(int(room[b]))
            if float(np.dot(counts, lp.worth)) > master.costs[b] - lp.more[b] + 1e-7:
                added |= master.add(CutPattern(int(b), counts))
        return added

    def most_worth(self, worth: Array) -> Array:
        """Return the most that the lengths cut from one bar of each kind can be worth."""
        table = Knapsack(self.narrow, self.demand, worth, int(self.rough_room.max()))
        return np.array([table.best(int(r)) for r in self.rough_room])

    def dive(
        self,
        master: PatternMaster,
        lp: LinearAnswer,
        limits: Array,
        *,
        roughly: bool = True,
        filling: bool = False,
    ) -> dict[CutPattern, int] | None:
        """Round the pattern nearest to a whole number of uses, solve what is left, and again.

        `filling`: try whether the bars that are left can simply be filled; all are there to be
        used.
        """
        demand, limits = self.demand.copy(), limits.copy()
        taken: dict[CutPattern, int] = {}
        while self.going() and lp.use and not lp.missing:
            sure = {p: int(u + 1e-6) for p, u in lp.use.items() if u >= 1 - 1e-6}
            if not sure:
                most = max(lp.use.values())
                sure = {p: 1 for p, u in lp.use.items() if u >= min(most, SURE)}
            for pattern, count in sure.items():
                for _ in range(count):
                    if limits[pattern.bar] < 1 or (np.array(pattern.counts) > demand).any():
                        break
                    taken[pattern] = taken.get(pattern, 0) + 1
                    limits[pattern.bar] -= 1
                    demand = demand - pattern.counts
            if not demand.any():
                return taken
            rest = self.fill(limits, demand) if filling else None
            if rest is not None:
                return {p: taken.get(p, 0) + rest.get(p, 0) for p in {**taken, **rest}}
            self.start(demand, master)
            lp = self.generate(master, demand, limits, roughly=roughly)
        return None

    def dives(
        self, holding: PatternMaster, found: LinearAnswer, counts: Array, times: int
    ) -> dict[CutPattern, int] | None:
        """Dive a few times, each from another corner of the linear program."""
        for turn in range(times):
            made = self.dive(holding, found, counts, filling=True)
            if made is not None or not self.going():
                return made
            holding.prefer_others(turn)
            found = holding.solve(self.demand, counts)
        return None

    def within(self, b: int, least: float, worth: Array, most: int) -> list[CutPattern] | None:
        """Return all patterns of a bar worth at least so much; None when they are too many."""
        table = Knapsack(self.wide, self.demand, worth, int(self.room[b]))
        found: list[CutPattern] = []
        for counts in table.all_worth(least, int(self.room[b])):
            found.append(CutPattern(b, counts))
            if len(found) > most or (len(found) % 1000 == 0 and not self.going()):
                return None
        return found

    def fill(self, counts: Array, demand: Ints) -> dict[CutPattern, int] | None:
        """Fill just these numbers of bars without the program, where that is easy."""
        bars = np.repeat(np.arange(len(counts)), counts.astype(np.int64)).tolist()
        return fill_bars(bars, self.room, self.wide, demand, self.going)
