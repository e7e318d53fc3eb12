"""Shaped lengths on rolls, cones and dishes against closed forms (any handbook of solids)."""

import math

import numpy as np
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    Face,
    Form,
    FormKind,
    Given,
    Layer,
    LayerSide,
    LayerSize,
    Placing,
    Trim,
    TrimKind,
)
from ivory_quilt.core.pattern.edges import edge_line, edges_of
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.stacks.lengths import cut_lengths, dowel

ROUND = TrimKind.ROUND
TWO_PI = 2 * math.pi


def made(shape, form, *trims, thickness=6.0, **build):
    return Piece("p", "p", shape, thickness=thickness, build=Build(form=form, trims=trims, **build))


def lengths(piece, base=None):
    return [c.length for c in cut_lengths(piece, base)]


def cuff(girth, height=90.0):
    """A cuff whose pattern was taken on the body: edge A lies along its girth."""
    return rectangle(girth, height), Form(FormKind.ROLLED, Given.GIRTH, girth, face=Face.INNER)


@pytest.mark.parametrize(
    ("kind", "more", "middle"),
    [
        # Height of the centroid of each section above the face that it lies on: circle d/2,
        # square a/2, half circle 4r/3π, triangle a/3 (handbook tables of plane sections).
        (ROUND, {}, 6.0),
        (TrimKind.SQUARE, {}, 6.0),
        (TrimKind.HALF, {}, 4 * 6 / (3 * math.pi)),
        (TrimKind.BEVEL, {}, 4.0),
        (ROUND, {"halved": True}, 4 * 6 / (3 * math.pi)),
        (ROUND, {"trenched": True}, -3.0),  # over the edge: the foam's own middle
    ],
)
def test_a_dowel_around_a_cuff_is_as_long_as_the_circle_through_its_middle(kind, more, middle):
    piece = made(*cuff(400.0), Trim("A", kind, 12.0, **more))
    (found,) = lengths(piece)
    assert found == pytest.approx(TWO_PI * (400 / TWO_PI + 6.0 + middle), abs=0.01)


def test_the_cuff_that_was_cut_too_short():
    """12 mm dowel outside a 6 mm cuff for 400 mm: 475 mm, not the pattern's 400."""
    (found,) = lengths(made(*cuff(400.0), Trim("A", ROUND, 12.0)))
    assert found == pytest.approx(475.4, abs=0.1)


def test_what_is_worn_beneath_and_layers_lengthen_it():
    shape, form = cuff(400.0)
    thick = made(
        shape,
        Form(FormKind.ROLLED, Given.GIRTH, 400.0, face=Face.INNER, beneath=4.0),
        Trim("A", ROUND, 12.0),
        layers=(Layer(4.0, side=LayerSide.OUTER), Layer(3.0, side=LayerSide.INNER)),
    )
    assert lengths(thick)[0] == pytest.approx(400 + TWO_PI * (4 + 6 + 4 + 6), abs=0.01)
    # A smaller layer leaves the rim to the piece itself.
    small = made(
        shape, form, Trim("A", ROUND, 12.0), layers=(Layer(4.0, size=LayerSize.INSET, by=9),)
    )
    assert lengths(small)[0] == pytest.approx(400 + TWO_PI * 12, abs=0.01)


def test_an_edge_along_the_axis_and_a_flat_piece_keep_their_length():
    shape, form = cuff(400.0)
    assert lengths(made(shape, form, Trim("B", ROUND, 12.0)))[0] == pytest.approx(90.0, abs=1e-6)
    assert lengths(made(shape, Form(), Trim("A", ROUND, 12.0)))[0] == pytest.approx(400.0)


@pytest.mark.parametrize(("first", "second"), [(90.0, 50.0), (50.0, 90.0)])
def test_a_dowel_around_a_cone(first, second):
    """The flat sector of a frustum (development of a cone); radii are on the body."""
    slant, around = 120.0, math.radians(300)
    half = math.asin((second - first) / slant)
    sin = abs(math.sin(half))
    sweep, inner, outer = around * sin, min(first, second) / sin, max(first, second) / sin
    turn = np.linspace(-sweep / 2, sweep / 2, 400) + (
        math.pi / 2 if second > first else -math.pi / 2
    )
    arc = np.column_stack((np.cos(turn), np.sin(turn)))
    shape = Shape.make(np.vstack((inner * arc, outer * arc[::-1])))
    form = Form(FormKind.CONE, Given.RADIUS, first, second=second, face=Face.INNER)
    piece = Piece("p", "p", shape, thickness=6.0)
    trims = [Trim(e.name, ROUND, 12.0) for e in edges_of(piece)]
    found = sorted(lengths(made(shape, form, *trims)))
    # Two straight sides lie on generators; both rims on circles, 12 mm out along the normal.
    expected = sorted(
        [slant, slant, *(around * (r + 12.0 * math.cos(half)) for r in (first, second))]
    )
    assert found == pytest.approx(expected, abs=0.05)


