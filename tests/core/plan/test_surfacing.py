"""Works on faces in the plan: clay, parts, marks, steps and waits; sums by hand beside each."""

import numpy as np
import pytest

from ivory_quilt.core.document.finishing import give_tones, places_of, set_line_kind, set_works
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import rename_edge
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.consuming import CLAY_LEFT, uses_of
from ivory_quilt.core.plan.masks import mask_templates
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.surfacing import reckon_work, work_amount
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.step import CAUTIONS, StepKind
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.files.project_file import decode_project, encode_project

LINE = PieceLine(LineKind.MARK, np.array([(20.0, 50.0), (180.0, 50.0)]))
DISC = PieceLine(LineKind.MARK, np.vstack((circle((100, 50), 20), circle((100, 50), 20)[:1])))
STRIP = FaceRegion(RegionKind.EDGE, "A", 10)
ALONG = FaceRegion(RegionKind.LINE, "1", 3)
CLAY = SurfaceWork(SurfaceKind.CLAY, STRIP, depth=4.0)


def plate(*works, **rest):
    made = Piece("p", "plate", rectangle(200, 100), lines=(LINE, DISC), **rest)
    return replace(made, build=replace(made.build, works=works))


NOTHING = ShopStock()


def plan_of(*pieces, stock=NOTHING, **rest):
    return derive(Project("p", pieces, **rest), stock)


def test_clay_is_area_times_thickness_on_all_copies():
    piece = plate(CLAY, hand=Hand.PAIR, count=3)
    assert work_amount(piece, CLAY).volume == pytest.approx(200 * 10 * 4)
    assert reckon_work(piece, CLAY, 2).figure("volume") == pytest.approx(2 * 6 * 8000)
    tub = Consumable("c", "foam clay", ConsumableKind.CLAY, 30, 1.0, 1)
    (used,) = uses_of(plan_of(piece, stock=ShopStock(consumables=(tub,))), "2026-03-01")
    # 6 × 8 mL, and a tenth of what is bought stays on tools.
    assert used.need == pytest.approx(48 / (1 - CLAY_LEFT / 100))
    assert used.packs == 2
    # Clay that shrinks by a fifth: a litre makes 0.8 m² of one mm.
    shrinks = replace(tub, coverage=0.8)
    (more,) = uses_of(plan_of(piece, stock=ShopStock(consumables=(shrinks,))), "2026-03-01")
    assert more.need == pytest.approx(used.need / 0.8)


def test_a_line_counts_as_far_as_there_is_foam():
    long = replace(LINE, points=np.array([(-50.0, 50.0), (180.0, 50.0)]))
    piece = replace(plate(), lines=(long,))
    burn = SurfaceWork(SurfaceKind.BURN, ALONG, depth=1.0)
    assert work_amount(piece, burn).metres == pytest.approx(0.18)
    assert "fumes" in reckon_work(piece, burn).notes[0]


def test_foil_and_inlays_are_parts_to_lay():
    foil = SurfaceWork(
        SurfaceKind.FOIL,
        FaceRegion(RegionKind.LINE, "2"),
        material="foil",
        margin=5.0,
        thickness=0.1,
    )
    groove = SurfaceWork(SurfaceKind.CARVE, ALONG, depth=2.0, material="cloth")
    plan = plan_of(plate(foil, groove, hand=Hand.PAIR))
    parts = {p.id: p for p in plan.parts["p"]}
    left = parts["p+foil1.1/left"]
    assert left.shape.area == pytest.approx(np.pi * 25**2, rel=5e-3)
    assert left.foam.material == "foil"
    strip = parts["p+inlay2.1"]
    assert (strip.shape.width, strip.shape.height) == pytest.approx((160.0, 3.0))
    assert strip.count == 2


def test_works_are_marked_on_the_foam_where_they_are():
    hollow = SurfaceWork(SurfaceKind.HOLLOW, STRIP, WorkFace.INNER, depth=2.0)
    carve = SurfaceWork(SurfaceKind.CARVE, ALONG, depth=2.0)
    (part,) = plan_of(plate(CLAY, hollow, carve)).parts["p"]
    marks = [k for k in part.lines if k.kind is LineKind.MARK]
    assert len(marks) == 3  # both lines, and the edge of the strip; nothing of the other face
    assert np.allclose(marks[-1].points[:, 1], 10.0)
    cut = plan_of(plate(CLAY, carve)).made["p"].cuts[0]
    assert [k.text for k in cut.piece.labels] == ["clay 4 mm thick", "carve 2 mm deep 3 mm wide"]


def test_steps_come_in_the_order_of_the_work_and_wait_for_what_dries():
    works = (
        CLAY,
        SurfaceWork(SurfaceKind.SAND, grits=(120, 220)),
        SurfaceWork(SurfaceKind.BURN, ALONG, depth=1.0),
        SurfaceWork(SurfaceKind.CARVE, ALONG, depth=1.0),
        SurfaceWork(SurfaceKind.DRAW, ALONG),
    )
    rolled = Build(form=Form(FormKind.ROLLED, Given.RADIUS, 100.0))
    plan = plan_of(plate(*works, build=rolled))
    made = bench_steps(plan, BenchChoices(primer=1, paint=1, sealer=0))
    order = [s.id for s in made.steps]
    at = {s.split(":")[0]: k for k, s in enumerate(order)}
    told = ["carve", "burn", "form", "fit", "clay", "sand1", "sand2", "prime1", "paint1", "draw"]
    assert sorted(told, key=at.__getitem__) == told
    waits = {f.task: f for f in made.follows}
    assert waits["sand1:p"].least == 8 * 60
    large = replace(CLAY, region=FaceRegion())
    slow = bench_steps(plan_of(plate(large, works[1])), BenchChoices())
    assert {f.task: f.least for f in slow.follows}["sand1:p"] == 24 * 60
    assert [s.title for s in made.steps if s.kind is StepKind.SAND] == [
        "plate, 120 grit",
        "plate, 220 grit",
    ]
    assert all(StepKind(k) in CAUTIONS for k in ("carve", "burn lines", "texture", "sand"))


