"""Other starts for a walk that is stuck: what they move, and what they leave as it was."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.disturb import (
    disturbed,
    exchanged,
    stretch_turned,
    swapped,
    turned_about,
)
from ivory_quilt.core.nesting.field import OverlapField
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, RollSpec
from ivory_quilt.core.nesting.world import Solution, World
from tests.effort import random_cases

WIDTH, LENGTH = 100.0, 1000.0


def strip(rotations, count=12, seed=0):
    """Return the tables of `count` triangles of growing size and a layout of them on a roll."""
    pieces = tuple(
        PieceSpec(f"p{k}", Shape.make([(0, 0), (20 + 3 * k, 0), (5, 24 + 2 * k)]), 1, rotations)
        for k in range(count)
    )
    world = World(LayJob(pieces, rolls=(RollSpec("r", WIDTH, LENGTH),)))
    world.region_index("r", 0)
    random = np.random.default_rng(seed)
    poses = np.zeros((count, 5))
    poses[:, 0], poses[:, 1] = random.uniform(0, LENGTH, count), random.uniform(0, WIDTH, count)
    poses[:, 2], poses[:, 4] = 1.0, 1.0
    return OverlapField(world, {}), Solution(poses, np.zeros(count, dtype=np.int64))


RECT = np.array([0.0, 0.0, LENGTH, WIDTH])


@random_cases(60, 600)
@given(st.integers(0, 10_000), st.sampled_from([(0.0, 180.0), (0.0, 90.0), None]))
def test_a_stretch_is_turned_about_a_single_point(seed, rotations):
    field, old = strip(rotations, seed=seed)
    on = np.arange(12, dtype=np.int64)
    new = stretch_turned(old, field, on, RECT, np.random.default_rng(seed))
    assert new.where.tolist() == old.where.tolist()
    turned = np.flatnonzero(new.poses[:, 2] < 0)
    straight = np.setdiff1d(on, turned)
    assert (new.poses[straight] == old.poses[straight]).all()
    assume(len(turned))
    assert rotations != (0.0, 90.0)  # half a turn is not allowed
    middle = (new.poses[turned, :2] + old.poses[turned, :2]) / 2
    assert np.ptp(middle, axis=0) == pytest.approx((0, 0), abs=1e-9)
    assert middle[0, 1] == pytest.approx(WIDTH / 2)


@random_cases(60, 600)
@given(st.integers(0, 10_000))
def test_two_stretches_change_places(seed):
    """The stretch that was ahead comes behind the other: no gap opens and none is lost."""
    _, old = strip((0.0,), seed=seed)
    on = np.arange(12, dtype=np.int64)
    new = exchanged(old, on, RECT, np.random.default_rng(seed))
    assert (new.poses[:, 1:] == old.poses[:, 1:]).all()
    shift = new.poses[:, 0] - old.poses[:, 0]
    assert len(set(np.round(shift, 6))) <= 3  # ahead, back, or not at all
    ahead, behind = on[shift > 1e-9], on[shift < -1e-9]
    assume(len(ahead) and len(behind))
    assert old.poses[ahead, 0].max() <= old.poses[behind, 0].min()
    assert new.poses[behind, 0].max() <= new.poses[ahead, 0].min()


def test_parts_are_turned_about_where_they_lie():
    field, old = strip((0.0, 180.0))
    on = np.arange(12, dtype=np.int64)
    for seed in range(20):
        new = turned_about(old, field, on, np.random.default_rng(seed))
        assert (new.poses[:, 2] < 0).sum() == 2
        assert (new.poses[:, :2] == old.poses[:, :2]).all()


def test_where_nothing_may_be_turned_about_two_parts_are_swapped():
    field, old = strip((0.0, 90.0))
    new = turned_about(old, field, np.arange(12, dtype=np.int64), np.random.default_rng(1))
    assert (new.poses[:, 2:] == old.poses[:, 2:]).all()
    assert (new.poses != old.poses).any(axis=1).sum() == 2


def test_every_way_to_disturb_happens():
    field, old = strip((0.0, 180.0))
    on = np.arange(12, dtype=np.int64)
    assert ways_of(field, old, on, far=False) == {"about", "stretch", "exchanged", "swapped"}
    assert ways_of(field, old, on, far=True) == {"stretch", "swapped"}


def ways_of(field, old, on, far):
    ways = set()
    for seed in range(60):
        random = np.random.default_rng(seed)
        poses = disturbed(old, field, on, RECT[None], np.array([0]), random, far=far).poses
        turned = int((poses[:, 2] < 0).sum())
        moved = int((poses[:, :2] != old.poses[:, :2]).any(axis=1).sum())
        across = int((poses[:, 1] != old.poses[:, 1]).sum())
        if turned:
            ways.add("about" if moved == 0 else "stretch" if moved == turned else "unknown")
        elif moved:
            ways.add("exchanged" if across == 0 else "swapped" if moved == 2 else "unknown")
    return ways


def test_a_part_that_looks_alike_turned_about_goes_along_with_its_stretch():
    world = World(
        LayJob(
            (PieceSpec("a", rectangle(60, 20), 6, (0.0, 180.0)),),
            rolls=(RollSpec("r", WIDTH, LENGTH),),
        )
    )
    world.region_index("r", 0)
    poses = np.zeros((6, 5))
    poses[:, 0], poses[:, 1] = np.arange(6) * 150 + 60, 20.0
    poses[:, 2], poses[:, 4] = 1.0, 1.0
    old, field = Solution(poses, np.zeros(6, dtype=np.int64)), OverlapField(world, {})
    made = [
        stretch_turned(old, field, np.arange(6), RECT, np.random.default_rng(k)) for k in range(20)
    ]
    crossed = [m for m in made if (m.poses[:, 1] == WIDTH - 20.0).any()]
    assert crossed
    assert all((m.poses[:, 2] == 1.0).all() for m in crossed)


def test_only_large_items_are_swapped():
    field, old = strip((0.0,), count=30)
    on = np.arange(30, dtype=np.int64)
    for seed in range(40):
        new = swapped(old, field.shapes, on, np.random.default_rng(seed))
        moved = np.flatnonzero((new.poses != old.poses).any(axis=1))
        assert len(moved) == 2
        assert moved.min() >= 10  # those before are far less than a quarter of all area
        assert new.poses[moved[0], :2].tolist() == old.poses[moved[1], :2].tolist()


def test_what_may_not_move_stays():
    field, old = strip((0.0, 180.0))
    movable = np.arange(4, 12, dtype=np.int64)
    for seed in range(40):
        random = np.random.default_rng(seed)
        new = disturbed(old, field, movable, RECT[None], np.array([0]), random, far=seed % 2 == 0)
        assert (new.poses[:4] == old.poses[:4]).all()
