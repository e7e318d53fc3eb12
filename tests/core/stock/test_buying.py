"""Orders: exact money, layouts that prove them, a bound under them, nothing simpler beats them."""

import itertools
import random
import time
from decimal import Decimal

import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, SheetSpec
from ivory_quilt.core.stock.buy_job import BuyFoam, BuyJob
from ivory_quilt.core.stock.buying import Buying
from ivory_quilt.core.stock.catalogue import Offer, SoldLength, SoldRoll, SoldSheet, Supplier
from ivory_quilt.core.stock.lengths_job import BarStock, LengthDemand
from ivory_quilt.core.stock.order_program import bill
from tests.effort import seeds


def run(job, seconds, target, start):
    return lay(job, limit=Limit(seconds, None, target), clock=time.monotonic, start=start)


def buy(job, seconds=2.0):
    return Buying(job, run, time.monotonic).run(seconds)


def sheet_offer(ident, supplier, size, *breaks, pack=1, available=None, margin=0.0):
    steps = tuple((n, Decimal(p)) for n, p in breaks)
    return Offer(ident, supplier, SoldSheet(rectangle(*size), margin), steps, pack, available)


def pieces(*sizes, turns=(0.0, 90.0)):
    return tuple(PieceSpec(f"p{k}", rectangle(w, h), n, turns) for k, (w, h, n) in enumerate(sizes))


def check(job, result):
    """Check an order by plain sums and the exact check of layouts."""
    offers = job.offers
    packs = {line.offer.id: line.packs for line in result.lines}
    goods, shipping = bill(packs, offers, job.suppliers)
    assert sum((line.cost for line in result.lines), Decimal(0)) == goods == result.goods
    assert shipping == result.shipping
    assert result.bound <= result.total == goods + shipping
    for supplier in job.suppliers:
        mine = sum((x.cost for x in result.lines if x.offer.supplier == supplier.id), Decimal(0))
        assert not mine or mine >= supplier.minimum
    for foam in result.foams:
        assert not violations(foam.job, foam.layout.placements)
        for use in foam.layout.stock:
            if use.id in offers:
                assert use.copy < packs[use.id] * offers[use.id].pack
        assert result.scrap >= 0
        assert result.kept >= 0
    return result


def one(foam_pieces, offers, suppliers, owned=()):
    return BuyJob((BuyFoam("eva 6", LayJob(foam_pieces, owned, (), 0.0), offers),), suppliers)


NEAR = Supplier("near", shipping=Decimal("4.00"), days=2)
FAR = Supplier("far", shipping=Decimal("9.00"), free_from=Decimal("30.00"), days=6)


def test_what_is_owned_is_ordered_by_nobody():
    owned = (SheetSpec("own", rectangle(500, 500), 1),)
    job = one(
        pieces((400, 400, 1)), (sheet_offer("s", "near", (500, 500), (1, "7")),), (NEAR,), owned
    )
    result = check(job, buy(job, 0.5))
    assert result.total == 0
    assert result.lines == ()


def test_shipping_decides_between_suppliers():
    offers = (
        sheet_offer("dear", "near", (500, 500), (1, "8.00")),
        sheet_offer("cheap", "far", (500, 500), (1, "6.00")),
    )
    few = one(pieces((480, 480, 2)), offers, (NEAR, FAR))
    assert [x.offer.id for x in check(few, buy(few)).lines] == ["dear"]  # 16 + 4 under 12 + 9
    many = one(pieces((480, 480, 5)), offers, (NEAR, FAR))
    result = check(many, buy(many))
    assert [(x.offer.id, x.packs) for x in result.lines] == [("cheap", 5)]  # 30: nothing to ship
    assert result.total == result.bound == 30


def test_a_price_step_is_worth_one_sheet_more():
    offers = (sheet_offer("s", "near", (500, 500), (1, "8.00"), (5, "6.00")),)
    job = one(pieces((480, 480, 4)), offers, (Supplier("near"),))
    result = check(job, buy(job))
    assert (result.lines[0].packs, result.total, result.bound) == (5, 30, 30)


def test_a_minimum_is_reached_or_avoided():
    offers = (sheet_offer("s", "far", (500, 500), (1, "6.00")),)
    strict = Supplier("far", minimum=Decimal("17.00"))
    job = one(pieces((480, 480, 1)), offers, (strict,))
    assert check(job, buy(job)).total == 18
    none = one(
        pieces((480, 480, 1)),
        (Offer("s", "far", SoldSheet(rectangle(500, 500)), ((1, Decimal(6)),), 1, 2),),
        (strict,),
    )
    with pytest.raises(InputError, match="no order reaches"):
        buy(none)


def test_a_pack_is_sold_whole_and_what_is_not_used_is_kept():
    job = one(
        pieces((480, 480, 2)), (sheet_offer("s", "near", (500, 500), (1, "20"), pack=4),), (NEAR,)
    )
    result = check(job, buy(job))
    assert result.total == 24
    assert result.kept >= 2 * 500 * 500


def test_what_fits_nothing_sold_stays_out_and_the_rest_is_ordered():
    job = one(
        pieces((900, 60, 1), (300, 300, 2)),
        (sheet_offer("s", "near", (500, 500), (1, "7")),),
        (NEAR,),
    )
    result = check(job, buy(job))
    assert result.foams[0].layout.unplaced == (("p0", 0),)
    assert len(result.foams[0].layout.placements) == 2


