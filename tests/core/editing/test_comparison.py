"""Two versions of a piece laid over each other."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.editing.comparison import compared
from ivory_quilt.core.editing.resize import offset
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.edges import edges_between, with_corner
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from tests.effort import random_cases

PLATE = Piece("p", "plate", Shape.make([(0, 0), (100, 0), (100, 60), (0, 60)]))


def with_ring(ring, holes=()):
    return replace(PLATE, shape=Shape.make(ring, holes))


def test_the_same_is_the_same():
    found = compared(PLATE, PLATE)
    assert found.same
    assert found.edges == ()


def test_a_corner_drawn_out_is_told_with_its_place():
    kept = edges_between([(0, 0), (112, -5), (100, 60), (0, 60)])
    found = compared(PLATE, replace(with_ring([e.start for e in kept]), edges=kept))
    assert found.out.by == pytest.approx(13)
    assert found.out.at == (112, -5)
    assert found.within is None
    assert (found.width, found.height) == (12, 5)
    before = {e.name: e.after - e.before for e in found.edges}
    assert before["B"] == pytest.approx(np.hypot(12, 65) - 60)
    back = compared(with_ring([(0, 0), (112, -5), (100, 60), (0, 60)]), PLATE)
    assert back.within.by == pytest.approx(13)
    assert back.out is None


def test_a_hole_counts_as_foam_that_is_gone():
    found = compared(PLATE, with_ring(PLATE.shape.outer, [circle((50, 30), 10)]))
    assert found.out is None
    assert found.within is None  # the old outline lies on foam still
    filled = compared(with_ring(PLATE.shape.outer, [circle((50, 30), 10)]), PLATE)
    assert filled.area == pytest.approx(np.pi * 100, rel=0.01)


def test_edges_that_come_and_go():
    found = compared(PLATE, with_corner(PLATE, (50, 0)))
    assert {(e.name, e.before is None) for e in found.edges} == {("A", False), ("E", True)}


@given(st.floats(-12, 25).filter(lambda x: abs(x) > 0.2))
@random_cases(20, 200)
def test_an_offset_is_told_as_what_it_is(by):
    ring = circle((0, 0), 60)
    made = offset(with_ring(ring), by)
    found = compared(with_ring(ring), made)
    told = found.out.by if by > 0 else found.within.by
    assert told == pytest.approx(abs(by), abs=0.02)
    # The greater of the two is the Hausdorff distance, as GEOS has it.
    both = max(a.by for a in (found.out, found.within) if a is not None)
    assert both == pytest.approx(
        Shape.make(ring).polygon.hausdorff_distance(made.shape.polygon), abs=0.05
    )
