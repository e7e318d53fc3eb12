"""Cross-sections: what is drawn is what is cut, and pulling an end puts it where the hand is."""

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely import Polygon

from ivory_quilt.core.edges.profiles import Knife, knives_of
from ivory_quilt.core.errors import InputError
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
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.edge_section import (
    edge_profile,
    edge_section,
    groove_section,
    pulled_edge,
    pulled_groove,
)
from ivory_quilt.core.stacks.form_section import SAMPLES, form_section, pullable, pulled_form
from ivory_quilt.core.stacks.layering import cuts_of
from ivory_quilt.core.stacks.section import HandleKind
from ivory_quilt.core.stacks.stack_section import pulled_layer, stack_section

ALONE = CutContext()


def plate(form=None, thickness=6.0, shape=None, **rest):
    build = Build(form=form or Form(), **rest)
    return Piece("p", "plate", shape or rectangle(300, 80), thickness=thickness, build=build)


def length(line):
    return float(np.hypot(*np.diff(line, axis=0).T).sum())


# Forms


def test_a_rolls_section_is_a_ring_of_the_right_radii():
    piece = plate(Form(FormKind.ROLLED, Given.RADIUS, 60, beneath=3), layers=(Layer(4.0),))
    own, outer = form_section(piece, ALONE).bands
    inner = own.outline[:SAMPLES]
    middle = np.array([0.0, -63.0])  # the axis, below the foam's inner face
    assert np.hypot(*(inner - middle).T) == pytest.approx(np.full(SAMPLES, 63.0))
    rim = own.outline[SAMPLES:]
    assert np.hypot(*(rim - middle).T) == pytest.approx(np.full(SAMPLES, 69.0))
    # The neutral line of each layer is as long as that layer is cut.
    widths = [c.outer.width for c in cuts_of(piece)]
    for band, width in zip((own, outer), widths, strict=True):
        assert length(band.neutral) == pytest.approx(width, abs=0.02)
    body = form_section(piece, ALONE).body
    assert np.hypot(*(body - middle).T) == pytest.approx(np.full(SAMPLES, 60.0), abs=0.05)


def test_a_flat_section_lies_flat_along_the_longer_side():
    (band,) = form_section(plate(), ALONE).bands
    low, high = band.outline.min(axis=0), band.outline.max(axis=0)
    assert (high - low).tolist() == pytest.approx([300, 6])
    assert band.neutral is None
    assert not pullable(plate())


def test_a_domes_section_is_as_high_as_it_was_told():
    disc = Shape.make(circle((0, 0), 70.0))
    piece = plate(Form(FormKind.DISHED, Given.HEIGHT, 30), 4.0, disc)
    (band,) = form_section(piece, ALONE).bands
    inner = band.outline[:SAMPLES]
    assert np.ptp(inner[:, 1]) == pytest.approx(30, abs=0.2)
    assert np.ptp(inner[:, 0]) == pytest.approx(140, abs=0.5)


def folded(angle=60.0, radius=12.0):
    line = PieceLine(LineKind.FOLD, np.array([[150.0, 0.0], [150.0, 80.0]]), Crease(angle, radius))
    return replace(plate(Form(FormKind.BENT)), lines=(line,))


def test_a_bends_section_turns_by_its_angle():
    (band,) = form_section(folded(), ALONE).bands
    half = len(band.outline) // 2
    inner = band.outline[:half]
    first, last = inner[1] - inner[0], inner[-1] - inner[-2]
    turned = math.degrees(math.atan2(*last[::-1]) - math.atan2(*first[::-1]))
    assert abs(turned) == pytest.approx(60, abs=0.1)
    assert length(band.neutral) == pytest.approx(300 + math.radians(60) * 3, abs=0.02)


@pytest.mark.parametrize(
    ("form", "shape"),
    [
        (Form(FormKind.ROLLED, Given.RADIUS, 90), None),
        (Form(FormKind.ROLLED, Given.RADIUS, 700), None),
        (Form(FormKind.ROLLED, Given.ANGLE, 120), None),
        (Form(FormKind.CONE, Given.RADIUS, 70, 80), None),
        (Form(FormKind.DISHED, Given.HEIGHT, 25), rectangle(140, 140)),
        (Form(FormKind.DISHED, Given.RADIUS, 110), rectangle(140, 140)),
    ],
)
@pytest.mark.parametrize("more", [0.8, 1.15])
def test_an_end_that_is_pulled_comes_where_the_hand_is(form, shape, more):
    piece = plate(form, shape=shape)
    wanted = replace(form, value=form.value * more, second=form.second * more)
    goal = form_section(replace(piece, build=Build(form=wanted)), ALONE).handles[0].at
    found = pulled_form(piece, ALONE, goal)
    at = form_section(found, ALONE).handles[0].at
    assert math.dist(at, goal) < 2.0
    assert found.build.form.value == pytest.approx(wanted.value, rel=0.06)


