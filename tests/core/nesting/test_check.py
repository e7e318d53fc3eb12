"""The exact check must catch every broken rule; each test breaks one."""

from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.check import (
    SLACK,
    GrowingCheck,
    angle_allowed,
    violations,
    violations_of,
)
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.record import replace
from tests.strategies import shapes

SHEET = SheetSpec("s", rectangle(200, 100), 1, Decimal(1), margin=5.0)
JOB = LayJob(
    (PieceSpec("a", rectangle(40, 30), 2, (0.0, 90.0)), PieceSpec("b", rectangle(40, 30), 1)),
    (SHEET,),
    gap=2.0,
)


def at(x, y, piece="a", copy=0, sheet="s", sheet_copy=0, **pose):
    return Placement(piece, copy, sheet, sheet_copy, Pose(x, y, **pose))


GOOD = (at(5, 5), at(47, 5, copy=1), at(89, 5, "b"))


def rules(*placements, job=JOB):
    return sorted({v.rule for v in violations(job, tuple(placements))})


def test_a_true_layout_passes():
    assert rules(*GOOD) == []


@pytest.mark.parametrize(
    ("bad", "rule"),
    [
        ((at(5, 5), at(46.9, 5, copy=1)), "gap"),
        ((at(5, 5), at(20, 20, copy=1)), "gap"),
        ((at(5, 5), at(5, 5, copy=1)), "gap"),
        ((at(4.9, 5),), "margin"),
        ((at(170, 5),), "outside"),
        ((at(500, 500),), "outside"),
        ((at(50, 5, rotation=45),), "rotation"),
        ((at(50, 5, mirrored=True),), "mirror"),
        ((at(5, 5, copy=2),), "count"),
        ((at(5, 5), at(60, 5)), "count"),
        ((at(5, 5, sheet_copy=1),), "stock"),
        ((at(5, 5, sheet="x"),), "unknown"),
        ((at(5, 5, "x"),), "unknown"),
    ],
)
def test_each_broken_rule_is_caught(bad, rule):
    assert rules(*bad) == [rule]


def test_the_agreed_slack_is_a_hundredth_of_a_millimetre():
    assert rules(at(5, 5), at(46.991, 5, copy=1)) == []
    assert rules(at(5, 5), at(46.989, 5, copy=1)) == ["gap"]
    assert rules(at(4.991, 5)) == []


@given(
    st.lists(shapes(size=60.0), min_size=2, max_size=4),
    st.sampled_from([0.0, 0.5, 2.0, 9.0]),
    st.integers(0, 10**6),
    st.integers(0, 12),
)
def test_every_pair_and_edge_is_looked_at_in_lots_or_at_once(outlines, gap, seed, first):
    """Against the library's plain distances, part by part and pair by pair."""
    random = np.random.default_rng(seed)
    pieces = tuple(PieceSpec(f"p{k}", s, 12, None) for k, s in enumerate(outlines))
    foam = SheetSpec("s", rectangle(260, 200), 2, Decimal(1), margin=5.0)
    job = LayJob(pieces, (foam,), gap=gap)
    laid = tuple(
        Placement(
            f"p{k % len(pieces)}",
            k // len(pieces),
            "s",
            int(random.integers(2)),
            Pose(*random.uniform((-5, -5), (200, 140)), float(random.uniform(0, 360))),
        )
        for k in range(12)
    )
    at_once = violations(job, laid)
    expected = set()
    placed = [outlines[k % len(pieces)].placed(p.pose).polygon for k, p in enumerate(laid)]
    for i, one in enumerate(placed):
        if not foam.shape.polygon.buffer(SLACK).covers(one):
            expected.add(("outside", (i,)))
        elif foam.shape.polygon.boundary.distance(one) < 5.0 - SLACK:
            expected.add(("margin", (i,)))
        for j in range(i):
            if laid[i].sheet_copy == laid[j].sheet_copy:
                distance = one.distance(placed[j])
                if distance < gap - SLACK or (gap == 0.0 and _overlap(one, placed[j])):
                    expected.add(("gap", (j, i)))
    assert {(v.rule, tuple(sorted(v.who))) for v in at_once} == expected
    assert len(at_once) == len(expected)
    growing = GrowingCheck(job)
    found = [v for lot in (laid[:first], laid[first:]) for step in growing.more(lot) for v in step]
    assert {(v.rule, v.message, v.who) for v in found} == {
        (v.rule, v.message, v.who) for v in at_once
    }
    assert len(found) == len(at_once)


