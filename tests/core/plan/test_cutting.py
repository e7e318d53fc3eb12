"""Sheets that are cut: what is left to lay and to keep; spares, ranks, scrap, shares of cost."""

import random
import time
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.cutting import (
    cut_sheet,
    sheets_arrived,
    uncut_sheet,
    without_sheet,
)
from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, SheetSpec
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Hand, Piece, Wanted
from ivory_quilt.core.pattern.spares import SpareRule, is_hard, spares_of
from ivory_quilt.core.plan.costing import group_costs, piece_costs, piece_groups, shared
from ivory_quilt.core.plan.cutting import labels, sheet_to_cut
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import ShopStock, StockItem, StockKind, sheet
from ivory_quilt.core.stock.keeping import KeepRule, kept_of
from ivory_quilt.core.stock.purchase import stock_specs
from ivory_quilt.core.stock.remains import remains_of
from ivory_quilt.core.stock.scrap import scrap_shares
from tests.effort import random_cases

EVA = Foam(6.0, "eva")
SHOP = ShopStock(
    (
        sheet("s", "half", EVA, (500, 300), owned=3),
        sheet("t", "full", EVA, (1000, 500), price=Decimal("9.00")),
    )
)


def kept(project, plan):
    for foam in plan.foams:
        result = lay(foam.job, limit=Limit(steps=0), clock=lambda: 0.0)
        project = keep_layout(project, KeptLayout(foam.foam, result.placements))
    return project


def used(plan):
    return [(f, (u.id, u.copy)) for f in plan.foams if f.result for u in f.result.stock]


@random_cases(20, 200)
@given(
    st.lists(
        st.tuples(st.integers(40, 240), st.integers(40, 240), st.integers(1, 4)),
        min_size=1,
        max_size=5,
    )
)
def test_cut_sheet_by_sheet_until_nothing_is_left(sizes):
    pieces = tuple(
        Piece(f"p{k}", f"plate {k}", rectangle(w, h), count=n) for k, (w, h, n) in enumerate(sizes)
    )
    wanted = sum(n for _, _, n in sizes)
    shop = SHOP
    project = Project(pieces=pieces)
    project = kept(project, derive(project, shop))
    plan = derive(project, shop)
    area = plan.ledger.foam_area
    while used(plan):
        foam, key = random.Random(str(sizes)).choice(used(plan))
        spent = sheet_to_cut(plan, foam, key)
        project = cut_sheet(project, spent, key)
        if spent.owned:  # as the shop's store does
            item = shop.item(spent.item.id)
            items = tuple(replace(i, owned=i.owned - 1) if i is item else i for i in shop.items)
            shop = replace(shop, items=items)
        plan = derive(project, shop, previous=plan)
        (one,) = plan.foams
        assert one.standing in (Standing.KEPT, Standing.CUT)
        assert one.line.parts == wanted
        assert one.line.cut == sum(len(s.parts) for s in project.spent)
        assert plan.ledger.foam_area == pytest.approx(area)
    assert plan.ledger.cut == wanted
    assert plan.foams[0].standing is Standing.CUT
    assert plan.ledger.cost == 0


def test_a_part_whose_outline_changed_must_be_cut_again():
    project = Project(pieces=(Piece("p", "plate", rectangle(100, 80), count=2),))
    project = kept(project, derive(project, SHOP))
    plan = derive(project, SHOP)
    foam, key = used(plan)[0]
    spent = sheet_to_cut(plan, foam, key)
    project = cut_sheet(project, spent, key)
    assert derive(project, SHOP).foams[0].standing is Standing.CUT
    hair = replace(project.pieces[0], shape=rectangle(100.1, 80))
    assert derive(replace(project, pieces=(hair,)), SHOP).foams[0].standing is Standing.CUT
    wider = replace(project.pieces[0], shape=rectangle(104, 80))
    again = derive(replace(project, pieces=(wider,)), SHOP).foams[0]
    assert again.line.cut == 0
    assert again.job.pieces[0].quantity == 2
    more = replace(project.pieces[0], count=3)
    assert derive(replace(project, pieces=(more,)), SHOP).foams[0].job.pieces[0].quantity == 1
    back = uncut_sheet(project, spent.id)
    assert derive(back, SHOP).foams[0].line.cut == 0
    with pytest.raises(InputError):
        uncut_sheet(back, spent.id)
    with pytest.raises(InputError):
        cut_sheet(project, spent, key)


