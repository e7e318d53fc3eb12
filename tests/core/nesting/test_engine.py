"""The engine on random jobs: every rule kept, same seed same result, pins and stops honoured."""

from decimal import Decimal
from threading import Event
from time import sleep

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting import engine
from ivory_quilt.core.nesting.bounds import cost_bound, least_width
from ivory_quilt.core.nesting.check import GrowingCheck, check_steps, violations
from ivory_quilt.core.nesting.construct import LOT
from ivory_quilt.core.nesting.engine import Limit, StopSwitch, lay
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.nesting.reasons import nothing_fits
from ivory_quilt.core.nesting.search import WALKERS, Search, Walker
from ivory_quilt.core.nesting.summary import summarise
from ivory_quilt.core.record import replace
from tests.effort import random_cases
from tests.strategies import jobs, shapes


def run(job, steps=0, seed=1, **rest):
    return lay(job, limit=Limit(steps=steps), clock=lambda: 0.0, seed=seed, **rest)


def sheet(width=300.0, height=200.0, quantity=1, cost="0", margin=0.0, ident="s"):
    return SheetSpec(ident, rectangle(width, height), quantity, Decimal(cost), margin)


# Three crosses need two sheets though their area would fit on one: the search never ends by itself.
CROSS = Shape.make(
    [
        (40, 0),
        (80, 0),
        (80, 40),
        (120, 40),
        (120, 80),
        (80, 80),
        (80, 120),
        (40, 120),
        (40, 80),
        (0, 80),
        (0, 40),
        (40, 40),
    ]
)
# Six brackets lie on two sheets at first, on one once they are hooked into each other.
BRACKET = Shape.make([(0, 0), (120, 0), (120, 40), (40, 40), (40, 160), (0, 160)])
BRACKETS = LayJob(
    (PieceSpec("a", BRACKET, 6, (0.0, 90.0, 180.0, 270.0)),), (sheet(330, 245, None, "7"),), gap=1.0
)
CROSSES = LayJob((PieceSpec("a", CROSS, 3),), (sheet(245, 125, None, "3"),), gap=1.0)


@random_cases(60, 600)
@given(jobs())
def test_first_layouts_keep_every_rule(job):
    result = run(job)
    assert violations(job, result.placements) == []
    count = sum(p.quantity for p in job.pieces)
    assert len(result.placements) + len(result.unplaced) == count
    assert result.unplaced or result.cost_bound <= result.cost


@random_cases(8, 50)
@given(jobs(), st.integers(0, 5))
def test_improved_layouts_keep_every_rule_and_are_no_worse(job, seed):
    first, better = run(job), run(job, 6, seed)
    assert violations(job, better.placements) == []
    assert (len(better.unplaced), better.cost) <= (len(first.unplaced), first.cost)


@random_cases(5, 20)
@given(jobs())
def test_same_seed_same_result(job):
    one, two = run(job, 5, seed=3), run(job, 5, seed=3)
    assert one.placements == two.placements
    assert one.history == two.history


def test_other_seeds_search_elsewhere():
    spec = PieceSpec("a", Shape.make([(0, 0), (60, 0), (20, 45)]), 9, None)
    job = LayJob((spec,), (sheet(200, 150),), gap=1.0)
    assert len({run(job, 8, seed).placements for seed in range(4)}) > 1


def test_a_tight_row_is_filled():
    job = LayJob((PieceSpec("a", rectangle(50, 100), 6),), (sheet(300.01, 100.01),))
    result = run(job)
    assert not result.unplaced
    assert result.density == pytest.approx(1.0, abs=1e-3)


def test_gap_and_margin_take_their_room():
    exact = 5 + 3 * 50 + 2 * 2 + 5
    spec = (PieceSpec("a", rectangle(50, 50), 3),)
    fits = LayJob(spec, (sheet(exact + 0.1, 60.1, margin=5.0),), gap=2.0)
    assert not run(fits).unplaced
    tight = LayJob(spec, (sheet(exact - 0.1, 60.1, margin=5.0),), gap=2.0)
    assert len(run(tight).unplaced) == 1


def test_pieces_nest_in_holes_of_pieces():
    frame = Shape.make(rectangle(190, 190).outer, [rectangle(150, 150).outer + 20])
    job = LayJob(
        (PieceSpec("frame", frame, 1), PieceSpec("plug", rectangle(60, 60), 4)),
        (sheet(200, 200),),
        gap=2.0,
    )
    result = run(job)
    assert not result.unplaced


def test_owned_foam_is_used_before_any_is_bought():
    job = LayJob(
        (PieceSpec("a", rectangle(80, 80), 3),),
        (sheet(100, 100, 2, "0", ident="own"), sheet(400, 400, None, "20", ident="buy")),
    )
    result = run(job)
    assert sorted(u.id for u in result.stock) == ["buy", "own", "own"]
    assert result.cost == Decimal(20)


