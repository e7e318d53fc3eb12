"""Card gauges, against circles and spheres that are known by formula."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.gauges import gauge_templates
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.gauges import DEEP, gauges_of
from ivory_quilt.core.stock.foam_stock import ShopStock
from tests.effort import random_cases


def formed(shape, **form):
    return Piece("p", "plate", shape, build=Build(form=Form(**form)))


def curve_of(gauge):
    """Return a card's curve: all of it above its straight sides."""
    outer = gauge.shape.outer
    return outer[outer[:, 1] > outer[:, 1].min() + DEEP - 1e-6]


@random_cases(15, 150)
@given(st.floats(40, 200), st.floats(30, 300), st.floats(40, 200), st.floats(0, 180))
def test_a_rolled_piece_has_one_card_whose_curve_is_its_inside(radius, wide, high, axis):
    wide = min(wide, 6.0 * radius)
    turn = math.radians(axis - 90)
    spin = np.array([[math.cos(turn), math.sin(turn)], [-math.sin(turn), math.cos(turn)]])
    shape = Shape.make(rectangle(wide, high).outer @ spin)
    piece = formed(shape, kind=FormKind.ROLLED, given=Given.RADIUS, value=radius, axis=axis)
    (gauge,) = gauges_of(piece, CutContext())
    curve = curve_of(gauge)
    away = np.hypot(curve[:, 0] - curve[:, 0].mean(), curve[:, 1] + radius)
    assert away == pytest.approx(radius, abs=0.3)
    reach = min(wide / 2 / radius, math.pi / 2)
    assert np.ptp(curve[:, 0]) == pytest.approx(2 * radius * math.sin(reach), rel=0.02)


@random_cases(10, 100)
@given(st.floats(60, 150), st.floats(0.2, 0.7))
def test_a_dished_piece_has_the_circles_of_its_sphere(rim, rise):
    turn = np.linspace(0, 2 * math.pi, 120, endpoint=False)
    disc = Shape.make(rim * np.c_[np.cos(turn), np.sin(turn)])
    piece = formed(disc, kind=FormKind.DISHED, given=Given.HEIGHT, value=rise * rim)
    sphere = shaping_of(piece).inner
    cards = gauges_of(piece, CutContext(), every=20.0)
    assert len(cards) >= 3
    for gauge in cards:
        for at in gauge.at:
            circle = math.sqrt(sphere**2 - at**2)
            curve = curve_of(gauge)
            # A card is laid on by its top; one serves for neighbours that it fits to 0.4 mm.
            away = np.hypot(curve[:, 0], curve[:, 1] - curve[:, 1].max() + circle)
            assert away == pytest.approx(circle, abs=0.45)


def test_a_cone_has_a_card_every_few_centimetres():
    piece = formed(rectangle(200, 210), kind=FormKind.CONE, value=60.0, second=40.0)
    cards = gauges_of(piece, CutContext())
    assert [at for gauge in cards for at in gauge.at] == [-100.0, -50.0, 0.0, 50.0, 100.0]
    widths = [gauge.shape.width for gauge in cards]
    assert widths == sorted(widths, reverse=True)
    with pytest.raises(InputError, match="5 to 1000 mm"):
        gauges_of(piece, CutContext(), every=1.0)


def test_a_flat_piece_has_none_and_a_suit_of_them_says_so():
    flat = Piece("f", "plate", rectangle(100, 60))
    assert gauges_of(flat, CutContext()) == ()
    with pytest.raises(InputError, match="none of the pieces"):
        gauge_templates(derive(Project("suit", (flat,)), ShopStock()))


def test_cards_are_templates_of_card_that_say_where_they_belong():
    flat = Piece("f", "plate", rectangle(100, 60))
    rolled = formed(rectangle(200, 60), kind=FormKind.ROLLED, value=60.0)
    plan = derive(Project("suit", (flat, rolled)), ShopStock())
    (card,) = gauge_templates(plan)
    assert card.number == "2"
    assert card.piece.name == "plate, gauge: inside, at the middle"
    assert card.piece.material == "card"
    with pytest.raises(InputError):
        gauge_templates(plan, {"f"})
