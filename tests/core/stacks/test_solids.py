"""Formed pieces in space: closed, turned outwards, as heavy as their foam, where they belong."""

import math

import numpy as np
import pytest

from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    Form,
    FormKind,
    Given,
    Layer,
    LayerSide,
    LayerSize,
    Placing,
    Profile,
    ProfileKind,
)
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.layering import cuts_of
from ivory_quilt.core.stacks.solid import Solid, solid_of
from ivory_quilt.demo.project import demo_project

ALONE = CutContext()
RING = Form(FormKind.ROLLED, Given.GIRTH, 300)


def plate(build=None, shape=None, thickness=6.0, ident="p", **rest):
    return Piece(
        ident,
        ident,
        shape or rectangle(200, 80),
        thickness=thickness,
        build=build or Build(),
        **rest,
    )


def volume(corners):
    """Return the volume within triangles (divergence theorem), below 0 when turned inside out."""
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    return float((np.cross(a, b) * c).sum() / 6)


def gap(corners):
    """Return how far the triangles are from closed: the sum of their area vectors, mm²."""
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    return float(np.linalg.norm(np.cross(b - a, c - a).sum(axis=0)) / 2)


HOLED = Shape.make([(0, 0), (120, 0), (100, 90), (20, 90)], [circle((60, 40), 15)])


@pytest.mark.parametrize("shape", [rectangle(200, 80), HOLED])
@pytest.mark.parametrize(
    "profile",
    [
        Profile(),
        Profile(ProfileKind.IN, 30),
        Profile(ProfileKind.OUT, 40),
        Profile(ProfileKind.BLADE, width=9),
    ],
)
def test_a_flat_solid_is_closed_and_has_its_prismatoids_volume(shape, profile):
    """Volume by the prismoidal formula (Simpson): h ÷ 6 × (foot + 4 × middle + top)."""
    piece = plate(Build().with_profile("A", profile), shape)
    solid = solid_of(piece, ALONE)
    (cut,) = cuts_of(piece)
    foot, top = cut.inner.area, cut.outer.area
    middle = cut.waist[0].area if cut.waist else None
    expected = (
        6 * (foot + top) / 2 if middle is None else 3 * (foot + middle) / 2 + 3 * (middle + top) / 2
    )
    assert volume(solid.corners) == pytest.approx(expected, rel=0.004)
    assert gap(solid.corners) < 0.02 * foot
    assert len(solid.outlines) == (3 if cut.waist else 2) * len(shape.rings)


@pytest.mark.parametrize(
    "form",
    [
        RING,
        Form(FormKind.CONE, Given.RADIUS, 40, 55),
        Form(FormKind.DISHED, Given.HEIGHT, 20),
    ],
)
def test_a_formed_solid_is_turned_outwards_and_nearly_closed(form):
    solid = solid_of(plate(Build(form=form)), ALONE)
    assert volume(solid.corners) > 0
    assert gap(solid.corners) < 0.01 * 200 * 80
    # Normals point away from the foam: along the triangles' own.
    own = np.cross(
        solid.corners[:, 1] - solid.corners[:, 0], solid.corners[:, 2] - solid.corners[:, 0]
    )
    own = own / np.linalg.norm(own, axis=1)[:, None]
    assert ((solid.normals * own[:, None]).sum(axis=2) > 0.7).all()


def test_a_closed_ring_has_the_radii_of_its_body():
    piece = plate(Build(form=replace(RING, beneath=2.0)))
    solid = solid_of(piece, ALONE)
    radius = 300 / (2 * math.pi) + 2
    away = np.hypot(solid.corners[..., 0] - 100, solid.corners[..., 2] + radius)
    assert away.min() == pytest.approx(radius, abs=0.01)
    assert away.max() == pytest.approx(radius + 6, abs=0.01)


def test_heat_that_is_yet_to_come_is_not_shown():
    piece = plate(Build(form=RING))
    shrinking = CutContext((("eva", FoamBook(shrink_along=10, shrink_across=10)),))
    assert cuts_of(piece, shrinking)[0].outer.height > 85
    solid = solid_of(piece, shrinking)
    assert np.ptp(solid.corners[..., 1]) == pytest.approx(80)


def test_layers_lie_on_each_other_on_both_sides():
    layers = (Layer(4.0, side=LayerSide.BOTH), Layer(2.0, size=LayerSize.INSET, by=9))
    solid = solid_of(plate(Build(layers=layers)), ALONE)
    spans = []
    for k in range(len(solid.thickness)):
        heights = solid.corners[solid.layer == k][..., 2]
        spans.append((round(heights.min(), 6), round(heights.max(), 6)))
    assert spans == [(0, 6), (6, 10), (10, 12), (-4, 0)]
    assert solid.thickness == (6.0, 4.0, 2.0, 4.0)