def test_a_small_sheet_is_bought_for_a_small_part():
    job = LayJob(
        (PieceSpec("a", rectangle(80, 80), 1),),
        (sheet(1000, 1000, None, "30", ident="large"), sheet(100, 100, None, "9", ident="small")),
    )
    # By area the large sheet is far cheaper; for one part the small one is.
    assert run(job).cost == Decimal(9)


def test_improving_empties_a_sheet():
    assert run(BRACKETS).cost == Decimal(14)
    assert run(BRACKETS, 40, seed=2).cost == Decimal(7)


def test_a_roll_is_cut_as_short_as_it_can_be():
    job = LayJob(
        (PieceSpec("a", rectangle(100, 45), 4),),
        rolls=(RollSpec("r", 100.0, 5000.0, Decimal("0.01"), 0.0),),
        gap=2.0,
    )
    result = run(job, 4)
    (use,) = result.stock
    # By hand: two in each column, two columns with a gap between.
    assert use.used_length == pytest.approx(202, abs=0.05)
    assert result.cost == Decimal("2.02")
    assert result.cost_bound <= result.cost


@pytest.mark.parametrize("less", [0, 1])
def test_a_run_ends_once_it_costs_no_more_than_asked(less):
    first, best = run(BRACKETS), run(BRACKETS, 40, seed=2)
    target = first.cost - less
    result = lay(BRACKETS, limit=Limit(steps=40, target=target), clock=lambda: 0.0, seed=2)
    assert (result.stopped_by, result.unplaced) == ("target", ())
    assert best.cost <= result.cost <= target
    assert len(result.history) == 1 + less


def test_parts_left_over_meet_no_target():
    result = lay(
        LayJob((PieceSpec("a", rectangle(400, 40)),), (sheet(300, 200),)),
        limit=Limit(steps=1, target=Decimal(99)),
        clock=lambda: 0.0,
    )
    assert len(result.unplaced) == 1
    assert result.stopped_by != "target"


def test_pinned_copies_stay_and_the_rest_goes_around():
    pin = Placement("a", 0, "s", 0, Pose(100.0, 60.0, 90.0))
    spec = PieceSpec("a", rectangle(60, 40), 8, (0.0, 90.0), fixed=(pin,))
    job = LayJob((spec,), (sheet(),), gap=2.0)
    for steps in (0, 6):
        result = run(job, steps)
        assert pin in result.placements
        assert len(result.placements) == 8


def test_pins_that_clash_are_refused_in_a_sentence():
    pins = (Placement("a", 0, "s", 0, Pose(5, 5)), Placement("a", 1, "s", 0, Pose(10, 5)))
    job = LayJob((PieceSpec("a", rectangle(60, 40), 2, fixed=pins),), (sheet(),))
    with pytest.raises(InputError, match="piece 'a', fixed"):
        run(job)


def test_going_on_from_a_layout_never_makes_it_worse():
    spec = PieceSpec("a", rectangle(60, 40), 5, (0.0, 90.0))
    job = LayJob((spec,), (sheet(cost="4", quantity=None),), gap=1.0)
    first = run(job)
    on = run(job, 4, start=first.placements)
    assert on.history[0][1] == first.cost
    assert on.cost <= first.cost
    # A start that does not hold is not trusted.
    broken = tuple(replace(p, pose=Pose(0, 0)) for p in first.placements)
    assert violations(job, run(job, 0, start=broken).placements) == []


def test_a_stop_keeps_what_was_found():
    switch = StopSwitch()
    seen = []

    def report(progress):
        seen.append(progress)
        return len(seen) < 3

    result = run(CROSSES, 500, report=report, switch=switch)
    assert result.stopped_by == "maker"
    assert switch.stopped
    assert len(result.placements) == 3


def test_who_stops_is_not_kept_waiting_for_the_check(monkeypatch):
    switch, begun, steps, told = StopSwitch(), [], [], []

    def checking(job, placements):
        begun.append(placements)
        for step in check_steps(job, placements):
            switch.stop()
            steps.append(step)
            yield step

    monkeypatch.setattr(engine, "check_steps", checking)
    report = lambda progress: told.append(progress.better) or True  # noqa: E731
    result = run(BRACKETS, 40, seed=2, report=report, switch=switch)
    assert result.stopped_by == "maker"
    assert result.placements == told[0].placements != begun[0]
    assert (len(begun), len(result.history), len(steps)) == (1, 1, 1)
    assert [better for better in told if better is not None] == [told[0]]


