"""Cloth as it is cut: allowances, hems, darts, notches, folds and stretch, by hand."""

import math

import numpy as np
import pytest
from shapely import box, transform

from ivory_quilt.core.document.fastening import set_fixings
from ivory_quilt.core.document.finishing import set_sewing
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import fit_of, rename_edge
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import Build, Cover, CoverKind
from ivory_quilt.core.pattern.edges import edge_line, edge_of, edges_of
from ivory_quilt.core.pattern.fixing import Fixing, FixingKind
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine, Turn
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, sewn_length
from ivory_quilt.core.pattern.sewing import EdgeFinish, Sewing, SewnDart, SewnEdge
from ivory_quilt.core.plan.benching import SEW_RATE, bench_steps
from ivory_quilt.core.plan.consuming import amounts_of
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.stacks.layering import cuts_of
from ivory_quilt.core.stacks.sewing import sewing_metres
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.files.project_file import decode_project, encode_project


def cloth(sewing, shape=None, ident="p", **rest):
    build = Build(sewing=sewing)
    return Piece(
        ident, f"apron {ident}", shape or rectangle(200, 100), "cloth", 1.0, build=build, **rest
    )


def cut_of(piece):
    return cuts_of(piece)[0]


def stitches(cut):
    """Return the closed line of stitches that is drawn on a cut."""
    return next(
        k.points
        for k in cut.piece.lines
        if k.kind is LineKind.MARK and len(k.points) > 3 and np.allclose(k.points[0], k.points[-1])
    )


def test_each_edge_has_its_own_allowance_and_the_stitches_stay_where_they_were():
    sewing = Sewing(10.0, (SewnEdge("A"), SewnEdge("C", EdgeFinish.RAW, 10.0)))
    cut = cut_of(cloth(sewing))
    assert cut.outer.bounds == pytest.approx((-10, -20, 210, 100))
    assert cut.outer.area == pytest.approx(220 * 120)
    line = stitches(cut)
    assert (line.min(axis=0).tolist(), line.max(axis=0).tolist()) == ([0, 0], [200, 100])
    (told,) = cut.changes
    assert told.amount == 10.0
    assert [s.value for s in told.reckoning.steps] == [20.0, 10.0, 0.0, 10.0]


def test_match_marks_become_notches_out_to_the_edge():
    piece = cloth(
        Sewing(10.0, (SewnEdge("A", EdgeFinish.HEM, 25.0),)),
        match_marks=((50.0, 0.0), (200.0, 40.0)),
    )
    notches = [k.points for k in cut_of(piece).piece.lines if len(k.points) == 2]
    assert np.allclose(notches[0], [(50, 0), (50, -25)])
    assert np.allclose(notches[1], [(200, 40), (210, 40)])
    assert cut_of(piece).piece.match_marks == ()


def test_a_dart_takes_its_width_off_the_edge_that_it_is_sewn_to():
    piece = cloth(Sewing(darts=(SewnDart("A", 0.25, 20.0, 60.0),)))
    legs = next(k.points for k in cut_of(piece).piece.lines if len(k.points) == 3)
    assert np.allclose(legs, [(40, 0), (50, 60), (60, 0)])
    assert sewn_length(piece, edge_of(piece, "A")) == pytest.approx(180)
    other = cloth(Sewing(), rectangle(180, 50), "q")
    seam = Seam(EdgeRef("p", "A"), EdgeRef("q", "A"))
    assert fit_of(Project("x", (piece, other), seams=(seam,)), seam).difference == pytest.approx(0)
    metres = sewing_metres(piece)
    assert metres == pytest.approx(2 * math.hypot(10, 60) / 1000 / 2)
    for dart in (SewnDart("A", 0.02, 20.0), SewnDart("A", 0.5, 20.0, 120.0)):
        with pytest.raises(InputError, match="dart at edge A"):
            cut_of(cloth(Sewing(darts=(dart,))))


