"""Formers: what they say of places, against SciPy's own reading of a grid."""

from functools import partial

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import map_coordinates

from ivory_quilt.core.formup.formers import DistanceGrid
from tests.effort import random_cases


@random_cases(30, 600)
@given(st.integers(0, 2**32 - 1))
def test_a_grid_is_read_as_scipy_reads_it(seed):
    chance = np.random.default_rng(seed)
    values = chance.normal(size=tuple(chance.integers(2, 7, 3)))
    grid = DistanceGrid(chance.normal(size=3), 2.5, values)
    places = chance.uniform(-8, 24, (40, 3))  # beyond its ends as well
    far, out = grid.away(places)
    at = ((places - grid.low) / grid.step).T
    half = 0.5 * np.eye(3)[:, :, None]
    read = partial(map_coordinates, values, order=1, mode="nearest")
    slope = np.array([read(at + h) - read(at - h) for h in half]).T
    length = np.linalg.norm(slope, axis=1)
    assert far == pytest.approx(read(at), abs=1e-9)
    clear = length > 1e-6
    assert out[clear] == pytest.approx(slope[clear] / length[clear, None], abs=1e-6)
