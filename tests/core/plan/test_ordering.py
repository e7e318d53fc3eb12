"""From a plan to an order and back: what is needed, what is kept, what other ways cost."""

import time
from decimal import Decimal

import pytest

from ivory_quilt.core.document.project import Project, change_piece, keep_layout
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.pattern.build import PLAIN
from ivory_quilt.core.plan.consuming import amounts_of, uses_of
from ivory_quilt.core.plan.ordering import (
    AT,
    foam_key,
    lacking_bars,
    layouts_of,
    order_job,
    shopping_list,
)
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.plan.what_if import what_ifs
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.bars import BarKind
from ivory_quilt.core.stock.buying import Buying
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.stock.purchase import BOUGHT, OWNED
from ivory_quilt.core.stock.usual_sizes import usual_bars, usual_foam
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import (
    MATERIALS,
    demo_bars,
    demo_consumables,
    demo_stock,
    demo_suppliers,
)

SHOP = ShopStock(
    demo_stock(),
    MATERIALS,
    suppliers=demo_suppliers(),
    bars=demo_bars(),
    consumables=demo_consumables(),
)


def run(job, seconds, target, start):
    limit = Limit(seconds, None, target) if seconds > 0 else Limit(None, 0, target)
    return lay(job, limit=limit, clock=time.monotonic, start=start)


def ordered(plan, seconds=4.0):
    return Buying(order_job(plan), run, time.monotonic).run(seconds)


@pytest.fixture(scope="module")
def plan():
    return derive(demo_project(), SHOP)


@pytest.fixture(scope="module")
def result(plan):
    return ordered(plan)


def test_the_job_has_every_part_every_rod_and_every_offer(plan):
    job = order_job(plan)
    foams = {f.id: f for f in job.foams}
    for foam in plan.foams:
        mine = foams[foam_key(foam)]
        assert {p.id: p.quantity for p in mine.job.pieces} == {p.id: p.count for p in foam.parts}
        assert all(s.id.startswith(OWNED) for s in mine.job.sheets)
        sold = {i.id for i in SHOP.of(foam.foam) if i.sold}
        assert {o.id.removeprefix(BOUGHT).split(AT)[0] for o in mine.offers} == sold
    assert {f.id for f in job.foams if f.lengths} == {"10 mm half-round", "8 mm rod"}
    assert {s.id for s in job.suppliers} == {"thornmere", "dewpond"}
    assert lacking_bars(plan) == ()
    bare = derive(demo_project(), replace(SHOP, bars=()))
    assert {s.kind for s, _ in lacking_bars(bare)} == {BarKind.HALF, BarKind.ROD}


def test_an_adopted_order_is_a_plan_that_stands(plan, result):
    assert result.unplaced == 0
    assert result.bound <= result.total
    project = demo_project()
    for layout in layouts_of(plan, result):
        project = keep_layout(project, layout)
    kept = derive(project, SHOP)
    assert all(f.standing is Standing.KEPT for f in kept.foams)
    for foam in kept.foams:
        assert not violations(foam.job, foam.result.placements)
    bars = [x.cost for x in result.lines if x.offer.id.removeprefix(BOUGHT) in ("H10", "R8")]
    # What lies on a roll is paid by the length used there, by the cut length in the order.
    assert kept.ledger.cost <= result.goods - sum(bars)


def test_the_shopping_list_says_what_the_order_says(result):
    lines = shopping_list(result, SHOP)
    assert sum((x.cost for x in lines), Decimal(0)) == result.goods
    assert [x.supplier for x in lines] == sorted(x.supplier for x in lines)
    assert not any(x.unpriced for x in lines)


def test_a_shop_without_prices_is_ordered_in_sheets():
    stock = ShopStock(
        usual_foam(metric=True, imperial=False),
        MATERIALS,
        bars=usual_bars(metric=True, imperial=False),
    )
    flat = [p for p in demo_project().pieces if p.thickness == 6 and p.material == "eva"][:6]
    plan = derive(Project(pieces=tuple(replace(p, build=PLAIN) for p in flat)), stock)
    found = ordered(plan, 1.5)
    lines = shopping_list(found, stock)
    assert lines
    assert all(x.unpriced for x in lines)
    assert found.unplaced == 0


