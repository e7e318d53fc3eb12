"""The simulated scanner: the same by seed, worse by its conditions."""

import numpy as np
import pytest

from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.devices.scanner import PHONE, ScanConditions, png, scan

PLATE = rectangle(60.0, 40.0)
PAPER = (80.0, 60.0)


def test_the_same_seed_gives_the_same_picture():
    assert np.array_equal(scan([PLATE], PAPER, PHONE, 7), scan([PLATE], PAPER, PHONE, 7))
    assert not np.array_equal(scan([PLATE], PAPER, PHONE, 7), scan([PLATE], PAPER, PHONE, 8))


def test_a_flat_scan_is_the_paper_and_a_photo_shows_the_table():
    flat = scan([PLATE], PAPER, ScanConditions(dpi=127.0), 1)
    assert flat.shape == (300, 400)
    photo = scan([PLATE], PAPER, PHONE, 1)
    assert photo[:6, :6].mean() < 110 < flat[:6, :6].mean()


@pytest.mark.parametrize(("worse", "more"), [("noise", 20.0), ("grain", 20.0)])
def test_conditions_do_what_they_say(worse, more):
    clean = {"noise": 0.0, "grain": 0.0, "blur": 0.0}
    calm = scan([], PAPER, ScanConditions(**clean), 1)
    rough = scan([], PAPER, ScanConditions(**{**clean, worse: more}), 1)
    assert calm.std() < 1
    assert rough.std() > 8


def test_light_falls_off_to_one_side():
    dim = scan([], PAPER, ScanConditions(uneven=0.5), 3).astype(float)
    corners = [dim[:40, :40], dim[:40, -40:], dim[-40:, :40], dim[-40:, -40:]]
    means = sorted(c.mean() for c in corners)
    assert means[-1] > 1.3 * means[0]


def test_pictures_are_written_as_png():
    assert png(scan([PLATE], PAPER, ScanConditions(dpi=50.0), 1)).startswith(b"\x89PNG")
