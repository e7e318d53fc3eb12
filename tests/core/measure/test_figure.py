"""The wearer standing: joints at their heights, measured limbs as measured, the rest guessed."""

import numpy as np
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.measure.figure import GIRTHS, LENGTHS, completed, figure_of
from ivory_quilt.core.measure.wearer import Measure, Wearer

TALL = Wearer("w", "lamplighter", (Measure("height", 1800.0), Measure("knee-height", 520.0)))


def test_lengths_that_nobody_took_are_those_of_the_stature():
    """Drillis and Contini (1966): upper arm 0.186 and forearm 0.146 of the stature."""
    whole, guessed = completed(TALL)
    value = {m.spot: m.value for m in whole.measures}
    assert value["arm"] == pytest.approx((0.186 + 0.146) * 1800, abs=0.1)
    assert value["shoulders"] == pytest.approx(0.259 * 1800, abs=0.1)
    assert value["head-height"] == pytest.approx(0.130 * 1800, abs=0.1)
    assert set(guessed) == ({*LENGTHS, *GIRTHS} - {"knee-height"})


def test_measures_are_kept_and_girths_follow_a_measured_neighbour():
    wearer = Wearer("w", "w", (*TALL.measures, Measure("thigh", 600.0), Measure("wrist", 150.0)))
    whole, guessed = completed(wearer)
    value = {m.spot: m.value for m in whole.measures}
    assert (value["thigh"], value["wrist"]) == (600.0, 150.0)
    assert value["calf"] == pytest.approx(0.66 * 600)
    assert {"thigh", "wrist"}.isdisjoint(guessed)


def test_the_figure_stands_on_the_floor_with_its_joints_at_their_heights():
    figure = figure_of(TALL)
    high = np.concatenate([limb.vertices[:, 2] for limb in figure.limbs])
    assert high.max() == pytest.approx(1800, abs=1)
    assert -1 < high.min() < 120
    shin, thigh = (figure.limb(p, 1) for p in (BodyPart.SHIN, BodyPart.THIGH))
    assert (shin.low + shin.up * shin.length)[2] == pytest.approx(520)
    assert thigh.low[2] == pytest.approx(520)
    arm = figure.limb(BodyPart.UPPER_ARM, -1)
    assert (arm.low + arm.up * arm.length)[2] == pytest.approx(0.818 * 1800, rel=0.01)
    fore = figure.limb(BodyPart.FOREARM, -1)
    assert fore.low + fore.up * fore.length == pytest.approx(arm.low, abs=1e-6)


def test_left_and_right_are_mirror_images_and_the_middle_is_one():
    figure = figure_of(TALL)
    for part in (BodyPart.SHIN, BodyPart.FOREARM):
        right, left = figure.limb(part, 1), figure.limb(part, -1)
        assert right.low[0] > 0 > left.low[0]
        assert right.low * (-1, 1, 1) == pytest.approx(left.low)
    assert figure.limb(BodyPart.HEAD, 1) is figure.limb(BodyPart.HEAD, -1)


def test_girths_of_the_figure_are_the_wearers():
    figure = figure_of(Wearer("w", "w", (*TALL.measures, Measure("calf", 400.0))))
    shin = figure.limb(BodyPart.SHIN, 1)
    wide, deep = shin.radii(np.array([0.65 * shin.length]))
    # Ramanujan's second approximation of an ellipse's perimeter (1914).
    h = ((wide[0] - deep[0]) / (wide[0] + deep[0])) ** 2
    around = np.pi * (wide[0] + deep[0]) * (1 + 3 * h / (10 + np.sqrt(4 - 3 * h)))
    assert around == pytest.approx(400, rel=0.01)


def test_without_the_height_there_is_no_figure():
    with pytest.raises(InputError, match="no 'height'"):
        figure_of(Wearer("w", "lamplighter", (Measure("calf", 350.0),)))
