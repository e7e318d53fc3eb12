"""Where layouts stand: kept, offered, stale; what holds, and what answers a job that changed."""

from decimal import Decimal

import pytest

from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Piece
from ivory_quilt.core.plan.plan import derive, used_sheets
from ivory_quilt.core.plan.standing import Proposal, Standing, answers, holds, with_pins
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import Material, ShopStock, sheet

EVA = Foam(6.0, "eva")
PLATE = Piece("p", "plate", rectangle(100.0, 50.0), count=2)
SHOP = ShopStock((sheet("s", "half", EVA, (300, 200), owned=1, price=Decimal(4)),))


def at(piece, copy, x, y, sheet_id="own:s", turn=0.0):
    return Placement(piece, copy, sheet_id, 0, Pose(x, y, turn))


LAID = (at("p", 0, 10, 10), at("p", 1, 10, 70))


def job(*pieces, stock=SHOP):
    (foam,) = derive(Project(pieces=pieces), stock).foams
    return foam.job


def laid(one):
    return lay(one, limit=Limit(steps=0), clock=lambda: 0.0)


def standing(plan):
    (foam,) = plan.foams
    return foam.standing


def test_a_layout_that_holds_stays_kept_until_the_pieces_change():
    project = keep_layout(Project(pieces=(PLATE,)), KeptLayout(EVA, LAID))
    assert standing(derive(project, SHOP)) is Standing.KEPT
    wider = replace(project, pieces=(replace(PLATE, shape=rectangle(300.0, 50.0)),))
    assert standing(derive(wider, SHOP)) is Standing.STALE
    more = replace(project, pieces=(replace(PLATE, count=3),))
    assert standing(derive(more, SHOP)) is Standing.STALE
    assert standing(derive(Project(pieces=(PLATE,)), SHOP)) is Standing.MISSING
    assert standing(derive(project, ShopStock())) is Standing.NO_STOCK
    assert [f.foam for f in derive(more, SHOP).unlaid] == [EVA]
    assert derive(project, SHOP).unlaid == ()


def test_an_offer_of_another_job_is_taken_where_it_still_answers():
    offer = Proposal(job(PLATE), laid(job(PLATE)))
    project = Project(pieces=(PLATE,))
    assert standing(derive(project, SHOP, {EVA: offer})) is Standing.PROPOSED
    smaller = replace(PLATE, shape=rectangle(95.0, 45.0))
    assert standing(derive(Project(pieces=(smaller,)), SHOP, {EVA: offer})) is Standing.PROPOSED
    larger = replace(PLATE, shape=rectangle(160.0, 120.0))
    assert standing(derive(Project(pieces=(larger,)), SHOP, {EVA: offer})) is Standing.MISSING
    more = replace(PLATE, count=3)
    assert standing(derive(Project(pieces=(more,)), SHOP, {EVA: offer})) is Standing.MISSING


def test_what_holds_and_what_answers():
    one = job(PLATE)
    assert holds(one, LAID)
    assert not holds(one, LAID[:1])
    assert not holds(one, (LAID[0], at("p", 1, 20, 20)))
    result = laid(one)
    assert answers(one, result)
    assert not answers(job(replace(PLATE, count=3)), result)
    assert not answers(job(replace(PLATE, id="q")), result)
    left = replace(result, placements=LAID[:1], unplaced=(("p", 1),))
    assert answers(one, left)
    assert not answers(one, replace(left, unplaced=(("z", 0),)))
    assert not answers(one, replace(result, placements=(LAID[0], at("p", 1, 20, 20))))


@pytest.mark.parametrize(
    ("pin", "lost"),
    [
        (at("p", 0, 10, 10), 0),
        (at("gone", 0, 10, 10), 1),
        (at("p", 0, 10, 10, "own:gone"), 1),
        (at("p", 0, 250, 10), 1),
        (at("p", 0, 10, 10, turn=7.0), 1),
    ],
)
def test_a_pin_is_lost_with_its_part_its_sheet_or_its_room(pin, lost):
    made, gone = with_pins(job(PLATE), (pin,))
    assert gone == lost
    (spec,) = made.pieces
    assert spec.fixed == (() if lost else (pin,))


def test_of_two_pins_on_each_other_the_first_stays():
    made, gone = with_pins(job(PLATE), (LAID[0], at("p", 1, 15, 15), at("p", 1, 10, 70)))
    assert gone == 1
    assert made.pieces[0].fixed == (LAID[0], at("p", 1, 10, 70))


def test_lost_pins_of_a_kept_layout_are_counted():
    kept = KeptLayout(EVA, LAID, frozenset({("p", 0), ("p", 1)}))
    project = keep_layout(Project(pieces=(replace(PLATE, count=1),)), kept)
    (foam,) = derive(project, SHOP).foams
    assert foam.lost_pins == 1
    assert foam.job.pieces[0].fixed == LAID[:1]


def test_what_may_be_flipped_is_what_nobody_sees_or_foam_with_two_faces_alike():
    alike = replace(SHOP, materials=(Material("eva", "EVA", both_faces_alike=True),))
    hidden = replace(PLATE, face=FaceUp.EITHER)
    assert [job(PLATE).pieces[0].mirror, job(PLATE, stock=alike).pieces[0].mirror] == [False, True]
    assert (job(hidden).pieces[0].mirror, job(hidden).pieces[0].hidden) == (True, True)
    assert not job(PLATE, stock=alike).pieces[0].hidden


def test_the_sheets_in_use_are_numbered_and_known():
    one = job(PLATE)
    plan = derive(Project(pieces=(PLATE,)), SHOP, {EVA: Proposal(one, laid(one))})
    (used,) = used_sheets(plan.foams[0], plan.stock)
    assert (used.number, used.owned, used.item.id) == (1, True, "s")
    assert list(used_sheets(plan.foams[0], ShopStock())) == []
    assert list(used_sheets(derive(plan.project, SHOP).foams[0], SHOP)) == []


def test_weight_is_volume_by_density_for_every_copy():
    """100 × 50 × 6 mm are 30 cm³, at 0.1 g/cm³ 3 g; two copies."""
    plan = derive(Project(pieces=(PLATE,)), SHOP)
    assert plan.piece_weight("p") == pytest.approx(6.0)
    assert plan.weight == pytest.approx(6.0)


def test_a_layout_of_a_part_that_is_gone_is_no_answer():
    # as many parts as before, but another one of them
    pieces = tuple(Piece(k, k, rectangle(40 + n, 30)) for n, k in enumerate("abcdef"))
    first = derive(Project(pieces=pieces), SHOP)
    (foam,) = first.foams
    offer = Proposal(foam.job, lay(foam.job, limit=Limit(steps=0), clock=lambda: 0.0))
    plan = derive(first.project, SHOP, {EVA: offer}, first)
    assert plan.foams[0].standing is Standing.PROPOSED
    others = (*pieces[:-1], Piece("g", "g", rectangle(30, 30)))
    again = derive(replace(plan.project, pieces=others), SHOP, plan.proposals, plan)
    assert again.foams[0].standing is Standing.MISSING
