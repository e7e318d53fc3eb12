"""Pieces and sheets made ready for the kernels, and the poses that come back."""

import math
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from shapely import box

from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.construct import default_stock_order
from ivory_quilt.core.nesting.field import OverlapField
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.nesting.prepare import (
    TOUCH,
    different_orientations,
    free_angles,
    polygon_edges,
    prepare_piece,
    prepare_region,
)
from ivory_quilt.core.nesting.score import score_of
from ivory_quilt.core.nesting.world import UNPLACED, World
from ivory_quilt.core.record import replace
from tests import strategies as own

QUARTERS = (0.0, 90.0, 180.0, 270.0)
ELL = Shape.make([(0, 0), (60, 0), (60, 20), (20, 20), (20, 50), (0, 50)])


def spec(shape, quantity=1, rotations=QUARTERS, mirror=False, **rest):
    return PieceSpec("p", shape, quantity, rotations, mirror, **rest)


# Pieces


@pytest.mark.parametrize(
    ("shape", "mirror", "looks"),
    [
        (rectangle(50, 20), False, 2),
        (rectangle(50, 20), True, 2),
        (rectangle(30, 30), True, 1),
        (ELL, False, 4),
        (ELL, True, 8),
        (Shape.make(circle((0, 0), 25.0)), True, 1),
    ],
)
def test_orientations_that_look_alike_are_tried_once(shape, mirror, looks):
    assert len(prepare_piece(spec(shape, mirror=mirror), 0.0).orientations) == looks


def test_a_mirror_image_is_an_orientation_only_where_it_is_allowed():
    edges = polygon_edges(ELL.polygon)
    turns = np.array([[1.0, 0.0]])
    assert different_orientations(edges, turns, mirror=False, within=0.1).tolist() == [
        [1.0, 0.0, 1.0]
    ]
    both = different_orientations(edges, turns, mirror=True, within=0.1)
    assert both[:, 2].tolist() == [1.0, -1.0]


def test_a_leaning_strip_is_laid_along_the_sheet():
    lean = math.radians(25)
    strip = rectangle(200, 10).placed(Pose(0.0, 0.0, math.degrees(lean)))
    best = min(strip.placed(Pose(0, 0, a)).height for a in free_angles(strip.polygon))
    assert best == pytest.approx(10.0, abs=1e-6)


def test_holes_too_small_for_anything_are_filled_and_others_kept():
    holed = Shape.make(
        rectangle(100, 100).outer,
        [[(10, 10), (20, 10), (20, 20), (10, 20)], [(40, 40), (90, 40), (90, 90), (40, 90)]],
    )
    kept = prepare_piece(spec(holed), 0.0, smallest_hole=500.0).grown
    assert len(kept.interiors) == 1
    assert kept.area == pytest.approx(100 * 100 - 50 * 50, abs=2.0)


@given(own.shapes(), own.poses)
def test_poses_come_back_from_the_engine_as_they_went_in(shape, pose):
    fixed = Placement("p", 0, "s", 0, pose)
    big = SheetSpec("s", rectangle(2000, 2000).placed(Pose(-1000.0, -1000.0)), 1)
    loose = LayJob((spec(shape, rotations=None, mirror=True),), (big,))
    world = World(loose)
    assert world.adopt((fixed,))
    (back,) = world.placements()
    there = shape.placed(pose).outer
    assert np.abs(shape.placed(back.pose).outer - there).max() < 1e-6


def test_only_whole_layouts_are_adopted():
    job = LayJob((spec(ELL, 2),), (SheetSpec("s", rectangle(300, 200), 1),))
    one = Placement("p", 0, "s", 0, Pose(10.0, 10.0))
    assert not World(job).adopt((one,))
    assert World(job).adopt((one, replace(one, copy=1, pose=Pose(100.0, 10.0))))


# Regions


def test_a_rectangles_region_is_the_sheet_less_margin_plus_half_a_gap():
    region = prepare_region(SheetSpec("s", rectangle(400, 300), 1, margin=10.0), 4.0)
    assert region.rect == (8.0, 8.0, 392.0, 292.0)
    assert region.frame == ()
    assert region.area == pytest.approx(384 * 284)


@pytest.mark.parametrize("margin", [155.0, 400.0])
def test_a_margin_that_leaves_nothing_leaves_no_region(margin):
    bay = Shape.make([(0, 0), (300, 0), (300, 300), (150, 120), (0, 300)])
    assert prepare_region(SheetSpec("s", rectangle(400, 300), 1, margin=margin), 2.0) is None
    assert prepare_region(SheetSpec("s", bay, 1, margin=margin), 2.0) is None


