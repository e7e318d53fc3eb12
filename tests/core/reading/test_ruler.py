"""Ticks of a ruler or check bar counted in a picture."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.reading.tracing.ruler import find_ticks
from ivory_quilt.devices.scanner import ScanConditions, scan
from tests.effort import random_cases

PAPER = (160.0, 60.0)


def ruler(step, angle=0.0, dpi=150.0, seed=1, **conditions):
    """A ruler with 120 mm of ticks, every fifth and tenth longer, as a picture."""
    turn = math.radians(angle)
    matrix = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    lines = [np.array([[20.0, 30], [140, 30]])]
    for k in range(math.floor(120 / step) + 1):
        x = 20 + k * step
        tall = 8 if k % 10 == 0 else 6 if k % 5 == 0 else 4
        lines.append(np.array([[x, 30.0], [x, 30.0 + tall]]))
    middle = np.array([80.0, 30.0])
    turned = [(line - middle) @ matrix + middle for line in lines]
    how = ScanConditions(dpi=dpi, pen=0.3, **conditions)
    picture = scan([], PAPER, how, seed, turned)

    def pixel(x, y):
        px, py = (np.array([x, y]) - middle) @ matrix + middle
        return (px * dpi / 25.4 - 0.5, (PAPER[1] - py) * dpi / 25.4 - 0.5)

    return picture, pixel


@random_cases(25, 250)
@given(
    st.sampled_from([1.0, 5.0, 10.0, 25.4 / 8]),
    st.floats(-8, 8),
    st.integers(0, 99),
    st.floats(0, 8),
)
def test_the_ticks_give_the_scale(step, angle, seed, noise):
    """Within a thousandth, however the ruler lies: 150 pixels per inch."""
    picture, pixel = ruler(step, angle, seed=seed, noise=noise)
    ticks = find_ticks(picture, pixel(18.5, 32.5), pixel(141.5, 32.5))
    assert ticks is not None
    assert ticks.count == math.floor(120 / step) + 1
    assert ticks.pixels * 25.4 / 150 == pytest.approx(step, rel=1e-3)


def test_what_is_no_ruler_gives_none():
    picture, pixel = ruler(10.0)
    assert find_ticks(picture, pixel(10, 50), pixel(150, 50)) is None  # clean paper
    assert find_ticks(picture, pixel(20, 30), pixel(20, 31)) is None  # too short
    random = np.random.default_rng(3)
    uneven = np.full((40, 600), 235, np.uint8)
    for x in np.cumsum(random.uniform(6, 90, 14)).astype(int):
        if x < 600:
            uneven[:, x] = 30
    assert find_ticks(uneven, (0, 20), (599, 20)) is None


def test_a_missing_tick_is_stepped_over():
    picture, pixel = ruler(5.0)
    x, y = pixel(60, 32)
    picture[int(y) - 30 : int(y) + 10, int(x) - 4 : int(x) + 5] = 235
    ticks = find_ticks(picture, pixel(18, 32.5), pixel(142, 32.5))
    assert ticks.count == 25
