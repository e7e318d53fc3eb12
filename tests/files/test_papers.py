import io
import math
import re
from decimal import Decimal
from itertools import combinations, pairwise

import numpy as np
import pdfplumber
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import MultiPoint, box, union_all
from shapely.affinity import translate

from ivory_quilt.core.cutting.paper_layout import APART, OVERLAP
from ivory_quilt.core.document.project import KeptLayout, Paper, Project, keep_layout
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Label, LineKind, Piece, PieceLine, Turn
from ivory_quilt.core.plan.cutting import planned_rests
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stock.foam_stock import Material, ShopStock, StockKind, sheet
from ivory_quilt.files.papers.cut_sheet_pages import CAUTION, cut_sheets_pdf, plan_cut_sheets_pdf
from ivory_quilt.files.papers.cut_sheets import cut_sheet_svg, cut_sheets
from ivory_quilt.files.papers.template_face import template_words
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.papers.tiling import (
    HAIR,
    PAGE_SIZE,
    PageFrame,
    column_letter,
    frame_of,
    papers_of,
)
from ivory_quilt.files.plan_report import plan_json, plan_text, write_papers
from ivory_quilt.files.svg_read import read_svg
from tests import strategies as own
from tests.effort import random_cases
from tests.papers import NAMES, first_layout, pages_of, pdf_of, plain, project_papers

EVA6 = Foam(6.0, "eva")
PAGED = sorted(PAGE_SIZE)


def piece(ident, width, height, **rest):
    return Piece(ident, ident, rectangle(width, height), **rest)


def text_of(pdf, page=None):
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        pages = document.pages if page is None else [document.pages[page]]
        return "\n".join(p.extract_text() for p in pages)


# Pages


@random_cases(40, 400)
@given(st.floats(20, 900), st.floats(20, 900), st.sampled_from(PAGED))
def test_tiles_cover_every_template_and_overlap(width, height, paper):
    pages = pages_of(piece("a", width, height), paper=paper).pages
    frame = frame_of(paper)
    windows = []
    for page in pages:
        (spot,) = page.spots
        seen = box(0, 0, frame.width, frame.height)
        assert spot.shape.polygon.intersection(seen).area > 0
        # The page's window in the piece's own coordinates.
        corners = [spot.pose.unapply((x, y)) for x in (0, frame.width) for y in (0, frame.height)]
        windows.append(MultiPoint(corners).convex_hull)
    covered = union_all(windows)
    assert covered.buffer(0.01).covers(rectangle(width, height).polygon)
    shared = sum(w.area for w in windows) - covered.area
    assert shared >= (len(windows) > 1) * OVERLAP * min(frame.width, frame.height) * 0.9 - 1e-6


@random_cases(6, 60)
@given(st.lists(own.shapes(size=260.0), min_size=1, max_size=8), st.sampled_from(PAGED))
def test_templates_lie_apart_whole_where_they_can_and_each_once(drawn, paper):
    pieces = [Piece(f"p{k}", f"p{k}", shape) for k, shape in enumerate(drawn)]
    papers = pages_of(*pieces, paper=paper)
    frame = frame_of(paper)
    usable = box(0, 0, frame.width, frame.height).buffer(HAIR)
    sheets = {}
    for number, page in enumerate(papers.pages):
        sheet = page.tile.sheet if page.tile is not None else f"page {number}"
        column, row = (page.tile.column, page.tile.row) if page.tile is not None else (0, 0)
        for spot in page.spots:
            name = spot.face.template.piece.id
            fits = any(
                w <= frame.width and h <= frame.height
                for w, h in (
                    (spot.face.occupied.width, spot.face.occupied.height),
                    (spot.face.occupied.height, spot.face.occupied.width),
                )
            )
            placed = spot.face.occupied.placed(spot.pose).polygon
            assert spot.whole == usable.covers(placed)
            assert spot.whole or not fits
            x, y = column * (frame.width - OVERLAP), row * (frame.height - OVERLAP)
            sheets.setdefault(sheet, {})[name] = translate(placed, x, y)
    seen = [name for lying in sheets.values() for name in lying]
    assert sorted(seen) == sorted(p.id for p in pieces)
    for lying in sheets.values():
        for (_, one), (_, other) in combinations(lying.items(), 2):
            assert one.distance(other) >= APART - 0.02
    assert len(papers.pages) >= papers.bound