def test_what_is_no_foam_is_framed():
    bay = Shape.make(
        [(0, 0), (300, 0), (300, 300), (150, 120), (0, 300)], [circle((150, 60), 20.0)]
    )
    region = prepare_region(SheetSpec("s", bay, 1, margin=5.0), 2.0)
    room = box(*region.rect)
    for part in region.frame:
        room = room.difference(part)
    # Parts grown by half the gap may come as near as the margin less that half.
    true_room = bay.polygon.buffer(-4.0, quad_segs=16)
    assert room.symmetric_difference(true_room).area < 1e-6 * true_room.area
    assert region.area == pytest.approx(true_room.area)


def test_a_rolls_region_is_as_long_as_the_roll():
    region = prepare_region(RollSpec("r", 900.0, 5000.0, margin=3.0), 2.0)
    assert region.is_roll
    assert region.rect == (2.0, 2.0, 4998.0, 898.0)


# The world and its score


def two_on_a_sheet(**job):
    job = LayJob((spec(rectangle(100, 50), 2),), (SheetSpec("s", rectangle(400, 300), 2),), **job)
    world = World(job)
    region = world.region_index("s", 0)
    world.set_pose(0, (50.0, 25.0, 1.0, 0.0, 1.0), region)
    return world, region


def test_a_score_prefers_everything_placed_then_money_then_foam():
    world, region = two_on_a_sheet()
    second = world.region_index("s", 1)

    def score():
        field = OverlapField(world, {})
        field.load(world.poses, world.where)
        return score_of(field)

    left_over = score()
    assert left_over.unplaced == pytest.approx(5000.0, rel=1e-3)
    world.set_pose(1, (50.0, 80.0, 1.0, 0.0, 1.0), region)
    together = score()
    world.set_pose(1, (50.0, 80.0, 1.0, 0.0, 1.0), second)
    apart = score()
    assert together < apart < left_over
    assert apart.foam == 2 * together.foam


def test_going_back_takes_up_an_earlier_moment():
    world, region = two_on_a_sheet()
    before = world.snapshot()
    world.set_pose(1, (200.0, 80.0, 0.0, 1.0, 1.0), region)
    world.set_pose(0, (300.0, 25.0, 1.0, 0.0, 1.0), region)
    world.restore(before)
    assert world.where.tolist() == [region, UNPLACED]
    (placed,) = world.placements()
    assert placed.pose == Pose(0.0, 0.0, 0.0, False)
    assert world.extent(region) == pytest.approx(100.0, abs=2 * TOUCH)


def test_clearing_takes_all_but_the_pinned_off():
    pin = Placement("p", 1, "s", 0, Pose(200.0, 100.0))
    job = LayJob((spec(ELL, 3, fixed=(pin,)),), (SheetSpec("s", rectangle(400, 300), 1),))
    world = World(job)
    world.set_pose(0, (50.0, 40.0, 1.0, 0.0, 1.0), 0)
    world.clear()
    assert [p for p in world.placements()] == [pin]


def test_the_searchs_arrays_hold_every_part_as_the_world_has_it():
    world, region = two_on_a_sheet()
    world.set_pose(1, (200.0, 80.0, 0.0, 1.0, 1.0), region)
    field = OverlapField(world, {})
    field.load(world.poses, world.where)
    placed = field.placed
    for i in (0, 1):
        assert (
            pytest.approx(world.edges[world.e0[i] : world.e0[i + 1]])
            == placed.edges[:, placed.start[i] : placed.stop[i]].T
        )
        high_x, high_y, _, _, low_x, low_y, _, _ = placed.boxes[:, i]
        assert (low_x, low_y, high_x, high_y) == pytest.approx(tuple(world.boxes[i]))


def test_owned_foam_comes_first_then_what_is_cheap_by_area():
    sheets = (
        SheetSpec("dear", rectangle(100, 100), None, Decimal(5)),
        SheetSpec("large", rectangle(1000, 500), None, Decimal(9)),
        SheetSpec("rest", rectangle(200, 100), 1),
        SheetSpec("crumb", rectangle(80, 60), 1),
    )
    rolls = (RollSpec("roll", 1000.0, 9000.0, Decimal("0.005")),)
    world = World(LayJob((spec(ELL),), sheets, rolls))
    assert default_stock_order(world) == ("crumb", "rest", "roll", "large", "dear")
