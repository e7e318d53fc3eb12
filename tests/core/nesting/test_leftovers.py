"""What is left of sheets, what would fit there, and why a layout is as it is."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import box

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.free_cells import FreeCells
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.nesting.leftover import would_fit
from ivory_quilt.core.nesting.leftovers import leftovers
from ivory_quilt.core.nesting.reasons import misfit, misfits, sheets_by_area
from tests.effort import random_cases
from tests.strategies import jobs


def one_block(width=200.0):
    pieces = (PieceSpec("block", rectangle(width, 300)), PieceSpec("tile", rectangle(90, 40), 0))
    job = LayJob(pieces, (SheetSpec("s", rectangle(1000, 300)),), gap=2.0)
    return job, (Placement("block", 0, "s", 0, Pose(0, 0)),)


def test_the_rest_of_a_sheet_is_found_to_a_cell():
    job, lying = one_block()
    (rest,) = leftovers(job, lying)
    assert rest.x0 == pytest.approx(200, abs=1000 / 120 + 1e-6)
    assert rest.x0 >= 200
    assert (rest.y0, rest.x1) == pytest.approx((0, 1000))
    assert rest.height == pytest.approx(300, abs=1000 / 120)


def test_what_would_fit_is_counted_with_the_gap():
    job, lying = one_block()
    (rest,) = leftovers(job, lying)
    fits = dict(would_fit(job, rest))
    across, along = int((rest.width + 2) / 92), int((rest.height + 2) / 42)
    assert fits["tile"] == across * along
    assert fits["block"] == 3  # 3 × 200 + 2 gaps < 800


@random_cases(30, 300)
@given(jobs())
def test_no_part_reaches_into_a_leftover_and_it_lies_on_the_foam(job):
    result = lay(job, limit=Limit(steps=0), clock=lambda: 0.0)
    shapes = {p.id: p.shape for p in job.pieces}
    for rest in leftovers(job, result.placements):
        room = box(rest.x0, rest.y0, rest.x1, rest.y1)
        assert job.stock[rest.sheet].shape.polygon.buffer(1e-6).covers(room)
        for p in result.placements:
            if (p.sheet, p.sheet_copy) == (rest.sheet, rest.copy):
                placed = shapes[p.piece].placed(p.pose).polygon
                assert room.buffer(-1e-6).intersection(placed).area < 1e-6


def test_what_is_left_beside_the_parts_on_a_roll_is_found_too():
    pieces = (PieceSpec("long", rectangle(500, 100)),)
    job = LayJob(pieces, rolls=(RollSpec("r", 900.0, 15000.0),))
    (rest,) = leftovers(job, (Placement("long", 0, "r", 0, Pose(0, 0)),))
    assert rest.width == pytest.approx(500, abs=10)
    assert 780 < rest.height <= 800


def test_a_piece_too_long_says_by_how_much():
    band = PieceSpec("band", rectangle(412, 34), 1, (0.0, 90.0))
    offcut = SheetSpec("K7", rectangle(410, 200), 1, margin=5.0)
    found = misfit(band, offcut)
    assert (found.too_long, found.too_wide) == pytest.approx((12, 0))
    assert misfit(PieceSpec("short", rectangle(400, 34)), offcut) is None
    assert misfits(LayJob((band,), (offcut,))) == (found,)


def test_a_free_piece_is_measured_at_its_best_angle():
    long = PieceSpec("long", Shape.make([(0, 0), (300, 300), (290, 310), (-10, 10)]), 1, None)
    assert misfit(long, SheetSpec("s", rectangle(430, 40))) is None


def test_sheets_by_area_round_up_and_rolls_have_none():
    pieces = (PieceSpec("a", rectangle(100, 100), 24),)
    job = LayJob(pieces, (SheetSpec("s", rectangle(500, 200), None),), (RollSpec("r", 500, 9e3),))
    bound = sheets_by_area(job, "s")
    assert (bound.by_area, bound.least) == (pytest.approx(2.4), 3)
    assert sheets_by_area(job, "r") is None


@random_cases(60, 1000)
@given(st.lists(st.integers(0, 2**7 - 1), min_size=1, max_size=6))
def test_the_free_rectangle_is_the_largest_of_all(rows):
    cells = FreeCells((0.0, 0.0, 70.0, 10.0 * len(rows)), 10.0)
    cells.free[:] = [[bool(row >> k & 1) for k in range(7)] for row in rows]
    free = cells.free.copy()
    corners = itertools.product(range(len(rows)), range(7), range(len(rows)), range(7))
    blocks = (free[a : c + 1, b : d + 1] for a, b, c, d in corners if c >= a and d >= b)
    x0, y0, x1, y1 = cells.take()
    assert (x1 - x0) * (y1 - y0) == 100 * max(block.size * block.all() for block in blocks)
    taken = free & ~cells.free
    assert 100 * taken.sum() == (x1 - x0) * (y1 - y0)
    assert free[taken].all()