def test_small_templates_share_a_page():
    pages = pages_of(*(piece(f"p{k}", 60, 40) for k in range(14))).pages
    assert sum(len(p.spots) for p in pages) == 14
    assert len(pages) < 4


def test_what_is_left_of_taped_pages_is_used():
    papers = pages_of(piece("wide", 300, 100), *(piece(f"p{k}", 80, 60) for k in range(8)))
    assert len(papers.pages) == 2
    assert {p.tile.sheet for p in papers.pages} == {1}


def test_a_template_is_turned_where_that_saves_paper():
    (page,) = pages_of(piece("long", 240, 50)).pages
    assert page.spots[0].pose.rotation in (90, 270)
    assert page.tile is None


def test_a_wide_piece_runs_over_named_pages():
    pages = pages_of(piece("wide", 500, 400)).pages
    assert [p.tile.name for p in pages] == ["1-A1", "1-B1", "1-C1", "1-A2", "1-B2", "1-C2"]
    assert [column_letter(k) for k in (0, 25, 26, 27, 701)] == ["A", "Z", "AA", "AB", "ZZ"]


def test_pages_without_any_of_the_piece_are_left_out():
    corner = Shape.make([(0, 0), (700, 0), (700, 20), (20, 20), (20, 900), (0, 900)])
    pages = pages_of(Piece("l", "l", corner)).pages
    assert len(pages) < pages[0].tile.columns * pages[0].tile.rows
    assert {(p.tile.column, p.tile.row) for p in pages} == set(pages[0].tile.pages)


def test_a_roll_takes_everything_on_one_page_as_long_as_it_must_be():
    papers = pages_of(piece("wide", 500, 400), piece("long", 1500, 100), paper=Paper.ROLL_24)
    (page,) = papers.pages
    assert page.size[1] == pytest.approx(609.6)
    assert 1500 <= page.size[0] <= 1560
    with pytest.raises(InputError, match="larger than the roll"):
        pages_of(piece("huge", 700, 700), paper=Paper.ROLL_24)


def test_more_than_one_roll_page_holds_are_two_pages():
    papers = pages_of(*(piece(f"p{k}", 4000, 300) for k in range(3)), paper=Paper.ROLL_24)
    assert [len(p.spots) for p in papers.pages] == [1, 1, 1]
    assert papers.bound == math.ceil(3 * 4000 * 300 / (609.6 - 2 * 10 - 16))


# Templates


def words_of(made):
    return template_words(plain(made)[0], NAMES, "2026-11-28 · version ABCD")


def test_a_template_says_everything_a_maker_needs():
    made = piece("cuff", 100, 80, hand=Hand.PAIR, count=2, turn=Turn.DIRECTION)
    words = " ".join(words_of(made))
    for wanted in (
        "1 cuff",
        "cut 2 left as drawn, 2 right flipped",
        "6 mm EVA foam",
        "skin face up",
        "along the sheet",
        "100 %",
        "2026-11-28",
        "version ABCD",
    ):
        assert wanted in words
    other = words_of(piece("x", 9, 9, hand=Hand.LEFT, face=FaceUp.EITHER))
    assert "cut 1 left" in other[1]
    assert "either face up" in other[1]
    assert re.fullmatch(r"IQ [2-9A-Z]{6} [2-9A-Z]{5}", other[-1])