def test_what_stays_of_a_layout_counts_from_0_again_with_its_pins():
    places = [
        ("p", 0, "own:s", 0),
        ("p", 1, "own:s", 1),
        ("q", 0, "own:s", 0),
        ("p", 2, "own:s", 2),
    ]
    laid = tuple(Placement(p, c, s, k, Pose(c * 10, 0)) for p, c, s, k in places)
    layout = KeptLayout(EVA, laid, frozenset({("p", 2), ("q", 0)}))
    left = without_sheet(layout, ("own:s", 0))
    assert [(p.piece, p.copy, p.sheet_copy, p.pose.x) for p in left.placements] == [
        ("p", 0, 0, 10),
        ("p", 1, 1, 20),
    ]
    assert left.pins == {("p", 1)}


def test_what_has_arrived_is_laid_on_instead_of_what_is_bought():
    laid = tuple(Placement("p", k, "buy:t", k, Pose(0, 0)) for k in range(3))
    project = keep_layout(Project(), KeptLayout(EVA, laid))
    after = sheets_arrived(project, EVA, "buy:t", "own:t", 1, 2).layout(EVA)
    assert [(p.sheet, p.sheet_copy) for p in after.placements] == [
        ("own:t", 1),
        ("own:t", 2),
        ("buy:t", 0),
    ]
    assert sheets_arrived(Project(), EVA, "buy:t", "own:t", 0, 1) == Project()


def test_labels_are_short_and_never_twice():
    taken = {"A1", "A3"}
    found = []
    for label in labels(taken):
        found.append(label)
        if len(found) == 3000:
            break
    assert found[:3] == ["A2", "A4", "A5"]
    assert len(set(found)) == 3000
    assert max(map(len, found[:2000])) <= 3


def left_of(shape, *places, teeth=(0, 0, 0, 0), size=(100, 50), margin=0.0):
    job = LayJob(
        (PieceSpec("p", rectangle(*size), len(places)),),
        (SheetSpec("s", shape, 1, Decimal(0), margin),),
        gap=2.0,
    )
    put = tuple(Placement("p", k, "s", 0, Pose(x, y)) for k, (x, y) in enumerate(places))
    return remains_of(job, put, KeepRule(), shape, teeth)


def test_a_tile_leaves_its_edge_strips_without_their_teeth():
    tile = rectangle(600, 600)
    found = left_of(tile, (20, 20), teeth=(20, 20, 20, 20))
    assert found.strips == ((600.0, 10.0, 4),)
    corner = left_of(tile, (0, 0), teeth=(0, 0, 20, 20))
    assert corner.strips == ((600.0, 10.0, 2),)
    assert left_of(tile, (0, 0)).strips == ()
    # 560 mm are left of 600: what is above the part; the 50 mm beside it are narrower than 80.
    assert {(round(o.width), round(o.height)) for o in found.offcuts} == {(560, 510)}


def test_a_sheet_that_is_no_rectangle_leaves_its_true_outline():
    ell = Shape.make([(0, 0), (600, 0), (600, 200), (200, 200), (200, 500), (0, 500)])
    (rest,) = left_of(ell, (480, 130), size=(110, 60)).offcuts
    assert len(rest.outer) >= 6
    assert rest.area > 0.8 * (ell.area - 110 * 60)
    assert rest.area < ell.area - 110 * 60


def test_an_l_that_is_left_is_found_again_by_what_bends_around_its_corner():
    (ell,) = left_of(rectangle(600, 500), (0, 0), size=(400, 300)).offcuts
    assert ell.area == pytest.approx(600 * 500 - 400 * 300)
    offcut = StockItem("A1", "offcut A1", StockKind.OFFCUT, EVA, ell, 1, margin=2.0)
    hook = Shape.make([(0, 0), (170, 0), (170, 470), (-380, 470), (-380, 330), (0, 330)])
    shop = replace(SHOP, items=(*SHOP.items, offcut))
    (foam,) = derive(Project(pieces=(Piece("hook", "hook", hook),)), shop).foams
    found = lay(foam.job, limit=Limit(steps=3), clock=lambda: 0.0)
    assert {p.sheet for p in found.placements} == {"own:A1"}
    assert not found.unplaced


@random_cases(40, 400)
@given(
    st.lists(st.tuples(st.integers(0, 900), st.integers(0, 450)), min_size=1, max_size=8),
    st.booleans(),
)
def test_what_is_left_never_exceeds_what_there_was(places, irregular):
    whole = rectangle(1000, 500)
    if irregular:
        whole = Shape.make([(0, 0), (1000, 0), (1000, 500), (500, 440), (0, 500)])
    found = left_of(whole, *places)
    boxes = whole.polygon
    for x, y in places:
        boxes = boxes.difference(rectangle(100, 50).placed(Pose(x, y)).polygon)
    total = sum(o.area for o in found.offcuts) + sum(a * b * n for a, b, n in found.scraps)
    assert total <= boxes.area + 1.0
    rule = KeepRule()
    for offcut in found.offcuts:
        assert offcut.area >= rule.least_area * 0.98
    for a, b, _ in found.scraps:
        assert a >= b >= 20


