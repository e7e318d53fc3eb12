"""Heat, bevels and layers against handbook formulas and tables, worked by hand in the test.

Sources are named at each check; "common practice" where there is none.
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.calculators import reckon
from ivory_quilt.core.edges.bevels import unequal_mitre
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.shrink import coupon_result, cut_length
from ivory_quilt.core.stacks.layers import layer_radii
from ivory_quilt.core.stacks.thickness import ways_to


def results(name, **values):
    typed = {k: f"{v:.12f}" if isinstance(v, float) else str(v) for k, v in values.items()}
    return reckon(name, typed).results


def test_bend_allowance_is_the_handbooks():
    """Sheet-metal handbooks: BA = π/180 · A · (R + K·T); here 90°, R 3, T 2, K 0.42 → 6.0319."""
    found = results("bend", angle=90, inside_radius=3, thickness=2, neutral=0.42)
    assert found["allowance"] == pytest.approx(math.pi / 2 * 3.84)
    # At a full turn on the neutral line it is a ring's circumference.
    ring = results("bend", angle=360, inside_radius=50, thickness=6)
    assert ring["allowance"] == pytest.approx(2 * math.pi * 53)


@given(st.floats(10, 360), st.floats(5, 300), st.floats(1, 20), st.floats(0, 1))
def test_a_coupon_gives_back_the_neutral_line(angle, radius, thickness, neutral):
    flat = results("bend", angle=angle, inside_radius=radius, thickness=thickness, neutral=neutral)
    found = results(
        "neutral-from-coupon",
        angle=angle,
        inside_radius=radius,
        thickness=thickness,
        flat_length=flat["allowance"],
    )
    assert found["neutral"] == pytest.approx(neutral, abs=1e-6)


def test_thinner_foam_outside_a_form_is_smaller():
    """Common practice, no source: from 4 mm to 2 mm a toe cover is about 2 mm smaller all round."""
    change = results("thickness-change", angle=180, inside_radius=45, old=4, new=2)["change"]
    assert change == pytest.approx(-math.pi)
    assert -change / 2 == pytest.approx(2, abs=0.5)  # each of both ends


@given(st.floats(10, 500), st.floats(0, 40))
def test_what_is_cut_shrinks_to_what_was_wanted(length, percent):
    assert cut_length(length, percent) * (1 - percent / 100) == pytest.approx(length)


def test_the_interval_is_students():
    """t(0.975) for 4 and 9 degrees of freedom: 2.776 and 2.262, published t tables."""
    for n, t in ((5, 2.776), (10, 2.262)):
        before = [100.0] * n
        after = [98 + 0.1 * k for k in range(n)]
        shares = 100 * (1 - np.array(after) / 100)
        found = coupon_result(before, after)
        assert found.mean == pytest.approx(shares.mean())
        assert found.standard_error == pytest.approx(shares.std(ddof=1) / math.sqrt(n))
        reach = (found.high - found.low) / 2
        assert reach / found.standard_error == pytest.approx(t, abs=5e-4)
        assert found.differs_from(found.high + 0.01)
        assert not found.differs_from(found.mean)
    with pytest.raises(InputError, match="two or more"):
        coupon_result([100], [98])
    with pytest.raises(InputError, match="as many"):
        coupon_result([100, 100], [98])


@pytest.mark.parametrize(
    ("dihedral", "bevel"),
    [(90, 45), (180, 0), (math.degrees(math.acos(1 / 3)), 54.7356), (120, 30)],
)
def test_the_mitre_bisects(dihedral, bevel):
    """A box's 90°; a plane; the regular tetrahedron's arccos(1/3); a hexagon's 120°."""
    assert results("mitre", dihedral=dihedral)["bevel"] == pytest.approx(bevel, abs=1e-3)


@given(st.floats(20, 175), st.floats(2, 20), st.floats(2, 20))
def test_unequal_bevels_have_one_face_and_close_the_dihedral(dihedral, one, other):
    found = unequal_mitre(dihedral, one, other)
    a, b = 90 - found.bevel_1, 90 - found.bevel_2
    assert a + b == pytest.approx(dihedral)
    # Each bevel face runs through its own thickness.
    assert found.face * math.sin(math.radians(a)) == pytest.approx(one)
    assert found.face * math.sin(math.radians(b)) == pytest.approx(other)
    swapped = unequal_mitre(dihedral, other, one)
    assert (swapped.bevel_1, swapped.bevel_2) == pytest.approx((found.bevel_2, found.bevel_1))
    same = unequal_mitre(dihedral, one, one)
    assert same.bevel_1 == pytest.approx((180 - dihedral) / 2)