def test_every_page_has_its_label_and_check_bars():
    pdf = pdf_of(piece("wide", 500, 400), piece("small", 90, 60), piece("full", 185, 255))
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        assert len(document.pages) == 7
        for number, page in enumerate(document.pages, 1):
            text = page.extract_text()
            assert "100 mm: measure before you cut" in text
            assert re.search(rf"Suit · \w{{4}} · {number} of 7", text)
            upright = [
                (line["bottom"] - line["top"]) * 25.4 / 72
                for line in page.lines
                if abs(line["x1"] - line["x0"]) < 1e-6
            ]
            assert any(abs(length - 50) < 0.01 for length in upright)
        assert "page 1-A1" in document.pages[0].extract_text()
        assert "tape sheet 1: column 1 of 3, row 1 of 2" in document.pages[0].extract_text()
        assert "1 template" in document.pages[6].extract_text()


def test_registration_crosses_of_neighbours_are_the_same_points():
    made = piece("wide", 500, 100)
    pages = pages_of(made).pages
    crosses = []
    with pdfplumber.open(io.BytesIO(pdf_of(made))) as document:
        for plan_page, page in zip(pages, document.pages, strict=True):
            ox, oy = PageFrame(PAGE_SIZE[Paper.A4]).origin
            spots = set()
            for line in page.lines:
                x0, x1 = line["x0"] * 25.4 / 72, line["x1"] * 25.4 / 72
                y0, y1 = line["y0"] * 25.4 / 72, line["y1"] * 25.4 / 72
                if abs(x1 - x0 - 8) < 0.01 and abs(y1 - y0) < 0.01:
                    at = plan_page.spots[0].pose.unapply(((x0 + x1) / 2 - ox, y0 - oy))
                    spots.add((round(at[0], 2), round(at[1], 2)))
            crosses.append(spots)
    assert all(len(a & b) == 2 for a, b in pairwise(crosses))


def test_words_stand_on_a_tag_where_the_foam_has_no_room_also_on_taped_pages():
    slender = Piece("s", "sliver", Shape.make([(0, 0), (600, 0), (600, 3), (0, 2)]))
    tiny = piece("tiny", 12, 12)
    papers = pages_of(slender, tiny)
    faces = {s.face.template.piece.id: s.face for p in papers.pages for s in p.spots}
    assert faces["s"].tag is not None
    assert faces["tiny"].tag is not None
    data = pdf_of(slender, tiny)
    with pdfplumber.open(io.BytesIO(data)) as document:
        written = "".join(c["text"] for page in document.pages for c in page.chars)
    for face in faces.values():
        assert face.template.code in written
        # Outline and tag hang together: they are cut out as one.
        assert face.occupied.area > face.template.piece.shape.area + 100


def test_words_keep_clear_of_lines_and_marks():
    line = PieceLine(LineKind.SCORE, np.array([[5.0, 30], [195, 30]]))
    plate = piece("plate", 200, 60, lines=(line,), match_marks=((100, 0), (100, 60)))
    (page,) = pages_of(plate).pages
    face = page.spots[0].face
    x, y = face.at
    assert abs(y - 30) >= face.block.height / 2
    assert abs(x - 100) >= face.block.width / 2 or y - face.block.height / 2 >= 11


def test_strips_are_told_in_numbers_where_that_is_wished():
    strip, plate = piece("rim", 400, 15, count=3), piece("plate", 90, 60)
    papers = pages_of(strip, plate, strips=True)
    assert [t.piece.name for t in papers.strips] == ["rim"]
    text = text_of(pdf_of(strip, plate, strips=True))
    assert "Straight strips: cut by numbers" in text
    assert "400 × 15 mm" in text
    assert "cut 3 · 6 mm EVA foam" in text
    assert "cut by numbers" not in text_of(pdf_of(strip, plate))
    scored = piece("rim", 400, 15, lines=(PieceLine(LineKind.SCORE, np.array([[9, 9], [90, 9]])),))
    assert not plain(scored)[0].is_strip
    assert not plain(piece("block", 100, 60))[0].is_strip


