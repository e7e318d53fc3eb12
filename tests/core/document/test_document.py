from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import (
    KeptLayout,
    Project,
    add_pieces,
    change_piece,
    change_pieces,
    keep_layout,
    remove_pieces,
    set_gap,
    set_name,
    set_pins,
)
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.build import PLAIN
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece, Turn
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import Material, ShopStock, StockItem, StockKind, sheet
from ivory_quilt.core.stock.purchase import ledger_change
from ivory_quilt.core.units import EURO
from tests.parts import parts_of
from tests.strategies import pieces

EVA6 = Foam(6.0, "eva")
FLAG = Shape.make([(0, 0), (80, 0), (20, 40)])  # no symmetry: hands can be told apart


def piece(ident="a", shape=FLAG, **rest):
    return Piece(ident, ident, shape, **rest)


def stock(*items, alike=True):
    return ShopStock(tuple(items), (Material("eva", "EVA foam", alike),))


def half_sheet(owned=0, price="10"):
    return sheet(
        "half", "half sheet", EVA6, (200, 100), owned=owned, price=Decimal(price) if price else None
    )


def kept(*where, pins=()):
    placements = tuple(Placement(i, c, s, 0, Pose(x, y)) for i, c, s, x, y in where)
    return KeptLayout(EVA6, placements, frozenset(pins))


# Pieces and parts


@pytest.mark.parametrize(
    "wrong",
    [
        {"thickness": 0.0},
        {"count": -1},
        {"name": " "},
        {"drawn_hand": Hand.PAIR},
        {"shape": Shape.make([(0, 0), (9, 9), (9, 0), (0, 9.5)])},
    ],
)
def test_pieces_that_make_no_sense_are_refused(wrong):
    with pytest.raises(InputError, match="piece"):
        replace(piece(), **wrong)


def test_a_pair_is_one_of_each_hand_and_the_undrawn_one_is_mirrored():
    left, right = parts_of(piece(hand=Hand.PAIR, count=3))
    assert (left.hand, left.count, left.mirrored) == (Hand.LEFT, 3, False)
    assert (right.hand, right.count, right.mirrored) == (Hand.RIGHT, 3, True)
    assert right.shape == left.shape.mirrored()
    assert right.shape != left.shape


def test_the_drawn_hand_may_be_the_right_one():
    left, right = parts_of(piece(hand=Hand.PAIR, drawn_hand=Hand.RIGHT))
    assert (left.mirrored, right.mirrored) == (True, False)


def test_a_textured_face_up_is_cut_from_the_other_side():
    (part,) = parts_of(piece(face=FaceUp.TEXTURED))
    assert part.shape == FLAG.mirrored()
    left, right = parts_of(piece(face=FaceUp.TEXTURED, hand=Hand.PAIR))
    assert (left.mirrored, right.mirrored) == (True, False)


@given(pieces())
def test_parts_are_as_many_as_the_piece_says(made):
    made = replace(made, build=PLAIN)  # without layers, wraps and covers of its own
    parts = parts_of(made)
    assert sum(p.count for p in parts) == made.cut_count
    larger = bool(made.rule and made.rule.trim > 1e-3)
    assert all((p.shape.area > made.shape.area + 1e-6) == larger for p in parts)
    assert {p.foam for p in parts} <= {Foam(made.thickness, made.material)}


def test_turning_rules():
    turns = {t: parts_of(piece(turn=t))[0].rotations for t in Turn}
    assert turns[Turn.FREE] is None
    assert turns[Turn.DIRECTION] == (0.0, 180.0)
    assert len(turns[Turn.QUARTERS]) == 4


# The document


def test_the_document_cannot_be_changed_in_place():
    with pytest.raises(AttributeError, match="immutable type: 'Project'"):
        Project().name = "x"
    assert not FLAG.outer.flags.writeable


def test_edits_share_what_did_not_change():
    project = add_pieces(Project(), [piece("a"), piece("b")])
    after = change_piece(project, "a", thickness=4.0)
    assert after.piece("b") is project.piece("b")
    assert project.piece("a").thickness == 6.0
    assert remove_pieces(after, ["a"]).pieces == (project.piece("b"),)


def test_taken_ids_are_renewed():
    project = add_pieces(Project(), [piece("a"), piece("a"), piece("a")])
    assert [p.id for p in project.pieces] == ["a", "a-2", "a-3"]
    with pytest.raises(InputError, match="twice"):
        Project(pieces=(piece("a"), piece("a")))


def test_edits_that_make_no_sense_are_refused():
    project = Project(pieces=(piece("a"),))
    with pytest.raises(InputError, match="'z'"):
        change_pieces(project, ["a", "z"], count=2)
    with pytest.raises(InputError, match="gap"):
        set_gap(project, -1)
    with pytest.raises(InputError, match="name"):
        set_name(project, "  ")


def test_layouts_are_kept_one_a_foam():
    one, other = kept(("a", 0, "own:half", 5, 5)), kept(("a", 0, "own:half", 9, 9))
    project = keep_layout(keep_layout(Project(), one), other)
    assert project.layouts == (other,)
    pinned = set_pins(one, [("a", 0)], pinned=True)
    assert pinned.pinned() == one.placements
    assert set_pins(pinned, [("a", 0)], pinned=False) == one


# The plan


def test_an_edit_of_one_piece_derives_one_piece():
    project = add_pieces(Project(), [piece("a"), piece("b", thickness=4.0)])
    shop = stock(half_sheet())
    before = derive(project, shop)
    after = derive(change_piece(project, "a", count=2), shop, previous=before)
    assert after.parts["b"] is before.parts["b"]
    assert after.parts["a"] is not before.parts["a"]
    assert after.foam(Foam(4.0, "eva")) is before.foam(Foam(4.0, "eva"))
    assert after.foam(EVA6) is not before.foam(EVA6)


