"""One-dimensional goods cut at the least cost, with a proof.

The linear program over cutting patterns is solved by column generation: P. C. Gilmore and
R. E. Gomory, "A linear programming approach to the cutting-stock problem", Operations Research 9
(1961). Patterns of bounded counts come from a knapsack by dynamic programming. The program's value,
rounded up to what bars can cost at all, is a bound. Numbers of bars are then tried in the order of
their cost: simply filled; by diving; and where all patterns that such numbers leave room for can be
listed, by an integer program over those, which is exact. Where a gap is left, every pattern whose
reduced cost is within it is listed.
"""

import math
from collections.abc import Iterator
from decimal import ROUND_HALF_UP, Decimal

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.stock.bar_filling import close_patterns
from ivory_quilt.core.stock.cut_patterns import (
    BarCounts,
    CutPattern,
    LinearAnswer,
    PatternMaster,
    whole_uses,
)
from ivory_quilt.core.stock.lengths_job import (
    FINEST,
    BarStock,
    CutBar,
    LengthDemand,
    LengthsJob,
    LengthsPlan,
)
from ivory_quilt.core.stock.pattern_search import Going, PatternSearch

MOST_TRIED = 12_000  # listed for one number of bars
MOST_PATTERNS = 120_000  # listed within a gap; more is too much to prove with
PROVING = 3.0  # s at most for the last program
TRYING = 0.5  # s for one number of bars
FIRST_COUNTS = 3  # numbers of bars that are tried before the program's own pattern costs are
FIRST_DIVES, DIVES = 2, 16  # into one number of bars
MOST_COUNTS = 40  # numbers of bars that are tried
NEAR = 1e-7  # of the whole cost: what the linear program's rounding may be off


def always() -> bool:
    """Never stop."""
    return True


def cut_at_least_cost(job: LengthsJob, going: Going = always) -> LengthsPlan:
    """Return how to cut all demands at the least cost, proven where the plan says `optimal`.

    Once `going` returns False the best so far is returned.

    Raises:
        InputError: the bars that there are do not suffice.
    """
    if not any(d.quantity for d in job.demands):
        return LengthsPlan((), Decimal(0), Decimal(0))
    return _Cutting(job, going).plan()