def test_what_is_glued_on_is_shown_on_its_base_and_alone_in_its_form():
    base = plate(Build(form=Form(FormKind.ROLLED, Given.RADIUS, 60)), ident="base")
    panel = plate(Build(placing=Placing("base")), rectangle(60, 30), 4.0, "panel")
    both = solid_of(base, CutContext(placed=(panel,)))
    assert both.thickness == (6.0, 4.0)
    on_it = both.corners[both.layer == 1]
    away = np.hypot(on_it[..., 0] - 100, on_it[..., 2] + 60)
    assert away.min() == pytest.approx(66, abs=0.02)
    assert away.max() == pytest.approx(70, abs=0.02)
    alone = solid_of(panel, CutContext(base=base))
    assert volume(alone.corners) == pytest.approx(volume(on_it), rel=1e-6)


def test_an_open_groove_is_cut_out_and_a_closed_one_folds():
    line = np.array([[100.0, 0.0], [100.0, 80.0]])
    opened = PieceLine(LineKind.UNDERCUT, line, Crease(90, skin=1.0, folds=False))
    closed = PieceLine(LineKind.UNDERCUT, line, Crease(90, skin=1.0))
    flat = solid_of(replace(plate(), lines=(opened,)), ALONE)
    assert np.ptp(flat.corners[..., 2]) == pytest.approx(6)
    folded = solid_of(replace(plate(), lines=(closed,)), ALONE)
    assert np.ptp(folded.corners[..., 2]) > 90
    # The wedge that was taken out is no longer there.
    wedge = 5 * 5 * 80
    assert volume(folded.corners) == pytest.approx(200 * 80 * 6 - wedge, rel=0.01)


@pytest.mark.parametrize("piece", demo_project().pieces, ids=lambda p: p.id)
def test_every_piece_of_the_demo_has_a_solid(piece):
    known = {p.id: p for p in demo_project().pieces}
    base = known.get(piece.build.placing.base) if piece.build.placing else None
    solid = solid_of(piece, CutContext(base=base))
    assert len(solid.corners) >= 12
    assert np.isfinite(solid.corners).all()
    assert np.isfinite(solid.normals).all()
    assert volume(solid.corners) > 0
    assert solid.reach > 5


def test_a_solids_middle_and_reach_are_those_of_its_box():
    flat = Piece("p", "plate", rectangle(300, 80), thickness=40.0)
    solid = solid_of(flat, CutContext())
    assert solid.middle == pytest.approx([150.0, 40.0, 20.0])
    assert solid.reach == pytest.approx(math.sqrt(300**2 + 80**2 + 40**2) / 2)
    assert solid.thickness == (40.0,)
    nothing = Solid(np.zeros((0, 3, 3)), np.zeros((0, 3, 3)), np.zeros(0, dtype=np.int32), (), ())
    assert nothing.middle.tolist() == [0.0, 0.0, 0.0]
    assert nothing.reach == 1.0


def test_a_hole_goes_through_a_bowl():
    """So shallow a bowl has nearly the prism's volume, and nothing of it stands in the hole."""
    shallow = Form(FormKind.DISHED, Given.HEIGHT, 3)
    solid = solid_of(plate(Build(form=shallow), HOLED), ALONE)
    away = np.hypot(solid.corners[..., 0] - 60, solid.corners[..., 1] - 40)
    assert away.min() == pytest.approx(15, abs=0.6)
    assert volume(solid.corners) == pytest.approx(6 * HOLED.area, rel=0.03)
    assert gap(solid.corners) < 0.01 * HOLED.area


def test_a_curved_face_is_shaded_as_one():
    solid = solid_of(plate(Build(form=RING)), ALONE)
    radius = 300 / (2 * math.pi)
    outwards = solid.corners - np.array([100.0, 0.0, -radius])
    outwards[..., 1] = 0.0
    away = np.linalg.norm(outwards, axis=2)
    faces = np.ptp(away, axis=1) < 1e-6
    outer = faces & (away[:, 0] > radius + 5.9)
    inside = outer & (np.ptp(solid.corners[..., 0], axis=1) < 50)
    along = (solid.normals * outwards).sum(axis=2) / away
    # Rims are seen from one side only; the middle of the sheet is as round as its body.
    assert np.median(along[inside]) == pytest.approx(1.0, abs=2e-4)


def test_a_fold_is_not_shaded_as_one():
    """Both flanks of the outer face turn by 45° from the skin between them, inside by 90°."""
    line = PieceLine(LineKind.UNDERCUT, np.array([[100.0, 0.0], [100.0, 80.0]]), Crease(90, skin=1))
    folded = solid_of(replace(plate(thickness=8.0), lines=(line,)), ALONE)
    assert np.ptp(folded.normals, axis=1).max() < 0.02
