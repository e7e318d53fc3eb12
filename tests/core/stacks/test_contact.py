"""Contact lines of parts that stand on curved ones, against sections of cylinders and spheres.

A plane at an angle to a cylinder's axis cuts it in an ellipse, one through a sphere's middle in a
great circle (Euclid; any textbook of solid geometry).
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given, Layer, LayerSize, Placing
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.plan.gauges import gauge_templates
from ivory_quilt.core.plan.gluing import joints_of
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.stacks.contact import contact_of
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stock.foam_stock import ShopStock
from tests.effort import random_cases

THICK = 6.0


def rolled(radius, axis=90.0, **more):
    form = Form(FormKind.ROLLED, Given.RADIUS, radius, axis=axis)
    shape = rectangle(2.5 * radius, 2.5 * radius)
    return Piece("base", "tube", shape, thickness=THICK, build=Build(form=form, **more))


def fin(length, across=0.5, up=0.5, turn=0.0, stands="A"):
    """A fin whose edge A lies below, as drawn."""
    shape = Shape.make([(0, 0), (length, 0), (0.7 * length, 80), (0.3 * length, 80)])
    placing = Placing("base", across, up, turn, stands)
    return Piece("fin", "fin", shape, thickness=4.0, build=Build(placing=placing))


@random_cases(25, 200)
@given(
    st.floats(40, 200), st.floats(0.3, 1.2), st.floats(0, 360), st.floats(0, 180), st.floats(0, 12)
)
def test_on_a_tube_the_foot_is_an_ellipse(radius, share, turn, axis, layer):
    layers = (Layer(layer, "eva", size=LayerSize.SAME),) if layer > 1 else ()
    base = rolled(radius, axis, layers=layers)
    outer = radius + THICK + sum(k.thickness for k in layers)
    length = share * outer
    contact = contact_of(fin(length, turn=turn), base, CutContext())
    stretch = outer / radius  # bent, the outer face is longer across than the pattern: the inner
    across = stretch * math.sin(math.radians(turn - axis))
    slant = across / math.hypot(across, math.cos(math.radians(turn - axis)))
    along = contact.along
    expected = np.sqrt(outer**2 - (along * slant) ** 2)
    assert contact.height == pytest.approx(expected - expected.min(), abs=0.01)
    assert along[[0, -1]] == pytest.approx([-length / 2, length / 2], abs=1e-3)


@random_cases(15, 120)
@given(
    st.floats(60, 150),
    st.floats(0.2, 0.7),
    st.floats(0.35, 0.65),
    st.floats(0.35, 0.65),
    st.floats(0, 360),
)
def test_anywhere_on_a_bowl_the_foot_is_a_great_circle(rim, rise, across, up, turn):
    around = np.linspace(0, 2 * math.pi, 120, endpoint=False)
    disc = Shape.make(rim * np.c_[np.cos(around), np.sin(around)])
    form = Form(FormKind.DISHED, Given.HEIGHT, rise * rim)
    base = Piece("base", "bowl", disc, thickness=THICK, build=Build(form=form))
    outer = shaping_of(base).inner + THICK
    contact = contact_of(fin(0.5 * rim, across, up, turn), base, CutContext())
    expected = np.sqrt(outer**2 - contact.along**2)
    off = contact.height - (expected - expected.min())
    assert np.ptp(off) < 0.01 * outer


def test_along_a_tube_and_on_a_flat_base_nothing_is_trimmed():
    straight = contact_of(fin(100, turn=90.0), rolled(80), CutContext())
    assert np.ptp(straight.height) < 1e-3
    flat = Piece("base", "plate", rectangle(200, 200))
    assert np.ptp(contact_of(fin(100), flat, CutContext()).height) == 0


def test_a_foot_reaches_no_farther_than_its_base():
    contact = contact_of(fin(400), rolled(60), CutContext())
    assert contact.along[-1] < 66
    near_the_end = contact_of(fin(100, up=0.9, turn=90.0), rolled(60), CutContext())
    assert near_the_end.along[-1] == pytest.approx(15, abs=3)  # a tenth of 150 mm is left


def planned(standing, base):
    project = Project(pieces=(base, standing))
    return derive(project, ShopStock()), project


def test_the_line_stands_on_the_fins_template_its_card_and_the_base():
    base = rolled(80)
    plan, _ = planned(fin(100), base)
    (cut,) = plan.made["fin"].cuts
    (line,) = [k for k in cut.piece.lines if k.kind is LineKind.MARK]
    # The middle is trimmed, the ends of the foot stay: 86 - sqrt(86² - 50²).
    assert line.points[:, 1].max() == pytest.approx(86 - math.sqrt(86**2 - 50**2), abs=0.05)
    assert line.points[[0, -1]] == pytest.approx(np.array([(0.0, 0.0), (100.0, 0.0)]), abs=0.05)
    assert any("stands on tube" in k.text for k in cut.piece.labels)
    (under,) = plan.made["base"].cuts
    assert any("fin stands here" in k.text for k in under.piece.labels)
    (card,) = [t.piece for t in gauge_templates(plan) if "foot on tube" in t.piece.name]
    assert card.shape.width == pytest.approx(100, abs=0.1)
    (joint,) = joints_of(plan, BenchChoices())
    assert joint.size == pytest.approx(10 * 100 * 4 / 1e6)


def test_what_cannot_stand_says_why_and_its_base_is_made_all_the_same():
    gone, _ = planned(fin(100, stands="Q"), rolled(80))
    assert "no edge 'Q'" in gone.made["fin"].problem
    assert gone.made["base"].problem == ""
    bent = fin(100)
    bent = replace(bent, build=replace(bent.build, form=Form(FormKind.ROLLED, Given.RADIUS, 90.0)))
    plan, _ = planned(bent, rolled(80))
    assert "stands on an edge" in plan.made["fin"].problem
    with pytest.raises(InputError, match="no edge"):
        contact_of(fin(100, stands="Q"), rolled(80), CutContext())
