"""One thread's walk and its goals: what counts as reached, how goals are eased, what stays."""

from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.centred import about_centre, at_centre, centre_of
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting import construct as construction
from ivory_quilt.core.nesting.choice import Choice, Chooser
from ivory_quilt.core.nesting.field import OverlapField
from ivory_quilt.core.nesting.goal import SHORTEST_STEP, Pace
from ivory_quilt.core.nesting.goals import Planner
from ivory_quilt.core.nesting.grid import Grid
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.nesting.kernels.relax import SOLVED
from ivory_quilt.core.nesting.score import Score, score_of
from ivory_quilt.core.nesting.search import EASE_AFTER, PERSIST, Walker
from ivory_quilt.core.nesting.sizes import allowed_sizes
from ivory_quilt.core.nesting.walk import RACE, Target, Walk
from ivory_quilt.core.nesting.world import World, offsets, regions_in
from ivory_quilt.core.record import replace
from tests.strategies import poses, shapes


def flags():
    return np.zeros(2, dtype=np.int64)


def lying(job, *places):
    """Return a world with each copy placed at (x, y) of the first stock, and its walk."""
    world = World(job)
    region = world.region_index(job.all_stock[0].id, 0)
    for i, (x, y) in enumerate(places):
        world.set_pose(i, (x, y, 1.0, 0.0, 1.0), region)
    return world, Walk(OverlapField(world, {}), 1, flags())


def aim(world, walk, x1, y1):
    rects = world.rects()
    rects[0, 2:] = (x1, y1)
    movable = np.arange(world.count, dtype=np.int64)
    walk.aim(Target(rects, np.array([0])), world.snapshot(), movable)


def test_overlapping_parts_walk_apart():
    job = LayJob((PieceSpec("a", rectangle(50, 40), 4),), (SheetSpec("s", rectangle(200, 100)),))
    world, walk = lying(job, (50, 50), (60, 50), (70, 50), (80, 50))
    aim(world, walk, 200.0, 100.0)
    assert any(walk.work(20_000) == SOLVED for _ in range(20))
    world.restore(walk.solution())
    assert score_of(walk.field).unplaced == 0


def test_a_part_larger_than_its_target_is_never_a_solution():
    job = LayJob((PieceSpec("a", rectangle(50, 40)),), (SheetSpec("s", rectangle(200, 100)),))
    world, walk = lying(job, (25, 20))
    aim(world, walk, 200.0, 30.0)
    assert walk.work(5_000) != SOLVED
    assert walk.failures > 100


def test_a_part_too_large_as_it_lies_is_turned_to_fit_its_target():
    spec = PieceSpec("a", rectangle(90, 30), 1, (0.0, 90.0))
    world, walk = lying(LayJob((spec,), (SheetSpec("s", rectangle(200, 100)),)), (45, 15))
    aim(world, walk, 40.0, 100.0)
    assert walk.work(5_000) == SOLVED
    high_x, high_y, _, _, low_x, low_y, _, _ = walk.field.placed.boxes[:, 0]
    assert (high_x - low_x, high_y - low_y) == pytest.approx((30, 90), abs=0.01)


def test_a_goal_is_eased_by_halves_until_hardly_anything_is_left():
    job = LayJob((PieceSpec("a", rectangle(50, 40), 2),), rolls=(RollSpec("r", 90.0, 900.0),))
    world, walk = lying(job, (25, 20), (80, 20))
    planner = Planner(Chooser(world), world, walk.random, flags(), leads=True)
    best = world.snapshot()
    score = Score(0.0, Decimal(9), 0, 0, 0.0, 0.0)
    goal = planner.next(best, score, 0, Decimal(0))
    assert goal.kind == "shorten"
    reach = planner.reach(best, 0, 0)
    left = reach - goal.target.rects[0, 2] + world.rects()[0, 0]
    eased = planner.eased(goal, best)
    halved = reach - eased.target.rects[0, 2] + world.rects()[0, 0]
    assert halved == pytest.approx(left / 2)
    while eased is not None:
        last, eased = eased, planner.eased(eased, best)
    assert reach - last.target.rects[0, 2] < 2 * SHORTEST_STEP * reach + 1e-6


def test_the_thread_that_leads_asks_for_less_soon_and_the_others_are_patient():
    job = LayJob((PieceSpec("a", rectangle(50, 40), 2),), rolls=(RollSpec("r", 90.0, 900.0),))
    world, walk = lying(job, (25, 20), (80, 20))
    best, score = world.snapshot(), Score(0.0, Decimal(9), 0, 0, 0.0, 0.0)
    tired = []
    for leads in (True, False):
        planner = Planner(Chooser(world), world, walk.random, flags(), leads=leads)
        thread = Walker(planner, walk, best, score, Decimal(0), leads=leads)
        for rounds, failures in ((EASE_AFTER, 0), (EASE_AFTER + 1, 0), (0, PERSIST)):
            walk.stats[2], walk.failures = rounds, failures
            tired.append(thread._tired())
    assert tired == [False, True, False, False, False, True]