def test_without_foam_the_plan_says_so():
    plan = derive(Project(pieces=(piece(),)), stock())
    assert plan.foams[0].standing is Standing.NO_STOCK
    assert plan.ledger.unplaced == 1
    assert plan.unlaid == ()


def test_a_kept_layout_stands_until_it_no_longer_holds():
    shop = stock(half_sheet(owned=1))
    project = Project(pieces=(piece(count=2),))
    good = kept(("a", 0, "own:half", 5, 5), ("a", 1, "own:half", 100, 5))
    plan = derive(keep_layout(project, good), shop)
    assert plan.foams[0].standing is Standing.KEPT
    assert plan.ledger.cost == 0
    for change in (
        {"count": 3},
        {"shape": rectangle(120, 90)},
        {"thickness": 4.0},
    ):
        later = derive(change_piece(keep_layout(project, good), "a", **change), shop)
        assert later.foams[0].standing is not Standing.KEPT
    clash = kept(("a", 0, "own:half", 5, 5), ("a", 1, "own:half", 6, 5))
    assert derive(keep_layout(project, clash), shop).foams[0].standing is Standing.STALE


def test_pins_that_no_longer_hold_are_counted_and_let_go():
    layout = kept(
        ("a", 0, "own:half", 5, 5),
        ("a", 1, "own:half", 6, 5),
        ("x", 0, "own:half", 0, 0),
        pins=[("a", 0), ("a", 1), ("x", 0)],
    )
    project = keep_layout(Project(pieces=(piece(count=2),)), layout)
    foam = derive(project, stock(half_sheet(owned=1))).foams[0]
    assert foam.lost_pins == 2
    assert len(foam.job.pieces[0].fixed) == 1


def test_faces_decide_what_may_be_flipped():
    project = Project(pieces=(piece("shown"), piece("hidden", face=FaceUp.EITHER)))
    two_faced = derive(project, stock(half_sheet(), alike=False)).foams[0].job.pieces
    assert [p.mirror for p in two_faced] == [False, True]
    alike = derive(project, stock(half_sheet(), alike=True)).foams[0].job.pieces
    assert [p.mirror for p in alike] == [True, True]


def test_the_ledger_counts_what_is_bought_and_what_is_owned():
    project = Project(pieces=(piece("a", rectangle(150, 80), count=2),))
    layout = kept(("a", 0, "own:half", 0, 0), ("a", 1, "buy:half", 0, 0))
    plan = derive(keep_layout(project, layout), stock(half_sheet(owned=1)))
    line = plan.ledger.line(EVA6)
    assert (line.sheets(owned=True), line.sheets(owned=False)) == (1, 1)
    assert (line.cost, plan.ledger.cost) == (Decimal(10), Decimal(10))
    # By hand: 2 × 150 × 80 of 2 × 200 × 100 mm².
    assert plan.ledger.waste_share == pytest.approx(1 - 24000 / 40000)
    steps = line.reckon_cost(EURO).steps
    assert any("10" in s.formula for s in steps)
    assert line.reckon_scrap().results["scrap"] == pytest.approx(0.4)


def test_a_roll_costs_by_the_metre():
    roll = sheet("r", "roll", EVA6, (5000, 100), kind=StockKind.ROLL, price=Decimal("8"), margin=5)
    layout = kept(("a", 0, "buy:r", 5, 5))
    project = keep_layout(Project(pieces=(piece("a", rectangle(495, 90)),)), layout)
    line = derive(project, stock(roll)).ledger.line(EVA6)
    # By hand: 5 + 495 + 5 mm of margin and part at 8 a metre.
    assert line.cost == Decimal("4.04")
    assert line.lines[0].amount == pytest.approx(505)


def test_the_change_since_an_edit_is_said_in_words():
    project = Project(pieces=(piece("a", rectangle(150, 80)),))
    shop = stock(half_sheet())
    one = derive(keep_layout(project, kept(("a", 0, "buy:half", 0, 0))), shop).ledger
    more = change_piece(project, "a", count=2)
    layout = KeptLayout(
        EVA6,
        (
            Placement("a", 0, "buy:half", 0, Pose(0, 0)),
            Placement("a", 1, "buy:half", 1, Pose(0, 0)),
        ),
    )
    two = derive(keep_layout(more, layout), shop).ledger
    change = ledger_change(one, two)
    assert change.foams == ((EVA6, "+1 sheet"),)
    assert change.cost == Decimal(10)
    assert ledger_change(two, one).foams == ((EVA6, "−1 sheet"),)
    assert ledger_change(one, one).empty


@pytest.mark.parametrize(
    "wrong", [{"owned": -1}, {"price": Decimal(-2)}, {"margin": -1.0}, {"id": ""}]
)
def test_stock_that_makes_no_sense_is_refused(wrong):
    good = StockItem("a", "a", StockKind.SHEET, EVA6, rectangle(10, 10))
    with pytest.raises(InputError, match="stock"):
        replace(good, **wrong)


@given(st.lists(pieces(), max_size=4))
def test_deriving_twice_gives_the_same(made):
    project = add_pieces(Project(), made)
    shop = stock(half_sheet())
    first = derive(project, shop)
    again = derive(project, shop, previous=first)
    assert again.ledger == first.ledger
    assert all(a is b for a, b in zip(again.foams, first.foams, strict=True))
