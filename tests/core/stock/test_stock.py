"""What is kept, what is used up, usual sizes, and what the shop says of itself."""

from decimal import Decimal
from itertools import combinations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.calculators import reckon
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.catalogue import Offer, SoldSheet, Supplier
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind, used_up
from ivory_quilt.core.stock.foam_stock import ShopStock, StockKind, sheet
from ivory_quilt.core.stock.keeping import KeepRule, kept_of, outlines_of
from ivory_quilt.core.stock.usual_sizes import usual_bars, usual_foam

EVA6 = Foam(6.0, "eva")


def laid(stock, *places, size=(100, 50)):
    piece = PieceSpec("p", rectangle(*size), len(places))
    sheets = (stock,) if isinstance(stock, SheetSpec) else ()
    rolls = (stock,) if isinstance(stock, RollSpec) else ()
    put = tuple(Placement("p", k, stock.id, 0, Pose(x, y)) for k, (x, y) in enumerate(places))
    return kept_of(LayJob((piece,), sheets, rolls), put)


def test_straight_cuts_free_a_strip_and_what_stands_beside_the_rest():
    found = laid(SheetSpec("s", rectangle(1000, 500)), (0, 0))
    # By hand: 900 × 500 to the right, then 100 × 450 above the part.
    assert [(r.width, r.height) for r in found] == [(900, 500), (100, 450)]


def test_what_is_small_or_lies_between_parts_is_scrap():
    crowded = [(x, y) for x in range(0, 1000, 150) for y in range(0, 500, 110)]
    assert laid(SheetSpec("s", rectangle(1000, 500)), *crowded) == ()
    assert laid(SheetSpec("s", rectangle(170, 60)), (0, 0)) == ()
    ell = Shape.make([(0, 0), (1000, 0), (1000, 100), (500, 100), (500, 500), (0, 500)])
    assert laid(SheetSpec("s", ell), (0, 0)) == ()


def test_what_is_left_on_a_roll_stays_there():
    found = laid(RollSpec("r", 900.0, 5000.0), (0, 0))
    assert [(r.width, r.height) for r in found] == [(100, 850)]


@given(
    st.lists(st.tuples(st.integers(0, 900), st.integers(0, 450)), min_size=1, max_size=6),
)
def test_kept_and_parts_never_share_foam(places):
    found = laid(SheetSpec("s", rectangle(1000, 500)), *places)
    boxes = [(x, y, x + 100, y + 50) for x, y in places]
    for room in found:
        for x0, y0, x1, y1 in boxes:
            assert x1 <= room.x0 or x0 >= room.x1 or y1 <= room.y0 or y0 >= room.y1
    for a, b in combinations(found, 2):
        assert a.x1 <= b.x0 or b.x1 <= a.x0 or a.y1 <= b.y0 or b.y1 <= a.y0


def outlines(rooms, **rule):
    return outlines_of(rooms, KeepRule(**rule))


def test_what_lies_along_each_other_is_one_l_or_two_rectangles_as_the_shop_likes():
    rooms = laid(SheetSpec("s", rectangle(1000, 500)), (0, 0))
    (ell,) = outlines(rooms)
    assert ell.area == sum(r.area for r in rooms)
    assert len(ell.exterior.coords) - 1 == 6
    parted = outlines(rooms, joined=False)
    assert sorted(p.area for p in parted) == sorted(r.area for r in rooms)


def test_a_pocket_beside_parts_reaches_as_far_as_they_let_it():
    # Two parts at the ends: by hand 1000 × 450 above both, and 810 × 50 between them is too low.
    high = laid(SheetSpec("s", rectangle(1000, 500)), (0, 0), (900, 0))
    assert [(r.width, r.height) for r in high] == [(1000, 450)]
    # Parts 130 high: a pocket of 790 × 130 between them joins what is above.
    deep = laid(SheetSpec("s", rectangle(1000, 500)), (0, 0), (893, 0), size=(107, 133))
    assert [(round(r.width), round(r.height)) for r in deep] == [(1000, 367), (786, 133)]
    (whole,) = outlines(deep)
    assert whole.area == pytest.approx(1000 * 500 - 2 * 107 * 133)


def test_what_goes_all_round_the_parts_is_no_frame():
    rooms = laid(SheetSpec("s", rectangle(1000, 1000)), (450, 450), size=(100, 100))
    made = outlines(rooms)
    assert len(rooms) == 4
    assert all(not p.interiors for p in made)
    assert sum(p.area for p in made) == pytest.approx(1000 * 1000 - 100 * 100)


@given(
    st.lists(st.tuples(st.integers(0, 900), st.integers(0, 450)), min_size=1, max_size=6),
)
def test_outlines_are_all_that_is_kept_and_have_no_neck(places):
    rooms = laid(SheetSpec("s", rectangle(1000, 500)), *places)
    made = outlines(rooms)
    assert sum(p.area for p in made) == pytest.approx(sum(r.area for r in rooms))
    for one in made:
        assert one.is_valid and not one.interiors
        # A square as wide as the smallest side that is kept goes through all of it.
        opened = one.buffer(-39.9, join_style="mitre")
        assert opened.geom_type == "Polygon"


