import io
import re
from decimal import Decimal
from itertools import pairwise

import numpy as np
import pdfplumber
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import KeptLayout, Paper, Project, keep_layout
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Label, LineKind, Piece, PieceLine, Turn
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stock.foam_stock import Material, ShopStock, StockKind, sheet
from ivory_quilt.files.papers.cut_sheets import (
    CAUTION,
    cut_sheet_svg,
    cut_sheets,
    cut_sheets_pdf,
)
from ivory_quilt.files.papers.templates import template_pieces, template_words, templates_pdf
from ivory_quilt.files.papers.tiling import (
    OVERLAP,
    PAGE_SIZE,
    PageFrame,
    column_letter,
    plan_pages,
)
from ivory_quilt.files.plan_report import plan_json, plan_text, write_papers
from ivory_quilt.files.svg_read import read_svg
from tests import strategies as own
from tests.effort import random_cases

EVA6 = Foam(6.0, "eva")
NAMES = {"eva": "EVA foam"}


def piece(ident, width, height, **rest):
    return Piece(ident, ident, rectangle(width, height), **rest)


def text_of(pdf, page=None):
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        pages = document.pages if page is None else [document.pages[page]]
        return "\n".join(p.extract_text() for p in pages)


# Tiling


@random_cases(60, 600)
@given(st.floats(20, 900), st.floats(20, 900), st.sampled_from(list(Paper)))
def test_tiles_cover_every_template_and_overlap(width, height, paper):
    pages = plan_pages((piece("a", width, height),), paper)
    frame = PageFrame(PAGE_SIZE[paper])
    covered = None
    from shapely import box, union_all

    windows = []
    for page in pages:
        (spot,) = page.spots
        # The page's window in the piece's own coordinates.
        window = box(0, 0, frame.width, frame.height)
        seen = spot.shape.polygon.intersection(window)
        corner = spot.pose.unapply((0.0, 0.0))
        opposite = spot.pose.unapply((frame.width, frame.height))
        windows.append(
            box(
                *sorted([corner[0], opposite[0]])[:1],
                min(corner[1], opposite[1]),
                max(corner[0], opposite[0]),
                max(corner[1], opposite[1]),
            )
        )
        assert seen.area > 0
    covered = union_all(windows)
    assert covered.buffer(1e-6).covers(rectangle(width, height).polygon)
    shared = sum(w.area for w in windows) - covered.area
    assert shared >= (len(windows) > 1) * OVERLAP * min(frame.width, frame.height) * 0.9 - 1e-6


def test_small_templates_share_a_page_without_overlap():
    many = tuple(piece(f"p{k}", 60, 40) for k in range(14))
    pages = plan_pages(many, Paper.A4)
    assert sum(len(p.spots) for p in pages) == 14
    assert len(pages) < 4
    for page in pages:
        for i, one in enumerate(page.spots):
            for other in page.spots[i + 1 :]:
                assert one.shape.polygon.distance(other.shape.polygon) > 1


def test_a_template_is_turned_where_that_saves_paper():
    (page,) = plan_pages((piece("long", 240, 50),), Paper.A4)
    assert page.spots[0].pose.rotation == 90
    assert page.tile is None


def test_a_wide_piece_runs_over_named_pages():
    pages = plan_pages((piece("wide", 500, 400),), Paper.A4)
    assert [p.tile.name for p in pages] == ["A1", "B1", "C1", "A2", "B2", "C2"]
    assert [column_letter(k) for k in (0, 25, 26, 27, 701)] == ["A", "Z", "AA", "AB", "ZZ"]


def test_pages_without_any_of_the_piece_are_left_out():
    corner = Shape.make([(0, 0), (700, 0), (700, 20), (20, 20), (20, 900), (0, 900)])
    pages = plan_pages((Piece("l", "l", corner),), Paper.A4)
    names = {p.tile.name for p in pages}
    assert len(pages) < pages[0].tile.columns * pages[0].tile.rows
    assert "A1" in names


# Templates


def test_a_template_says_everything_a_maker_needs():
    made = piece("cuff", 100, 80, hand=Hand.PAIR, count=2, turn=Turn.DIRECTION)
    words = " ".join(template_words(made, "EVA foam"))
    for wanted in (
        "cuff",
        "cut 2 left as drawn, 2 right flipped",
        "6 mm EVA foam",
        "skin face up",
        "along the sheet",
    ):
        assert wanted in words
    other = piece("x", 9, 9, hand=Hand.LEFT, face=FaceUp.EITHER)
    assert "cut 1 left" in template_words(other, "EVA foam")[1]
    assert "either face up" in template_words(other, "EVA foam")[2]


