"""Fixings: how long, how wide, how many, by hand; and that they reach the list of things."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.fastening import need_of, refreshed_fixings, set_fixings
from ivory_quilt.core.document.project import Project, change_piece, remove_pieces
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.measure.fit_check import FitCheck, FitKind, FitResult
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.fixing import Fixing, FixingKind, fixing_need
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from tests.effort import random_cases


def need(kind, edge=0.0, girth=0.0, **more):
    return fixing_need(Fixing("f", kind, "p", **more), edge, girth)


def test_a_strap_of_three_quarters_of_an_inch_is_cut_three_inches_wide():
    # Common practice, no source: 3 in makes 3/4 in.
    found = need(FixingKind.STRAP, way=300, width=19.05)
    assert found.reckoning.figure("cut_width") == pytest.approx(76.2)
    assert found.reckoning.figure("length") == 300 + 50 + 80


def test_tapes_zips_hinges_and_backings():
    assert need(FixingKind.WEBBING, girth=400).reckoning.figure("length") == 530
    assert need(FixingKind.ELASTIC, girth=400).reckoning.figure("length") == pytest.approx(390)
    assert need(FixingKind.ZIP, edge=287).words == "zip, 250 mm long"
    assert "gap 8 mm" in need(FixingKind.HINGE, edge=120, width=8).words
    assert "38 mm wide" in need(FixingKind.HINGE, edge=120, width=8).words
    assert need(FixingKind.MAGNET, count=3).count == 6
    assert need(FixingKind.BUCKLE, count=2).count == 2


@random_cases(60, 600)
@given(st.floats(25, 3000), st.floats(5, 300))
def test_rivets_are_evenly_apart_and_no_further_than_wanted(edge, spacing):
    found = need(FixingKind.RIVET, edge=edge, spacing=spacing)
    apart = found.reckoning.figure("apart")
    assert apart <= spacing + 1e-6
    assert (found.count - 1) * apart == pytest.approx(edge - 20)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: need(FixingKind.WEBBING),
        lambda: need(FixingKind.RIVET, edge=10),
        lambda: need(FixingKind.ZIP, edge=30),
        lambda: Fixing("f", FixingKind.ZIP, "p", width=1),
        lambda: Fixing("f", FixingKind.ZIP, "p", count=0),
    ],
)
def test_what_nothing_says_is_refused(wrong):
    with pytest.raises(InputError):
        wrong()


@pytest.fixture
def cuff():
    piece = Piece("c", "cuff", rectangle(300, 120), count=2)
    wearer = Wearer("w", "Mika", measures=(Measure("wrist", 170.0),))
    return Project(pieces=(piece,), wearers=(wearer,))


def test_what_fixings_take_reaches_the_list_of_things(cuff):
    edge = edges_of(cuff.pieces[0])[1].name
    fixings = (
        Fixing("a", FixingKind.WEBBING, "c", spot="wrist"),
        Fixing("b", FixingKind.RIVET, "c", edge=edge, spacing=50),
        Fixing("d", FixingKind.BACKING, "c", edge=edge),
    )
    made = set_fixings(cuff, fixings)
    assert [(t.id, t.name, t.count) for t in made.things] == [
        ("fixing:a", "webbing 20 mm, ends heat-sealed, 300 mm long", 2),
        ("fixing:b", "rivet, 3 in a row, 50.0 mm apart", 6),
    ]
    # A price that was said stays when the piece grows.
    priced = replace(made, things=(replace(made.things[0], price=Decimal(2)), made.things[1]))
    grown = refreshed_fixings(change_piece(priced, "c", shape=rectangle(300, 240)))
    assert grown.things[0].price == Decimal(2)
    assert grown.things[1].count > 6
    assert set_fixings(grown, ()).things == ()
    gone = remove_pieces(grown, ["c"])
    assert (gone.fixings, gone.things) == ((), ())


def test_a_measure_that_nobody_took_is_asked_for(cuff):
    with pytest.raises(InputError, match="Measure"):
        need_of(cuff, Fixing("a", FixingKind.WEBBING, "c", spot="elbow"))
    # What cannot be reckoned any more keeps what it asked for.
    made = set_fixings(cuff, [Fixing("a", FixingKind.WEBBING, "c", spot="wrist")])
    bare = replace(made, wearers=(Wearer("w", "Mika"),))
    assert refreshed_fixings(bare) == bare


def test_checks_by_hand():
    # A quarter turn 60 mm from the joint moves the plate by 94 mm: closed forms, no source needed.
    moves = FitCheck("a", FitKind.OVERLAP, "elbow", (110.0, 60.0, 90.0))
    assert moves.reckoning.figure("spare") == pytest.approx(110 - 94.2478, abs=1e-3)
    assert moves.result is FitResult.PASSED
    assert replace(moves, values=(100.0, 60.0, 90.0)).result is FitResult.FAILED
    knees = FitCheck("b", FitKind.CLEARANCE, "knees", (50.0, 20.0, 20.0))
    assert knees.result is FitResult.FAILED
    assert FitCheck("c", FitKind.OPENING, "boots", (340.0, 320.0)).result is FitResult.PASSED
    # What was found on the body is what counts.
    assert replace(knees, tried=FitResult.PASSED).result is FitResult.PASSED
    assert FitCheck("d", FitKind.TRIED, "sits").result is FitResult.OPEN
    with pytest.raises(InputError):
        FitCheck("e", FitKind.OPENING, "boots", (340.0,))
