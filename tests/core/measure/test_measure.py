"""Wearers, their measures, and a pattern fitted to them by one scale."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import Project, scale_pieces
from ivory_quilt.core.document.wearers import add_wearer, put_wearer, remove_wearer
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.measure.fit import Fit, KeyOf, key_length
from ivory_quilt.core.measure.wearer import SPOTS, Measure, MeasureKind, Wearer, spot
from ivory_quilt.core.pattern.piece import Piece


def test_every_spot_says_where_the_tape_lies():
    assert len({s.id for s in SPOTS}) == len(SPOTS)
    for place in SPOTS:
        assert place.how.endswith(".")
        low, high = place.usual
        assert 100 <= low < high <= 2500
    with pytest.raises(InputError, match="no place"):
        spot("tail")


@pytest.mark.parametrize("value", [5, 4000, -20])
def test_sizes_that_no_body_has_are_refused(value):
    with pytest.raises(InputError, match="Chest"):
        Measure("chest", value)


def test_unusual_sizes_are_asked_about_but_kept():
    assert Measure("wrist", 172).unusual == ""
    assert "measure again" in Measure("wrist", 420).unusual


def test_a_wearers_measures_keep_the_order_of_the_sheet():
    wearer = Wearer("w", "Lamplighter").with_measure(Measure("shoe", 290))
    wearer = wearer.with_measure(Measure("head", 570)).with_measure(Measure("shoe", 288))
    assert [(m.spot, m.value) for m in wearer.measures] == [("head", 570), ("shoe", 288)]
    assert wearer.without("head").measure("head") is None


def test_wearers_come_change_and_go():
    project = add_wearer(add_wearer(Project("p"), "Lamplighter"), "Bearer")
    assert [w.id for w in project.wearers] == ["wearer", "wearer-2"]
    changed = put_wearer(project, project.wearer("wearer").with_measure(Measure("chest", 980)))
    assert changed.wearer("wearer").measure("chest").value == 980
    assert [w.name for w in remove_wearer(changed, "wearer").wearers] == ["Bearer"]
    with pytest.raises(InputError):
        add_wearer(project, "  ")
    with pytest.raises(InputError):
        put_wearer(project, Wearer("other", "Nobody"))


# Fit


def test_a_girth_is_met_on_the_neutral_line_over_what_is_worn_beneath():
    # By hand: 380 + 20 = 400; foam 6 mm on its middle and 4 mm beneath: 2π × 7 = 43.98.
    fit = Fit(Measure("calf", 380, 4), now=222.0, around=2, ease=20, beneath=4, thickness=6)
    assert fit.needed == pytest.approx(443.982, abs=1e-3)
    assert fit.scale == pytest.approx(443.982 / 444, abs=1e-5)
    assert fit.uncertainty == pytest.approx(4 / 444)
    steps = {s.text: s.value for s in fit.reckon().steps}
    assert steps["scale"] == pytest.approx(99.996, abs=1e-3)


def test_a_length_is_met_with_what_is_worn_at_both_ends():
    fit = Fit(Measure("shoe", 290, 3), now=250.0, ease=5, beneath=6, thickness=10)
    assert fit.needed == pytest.approx(307)  # the sole's own foam does not lengthen it
    assert fit.reckon().results["scale"] == pytest.approx(1.228)


@given(st.floats(150, 900), st.floats(50, 900), st.integers(1, 6), st.floats(0, 30))
def test_the_scaled_pattern_meets_the_body(value, now, around, beneath):
    fit = Fit(Measure("chest", value), now, around, 10.0, beneath, 6.0)
    try:
        fit.check()
    except InputError:
        assert not 0.1 <= fit.scale <= 10
        return
    project = Project("p", (Piece("a", "a", rectangle(now, 40.0)),))
    after = scale_pieces(project, ["a"], fit.scale).piece("a")
    inner = around * after.shape.width - 2 * math.pi * (beneath + 3.0)
    assert inner == pytest.approx(value + 10.0, rel=1e-9)
    assert after.thickness == 6.0


@pytest.mark.parametrize(
    "wrong",
    [{"now": 0.0}, {"around": 0}, {"beneath": -1.0}, {"ease": -900.0}, {"now": 5.0}],
)
def test_fits_that_make_no_sense_are_refused(wrong):
    values = {"now": 300.0, "around": 1, "ease": 0.0, "beneath": 0.0} | wrong
    with pytest.raises(InputError):
        Fit(Measure("chest", 800), **values).check()


def test_the_key_dimension_is_one_of_the_pieces():
    shape = rectangle(30.0, 40.0)
    assert [key_length(shape, k) for k in KeyOf] == [30.0, 40.0, 140.0]


def test_girths_go_around_and_lengths_along():
    kinds = {s.id: s.kind for s in SPOTS}
    assert kinds["chest"] is MeasureKind.GIRTH
    assert kinds["shoe"] is MeasureKind.LENGTH