def test_a_folds_section_has_its_corner():
    """The skin of 2 mm folds under the line; the outer face turns there and nowhere beside it."""
    (band,) = form_section(grooved(Crease(90, skin=2.0)), ALONE).bands
    corner = np.hypot(band.outline[:, 0], band.outline[:, 1] - 10.0)
    assert corner.min() < 0.01


@pytest.mark.parametrize(
    ("form", "to", "value"),
    [
        (Form(FormKind.ROLLED, Given.ANGLE, 120), (200.0, 0.0), 5.0),
        (Form(FormKind.ROLLED, Given.ANGLE, 300), (-30.0, 0.0), 355.0),
        (Form(FormKind.ROLLED, Given.RADIUS, 200), (190.0, 0.0), 500.0),
        (Form(FormKind.ROLLED, Given.RADIUS, 200), (0.0, -130.0), 80.0),
        (Form(FormKind.DISHED, Given.HEIGHT, 20), (200.0, 0.0), 1.6),  # 0.02 of 79 mm
        (Form(FormKind.DISHED, Given.HEIGHT, 60), (0.0, -400.0), 111.0),
    ],
)
def test_a_pull_has_its_limits(form, to, value):
    """Our choice: 5 to 355° around, a bowl to 1.4 times its radius, 0.4 to 2.5 times as it was."""
    shape = rectangle(140, 140) if form.kind is FormKind.DISHED else None
    found = pulled_form(plate(form, shape=shape), ALONE, to).build.form
    assert (found.kind, found.given) == (form.kind, form.given)
    assert found.value == pytest.approx(value, abs=0.15 if value < 12 else 0.6)


@pytest.mark.parametrize(("to", "angle"), [((-150.0, -60.0), 150), ((-150.0, 60.0), -150)])
def test_a_fold_closes_no_further_than_150_degrees(to, angle):
    found = pulled_form(folded(20.0), ALONE, to).lines[0].crease.angle
    assert found == pytest.approx(angle, abs=0.6)


@pytest.mark.parametrize(("pulled", "value"), [(9.3, 9.3), (13.4, 13.0)])
def test_small_numbers_are_pulled_by_tenths(pulled, value):
    """From 12 on by whole millimetres (our choice)."""
    form = Form(FormKind.DISHED, Given.HEIGHT, 8)
    piece = plate(form, shape=rectangle(140, 140))
    wanted = replace(piece, build=Build(form=replace(form, value=pulled)))
    goal = form_section(wanted, ALONE).handles[0].at
    assert pulled_form(piece, ALONE, goal).build.form.value == pytest.approx(value, abs=0.11)


def test_what_has_nothing_to_bend_is_not_pullable():
    crease = Crease(60.0)
    scored = PieceLine(LineKind.SCORE, np.array([[150.0, 0.0], [150.0, 80.0]]), crease)
    bent = plate(Form(FormKind.BENT))
    assert not pullable(replace(bent, lines=(scored,)))
    assert pullable(replace(bent, lines=(replace(scored, kind=LineKind.FOLD),)))
    still = replace(scored, kind=LineKind.FOLD, crease=replace(crease, folds=False))
    assert not pullable(replace(bent, lines=(still,)))
    assert not pullable(replace(bent, lines=(replace(scored, kind=LineKind.FOLD, crease=None),)))
    assert not pullable(plate())


def test_a_sections_bands_are_named():
    piece = plate(Form(FormKind.ROLLED, Given.RADIUS, 90), layers=(Layer(4.0), Layer(2.0)))
    bands = form_section(piece, ALONE).bands
    assert [(b.name, b.thickness) for b in bands] == [
        ("the piece", 6.0),
        ("layer 1", 4.0),
        ("layer 2", 2.0),
    ]


def test_a_fold_is_pulled_to_its_angle():
    goal = form_section(folded(100.0), ALONE).handles[0].at
    found = pulled_form(folded(20.0), ALONE, goal)
    assert found.lines[0].crease.angle == pytest.approx(100, abs=1.5)
    assert pullable(folded())


