"""Forms laid flat and put back into shape; what stays of a pattern whatever is done to it."""

import math

import numpy as np
import pytest
from hypothesis import given, reject, settings
from hypothesis import strategies as st

from ivory_quilt.core.editing.reshape import mirrored_piece, scaled_piece
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.flatten import before_heat, laid_flat
from ivory_quilt.core.forming.forms import own_place, shaping_of
from ivory_quilt.core.forming.shaping import Place
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    EdgeProfile,
    Face,
    Form,
    FormKind,
    Given,
    Layer,
    LayerSide,
    LayerSize,
    Profile,
    ProfileKind,
)
from ivory_quilt.core.pattern.piece import Crease, Hand, LineKind, Piece, PieceLine, Turn
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.layering import cuts_of
from ivory_quilt.core.stacks.solid import solid_of
from tests.effort import random_cases

HORN = Shape.make([(0, 0), (90, 0), (110, 80), (70, 150), (60, 90), (10, 60)])


def made(form, shape=None, thickness=6.0, **rest):
    shape = shape or rectangle(300, 80)
    return Piece("p", "plate", shape, thickness=thickness, build=Build(form=form), **rest)


def girth(value, **rest):
    return Form(FormKind.ROLLED, Given.GIRTH, value, **rest)


@settings(deadline=None)
@given(st.floats(150, 900), st.floats(1, 12), st.floats(0, 1), st.floats(0, 15))
def test_a_roll_laid_flat_closes_again_on_its_neutral_line(around, thickness, neutral, beneath):
    """Within 0.01 mm: the bar of the trade's own arithmetic."""
    piece = made(girth(around, beneath=beneath), rectangle(around * 0.97, 60), thickness)
    place = own_place(piece, neutral)
    shaping = shaping_of(piece)
    flat = laid_flat(piece, shaping, place)
    wanted = around + 2 * math.pi * (beneath + neutral * thickness)
    assert flat.shape.width == pytest.approx(wanted, abs=1e-6)
    # Rolled up again, the neutral line is a closed ring of that length.
    x0, y0, x1, _ = flat.shape.bounds
    line = np.column_stack((np.linspace(x0, x1, 20001), np.full(20001, y0)))
    ring = shaping.space(line, np.full(20001, neutral * thickness), place)
    assert np.linalg.norm(ring[0] - ring[-1]) < 1e-6
    length = np.linalg.norm(np.diff(ring, axis=0), axis=1).sum()
    assert length == pytest.approx(wanted, abs=0.01)
    # and the inner face lies on what is worn beneath.
    inside = shaping.space(line, np.zeros(20001), place)
    across = inside[:, 0] - inside[:, 0].mean()
    assert np.ptp(across) / 2 == pytest.approx(around / (2 * math.pi) + beneath, abs=1e-3)


@pytest.mark.parametrize(("face", "share"), [(Face.INNER, 0), (Face.MIDDLE, 0.5), (Face.OUTER, 1)])
def test_the_face_that_the_pattern_was_taken_on_decides(face, share):
    form = Form(FormKind.ROLLED, Given.ANGLE, 90, face=face)
    flat = laid_flat(made(form), shaping_of(made(form)), Place(0, 6, 3))
    assert flat.shape.width - 300 == pytest.approx(math.pi / 2 * 6 * (0.5 - share))


def test_an_axis_may_lie_any_way():
    upright = made(Form(FormKind.ROLLED, Given.ANGLE, 90))
    lying = made(Form(FormKind.ROLLED, Given.ANGLE, 90, axis=0.0))
    up, lie = (laid_flat(p, shaping_of(p), Place(0, 6, 3)).shape for p in (upright, lying))
    assert (up.width > 300, up.height) == (True, pytest.approx(80))
    assert (lie.width, lie.height > 80) == (pytest.approx(300), True)


def sector(radius_1, radius_2, slant, degrees):
    """A flat ring sector about the middle of the x axis, upright."""
    half = math.asin((radius_2 - radius_1) / slant)
    low, sweep = radius_1 / math.sin(half), math.radians(degrees) * math.sin(half)
    turn = np.linspace(-sweep / 2, sweep / 2, 400)
    arc = np.column_stack((np.sin(turn), np.cos(turn)))
    return Shape.make(np.vstack((low * arc, (low + slant) * arc[::-1]))), half, low, sweep


