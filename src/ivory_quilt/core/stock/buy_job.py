"""What to order: what is asked, and what is answered."""

from collections.abc import Iterable, Mapping
from decimal import ROUND_HALF_UP, Decimal
from functools import cached_property

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.job import CENT, LayJob, LayResult, SheetSpec, check_job
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.catalogue import Offer, SoldLength, Supplier
from ivory_quilt.core.stock.lengths_job import BarStock, LengthDemand, LengthsJob, LengthsPlan


class BuyFoam(Struct, frozen=True, dict=True):
    """One material in one thickness: what is cut of it, what is owned, what is sold.

    Attributes:
        job: the pieces, on what is owned (at no cost).
        offers: of sheets and rolls for the pieces, of bars for the lengths.
        lengths: one-dimensional goods to cut.
        bars: bars that are owned.
    """

    id: str
    job: LayJob
    offers: tuple[Offer, ...] = ()
    lengths: tuple[LengthDemand, ...] = ()
    bars: tuple[BarStock, ...] = ()
    kerf: float = 0.0

    @cached_property
    def laid_offers(self) -> tuple[Offer, ...]:
        """Offers that pieces can lie on."""
        return tuple(o for o in self.offers if not isinstance(o.goods, SoldLength))

    @cached_property
    def bar_offers(self) -> tuple[Offer, ...]:
        """Offers that lengths can be cut from."""
        return tuple(o for o in self.offers if isinstance(o.goods, SoldLength))

    def job_with(self, counts: Mapping[str, int | None], prices: Mapping[str, Decimal]) -> LayJob:
        """Return the job on what is owned and so many of each offer, each at a price.

        None stands for as many as are needed.
        """
        bought = []
        for offer in self.laid_offers:
            goods = offer.goods
            count = counts.get(offer.id, 0)
            if count != 0 and not isinstance(goods, SoldLength):
                price = prices.get(offer.id, Decimal(0))
                spec = SheetSpec(offer.id, goods.shape, count, price, goods.margin)
                bought.append(spec)
        return LayJob(self.job.pieces, (*self.job.sheets, *bought), self.job.rolls, self.job.gap)

    def cutting_with(self, counts: Mapping[str, int], prices: Mapping[str, Decimal]) -> LengthsJob:
        """Return the lengths to cut from what is owned and so many of each offer.

        Raises:
            InputError: a length is longer than all of those.
        """
        bought = []
        for offer in self.bar_offers:
            if counts.get(offer.id) and isinstance(offer.goods, SoldLength):
                price = prices.get(offer.id, Decimal(0))
                bought.append(BarStock(offer.id, offer.goods.length, counts[offer.id], price))
        return LengthsJob((*self.bars, *bought), self.lengths, self.kerf)


class BuyJob(Struct, frozen=True, dict=True):
    """Everything that is to be ordered together."""

    foams: tuple[BuyFoam, ...]
    suppliers: tuple[Supplier, ...] = ()

    def __post_init__(self) -> None:
        _check(self)

    @cached_property
    def offers(self) -> dict[str, Offer]:
        """All offers of all foams by id."""
        return {o.id: o for foam in self.foams for o in foam.offers}


class OrderLine(Struct, frozen=True):
    """So many packs of one offer."""

    offer: Offer
    packs: int
    price: Decimal

    @property
    def cost(self) -> Decimal:
        """What the line comes to."""
        return self.price * self.packs


class FoamOrder(Struct, frozen=True):
    """What one foam comes to: its layout on what is owned or ordered, and its cuts.

    `scrap` and `kept` are areas in mm² of the foam taken: of no use, and worth keeping.
    """

    foam: BuyFoam
    job: LayJob
    layout: LayResult
    cuts: LengthsPlan | None
    scrap: float
    kept: float

    @property
    def kept_worth(self) -> Decimal:
        """What as much foam costs new, by the cheapest offer's price for its area, to the cent."""
        rates = [
            offer.usual_price / Decimal(repr(round(offer.goods.shape.area, 3)))
            for offer in self.foam.offers
            if not isinstance(offer.goods, SoldLength)
        ]
        worth = min(rates, default=Decimal(0)) * Decimal(repr(round(self.kept, 3)))
        return worth.quantize(CENT, rounding=ROUND_HALF_UP)


class BuyResult(Struct, frozen=True):
    """An order that is proven to suffice. `bound`: no order can cost less in all (proven)."""

    lines: tuple[OrderLine, ...]
    foams: tuple[FoamOrder, ...]
    goods: Decimal
    shipping: Decimal
    bound: Decimal
    seconds: float = 0.0

    @property
    def total(self) -> Decimal:
        """Goods and shipping."""
        return self.goods + self.shipping

    @property
    def scrap(self) -> float:
        """Foam of no use, mm²."""
        return sum(f.scrap for f in self.foams)

    @property
    def kept(self) -> float:
        """Foam worth keeping, mm²."""
        return sum(f.kept for f in self.foams)

    @property
    def kept_worth(self) -> Decimal:
        """What the foam worth keeping costs new."""
        return sum((f.kept_worth for f in self.foams), Decimal(0))

    @property
    def unplaced(self) -> int:
        """How many pieces nothing sold can take."""
        return sum(len(f.layout.unplaced) for f in self.foams)


def _check(job: BuyJob) -> None:
    _once((s.id for s in job.suppliers), "supplier")
    _once((f.id for f in job.foams), "foam")
    known = {s.id for s in job.suppliers}
    offered: set[str] = set()
    for foam in job.foams:
        owned = {*foam.job.stock, *(b.id for b in foam.bars)}
        for offer in foam.offers:
            where = f"foam '{foam.id}', offer '{offer.id}'"
            if offer.id in offered or offer.id in owned:
                raise InputError(where, "the id is used twice", "different ids")
            offered.add(offer.id)
            if offer.supplier not in known:
                text = f"no supplier '{offer.supplier}'"
                raise InputError(f"{where}, supplier", text, "a supplier's id")
        # Sizes are checked as those of any layout job are.
        check_job(foam.job_with({o.id: 1 for o in foam.laid_offers}, {}))
        if foam.lengths:
            foam.cutting_with({o.id: o.most_packs * o.pack for o in foam.bar_offers}, {})


def _once(names: Iterable[str], what: str) -> None:
    seen: set[str] = set()
    for name in names:
        if name in seen:
            raise InputError(f"{what} '{name}'", "the id is used twice", "different ids")
        seen.add(name)