# Scrap first


def test_scrap_pieces_are_used_before_a_sheet_is_opened():
    strip = Piece("strip", "backing strip", rectangle(150, 20), count=3)
    heap = StockItem("scrap", "scrap", StockKind.SCRAP, EVA, rectangle(170, 60), 2, margin=2.0)
    shop = replace(SHOP, items=(*SHOP.items, heap))
    (foam,) = derive(Project(pieces=(strip,)), shop).foams
    found = lay(foam.job, limit=Limit(steps=3), clock=lambda: 0.0)
    assert {p.sheet for p in found.placements} == {"own:scrap"}
    assert not found.unplaced


def test_no_more_scrap_is_thought_of_than_helps():
    heaps = tuple(
        StockItem(f"h{k}", "scrap", StockKind.SCRAP, EVA, rectangle(60 + k, 50), 10)
        for k in range(5)
    )
    sheets, _ = stock_specs(heaps)
    assert sum(s.quantity for s in sheets) == 24
    assert max(s.shape.width for s in sheets) == 64


# Where scrap comes from


def test_scrap_by_cause_by_hand():
    # An L of 100 × 100 with a 60 × 60 bite, in the corner of a 130 × 110 sheet, 5 mm from the edge.
    ell = Shape.make([(0, 0), (100, 0), (100, 40), (40, 40), (40, 100), (0, 100)])
    job = LayJob((PieceSpec("l", ell),), (SheetSpec("s", rectangle(130, 110), 1, Decimal(0), 5.0),))
    found = scrap_shares(job, (Placement("l", 0, "s", 0, Pose(5, 5)),), KeepRule())
    assert found.edges == pytest.approx(130 * 110 - 120 * 100)
    assert found.gaps == 0
    assert found.hollows == pytest.approx(60 * 60 / 2)  # the hull's chord cuts the bite in half
    assert found.rest == pytest.approx(60 * 60 / 2 + 20 * 100)
    assert found.total == pytest.approx(130 * 110 - ell.area)
    assert found.pieces == {"l": pytest.approx(found.total)}


@random_cases(30, 300)
@given(st.integers(0, 10**6))
def test_scrap_adds_up_by_cause_and_by_piece(seed):
    rng = random.Random(seed)
    pieces = tuple(
        PieceSpec(
            f"p{k}",
            Shape.make(
                [
                    (0, 0),
                    (rng.randint(40, 160), rng.randint(0, 30)),
                    (rng.randint(10, 90), rng.randint(50, 140)),
                ]
            ),
            rng.randint(1, 4),
            (0.0, 90.0, 180.0, 270.0),
        )
        for k in range(4)
    )
    gap = rng.choice((0.0, 2.0, 5.0))
    job = LayJob(pieces, (SheetSpec("s", rectangle(600, 400), None, Decimal(1), 5.0),), gap=gap)
    result = lay(job, limit=Limit(steps=0), clock=lambda: 0.0)
    rule = KeepRule()
    shares = scrap_shares(job, result.placements, rule)
    parts = sum(p.shape.area * p.quantity for p in pieces)
    back = sum(r.area for r in kept_of(job, result.placements, rule))
    taken = len(result.stock) * 600 * 400
    assert shares.total == pytest.approx(taken - parts - back, abs=5.0)  # parts may touch
    assert sum(shares.pieces.values()) == pytest.approx(shares.total, rel=1e-6)
    assert min(shares.edges, shares.gaps, shares.hollows, shares.rest) >= -1e-6
    assert (shares.gaps > 1e-3) is (gap > 0)


# What each piece costs


@given(
    st.decimals(0, 1000, places=2),
    st.dictionaries(st.text("abcdef", min_size=1, max_size=3), st.floats(0.01, 1e6), min_size=1),
)
def test_shares_of_money_add_up_to_the_cent(amount, weights):
    found = shared(amount, weights)
    assert sum(found.values()) == amount
    total = sum(weights.values())
    for key, part in found.items():
        assert abs(float(part) - float(amount) * weights[key] / total) <= 0.011
        assert part == part.quantize(Decimal("0.01"))


def test_groups_are_what_seams_bases_and_shapes_hold_together():
    from ivory_quilt.demo.project import demo_project

    project = demo_project()
    groups = piece_groups(project)
    ids = [i for g in groups for i in g.pieces]
    assert sorted(ids) == sorted(p.id for p in project.pieces if p.count)
    of = {i: g for g in groups for i in g.pieces}
    for seam in project.seams:
        assert of[seam.first.piece] is of[seam.second.piece]