def test_a_dowel_around_the_rim_of_a_dish():
    """A cap of a sphere: its rim's circle has the radius R sin φ."""
    blank, radius = 80.0, 140.0
    shape = Shape.make(circle((0, 0), blank, 0.002))
    form = Form(FormKind.DISHED, Given.RADIUS, radius, face=Face.INNER)
    piece = made(shape, form, Trim("A", ROUND, 12.0))
    angle = 2 * math.asin(blank / (2 * radius))  # equal area: blank = 2 R sin(φ/2)
    assert lengths(piece)[0] == pytest.approx(TWO_PI * (radius + 12) * math.sin(angle), rel=2e-4)


def test_on_a_base_it_takes_the_bases_form():
    shape, form = cuff(400.0)
    base = Piece("b", "b", shape, thickness=5.0, build=Build(form=form))
    strip = rectangle(100, 20)
    piece = made(strip, Form(), Trim("A", ROUND, 12.0), placing=Placing("b", 0.5, 0.5))
    # Over a quarter of the girth, its middle above both: 5 + 6 + 6 mm.
    assert lengths(piece, base)[0] == pytest.approx(100 + TWO_PI / 4 * 17, abs=0.01)


def test_a_rod_is_on_the_list_and_lies_in_the_middle_of_its_stack():
    shape, form = cuff(400.0)
    line = np.array([[0.0, 45.0], [400.0, 45.0]])
    flat = Piece(
        "p",
        "p",
        shape,
        thickness=6.0,
        hand=Hand.PAIR,
        lines=(PieceLine(LineKind.CENTRE, line),),
        build=Build(form=form, rod=4.0, layers=(Layer(6.0, side=LayerSide.OUTER),)),
    )
    (rod,) = cut_lengths(flat)
    assert (rod.words, rod.where, rod.count) == ("4 mm rod", "the middle", 2)
    assert rod.length == pytest.approx(400 + TWO_PI * 6, abs=0.01)
    assert rod.reckoning.figure("length") == rod.length


def test_the_edge_that_is_rolled_out_is_the_first_step():
    piece = made(*cuff(400.0), Trim("A", ROUND, 12.0))
    (found,) = cut_lengths(piece)
    assert found.reckoning.steps[0].value == pytest.approx(400.0)
    assert len(edge_line(piece, edges_of(piece)[0])) == 2


def test_inside_a_cone_and_a_dish_it_is_shorter_than_the_face():
    """On the inner face of a roll, a frustum and a cap of a sphere; circles, as outside."""
    inner = Trim("A", ROUND, 12.0, inside=True)
    assert lengths(made(*cuff(400.0), inner))[0] == pytest.approx(400 - TWO_PI * 6, abs=0.01)
    radius, blank = 140.0, 80.0
    shape = Shape.make(circle((0, 0), blank, 0.002))
    form = Form(FormKind.DISHED, Given.RADIUS, radius, face=Face.INNER)
    angle = 2 * math.asin(blank / (2 * radius))
    dish = lengths(made(shape, form, inner))[0]
    assert dish == pytest.approx(TWO_PI * (radius - 6) * math.sin(angle), rel=2e-4)
    low, high, slant = 50.0, 90.0, 120.0
    half = math.asin((high - low) / slant)
    sin, around = math.sin(half), math.radians(300)
    turn = np.linspace(-around * sin / 2, around * sin / 2, 400) + math.pi / 2
    arc = np.column_stack((np.cos(turn), np.sin(turn)))
    shape = Shape.make(np.vstack((low / sin * arc, high / sin * arc[::-1])))
    form = Form(FormKind.CONE, Given.RADIUS, low, second=high, face=Face.INNER)
    piece = Piece("p", "p", shape, thickness=6.0)
    trims = [Trim(e.name, ROUND, 12.0, inside=True) for e in edges_of(piece)]
    found = sorted(lengths(made(shape, form, *trims)))
    rims = [around * (r - 6.0 * math.cos(half)) for r in (low, high)]
    assert found == pytest.approx(sorted([slant, slant, *rims]), abs=0.05)


def test_a_length_that_is_sliced_in_part_lies_at_two_heights():
    shape, form = cuff(400.0)
    piece = made(shape, form, Trim("A", ROUND, 12.0, halved=True, sliced=0.25))
    flat, whole = 12.0 * 2 / (3 * math.pi), 6.0
    expected = TWO_PI * (0.25 * flat + 0.75 * whole) + TWO_PI * 6.0 + 400.0
    (found,) = cut_lengths(piece)
    assert found.length == pytest.approx(expected, abs=0.02)
    assert found.words == "12 mm round dowel, halved along 25 %"
    assert found.count == piece.cut_count  # it serves one edge only


@pytest.mark.parametrize("inside", [0.0, 1.0])
def test_the_calculator_says_what_the_piece_does(inside):
    said = dowel(360.0, 400 / TWO_PI, 6.0, 12.0, 0.5, inside).figure("length")
    piece = made(*cuff(400.0), Trim("A", ROUND, 12.0, inside=bool(inside)))
    assert lengths(piece)[0] == pytest.approx(said, abs=0.01)
    with pytest.raises(InputError, match="no room"):
        dowel(90.0, 5.0, 6.0, 12.0, inside=1.0)