def test_a_form_that_cannot_be_has_no_section():
    with pytest.raises(InputError, match="around"):
        form_section(plate(Form(FormKind.ROLLED, Given.RADIUS, 10)), ALONE)


# Edges

THICK = st.sampled_from([2.0, 4.0, 6.0, 10.0])


@settings(deadline=None)
@given(st.floats(40, 320), THICK, THICK, st.sampled_from(list(Face)))
def test_bevels_that_meet_touch_all_over_and_never_overlap(dihedral, one, other, face):
    """The two polygons of the section: nothing in common, and one joint as long as a cut face."""
    meet = Profile(ProfileKind.MEET)
    form = Form(face=face)
    first = Piece(
        "a", "a", rectangle(100, 60), thickness=one, build=Build(form, (EdgeProfile("B", meet),))
    )
    second = Piece(
        "b", "b", rectangle(100, 60), thickness=other, build=Build(form, (EdgeProfile("D", meet),))
    )
    # Faces of two thicknesses meet on the face that both patterns lie on: the middle has none.
    assume(one == other or face is not Face.MIDDLE)
    assume(one == other or abs(dihedral - 180) > 12)
    seam = Seam(EdgeRef("a", "B"), EdgeRef("b", "D"), False, dihedral)
    pieces = {"a": first, "b": second}
    try:
        mine = knives_of(first, [seam], pieces)
        theirs = knives_of(second, [seam], pieces)
    except InputError:
        assume(False)
    knife = mine[0] if mine else Knife("B")
    mate = theirs[0] if theirs else Knife("D")
    section = edge_section(first, knife, (second, mate, dihedral))
    a, b = (Polygon(k.outline) for k in section.bands)
    assume(max(abs(knife.angle), abs(mate.angle)) < 70)  # beyond, foam ends before the picture
    # A hair off each: edges that all but coincide have been seen to give a false intersection.
    assert a.buffer(-1e-4).intersection(b.buffer(-1e-4)).area < 1e-6
    face_length = one / math.cos(math.radians(knife.angle))
    joint = a.buffer(1e-4).boundary.intersection(b.buffer(1e-4)).length
    assert joint == pytest.approx(face_length, abs=0.02)


def test_profiles_are_drawn_as_they_are_cut():
    square = edge_profile(Knife("A"), 0, 6, 0, 30)
    assert Polygon(square).area == pytest.approx(180)
    leaning = edge_profile(Knife("A", 45.0), 0, 6, 0, 30)
    assert Polygon(leaning).area == pytest.approx(180 + 18)
    blade = edge_profile(Knife("A", blade=12.0), 0, 6, 0, 30)
    assert Polygon(blade).area == pytest.approx(180 - 12 * 6 / 2)
    rounded = edge_profile(Knife("A", round=6.0), 0, 6, 0, 30)
    quarter = 36 - math.pi * 36 / 4
    assert Polygon(rounded).area == pytest.approx(180 - quarter, abs=0.2)


@pytest.mark.parametrize(
    ("to", "kind", "angle"),
    [
        ((6.0, 6.0), ProfileKind.OUT, 45),
        ((-6.0, 6.0), ProfileKind.IN, 45),
        ((0.02, 6.0), ProfileKind.SQUARE, 45),
        ((90.0, 6.0), ProfileKind.OUT, 75),
    ],
)
def test_an_edges_corner_is_pulled(to, kind, angle):
    found = pulled_edge(plate(), Profile(), to)
    assert (found.kind, found.angle) == (kind, angle)


def test_blades_and_rounds_are_pulled_by_their_width():
    blade = pulled_edge(plate(), Profile(ProfileKind.BLADE, width=10), (-14.2, 6))
    assert blade.width == 14
    rounded = pulled_edge(plate(), Profile(ProfileKind.ROUND, width=2), (-40, 6))
    assert rounded.width == 6  # no rounder than the foam is thick
    for kind in (ProfileKind.BLADE, ProfileKind.ROUND):
        assert pulled_edge(plate(), Profile(kind, width=2), (-2.3, 6)).width == 2.5
        assert pulled_edge(plate(), Profile(kind, width=2), (3.0, 6)).width == 0.5


def grooved(crease, kind=LineKind.UNDERCUT):
    line = PieceLine(kind, np.array([[150.0, 0.0], [150.0, 80.0]]), crease)
    return replace(plate(thickness=10.0), lines=(line,))


