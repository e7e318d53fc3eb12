"""What cutting a sheet does to the shelf: taken, left, put back; all of it or nothing."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind, sheet
from ivory_quilt.core.stock.past_order import OrderedLine, PastOrder, price_changes
from ivory_quilt.core.stock.spent_sheet import CutPart, SpentSheet
from ivory_quilt.shop.cutting import move_foam, put_back, take_cut
from ivory_quilt.shop.sqlite_store import SqliteStore
from tests.effort import random_cases

EVA = Foam(6.0, "eva")
PART = CutPart("p", "plate", rectangle(100, 50), Pose(5, 5))


def offcut(label, width=300.0):
    return StockItem(label, f"offcut {label}", StockKind.OFFCUT, EVA, rectangle(width, 200), 1)


def heap(count):
    return StockItem("scrap-60x40", "scrap", StockKind.SCRAP, EVA, rectangle(60, 40), count)


def spent(ident, item, *left, owned=True):
    return SpentSheet(ident, item, owned, None, (PART,), left)


@pytest.fixture
def store():
    made = SqliteStore(None)
    made.put(sheet("s", "half", EVA, (1000, 500), owned=2, price=Decimal(9)))
    made.put(sheet("u", "rest", EVA, (400, 300), owned=1))
    yield made
    made.close()


def owned(store):
    return {i.id: i.owned for i in store.stock().items if i.foam == EVA}


def test_a_sheet_leaves_the_shelf_and_its_offcuts_come_onto_it(store):
    half, rest = store.stock().item("s"), store.stock().item("u")
    one = spent("cut", half, offcut("A1"), heap(3))
    take_cut(store, one)
    assert owned(store) == {"s": 1, "u": 1, "A1": 1, "scrap-60x40": 3}
    two = spent("cut-2", rest, heap(2))
    take_cut(store, two)  # the last of what nobody sells is gone
    assert owned(store) == {"s": 1, "A1": 1, "scrap-60x40": 5}
    put_back(store, two)
    put_back(store, one)
    assert owned(store) == {"s": 2, "u": 1}
    bought = spent("cut-3", half, offcut("A1"), owned=False)
    take_cut(store, bought)
    assert owned(store) == {"s": 2, "u": 1, "A1": 1}


def test_what_cannot_be_done_changes_nothing(store):
    half = store.stock().item("s")
    take_cut(store, spent("cut", half, offcut("A1")))
    before = store.stock()
    with pytest.raises(InputError, match="label A1"):
        take_cut(store, spent("cut-2", half, heap(1), offcut("A1")))
    assert store.stock() == before
    store.remove("A1")
    with pytest.raises(InputError, match="something was cut from it"):
        put_back(store, spent("cut", half, offcut("A1")))
    assert owned(store)["s"] == 1
    take_cut(store, spent("cut-2", half))
    with pytest.raises(InputError, match="none is on the shelf"):
        take_cut(store, spent("cut-3", half))


@random_cases(15, 150)
@given(st.lists(st.integers(0, 5), max_size=12))
def test_the_shelf_follows_whatever_way_a_project_goes(steps):
    store = SqliteStore(None)
    store.put(sheet("s", "half", EVA, (1000, 500), owned=9))
    first = store.stock()
    half = first.item("s")
    sheets = [
        spent(f"cut-{k}", half, offcut(f"A{k + 1}"), heap(k + 1), owned=k % 3 != 2)
        for k in range(6)
    ]
    now = ()
    for step in steps:  # each step cuts one more sheet, or takes one back
        one = sheets[step]
        after = tuple(s for s in now if s is not one) if one in now else (*now, one)
        move_foam(store, now, after)
        now = after
        there = owned(store)
        assert there["s"] == 9 - sum(s.owned for s in now)
        assert there.get("scrap-60x40", 0) == sum(s.left[1].owned for s in now)
        assert {i for i in there if i.startswith("A")} == {s.left[0].id for s in now}
    move_foam(store, now, ())
    assert {i.id: i.owned for i in store.stock().items} == {"s": 9}
    store.close()


# Orders of the past


def order(day, *costs, project="beetle"):
    lines = tuple(
        OrderedLine(f"i{k}", f"item {k}", "near", 2, Decimal(c)) for k, c in enumerate(costs)
    )
    return PastOrder(day, project, lines, Decimal("3.50"))


def test_past_orders_are_kept_oldest_first_and_once_a_day(store):
    store.put_past_order(order("2027-03-02", "10.00"))
    store.put_past_order(order("2027-02-01", "8.00"))
    store.put_past_order(order("2027-03-02", "11.00", "4.00"))
    found = store.past_orders()
    assert [o.day for o in found] == ["2027-02-01", "2027-03-02"]
    assert found[1] == order("2027-03-02", "11.00", "4.00")
    assert found[1].total == Decimal("18.50")


def test_prices_are_compared_with_the_last_time_each_was_ordered():
    past = (order("2027-03-02", "11.00"), order("2027-02-01", "8.00", "6.00"))
    now = (
        OrderedLine("i0", "item 0", "near", 4, Decimal("24.20")),
        OrderedLine("i9", "new", "", 1, Decimal(1)),
    )
    found = price_changes(now, past)
    assert set(found) == {"i0"}
    assert (found["i0"].before, found["i0"].now) == (Decimal("5.50"), Decimal("6.05"))
    assert found["i0"].percent == pytest.approx(10)
    assert found["i0"].day == "2027-03-02"


def test_a_tile_keeps_which_of_its_sides_interlock(store):
    tile = replace(
        sheet("t", "border tile", EVA, (600, 600), kind=StockKind.TILE, owned=4, margin=20),
        sides="left right above",
    )
    store.put(tile)
    there = store.stock().item("t")
    assert there == tile
    assert there.teeth == (20, 0, 20, 20)
    shape, margin = there.laid_on
    assert (shape.bounds, margin) == ((20, 0, 580, 580), 0)
    with pytest.raises(InputError, match="sides"):
        replace(tile, sides="north")
