"""Outlines that can be laid on each other."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.congruent import ways_onto
from ivory_quilt.core.geometry.shape import Shape, rectangle
from tests.effort import random_cases
from tests.strategies import poses, shapes


def laid_on(one, other):
    return next(ways_onto(one, other), None)


@random_cases(100, 2000)
@given(shapes(), poses, st.integers(0, 10))
def test_a_shape_is_laid_on_itself_wherever_it_lies(shape, pose, shift):
    moved = shape.placed(pose)
    rolled = Shape.make(np.roll(moved.outer, shift, axis=0), moved.holes)
    found = laid_on(shape, rolled)
    assert found is not None
    laid = shape.placed(found).polygon.boundary
    assert laid.hausdorff_distance(rolled.polygon.boundary) <= 0.1


@pytest.mark.parametrize(
    "other",
    [
        rectangle(100, 50.2),
        rectangle(100.2, 50),
        Shape.make([(0, 0), (100, 0), (100, 50), (0, 50), (0, 25)]),
        Shape.make([(0, 0), (100, 0), (100, 50), (0, 50)], [[(10, 10), (20, 10), (20, 20)]]),
        Shape.make([(0, 0), (100, 0), (90, 50), (10, 50)]),
    ],
)
def test_others_are_not(other):
    assert laid_on(rectangle(100, 50), other) is None


def test_holes_must_fall_together():
    square = [(0, 0), (60, 0), (60, 60), (0, 60)]
    low = Shape.make(square, [[(10, 10), (20, 10), (20, 20), (10, 20)]])
    corner = Shape.make(square, [[(40, 40), (50, 40), (50, 50), (40, 50)]])
    middle = Shape.make(square, [[(10, 25), (20, 25), (20, 35), (10, 35)]])
    assert laid_on(low, corner) is not None
    assert laid_on(low, middle) is None