def test_on_the_fold_both_halves_are_cut_as_one():
    half = Shape.make([(0, 0), (80, 0), (60, 100), (0, 100)])
    piece = cloth(Sewing(10.0, (SewnEdge("D", EdgeFinish.FOLD, 10.0),)), half)
    cut = cut_of(piece)
    x0, y0, x1, y1 = cut.outer.bounds
    assert (x0, y0, y1) == pytest.approx((-x1, -10, 110))
    # Twice the half with its allowance on three sides: trapeze of mitred offset lines.
    lean = math.hypot(20, 100) / 100
    foot, top = 80 + 10 * lean + 10 * 0.2, 60 + 10 * lean - 10 * 0.2
    assert cut.outer.area == pytest.approx(2 * (foot + top) / 2 * 120, rel=1e-6)
    assert any(k.kind is LineKind.CENTRE for k in cut.piece.lines)
    with pytest.raises(InputError, match="on the fold"):
        bent = Shape.make([(0, 0), (80, 0), (60, 100), (0, 100), (-9, 50)])
        edges = replace(cloth(None, bent)).shape
        piece = cloth(Sewing(10.0, tuple(SewnEdge(n, EdgeFinish.FOLD) for n in "DE")), edges)
        cut_of(piece)


def test_cloth_that_stretches_is_cut_smaller_along_and_across_its_grain():
    grain = PieceLine(LineKind.GRAIN, np.array([(100.0, 20.0), (100.0, 80.0)]))
    piece = cloth(Sewing(0.0, along=25.0, across=60.0), lines=(grain,), turn=Turn.DIRECTION)
    cut = cut_of(piece)
    assert (cut.outer.width, cut.outer.height) == pytest.approx((200 / 1.6, 100 / 1.25))
    assert [c.amount for c in cut.changes[:2]] == pytest.approx([-20.0, -75.0])


def test_seams_of_cloth_are_sewn_and_take_no_cement():
    one, other = cloth(Sewing(edges=(SewnEdge("C"),))), cloth(Sewing(), ident="q")
    seam = Seam(EdgeRef("p", "A"), EdgeRef("q", "A"))
    plan = derive(Project("x", (one, other), seams=(seam,)), ShopStock())
    assert amounts_of(plan).glued == 0
    steps = [s for s in bench_steps(plan, BenchChoices()).steps if s.kind is StepKind.SEW]
    assert [s.title for s in steps] == ["apron p", "apron p to apron q"]
    assert {s.minutes for s in steps} == {math.ceil(0.2 * SEW_RATE)}
    assert not [s for s in bench_steps(plan, BenchChoices()).steps if s.kind is StepKind.JOIN]
    foam = replace(other, material="eva", build=Build())
    glued = derive(Project("x", (one, foam), seams=(seam,)), ShopStock())
    assert amounts_of(glued).glued > 0


def test_a_case_is_laid_on_cloth_along_its_grain_and_sewn():
    core = Piece("c", "core", rectangle(120, 80), thickness=30.0, hand=Hand.PAIR)
    core = replace(core, build=Build(cover=Cover(CoverKind.SEWN, 1.0, "cloth", 10.0, 1.0)))
    plan = derive(Project("x", (core,)), ShopStock())
    parts = {p.id: p for p in plan.parts["c"]}
    assert set(parts) == {
        "c/left",
        "c/right",
        "c+sewn front/left",
        "c+sewn front/right",
        "c+sewn back/left",
        "c+sewn back/right",
        "c+sewn strip",
    }
    assert parts["c+sewn strip"].count == 2
    assert {p.turn for p in parts.values() if p.stitched} == {Turn.DIRECTION}
    assert amounts_of(plan).glued == 0
    kinds = [s.kind for s in bench_steps(plan, BenchChoices()).steps]
    assert StepKind.SEW in kinds
    assert StepKind.COAT not in kinds


def test_sewing_is_turned_on_kept_and_renamed():
    project = Project("x", (replace(cloth(None), turn=Turn.QUARTERS),))
    made = set_sewing(project, ["p"], lambda s: s.with_edge(SewnEdge("A")))
    piece = made.piece("p")
    assert piece.turn is Turn.DIRECTION
    assert piece.edges
    hem = rename_edge(made, "p", "A", "hem").piece("p")
    assert hem.build.sewing.at("hem").finish is EdgeFinish.HEM
    assert decode_project(encode_project(made)).piece("p").build.sewing == piece.build.sewing
    assert set_sewing(made, ["p"], lambda s: None).piece("p").build.sewing is None
    with pytest.raises(InputError, match="dart"):
        set_sewing(made, ["p"], lambda s: replace(s, darts=(SewnDart("A", 0.5, 20, 500),)))
    usual = Sewing(8.0, (SewnEdge("A"),)).with_edge(SewnEdge("A", EdgeFinish.SEAM, 8.0))
    assert usual.edges == ()