def test_the_groups_cost_what_the_ledger_says():
    pieces = tuple(
        Piece(f"p{k}", f"plate {k}", rectangle(260 + 20 * k, 200), count=4) for k in range(3)
    )
    project = Project(pieces=pieces)
    project = kept(project, derive(project, SHOP))
    plan = derive(project, SHOP)
    assert plan.ledger.cost > 0
    assert sum(g.cost for g in group_costs(plan)) == plan.ledger.cost
    assert sum(c for c, _ in piece_costs(plan).values()) == plan.ledger.cost
    assert sum(a for _, a in piece_costs(plan).values()) == pytest.approx(plan.ledger.part_area)


# Spares, and what comes first


def test_spares_by_share_by_hand_and_of_what_is_hard():
    plain = Piece("p", "spike", rectangle(30, 30), count=40)
    assert spares_of(plain, 40, SpareRule(5)) == 2
    assert spares_of(plain, 4, SpareRule(5)) == 0
    assert spares_of(plain, 10, SpareRule(5)) == 1
    assert spares_of(plain, 40, SpareRule(hard=True)) == 0
    dome = replace(plain, build=Build(form=Form(FormKind.DISHED, Given.HEIGHT, 10.0)))
    assert is_hard(dome)
    assert spares_of(dome, 1, SpareRule(hard=True)) == 1
    assert spares_of(replace(dome, spares=0), 1, SpareRule(hard=True)) == 0
    assert spares_of(replace(plain, spares=3), 0, SpareRule(50)) == 0
    with pytest.raises(InputError):
        SpareRule(101)
    with pytest.raises(InputError):
        replace(plain, spares=-1)


def test_spares_are_laid_and_the_suit_weighs_no_more():
    pair = Piece("p", "cuff", rectangle(120, 80), count=2, hand=Hand.PAIR, spares=1)
    lone = Piece("q", "plate", rectangle(90, 50), count=20)
    bare = derive(Project(pieces=(replace(pair, spares=0), lone)), SHOP)
    plan = derive(Project(pieces=(pair, lone), spares=SpareRule(10)), SHOP)
    assert {p.id: (p.count, p.spares) for p in plan.foams[0].parts} == {
        "p/left": (2, 1),
        "p/right": (2, 1),
        "q": (20, 2),
    }
    assert plan.ledger.parts == 2 * 3 + 22
    assert plan.weight == pytest.approx(bare.weight)
    part = plan.foams[0].part("q")
    assert [part.number(k) for k in (0, 19, 20)] == ["1 of 20", "20 of 20", "spare"]
    raised = derive(replace(plan.project, spares=SpareRule(20)), SHOP, previous=plan)
    assert raised.foams[0].part("q").spares == 4


@pytest.mark.parametrize("seed", range(1, 7))
def test_what_is_ranked_first_is_laid_when_not_all_fits(seed):
    rng = random.Random(seed)
    pieces = []
    for k in range(14):
        shape = Shape.make(
            [(0, 0), (rng.randint(60, 140), 0), (rng.randint(20, 90), rng.randint(50, 120))]
        )
        pieces.append(
            Piece(f"p{k}", f"scale {k}", shape, wanted=rng.choice((Wanted.FIRST, Wanted.LAST)))
        )
    first = [p.id for p in pieces if p.wanted is Wanted.FIRST]
    area = sum(p.shape.area for p in pieces if p.wanted is Wanted.FIRST)
    side = max(160.0, (1.9 * area) ** 0.5)
    shop = ShopStock((sheet("s", "small", EVA, (side, side), owned=1),))
    (foam,) = derive(Project(pieces=tuple(pieces), gap=0.0), shop).foams
    found = lay(foam.job, limit=Limit(steps=6), clock=lambda: 0.0)
    assert not {i for i, _ in found.unplaced} & set(first)


@pytest.mark.parametrize("seed", [639])
def test_a_larger_sheet_or_one_more_leaves_no_more_out(seed):
    rng = random.Random(seed)
    pieces = []
    while sum(p.shape.area for p in pieces) < 0.8 * 600 * 400:
        shape = Shape.make(
            [
                (0, 0),
                (rng.randint(60, 180), rng.randint(-20, 20)),
                (rng.randint(20, 120), rng.randint(60, 150)),
            ]
        )
        pieces.append(PieceSpec(f"p{len(pieces)}", shape, 1, (0.0, 90.0, 180.0, 270.0)))
    areas = {p.id: p.shape.area for p in pieces}

    def left(*sheets):
        job = LayJob(tuple(pieces), sheets, gap=2.0)
        found = lay(job, limit=Limit(steps=100), clock=time.monotonic, seed=1)
        return sum(areas[i] for i, _ in found.unplaced)

    base = left(SheetSpec("s", rectangle(600, 400)))
    assert left(SheetSpec("s", rectangle(660, 400))) <= base
    assert left(SheetSpec("s", rectangle(600, 400)), SheetSpec("t", rectangle(300, 200))) <= base
