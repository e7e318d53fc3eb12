"""Papers and reports of what is really cut: layers, both faces, bevels, notes, lengths, weight."""

import io
import json
import re
from decimal import Decimal

import numpy as np
import pdfplumber
import pytest

from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.build import (
    Build,
    Form,
    FormKind,
    Given,
    Layer,
    Placing,
    Profile,
    ProfileKind,
    Trim,
    Wrap,
)
from ivory_quilt.core.pattern.piece import FaceUp, LineKind, Piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.suits import template_cuts_of
from ivory_quilt.core.stock.foam_stock import Foam, Material, MaterialKind, ShopStock, sheet
from ivory_quilt.files.papers.cut_sheet_pages import cut_sheets_pdf
from ivory_quilt.files.papers.cut_sheets import cut_sheet_svg, cut_sheets
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.papers.tiling import papers_of
from ivory_quilt.files.plan_report import plan_json, plan_text, write_papers
from tests.papers import NAMES, first_layout

EVA6 = Foam(6.0, "eva")


def stock():
    items = tuple(
        sheet(f"S{t:g}", f"{t:g} mm", Foam(t, "eva"), (1000, 600), owned=1, price=Decimal(9))
        for t in (2.0, 4.0, 6.0)
    )
    return ShopStock(items, (Material("eva", "EVA foam", True),))


def plate(ident="a", build=None, **rest):
    return Piece(ident, f"plate {ident}", rectangle(120, 80), build=build or Build(), **rest)


BEVEL = Build().with_profile("A", Profile(ProfileKind.OUT, 45))


def test_templates_show_the_face_that_is_up_and_where_the_bevel_runs():
    for face, foot in ((FaceUp.SKIN, -6), (FaceUp.TEXTURED, 0)):
        piece = plate(build=BEVEL, face=face)
        plan = derive(Project(pieces=(piece,)), stock())
        (cut,) = template_cuts_of(plan.suits)
        shown = cut.piece
        assert shown.shape.bounds[1] == pytest.approx(foot)
        other = [k for k in shown.lines if k.kind is LineKind.OTHER]
        assert len(other) >= 1
        reach = min(float(k.points[:, 1].min()) for k in other)
        assert reach == pytest.approx(0 if foot else -6)
        assert [k.text for k in shown.labels] == ["A: 45° out"]


def test_every_layer_has_its_template_and_its_words():
    build = Build(layers=(Layer(4.0), Layer(2.0)), wrap=Wrap(2.0))
    plan = derive(Project(pieces=(plate(build=build),)), stock())
    papers = papers_of(plan, first_layout, strips=False)
    names = ["plate a", "plate a: layer 1", "plate a: layer 2", "plate a: edge wrap"]
    assert [u.piece.name for t in papers.templates for u in t.uses] == names
    data = templates_pdf(papers, "Suit", NAMES)
    with pdfplumber.open(io.BytesIO(data)) as pdf:
        # As they are written: words that stand upright on a template are read all the same.
        text = "".join(c["text"] for page in pdf.pages for c in page.chars)
    for name in names:
        assert name in text
    assert "4 mm EVA foam" in text
    assert "2 mm EVA foam" in text


def test_templates_make_room_for_the_other_face():
    wide = plate("wide", Build().with_profile("A", Profile(ProfileKind.IN, 75)))
    plan = derive(Project(pieces=(wide, plate("b"))), stock())
    (page,) = papers_of(plan, first_layout).pages
    first, second = sorted(page.spots, key=lambda s: s.face.template.number)
    lines = first.face.template.piece.lines
    run = np.vstack([k.placed(first.pose).points for k in lines if k.kind is LineKind.OTHER])
    (x0, y0, x1, y1) = second.shape.bounds
    inside = (run[:, 0] > x0) & (run[:, 0] < x1) & (run[:, 1] > y0) & (run[:, 1] < y1)
    assert not inside.any()


def laid(piece, spots):
    project = keep_layout(Project(pieces=(piece,)), KeptLayout(EVA6, spots))
    return derive(project, stock())


def test_the_knife_follows_the_face_that_is_up_on_a_cut_sheet():
    piece = plate(build=Build().with_profile("A", Profile(ProfileKind.IN, 45)))
    plan = laid(piece, (Placement("a", 0, "own:S6", 0, Pose(20, 20)),))
    (sheet_,) = cut_sheets(plan)
    svg = cut_sheet_svg(sheet_).decode()
    cut = svg.split('inkscape:label="cut"')[1].split("</g>")[0]
    numbers = [float(v) for v in re.findall(r"-?\d+\.\d+", cut.split(' d="')[1])]
    ys = numbers[1::2]
    # y runs down from the sheet's top edge; the outer face begins 6 mm above the footprint's foot.
    assert max(ys) == pytest.approx(600 - 20 - 6)
    assert 'inkscape:label="other face"' in svg
    assert "bevel 45°" in svg


