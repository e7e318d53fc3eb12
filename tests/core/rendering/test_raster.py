"""The compiled painter, against the plainest one: each pixel asked of each triangle."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.rendering.raster import average_pixels, paint_triangles
from tests.effort import random_cases

WIDE, HIGH = 40, 30
BARE = -1e30


def pixels_of(points):
    """Return of each triangle and pixel its three shares, `(n, h, w, 3)`; barycentric."""
    x, y = np.meshgrid(np.arange(WIDE) + 0.5, np.arange(HIGH) + 0.5)
    at = np.stack([x, y], axis=-1)
    shares = []
    for one in points[:, :, :2]:
        frame = np.column_stack([one[1] - one[0], one[2] - one[0]])
        u, v = np.moveaxis((at - one[0]) @ np.linalg.inv(frame).T, -1, 0)
        shares.append(np.stack([1 - u - v, u, v], axis=-1))
    return np.array(shares)


@random_cases(40, 1500)
@given(st.integers(0, 2**32 - 1), st.integers(1, 6))
def test_each_pixel_is_of_the_nearest_triangle_that_covers_it(seed, count):
    chance = np.random.default_rng(seed)
    points = chance.uniform(-10, 50, (count, 3, 3))
    sides = points[:, 1:, :2] - points[:, :1, :2]
    points = points[np.abs(np.linalg.det(sides)) > 2.0]
    light = chance.uniform(0.2, 0.9, (len(points), 3))
    colours = chance.uniform(0, 255, (3, 3))
    owner = chance.integers(0, 3, len(points))
    depth, picture = np.full((HIGH, WIDE), BARE), np.zeros((HIGH, WIDE, 4), np.uint8)
    paint_triangles(points, light, owner, colours, depth, picture)
    shares = pixels_of(points)
    # On the very edge rounding decides: those pixels are not asked about.
    clear = (np.abs(shares) > 1e-4).all((0, 3)) if len(points) else np.ones((HIGH, WIDE), bool)
    deep = np.where((shares > 0).all(3), (shares * points[:, None, None, :, 2]).sum(3), BARE)
    nearest = deep.max(0, initial=BARE)
    assert depth[clear] == pytest.approx(nearest[clear], rel=1e-6, abs=1e-6)
    covered = clear & (nearest > BARE)
    assert ((picture[..., 3] == 255) == (nearest > BARE))[clear].all()
    first = np.argmax(deep, axis=0)[covered] if len(points) else np.zeros(0, int)
    rows, columns = np.nonzero(covered)
    shade = (shares[first, rows, columns] * light[first]).sum(1)
    wanted = (colours[owner[first]] * shade[:, None])[:, ::-1]
    assert np.abs(picture[covered][:, :3] - wanted).max(initial=0) < 1.001


@pytest.mark.parametrize("fine", [1, 2, 3])
def test_pixels_are_averaged_as_numpy_does(fine):
    many = np.random.default_rng(fine).integers(0, 256, (HIGH * fine, WIDE * fine, 4), np.uint8)
    few = np.empty((HIGH, WIDE, 4), np.uint8)
    average_pixels(many, fine, few)
    wanted = many.reshape(HIGH, fine, WIDE, fine, 4).mean((1, 3))
    assert np.abs(few - wanted).max() <= 0.5
