"""What an order must suffice for: pieces to lay, and lengths to cut, each with its own proof."""

import math
from abc import ABC, abstractmethod
from collections import Counter
from collections.abc import Callable, Iterator
from decimal import Decimal

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.bounds import Needs, needs_of
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement, SheetSpec
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stock.buy_job import BuyFoam
from ivory_quilt.core.stock.catalogue import MOST_PACKS, Offer, SoldLength
from ivory_quilt.core.stock.cutting_stock import cut_at_least_cost
from ivory_quilt.core.stock.lengths_job import LengthsPlan
from ivory_quilt.core.stock.order_program import Counts, Demand

Lay = Callable[[LayJob, float, Decimal | None, tuple[Placement, ...]], LayResult]
"""Lays a job for so many seconds, or until all lies at no more than a cost, from a start on."""
PLENTY = Decimal(10**9)


class Sufficing(Struct, frozen=True):
    """Numbers of offers that suffice, and how: a layout or cuts."""

    counts: Counts
    layout: LayResult | None = None
    cuts: LengthsPlan | None = None


class Asked(ABC):
    """One demand and what is known of it."""

    def __init__(self, foam: BuyFoam, offers: tuple[Offer, ...]) -> None:
        """Serve `foam` from `offers`."""
        self.foam, self.offers = foam, offers
        self.fits: list[Sufficing] = []
        self.short: list[Counts] = []
        self.tried = False
        """Whether each offer was looked at for itself."""
        self.alone: dict[str, int] = {}
        """How many of one offer alone suffice, by its id, as far as that was found."""

    @abstractmethod
    def needs(self, fill: float) -> Needs | None:
        """Return the rules over numbers of goods, at a share of the area that parts take."""

    @abstractmethod
    def starts(self, seconds: float, /) -> Iterator[Sufficing]:
        """Yield first answers, each found in about so many seconds."""

    def at_once(self) -> Sufficing | None:
        """Return an answer that takes no time, where there is one."""
        return None

    @abstractmethod
    def try_counts(self, counts: Counts, seconds: float, /) -> Sufficing | None:
        """Return how some goods suffice, or None where that was not found."""

    def most(self) -> Counts:
        """Return how many of each offer could ever be of use."""
        return tuple(min(self._pieces(), o.most_packs * o.pack) for o in self.offers)

    @abstractmethod
    def _pieces(self) -> int:
        """Return how many things are wanted."""

    def demand(self, fill: float = 1.0) -> Demand:
        """Return the rules for orders not tried yet."""
        return Demand(self.offers, self.most(), self.needs(fill), (), tuple(self.short))

    def proven(self) -> Demand:
        """Return the rules that every order keeps to."""
        return Demand(self.offers, self.most(), self.needs(1.0))

    def known(self) -> Demand:
        """Return the orders that are known to suffice."""
        return Demand(self.offers, self.most(), None, tuple(f.counts for f in self.fits))

    def add(self, fit: Sufficing) -> None:
        """Know one more answer, unless one that takes no more of anything is known."""
        taken = [(o.id, n) for o, n in zip(self.offers, fit.counts, strict=True) if n]
        if len(taken) == 1:
            ident, count = taken[0]
            self.alone[ident] = min(count, self.alone.get(ident, count))
        if not any(_within(f.counts, fit.counts) for f in self.fits):
            self.fits = [f for f in self.fits if not _within(fit.counts, f.counts)] + [fit]

    def answer(self, counts: Counts) -> Sufficing | None:
        """Return a known answer that these numbers suffice for."""
        return next((f for f in self.fits if _within(f.counts, counts)), None)

    def fails(self, counts: Counts) -> bool:
        """Return whether these numbers, or more, were tried in vain."""
        return any(_within(counts, c) for c in self.short)


def _within(a: Counts, b: Counts) -> bool:
    return all(x <= y for x, y in zip(a, b, strict=True))