def test_grooves_take_out_what_they_say():
    whole = 68 * 10
    back = groove_section(grooved(Crease(90, skin=2.0)), 0)
    assert Polygon(back.bands[0].outline).area == pytest.approx(whole - 8 * 8)
    assert "16.0 mm wide" in back.measures[0][1]
    front = groove_section(grooved(Crease(60, skin=4.0, front=True)), 0)
    taken = 6 * 6 * math.tan(math.radians(30))
    assert Polygon(front.bands[0].outline).area == pytest.approx(whole - taken)
    score = groove_section(grooved(Crease(0), LineKind.SCORE), 0)
    assert score.handles == ()
    assert "5 mm deep" in score.measures[0][1]
    with pytest.raises(InputError, match="nothing of how"):
        groove_section(grooved(None), 0)


def test_a_groove_is_pulled_by_its_wall_and_its_foot():
    piece = grooved(Crease(-90, skin=2.0))
    wider = pulled_groove(piece, 0, HandleKind.GROOVE_WALL, (12.0, 0.0)).lines[0].crease
    assert wider.angle == -round(2 * math.degrees(math.atan(12 / 8)))
    deeper = pulled_groove(piece, 0, HandleKind.GROOVE_FOOT, (0.0, 9.1)).lines[0].crease
    assert deeper.skin == 1.0
    front = grooved(Crease(90, skin=2.0, front=True))
    assert pulled_groove(front, 0, HandleKind.GROOVE_FOOT, (0.0, 4.0)).lines[0].crease.skin == 4.0
    assert pulled_groove(front, 0, HandleKind.GROOVE_FOOT, (0.0, -3.0)).lines[0].crease.skin == 0.0
    assert pulled_groove(front, 0, HandleKind.GROOVE_FOOT, (0.0, 12.0)).lines[0].crease.skin == 9.5
    assert pulled_groove(front, 0, HandleKind.GROOVE_WALL, (0.1, 10)).lines[0].crease.angle == 5.0
    assert pulled_groove(front, 0, HandleKind.GROOVE_WALL, (90, 10)).lines[0].crease.angle == 160.0
    assert pulled_groove(grooved(None), 0, HandleKind.GROOVE_WALL, (1, 1)).lines[0].crease is None


# Stacks


def test_a_stacks_section_is_as_thick_as_its_layers():
    layers = (
        Layer(4.0, size=LayerSize.STEPPED, by=10, side=LayerSide.BOTH),
        Layer(2.0, size=LayerSize.STEPPED, by=5, side=LayerSide.BOTH),
    )
    piece = plate(layers=layers)
    section = stack_section(piece, cuts_of(piece))
    every = np.vstack([b.outline for b in section.bands])
    assert np.ptp(every[:, 1]) == pytest.approx(6 + 2 * 6)
    widths = [float(np.ptp(b.outline[:, 0])) for b in section.bands]
    assert widths == pytest.approx([300, 280, 270, 280, 270])
    assert section.measures == (((154.0, 3.0), "18 mm in all"),)
    assert len(section.handles) == 4


def test_a_layers_end_is_pulled_in_out_and_by_steps():
    piece = plate(layers=(Layer(4.0, size=LayerSize.INSET, by=10),))
    cuts = cuts_of(piece)
    inward = pulled_layer(piece, 1, cuts, (130.0, 8.0)).build.layers[0]
    assert (inward.size, inward.by) == (LayerSize.INSET, 20)
    outward = pulled_layer(piece, 1, cuts, (158.0, 8.0)).build.layers[0]
    assert (outward.size, outward.by) == (LayerSize.OVERSIZE, 8)
    even = pulled_layer(piece, 1, cuts, (150.2, 8.0)).build.layers[0]
    assert even.size is LayerSize.SAME
    steps = plate(
        layers=(Layer(4.0, size=LayerSize.STEPPED, by=10), Layer(2.0, size=LayerSize.STEPPED, by=5))
    )
    second = pulled_layer(steps, 2, cuts_of(steps), (120.0, 11.0)).build.layers[1]
    assert (second.size, second.by) == (LayerSize.STEPPED, 20)
    level = pulled_layer(steps, 2, cuts_of(steps), (140.0, 11.0)).build.layers[1]
    assert (level.size, level.by) == (LayerSize.SAME, 0)
    small = pulled_layer(steps, 2, cuts_of(steps), (139.0, 11.0)).build.layers[1]
    assert (small.size, small.by) == (LayerSize.STEPPED, 1)
    handles = stack_section(piece, cuts).handles
    assert [(h.at, h.kind) for h in handles] == [((140.0, 8.0), HandleKind.INSET)]