def test_pins_to_sheets_not_bought_yet_do_not_stop_an_order(plan, result):
    layouts = layouts_of(plan, result)
    bought = next(k for k in layouts if any(p.sheet.startswith(BOUGHT) for p in k.placements))
    pin = next(p for p in bought.placements if p.sheet.startswith(BOUGHT))
    pinned = replace(bought, pins=frozenset({(pin.piece, pin.copy)}))
    again = derive(keep_layout(demo_project(), pinned), SHOP)
    foam = next(f for f in order_job(again).foams if f.id == foam_key(again.foam(bought.foam)))
    assert not any(p.fixed for p in foam.job.pieces)


# Other ways


def test_every_way_says_what_is_lost_and_changes_what_it_says(plan):
    ways = what_ifs(plan)
    assert len(ways) >= 8
    assert len({w.title for w in ways}) == len(ways)
    for way in ways:
        assert way.loss.endswith(".")
        other = derive(way.project(plan.project), way.stock(SHOP))
        assert (other.project != plan.project) == (way.change is not None)
        assert (other.stock != SHOP) == (way.shop is not None)
        assert not other.problems


def test_ways_by_hand(plan):
    ways = {w.title: w for w in what_ifs(plan)}
    double = derive(ways["two suits"].project(plan.project), SHOP)
    assert double.ledger.parts == 2 * plan.ledger.parts
    small = derive(ways["scale 96 %"].project(plan.project), SHOP)
    area = sum(p.shape.area * p.count for p in plan.project.pieces)
    assert sum(p.shape.area * p.count for p in small.project.pieces) == pytest.approx(
        area * 0.96**2
    )
    assert [w.size for w in ways.values() if w.size] == [0.9, 0.95, 1.05, 1.1]
    only = ways["Thornmere only"].stock(SHOP)
    assert {i.supplier for i in only.items if i.sold} == {"thornmere"}
    assert sum(i.owned for i in only.items) == sum(i.owned for i in SHOP.items)


def test_an_empty_project_has_no_other_ways():
    assert what_ifs(derive(Project(), SHOP)) == ()


def test_an_earlier_search_is_remembered_where_nothing_changed(plan):
    first = Buying(order_job(plan), run, time.monotonic)
    found = first.run(3.0)
    laid = []

    def counted(job, seconds, target, start):
        laid.append(job)
        return run(job, seconds, target, start)

    again = Buying(order_job(plan), counted, time.monotonic, earlier=first).run(3.0)
    assert again.total <= found.total
    assert len(laid) <= len(plan.foams) + 2  # the rest is known; leftovers are improved


# Used up


def test_what_is_glued_and_coated_grows_with_the_suit(plan):
    one = amounts_of(plan)
    assert one.glued == one.seams + one.layers
    assert min(one.seams, one.layers, one.outer, one.cuts) > 0
    double = replace(
        plan.project, pieces=tuple(replace(p, count=2 * p.count) for p in plan.project.pieces)
    )
    two = amounts_of(derive(double, SHOP))
    for name in ("layers", "outer", "cuts", "seams"):
        assert getattr(two, name) == pytest.approx(2 * getattr(one, name))


def test_a_seam_takes_its_face_on_both_sides(plan):
    seam = next(s for s in plan.project.seams if not s.onto_other_hand)
    piece = plan.project.piece(seam.first.piece)
    other = plan.project.piece(seam.second.piece)
    alone = Project(pieces=tuple({p.id: p for p in (piece, other)}.values()), seams=(seam,))
    thick = change_piece(alone, piece.id, thickness=2 * piece.thickness)
    if other.id != piece.id:
        thick = change_piece(thick, other.id, thickness=2 * other.thickness)
    one, two = (amounts_of(derive(p, SHOP)).seams for p in (alone, thick))
    assert two == pytest.approx(2 * one)


def test_the_shops_consumables_are_all_reckoned(plan):
    uses = uses_of(plan, "2026-09-01")
    assert {u.what.id for u in uses} == {c.id for c in SHOP.consumables}
    cement = next(u for u in uses if u.what.id == "C1")
    assert cement.old  # opened in February, good for six months
    assert cement.need == pytest.approx(amounts_of(plan).glued / 1e6 / 3.5 * 1000)
