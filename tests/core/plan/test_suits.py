"""Every wearer's suit: sizes, counts, names, what is shared and what is taken over."""

from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import Project, change_piece
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.pattern.build import Build, Layer, LayerSize
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.plan.making import make_piece, recounted
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.standing import Proposal, Standing
from ivory_quilt.core.plan.suits import template_cuts_of
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import ShopStock, sheet
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import MATERIALS, demo_stock
from ivory_quilt.demo.troupe import troupe_project

CUFF = Piece("cuff", "shin cuff", rectangle(200.0, 90.0), hand=Hand.PAIR)
BAND = Piece("band", "belly band", rectangle(150.0, 30.0), count=3)
WEARERS = (Wearer("a", "Lantern bearer"), Wearer("b", "Moth"), Wearer("c", "Bat"))
STOCK = ShopStock((sheet("six", "6 mm", Foam(6.0, "eva"), (1000.0, 500.0), price=Decimal(4)),))
DEMO_STOCK = ShopStock(demo_stock(), MATERIALS)


def project(*troupe, pieces=(CUFF, BAND)):
    return Project("troupe", pieces, wearers=WEARERS, troupe=troupe)


def parts(plan):
    return {p.id: p for f in plan.foams for p in f.parts}


def test_without_a_troupe_one_suit_is_made_as_drawn():
    plan = derive(project(), STOCK)
    assert set(parts(plan)) == {"cuff/left", "cuff/right", "band"}
    assert {p.wearer for p in parts(plan).values()} == {""}


def test_each_wearer_gets_every_part_in_their_size_and_number():
    plan = derive(project(Member("a", 1, 1.0), Member("b", 2, 1.5, (("band", 1.2),))), STOCK)
    found = parts(plan)
    assert set(found) == {
        f"{part}@{who}" for part in ("cuff/left", "cuff/right", "band") for who in "ab"
    }
    assert found["band@a"].count == 3
    assert found["band@b"].count == 6
    assert found["cuff/left@b"].shape.area == pytest.approx(200 * 90 * 1.5**2)
    assert found["band@b"].shape.area == pytest.approx(150 * 30 * 1.2**2)
    assert found["cuff/left@b"].label == "shin cuff · left · Moth"
    assert found["band@a"].foam == found["band@b"].foam
    assert plan.ledger.parts == 2 + 3 + 2 * (2 + 3)
    drawn = derive(project(), STOCK).weight
    cuff, band = drawn * 36000 / 49500, drawn * 13500 / 49500
    assert plan.weight == pytest.approx(drawn + 2 * (cuff * 1.5**2 + band * 1.2**2))


def test_thickness_does_not_grow_with_the_suit():
    plan = derive(project(Member("a", 1, 2.0)), STOCK)
    assert {f.foam.thickness for f in plan.foams} == {6.0}


def test_suits_of_one_size_share_what_is_cut_and_their_templates():
    plan = derive(project(Member("a", 1, 0.9), Member("b", 1, 0.9), Member("c", 1, 1.1)), STOCK)
    a, b, c = plan.suits
    assert a.made is b.made
    assert a.made is not c.made
    cuts = template_cuts_of(plan.suits)
    assert [(c.piece.name, c.whom, c.scale) for c in cuts] == [
        ("shin cuff", "Lantern bearer, Moth", 0.9),
        ("belly band", "Lantern bearer, Moth", 0.9),
        ("shin cuff", "Bat", 1.1),
        ("belly band", "Bat", 1.1),
    ]
    assert [c.piece.count for c in cuts] == [2, 6, 1, 3]
    assert len({c.piece.id for c in cuts}) == 4
    only = template_cuts_of(plan.suits, "c")
    assert {c.whom for c in only} == {"Bat"}


def test_many_of_one_size_are_named_shortly():
    wearers = tuple(Wearer(f"w{k}", f"Bearer {k}") for k in range(6))
    made = Project("t", (BAND,), wearers=wearers, troupe=tuple(Member(w.id) for w in wearers))
    (cut,) = template_cuts_of(derive(made, STOCK).suits)
    assert cut.whom == "Bearer 0, Bearer 1 and 4 more"
    assert cut.piece.count == 18


def test_what_did_not_change_is_the_same_object_again():
    made = project(Member("a", 1, 0.9), Member("b", 1, 1.1))
    plan = derive(made, STOCK)
    again = derive(change_piece(made, "band", name="waist band"), STOCK, None, plan)
    before, after = parts(plan), parts(again)
    assert before["cuff/left@a"] is after["cuff/left@a"]
    assert after["band@b"].name == "waist band"
    more = replace(made, troupe=(Member("a", 1, 0.9), Member("b", 5, 1.1)))
    third = parts(derive(more, STOCK, None, plan))
    assert third["band@a"] is before["band@a"]
    assert third["band@b"].count == 15