@pytest.mark.parametrize("at_work", ["_make", "epoch"])
def test_who_stops_is_not_kept_waiting_for_the_threads(monkeypatch, at_work):
    """Neither while they get what they need nor while they search."""
    switch, go_on, returned = StopSwitch(), Event(), []

    def held_up(*_):
        switch.stop()
        returned.append(go_on.wait(60.0))

    if at_work == "_make":
        monkeypatch.setattr(Search, "_make", held_up)
    else:
        monkeypatch.setattr(Walker, "run", held_up)
    result = run(CROSSES, 50, switch=switch)
    assert result.stopped_by == "maker"
    assert len(result.placements) == 3
    assert returned == []
    go_on.set()


def test_time_that_runs_out_waits_for_what_the_threads_have(monkeypatch):
    late, real, portions = [], Walker.run, []

    def clock():
        return 100.0 if late else 0.0

    def slow(thread, quota):
        late.append(True)
        sleep(0.1)  # some questions of the engine later its time is over, and it waits
        portions.append(quota)
        real(thread, quota)

    monkeypatch.setattr(Walker, "run", slow)
    result = lay(CROSSES, limit=Limit(seconds=40), clock=clock, seed=1)
    assert result.stopped_by == "time"
    assert len(portions) == WALKERS


def test_the_first_layout_is_checked_while_it_is_made(monkeypatch):
    """So that a stop with hundreds of parts need not wait for the check of them all."""
    lots, real = [], GrowingCheck.more

    def noted(check, added):
        lots.append(len(added))
        return real(check, added)

    monkeypatch.setattr(GrowingCheck, "more", noted)
    spec = PieceSpec("a", Shape.make([(0, 0), (30, 0), (22, 25), (4, 18)]), 110, (0.0, 90.0))
    result = run(LayJob((spec,), (sheet(quantity=None),), gap=1.0))
    # The regular patterns that are tried after it, where they win, are checked from the start.
    assert lots[:3] == [0, LOT - 1, LOT]  # pins before all
    assert sum(lots) in (110, 2 * LOT - 1 + 110)
    assert violations(LayJob((spec,), (sheet(quantity=None),), gap=1.0), result.placements) == []


def test_time_runs_out_by_the_callers_clock():
    ticks = iter(range(10_000))
    result = lay(CROSSES, limit=Limit(seconds=40), clock=lambda: float(next(ticks)), seed=1)
    assert result.stopped_by == "time"
    assert violations(CROSSES, result.placements) == []


def test_a_piece_too_large_is_left_over_not_forced():
    job = LayJob((PieceSpec("a", rectangle(400, 20), 1),), (sheet(),))
    result = run(job, 3)
    assert result.unplaced == (("a", 0),)
    assert result.cost == 0


def test_nothing_to_lay_is_no_trouble():
    for job in (LayJob(()), LayJob((), (sheet(),)), LayJob((PieceSpec("a", rectangle(1, 1), 0),))):
        result = run(job, 2)
        assert result.placements == ()
        assert result.density == 0
    nowhere = run(LayJob((PieceSpec("a", rectangle(9, 9), 1),)))
    assert nowhere.unplaced == (("a", 0),)


# Bounds


@random_cases(20, 100)
@given(jobs())
def test_no_layout_undercuts_the_bound(job):
    result = run(job, 3)
    assume(not result.unplaced)
    assert cost_bound(job) <= result.cost


def test_the_bound_counts_sheets_by_area():
    spec = (PieceSpec("a", rectangle(100, 100), 7),)
    job = LayJob(spec, (sheet(200, 200, None, "12.5"), sheet(100, 100, 1, "0", ident="o")))
    # By hand: 70,000 less 10,000 mm² of an owned sheet need two sheets of 40,000.
    assert cost_bound(job) == Decimal("25.00")


def test_the_bound_knows_the_dearest_single_piece():
    job = LayJob(
        (PieceSpec("strip", rectangle(620, 20), 1, (0.0, 180.0)),),
        (sheet(500, 500, None, "3"),),
        (RollSpec("r", 900.0, 9000.0, Decimal("0.01"), 5.0),),
    )
    # A roll must be cut at least 620 + 2 × 5 mm long for it; the sheet would be cheaper, and the
    # bound does not yet know that the strip is too long for it.
    assert cost_bound(job) == Decimal("3.00")
    only_roll = replace(job, sheets=())
    assert cost_bound(only_roll) == Decimal("6.30")


@given(shapes(holes=False))
def test_the_least_width_is_a_width(shape):
    width = least_width(shape)
    turned = min(shape.placed(Pose(0, 0, a)).width for a in range(180))
    assert width <= turned + 1e-6
    assert turned <= width * 1.02 + 0.1


