"""Shapes made from numbers: their outlines, their pieces, and what is refused."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.integrate import quad

from ivory_quilt.core.calculators import CALCULATORS
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.develop import develop_strip
from ivory_quilt.core.pattern.piece import Hand, LineKind
from ivory_quilt.core.shapes.book import MAKERS, maker
from ivory_quilt.core.shapes.maker import ShapeInputKind


def made(ident, **values):
    typed = {k: f"{v:.9f}" if isinstance(v, float) else str(v) for k, v in values.items()}
    return maker(ident).made(typed)


def one(ident, **values):
    (piece,) = made(ident, **values).pieces
    return piece


@pytest.mark.parametrize("ident", list(MAKERS))
def test_every_maker_makes_true_outlines_of_its_defaults_and_explains_itself(ident):
    shape = maker(ident)
    result = shape.made({})
    assert result.pieces
    for piece in result.pieces:
        assert piece.shape.polygon.is_valid
        assert piece.shape.area > 0
        assert piece.count >= 1
        x0, y0, x1, y1 = piece.shape.bounds
        for line in piece.lines:
            assert (line.points >= np.array([x0, y0]) - 1e-6).all()
            assert (line.points <= np.array([x1, y1]) + 1e-6).all()
    assert result.reckoning.steps
    assert result.reckoning.source
    assert shape.help.endswith(".")
    assert len({f.name for f in shape.fields}) == len(shape.fields)


@pytest.mark.parametrize("ident", list(MAKERS))
@pytest.mark.parametrize("wrong", ["-5", "0", "a hand", "", "1e9", "nan"])
def test_numbers_that_make_no_sense_are_refused_in_a_sentence(ident, wrong):
    for field in maker(ident).fields:
        try:
            result = maker(ident).made({field.name: wrong})
        except InputError as error:
            assert str(error)
        else:  # a zero ease is fine, a sphere with no foam too
            assert all(p.shape.polygon.is_valid for p in result.pieces)
            assert wrong in ("0", "-5")


def test_unknown_shapes_and_numbers_are_named():
    with pytest.raises(InputError, match="did you mean 'cuff'"):
        maker("cuf")
    with pytest.raises(InputError, match="no number 'girht'"):
        made("band", girht=4)


def test_fields_read_lengths_as_makers_type_them():
    assert one("band", girth="1 ft", ease=0, thickness=0).shape.width == pytest.approx(304.8)
    names = [p.name for p in made("discs", diameters="1in; 20, 15mm").pieces]
    assert names == ["disc 25.4", "disc 20", "disc 15"]


@given(st.floats(60, 900), st.floats(0, 12), st.floats(0, 1), st.floats(0, 40))
def test_a_band_grows_with_foam_and_lap(girth, thickness, neutral, lap):
    piece = one("band", girth=girth, ease=0, thickness=thickness, neutral=neutral, lap=lap)
    assert piece.shape.width == pytest.approx(girth + 2 * math.pi * neutral * thickness + lap)
    assert len(piece.lines) == (1 if lap >= 1e-9 else 0)


@given(st.floats(20, 300), st.floats(20, 300), st.floats(30, 400), st.floats(30, 360))
def test_a_cuffs_ends_are_as_long_as_its_end_circles(d1, d2, height, around):
    assume(abs(d1 - d2) > 0.5)
    try:
        piece = one("cuff", diameter_1=d1, diameter_2=d2, height=height, around=around, thickness=0)
    except InputError as error:
        assert "closes on itself" in str(error)
        return
    slant = math.hypot(height, (d1 - d2) / 2)
    ends = math.pi * (d1 + d2) * around / 360
    assert piece.shape.outline_length == pytest.approx(2 * slant + ends, rel=2e-3)
    x0, y0, _, _ = piece.shape.bounds
    assert (x0, y0) == pytest.approx((0, 0), abs=1e-9)


def test_a_cuff_of_equal_ends_is_a_straight_band():
    piece = one("cuff", diameter_1=100, diameter_2=100, height=80, thickness=6)
    assert piece.shape.width == pytest.approx(math.pi * 106)
    assert len(piece.shape.outer) == 4


def test_gores_are_symmetrical_and_pointed():
    gore = one("dome", diameter=200, height=100, count=8).shape
    assert gore.mirrored().polygon.symmetric_difference(gore.polygon).area < 1e-6
    top = gore.outer[gore.outer[:, 1].argmax()]
    assert top[0] == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize(("lid", "folds", "faces"), [("no", 4, 5), ("yes", 5, 6)])
def test_a_boxs_net_is_its_faces(lid, folds, faces):
    piece = one("box", inside_length=100, inside_width=60, inside_depth=30, thickness=0, lid=lid)
    walls = 2 * (100 + 60) * 30
    assert piece.shape.area == pytest.approx((faces - 4) * 100 * 60 + walls)
    assert len(piece.lines) == folds
    assert {k.kind for k in piece.lines} == {LineKind.FOLD}


def test_a_boxs_foam_adds_to_the_outer_face():
    piece = one("box", inside_length=100, inside_width=60, inside_depth=30, thickness=5)
    assert piece.shape.width == pytest.approx(110 + 2 * 35)
    assert piece.shape.height == pytest.approx(70 + 2 * 35)


def test_horn_layers_shrink_outwards_and_pair_up():
    result = made("layered-horn")
    assert [p.hand for p in result.pieces] == [Hand.NONE] + [Hand.PAIR] * 4
    assert [p.thickness for p in result.pieces] == [8, 8, 5, 5, 3]
    for inner, outer in pairwise(result.pieces):
        assert outer.shape.area < inner.shape.area
    carved = made("layered-horn", edges="straight").pieces
    for stepped, straight in zip(result.pieces[1:], carved[1:], strict=True):
        assert straight.shape.area < stepped.shape.area


def test_a_straight_horns_layer_is_as_wide_as_the_circle_allows():
    spine, layer = made("layered-horn", bend=0, sides="6", base=50).pieces
    assert spine.shape.width == pytest.approx(50)
    # The layer begins 4 mm above the middle: 2 √(25² − 4²).
    assert layer.shape.width == pytest.approx(2 * math.sqrt(609), abs=0.05)


def test_a_horn_that_cannot_be_is_refused():
    with pytest.raises(InputError, match="tighter"):
        made("layered-horn", along=60, base=60, bend=180)
    with pytest.raises(InputError, match="fewer or thinner"):
        made("layered-horn", base=40, sides="10, 10, 10")


@pytest.mark.parametrize("panels", [3, 4, 5, 8])
@pytest.mark.parametrize("bend", [0, 45, 120])
def test_a_hollow_horns_panels_share_their_seams(panels, bend):
    along, base, tip = 360.0, 90.0, 10.0
    pieces = made(
        "hollow-horn", along=along, base=base, tip=tip, panels=panels, bend=bend, thickness=0
    ).pieces
    assert sum(2 if p.hand is Hand.PAIR else 1 for p in pieces) == panels
    curvature, slope = math.radians(bend) / along, (tip - base) / 2 / along

    def seam(k):
        """Length of a curve on the bent cone: its speed along the axis, integrated."""
        cos = math.cos(2 * math.pi * k / panels)

        def speed(s):
            return math.hypot(1 - curvature * (base / 2 + slope * s) * cos, slope)

        return quad(speed, 0.0, along)[0]

    for k, piece in enumerate(pieces):
        sides = sorted(_long_sides(piece.shape.outer))
        assert sides == pytest.approx(sorted((seam(k), seam(k + 1))), rel=1e-4)


def _long_sides(ring):
    """The lengths of a panel's two long edges, parted at its base and its tip."""
    step = np.roll(ring, -1, axis=0) - ring
    length = np.hypot(*step.T)
    heading = np.arctan2(step[:, 1], step[:, 0])
    turn = np.abs(np.angle(np.exp(1j * (heading - np.roll(heading, 1)))))
    corners = np.sort(np.argsort(turn)[-4:])
    ring_at = np.roll(length, -corners[0])
    cuts = corners - corners[0]
    runs = [float(ring_at[i:j].sum()) for i, j in zip(cuts, [*cuts[1:], len(length)], strict=True)]
    return sorted(runs)[-2:]


