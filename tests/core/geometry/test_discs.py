"""Which outlines a punch cuts."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.discs import disc_diameter, punches
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.plan.cut_facts import punch_words
from tests.effort import random_cases


def ring(radius, sides=60, at=(0.0, 0.0), flat=1.0):
    turn = np.linspace(0, 2 * math.pi, sides, endpoint=False)
    return np.c_[radius * np.cos(turn), flat * radius * np.sin(turn)] + at


@random_cases(30, 300)
@given(st.floats(2, 200), st.floats(-500, 500))
def test_a_circle_says_its_diameter_wherever_it_is(radius, x):
    sides = max(12, math.ceil(math.pi / math.acos(1 - 0.25 / max(radius, 2.0))))
    found = disc_diameter(ring(radius, sides, (x, -x)))
    assert found == pytest.approx(2 * radius, abs=1e-6)


@pytest.mark.parametrize("other", [ring(20, 6), ring(20, 60, flat=0.95), rectangle(30, 30).outer])
def test_what_is_no_circle_has_none(other):
    assert disc_diameter(other) is None


def test_holes_and_words():
    plate = Shape.make(rectangle(200, 100).outer, [ring(3, at=(20, 20)), ring(3, at=(40, 20))])
    assert punches(plate) == (None, (pytest.approx(6.0), pytest.approx(6.0)))
    assert punch_words(plate) == ["2 round holes: punch 6 mm"]
    stud = Shape.make(ring(14)).placed(Pose(5, 5, 30.0))
    assert punch_words(stud) == ["a disc: punch 28 mm"]
    assert punch_words(Shape.make(ring(90))) == []