def test_a_layout_made_by_hand_is_counted_like_any_other():
    job = LayJob((PieceSpec("a", rectangle(100, 50), 2),), (sheet(cost="4", quantity=None),))
    placements = (Placement("a", 0, "s", 0, Pose(0, 0)), Placement("a", 1, "s", 1, Pose(0, 0)))
    result = summarise(job, placements)
    assert (result.cost, result.density) == (Decimal(8), pytest.approx(5000 / 60000, abs=1e-6))
    assert summarise(job, placements[:1]).unplaced == (("a", 1),)


def comb(teeth):
    """A strip with `teeth` teeth, 10 mm each."""
    up = [(x, y) for k in range(teeth) for x, y in ((10 * k + 2, 20), (10 * k + 2, 100))]
    back = [(x + 4, 120 - y) for x, y in up]
    profile = [p for k in range(teeth) for p in (*up[2 * k : 2 * k + 2], *back[2 * k : 2 * k + 2])]
    return Shape.make([(10.0 * teeth, 0), (10.0 * teeth, 20), *profile[::-1], (0, 20), (0, 0)])


def test_combs_whose_slices_have_thousands_of_stretches():
    piece = PieceSpec("comb", comb(40), 6, (0.0, 90.0, 180.0, 270.0))
    job = LayJob((piece,), rolls=(RollSpec("r", 900, 15000, Decimal("0.021")),), gap=2.0)
    result = run(job, 2)
    assert not result.unplaced
    assert violations(job, result.placements) == []


@pytest.mark.parametrize(
    "flaw",
    [
        [(100, 100), (101, 100), (101, 101), (100, 101)],  # no wider than the gap
        [(20, 80), (280, 80), (280, 80.5), (20, 80.5)],  # a scratch
        [(20, 20), (40, 20), (1e5, 80)],  # a scratch thinner than a hair, far beyond the sheet
        [(50, 20), (90, 20), (90, 60), (50, 60)],  # corners of parts come near its corners
        [(50, 20), (90, 20), (90, 21), (200, 21), (200, 21.5), (90, 21.5), (90, 60), (50, 60)],
    ],
)
def test_parts_keep_off_a_flaw_however_small(flaw):
    stock = replace(sheet(), defects=(Shape.make(flaw),))
    diamond = Shape.make([(15, 0), (30, 15), (15, 30), (0, 15)])
    job = LayJob((PieceSpec("a", diamond, 30),), (stock,), gap=2.0)
    result = run(job, 3)
    assert violations(job, result.placements) == []
    assert len(result.placements) > 20
    assert result.faults == ()


def test_of_a_sheet_that_is_not_there_nothing_is_used():
    none = sheet(quantity=0, ident="none")
    piece = PieceSpec("a", rectangle(50, 50), 2)
    assert run(LayJob((piece,), (none,)), 2).unplaced == (("a", 0), ("a", 1))
    result = run(LayJob((piece,), (none, sheet())), 2)
    assert {p.sheet for p in result.placements} == {"s"}


@pytest.mark.parametrize(
    ("stock", "why"),
    [
        ((), "no sheet"),
        ((sheet(quantity=0),), "no sheet"),
        ((sheet(100, 100),), "misses 's', the nearest, by 400 mm in length and 0 mm in width"),
        ((sheet(600, 100, margin=49.0),), "by 0 mm in length and 18 mm in width"),
    ],
)
def test_why_nothing_fits(stock, why):
    assert why in nothing_fits(LayJob((PieceSpec("a", rectangle(500, 20), 1),), stock))


@pytest.mark.parametrize(
    ("make", "field"),
    [
        (lambda: LayJob((), (sheet(cost="1e999"),)), "cost"),
        (lambda: LayJob((), (sheet(cost="NaN"),)), "cost"),
        (lambda: LayJob((), (sheet(quantity=10**9),)), "quantity"),
        (lambda: LayJob((), (sheet(1e6),)), "outline"),
        (lambda: LayJob((), rolls=(RollSpec("r", 900, 2e6),)), "max_length"),
        (lambda: LayJob((PieceSpec("a", rectangle(2e5, 9)),), (sheet(),)), "outline"),
        (lambda: LayJob((PieceSpec("a", CROSS, 1, (float("nan"),)),), ()), "rotations"),
        (lambda: LayJob((PieceSpec("a", CROSS, 1, (0.0,) * 100_000),), ()), "rotations"),
        (
            lambda: LayJob(
                (PieceSpec("a", CROSS, fixed=(Placement("a", 0, "s", 0, Pose(1e300, 0)),)),),
                (sheet(),),
            ),
            "fixed",
        ),
    ],
)
def test_numbers_beyond_reason_are_refused_by_name(make, field):
    with pytest.raises(InputError) as refused:
        make()
    assert field in refused.value.where
    assert len(str(refused.value)) < 200
