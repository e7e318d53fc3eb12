"""Curved and straight cuts, against figures that are known by hand."""

import math

import numpy as np
import pytest
from hypothesis import given

from ivory_quilt.core.geometry.curved import curved_length
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from tests.effort import random_cases
from tests.strategies import poses, shapes


def regular(sides, radius):
    turn = np.linspace(0, 2 * math.pi, sides, endpoint=False)
    return Shape.make(radius * np.c_[np.cos(turn), np.sin(turn)])


@pytest.mark.parametrize("radius", [6, 20, 100, 300])
def test_a_circle_is_all_curve(radius):
    assert curved_length(regular(180, radius)) == pytest.approx(2 * math.pi * radius, rel=1e-3)


@pytest.mark.parametrize("shape", [rectangle(20, 10), rectangle(400, 30), regular(6, 20)])
def test_what_has_corners_alone_is_straight(shape):
    assert curved_length(shape) == 0.0


def test_a_stadium_is_straight_along_its_sides():
    half = np.linspace(-math.pi / 2, math.pi / 2, 60)
    right = np.c_[150 + 40 * np.cos(half), 40 * np.sin(half)]
    left = np.c_[-150 - 40 * np.cos(half), -40 * np.sin(half)]
    found = curved_length(Shape.make(np.vstack((right, left))))
    # Where a side runs out into the curve, a straight edge guides a little of that as well.
    assert found == pytest.approx(2 * math.pi * 40, rel=0.06)


def test_a_hole_counts_and_a_chamfer_does_not():
    ring = regular(90, 15).placed(Pose(100, 50)).outer
    plate = Shape.make(rectangle(200, 100).outer, [ring])
    assert curved_length(plate) == pytest.approx(2 * math.pi * 15, rel=0.01)
    chamfered = [(10, 0), (190, 0), (200, 10), (200, 90), (190, 100), (10, 100), (0, 90), (0, 10)]
    assert curved_length(Shape.make(chamfered)) == 0.0


@random_cases(40, 400)
@given(shapes(), poses)
def test_it_is_a_share_of_the_outline_however_that_lies(shape, pose):
    found = curved_length(shape)
    assert 0.0 <= found <= shape.polygon.length + 1e-6
    moved = shape.placed(Pose(pose.x, pose.y, 0.0, pose.mirrored))
    assert curved_length(moved) == pytest.approx(found, rel=1e-6, abs=1e-6)