class AskedParts(Asked):
    """Pieces to lay on what is owned and bought."""

    def __init__(self, foam: BuyFoam, lay: Lay) -> None:
        """Lay with `lay`."""
        super().__init__(foam, foam.laid_offers)
        self._lay = lay
        self._rules: dict[float, Needs | None] = {}
        if not foam.job.stock and not self.offers:  # nothing takes any piece
            nothing = tuple(replace(p, quantity=0) for p in foam.job.pieces)
            self.foam = replace(foam, job=replace(foam.job, pieces=nothing))

    def _pieces(self) -> int:
        return sum(p.quantity for p in self.foam.job.pieces)

    def needs(self, fill: float) -> Needs | None:
        """Return the rules over (owned stock, then offers) that layouts must keep to."""
        if fill not in self._rules:
            most = {o.id: max(1, n) for o, n in zip(self.offers, self.most(), strict=True)}
            owned = self.foam.job
            bought = self.foam.job_with(most, {}).sheets[len(owned.sheets) :]
            # Owned rolls stand among the sheets here: their whole area, at no cost.
            rolls = tuple(SheetSpec(r.id, r.shape, 1, Decimal(0), 0.0) for r in owned.rolls)
            job = LayJob(owned.pieces, (*owned.sheets, *rolls, *bought), (), owned.gap)
            self._rules[fill] = needs_of(job, fill)
        return self._rules[fill]

    def at_once(self) -> Sufficing | None:
        """Return a first, constructive layout, unless it leaves something out."""
        prices = {o.id: o.usual_price for o in self.offers}
        found = self._lay(self.foam.job_with(self._plenty(), prices), 0.0, None, ())
        return None if found.unplaced else self._fit(found)

    def _plenty(self) -> dict[str, int | None]:
        """Return as many of each offer as there are, None where there is no end of them."""
        return {
            o.id: None if o.available is None else n
            for o, n in zip(self.offers, self.most(), strict=True)
        }

    def starts(self, seconds: float) -> Iterator[Sufficing]:
        """Yield the cheapest mixture that a short search finds, then each offer for itself."""
        wanted = self.foam.job
        if not any(p.quantity for p in wanted.pieces):
            yield Sufficing((0,) * len(self.offers), self._lay(wanted, 0.0, None, ()))
            return
        prices = {o.id: o.usual_price for o in self.offers}
        plenty = self._plenty()
        first = self._lay(self.foam.job_with(plenty, prices), seconds, None, ())
        if first.unplaced:
            first = self._leave_out(first, plenty, prices, seconds)
        yield self._fit(first)
        if not any(self._fit(first).counts):  # what is owned suffices
            return
        for offer in self.offers if len(self.offers) > 1 else ():
            alone = self.foam.job_with({offer.id: plenty[offer.id]}, prices)
            found = self._lay(alone, seconds / 2, None, ())
            if not found.unplaced:
                yield self._fit(found)

    def _leave_out(
        self,
        first: LayResult,
        plenty: dict[str, int | None],
        prices: dict[str, Decimal],
        seconds: float,
    ) -> LayResult:
        """Look once more, longer; then go on without what still finds no room."""
        job = self.foam.job_with(plenty, prices)
        again = self._lay(job, 3 * seconds, None, first.placements)
        best = again if len(again.unplaced) <= len(first.unplaced) else first
        if not best.unplaced:
            return best
        gone = Counter(piece for piece, _ in best.unplaced)
        pieces = tuple(replace(p, quantity=p.quantity - gone[p.id]) for p in self.foam.job.pieces)
        self.foam = replace(self.foam, job=replace(self.foam.job, pieces=pieces))
        self._rules.clear()
        return replace(best, placements=_renumbered(best.placements), unplaced=())

    def try_counts(self, counts: Counts, seconds: float) -> Sufficing | None:
        """Lay on what is owned and exactly so many of each offer."""
        have = {o.id: n for o, n in zip(self.offers, counts, strict=True)}
        found = self._lay(self.foam.job_with(have, {}), seconds, PLENTY, ())
        return None if found.unplaced else self._fit(found)

    def finished(self, fit: Sufficing, have: dict[str, int], seconds: float) -> LayResult:
        """Return the layout of an answer on what was ordered, with more left in one piece."""
        assert fit.layout is not None
        if seconds <= 0 or not fit.layout.placements:
            return fit.layout
        job = self.foam.job_with(have, {})
        better = self._lay(job, seconds, None, fit.layout.placements)
        return fit.layout if better.unplaced else better

    def _fit(self, found: LayResult) -> Sufficing:
        used = {o.id: 0 for o in self.offers}
        for use in found.stock:
            if use.id in used:
                used[use.id] += 1
        numbered = replace(found, placements=_copies_in_order(found.placements, used))
        return Sufficing(tuple(used[o.id] for o in self.offers), numbered)