@given(
    st.lists(st.tuples(*[st.floats(-50, 50)] * 3), min_size=3, max_size=8),
    st.tuples(*[st.floats(20, 60)] * 3),
)
def test_developing_keeps_every_edge(points, off):
    left = np.array(points)
    assume(np.linalg.norm(np.diff(left, axis=0), axis=1).min() > 1.0)
    right = left + np.array(off) * np.linspace(1.0, 2.0, len(left))[:, None]
    flat_left, flat_right = develop_strip(left, right)
    for solid, flat in ((left, flat_left), (right, flat_right)):
        want = np.linalg.norm(np.diff(solid, axis=0), axis=1)
        assert np.linalg.norm(np.diff(flat, axis=0), axis=1) == pytest.approx(want, abs=1e-6)
    across = np.linalg.norm(right - left, axis=1)
    assert np.linalg.norm(flat_right - flat_left, axis=1) == pytest.approx(across, abs=1e-6)


def test_the_shapes_calculators_are_listed_with_the_fixed_inputs():
    # The names and inputs are a published interface: scripts rely on them.
    fixed = {
        "wrap": ["girth", "ease", "thickness", "neutral", "angle"],
        "cone": ["diameter_1", "diameter_2", "height", "thickness", "neutral"],
        "gores": ["radius", "count"],
        "dish": ["base_radius", "height"],
        "spike": ["sides", "base", "height"],
        "horn-layers": ["spine", "sides"],
        "edge-roll": ["lengths"],
        "strap": ["finished_width", "length", "turn_back", "tail"],
    }
    for name, inputs in fixed.items():
        assert [i.name for i in CALCULATORS[name].inputs] == inputs


def test_choices_are_the_only_fields_with_options():
    for shape in MAKERS.values():
        for field in shape.fields:
            assert bool(field.options) is (field.kind is ShapeInputKind.CHOICE)