def test_no_pieces_give_a_page_that_says_so():
    assert "No pieces" in text_of(pdf_of())


# Cut sheets


def laid():
    plate = Shape.make([(0, 0), (120, 0), (120, 70), (0, 70)], [[(40, 20), (60, 20), (50, 40)]])
    pieces = (Piece("plate", "Plate & co", plate, count=2), piece("strip", 300, 15))
    stock = ShopStock(
        (
            sheet("half", "half sheet", EVA6, (400, 200), owned=1, price=Decimal(9)),
            sheet("r", "roll", EVA6, (3000, 300), kind=StockKind.ROLL, price=Decimal(10)),
        ),
        (Material("eva", "EVA foam", True),),
    )
    placements = (
        Placement("plate", 0, "own:half", 0, Pose(10, 10)),
        Placement("plate", 1, "own:half", 0, Pose(280, 140, 90, True)),
        Placement("strip", 0, "buy:r", 0, Pose(5, 5)),
    )
    project = keep_layout(Project("Suit", pieces), KeptLayout(EVA6, placements))
    return derive(project, stock)


def test_cut_sheets_hold_what_the_layout_holds():
    sheets = cut_sheets(laid())
    assert [len(s.parts) for s in sheets] == [1, 2]
    assert [s.owned for s in sheets] == [False, True]
    roll = sheets[0]
    assert roll.shape.width == pytest.approx(305)
    assert len({s.file_stem for s in sheets}) == 2
    assert all(re.fullmatch(r"[a-z0-9_-]+", s.file_stem) for s in sheets)


def test_a_cut_sheet_svg_reads_back_at_true_size():
    half = cut_sheets(laid())[1]
    reading = read_svg(cut_sheet_svg(half), file="cut.svg")
    plate = 120 * 70 - 20 * 20 / 2
    assert [p.shape.area for p in reading.pieces] == pytest.approx([plate, plate], rel=1e-6)
    svg = cut_sheet_svg(half).decode()
    assert 'width="400.0000mm" height="200.0000mm" viewBox="0 0 400.0000 200.0000"' in svg
    assert "Plate &amp; co 1/2" in svg
    assert "(flipped)" in svg
    assert svg.count('id="plate-') == 2
    layers = re.findall(r'inkscape:label="([\w ]+)"', svg)
    assert layers == ["stock sheet", "cut", "score", "labels"]


def test_the_cut_sheet_pdf_lists_what_is_cut():
    plan = laid()
    text = text_of(cut_sheets_pdf(cut_sheets(plan), Paper.A4, "Suit"))
    for wanted in (
        "6 mm EVA foam: sheet 2",
        "half sheet (from the shelf)",
        "2 × Plate & co",
        "1 × strip",
        "2 parts",
        CAUTION,
    ):
        assert wanted in text
    assert "No layout yet" in text_of(cut_sheets_pdf([], Paper.A4, "Suit"))


def test_the_cut_sheets_say_where_offcuts_and_first_parts_are():
    plan = laid()
    text = text_of(plan_cut_sheets_pdf(plan))
    rests = planned_rests(plan)
    offcuts = [(label, rest) for rest in rests.values() for label, _ in rest.places]
    assert offcuts
    for label, rest in offcuts:
        (item,) = (i for i in rest.items if i.id == label)
        assert f"{label} offcut, {item.size_text}" in text
    assert "either face up" in text
    half = cut_sheets(plan)[1]
    part, placement = half.in_order[0]
    x, y, _, _ = part.shape.placed(placement.pose).bounds
    assert f"{x:.0f} mm along, {y:.0f} mm up from 0" in text