def test_two_bevelled_parts_are_laid_by_their_footprints():
    """Side by side with the gap between their widest faces, or the layout is refused."""
    piece = plate(build=BEVEL, count=2)
    close = (
        Placement("a", 0, "own:S6", 0, Pose(20, 20)),
        Placement("a", 1, "own:S6", 0, Pose(20, 20 + 80 + 2)),
    )
    assert not cut_sheets(laid(piece, close))
    apart = (close[0], Placement("a", 1, "own:S6", 0, Pose(20, 20 + 80 + 2 + 6)))
    assert len(cut_sheets(laid(piece, apart))) == 1


def test_the_list_on_a_cut_sheet_says_what_the_bench_must_know():
    base = plate(build=Build(layers=(Layer(6.0, together=True),)))
    plan = laid(
        base,
        (
            Placement("a", 0, "own:S6", 0, Pose(20, 20)),
            Placement("a+1", 0, "own:S6", 0, Pose(200, 20)),
        ),
    )
    data = cut_sheets_pdf(cut_sheets(plan), plan.project.paper, "x")
    with pdfplumber.open(io.BytesIO(data)) as pdf:
        page = pdf.pages[0]
        text = page.extract_text()
        assert max(w["x1"] for w in page.extract_words()) < page.width - 10
    assert "layer 1" in text
    assert "two at once" in text


def test_a_cut_sheet_numbers_its_parts_in_the_order_in_which_they_are_cut():
    large = Piece("large", "large", rectangle(200, 90))
    small = Piece("small", "small", rectangle(40, 30))
    bevelled = Piece("bevelled", "bevelled", rectangle(60, 40), build=BEVEL)
    project = Project(pieces=(large, bevelled, small))
    spots = (
        Placement("large", 0, "own:S6", 0, Pose(20, 20)),
        Placement("bevelled", 0, "own:S6", 0, Pose(20, 150)),
        Placement("small", 0, "own:S6", 0, Pose(330, 20)),
    )
    plan = derive(keep_layout(project, KeptLayout(EVA6, spots)), stock())
    (shown,) = cut_sheets(plan)
    names = [part.name for part, _ in shown.in_order]
    assert names == ["small", "large", "bevelled"]
    svg = cut_sheet_svg(shown).decode()
    drawn = [svg.index(f'id="{n}-1"') for n in names]
    assert drawn == sorted(drawn)
    with pdfplumber.open(io.BytesIO(cut_sheets_pdf([shown], plan.project.paper, "x"))) as pdf:
        text = pdf.pages[0].extract_text()
    assert re.search(r"1 1 × small.*2 1 × large.*3 1 × bevelled", text, re.S)


def test_the_plan_says_what_is_cut_and_why():
    ring = plate("ring", Build(form=Form(FormKind.ROLLED, Given.ANGLE, 180), trims=(Trim("A"),)))
    tight = plate("tight", Build(form=Form(FormKind.ROLLED, Given.RADIUS, 3)))
    plan = derive(Project(pieces=(ring, tight)), stock())
    data = json.loads(json.dumps(plan_json(plan)))
    made = {m["piece"]: m for m in data["made"]}
    (cut,) = made["ring"]["cuts"]
    assert cut["changes"] == ["+9.4 mm: wrap of 6 mm foam through 180°"]
    xs = [x for x, _ in cut["outer"][0]]
    assert max(xs) - min(xs) == pytest.approx(120 + np.pi * 3, abs=1e-3)
    assert made["ring"]["weight"] == pytest.approx(12.94 * 8 * 0.6 * 0.1, rel=2e-3)
    assert "around" in made["tight"]["problem"]
    assert made["tight"]["cuts"][0]["changes"] == []
    around = 120 + np.pi * (6 + 4 * 5 / (3 * np.pi))  # its own middle is outside the foam
    assert data["lengths"] == [
        {
            "piece": "ring",
            "edge": "A",
            "what": "10 mm half-round",
            "count": 1,
            "length": pytest.approx(around, abs=1e-3),
        }
    ]
    assert data["ledger"]["weight"] == pytest.approx(plan.weight, abs=1e-3)
    text = plan_text(plan)
    assert "1 × 146 mm of 10 mm half-round, along A of plate ring" in text
    assert "tight: " in text
    assert " g of parts" in text


def test_all_papers_are_of_what_is_cut(tmp_path):
    lame = plate("lame", Build(placing=Placing("base")))
    base = plate("base", Build(form=Form(FormKind.ROLLED, Given.RADIUS, 60)))
    plan = derive(Project(pieces=(base, lame)), stock())
    paths = write_papers(plan, tmp_path, papers_of(plan, first_layout))
    with pdfplumber.open(tmp_path / "templates.pdf") as pdf:
        text = "\n".join(page.extract_text() for page in pdf.pages)
    assert "cement here" in text
    assert all(p.exists() for p in paths)


def test_foams_are_told_apart_by_what_they_are():
    materials = (
        Material("eva", "EVA foam"),
        Material("tile", "EVA floor tile"),
        Material("felt", "Felt", kind=MaterialKind.CLOTH),
    )
    shop = ShopStock((), materials)
    four, tile = Foam(4.0, "eva"), Foam(4.0, "tile")
    assert shop.foam_name(four) == "4 mm"
    assert shop.foam_name(tile, [four, tile]) == "4 mm EVA floor tile"
    assert shop.foam_name(Foam(1.0, "felt"), [four]) == "Cloth"
