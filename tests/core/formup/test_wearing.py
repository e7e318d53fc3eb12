"""The figure with groups on it: one solid, and what is said of it."""

import numpy as np
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Assembly, FormPanel
from ivory_quilt.core.formup.choices import Worn
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.formup.standing import legs_apart, stand
from ivory_quilt.core.formup.wearing import Garment, put_on
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.measure.figure import figure_of
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.record import replace
from tests.core.formup.nets import rectangle

WEARER = Wearer("w", "lamplighter", (Measure("height", 1750.0),))


@pytest.fixture(scope="module")
def guard():
    plate = form(Assembly((FormPanel("p", rectangle(90, 140), 6.0),), edge=20.0)).shape
    return Garment("guard", plate, Worn(BodyPart.SHIN, 0.5), (-1, 1), -1)


def foam_triangles(solid):
    return int((solid.layer < len(solid.thickness) - 1).sum())


def test_a_garment_of_two_sides_stands_on_both_of_them(guard):
    solid, nearness = put_on(WEARER, (guard,))
    alone, _ = put_on(WEARER, (replace(guard, sides=(1,)),))
    assert foam_triangles(solid) == 2 * foam_triangles(alone)
    assert solid.thickness == (6.0, 0.0)
    foam = solid.corners[solid.layer == 0].reshape(-1, 3)
    # As many to the left as to the right of the middle, as a picture from the front shows them.
    assert np.mean(foam[:, 0]) == pytest.approx(0, abs=2)
    figure = figure_of(WEARER)
    both = tuple(
        stand("guard", guard.shape, figure, guard.worn, side, guard.drawn) for side in (-1, 1)
    )
    assert nearness.legs == legs_apart(both)
    assert nearness.guessed == figure.guessed != ()


def test_without_garments_it_is_the_figure_alone():
    solid, nearness = put_on(WEARER, ())
    assert foam_triangles(solid) == 0
    assert len(solid.layer) == sum(len(limb.triangles) for limb in figure_of(WEARER).limbs)
    assert nearness.between == ()
    assert nearness.legs is None


def test_a_wearer_of_too_few_measures_is_refused_by_name(guard):
    with pytest.raises(InputError, match="height"):
        put_on(Wearer("x", "apprentice", (Measure("calf", 340.0),)), (guard,))