class _Cutting:
    """Demands of one length are one kind; lengths are whole steps of `unit`."""

    def __init__(self, job: LengthsJob, going: Going) -> None:
        self.job, self.going = job, going
        self.bars = [b for b in job.stock if b.quantity != 0]
        sizes: dict[int, list[LengthDemand]] = {}
        for demand in job.demands:
            if demand.quantity:
                sizes.setdefault(_steps(demand.length), []).append(demand)
        self.lengths = sorted(sizes, reverse=True)
        self.wanted = [sizes[s] for s in self.lengths]
        self.demand = np.array([sum(d.quantity for d in w) for w in self.wanted])
        self.scale = _money_step(self.bars)
        self.costs = np.array([float(b.cost / self.scale) for b in self.bars])
        self.limits = np.array([np.inf if b.quantity is None else b.quantity for b in self.bars])
        kerf = _steps(job.kerf)
        # With a kerf after every length, the last of which may fall off the bar.
        widths = [size + kerf for size in self.lengths]
        room = [_steps(job.usable(b)) + kerf for b in self.bars]
        self.search = PatternSearch(widths, room, self.demand, going)
        owned = float(self.limits[np.isfinite(self.limits)].sum())
        # Dear enough never to be left out where anything can cover it.
        dear = np.full(len(self.lengths), 10 * (self.costs.max() + 1) * max(1.0, owned))
        self.master = PatternMaster(self.costs, self.limits, self.demand, dear)

    def plan(self) -> LengthsPlan:
        search = self.search
        search.start(self.demand, self.master)
        for b in range(len(self.bars)):
            for pattern in close_patterns(b, search.room, search.wide, self.demand):
                if self.limits[b] > 0:
                    self.master.add(pattern)
        lp = self.search.generate(self.master, self.demand, self.limits)
        if lp.missing:
            raise self._short("there are too few of them")
        value = min(lp.value, self._true_value(lp))
        bound = math.ceil(value - NEAR * max(1.0, value))
        need = self._counts_needed(lp)
        best, bound = self._by_counts(None, bound, need, lp, FIRST_COUNTS)
        if best is None:
            best = self.search.dive(self.master, lp, self.limits)
        if best is None or self._price(best) > bound:
            best, bound = self._by_counts(best, bound, need, lp, MOST_COUNTS)
        if best is None or self._price(best) > bound:
            best, bound = self._prove(best, bound, value, lp)
        if best is None:
            raise self._short("these bars do not hold them all together")
        return self._answer(best, min(bound, self._price(best)))

    def _counts_needed(self, lp: LinearAnswer) -> BarCounts:
        """Return what whole numbers of bars must obey to hold everything.

        Each rule says what the lengths are worth at least, at prices at which a bar holds at most
        so much: numbers of bars that break it hold not everything.
        """
        need = BarCounts(self.costs, self.search.room, self.limits, int(self.demand.sum()))
        for worth in (lp.worth, self.search.narrow.astype(float)):
            need.add_rule(self.search.most_worth(worth), float(worth @ self.demand))
        return need

    def _by_counts(
        self,
        best: dict[CutPattern, int] | None,
        bound: int,
        need: BarCounts,
        lp: LinearAnswer,
        tries: int,
    ) -> tuple[dict[CutPattern, int] | None, int]:
        """Try whole numbers of bars in the order of their cost, until one holds everything."""
        zero = np.zeros(len(self.bars))
        for _ in range(tries):
            counts = need.cheapest()
            if counts is None or not self.going():
                break
            price = round(float(self.costs @ counts))
            if best is not None and price >= self._price(best):
                bound = bound if need.undecided else max(bound, self._price(best))
                break
            if not need.undecided:
                bound = max(bound, price)
            made = self.search.fill(counts, self.demand)
            if made is not None:
                best = self._better(best, made)
                continue
            holding = PatternMaster(zero, counts, self.demand, self.search.wide.astype(float))
            for pattern in self.master.patterns:
                holding.add(pattern)
            found = self.search.generate(holding, self.demand, counts)
            if found.missing:
                need.add_rule(self.search.most_worth(found.worth), float(found.worth @ self.demand))
                continue
            made, none = self.search.dives(holding, found, counts, FIRST_DIVES), False
            if made is None:
                made, none = self._by_list(counts, lp, holding)
            best = self._better(best, made)
            if made is None:
                need.refuse(counts, proven=none)
        return best, bound

    def _by_list(
        self, counts: Array, lp: LinearAnswer, holding: PatternMaster
    ) -> tuple[dict[CutPattern, int] | None, bool]:
        """Try all patterns that can be cut from so many bars, where they can be listed.

        At the program's prices the bars hold at most so much more than is wanted: no pattern can
        fall short of its bar's best by more. Returns what was found, and whether none exists.
        """
        zero = np.zeros(len(self.bars))
        most = self.search.most_worth(lp.worth)
        over = float(most @ counts) - float(lp.worth @ self.demand)
        listed: list[CutPattern] = []
        for b in np.flatnonzero(counts > 0):
            least = float(most[b]) - over - NEAR * max(1.0, float(most[b]))
            some = self.search.within(int(b), least, lp.worth, MOST_TRIED - len(listed))
            if some is None:
                found = holding.solve(self.demand, counts)
                made = self.search.dives(holding, found, counts, DIVES)
                if made is None:
                    made = whole_uses(holding.patterns, zero, counts, self.demand, TRYING).use
                return made, False
            listed += some
        every = PatternMaster(zero, counts, self.demand, self.search.wide.astype(float))
        for pattern in listed:
            every.add(pattern)
        made = self.search.dives(every, every.solve(self.demand, counts), counts, DIVES)
        if made is not None:
            return made, False
        answer = whole_uses(listed, zero, counts, self.demand, PROVING)
        return answer.use, answer.none and self.search.exact

    def _short(self, problem: str) -> InputError:
        have = sum(self.job.usable(b) * (b.quantity or 0) for b in self.bars)
        need = sum(d.length * d.quantity for d in self.job.demands)
        text = f"{problem}: {need:g} mm wanted, {have:g} mm on {len(self.bars)} kinds of bars"
        return InputError("stock", text, "more or longer bars")

    def _true_value(self, lp: LinearAnswer) -> float:
        """Return a bound on the LP's true value where lengths were rounded to steps.

        No true pattern is worth more than one of lengths rounded down: scaled down so that none of
        those is worth more than its bar costs, the prices are a solution of the dual program.
        """
        most = self.search.most_worth(lp.worth)
        some = most > 0
        least = float(((self.costs - lp.more)[some] / most[some]).min(initial=1.0))
        few = np.isfinite(self.limits)
        owned = float(lp.more[few] @ self.limits[few])
        return max(0.0, least * float(lp.worth @ self.demand) + owned)

    def _prove(
        self, best: dict[CutPattern, int] | None, bound: int, value: float, lp: LinearAnswer
    ) -> tuple[dict[CutPattern, int] | None, int]:
        """Close the gap: in a better plan no pattern costs more above its price than the gap."""
        if not self.search.exact or not self.going():
            return best, bound
        price = self._price(best) if best is not None else None
        gap = (price - 1 if price is not None else 2 * value + self.costs.max()) - value
        listed: list[CutPattern] = []
        for b in range(len(self.bars)):
            least = float(self.costs[b] - lp.more[b] - gap) - 1e-6
            some = self.search.within(b, least, lp.worth, MOST_PATTERNS)
            if some is None:
                return best, bound
            listed += some
        known = list(dict.fromkeys([*listed, *(best or ())]))
        found = whole_uses(known, self.costs, self.limits, self.demand, PROVING)
        low = found.bound
        if found.none and best is None:
            raise self._short("these bars do not hold them all together")
        # The best within the listed patterns is the best of all, or none is under `price`.
        if np.isfinite(low):
            proven = math.ceil(low - NEAR * max(1.0, low))
            bound = max(bound, proven if price is None else min(proven, price))
        return self._better(best, found.use), bound

    def _price(self, made: dict[CutPattern, int]) -> int:
        return round(float(sum(self.costs[p.bar] * n for p, n in made.items())))

    def _better(
        self, a: dict[CutPattern, int] | None, b: dict[CutPattern, int] | None
    ) -> dict[CutPattern, int] | None:
        if a is None or b is None:
            return a if b is None else b
        return b if self._price(b) < self._price(a) else a

    def _answer(self, made: dict[CutPattern, int], bound: int) -> LengthsPlan:
        """Hand out the demands of each length in order, and cut nothing that nobody wants."""
        waiting = [[[d.id, d.quantity] for d in w] for w in self.wanted]
        bars: dict[tuple[int, tuple[tuple[str, int], ...]], int] = {}
        for pattern, count in sorted(made.items(), key=lambda it: (it[0].bar, it[0].counts)):
            for _ in range(count):
                cuts = tuple(_hand_out(waiting, pattern.counts))
                if cuts:
                    bars[pattern.bar, cuts] = bars.get((pattern.bar, cuts), 0) + 1
        size = {d.id: d.length for d in self.job.demands}
        cut = []
        cost = Decimal(0)
        for (b, cuts), count in bars.items():
            bar = self.bars[b]
            lengths = [size[i] for i, n in cuts for _ in range(n)]
            # Steps are rounded to a thousandth of a millimetre: a hair under nothing is nothing.
            left = round(max(0.0, self.job.room(bar, lengths)), 6)
            cut.append(CutBar(bar.id, count, cuts, left))
            cost += bar.cost * count
        return LengthsPlan(tuple(cut), cost, min(cost, bound * self.scale))


def _hand_out(
    waiting: list[list[list]],  # type: ignore[type-arg]
    counts: tuple[int, ...],
) -> Iterator[tuple[str, int]]:
    for kind, count in zip(waiting, counts, strict=True):
        for entry in kind:
            taken = min(entry[1], count)
            if taken:
                entry[1] -= taken
                count -= taken
                yield entry[0], taken


def _steps(length: float) -> int:
    return round(length / FINEST)


def _money_step(bars: list[BarStock]) -> Decimal:
    """Return the largest sum of which all costs are whole multiples."""
    exponents = [b.cost.normalize().as_tuple().exponent for b in bars if b.cost]
    finest = Decimal(1).scaleb(min([int(e) for e in exponents], default=0))
    whole = [int((b.cost / finest).to_integral_value(ROUND_HALF_UP)) for b in bars]
    return finest * (math.gcd(*whole) or 1)
