"""Entries, what is learned of them, and what accepting it does to every plan."""

from decimal import Decimal

import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.coupons import Coupon, CouponKind
from ivory_quilt.core.journal.actuals import actuals_of, projects_of
from ivory_quilt.core.journal.entry import EntryKind, JournalEntry
from ivory_quilt.core.journal.learning import LearnedKind, accepted, learned_from
from ivory_quilt.core.plan.effort import bench_minutes
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind, RateSource
from ivory_quilt.core.stock.foam_stock import Material, ShopStock
from ivory_quilt.core.stock.past_order import OrderedLine, PastOrder

SHOP = ShopStock(
    (),
    (Material("eva", "EVA"),),
    consumables=(Consumable("c", "cement", ConsumableKind.CEMENT, 1000, 5.0),),
)


def entry(kind, value=0.0, planned=0.0, about="", number=0, **more):
    moment = f"2027-03-{1 + number:02d}T19:00:00"
    return JournalEntry(
        f"{kind.name}{number}", "p", moment, kind, about=about, value=value, planned=planned, **more
    )


def learned(*entries, coupons=()):
    return {x.kind: x for x in learned_from(entries, coupons, SHOP)}


def test_real_minutes_become_a_pace_that_every_plan_uses(small_plan):
    times = [entry(EntryKind.TIME, v, 10.0, "cut", n) for n, v in enumerate((14, 15, 16))]
    found = learned(*times)[LearnedKind.PACE]
    assert found.old == 1.0
    assert found.sure
    assert found.found.value == pytest.approx(1.5, abs=0.02)
    shop = accepted(found, small_plan.stock)
    after = bench_minutes(replace(small_plan, stock=shop)).figure("minutes")
    before = bench_minutes(small_plan).figure("minutes")
    cut = sum(
        s.value for s in bench_minutes(small_plan).steps if s.text in ("cut", "trace and mark")
    )
    assert after == pytest.approx(before + cut * (found.found.value - 1), rel=1e-3)


def test_spoiled_parts_cement_rings_and_dishes():
    found = learned(
        entry(EntryKind.CUT, 18),
        entry(EntryKind.SPOILED, 2),
        *(entry(EntryKind.CEMENT, v, 1.0, number=n) for n, v in enumerate((250, 250))),
        *(entry(EntryKind.NEUTRAL, v, 0.0, "eva", n) for n, v in enumerate((0.44, 0.46))),
        entry(EntryKind.DISH, 8.0, about="eva"),
        entry(EntryKind.DISH, 14.0, about="eva", number=2, went_well=False),
    )
    assert found[LearnedKind.SPOILED].found.value == 0.1
    assert found[LearnedKind.COVERAGE].found.value == pytest.approx(4.0)
    assert found[LearnedKind.NEUTRAL].found.value == pytest.approx(0.45)
    assert found[LearnedKind.DISH].found.value == 11.0
    shop = SHOP
    for one in found.values():
        shop = accepted(one, shop)
    assert shop.rates.spoiled == 0.1
    assert shop.consumables[0].coverage == pytest.approx(4.0)
    assert shop.consumables[0].rate is RateSource.MAKER
    assert (shop.materials[0].book.neutral, shop.materials[0].book.dish_limit) == (0.45, 11.0)


def test_test_strips_are_learned_as_they_were_measured():
    strips = Coupon("eva", CouponKind.ALONG, "2027-01-01", (100, 100, 100), (98, 97.8, 98.2))
    found = learned(coupons=(strips,))[LearnedKind.SHRINK]
    assert found.found.value == pytest.approx(2.0)
    assert accepted(found, SHOP).materials[0].book.shrink_along == pytest.approx(2.0)


def test_one_observation_teaches_nothing():
    assert learned(entry(EntryKind.TIME, 30, 10, "cut"), entry(EntryKind.DISH, 5.0)) == {}


def test_an_entry_is_found_by_its_words():
    one = entry(EntryKind.SPOILED, 1, words="Cut the left cuff twice", project_name="Beetle")
    assert one.holds("cuff LEFT")
    assert one.holds("beetle 2027-03")
    assert not one.holds("cuff right")
    assert one.unit == "parts"


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: entry(EntryKind.CUT, -1),
        lambda: entry(EntryKind.CUT, float("nan")),
        lambda: replace(entry(EntryKind.NOTE), moment="today"),
        lambda: replace(entry(EntryKind.NOTE), words="x" * 5000),
    ],
)
def test_what_makes_no_sense_is_refused(wrong):
    with pytest.raises(InputError):
        wrong()


def test_paces_are_of_kinds_of_steps():
    assert {"cut", "bevel", "form", "join", "paint"} <= {k.value for k in StepKind}


def test_money_is_set_against_each_projects_first_order():
    def order(day, project, cost, shipping=0):
        line = OrderedLine("s", "half sheet", "Thornmere", 1, Decimal(cost))
        return PastOrder(day, project, (line,), Decimal(shipping))

    orders = (
        order("2027-03-09", "Beetle", 20, 5),
        order("2027-03-01", "Beetle", 80, 10),
        order("2027-04-01", "Moth", 40),
    )
    (money,) = actuals_of((), orders=orders)
    assert (money.name, money.planned, money.actual, money.count) == ("orders", 130.0, 155.0, 3)
    assert money.why == "2027-03-09 ordered again: half sheet"
    assert actuals_of(()) == ()
    told = entry(EntryKind.WORN, 3.0, project_name="Beetle")
    (beetle,) = projects_of((told,), orders)
    assert (beetle.name, beetle.paid, beetle.worn) == ("Beetle", Decimal(115), 3.0)