def test_reports_of_a_plan(tmp_path):
    plan = laid()
    data = plan_json(plan)
    assert data["ledger"]["parts"] == 3
    assert data["ledger"]["cost"] == "3.05"
    assert {line["item"] for line in data["purchase"]} == {"half", "r"}
    text = plan_text(plan)
    assert "6 mm EVA foam: 3 parts" in text
    assert "1 × half sheet (shelf)" in text
    paths = write_papers(plan, tmp_path / "out", papers_of(plan, first_layout))
    assert sorted(p.suffix for p in paths) == [".pdf", ".pdf", ".svg", ".svg"]
    assert all(p.stat().st_size > 500 for p in paths)


# Templates that say everything


def test_a_template_names_its_lines_and_carries_the_makers_words():
    lines = tuple(
        PieceLine(kind, np.array([[20.0 + 20 * k, 20], [20.0 + 20 * k, 90]]))
        for k, kind in enumerate(own.DRAWN)
    )
    plate = piece(
        "plate",
        160,
        120,
        lines=lines,
        labels=(Label("buckle here", (80, 105)),),
        match_marks=((80, 0),),
    )
    pdf = pdf_of(plate)
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        written = "".join(c["text"] for c in document.pages[0].chars)  # as drawn, upright or not
    for word in ("buckle here", "score", "fold", "undercut", "mark", "centre", "direction"):
        assert word in written


def test_halves_are_said_to_be_flipped():
    centre = PieceLine(LineKind.CENTRE, np.array([[90.0, 0], [90.0, 120]]))
    plate = piece("plate", 180, 120, lines=(centre,))
    for halves, width, said in ((True, 90, True), (False, 180, False)):
        papers = project_papers(Project(pieces=(plate,), halves=halves))
        (template,) = papers.templates
        assert template.piece.shape.width == pytest.approx(width)
        text = text_of(templates_pdf(papers, "Suit", NAMES))
        assert ("flip over the fold" in text) == said


@pytest.mark.parametrize("measured", [99.2, 101.0])
def test_a_corrected_print_measures_true_on_its_printer(measured):
    """What the printer makes of the page, × measured ÷ 100, is the piece's true size again."""
    plate = piece("plate", 150, 100)
    pdf = pdf_of(plate, correction=100 / measured)
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        page = document.pages[0]
        assert (float(page.width), float(page.height)) == pytest.approx((595.28, 841.89), abs=0.1)
        box = max(page.curves + page.rects + page.lines, key=lambda o: o["width"] * o["height"])
    mm = 25.4 / 72 * measured / 100
    sides = sorted(float(box[side]) * mm for side in ("width", "height"))
    assert sides == pytest.approx([100, 150], abs=0.05)


@pytest.mark.parametrize("paper", PAGED)
def test_large_paper_needs_fewer_pages(paper):
    big = piece("big", 700, 500)
    pages = pages_of(big, paper=paper).pages
    frame = frame_of(paper)
    assert len(pages) * frame.width * frame.height >= 700 * 500
    assert (len(pages) == 1) == (paper in (Paper.A1, Paper.A0))


def test_only_what_is_scored_lies_on_the_score_layer():
    lines = tuple(
        PieceLine(kind, np.array([[20.0 + 10 * k, 20], [20.0 + 10 * k, 60]]))
        for k, kind in enumerate(own.DRAWN)
    )
    plate = piece("a", 150, 100, lines=lines)
    owned = sheet("S", "S", EVA6, (400, 300), owned=1)
    stock = ShopStock((owned,), (Material("eva", "EVA", True),))
    spot = Placement("a", 0, "own:S", 0, Pose(20, 20))
    plan = derive(keep_layout(Project(pieces=(plate,)), KeptLayout(EVA6, (spot,))), stock)
    svg = cut_sheet_svg(cut_sheets(plan)[0]).decode()
    layers = re.findall(r'inkscape:label="([^"]+)"', svg)
    assert layers == ["stock sheet", "cut", "score", "fold", "undercut", "marks", "labels"]
    score = svg.split('inkscape:label="score"')[1].split("</g>")[0]
    assert score.count("<path") == 1
