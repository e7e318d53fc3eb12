"""The cheapest order that is proven to fit.

Candidate orders come from a mixed-integer program, in the order of their cost, and a layout proves
that one fits. At first parts are thought to fill their sheets about as well as they do in the first
layouts; then ever better, up to the last grain, so that what is likely to succeed comes first. The
same program with the rules alone that every layout keeps to gives the bound.
"""

from collections.abc import Callable
from decimal import Decimal

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.job import LayJob, LayResult
from ivory_quilt.core.nesting.summary import foam_areas, summarise
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.buy_job import BuyFoam, BuyJob, BuyResult, FoamOrder, OrderLine
from ivory_quilt.core.stock.catalogue import Offer
from ivory_quilt.core.stock.demands import Asked, AskedLengths, AskedParts, Lay, Sufficing
from ivory_quilt.core.stock.keeping import USUAL_RULE, KeepRule, kept_of
from ivory_quilt.core.stock.order_program import PackOrder, cheapest_order

FILLS = (0.82, 0.86, 0.9, 0.94, 0.97, 1.0)
"""Shares of the sheets' area that parts are thought to take, likely ones first."""
FIRST, TRIAL, POLISH = 0.02, 0.05, 0.1
"""Shares of the time: for each first layout, for each trial, for the leftovers at the end."""
LONGEST_FIRST, LONGEST_TRIAL = 1.5, 6.0  # s
Better = Callable[[BuyResult], object]