def test_a_cone_laid_flat_is_the_sector_of_its_neutral_line():
    """Development of a cone frustum: radii r ÷ sin α, angle 2π sin α (textbook development)."""
    shape, half, low, sweep = sector(30.0, 50.0, 160.0, 300)
    form = Form(FormKind.CONE, Given.RADIUS, 30, 50)
    piece = made(form, shape)
    shaping, place = shaping_of(piece), own_place(piece, 0.5)
    flat = laid_flat(piece, shaping, place)
    # The neutral cone has the same half angle, 3 mm further out: its sector's radii are longer by
    # 3 ÷ tan α, its angle is the same.
    expected, _, _, _ = sector(30.0, 50.0, 160.0, 300)
    grown = low + 3 / math.tan(half)
    assert flat.shape.area == pytest.approx(sweep / 2 * ((grown + 160) ** 2 - grown**2), rel=2e-4)
    assert expected.area < flat.shape.area
    # Formed again, its inner face is the body: the end radii come out.
    solid = shaping.space(flat.shape.outer, np.zeros(len(flat.shape.outer)), place)
    axis_height = solid[:, 2] + shaping.size
    radius = np.hypot(solid[:, 0], axis_height)
    assert radius.min() == pytest.approx(30, abs=0.05)
    assert radius.max() == pytest.approx(50, abs=0.05)
    # A cone that narrows upwards is the same thing turned over.
    over = made(Form(FormKind.CONE, Given.RADIUS, 50, 30), Shape.make(shape.outer * [1, -1]))
    down = laid_flat(over, shaping_of(over), place)
    assert down.shape.area == pytest.approx(flat.shape.area, rel=1e-6)


def bent(*creases, face=Face.INNER, kind=LineKind.FOLD):
    lines = tuple(PieceLine(kind, np.array([[x, 0.0], [x, 80.0]]), crease) for x, crease in creases)
    return made(Form(FormKind.BENT, face=face), lines=lines)


def test_bends_lengthen_a_strip_by_their_allowance():
    """Sheet-metal handbooks: each bend takes angle × (radius + k × thickness)."""
    piece = bent((100, Crease(90, 20)), (220, Crease(45, 10)))
    flat = laid_flat(piece, shaping_of(piece), own_place(piece, 0.5))
    expected = 300 + math.pi / 2 * 3 + math.pi / 4 * 3
    assert flat.shape.width == pytest.approx(expected, abs=1e-3)
    # Seen from the outer face a bend is shorter flat; folded the other way, inner is outer.
    outer = bent((150, Crease(90, 20)), face=Face.OUTER)
    back = bent((150, Crease(-90, 20)), face=Face.INNER)
    for one in (outer, back):
        flat = laid_flat(one, shaping_of(one), own_place(one, 0.5))
        assert flat.shape.width == pytest.approx(300 - math.pi / 2 * 3, abs=1e-3)


@given(st.floats(10, 120), st.floats(5, 40), st.floats(2, 10))
def test_a_bent_strip_keeps_its_neutral_length_and_turns_its_end(angle, radius, thickness):
    piece = replace(bent((150, Crease(angle, radius))), thickness=thickness)
    shaping, place = shaping_of(piece), own_place(piece, 0.5)
    flat = laid_flat(piece, shaping, place)
    x0, _, x1, _ = flat.shape.bounds
    line = np.column_stack((np.linspace(x0, x1, 6001), np.full(6001, 40.0)))
    run = shaping.space(line, np.full(6001, thickness / 2), place)
    assert np.linalg.norm(np.diff(run, axis=0), axis=1).sum() == pytest.approx(x1 - x0, abs=0.01)
    first, last = run[1] - run[0], run[-1] - run[-2]
    turned = math.degrees(math.acos(first @ last / np.linalg.norm(first) / np.linalg.norm(last)))
    assert turned == pytest.approx(angle, abs=0.01)


def test_a_groove_closes_and_takes_no_length():
    piece = bent((150, Crease(90, skin=1.0)), kind=LineKind.UNDERCUT)
    shaping, place = shaping_of(piece), own_place(piece, 0.5)
    flat = laid_flat(piece, shaping, place)
    assert flat.shape.width == pytest.approx(300)
    # Both walls of the groove come together: 5 mm to either side of the line on the back.
    walls = np.array([[145.0, 40.0], [155.0, 40.0]])
    a, b = shaping.space(walls, np.zeros(2), place)
    assert np.linalg.norm(a - b) == pytest.approx(0, abs=1e-6)