def test_a_hopeless_try_is_given_up_after_one_strike():
    job = LayJob((PieceSpec("a", rectangle(50, 40), 4),), (SheetSpec("s", rectangle(200, 100)),))
    world, walk = lying(job, (50, 50), (60, 50), (70, 50), (80, 50))
    aim(world, walk, 90.0, 70.0)  # no room for four
    walk.field.best.poses[:] = walk.field.placed.poses
    walk.pool = [(10.0, walk.solution())]
    for total, failures in ((10.0 * RACE - 1, 0), (10.0 * RACE + 1, 1)):
        walk.failures, walk.strikes, walk.least = 0, 0, total
        walk.stats[0] = total
        walk._go_back()
        assert walk.failures == failures


def test_steps_grow_with_success_and_shrink_with_failure():
    pace = Pace()
    first, fill = pace.step, pace.fill
    pace.succeeded()
    assert pace.step > first
    assert pace.fill > fill
    for _ in range(50):
        pace.fell_short()
    assert pace.step == SHORTEST_STEP
    assert pace.fill == pytest.approx(0.5)


def test_pinned_sheets_are_part_of_every_choice_once_each():
    pin = Placement("a", 0, "s", 3, Pose(0.0, 0.0))
    spec = PieceSpec("a", rectangle(50, 50), 2, fixed=(pin,))
    world = World(LayJob((spec,), (SheetSpec("s", rectangle(60, 60), 5, Decimal(2)),)))
    chooser = Chooser(world)
    # Two parts of 50 mm take two sheets of 60, one of them the pinned one; none chosen are one.
    assert chooser.with_pins(Choice((("s", 2),), Decimal(4), 7200.0)) == {"s": 2}
    assert chooser.with_pins(Choice((), Decimal(0), 0.0)) == {"s": 1}
    two = replace(
        world.job,
        pieces=(replace(spec, quantity=3, fixed=(pin, replace(pin, copy=1, sheet_copy=1))),),
    )
    assert Chooser(World(two)).with_pins(Choice((("s", 1),), Decimal(2), 3600.0)) == {"s": 2}


def test_a_stop_while_constructing_again_keeps_the_better_layout(monkeypatch):
    job = LayJob(
        (PieceSpec("a", rectangle(50, 40), 8),),
        (
            SheetSpec("dear", rectangle(300, 200), None, Decimal(9)),
            SheetSpec("cheap", rectangle(110, 90), None, Decimal(5)),
        ),
    )
    world, stop, real, calls = World(job), flags(), construction.construct, []

    def interrupted(world, plan, flags, **rest):
        calls.append(plan)
        if len(calls) == 1:
            real(world, plan, flags, **rest)
        else:
            world.clear()
            flags[0] = 1

    monkeypatch.setattr(construction, "construct", interrupted)
    construction.first_layout(world, stop)
    assert len(calls) == 2
    assert len(world.placements()) == 8


# Small means


@given(st.lists(st.integers(0, 9), max_size=20))
def test_offsets_lie_one_after_another(lengths):
    found = offsets(lengths)
    assert found[0] == 0
    assert np.diff(found).tolist() == lengths
    assert regions_in(np.array([3, -1, 0, 3])) == [0, 3]


@given(shapes(), poses)
def test_boxes_of_allowed_angles_are_those_of_the_placed_shapes(shape, pose):
    spec = PieceSpec("p", shape, 1, (pose.rotation, 20.0), mirror=True)
    found = allowed_sizes(spec)
    placed = [shape.placed(Pose(0.0, 0.0, a, f)) for f in (False, True) for a in spec.rotations]
    assert found == pytest.approx(np.array([(p.width, p.height) for p in placed]), abs=1e-6)


@given(shapes(), poses, st.floats(-300, 300), st.floats(-300, 300))
def test_a_shape_is_put_by_its_centre_of_area(shape, pose, x, y):
    assert centre_of(shape, at_centre(shape, pose, (x, y))) == pytest.approx((x, y), abs=1e-6)
    turned = about_centre(shape, pose, 33.0, mirrored=True)
    assert centre_of(shape, turned) == pytest.approx(centre_of(shape, pose), abs=1e-6)


def test_a_grid_gives_its_empty_places_largest_first():
    grid = Grid((0.0, 0.0, 100.0, 50.0), 100)
    wall = Shape.make([(30, -1), (40, -1), (40, 51), (30, 51)])
    edges = np.ascontiguousarray(np.hstack((wall.outer, np.roll(wall.outer, -1, axis=0))).T)
    grid.cover(edges, 0, 4)
    first, second = grid.take(), grid.take()
    assert first == pytest.approx((41, 0, 100, 50), abs=1.01)
    assert second == pytest.approx((0, 0, 30, 50), abs=1.01)
    assert grid.take()[2:] == pytest.approx(grid.largest()[2:])
