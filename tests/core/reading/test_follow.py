"""A stroke pulled onto what a picture shows."""

import numpy as np
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reading.tracing.follow import Follows, followed

T = np.linspace(0.2, 2.6, 90)


def picture(draw):
    y, x = np.mgrid[0:300, 0:400].astype(float)
    grey = draw(np.hypot(x - 200, y - 150))
    noise = np.random.default_rng(4).normal(0, 5, grey.shape)
    return np.clip(grey + noise, 0, 255).astype(np.uint8)


def wavering(radius):
    r = radius + 6 * np.sin(5 * T)
    return np.column_stack((200 + r * np.cos(T), 150 + r * np.sin(T)))


def off_circle(points, radius):
    return np.abs(np.hypot(points[:, 0] - 200, points[:, 1] - 150) - radius)


def test_a_stroke_is_pulled_to_the_edge_of_a_shape():
    blob = picture(lambda r: np.where(r < 100, 90.0, 220.0))
    found = followed(blob, wavering(100), 12, Follows.EDGE)
    assert np.quantile(off_circle(found, 100), 0.95) < 1.2
    assert off_circle(wavering(100), 100).max() > 5


def test_a_stroke_is_pulled_to_the_middle_of_a_drawn_line():
    drawn = picture(lambda r: np.where(np.abs(r - 100) < 2, 40.0, 230.0))
    found = followed(drawn, wavering(100), 12, Follows.LINE)
    assert np.quantile(off_circle(found, 100), 0.95) < 1.2


def test_where_the_picture_shows_nothing_the_hand_counts():
    plain = picture(lambda r: np.full_like(r, 200.0)) // 50 * 50
    stroke = wavering(100)
    assert followed(plain, stroke, 12, Follows.HAND) is stroke
    empty = np.full((300, 400), 200, np.uint8)
    assert followed(empty, stroke, 12, Follows.EDGE) is stroke
    outside = stroke + 5000
    assert followed(empty, outside, 12, Follows.EDGE) is outside


def test_a_stroke_beyond_all_measure_is_refused():
    stroke = np.array([(0.0, 0.0), (1e6, 0.0)])
    with pytest.raises(InputError, match="pixels long"):
        followed(np.full((300, 400), 200, np.uint8), stroke, 12, Follows.EDGE)