def test_a_layout_goes_over_all_wearers_and_one_edit_asks_for_its_foam_alone():
    made = project(Member("a", 1, 0.9), Member("b", 2, 1.1))
    plan = derive(made, STOCK)
    (foam,) = plan.foams
    result = lay(foam.job, limit=Limit(steps=0), clock=lambda: 0.0)
    laid = derive(made, STOCK, {foam.foam: Proposal(foam.job, result)}, plan)
    assert laid.foams[0].standing is Standing.PROPOSED
    named = derive(change_piece(made, "band", name="waist band"), STOCK, dict(laid.proposals), laid)
    assert named.foams[0].standing is Standing.PROPOSED
    larger = change_piece(made, "cuff", shape=rectangle(420.0, 260.0))
    assert derive(larger, STOCK, dict(laid.proposals), laid).foams[0].standing is Standing.MISSING


@given(st.sampled_from(["cuff", "band"]), st.floats(20.0, 400.0), st.floats(20.0, 300.0))
def test_looking_only_at_what_changed_finds_the_same(piece, width, height):
    """The quick check of a layout after an edit agrees with the whole one."""
    made = project(Member("a", 1, 0.9), Member("b", 2, 1.1))
    plan = derive(made, STOCK)
    foam = plan.foams[0]
    result = lay(foam.job, limit=Limit(steps=0), clock=lambda: 0.0)
    laid = derive(made, STOCK, {foam.foam: Proposal(foam.job, result)}, plan)
    edited = derive(
        change_piece(made, piece, shape=rectangle(width, height)),
        STOCK,
        dict(laid.proposals),
        laid,
    )
    true = not violations(edited.foams[0].job, result.placements)
    assert (edited.foams[0].standing is Standing.PROPOSED) == true


def test_forty_suits_of_the_demo_are_forty_times_its_parts():
    one = derive(demo_project(), DEMO_STOCK)
    three = derive(troupe_project(3), DEMO_STOCK)
    assert three.ledger.parts == 3 * one.ledger.parts
    assert len(troupe_project().troupe) == 40
    assert troupe_project().troupe[0].scale == 0.9
    assert troupe_project().troupe[-1].scale == 1.1


@pytest.mark.parametrize("piece", [p.id for p in demo_project().pieces])
def test_another_count_alone_is_made_as_anew(piece):
    """The short way for counts comes to the same as making the piece again."""
    plan = derive(demo_project(), DEMO_STOCK)
    old = plan.made[piece]
    fresh = replace(old.piece, count=old.piece.count + 2)
    short = recounted(old, fresh)
    whole = make_piece(fresh, old.rule, old.context, old.edge_problem)
    otherwise = {"hand-plate"}  # both its faces are covered: two covers a piece
    assert (short is None) == (piece in otherwise)
    short = short or whole
    assert [(p.id, p.count, p.shape) for p in short.parts] == [
        (p.id, p.count, p.shape) for p in whole.parts
    ]
    assert [c.piece.count for c in short.cuts] == [c.piece.count for c in whole.cuts]


def test_more_than_a_count_is_made_anew():
    layered = replace(BAND, build=Build(layers=(Layer(2.0, size=LayerSize.INSET, by=5),)))
    plan = derive(project(pieces=(layered,)), STOCK)
    old = plan.made["band"]
    assert recounted(old, replace(old.piece, count=9, name="x")) is None
    assert recounted(old, old.piece) is None
    assert recounted(old, replace(old.piece, count=4, thickness=10.0)) is None


def test_a_piece_of_which_none_was_made_is_cut_once_it_is_wanted():
    none = project(pieces=(CUFF, replace(BAND, count=0)))
    plan = derive(none, STOCK)
    assert plan.parts["band"] == ()
    wanted = derive(change_piece(none, "band", count=2), STOCK, previous=plan)
    assert [p.count for p in wanted.parts["band"]] == [2]
    again = derive(none, STOCK, previous=wanted)
    assert again.parts["band"] == ()


def test_edges_are_those_of_the_drawn_piece_in_every_size():
    plan = derive(replace(troupe_project(2), troupe=(Member("bearer-1", 1, 0.2),)), DEMO_STOCK)
    (suit,) = plan.suits
    for piece in plan.project.pieces:
        sized = edges_of(suit.made[piece.id].piece)
        drawn = edges_of(piece)
        assert [e.name for e in sized] == [e.name for e in drawn]
        assert np.array([e.start for e in sized]) == pytest.approx(
            0.2 * np.array([e.start for e in drawn])
        )