def test_rolls_and_bars_are_sold_whole():
    roll = Offer("roll", "near", SoldRoll(900.0, 3000.0), ((1, Decimal("31.50")),))
    bar = Offer("bar", "near", SoldLength(2000.0), ((1, Decimal("3.20")),))
    foam = BuyFoam(
        "eva 2",
        LayJob(pieces((800, 700, 3)), (), (), 2.0),
        (roll, bar),
        (LengthDemand("rim", 460.0, 6), LengthDemand("brim", 700.0, 1)),
        (BarStock("rest", 930.0, 1),),
        1.0,
    )
    result = check(BuyJob((foam,), (NEAR,)), buy(BuyJob((foam,), (NEAR,))))
    assert {x.offer.id: x.packs for x in result.lines} == {"roll": 1, "bar": 2}
    cuts = result.foams[0].cuts
    assert sum(n * b.count for b in cuts.bars for i, n in b.cuts if i == "rim") == 6
    # Two of 460 and what is owned hold one: 930 − 921 leaves no room for a third.
    assert {b.stock for b in cuts.bars} == {"rest", "bar"}


@pytest.mark.parametrize("seed", seeds(4, 40))
@pytest.mark.long
def test_strips_are_ordered_as_every_order_tried_in_turn_would_be(seed):
    """Strips as wide as their sheets make it one-dimensional: small enough to try all."""
    rng = random.Random(seed)
    lengths = [rng.randint(12, 45) * 10.0 for _ in range(rng.randint(3, 6))]
    suppliers = (
        Supplier("a", shipping=Decimal(rng.randint(0, 5))),
        Supplier("b", shipping=Decimal(rng.randint(2, 8)), free_from=Decimal(rng.randint(8, 20))),
    )
    offers = tuple(
        sheet_offer(
            f"o{k}",
            rng.choice("ab"),
            (size, 50.0),
            (1, str(price := round(size * rng.uniform(0.009, 0.013), 2))),
            (3, str(round(price * 0.9, 2))),
        )
        for k, size in enumerate(rng.sample((500.0, 620.0, 800.0, 1000.0), 3))
    )
    made = tuple(PieceSpec(f"p{k}", rectangle(x, 50.0), 1, (0.0,)) for k, x in enumerate(lengths))
    job = one(made, offers, suppliers)
    sizes = [o.goods.shape.width for o in offers]

    def fits(counts):
        rooms = [s for s, n in zip(sizes, counts, strict=True) for _ in range(n)]

        def place(k, rooms):
            if k == len(lengths):
                return True
            options = {r for r in rooms if r >= lengths[k] - 1e-9}
            for r in options:
                rest = list(rooms)
                rest[rest.index(r)] = r - lengths[k]
                if place(k + 1, rest):
                    return True
            return False

        return place(0, rooms)

    by_id = {o.id: o for o in offers}
    least = min(
        sum(bill({f"o{k}": n for k, n in enumerate(counts) if n}, by_id, suppliers))
        for counts in itertools.product(range(9), repeat=3)
        if sum(n * s for n, s in zip(counts, sizes, strict=True)) >= sum(lengths) and fits(counts)
    )
    result = check(job, buy(job, 3.0))
    assert result.bound <= least
    assert result.total == least


def random_shape(rng):
    kind = rng.random()
    w, h = rng.uniform(60, 300), rng.uniform(40, 220)
    if kind < 0.3:
        return rectangle(w, h)
    if kind < 0.6:
        return Shape.make([(0, 0), (w, 0), (w / 2, h)])
    return Shape.make([(0, 0), (w, 0), (w, h / 2), (w / 2, h / 2), (w / 2, h), (0, h)])


@pytest.mark.parametrize("seed", seeds(2, 20))
@pytest.mark.long
def test_no_order_costs_more_than_the_best_single_size(seed):
    rng = random.Random(seed)
    made = tuple(
        PieceSpec(f"p{k}", random_shape(rng), rng.choice((1, 2, 4)), (0.0, 90.0, 180.0, 270.0))
        for k in range(rng.randint(6, 20))
    )
    suppliers = (NEAR, FAR)
    offers = tuple(
        sheet_offer(
            f"o{k}",
            rng.choice(("near", "far")),
            size,
            (1, str(price := round(size[0] * size[1] / 1e6 * rng.uniform(16, 24), 2))),
            (4, str(round(price * 0.9, 2))),
            margin=5.0,
        )
        for k, size in enumerate(rng.sample(((500, 500), (1000, 500), (610, 610), (1200, 800)), 3))
    )
    job = one(made, offers, suppliers)
    result = check(job, buy(job, 4.0))
    assert result.unplaced == 0
    singles = []
    for offer in offers:
        alone = SheetSpec(offer.id, offer.goods.shape, None, Decimal(1), 5.0)
        found = lay(LayJob(made, (alone,)), limit=Limit(steps=0), clock=lambda: 0.0)
        singles.append(sum(bill({offer.id: len(found.stock)}, {offer.id: offer}, suppliers)))
    assert result.total <= min(singles)


def test_one_size_alone_costs_what_its_sheets_cost_and_never_less_than_the_order():
    offers = (
        sheet_offer("half", "a", (1000, 500), (1, "10.00"), (3, "9.00")),
        sheet_offer("quarter", "a", (500, 500), (1, "6.00"), pack=2),
    )
    job = one(pieces((480, 480, 6)), offers, (Supplier("a"),))
    search = Buying(job, run, time.monotonic)
    result = check(job, search.run(2.0))
    found = {o.id: (packs, cost) for o, packs, cost in search.one_size_costs()["eva 6"]}
    # Two plates on a half sheet, one on a quarter: three halves at 9.00, three packs of two.
    assert found == {"half": (3, Decimal("27.00")), "quarter": (3, Decimal("18.00"))}
    assert result.goods <= min(cost for _, cost in found.values())