@pytest.mark.parametrize("rule", [(0, 100), (100, 0), (6000, 100)])
def test_a_rule_that_keeps_nothing_sensible_is_refused(rule):
    with pytest.raises(InputError):
        KeepRule(*rule)


# Used up


def tin(**more):
    given = {"id": "c", "name": "cement", "kind": ConsumableKind.CEMENT, "size": 750.0}
    return Consumable(**(given | {"coverage": 4.0, "coats": 1, "left": 100.0} | more))


def test_cement_by_hand():
    # 0.5 m² of joint, both faces, two coats: 2 m² at 4 m² a litre is half a litre.
    found = reckon("cement", {"area": "0.5 m2", "coats": "2", "coverage": "4"})
    assert found.figure("volume") == pytest.approx(500)
    # 1.2 m², three coats, a fifth sprayed past: 3.6 ÷ 9 ÷ 0.8 litres.
    found = reckon(
        "coating", {"area": "1200000", "coats": "3", "coverage": "9", "loss_percent": "20"}
    )
    assert found.figure("volume") == pytest.approx(500)


def test_what_is_short_is_bought_in_whole_tins():
    use = used_up(tin(), 4e6, "2026-05-01")  # 1 litre
    assert (use.need, use.short, use.packs) == (pytest.approx(1000), pytest.approx(900), 2)
    assert used_up(tin(left=1000.0), 4e6, "2026-05-01").packs == 0
    assert used_up(tin(price=Decimal("11.80")), 4e6, "2026-05-01").cost == Decimal("23.60")


@pytest.mark.parametrize(
    ("opened", "today", "old"),
    [
        ("2026-01-15", "2026-07-14", False),
        ("2026-01-15", "2026-07-15", True),
        ("2025-11-30", "2026-05-29", False),
        ("", "2030-01-01", False),
    ],
)
def test_an_old_tin_counts_for_nothing(opened, today, old):
    can = tin(opened=opened, months=6, left=5000.0)
    use = used_up(can, 4e6, today)
    assert use.old is old
    assert (use.packs > 0) is old


def test_blades_by_the_metre():
    box = tin(kind=ConsumableKind.BLADE, size=10, coverage=12.0, left=4)
    use = used_up(box, 61_000, "2026-05-01")
    assert (use.need, use.packs) == (6, 1)  # 61 m ÷ 12 m, rounded up; two more than at hand


@pytest.mark.parametrize(
    "wrong",
    [{"size": 0}, {"coverage": 0}, {"coats": 0}, {"left": -1}, {"opened": "May"}, {"months": -1}],
)
def test_what_makes_no_sense_is_refused(wrong):
    with pytest.raises(InputError, match="consumable"):
        tin(**wrong)


# Usual sizes and offers


def test_usual_sizes_are_offers_without_a_price():
    metric, inches = (usual_foam(metric=m, imperial=not m) for m in (True, False))
    both = usual_foam(metric=True, imperial=True)
    assert {i.id for i in both} == {i.id for i in metric} | {i.id for i in inches}
    assert len({i.id for i in both}) == len(both)
    assert all(i.sold and i.price is None and i.owned == 0 for i in both)
    assert {2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0} <= {i.foam.thickness for i in metric}
    assert 12.7 in {i.foam.thickness for i in inches}
    assert {StockKind.SHEET, StockKind.TILE, StockKind.ROLL} <= {i.kind for i in metric}
    assert usual_bars(metric=True, imperial=False)


@pytest.mark.parametrize(
    "wrong",
    [
        {"breaks": ()},
        {"breaks": ((0, Decimal(1)),)},
        {"breaks": ((1, Decimal(1)), (1, Decimal(2)))},
        {"breaks": ((1, Decimal(-1)),)},
        {"breaks": ((1, Decimal("NaN")),)},
        {"pack": 0},
        {"available": -1},
    ],
)
def test_an_offer_that_makes_no_sense_is_refused(wrong):
    given = {"breaks": ((1, Decimal(1)),)} | wrong
    with pytest.raises(InputError, match="offer 'o'"):
        Offer("o", "s", SoldSheet(rectangle(100, 50)), **given)


def test_steps_count_for_all_packs():
    steps = ((1, Decimal(10)), (5, Decimal(8)))
    offer = Offer("o", "s", SoldSheet(rectangle(100, 50)), steps, 1, 6)
    assert [offer.cost(n) for n in (0, 1, 4, 5, 6)] == [0, 10, 40, 40, 48]
    with pytest.raises(InputError):
        offer.cost(7)


def test_shipping_is_free_from_its_sum_on():
    shop = Supplier("s", shipping=Decimal(5), free_from=Decimal(50))
    assert [shop.shipping_of(Decimal(g)) for g in ("0", "0.01", "49.99", "50")] == [0, 5, 5, 0]


def test_a_roll_is_offered_whole_by_its_price_a_metre():
    roll = sheet("r", "roll", EVA6, (8000, 900), kind=StockKind.ROLL, price=Decimal("9.80"))
    assert roll.offer().breaks == ((1, Decimal("78.40")),)


def test_what_others_hold_is_not_free():
    item = sheet("k", "k", EVA6, (500, 400), owned=3)
    assert ShopStock((item,)).free_for("p") == ShopStock((item,))
    with pytest.raises(InputError, match="measured"):
        replace(item, measured=0.0)