def _renumbered(placements: tuple[Placement, ...]) -> tuple[Placement, ...]:
    """Count the copies of each piece anew, from 0 on."""
    seen: dict[str, int] = {}
    made = []
    for p in sorted(placements, key=lambda p: (p.piece, p.copy)):
        made.append(replace(p, copy=seen.get(p.piece, 0)))
        seen[p.piece] = seen.get(p.piece, 0) + 1
    return tuple(made)


def _copies_in_order(
    placements: tuple[Placement, ...], bought: dict[str, int]
) -> tuple[Placement, ...]:
    """Count the sheets bought from 0 on, so that the order's first ones are those in use."""
    numbers: dict[tuple[str, int], int] = {}
    for key in sorted({(p.sheet, p.sheet_copy) for p in placements if p.sheet in bought}):
        numbers[key] = sum(1 for k in numbers if k[0] == key[0])
    return tuple(
        replace(p, sheet_copy=numbers.get((p.sheet, p.sheet_copy), p.sheet_copy))
        for p in placements
    )


class AskedLengths(Asked):
    """Lengths to cut from bars that are owned and bought."""

    def __init__(self, foam: BuyFoam) -> None:
        """Cut `foam`'s lengths."""
        super().__init__(foam, foam.bar_offers)

    def _pieces(self) -> int:
        return sum(d.quantity for d in self.foam.lengths)

    def needs(self, fill: float) -> Needs | None:
        """Return the rule that the bars' lengths, with a kerf more, hold all lengths and kerfs."""
        kerf = self.foam.kerf
        owned = [b for b in self.foam.bars if b.quantity != 0]
        goods = [o.goods.length for o in self.offers if isinstance(o.goods, SoldLength)]
        room = np.array([b.length + kerf for b in owned] + [g + kerf for g in goods])
        limits = [float(MOST_PACKS if b.quantity is None else b.quantity) for b in owned]
        need = sum((d.length + kerf) * d.quantity for d in self.foam.lengths)
        if not len(room):
            return None
        most = np.array([*limits, *map(float, self.most())])
        return Needs(
            room[None, :] * fill,
            np.array([need * (1 - 1e-9)]),
            np.array([math.inf]),
            np.zeros(len(room)),
            most,
        )

    def at_once(self) -> Sufficing | None:
        """Return the cheapest bars at their first price: that takes no time."""
        return next(self.starts(0.0), None)

    def starts(self, _seconds: float) -> Iterator[Sufficing]:
        """Yield the cheapest bars at their first price."""
        most = {o.id: n for o, n in zip(self.offers, self.most(), strict=True)}
        prices = {o.id: o.usual_price for o in self.offers}
        plan = cut_at_least_cost(self.foam.cutting_with(most, prices))
        yield self._fit(plan)

    def try_counts(self, counts: Counts, _seconds: float) -> Sufficing | None:
        """Cut from what is owned and exactly so many of each offer."""
        have = {o.id: n for o, n in zip(self.offers, counts, strict=True)}
        try:
            return self._fit(cut_at_least_cost(self.foam.cutting_with(have, {})))
        except InputError:
            return None

    def _fit(self, plan: LengthsPlan) -> Sufficing:
        used = {o.id: 0 for o in self.offers}
        for bar in plan.bars:
            if bar.stock in used:
                used[bar.stock] += bar.count
        return Sufficing(tuple(used[o.id] for o in self.offers), None, plan)
