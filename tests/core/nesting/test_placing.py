"""What does not fit at first: laid bit by bit, and parts that were one on sheets of any size."""

from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, box
from shapely.ops import split

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.construct import Hopeless
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, SheetSpec
from ivory_quilt.core.nesting.prepare import prepare_piece
from ivory_quilt.core.record import replace
from tests.effort import random_cases

LONG, WIDE = 600.0, 400.0
QUARTERS = (0.0, 90.0, 180.0, 270.0)


def bent_parts(count, seed):
    """A rectangle cut by lines bent twice, with T-junctions; not the engine's own generator."""
    random = np.random.default_rng(seed)
    parts = [box(0, 0, LONG, WIDE)]
    while len(parts) < count:
        parts.sort(key=lambda p: -p.area)
        whole = parts.pop(0)
        parts += next(filter(None, (halves(whole, random) for _ in range(200))))
    return [Shape.from_polygon(p) for p in parts]


def halves(whole, random):
    x0, y0, x1, y1 = whole.bounds
    if x1 - x0 > y1 - y0:
        ends = [(random.uniform(x0 + 0.3 * (x1 - x0), x0 + 0.7 * (x1 - x0)), y) for y in (y0, y1)]
    else:
        ends = [(x, random.uniform(y0 + 0.3 * (y1 - y0), y0 + 0.7 * (y1 - y0))) for x in (x0, x1)]
    a, b = np.array(ends)
    along, across = b - a, np.array([a[1] - b[1], b[0] - a[0]])
    middle = [a + t * along + across * random.uniform(-0.12, 0.12) for t in (0.33, 0.66)]
    found = list(split(whole, LineString([a - along, *middle, b + along])).geoms)
    return found if len(found) == 2 and min(p.area for p in found) > 0.25 * whole.area else None


def cut_job(parts, share, way):
    """The parts, turned at random, on a sheet with so much more area than they, `way`s larger."""
    random = np.random.default_rng(1)
    x, y = {"long": (1 + share, 1.0), "both": ((1 + share) ** 0.5,) * 2}[way]
    pieces = tuple(
        PieceSpec(f"p{k}", s.placed(Pose(0.0, 0.0, float(random.choice(QUARTERS)))), 1, QUARTERS)
        for k, s in enumerate(parts)
    )
    return LayJob(pieces, (SheetSpec("s", rectangle(LONG * x, WIDE * y), 1, Decimal(5)),))


@pytest.mark.parametrize("share", [0.005, 0.02, 0.06, 0.15])
def test_a_larger_sheet_leaves_no_part_of_a_cut_up_rectangle_out(share):
    job = cut_job(bent_parts(12, 5), share, "both")
    found = lay(job, limit=Limit(steps=60), clock=lambda: 0.0, seed=1)
    assert found.unplaced == ()
    assert violations(job, found.placements) == []


def blocks(sheet_side):
    random = np.random.default_rng(4)
    pieces = tuple(
        PieceSpec(f"b{k}", rectangle(*random.uniform(60, 170, 2)), 1, (0.0, 90.0))
        for k in range(26)
    )
    return LayJob(pieces, (SheetSpec("s", rectangle(sheet_side, 400.0), 1, Decimal(5)),), gap=1.0)


def laid_area(job, result):
    areas = {p.id: p.shape.area for p in job.pieces}
    return sum(areas[p.piece] for p in result.placements)


def test_where_not_all_fits_the_search_goes_on_to_lay_as_much_as_it_can():
    job = blocks(500.0)
    first = lay(job, limit=Limit(steps=0), clock=lambda: 0.0, seed=1)
    later = lay(job, limit=Limit(steps=40), clock=lambda: 0.0, seed=1)
    assert first.unplaced
    assert later.unplaced
    assert laid_area(job, later) > 1.06 * laid_area(job, first)
    assert laid_area(job, later) > 0.9 * 500 * 400
    assert violations(job, later.placements) == []


@random_cases(10, 40)
@given(
    st.lists(st.tuples(st.integers(40, 190), st.integers(40, 190)), min_size=4, max_size=14),
    st.floats(0, 0.4),
    st.floats(0, 0.4),
    st.integers(1, 2),
    st.integers(0, 3),
)
def test_on_more_foam_never_more_stays_out(sizes, wider, higher, sheets, steps):
    """However well or badly it was laid before, and whatever the search does now."""
    pieces = tuple(
        PieceSpec(f"b{k}", rectangle(*size), 1, (0.0, 90.0), worth=1.0 + k % 3)
        for k, size in enumerate(sizes)
    )

    def job(width, height, count):
        stock = SheetSpec("s", rectangle(width, height), count, Decimal(5), margin=2.0)
        return LayJob(pieces, (stock,), gap=1.0)

    small, large = job(300, 220, 1), job(300 * (1 + wider), 220 * (1 + higher), sheets)
    before = lay(small, limit=Limit(steps=4), clock=lambda: 0.0, seed=1)
    after = lay(large, limit=Limit(steps=steps), clock=lambda: 0.0, seed=2, start=before.placements)
    assert violations(large, after.placements) == []
    laid = [sum(large.values[p.piece] for p in r.placements) for r in (before, after)]
    assert laid[1] >= laid[0]


def test_what_is_asked_for_no_more_is_not_laid_again():
    job = blocks(300.0)
    before = lay(job, limit=Limit(steps=20), clock=lambda: 0.0, seed=1)
    fewer = replace(job, pieces=job.pieces[3:])
    after = lay(fewer, limit=Limit(steps=0), clock=lambda: 0.0, start=before.placements)
    assert violations(fewer, after.placements) == []
    assert {p.piece for p in after.placements} <= {p.id for p in fewer.pieces}


def prepared(width, height):
    return prepare_piece(PieceSpec("p", rectangle(width, height)), 0.0, 1.0)


def test_of_very_many_parts_those_as_large_as_one_without_room_are_not_tried():
    hopeless = Hopeless(of_all_sizes=True)
    large, like, long, small = (
        prepared(100, 50),
        prepared(99, 49),
        prepared(200, 20),
        prepared(60, 30),
    )
    hopeless.note(0, large, empty=False)
    assert hopeless.is_so(0, large, empty=True)
    assert hopeless.is_so(0, like, empty=False)
    assert not hopeless.is_so(0, like, empty=True)  # an empty sheet takes what it takes
    assert not hopeless.is_so(1, like, empty=False)
    assert not hopeless.is_so(0, long, empty=False)
    assert not hopeless.is_so(0, small, empty=False)
    hopeless.note(1, large, empty=True)
    assert not hopeless.is_so(1, like, empty=False)
    few = Hopeless(of_all_sizes=False)
    few.note(0, large, empty=False)
    assert few.is_so(0, large, empty=False)
    assert not few.is_so(0, like, empty=False)