@pytest.mark.parametrize(
    "make",
    [
        lambda: Sewing(-1.0),
        lambda: Sewing(along=-5.0),
        lambda: SewnEdge("A", EdgeFinish.HEM, -1.0),
        lambda: SewnDart("A", 1.0),
        lambda: SewnDart("A", 0.5, 0.0),
        lambda: SewnDart("A", 0.5, 10.0, 0.0),
        lambda: Cover(CoverKind.SEWN, ease=-1.0),
    ],
)
def test_sizes_that_make_no_sense_are_refused(make):
    with pytest.raises(InputError):
        make()


def test_straps_and_hinge_strips_are_cut_from_cloth_and_laid_with_the_pieces():
    """A strap is cut four times its width (common practice): 3/4 in from 3 in."""
    piece = Piece("p", "plate", rectangle(200, 100), hand=Hand.PAIR)
    strap = Fixing("s", FixingKind.STRAP, "p", way=300.0, width=19.05, count=2, cloth="cloth")
    hinge = Fixing("h", FixingKind.HINGE, "p", edge="A", width=8.0, cloth="cloth")
    bought = Fixing("w", FixingKind.WEBBING, "p", way=300.0)
    project = set_fixings(Project("x", (piece,)), (strap, hinge, bought))
    assert [t.id for t in project.things] == ["fixing:w"]
    plan = derive(project, ShopStock())
    parts = {p.id: p for p in plan.parts["p"]}
    one = parts["p+straps"]
    assert (one.shape.width, one.shape.height) == pytest.approx((430.0, 76.2))
    assert one.count == 2 * 2
    assert (one.foam.thickness, one.foam.material) == (1.0, "cloth")
    two = parts["p+straph"]
    assert (two.shape.width, two.shape.height) == pytest.approx((200.0, 38.0))
    assert amounts_of(plan).glued == 0
    longer = set_fixings(project, (replace(strap, way=400.0), hinge, bought))
    again = derive(longer, ShopStock(), previous=plan)
    assert next(p for p in again.parts["p"] if p.id == "p+straps").shape.width == 530.0
    with pytest.raises(InputError, match="cut from"):
        replace(bought, cloth="cloth")


@pytest.mark.parametrize("lean", [-30.0, 0.0, 30.0])
def test_a_hem_turned_up_lies_on_the_cloth_beside_it(lean):
    """A flap folded about the hem is the strip of cloth above it, side allowances and all."""
    skirt = Shape.make([(0, 0), (200, 0), (200 - lean, 150), (lean, 150)])
    cut = cut_of(cloth(Sewing(10.0, (SewnEdge("A", EdgeFinish.HEM, 25.0),)), skirt)).outer.polygon
    flap = cut.intersection(box(-100, -100, 400, 0))
    above = cut.intersection(box(-100, 0, 400, 25))
    turned = transform(flap, lambda p: p * np.array([1.0, -1.0]))
    assert cut.bounds[1] == pytest.approx(-25)
    assert turned.symmetric_difference(above).area < 1e-3
    # Level with the fold it is as wide as the cloth and both allowances.
    side = 10.0 * math.hypot(lean, 150) / 150
    assert flap.bounds[2] - flap.bounds[0] == pytest.approx(
        200 + 2 * side + max(0.0, -2 * lean * 25 / 150), abs=1e-3
    )


def test_a_curved_hem_is_as_wide_everywhere():
    turn = np.linspace(math.pi, 2 * math.pi, 60)
    bowl = np.column_stack((100 * np.cos(turn), 100 * np.sin(turn)))
    shape = Shape.make(np.vstack((bowl, [(60.0, 80.0), (-60.0, 80.0)])))
    piece = cloth(None, shape)
    round_ = max(edges_of(piece), key=lambda e: len(edge_line(piece, e))).name
    sewing = Sewing(0.0, (SewnEdge(round_, EdgeFinish.HEM, 15.0),))
    cut = cut_of(replace(piece, build=Build(sewing=sewing))).outer
    assert cut.bounds[1] == pytest.approx(-115, abs=0.1)