@pytest.mark.parametrize(("front", "foot"), [(False, 7.0), (True, 3.0)])
@pytest.mark.parametrize("angle", [60.0, 90.0, -40.0])
def test_a_groove_turns_about_its_foot(front, foot, angle):
    """The skin of 3 mm is left on the other face of 10 mm; nothing changes its distance from it."""
    piece = replace(
        bent((150, Crease(angle, skin=3.0, front=front)), kind=LineKind.UNDERCUT), thickness=10.0
    )
    shaping, place = shaping_of(piece), own_place(piece, 0.5)
    heights = np.array([foot, foot, 0.0 if front else 10.0])
    near, far, face = shaping.space(
        np.array([[150.0, 40], [230.0, 40], [230.0, 40]]), heights, place
    )
    still = shaping.space(np.array([[100.0, 40.0]]), np.array([foot]), place)[0]
    assert near == pytest.approx([150.0, 40.0, foot], abs=1e-6)
    turn = math.radians(angle)
    assert far - near == pytest.approx([80 * math.cos(turn), 0.0, -80 * math.sin(turn)], abs=1e-6)
    assert np.linalg.norm(face - far) == pytest.approx(abs(heights[2] - foot), abs=1e-6)
    assert still == pytest.approx([100.0, 40.0, foot], abs=1e-6)


def test_a_dish_keeps_its_area_and_its_rim():
    """Area of a cap π(a² + h²) (Archimedes, On the Sphere and Cylinder I.42)."""
    disc = Shape.make(circle((0, 0), 80.0))
    piece = made(Form(FormKind.DISHED, Given.HEIGHT, 25), disc, thickness=0.1)
    shaping, place = shaping_of(piece), Place(0, 0.1, 0.0)
    flat = laid_flat(piece, shaping, place)
    assert flat.shape.area == pytest.approx(math.pi * (80**2 + 25**2), rel=1e-3)
    solid = shaping.space(flat.shape.outer, np.zeros(len(flat.shape.outer)), place)
    assert np.hypot(solid[:, 0], solid[:, 1]) == pytest.approx(np.full(len(solid), 80.0), rel=1e-3)
    assert solid[:, 2] == pytest.approx(np.full(len(solid), -25.0), abs=0.1)


def test_layers_on_a_form_are_as_long_as_their_place():
    build = Build(
        form=Form(FormKind.ROLLED, Given.RADIUS, 60),
        layers=(Layer(6.0), Layer(4.0, side=LayerSide.INNER)),
    )
    piece = Piece("p", "band", rectangle(120, 40), thickness=10.0, build=build)
    widths = [c.outer.width for c in cuts_of(piece)]
    turn = 120 / 60
    assert widths == pytest.approx([turn * 65, turn * 73, turn * 58])
    glued_flat = replace(piece, build=replace(build, on_form=False))
    widths = [c.outer.width for c in cuts_of(glued_flat)]
    assert widths == pytest.approx([turn * (60 - 4 + 10)] * 3)


def test_shrink_goes_by_the_sheets_direction_where_it_is_kept():
    book = FoamBook(shrink_along=4, shrink_across=2)
    plate = Piece("p", "p", rectangle(100, 50))
    free, changes = before_heat(plate, book)
    assert (free.shape.width, free.shape.height) == pytest.approx((100 / 0.97, 50 / 0.97))
    assert len(changes) == 2
    grain = PieceLine(LineKind.GRAIN, np.array([[50.0, 5.0], [50.0, 45.0]]))
    kept = replace(plate, turn=Turn.DIRECTION, lines=(grain,))
    upright, _ = before_heat(kept, book)
    assert (upright.shape.width, upright.shape.height) == pytest.approx((100 / 0.98, 50 / 0.96))
    # An arrow is as long as it is drawn, and without one the sheet runs to the right.
    bent = replace(grain, points=np.array([[50.0, 5.0], [51.0, 6.0], [50.0, 45.0]]))
    again, told = before_heat(replace(kept, lines=(bent,)), book)
    assert again.shape == upright.shape
    assert [(c.why, round(c.amount, 3)) for c in told] == [
        ("heat shrinks it by 4 % along the sheet", round(50 / 0.96 - 50, 3)),
        ("heat shrinks it by 2 % across the sheet", round(100 / 0.98 - 100, 3)),
    ]
    level, _ = before_heat(replace(kept, lines=()), book)
    assert (level.shape.width, level.shape.height) == pytest.approx((100 / 0.96, 50 / 0.98))


