"""A number explains itself: what a step's formula says is what stands as its value."""

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ivory_quilt.core.calculators import CALCULATORS, reckon
from ivory_quilt.core.edges.mating import Mate
from ivory_quilt.core.edges.profiles import Knife
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.dishing import dishing
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    Cover,
    CoverKind,
    EdgeProfile,
    Form,
    FormKind,
    Given,
    Layer,
    LayerSide,
    LayerSize,
    Profile,
    ProfileKind,
    Wrap,
)
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece, PieceLine
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.layering import cuts_of
from tests.arithmetic import agrees, evaluated
from tests.effort import random_cases

SIZE = st.floats(5, 400).map(lambda v: round(v, 1))
FOAM = st.sampled_from([2.0, 4.0, 6.0, 10.0])
TURN = st.floats(20, 160).map(round)
NEUTRAL = st.sampled_from([0.3, 0.4, 0.5])
INPUTS = {
    "proportion": {"real": SIZE, "pictured_reference": SIZE, "pictured_piece": SIZE},
    "print-scale": {"nominal": SIZE, "measured": SIZE},
    "scale-area": {"factor": st.sampled_from([0.9, 1.1, 1.25]), "area": SIZE},
    "wrap": {"girth": SIZE, "ease": FOAM, "thickness": FOAM, "neutral": NEUTRAL, "angle": TURN},
    "bend": {"angle": TURN, "inside_radius": SIZE, "thickness": FOAM, "neutral": NEUTRAL},
    "thickness-change": {
        "angle": TURN,
        "inside_radius": SIZE,
        "old": FOAM,
        "new": FOAM,
        "neutral": NEUTRAL,
    },
    "shrink": {"length": SIZE, "shrink_percent": st.floats(0, 20).map(round)},
    "dish": {"base_radius": st.just(80.0), "height": st.floats(10, 70).map(round)},
    "gores": {"radius": SIZE, "count": st.integers(3, 9)},
    "cone": {
        "diameter_1": st.floats(100, 200).map(round),
        "diameter_2": st.floats(20, 80).map(round),
        "height": SIZE,
        "thickness": FOAM,
        "neutral": NEUTRAL,
    },
    "spike": {"sides": st.integers(3, 8), "base": SIZE, "height": SIZE},
    "mitre": {"dihedral": TURN},
    "mitre-unequal": {
        "dihedral": st.floats(70, 120).map(round),
        "thickness_1": FOAM,
        "thickness_2": FOAM,
    },
    "flare": {"thickness": FOAM, "angle": st.floats(5, 70).map(round)},
    "undercut": {"fold": TURN, "thickness": st.just(8.0), "skin": st.sampled_from([1.0, 2.0])},
    "blade": {"thickness": FOAM, "width": SIZE},
    "trench": {"rod": FOAM, "layers": st.integers(1, 4)},
    "edge-wrap": {"perimeter": st.just(600.0), "stack": FOAM, "stretch": FOAM, "overhang": FOAM},
    "strap": {"finished_width": SIZE, "length": SIZE, "turn_back": SIZE, "tail": SIZE},
    "cover": {"width": SIZE, "height": SIZE, "core": FOAM, "margin": FOAM},
    "drift": {
        "angle": TURN,
        "inside_radius": SIZE,
        "under": FOAM,
        "over": FOAM,
        "neutral": NEUTRAL,
    },
    "curved-layers": {
        "angle": TURN,
        "inside_radius": SIZE,
        "thicknesses": st.just("6,4,2"),
        "neutral": NEUTRAL,
    },
    "horn-layers": {"spine": FOAM, "sides": st.just("8,5,5,3")},
    "dowel": {
        "angle": st.integers(20, 360),
        "inside_radius": st.floats(40, 90).map(round),
        "thickness": FOAM,
        "size": st.integers(4, 20),
        "middle": st.sampled_from([0.5, 0.25]),
        "inside": st.sampled_from([0, 1]),
    },
    "sewn-case": {
        "width": st.integers(40, 300),
        "height": st.integers(40, 300),
        "thickness": st.integers(5, 60),
        "cloth": st.sampled_from([1, 2]),
        "ease": st.integers(0, 3),
        "allowance": st.integers(5, 15),
    },
    "edge-roll": {"lengths": st.just("100,50,25")},
    "neutral-from-coupon": {
        "angle": st.just(90),
        "inside_radius": st.just(20.0),
        "thickness": st.just(6.0),
        "flat_length": st.floats(32, 40).map(round),
    },
    "coupon": {
        "before": st.just("100,100,101"),
        "after": st.sampled_from(["97,98,98", "99,96,97"]),
    },
    "cement": {
        "area": st.floats(0.05, 3).map(lambda a: f"{a:.2f} m2"),
        "faces": st.sampled_from([1, 2]),
        "coats": st.integers(1, 3),
        "coverage": st.floats(2, 9).map(round),
    },
    "coating": {
        "area": st.floats(0.05, 3).map(lambda a: f"{a:.2f} m2"),
        "coats": st.integers(1, 5),
        "coverage": st.floats(2, 9).map(round),
        "loss_percent": st.sampled_from([0, 20, 25, 50]),
    },
    "make-thickness": {"wanted": st.just(10.0), "available": st.just("4,5,6,10")},
}
# Steps in each that stand as arithmetic, not in words.
SPOKEN = {
    "cone": 2,
    "spike": 2,
    "thickness-change": 1,
    "mitre-unequal": 3,
    "coupon": 2,
    "drift": 1,
    "trench": 1,
    "cement": 2,
}


def test_every_calculator_is_looked_at():
    assert set(INPUTS) == set(CALCULATORS)


