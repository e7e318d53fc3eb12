"""Formers that are taken for a night, paint by region, wraps of two schools, simpler parts."""

import pytest

from ivory_quilt.core.document.benchwork import set_paint
from ivory_quilt.core.document.project import Project, remove_pieces
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    EdgeProfile,
    Form,
    FormKind,
    Given,
    Layer,
    Profile,
    ProfileKind,
    Wrap,
)
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.consuming import uses_of
from ivory_quilt.core.plan.painting import coated, unpainted
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.simpler import simpler_parts
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.bench_schedule import bench_job
from ivory_quilt.core.schedule.check import broken_rules
from ivory_quilt.core.schedule.conflict import earliest_starts
from ivory_quilt.core.schedule.serial import serial_schedule
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind
from tests.core.plan.test_benching import SHOP, before, laid

CURVE = Build(form=Form(FormKind.ROLLED, Given.ANGLE, 60.0), layers=(Layer(2.0),))


def curves(count, **more):
    return [Piece(f"c{k}", f"curve {k}", rectangle(160, 90), build=CURVE, **more) for k in "abc"][
        :count
    ]


def timed(steps, choices):
    job = bench_job(steps, choices, 0, 0, {})
    found = serial_schedule(job, earliest_starts(job))
    assert broken_rules(job, found) == []
    return {t.id: t for t in found}


# Formers