FORMS = st.one_of(
    st.builds(
        lambda a, x: Form(FormKind.ROLLED, Given.ANGLE, a, axis=x),
        st.floats(20, 300),
        st.floats(0, 179),
    ),
    st.builds(lambda h: Form(FormKind.DISHED, Given.HEIGHT, h), st.floats(5, 30)),
    st.just(Form()),
)
PROFILES = st.sampled_from(
    [
        Profile(ProfileKind.IN, 30),
        Profile(ProfileKind.OUT, 40),
        Profile(ProfileKind.BLADE, width=6),
        Profile(ProfileKind.LAP, width=5),
    ]
)


def horn(form, profile, hand=Hand.LEFT):
    build = Build(form, (EdgeProfile("B", profile),), (Layer(4.0, size=LayerSize.INSET, by=4),))
    piece = Piece("p", "horn", HORN, hand=hand, build=build)
    from ivory_quilt.core.pattern.edges import edges_of

    return replace(piece, edges=edges_of(piece))


@random_cases(60, 600)
@given(FORMS, PROFILES)
def test_mirrored_then_derived_is_derived_then_mirrored(form, profile):
    piece = horn(form, profile)
    try:
        first = cuts_of(piece)
    except InputError:
        reject()
    second = cuts_of(mirrored_piece(piece))
    x0, _, x1, _ = HORN.bounds
    for one, other in zip(first, second, strict=True):
        for a, b in (
            (one.outer, other.outer),
            (one.inner, other.inner),
            (one.footprint, other.footprint),
        ):
            flipped = Shape.make(a.outer * [-1, 1] + [x0 + x1, 0])
            away = flipped.polygon.symmetric_difference(b.polygon).area
            assert away < 1e-5 * a.area


@random_cases(60, 600)
@given(st.floats(0.5, 2.0), st.floats(20, 180), st.floats(-50, 50))
def test_scaling_before_deriving_never_scales_an_allowance(factor, angle, bevel):
    kind = ProfileKind.OUT if bevel >= 0 else ProfileKind.IN
    form = Form(FormKind.ROLLED, Given.ANGLE, angle)
    build = Build(form, (EdgeProfile("C", Profile(kind, abs(bevel))),))
    piece = Piece("p", "p", rectangle(200, 90), build=build)
    one, big = cuts_of(piece)[0], cuts_of(scaled_piece(piece, factor))[0]
    more = math.radians(angle) * 3
    assert one.inner.width == pytest.approx(200 + more)
    assert big.inner.width == pytest.approx(200 * factor + more)
    offset = 6 * math.tan(math.radians(bevel))
    for cut in (one, big):
        assert cut.outer.height - cut.inner.height == pytest.approx(offset, abs=1e-6)


def test_forms_that_cannot_be_say_why():
    with pytest.raises(InputError, match="around"):
        shaping_of(made(Form(FormKind.ROLLED, Given.RADIUS, 20)))
    with pytest.raises(InputError, match="slant"):
        shaping_of(made(Form(FormKind.CONE, Given.RADIUS, 20, 200), rectangle(100, 90)))
    with pytest.raises(InputError, match="sphere"):
        shaping_of(made(Form(FormKind.DISHED, Given.RADIUS, 20), rectangle(200, 200)))
    with pytest.raises(InputError, match="no room"):
        form = Form(FormKind.ROLLED, Given.ANGLE, 350, face=Face.OUTER)
        shaping_of(made(form, rectangle(30, 30), thickness=10))


@pytest.mark.parametrize(
    "form",
    [
        Form(),
        girth(310),
        Form(FormKind.DISHED, Given.HEIGHT, 20),
        Form(FormKind.BENT),
        Form(FormKind.CONE, Given.RADIUS, 40, 48),
    ],
)
def test_solids_are_closed_and_as_heavy_as_their_foam(form):
    """Volume by the divergence theorem; a bend squeezes as much foam as it stretches (k = 0.5)."""
    lines = (PieceLine(LineKind.FOLD, np.array([[150.0, 0.0], [150.0, 80.0]]), Crease(60, 15)),)
    piece = replace(made(form, rectangle(240, 80)), lines=lines)
    piece = replace(piece, build=replace(piece.build, layers=(Layer(4.0),)))
    solid = solid_of(piece, CutContext())
    first = solid.corners[solid.layer == 0]
    a, b, c = first[:, 0], first[:, 1], first[:, 2]
    volume = float((np.cross(a, b) * c).sum() / 6)
    flat = cuts_of(piece, CutContext())[0]
    assert volume == pytest.approx(flat.volume, rel=0.02)
    assert solid.thickness == (6.0, 4.0)
    lengths = np.linalg.norm(solid.normals, axis=2)
    assert lengths == pytest.approx(np.ones_like(lengths), abs=1e-6)