def test_a_plane_of_two_thicknesses_cannot_meet():
    assert unequal_mitre(180, 6, 6).bevel_1 == 0
    with pytest.raises(InputError, match="cannot meet all over"):
        unequal_mitre(180, 6, 10)


def test_grooves_flares_blades_and_trenches():
    # A right-angle fold takes 45° from each side (common practice): as wide as twice its depth.
    right = results("undercut", fold=90, thickness=10, skin=1)
    assert (right["width"], right["depth"], right["wall"]) == pytest.approx((18, 9, 45))
    # tan 45° = 1; tan 60° = √3.
    assert results("flare", thickness=8, angle=45)["offset"] == pytest.approx(8)
    assert results("flare", thickness=8, angle=-60)["offset"] == pytest.approx(-8 * math.sqrt(3))
    # Half of 10 mm over 50 mm: atan 0.1.
    assert results("blade", thickness=10, width=50)["angle"] == pytest.approx(5.7106, abs=1e-4)
    # A rod in two layers: half its depth in each (common practice).
    trench = results("trench", rod=8)
    assert (trench["depth"], trench["width"]) == (4, 8)
    for wrong in ({"skin": 10}, {"skin": 12}):
        with pytest.raises(InputError, match="skin"):
            results("undercut", fold=90, thickness=10, **wrong)


def test_outer_layers_are_longer():
    found = results("curved-layers", angle=180, inside_radius=60, thicknesses="6,6,4")
    assert found["lengths"] == pytest.approx([math.pi * r for r in (63, 69, 74)])
    # Over a full turn two layers of 6 mm differ by 2π · 6 (ring circumferences).
    assert results("drift", angle=360, inside_radius=60, under=6, over=6)["drift"] == pytest.approx(
        2 * math.pi * 6
    )
    with pytest.raises(InputError, match="none"):
        layer_radii(60, (), 0.5)


@given(st.floats(1, 360), st.floats(0, 300), st.floats(1, 20), st.floats(1, 20), st.floats(0, 1))
def test_drift_is_the_difference_of_two_layers(angle, radius, under, over, neutral):
    both = f"{under:.12f},{over:.12f}"
    lengths = results(
        "curved-layers", angle=angle, inside_radius=radius, thicknesses=both, neutral=neutral
    )["lengths"]
    found = results(
        "drift", angle=angle, inside_radius=radius, under=under, over=over, neutral=neutral
    )["drift"]
    assert found == pytest.approx(lengths[1] - lengths[0], abs=1e-6)


def test_wraps_and_covers():
    """Common practice, no source: cut 2 to 3 mm short, as wide as the stack."""
    wrap = results("edge-wrap", perimeter=500, stack=20, stretch=2.5)
    assert (wrap["length"], wrap["width"]) == (497.5, 20)
    cover = results("cover", width=200, height=100, core=5, margin=10)
    assert (cover["cut_width"], cover["cut_height"]) == (230, 130)


def test_every_way_to_ten_millimetres():
    """Common practice, no source: 5 + 5 = 10; 4 + 6 = 10; 10 → 2 × 5."""
    ways = [w.words for w in ways_to(10, (4, 5, 6, 20))]
    assert {"5 + 5", "6 + 4", "20 split in 2"} <= set(ways)
    assert ways_to(5, (10, 4))[0].words == "10 split in 2"
    assert ways_to(6, (6, 3))[0].words == "6"
    near = ways_to(6.35, (6, 12))
    assert [w.words for w in near] == ["6"]
    assert ways_to(100, (2, 3)) == ()


@given(
    st.lists(st.sampled_from([2, 3, 4, 5, 6, 8, 10, 12.7]), min_size=1, max_size=6),
    st.sampled_from([4, 5, 8, 10, 12, 20]),
)
def test_ways_come_to_what_was_wanted(available, wanted):
    for way in ways_to(wanted, available):
        assert set(way.layers) <= set(available)
        assert abs(way.thickness - wanted) <= max(0.05, 0.15 * wanted)
