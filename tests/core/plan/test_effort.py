"""Hands-on time by rates, against hand figures."""

import math

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    EdgeProfile,
    Form,
    FormKind,
    Given,
    Profile,
    ProfileKind,
)
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.plan.effort import (
    bench_minutes,
    bevelled_length,
    cutting_minutes,
    part_minutes,
    pass_minutes,
)
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.stock.work_rates import Rates

FLAT = Piece("p", "plate", rectangle(400.0, 100.0), count=3)


def minutes(*pieces, rates=None, seams=()):
    plan = derive(Project(pieces=pieces, seams=seams), ShopStock())
    return bench_minutes(plan, rates or Rates()).figure("minutes")


def test_plain_plates_by_hand():
    # 3 parts at 1 min; 3 × 1 m of cut at 3 min.
    assert minutes(FLAT) == pytest.approx(3 * 1 + 3 * 3)
    assert minutes(replace(FLAT, spares=1)) == pytest.approx(4 * 1 + 4 * 3)


def test_a_curve_takes_longer_than_a_straight_cut():
    turn = [k * math.pi / 90 for k in range(180)]
    disc = Shape.make([(100 * math.cos(a), 100 * math.sin(a)) for a in turn])
    around = 2 * math.pi * 0.1
    # One part at 1 min; 0.628 m of cut at 3 min and, curved, 1.5 min a metre more.
    one = replace(FLAT, shape=disc, count=1)
    assert minutes(one) == pytest.approx(1 + around * (3 + 1.5), rel=1e-3)
    part = derive(Project(pieces=(one,)), ShopStock()).parts["p"][0]
    assert part_minutes(part, Rates()) == pytest.approx(minutes(one), rel=1e-6)


def test_what_is_bevelled_and_bent_takes_longer():
    edge = edges_of(FLAT)[0].name
    bevel = EdgeProfile(edge, Profile(ProfileKind.IN, 45.0))
    cut = replace(FLAT, count=1, build=Build(edges=(bevel,)))
    more = minutes(cut) - minutes(replace(FLAT, count=1))
    longest = 0.4 * 4.0
    assert 0.1 * 4.0 - 0.1 <= more <= longest + 0.1  # one edge, and the run-out beside it
    rolled = Form(FormKind.ROLLED, Given.ANGLE, 90.0)
    bent = replace(FLAT, count=1, build=Build(form=rolled))
    only = Rates(0, 0, 0, 6.0, 12.0, 0, 0, 0)
    assert minutes(bent, rates=only) == 6.0
    dome = replace(bent, build=Build(form=Form(FormKind.DISHED, Given.HEIGHT, 20.0)))
    assert minutes(dome, rates=only) == 12.0


def test_a_sheets_minutes_have_its_bevels_and_are_those_of_its_passes():
    edges = edges_of(FLAT)
    bevels = tuple(EdgeProfile(e.name, Profile(ProfileKind.OUT, 45.0)) for e in edges[:2])
    cut = replace(FLAT, count=1, build=Build(edges=bevels))
    (part,) = derive(Project(pieces=(cut,)), ShopStock()).parts["p"]
    length = bevelled_length(part)
    # Two edges that meet, each with the other's run-out of 6 mm.
    assert length == pytest.approx(400 + 100 + 2 * 6, abs=0.1)
    whole = cutting_minutes([part], Rates())
    assert whole == pytest.approx(part_minutes(part, Rates()) + 4.0 * length / 1000)
    passes = [
        pass_minutes(part, setting, Rates(), first=k == 0, last=k == 1)
        for k, setting in enumerate((0, 45))
    ]
    assert passes == pytest.approx([part_minutes(part, Rates()), 4.0 * length / 1000])
    around = replace(cut, build=Build(edges=tuple(replace(bevels[0], edge=e.name) for e in edges)))
    (one,) = derive(Project(pieces=(around,)), ShopStock()).parts["p"]
    alone = pass_minutes(one, 45, Rates(), first=True, last=True)
    assert alone == pytest.approx(cutting_minutes([one], Rates()))
    slow = Rates(paces=((StepKind.BEVEL, 2.0),))
    assert cutting_minutes([part], slow) == pytest.approx(whole + 4.0 * length / 1000)


def test_seams_count_by_their_length():
    other = replace(FLAT, id="q", name="other", count=1)
    one = replace(FLAT, count=1)
    names = [e.name for e in edges_of(one)]
    seam = Seam(EdgeRef("p", names[0]), EdgeRef("q", names[0]))
    only = Rates(0, 0, 0, 0, 0, 8.0, 0, 0)
    length = {round(v, 3) for v in (minutes(one, other, rates=only, seams=(seam,)),)}
    assert length <= {round(8.0 * 0.4, 3), round(8.0 * 0.1, 3)}
    assert math.isclose(minutes(one, other, rates=only), 0.0)