def test_edits_keep_names_and_refuse_what_is_not_there():
    project = Project("p", (plate(), plate().__class__("q", "other", rectangle(50, 50))))
    along = SurfaceWork(SurfaceKind.CARVE, ALONG, depth=1.0)
    made = set_works(project, ["p"], lambda w: (*w, along, CLAY))
    assert made.piece("p").lines[0].name == "1"
    assert made.piece("p").edges  # they keep what is named
    named = rename_edge(made, "p", "A", "hem")
    assert named.piece("p").build.works[1].region.of == "hem"
    with pytest.raises(InputError, match="no foam at line 1"):
        set_works(project, ["q"], lambda w: (*w, along))
    with pytest.raises(InputError, match="at most"):
        set_works(project, ["p"], lambda w: w + (CLAY,) * 61)
    with pytest.raises(InputError, match="no line 7"):
        set_line_kind(project, "p", "7", LineKind.SLIT)
    slit = set_line_kind(project, "p", "1", LineKind.SLIT)
    assert (slit.piece("p").lines[0].kind, slit.piece("p").lines[0].name) == (LineKind.SLIT, "1")
    assert set_line_kind(project, "p", "1", LineKind.SCORE).piece("p").lines[0].crease is not None
    back = decode_project(encode_project(named))
    assert back.piece("p").build.works == named.piece("p").build.works


def test_places_offer_what_encloses_something():
    words = [w for _, w in places_of(plate(), 10.0)]
    assert "inside line 2" in words
    assert "inside line 1" not in words
    assert words[:3] == ["all of it", "along all edges", "along edge A"]


def test_tones_are_given_on():
    green = PaintArea("g", "deep green", pieces=("p",))
    gold = PaintArea("h", "gold")
    project = give_tones(Project("p", (plate(),), paint=(green, gold)), "p", ["q", "r", "q"])
    assert [a.pieces for a in project.paint] == [("p", "q", "r"), ()]


def test_masks_cover_what_is_not_painted():
    strip = PaintArea("g", "gold").at(STRIP)
    window = PaintArea("h", "green").at(FaceRegion(RegionKind.LINE, "2"))
    plan = plan_of(plate(hand=Hand.PAIR), paint=(strip, window))
    first, second = mask_templates(plan)
    assert first.piece.shape.area == pytest.approx(200 * 90)
    assert second.piece.shape.area == pytest.approx(200 * 100 - np.pi * 400, rel=1e-3)
    assert len(second.piece.shape.holes) == 1
    assert first.piece.hand is Hand.PAIR
    assert "gold" in first.piece.name
    with pytest.raises(InputError, match="masks"):
        mask_templates(plan_of(plate(), paint=(PaintArea("g", "gold"),)))


def test_a_tone_whose_place_is_not_there_is_not_painted_or_masked():
    window = PaintArea("h", "green", coats=1).at(FaceRegion(RegionKind.LINE, "1"))  # open
    strip = PaintArea("g", "gold", coats=1).at(STRIP)
    plan = plan_of(plate(), paint=(window, strip))
    titles = [s.title for s in bench_steps(plan, BenchChoices(primer=0, paint=0, sealer=0)).steps]
    assert [t for t in titles if "gold" in t] == ["plate: gold"]
    assert not [t for t in titles if "green" in t]
    assert len(mask_templates(plan)) == 1
    early = replace(window, before_glue=True)
    steps = bench_steps(plan_of(plate(), paint=(early,)), BenchChoices()).steps
    assert not [s for s in steps if "green" in s.title]


def test_a_can_that_is_called_like_a_tone_is_that_tone_s():
    strip = PaintArea("g", "Old gold", coats=1).at(STRIP)
    ground = PaintArea("h", "moss", coats=2)
    cans = tuple(
        Consumable(i, name, ConsumableKind.PAINT, 250, 8.0, 3)
        for i, name in (("a", "paint"), ("b", "old gold, 250 mL"), ("c", "more paint"))
    )
    plan = plan_of(plate(), stock=ShopStock(consumables=cans), paint=(strip, ground))
    uses = {u.what.id: u.need for u in uses_of(plan, "2026-03-01")}
    gold = 0.002 / 8 * 1000 / 0.75  # m² in one coat, a quarter goes astray
    assert uses == {"b": pytest.approx(gold), "a": pytest.approx(2 * 0.02 / 8 * 1000 / 0.75)}
    only = plan_of(plate(), stock=ShopStock(consumables=cans[1:2]), paint=(strip, ground))
    assert uses_of(only, "2026-03-01")[0].need == pytest.approx(sum(uses.values()))


def test_a_tone_on_the_inner_face_leaves_the_outer_one_its_own():
    lining = PaintArea("l", "lining", coats=1, face=WorkFace.INNER, colour="#101010")
    plan = plan_of(plate(), paint=(lining,))
    titles = [s.title for s in bench_steps(plan, BenchChoices(primer=0, paint=1, sealer=0)).steps]
    assert "plate: lining, inner face" in titles
    assert "plate" in titles  # the usual coat of its outer face
    assert not lining.shows
    strip = replace(lining, id="s").at(STRIP)
    (mask,) = mask_templates(plan_of(plate(), paint=(strip,)))
    assert "turn the mask over" in mask.piece.labels[0].text
