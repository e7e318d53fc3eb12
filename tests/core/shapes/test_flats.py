"""Plain flat pieces: their sizes as typed."""

import math

import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.shapes.book import maker


def made(ident, **values):
    (piece,) = maker(ident).made(values).pieces
    return piece.shape, maker(ident).made(values).reckoning


def test_a_plate_with_rounded_corners():
    shape, reckoned = made("plate", width="200 mm", height="8 cm", corner_radius="15")
    assert (shape.width, shape.height) == (pytest.approx(200), pytest.approx(80))
    assert shape.area == pytest.approx(reckoned.figure("area"), rel=1e-4)
    plain, _ = made("plate", width="200", height="80")
    assert plain.area == 16000
    with pytest.raises(InputError, match="corner radius"):
        made("plate", width="200", height="80", corner_radius="41")


def test_a_circle_and_an_oval():
    circle, _ = made("oval", width="90", height="90")
    assert circle.area == pytest.approx(math.pi * 45**2, rel=1e-3)
    oval, reckoned = made("oval", width="60", height="140")
    assert (oval.width, oval.height) == (pytest.approx(60), pytest.approx(140))
    assert oval.area == pytest.approx(reckoned.figure("area"), rel=1e-3)


def test_a_flat_arc():
    shape, reckoned = made("arc", radius="100", width="30", angle="180")
    assert shape.width == pytest.approx(260, abs=0.02)
    assert shape.height == pytest.approx(130, abs=0.02)
    assert reckoned.figure("length") == pytest.approx(math.pi * 115)
    assert shape.area == pytest.approx(reckoned.figure("area"), rel=1e-3)
    with pytest.raises(InputError, match="angle"):
        made("arc", angle="360")
