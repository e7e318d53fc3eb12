"""Sewn cases of a cube, a cylinder and a cone, and allowances, against closed forms.

Surfaces of solids: cube 6 a², cylinder 2 π r (r + h), cone's sector of slant s and angle 2 π sin of
the half angle (any handbook of mathematics, e.g. Bronshtein et al., Handbook of Mathematics, 6th
ed., 3.3). Offsets with mitred corners: GEOS through shapely, a library of its own.
"""

import math

import numpy as np
import pytest
from shapely import Polygon

from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    Cover,
    CoverKind,
    Face,
    Form,
    FormKind,
    Given,
    Layer,
)
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.pattern.sewing import Sewing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.case import box_case
from ivory_quilt.core.stacks.layering import cuts_of


def case_of(piece, **cover):
    """Return the stitched outlines of both panels and the strip, and what is cut of them."""
    made = Cover(CoverKind.SEWN, 1.0, "cloth", **cover)
    cuts = {c.suffix: c for c in cuts_of(replace(piece, build=replace(piece.build, cover=made)))}
    found = [cuts[f"+sewn {w}"] for w in ("front", "back", "strip")]
    stitched = [
        next(
            Polygon(k.points)
            for k in c.piece.lines
            if k.kind is LineKind.MARK and len(k.points) > 3
        )
        for c in found
    ]
    return stitched, found


@pytest.mark.parametrize("ease", [0.0, 1.5])
def test_a_cube(ease):
    side, off = 60.0, 0.5 + ease
    cube = Piece("c", "cube", rectangle(side, side), thickness=side)
    (front, back, strip), cuts = case_of(cube, ease=ease, margin=8.0)
    edge = side + 2 * off
    assert front.area == pytest.approx(edge**2)
    assert back.area == pytest.approx(edge**2)
    assert strip.area == pytest.approx(4 * edge**2)
    assert front.area + back.area + strip.area == pytest.approx(6 * edge**2)
    # Cut with eight millimetres all round.
    assert cuts[0].outer.area == pytest.approx((edge + 16) ** 2)
    assert cuts[2].outer.area == pytest.approx((4 * edge + 16) * (edge + 16))


@pytest.mark.parametrize("layers", [(), (Layer(10.0), Layer(10.0))])
def test_a_cylinder(layers):
    radius, high = 80.0, 20.0 + 10.0 * len(layers)
    turn = np.linspace(0, 2 * math.pi, 361)[:-1]
    disc = Shape.make(radius * np.column_stack((np.cos(turn), np.sin(turn))))
    piece = Piece("d", "drum", disc, thickness=20.0, build=Build(layers=layers))
    (front, back, strip), _ = case_of(piece, ease=0.5)
    r, h = radius + 1.0, high + 2.0
    assert front.area == pytest.approx(math.pi * r * r, rel=1e-4)
    assert back.area == pytest.approx(math.pi * r * r, rel=1e-4)
    assert strip.area == pytest.approx(2 * math.pi * r * h, rel=1e-4)


def test_a_cone():
    """A rolled frustum: the front panel lies on the cone outside the foam, and is its sector."""
    low, high, slant, t = 60.0, 40.0, 120.0, 6.0
    # The sector of the cone inside, once around, as the pattern's line.
    half = math.asin((low - high) / slant)
    outer = low / math.sin(half)
    angle = 2 * math.pi * math.sin(half)
    turn = np.linspace(-angle / 2, angle / 2, 400)
    ring = np.vstack(
        (
            np.column_stack((np.sin(turn), np.cos(turn))) * outer,
            np.column_stack((np.sin(turn[::-1]), np.cos(turn[::-1]))) * (outer - slant),
        )
    )
    form = Form(FormKind.CONE, Given.RADIUS, high, low, 90.0, Face.INNER)
    cone = Piece("k", "cone", Shape.make(ring), thickness=t, build=Build(form=form))
    assert shaping_of(cone).turn == pytest.approx(2 * math.pi, rel=2e-3)
    (front, back, _), _ = case_of(cone)
    for panel, away in ((front, t + 0.5), (back, -0.5)):
        # Radii of the cone that lies `away` outside the inner face, and the cloth's own rim of
        # half its thickness around the sector.
        wide, narrow = low + away * math.cos(half), high + away * math.cos(half)
        sector = math.pi * (wide + narrow) * slant
        rim = 2 * slant + 2 * math.pi * (wide + narrow)
        assert panel.area == pytest.approx(sector + 0.5 * rim, rel=3e-3)


def test_a_seam_allowance_is_the_offset_library_s():
    """A plate with a notch and a point, one allowance all round, against GEOS' mitred buffer."""
    outline = [(0, 0), (220, 0), (260, 60), (220, 120), (130, 120), (110, 70), (90, 120), (0, 120)]
    cloth = Piece("v", "apron", Shape.make(outline), thickness=1.0, material="cloth")
    cloth = replace(cloth, build=Build(sewing=Sewing(12.0)))
    cut = cuts_of(cloth)[0].outer.polygon
    known = Polygon(Polygon(outline).buffer(12.0, join_style="mitre", mitre_limit=4.0).exterior)
    assert cut.symmetric_difference(known).area < 0.01
    assert cut.hausdorff_distance(known) < 0.01


def test_the_calculator_says_what_the_box_s_case_does():
    box = Piece("b", "box", rectangle(120, 80), thickness=30.0)
    (front, _, strip), cuts = case_of(box, ease=1.0, margin=12.0)
    said = box_case(120, 80, 30, 1.0, 1.0, 12.0)
    assert cuts[0].outer.width == pytest.approx(said.figure("panel_width"))
    assert cuts[0].outer.height == pytest.approx(said.figure("panel_height"))
    assert cuts[2].outer.width == pytest.approx(said.figure("strip_length"))
    assert cuts[2].outer.height == pytest.approx(said.figure("strip_width"))
    assert front.area == pytest.approx(123 * 83)
    assert strip.area == pytest.approx(2 * (123 + 83) * 33)
