"""One-dimensional goods cut at the least cost, with a proof.

The linear program over cutting patterns is solved by column generation: P. C. Gilmore and
R. E. Gomory, "A linear programming approach to the cutting-stock problem", Operations Research 9
(1961). Patterns of bounded counts come from a knapsack by dynamic programming. The program's value,
rounded up to what bars can cost at all, is a bound. Whole numbers come from diving, then from an
integer program over the patterns that are known; where a gap is left, every pattern whose reduced
cost is within it is listed, and the integer program over those is exact.
"""

import math
from collections.abc import Callable, Iterator
from decimal import ROUND_HALF_UP, Decimal

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.stock.cut_patterns import (
    BarCounts,
    CutPattern,
    LinearAnswer,
    PatternMaster,
    whole_uses,
)
from ivory_quilt.core.stock.knapsack import Knapsack
from ivory_quilt.core.stock.lengths_job import (
    FINEST,
    BarStock,
    CutBar,
    LengthDemand,
    LengthsJob,
    LengthsPlan,
)

STATES = 30_000  # steps into which the longest bar is parted at most
QUICK_STATES = 2500
ROUGHLY, MOST_TURNS = 12, 5000  # patterns added a bar
MOST_PATTERNS = 120_000  # listed within a gap; more is too much to prove with
PROVING = 3.0  # s at most for the last program
TRYING = 0.5  # s for one number of bars
SURE = 0.75  # of a pattern is as good as all of it
MOST_COUNTS = 40  # numbers of bars that are tried
NEAR = 1e-7  # of the whole cost: what the linear program's rounding may be off
Ints = npt.NDArray[np.int64]
Going = Callable[[], bool]


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
        unit = math.gcd(*widths, *room)
        if max(room) // unit > STATES:
            unit = -(-max(room) // STATES)
        self.exact = all(w % unit == 0 for w in (*widths, *room))
        self.room = np.array([r // unit for r in room])
        self.wide = np.array([-(-w // unit) for w in widths])  # patterns found so do fit
        self.narrow = np.array([w // unit for w in widths])  # and no true one is left out so
        self.rough_room = np.array([-(-r // unit) for r in room])
        # Most patterns are found in wider steps, and only the last ones in fine ones.
        wider = max(1, int(self.room.max()) // QUICK_STATES)
        self.rough = [(-(-self.wide // w), self.room // w) for w in {wider, 1}]
        self.rough.sort(key=lambda it: int(it[1].max()))
        owned = float(self.limits[np.isfinite(self.limits)].sum())
        # Dear enough never to be left out where anything can cover it.
        dear = np.full(len(self.lengths), 10 * (self.costs.max() + 1) * max(1.0, owned))
        self.master = PatternMaster(self.costs, self.limits, self.demand, dear)

    def plan(self) -> LengthsPlan:
        self._start(self.demand, self.master)
        lp = self._generate(self.master, self.demand, self.limits)
        if lp.missing:
            raise self._short("there are too few of them")
        value = min(lp.value, self._true_value(lp))
        bound = math.ceil(value - NEAR * max(1.0, value))
        best = self._dive(self.master, lp, self.limits)
        if best is None or self._price(best) > bound:
            best, bound = self._by_counts(best, bound, lp)
        if best is None or self._price(best) > bound:
            best, bound = self._prove(best, bound, value, lp)
        if best is None:
            raise self._short("these bars do not hold them all together")
        return self._answer(best, min(bound, self._price(best)))

    def _by_counts(
        self, best: dict[CutPattern, int] | None, bound: int, lp: LinearAnswer
    ) -> tuple[dict[CutPattern, int] | None, int]:
        """Try whole numbers of bars in the order of their cost, until one holds everything.

        Each rule says what the lengths are worth at least, at prices at which a bar holds at most
        so much: numbers of bars that break it hold not everything.
        """
        need = BarCounts(self.costs, self.room, self.limits, int(self.demand.sum()))
        for worth in (lp.worth, self.narrow.astype(float)):
            need.add_rule(self._most_worth(worth), float(worth @ self.demand))
        zero = np.zeros(len(self.bars))
        proven = True
        for _ in range(MOST_COUNTS):
            counts = need.cheapest()
            if counts is None or not self.going():
                break
            price = round(float(self.costs @ counts))
            if best is not None and price >= self._price(best):
                bound = max(bound, self._price(best)) if proven else bound
                break
            if proven:
                bound = max(bound, price)
            holding = PatternMaster(zero, counts, self.demand, self.wide.astype(float))
            for pattern in self.master.patterns:
                holding.add(pattern)
            found = self._generate(holding, self.demand, counts)
            if found.missing:
                need.add_rule(self._most_worth(found.worth), float(found.worth @ self.demand))
                continue
            made = self._dive(holding, found, counts)
            if made is None:
                made = self._dive(holding, found, counts, roughly=False)
            if made is None:
                answer = whole_uses(holding.patterns, zero, counts, self.demand, TRYING)
                made = answer.use
            best = self._better(best, made)
            if made is None:
                need.refuse(counts)
                proven = False
        return best, bound

    def _most_worth(self, worth: Array) -> Array:
        """Return the most that the lengths cut from one bar of each kind can be worth."""
        table = Knapsack(self.narrow, self.demand, worth, int(self.rough_room.max()))
        return np.array([table.best(int(r)) for r in self.rough_room])

    def _short(self, problem: str) -> InputError:
        have = sum(self.job.usable(b) * (b.quantity or 0) for b in self.bars)
        need = sum(d.length * d.quantity for d in self.job.demands)
        text = f"{problem}: {need:g} mm wanted, {have:g} mm on {len(self.bars)} kinds of bars"
        return InputError("stock", text, "more or longer bars")

    def _start(self, demand: Ints, master: PatternMaster) -> None:
        """Begin with each length alone on each bar that holds it, as often as it goes."""
        for b in range(len(self.bars)):
            for k in np.flatnonzero((self.wide <= self.room[b]) & (demand > 0)):
                counts = [0] * len(self.lengths)
                counts[k] = int(min(self.room[b] // self.wide[k], demand[k]))
                master.add(CutPattern(b, tuple(counts)))

    def _generate(
        self, master: PatternMaster, demand: Ints, limits: Array, *, roughly: bool = False
    ) -> LinearAnswer:
        """Solve the linear program, with the patterns that it needs.

        Where bars cost nothing, as soon as everything is covered; `roughly`, as far as a few more
        patterns take it.
        """
        free = not master.costs.any()
        lp = master.solve(demand, limits)
        for widths, room in self.rough[:1] if roughly else self.rough:
            tries = ROUGHLY if roughly else MOST_TURNS
            while tries and not (free and not lp.missing) and self.going():
                tries -= 1
                if not self._price_patterns(master, lp, demand, limits, widths, room):
                    break
                lp = master.solve(demand, limits)
        return lp

    def _price_patterns(
        self,
        master: PatternMaster,
        lp: LinearAnswer,
        demand: Ints,
        limits: Array,
        widths: Ints,
        room: Ints,
    ) -> bool:
        """Add each bar's pattern that is worth most above its cost; return whether any is new."""
        added = False
        table = Knapsack(widths, demand, lp.worth, int(room.max()))
        for b in np.flatnonzero(limits > 0):
            if table.best(int(room[b])) > master.costs[b] - lp.more[b] + 1e-7:
                added |= master.add(CutPattern(int(b), table.counts(int(room[b]))))
        return added

    def _true_value(self, lp: LinearAnswer) -> float:
        """Return a bound on the LP's true value where lengths were rounded to steps.

        No true pattern is worth more than one of lengths rounded down: scaled down so that none of
        those is worth more than its bar costs, the prices are a solution of the dual program.
        """
        most = self._most_worth(lp.worth)
        some = most > 0
        least = float(((self.costs - lp.more)[some] / most[some]).min(initial=1.0))
        few = np.isfinite(self.limits)
        owned = float(lp.more[few] @ self.limits[few])
        return max(0.0, least * float(lp.worth @ self.demand) + owned)

    def _dive(
        self, master: PatternMaster, lp: LinearAnswer, limits: Array, *, roughly: bool = True
    ) -> dict[CutPattern, int] | None:
        """Round the pattern nearest to a whole number of uses, solve what is left, and again."""
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
            self._start(demand, master)
            lp = self._generate(master, demand, limits, roughly=roughly)
        return None

    def _prove(
        self, best: dict[CutPattern, int] | None, bound: int, value: float, lp: LinearAnswer
    ) -> tuple[dict[CutPattern, int] | None, int]:
        """Close the gap: in a better plan no pattern costs more above its price than the gap."""
        if not self.exact or not self.going():
            return best, bound
        price = self._price(best) if best is not None else None
        gap = (price - 1 if price is not None else 2 * value + self.costs.max()) - value
        listed: list[CutPattern] = []
        for b in range(len(self.bars)):
            some = self._within(b, float(self.costs[b] - lp.more[b] - gap) - 1e-6, lp.worth)
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

    def _within(self, b: int, least: float, worth: Array) -> list[CutPattern] | None:
        """Return all patterns of a bar worth at least so much; None when they are too many."""
        table = Knapsack(self.wide, self.demand, worth, int(self.room[b]))
        found: list[CutPattern] = []
        for counts in table.all_worth(least, int(self.room[b])):
            found.append(CutPattern(b, counts))
            if len(found) > MOST_PATTERNS or (len(found) % 1000 == 0 and not self.going()):
                return None
        return found

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