class Buying:
    """Finds an order for one job, better and better."""

    def __init__(
        self,
        job: BuyJob,
        lay: Lay,
        clock: Callable[[], float],
        *,
        going: Callable[[], bool] = lambda: True,
        better: Better = lambda _: None,
        rule: KeepRule = USUAL_RULE,
        earlier: "Buying | None" = None,
    ) -> None:
        """Lay with `lay`; `better` hears of each better order, and `going` says when to stop.

        What an `earlier` search found out of demands that are the same here is known here as well.
        """
        self.job, self._clock, self._wanted, self._better = job, clock, going, better
        self._rule = rule
        self._start = clock()
        self._end = self._start
        self.parts = [AskedParts(f, lay) for f in job.foams]
        self.lengths = {f.id: AskedLengths(f) for f in job.foams if f.lengths}
        self.asked: list[Asked] = [*self.parts, *self.lengths.values()]
        if earlier is not None:
            self._remember(earlier)
        self.bound = Decimal(0)
        self.best: PackOrder | None = None

    def _remember(self, earlier: "Buying") -> None:
        known = {a.foam.id: a for a in earlier.asked if isinstance(a, AskedParts)}
        for mine in self.parts:
            other = known.get(mine.foam.id)
            if other is not None and other.foam == mine.foam:
                mine.fits, mine.short, mine.tried = list(other.fits), list(other.short), True
                mine.alone = dict(other.alone)

    def run(self, seconds: float) -> BuyResult:
        """Look for so long, and return the cheapest order found.

        Raises:
            InputError: no bars owned or sold suffice for the lengths, or no order can be made.
        """
        self._end = self._start + seconds * (1 - POLISH)
        brief = min(LONGEST_FIRST, seconds * FIRST)
        quick = [None if asked.fits else asked.at_once() for asked in self.asked]
        for asked, found in zip(self.asked, quick, strict=True):
            if found is not None:
                asked.add(found)
        if all(asked.fits for asked in self.asked):
            self._choose()
        for asked in self.asked:
            if asked.tried:
                continue
            for k, fit in enumerate(asked.starts(brief)):
                asked.add(fit)
                if k and not self._going():
                    break
            asked.tried = True
        self._choose()
        if self.best is None:
            text = "no order reaches every minimum with what can be had"
            raise InputError("suppliers", text, "more goods, or another supplier")
        self._bound()
        trial = min(LONGEST_TRIAL, seconds * TRIAL)
        while self._going() and self._search(trial):
            trial *= 3
            for asked in self.asked:
                asked.short.clear()
        left = self._start + seconds - self._clock()
        return self.result(max(0.0, min(left, seconds * POLISH)))

    def one_size_costs(self) -> dict[str, list[tuple[Offer, int, Decimal]]]:
        """Return, by foam, what each offer alone costs: (offer, packs, goods), the cheapest first.

        As far as it was found; what is owned is used first in each.
        """
        found = {}
        for asked in self.parts:
            lines = []
            for offer in asked.offers:
                packs = -(-asked.alone.get(offer.id, 0) // offer.pack)
                price = offer.price(packs) if packs else None
                if price is not None and packs <= offer.most_packs:
                    lines.append((offer, packs, price * packs))
            if lines:
                found[asked.foam.id] = sorted(lines, key=lambda x: (x[2], x[0].id))
        return found

    def _going(self) -> bool:
        return self._wanted() and self._clock() < self._end

    def _choose(self) -> bool:
        """Take the cheapest order of all that are known to suffice; return whether it is better."""
        order = cheapest_order([a.known() for a in self.asked], self.job.suppliers)
        if order is None or (self.best is not None and order.total >= self.best.total):
            return False
        self.best = order
        self._better(self.result(0.0))
        return True

    def _bound(self) -> None:
        order = cheapest_order([a.proven() for a in self.asked], self.job.suppliers)
        self.bound = order.bound if order is not None else Decimal(0)

    def _search(self, trial: float) -> bool:
        """Try cheaper orders, likely ones first; return whether any was left untried by chance."""
        failed = False
        for fill in FILLS:
            while self._going() and self.best is not None and self.best.total > self.bound:
                order = cheapest_order([a.demand(fill) for a in self.asked], self.job.suppliers)
                if order is None or order.total >= self.best.total:
                    break
                if not self._try(order, trial):
                    failed = True
                self._choose()
        return failed and self.best is not None and self.best.total > self.bound

    def _try(self, order: PackOrder, trial: float) -> bool:
        """Find out whether an order suffices; stop at the first demand that it does not serve."""
        for asked in self.asked:
            counts = tuple(order.packs.get(o.id, 0) * o.pack for o in asked.offers)
            if asked.answer(counts) is not None:
                continue
            if not self._going():
                return False
            fit = asked.try_counts(counts, min(trial, self._end - self._clock()))
            if fit is None:
                asked.short.append(counts)
                return False
            asked.add(fit)
        return True

    def result(self, seconds: float) -> BuyResult:
        """Return the best order with its layouts; `seconds` are left to improve what is left over.

        Raises:
            AssertionError: before there is any.
        """
        assert self.best is not None
        packs = self.best.packs
        offers = self.job.offers
        prices = {i: offers[i].price(n) or Decimal(0) for i, n in packs.items()}
        have = {i: n * offers[i].pack for i, n in packs.items()}
        each = {i: prices[i] / offers[i].pack for i in packs}
        share = seconds / max(1, len(self.parts))
        foams = []
        for asked, foam in zip(self.parts, self.job.foams, strict=True):
            fit = asked.answer(tuple(have.get(o.id, 0) for o in asked.offers))
            assert fit is not None
            foams.append(self._foam(asked, foam, fit, have, each, share))
        lines = tuple(OrderLine(offers[i], n, prices[i]) for i, n in sorted(packs.items()))
        order = self.best
        elapsed = self._clock() - self._start
        return BuyResult(lines, tuple(foams), order.goods, order.shipping, self.bound, elapsed)

    def _foam(
        self,
        asked: AskedParts,
        foam: BuyFoam,
        fit: Sufficing,
        have: dict[str, int],
        each: dict[str, Decimal],
        seconds: float,
    ) -> FoamOrder:
        seconds = seconds if self._wanted() else 0.0
        found = asked.finished(fit, have, seconds)
        job = foam.job_with(have, each)
        layout = replace(
            summarise(job, found.placements, Decimal(0)),
            seconds=found.seconds,
            stopped_by=found.stopped_by,
            seed=found.seed,
        )
        cuts = None
        if foam.id in self.lengths:
            bars = self.lengths[foam.id]
            answer = bars.answer(tuple(have.get(o.id, 0) for o in bars.offers))
            cuts = answer.cuts if answer is not None else None
        scrap, kept = self._left(job, layout, have)
        return FoamOrder(foam, job, layout, cuts, scrap, kept)

    def _left(self, job: LayJob, layout: LayResult, have: dict[str, int]) -> tuple[float, float]:
        """Return (scrap, worth keeping), mm²: what is not parts of the foam taken or bought."""
        covered, taken = foam_areas(job, layout)
        kept = sum(room.area for room in kept_of(job, layout.placements, self._rule))
        whole = 0.0
        for sheet in job.sheets:
            if sheet.id in have:
                used = sum(1 for use in layout.stock if use.id == sheet.id)
                whole += (have[sheet.id] - used) * sheet.shape.area
        return max(0.0, taken - covered - kept), kept + whole
