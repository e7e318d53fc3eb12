"""What hands do with a part: slide, settle, push, send; always to places that the check allows."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.hand_moves import HandMove
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, SheetSpec
from tests.effort import random_cases
from tests.strategies import jobs

BLOCK = rectangle(100, 60)
SHEET = SheetSpec("s", rectangle(400, 200), 2, margin=5.0)


def at(piece, x, y, copy=0, sheet_copy=0, rotation=0.0):
    return Placement(piece, copy, "s", sheet_copy, Pose(x, y, rotation))


@pytest.fixture
def hand():
    """One block against the lower left corner, another in the hand further right."""
    pieces = (PieceSpec("wall", BLOCK), PieceSpec("held", BLOCK, 1, (0.0, 90.0)))
    job = LayJob(pieces, (SHEET,), gap=2.0)
    return HandMove(job, (at("wall", 5, 5), at("held", 250, 100)), 1)


def test_a_free_place_is_kept_as_it_is(hand):
    found = hand.near(at("held", 200, 80))
    assert (found.pose.x, found.pose.y) == pytest.approx((200, 80), abs=1e-6)


def test_a_part_carried_into_another_slides_to_the_gap_from_it(hand):
    found = hand.near(at("held", 90, 5))
    # To the right is nearest: 5 + 100 + gap.
    assert found.pose.x == pytest.approx(107, abs=0.02)
    assert found.pose.y == pytest.approx(5, abs=0.02)
    along = hand.near(at("held", 92, 20))
    assert along.pose.x == pytest.approx(107, abs=0.02)
    assert along.pose.y == pytest.approx(20, abs=0.02)


def test_a_part_carried_over_the_edge_stays_at_the_margin(hand):
    found = hand.near(at("held", 310, 150))
    assert (found.pose.x, found.pose.y) == pytest.approx((295, 135), abs=0.02)


def test_too_far_from_any_free_place_there_is_none(hand):
    assert hand.near(at("held", 20, 10), reach=5.0) is None


@pytest.mark.parametrize(
    ("way", "x", "y"),
    [("left", 107, 20), ("right", 295, 20), ("down", 200, 5), ("up", 200, 135)],
)
def test_a_pushed_part_goes_until_it_touches(hand, way, x, y):
    moved = hand.pushed(at("held", 200, 20), way)
    assert (moved.pose.x, moved.pose.y) == pytest.approx((x, y), abs=0.02)


def test_dropping_takes_the_orientation_that_needs_the_shortest_way():
    # A slot 64 wide and high enough only for the block on end.
    pieces = (
        PieceSpec("left", rectangle(150, 190)),
        PieceSpec("right", rectangle(170, 190)),
        PieceSpec("held", BLOCK, 1, (0.0, 90.0)),
    )
    job = LayJob(pieces, (SHEET,), gap=2.0)
    lying = (at("left", 5, 5), at("right", 225, 5), at("held", 10, 10, sheet_copy=1))
    hand = HandMove(job, lying, 2)
    dropped = hand.dropped(at("held", 140, 60))
    assert dropped.pose.rotation == 90.0
    x0, _, x1, _ = BLOCK.placed(dropped.pose).bounds
    assert x0 >= 157 - 0.02
    assert x1 <= 223 + 0.02


def test_a_part_is_sent_to_another_sheet_or_told_that_it_has_no_room(hand):
    sent = hand.onto("s", 1)
    assert sent.sheet_copy == 1
    assert BLOCK.placed(sent.pose).bounds[0] == pytest.approx(5, abs=0.05)
    full = LayJob((PieceSpec("wall", rectangle(390, 190)), PieceSpec("held", BLOCK)), (SHEET,))
    lying = (at("wall", 5, 5), at("held", 5, 5, sheet_copy=1))
    assert HandMove(full, lying, 1).onto("s", 0) is None


@random_cases(25, 250)
@given(jobs(), st.data())
def test_wherever_a_hand_goes_the_layout_still_holds(job, data):
    result = lay(job, limit=Limit(steps=0), clock=lambda: 0.0)
    assume(result.placements)
    index = data.draw(st.integers(0, len(result.placements) - 1))
    one = result.placements[index]
    hand = HandMove(job, result.placements, index)
    dx, dy = data.draw(st.floats(-80, 80)), data.draw(st.floats(-80, 80))
    held = Placement(
        one.piece,
        one.copy,
        one.sheet,
        one.sheet_copy,
        Pose(one.pose.x + dx, one.pose.y + dy, one.pose.rotation, one.pose.mirrored),
    )
    moves = (hand.near(held), hand.pushed(one, "left"), hand.pushed(one, "up"))
    for moved in (m for m in moves if m is not None):
        layout = (*result.placements[:index], moved, *result.placements[index + 1 :])
        assert violations(hand.job, layout) == []


def test_a_hand_may_move_what_the_engine_must_leave():
    pin = at("wall", 5, 5)
    job = LayJob((PieceSpec("wall", BLOCK, 1, (0.0,), fixed=(pin,)),), (SHEET,))
    moved = HandMove(job, (pin,), 0).pushed(pin, "right")
    assert moved.pose.x == pytest.approx(295, abs=0.02)


def test_hidden_parts_may_be_carried_over_a_flaw_others_not():
    flaw = Shape.make([(150, 0), (170, 0), (170, 200), (150, 200)])
    sheet = SheetSpec("s", rectangle(400, 200), 1, defects=(flaw,))
    for hidden, x in ((True, 120.0), (False, pytest.approx(170, abs=0.05))):
        job = LayJob((PieceSpec("a", BLOCK, 1, (0.0,), hidden=hidden),), (sheet,))
        found = HandMove(job, (at("a", 0, 0),), 0).near(at("a", 120, 0))
        assert found.pose.x == x