def test_every_page_has_its_label_and_check_bar():
    project = Project("Suit", (piece("wide", 500, 400), piece("small", 90, 60)))
    pdf = templates_pdf(project, project.pieces, NAMES)
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        assert len(document.pages) == 7
        for number, page in enumerate(document.pages, 1):
            text = page.extract_text()
            assert "100 mm: measure before you cut" in text
            assert f"Suit · {number} of 7" in text
        assert "wide: page A1" in document.pages[0].extract_text()
        assert "1 template" in document.pages[6].extract_text()


def test_registration_crosses_of_neighbours_are_the_same_points():
    project = Project("Suit", (piece("wide", 500, 100),))
    pages = plan_pages(project.pieces, project.paper)
    pdf = templates_pdf(project, project.pieces, NAMES)
    crosses = []
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        for plan_page, page in zip(pages, document.pages, strict=True):
            ox, oy = PageFrame(PAGE_SIZE[project.paper]).origin
            spots = set()
            for line in page.lines:
                x0, x1 = line["x0"] * 25.4 / 72, line["x1"] * 25.4 / 72
                y0, y1 = line["y0"] * 25.4 / 72, line["y1"] * 25.4 / 72
                if abs(x1 - x0 - 8) < 0.01 and abs(y1 - y0) < 0.01:
                    at = plan_page.spots[0].pose.unapply(((x0 + x1) / 2 - ox, y0 - oy))
                    spots.add((round(at[0], 2), round(at[1], 2)))
            crosses.append(spots)
    assert all(len(a & b) == 2 for a, b in pairwise(crosses))


def test_no_pieces_give_a_page_that_says_so():
    assert "No pieces" in text_of(templates_pdf(Project("Empty"), (), NAMES))


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


def test_reports_of_a_plan(tmp_path):
    plan = laid()
    data = plan_json(plan)
    assert data["ledger"]["parts"] == 3
    assert data["ledger"]["cost"] == "3.05"
    assert {line["item"] for line in data["purchase"]} == {"half", "r"}
    text = plan_text(plan)
    assert "6 mm EVA foam: 3 parts" in text
    assert "1 × half sheet (shelf)" in text
    paths = write_papers(plan, tmp_path / "out")
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
    pdf = templates_pdf(Project(pieces=(plate,)), (plate,), NAMES)
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        written = "".join(c["text"] for c in document.pages[0].chars)  # as drawn, upright or not
    for word in ("buckle here", "score", "fold", "undercut", "mark", "centre", "direction"):
        assert word in written


def test_halves_are_said_to_be_flipped():
    centre = PieceLine(LineKind.CENTRE, np.array([[90.0, 0], [90.0, 120]]))
    plate = piece("plate", 180, 120, lines=(centre,))
    project = Project(pieces=(plate,), halves=True)
    (half,) = template_pieces(project, project.pieces)
    assert half.shape.width == pytest.approx(90)
    assert "flip over the fold" in text_of(templates_pdf(project, project.pieces, NAMES))
    whole = Project(pieces=(plate,))
    assert "flip over" not in text_of(templates_pdf(whole, whole.pieces, NAMES))


@pytest.mark.parametrize("measured", [99.2, 101.0])
def test_a_corrected_print_measures_true_on_its_printer(measured):
    """What the printer makes of the page, × measured ÷ 100, is the piece's true size again."""
    plate = piece("plate", 150, 100)
    project = Project(pieces=(plate,))
    pdf = templates_pdf(project, project.pieces, NAMES, 100 / measured)
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        page = document.pages[0]
        assert (float(page.width), float(page.height)) == pytest.approx((595.28, 841.89), abs=0.1)
        box = max(page.curves + page.rects + page.lines, key=lambda o: o["width"] * o["height"])
    mm = 25.4 / 72 * measured / 100
    assert float(box["width"]) * mm == pytest.approx(150, abs=0.05)
    assert float(box["height"]) * mm == pytest.approx(100, abs=0.05)


@pytest.mark.parametrize("paper", list(Paper))
def test_large_paper_needs_fewer_pages(paper):
    big = piece("big", 700, 500)
    pages = plan_pages((big,), paper)
    frame = PageFrame(PAGE_SIZE[paper])
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
