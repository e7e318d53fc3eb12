"""Lines drawn one by one, joined end to end."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.shape import signed_area
from ivory_quilt.core.reading.drawn import RawPath
from ivory_quilt.core.reading.joining import join_ends
from tests.strategies import shapes


def path(*points, closed=False, layer=""):
    return RawPath(np.array(points, dtype=float), closed, layer)


def edges_of(ring):
    return [
        RawPath(np.array([a, b]), False) for a, b in zip(ring, np.roll(ring, -1, 0), strict=True)
    ]


@given(shapes(holes=False), st.randoms(use_true_random=False), st.floats(0, 0.1))
def test_an_outline_in_single_lines_comes_together(shape, random, jitter):
    lines = edges_of(shape.outer)
    random.shuffle(lines)
    lines = [
        RawPath(
            (k.points[::-1] if random.random() < 0.5 else k.points) + random.random() * jitter,
            False,
        )
        for k in lines
    ]
    (joined,) = join_ends(lines, 0.5)
    assert joined.closed
    assert len(joined.points) == len(shape.outer)
    assert abs(signed_area(joined.points)) == pytest.approx(shape.area, rel=0.02, abs=20)


def test_what_is_too_far_apart_stays_apart():
    lines = [path((0, 0), (10, 0)), path((10.6, 0), (20, 0))]
    assert len(join_ends(lines, 0.5)) == 2
    (joined,) = join_ends(lines, 0.7)
    assert not joined.closed
    assert joined.points.tolist() == [[0, 0], [10, 0], [20, 0]]


def test_layers_stay_apart_and_rings_pass_through():
    ring = path((0, 0), (5, 0), (0, 5), closed=True)
    lines = [path((0, 0), (10, 0), layer="cut"), path((10, 0), (20, 0), layer="score"), ring]
    joined = join_ends(lines, 0.5)
    assert len(joined) == 3
    assert ring in joined


def test_at_a_crossing_the_nearest_ends_join():
    lines = [path((0, 0), (10, 0)), path((10.01, 0), (20, 0)), path((10.2, 0.2), (10, 30))]
    joined = join_ends(lines, 0.5)
    assert sorted(len(k.points) for k in joined) == [2, 3]


def test_a_lone_line_is_no_ring():
    (line,) = join_ends([path((0, 0), (0.3, 0))], 0.5)
    assert not line.closed
    assert join_ends([], 0.5) == []


def test_two_arcs_make_a_disc():
    angle = np.linspace(0, np.pi, 50)
    half = np.column_stack((20 * np.cos(angle), 20 * np.sin(angle)))
    (disc,) = join_ends([RawPath(half, False), RawPath(half * [1, -1], False)], 0.5)
    assert disc.closed
    assert abs(signed_area(disc.points)) == pytest.approx(np.pi * 400, rel=2e-3)