@pytest.mark.parametrize(("forms", "last"), [(1, 3), (2, 2), (3, 1)])
def test_a_laminated_curve_keeps_its_former_for_the_night(forms, last):
    choices = BenchChoices(forms=forms)
    steps = bench_steps(laid(*curves(3)), choices)
    at = timed(steps, choices)
    on = [
        (min(t.start for i, t in at.items() if i.startswith(f"coat:layer:c{k}")), at[f"set:c{k}"])
        for k in "abc"
    ]
    held = [(start, taken.end) for start, taken in on]
    busiest = max(sum(a <= start < b for a, b in held) for start, _ in held)
    assert busiest <= forms
    assert all(taken.end - start >= 480 for start, taken in on)
    assert len({taken.start // 1440 for _, taken in on}) >= last


def test_more_copies_than_formers_take_more_nights():
    pair = replace(curves(1)[0], count=3)
    choices = BenchChoices(forms=2)
    steps = bench_steps(laid(pair), choices)
    (taken,) = [s for s in steps.steps if s.kind is StepKind.SET]
    assert "2 a night, 2 nights" in taken.title
    wait = max(f.least for f in steps.follows if f.task == taken.id)
    assert wait == 480 + 1440


# Paint


def painted(*areas, choices=None):
    plates = [Piece(k, f"plate {k}", rectangle(500, 200)) for k in "pq"]
    plan = laid(*plates)
    project = set_paint(plan.project, areas)
    plan = derive(project, SHOP, plan.proposals, plan)
    return plan, bench_steps(plan, choices or BenchChoices(primer=1, paint=2, sealer=0))


def test_regions_are_painted_in_their_order_after_the_ground():
    ground = PaintArea("g", "deep green", pieces=("p",), coats=2)
    rims = PaintArea("r", "old brass", "rims", share=0.1, coats=1)
    plan, steps = painted(ground, rims)
    paint = [s for s in steps.steps if s.kind is StepKind.PAINT]
    assert [(s.id, s.pieces) for s in paint] == [
        ("paint1:p", ("q",)),
        ("paint2:p", ("q",)),
        ("paint1:g:p", ("p",)),
        ("paint2:g:p", ("p",)),
        ("paint1:r:p", ("p", "q")),
    ]
    assert {"prime1:p", "paint2:p", "paint2:g:p"} <= before(steps, "paint1:r:p")
    assert "old brass, rims" in paint[-1].title
    # 0.1 m² twice green, 0.1 m² twice the usual ground, a tenth of 0.2 m² in brass
    assert coated(plan.project, 1) == pytest.approx(0.2 + 2 * 0.1 + 0.02)
    # four tenths of a square metre masked takes longer than its brush alone
    assert paint[-1].minutes >= 6


def test_what_is_covered_wholly_needs_no_other_ground():
    areas = (PaintArea("g", "green"), PaintArea("r", "brass", share=0.3))
    _, steps = painted(*areas)
    assert not any(s.id.startswith("paint1:p") for s in steps.steps)
    assert unpainted(areas, ("p", "q")) == ()


def test_what_is_painted_before_gluing_is_dry_before_it_is_joined():
    early = PaintArea("e", "ember", pieces=("p",), coats=1, before_glue=True)
    _, steps = painted(early)
    assert "dry:e:p" in before(steps, "fit")
    (wait,) = [f.least for f in steps.follows if f.task == "dry:e:p"]
    assert wait == 120
    assert "paint1:e:p" in before(steps, "dry:e:p")
    assert not any(s.id == "paint1:e:p" for s in steps.steps if "q" in s.pieces)


def test_regions_say_how_much_paint_is_bought():
    can = Consumable("c", "paint", ConsumableKind.PAINT, 250, 8, 2)
    plan, _ = painted(PaintArea("g", "green", coats=4))
    plan = replace(plan, stock=replace(plan.stock, consumables=(can,)))
    (use,) = uses_of(plan, "2027-03-01")
    # 0.2 m² four times at 8 m² a litre; a quarter of what is sprayed goes past
    assert use.need == pytest.approx(0.2 * 4 / 8 * 1000 / 0.75)


def test_regions_go_with_their_pieces_and_nonsense_is_refused():
    areas = (PaintArea("g", "green", pieces=("p",)), PaintArea("r", "brass", pieces=("p", "q")))
    project = Project(pieces=tuple(Piece(k, k, rectangle(9, 9)) for k in "pq"), paint=areas)
    assert [(a.id, a.pieces) for a in remove_pieces(project, ["p"]).paint] == [("r", ("q",))]
    for wrong in ({"tone": " "}, {"share": 0.0}, {"share": 1.5}, {"coats": 0}, {"coats": 99}):
        with pytest.raises(InputError):
            PaintArea("a", **{"tone": "green", **wrong})
    with pytest.raises(InputError, match="twice"):
        set_paint(project, (areas[0], areas[0]))


# Wraps


def test_a_wide_wrap_is_cut_wider_and_longer_and_trimmed_by_hand():
    size = {"spare": 6.0, "thickness": 2.0}
    short = Piece("s", "stack", rectangle(100, 50), build=Build(wrap=Wrap(2.0)))
    wide = replace(short, build=Build(wrap=Wrap(**size, stretch=2.5)))
    found = {}
    for name, piece in (("short", short), ("wide", wide)):
        plan = laid(piece)
        (strip,) = [p for p in plan.parts["s"] if p.id.startswith("s+wrap")]
        x0, y0, x1, y1 = strip.shape.bounds
        found[name] = (x1 - x0, y1 - y0)
        steps = {s.id: s for s in bench_steps(plan, BenchChoices()).steps}
        assert ("trim:s" in steps) is (name == "wide")
    assert found["short"] == pytest.approx((300 - 2.5, 6.0))
    assert found["wide"] == pytest.approx((300 + 6.0, 12.0))


# Simpler parts


def test_simpler_parts_are_those_that_take_the_most_hands_and_keep_the_sheets():
    plate = Piece("p", "plate", rectangle(300, 200))
    edge = edges_of(plate)[0].name
    shaped = Build(
        edges=(EdgeProfile(edge, Profile(ProfileKind.IN, 30)),),
        layers=(Layer(2.0), Layer(2.0)),
        wrap=Wrap(),
    )
    plate = replace(plate, build=shaped)
    plan = laid(plate, Piece("q", "plain", rectangle(100, 50)))
    steps = bench_steps(plan, BenchChoices())
    ways = {s.words: s for s in simpler_parts(plan, steps)}
    assert list(ways) == [
        "plate with one layer less",
        "plate without its edge wrap",
        "plate with square edges",
    ]
    full = {s.id for s in steps.steps}
    for way in ways.values():
        assert way.plan.foams is plan.foams
        fewer = {s.id for s in bench_steps(way.plan, BenchChoices()).steps}
        assert fewer < full
    assert len(ways["plate with one layer less"].build.layers) == 1
