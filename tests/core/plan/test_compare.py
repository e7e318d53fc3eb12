"""Choices side by side: what each costs in foam, money, minutes and joints."""

from decimal import Decimal

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.plan.compare import cost_of, cost_of_size, cost_of_way
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.standing import Proposal
from ivory_quilt.core.plan.thickness_change import ways_for
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.thickness import ThicknessWay
from ivory_quilt.core.stock.foam_stock import ShopStock, sheet

PLATE = Piece("p", "plate", rectangle(200.0, 100.0), thickness=10.0, count=3)


def first_layout(job):
    return lay(job, limit=Limit(steps=5), clock=lambda: 0.0)


def stock(*thicknesses, size=(400, 300)):
    return ShopStock(
        tuple(
            sheet(f"t{t}", f"{t} mm", Foam(float(t), "eva"), size, price=Decimal(t))
            for t in thicknesses
        )
    )


def plan(*pieces, at_hand=(4, 5, 6, 10, 20)):
    return derive(Project(pieces=pieces), stock(*at_hand))


def way(layers, split=1):
    return ThicknessWay(tuple(map(float, layers)), split)


@pytest.mark.parametrize(
    ("chosen", "joins", "minutes", "finish", "cost"),
    [
        (way([10]), 0, 0.0, "skin on both faces", 10),
        (way([5, 5]), 1, 3 * 14.0, "skin on both faces, the joint shows at the edge", 10),
        (way([4, 4, 2]), 2, 3 * 28.0, "skin on both faces, the joint shows at the edge", None),
        (way([20], 2), 0, 2 * 10.0, "one rough face each: sand it, glue it down", 20),
    ],
)
def test_a_way_to_a_thickness_costs_joints_minutes_and_foam(chosen, joins, minutes, finish, cost):
    """Common practice, no source: 14 minutes to coat two faces and join, 10 to slice a sheet.

    Two copies come of a sheet split in two, so three copies take two slices.
    """
    found = cost_of_way(plan(PLATE), "p", chosen, first_layout)
    assert (found.joins, found.minutes, found.finish) == (joins, minutes, finish)
    assert (found.way, found.ledger is None) == (chosen, cost is None)
    assert cost is None or found.ledger.cost == cost


def test_a_pair_is_glued_twice():
    found = cost_of_way(
        plan(replace(PLATE, count=1, hand=Hand.PAIR)), "p", way([6, 4]), first_layout
    )
    assert found.minutes == 2 * 14.0


def test_what_does_not_fit_has_no_cost():
    large = replace(PLATE, shape=rectangle(500.0, 100.0))
    assert cost_of_way(plan(large), "p", way([5, 5]), first_layout).ledger is None


def test_foam_that_does_not_change_is_taken_over():
    other = Piece("q", "other", rectangle(50.0, 50.0), thickness=6.0)
    start = plan(PLATE, other)
    asked = []

    def wanted():
        asked.append(1)
        return True

    first = cost_of(start.project, start.stock, first_layout, wanted)
    assert first.cost == 16
    assert not first.unplaced
    known = derive(start.project, start.stock)

    laid = {f.foam: Proposal(f.job, first_layout(f.job)) for f in known.unlaid}
    known = derive(start.project, start.stock, laid, known)
    assert known.unlaid == ()
    asked.clear()
    assert cost_of(start.project, start.stock, first_layout, wanted, known=known).cost == 16
    assert asked == []


def test_nobody_who_went_away_is_laid_for():
    start = plan(PLATE)
    ledger = cost_of(start.project, start.stock, first_layout, lambda: False)
    assert [line.laid for line in ledger.lines] == [False]


def test_a_size_is_laid_with_its_pieces_scaled():
    start = plan(PLATE)
    same = cost_of_size(start.project, ["p"], 1.0, start.stock, first_layout)
    assert (same.scale, same.ledger.cost) == (1.0, 10)
    larger = cost_of_size(start.project, ["p"], 1.4, start.stock, first_layout)
    assert larger.scale == 1.4
    # Three plates of 280 × 140 mm take more than one sheet of 400 × 300.
    assert larger.ledger.cost == 20
    smaller = cost_of_size(start.project, ["p"], 0.5, start.stock, first_layout)
    areas = [s.ledger.part_area for s in (smaller, same, larger)]
    assert areas == pytest.approx([60_000 * s * s for s in (0.5, 1.0, 1.4)])
    double = cost_of_size(start.project, ["p"], 2.0, start.stock, first_layout)
    assert double.ledger.part_area == pytest.approx(60_000 * 4)


def test_ways_are_of_the_shops_own_foam():
    start = plan(PLATE, at_hand=(4, 6))
    assert [w.layers for w in ways_for(start, "p", 10.0)] == [(6.0, 4.0)]
    with pytest.raises(InputError, match="none of 'tile'"):
        ways_for(plan(replace(PLATE, material="tile")), "p", 10.0)


def test_who_does_not_say_otherwise_wants_to_know():
    start = plan(PLATE)
    assert cost_of(start.project, start.stock, first_layout).cost == 10
    halved = cost_of_size(start.project, ["p"], 0.0005, start.stock, first_layout)
    assert halved.ledger.part_area == pytest.approx(60_000 * 0.0005**2)