@pytest.mark.parametrize("name", sorted(INPUTS))
@random_cases(30, 300)
@given(data=st.data())
def test_each_step_of_a_calculator_comes_to_its_value(name, data):
    values = {key: str(data.draw(value)) for key, value in INPUTS[name].items()}
    try:
        found = reckon(name, values)
    except InputError:
        assume(False)
    said = [(s.formula, s.value, agrees(s)) for s in found.steps]
    assert [s for s in said if s[2] is False] == []
    least = SPOKEN.get(name, len(found.steps) if name != "make-thickness" else 0)
    assert sum(s[2] is True for s in said) >= least, said


def test_formulas_are_read_as_a_maker_reads_them():
    assert evaluated("2 × 6 × tan 40°") == pytest.approx(12 * math.tan(math.radians(40)))
    assert evaluated("√(60² + 80²)") == 100
    assert evaluated("(400 + 10) ÷ 2π") == pytest.approx(410 / (2 * math.pi))
    assert evaluated("as wide as the rod") is None
    assert evaluated("5") is None


# What Build reckons


def bent(angle):
    line = PieceLine(LineKind.FOLD, np.array([[100.0, -5.0], [100.0, 95.0]]), Crease(angle, 12.0))
    return Piece(
        "p",
        "flap",
        rectangle(200.0, 90.0),
        lines=(line,),
        thickness=6.0,
        build=Build(form=Form(FormKind.BENT)),
    )


def shaped(kind, given, value, second=0.0, shape=None, **more):
    form = Form(kind, given, value, second)
    return Piece(
        "p", "piece", shape or rectangle(300.0, 90.0), thickness=6.0, build=Build(form=form, **more)
    )


BOWL = Shape.make(circle((0.0, 0.0), 60.0))
LAYERS = (Layer(4.0), Layer(2.0, side=LayerSide.INNER), Layer(4.0, size=LayerSize.OVERSIZE, by=5.0))
PIECES = {
    "rolled": shaped(FormKind.ROLLED, Given.RADIUS, 60.0, layers=LAYERS),
    "around": shaped(FormKind.ROLLED, Given.ANGLE, 140.0),
    "cone": shaped(FormKind.CONE, Given.RADIUS, 80.0, 50.0),
    "dished": shaped(FormKind.DISHED, Given.RADIUS, 120.0, shape=BOWL),
    "high": shaped(FormKind.DISHED, Given.HEIGHT, 15.0, shape=BOWL, layers=(Layer(4.0),)),
    "bent": bent(70.0),
    "bevelled": shaped(
        FormKind.FLAT,
        Given.RADIUS,
        0.0,
        edges=(
            EdgeProfile("A", Profile(ProfileKind.OUT, 35.0)),
            EdgeProfile("B", Profile(ProfileKind.IN, 20.0)),
        ),
    ),
    "wrapped": shaped(FormKind.FLAT, Given.RADIUS, 0.0, wrap=Wrap(), layers=(Layer(4.0),)),
    "sandwich": shaped(FormKind.FLAT, Given.RADIUS, 0.0, cover=Cover()),
    "cloth": shaped(FormKind.FLAT, Given.RADIUS, 0.0, cover=Cover(CoverKind.CLOTH, 1.0, "cloth")),
    "sealed": shaped(FormKind.FLAT, Given.RADIUS, 0.0, sealed=True),
}
BOOKS = (("eva", FoamBook(neutral=0.4, shrink_along=2.0, shrink_across=1.0)),)


@pytest.mark.parametrize("name", sorted(PIECES))
def test_each_change_from_the_pattern_comes_to_its_value(name):
    cuts = cuts_of(PIECES[name], CutContext(BOOKS))
    changes = [c for cut in cuts for c in cut.changes]
    assert changes, name
    steps = [s for c in changes for s in c.reckoning.steps]
    assert [(s.formula, s.value) for s in steps if agrees(s) is False] == []
    assert all(c.reckoning.source for c in changes)


@given(
    st.floats(-60, 60).map(round),
    st.floats(-60, 60).map(round),
    st.floats(60, 300).map(round),
    FOAM,
    FOAM,
)
def test_each_step_of_a_seams_bevels_comes_to_its_value(first, second, dihedral, one, two):
    faces = (one / math.cos(math.radians(first)), two / math.cos(math.radians(second)))
    gap = 180 - dihedral - first - second
    steps = Mate(first, second, faces, gap, False, dihedral).reckon().steps
    assert [s.formula for s in steps if agrees(s) is False] == []
    assert [s.value for s in steps[-2:]] == list(faces)
    assert (steps[1].value, steps[3].value) == (first, second)
    assert (steps[2].value, steps[4].value) == (90 - abs(first), 90 - abs(second))


@given(st.floats(-70, 70).map(round), FOAM)
def test_each_step_of_a_knife_comes_to_its_value(angle, thickness):
    assume(angle != 0)
    found = Knife("A", float(angle)).reckon(thickness)
    assert [(s.formula, s.value) for s in found.steps if agrees(s) is False] == []
    assert found.figure("offset") == pytest.approx(thickness * math.tan(math.radians(angle)))


@given(st.floats(10, 88).map(round), st.sampled_from([0.03, 0.05, 0.12, 0.2]))
def test_each_step_of_a_bowl_comes_to_its_value(degrees, limit):
    verdict = dishing(100.0, math.radians(degrees), limit)
    steps = verdict.reckoning.steps
    wrong = [(s.text, s.formula, s.value) for s in steps if agrees(s) is False]
    # Counts are rounded up from what their formula gives.
    assert [
        w for w in wrong if w[0] not in ("darts", "gores whose edges give no more than that")
    ] == []
    assert verdict.strain == pytest.approx(
        max(1 / math.cos(math.radians(degrees) / 2) - 1, 1 - math.cos(math.radians(degrees) / 2))
    )