def _overlap(a, b):
    return a.buffer(-SLACK).intersects(b)


def test_parts_may_touch_when_there_is_no_gap():
    job = replace(JOB, gap=0.0)
    assert rules(at(5, 5), at(45, 5, copy=1), job=job) == []
    assert rules(at(5, 5), at(44.9, 5, copy=1), job=job) == ["gap"]


def test_a_part_may_lie_in_another_parts_hole_but_not_across_its_edge():
    frame = Shape.make(rectangle(80, 80).outer, [rectangle(60, 60).outer + 10])
    job = LayJob(
        (PieceSpec("frame", frame, 1), PieceSpec("plug", rectangle(40, 40), 1)),
        (SheetSpec("s", rectangle(200, 100)),),
        gap=2.0,
    )
    assert rules(at(0, 0, "frame"), at(20, 20, "plug"), job=job) == []
    assert rules(at(0, 0, "frame"), at(11, 20, "plug"), job=job) == ["gap"]


def test_holes_in_a_sheet_are_no_foam():
    holed = Shape.make(rectangle(200, 100).outer, [rectangle(20, 20).outer + 50])
    job = LayJob((PieceSpec("a", rectangle(40, 30), 1),), (SheetSpec("s", holed, margin=3.0),))
    assert rules(at(40, 40), job=job) == ["outside"]
    assert rules(at(73, 40), job=job) == []
    assert rules(at(72, 40), job=job) == ["margin"]
    # A part that covers the hole whole, without touching its edge.
    big = LayJob((PieceSpec("a", rectangle(90, 90), 1),), (SheetSpec("s", holed),))
    assert rules(at(20, 5), job=big) == ["outside"]


def test_a_pinned_part_must_stay():
    pinned = replace(JOB, pieces=(replace(JOB.pieces[0], fixed=(at(5, 5),)), JOB.pieces[1]))
    assert rules(at(5, 5), job=pinned) == []
    assert rules(at(6, 5), job=pinned) == ["pin"]
    assert rules(at(60, 5, copy=1), job=pinned) == []


def test_a_roll_is_one_sheet():
    job = LayJob((PieceSpec("a", rectangle(40, 30), 1),), rolls=(RollSpec("r", 50.0, 400.0),))
    assert rules(at(300, 5, sheet="r"), job=job) == []
    assert rules(at(300, 5, sheet="r", sheet_copy=1), job=job) == ["stock"]


def test_one_part_in_the_hand_is_checked_against_its_neighbours():
    for moved, rule in ((at(5, 6), []), (at(30, 6), ["gap"]), (at(0, 0), ["margin"])):
        placements = (moved, *GOOD[1:])
        found = violations_of(JOB, placements, 0)
        assert [v.rule for v in found] == rule
        assert rule == rules(*placements)
    (clash,) = violations_of(JOB, (at(30, 6), *GOOD[1:]), 0)
    assert clash.who == (0, 1)


@pytest.mark.parametrize(
    ("angle", "allowed"), [(0, True), (360, True), (-270, True), (90.0000001, True), (45, False)]
)
def test_angles_are_compared_around_the_circle(angle, allowed):
    assert angle_allowed((0.0, 90.0), angle) is allowed
    assert angle_allowed(None, angle)


@pytest.mark.parametrize(
    ("change", "where"),
    [
        ({"gap": -1.0}, "gap"),
        ({"pieces": (JOB.pieces[0], JOB.pieces[0])}, "piece 'a'"),
        ({"pieces": (replace(JOB.pieces[0], quantity=-1),)}, "quantity"),
        ({"pieces": (replace(JOB.pieces[0], rotations=()),)}, "rotations"),
        ({"pieces": (replace(JOB.pieces[0], fixed=(at(5, 5, sheet="zz"),)),)}, "fixed"),
        ({"sheets": (replace(SHEET, quantity=-2),)}, "quantity"),
        ({"sheets": (replace(SHEET, cost=Decimal("NaN")),)}, "cost"),
        ({"sheets": (replace(SHEET, margin=-1.0),)}, "margin"),
        ({"sheets": (SHEET, SHEET)}, "sheet 's'"),
        ({"rolls": (RollSpec("r", 0.0, 100.0),)}, "roll 'r'"),
    ],
)
def test_jobs_that_make_no_sense_are_refused(change, where):
    with pytest.raises(InputError, match=where):
        replace(JOB, **change)
