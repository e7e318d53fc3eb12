"""Patterns written by other programs come in with every area, length, hole and hand.

Written by: cairo 1.16 (tests/data/cairo.svg and .pdf, one drawing in both), the SVG optimiser scour
0.38 (cairo-optimised.svg: the same, its numbers rounded, shapes merged), reportlab (PDF),
svgwrite (in test_svg_writers), the DXF library ezdxf, and an office suite's drawing module, run
headless on tests/data/office.fodg (its own drawing format). Expected figures are worked by hand.
"""

import io
import math
from itertools import pairwise
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from reportlab.pdfgen.canvas import Canvas
from shapely import Polygon

from ivory_quilt.files.drawings import ReadOptions, read_drawing

DATA = Path(__file__).parents[1] / "data"
MM = 72 / 25.4


@pytest.mark.parametrize("name", ["cairo.svg", "cairo.pdf", "cairo-optimised.svg"])
def test_cairos_drawing_is_the_same_in_both_of_its_formats(name):
    reading = read_drawing((DATA / name).read_bytes(), name)
    plate, disc, hook, leaf = (p.shape for p in reading.pieces)  # in the order of drawing
    assert plate.area == pytest.approx(80 * 50 - 20 * 15, rel=1e-3)
    assert len(plate.holes) == 1
    assert plate.outline_length == pytest.approx(260, rel=1e-3)
    assert disc.area == pytest.approx(math.pi * 625, rel=1e-3)
    assert disc.outline_length == pytest.approx(50 * math.pi, rel=1e-3)
    # A bar of 60 × 20 and a leg of 20 × 40 below its left end; the other hand has it right.
    assert hook.area == pytest.approx(60 * 20 + 20 * 40, rel=1e-3)
    x0, _, _, y1 = hook.bounds
    inner = np.hypot(*(hook.outer - [x0 + 20, y1 - 20]).T).min()
    assert inner < 0.05
    assert leaf.area == pytest.approx(_leaf_area(), rel=1e-3)


@pytest.mark.parametrize("name", ["office.svg", "office.pdf"])
def test_an_office_suites_drawing_export(name):
    reading = read_drawing((DATA / name).read_bytes(), name)
    blade, disc, arch, slab = (p.shape for p in reading.pieces)
    assert reading.problems == ()
    assert all(p.name.startswith("Piece ") for p in reading.pieces)  # it names by number only
    # 80 × 60 mm less a corner of 50 × 40 ÷ 2; the suite itself rounds to hundredths of a mm.
    assert blade.area == pytest.approx(80 * 60 - 50 * 40 / 2, rel=1e-3)
    assert blade.outline_length == pytest.approx(80 + 20 + math.hypot(50, 40) + 30 + 60, rel=1e-3)
    assert disc.area == pytest.approx(math.pi * 625, rel=1e-3)
    # Between a cubic and its chord: ∫ 150 t(1−t) · 600 t(1−t) dt = 90000/30; a slot of 20 × 10.
    assert arch.area == pytest.approx(90000 / 30 - 200, rel=1e-3)
    assert len(arch.holes) == 1
    assert slab.area == pytest.approx(40 * 70, rel=1e-3)
    # The blade's long side is on the left, its point to the right: the hand is kept.
    x0, y0, x1, _ = blade.bounds
    assert np.hypot(*(blade.outer - [x0, y0]).T).min() < 0.05
    assert np.hypot(*(blade.outer - [x1, y0]).T).min() > 20


def _leaf_area():
    """Area under a cubic, by Green's theorem on its control points (exact for a cubic)."""
    x, y = (100, 130, 170, 190), (100, 80, 80, 110)
    weights = ((0, 6, 3, 1), (-6, 0, 3, 3), (-3, -3, 0, 6), (-1, -3, -6, 0))
    twice = sum(w * x[i] * y[j] for i, row in enumerate(weights) for j, w in enumerate(row)) / 10
    straight = [(190, 110), (190, 140), (100, 140), (100, 100)]
    twice += sum(a[0] * b[1] - a[1] * b[0] for a, b in pairwise(straight))
    return abs(twice) / 2


def pdf(draw, size=(210 * MM, 297 * MM), pages=1):
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=size)
    for page in range(pages):
        draw(canvas, page)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def test_a_pdf_of_several_pages_at_true_size_with_its_writing():
    def draw(canvas, page):
        canvas.saveState()
        canvas.translate(20 * MM, 30 * MM)
        canvas.rotate(30)
        path = canvas.beginPath()
        path.rect(0, 0, (100 + page) * MM, 40 * MM)
        path.circle(20 * MM, 20 * MM, 5 * MM)
        canvas.drawPath(path)
        canvas.restoreState()
        canvas.circle(60 * MM, 200 * MM, 30 * MM)
        canvas.setFont("Helvetica", 14)
        canvas.drawCentredString(60 * MM, 205 * MM, "knee cup")
        canvas.drawCentredString(60 * MM, 190 * MM, "cut 2  10mm")

    reading = read_drawing(pdf(draw, pages=3), "pages.pdf")
    assert [p.page for p in reading.pieces] == [1, 1, 2, 2, 3, 3]
    assert len({p.id for p in reading.pieces}) == 6
    for k in range(3):
        band, cup = sorted(
            (p for p in reading.pieces if p.page == k + 1), key=lambda p: -p.shape.area
        )
        assert band.shape.area == pytest.approx((100 + k) * 40 - math.pi * 25, rel=1e-3)
        assert len(band.shape.holes) == 1
        assert cup.shape.area == pytest.approx(math.pi * 900, rel=1e-3)
        assert (cup.hints.quantity, cup.hints.thickness) == (2, 10.0)
        assert cup.name.startswith("knee cup")


def test_a_pages_user_unit_is_part_of_its_scale():
    # ISO 32000-1, 8.3.2.3: one unit is UserUnit × 1/72 in.
    data = pdf(lambda c, _: c.rect(10, 10, 72, 36))
    assert b"/MediaBox" in data
    scaled = data.replace(b"/Rotate 0", b"/UserUnit 2", 1)
    assert b"/UserUnit 2" in scaled
    plain, large = (read_drawing(d, "unit.pdf").pieces[0].shape for d in (data, scaled))
    assert plain.width == pytest.approx(25.4)
    assert large.width == pytest.approx(50.8)


def test_what_a_pdf_fills_as_paper_and_what_it_only_clips_are_no_pieces():
    def draw(canvas, _):
        canvas.setFillColorRGB(1, 1, 1)
        canvas.rect(0, 0, 210 * MM, 297 * MM, stroke=0, fill=1)
        path = canvas.beginPath()
        path.rect(5 * MM, 5 * MM, 200 * MM, 200 * MM)
        canvas.clipPath(path, stroke=0, fill=0)
        canvas.rect(20 * MM, 20 * MM, 50 * MM, 40 * MM)

    (piece,) = read_drawing(pdf(draw), "paper.pdf").pieces
    assert piece.shape.area == pytest.approx(2000, rel=1e-3)


def dxf(draw, unit=4):
    document = ezdxf.new(setup=True)
    document.header["$INSUNITS"] = unit
    draw(document, document.modelspace())
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def areas(reading):
    return sorted(p.shape.area for p in reading.pieces)


def test_dxf_outlines_of_every_kind():
    def draw(_, space):
        space.add_circle((0, 0), 20)
        space.add_ellipse((100, 0), major_axis=(30, 0), ratio=0.5)
        # A slot: two straight sides, and bulges of 1, which are half circles.
        space.add_lwpolyline(
            [(200, 0, 0), (240, 0, 1), (240, 20, 0), (200, 20, 1)], format="xyb", close=True
        )
        # A quarter disc in three separate strokes, one of them drawn backwards.
        space.add_line((300, 0), (340, 0))
        space.add_arc((300, 0), 40, 0, 90)
        space.add_line((300, 0), (300, 40))
        space.add_lwpolyline([(400, 0), (460, 0), (460, 30), (400, 30)], close=True)
        space.add_circle((430, 15), 5)

    reading = read_drawing(dxf(draw), "kinds.dxf")
    expected = [
        math.pi * 400,
        math.pi * 30 * 15,
        40 * 20 + math.pi * 100,
        math.pi * 400,
        60 * 30 - math.pi * 25,
    ]
    assert areas(reading) == pytest.approx(sorted(expected), rel=1e-3)
    assert reading.problems == ()


def test_dxf_splines_keep_their_length():
    # A clamped cubic B-spline on four points is one cubic Bézier; here x = 60t, y = 60t(1 − t),
    # and its area above the chord is 3600 ∫ t(1 − t) dt = 600.
    def draw(_, space):
        space.add_open_spline([(0, 0), (20, 20), (40, 20), (60, 0)])
        space.add_line((60, 0), (0, 0))

    (piece,) = read_drawing(dxf(draw), "spline.dxf").pieces
    assert piece.shape.area == pytest.approx(600, rel=1e-3)


def test_dxf_blocks_are_followed_with_their_transforms():
    def draw(document, space):
        block = document.blocks.new("TAB")
        block.add_lwpolyline([(0, 0), (10, 0), (10, 20), (0, 20)], close=True)
        outer = document.blocks.new("TWO")
        outer.add_blockref("TAB", (0, 0))
        outer.add_blockref("TAB", (30, 0), dxfattribs={"xscale": 2, "yscale": 1, "rotation": 90})
        space.add_blockref("TWO", (100, 50), dxfattribs={"xscale": 3, "yscale": 3, "layer": "cut"})

    reading = read_drawing(dxf(draw), "blocks.dxf")
    assert areas(reading) == pytest.approx([200 * 9, 400 * 9])
    assert {p.layer for p in reading.pieces} == {"cut"}


def test_a_mirrored_block_is_the_other_hand():
    def draw(document, space):
        block = document.blocks.new("HOOK")
        block.add_lwpolyline([(0, 0), (30, 0), (30, 10), (10, 10), (10, 40), (0, 40)], close=True)
        space.add_blockref("HOOK", (0, 0))
        space.add_blockref("HOOK", (100, 0), dxfattribs={"xscale": -1})

    one, other = read_drawing(dxf(draw), "hands.dxf").pieces
    flipped = one.shape.mirrored()
    x0, y0, _, _ = other.shape.bounds
    u0, v0, _, _ = flipped.bounds
    moved = flipped.outer + np.array([x0 - u0, y0 - v0])
    assert other.shape.polygon.symmetric_difference(Polygon(moved)).area < 1e-6


@pytest.mark.parametrize(("unit", "mm"), [(1, 25.4), (4, 1.0), (5, 10.0), (6, 1000.0)])
def test_the_units_header_gives_the_scale(unit, mm):
    # DXF reference, header variable $INSUNITS: 1 inches, 4 millimetres, 5 centimetres, 6 metres.
    def draw(_, space):
        space.add_lwpolyline([(0, 0), (3, 0), (3, 2), (0, 2)], close=True)

    (piece,) = read_drawing(dxf(draw, unit), "unit.dxf").pieces
    assert piece.shape.area == pytest.approx(6 * mm * mm)


def test_a_dxf_without_units_asks_for_a_known_length():
    def draw(_, space):
        space.add_lwpolyline([(0, 0), (30, 0), (30, 20), (0, 20)], close=True)

    data = dxf(draw, 0)
    assert read_drawing(data, "bare.dxf").needs_scale
    known = read_drawing(data, "bare.dxf", ReadOptions(mm_per_unit=2.0))
    assert not known.needs_scale
    assert areas(known) == [2400]


def test_dxf_writing_layers_and_what_is_hidden():
    def draw(document, space):
        document.layers.add("cut")
        document.layers.add("score")
        document.layers.add("notes").off()
        space.add_lwpolyline(
            [(0, 0), (60, 0), (60, 40), (0, 40)], close=True, dxfattribs={"layer": "cut"}
        )
        space.add_line((30, 5), (30, 35), dxfattribs={"layer": "score"})
        space.add_circle((200, 0), 10, dxfattribs={"layer": "notes"})
        space.add_text("cut 4").set_placement((10, 20))
        space.add_mtext("left\\P8mm", dxfattribs={"insert": (35, 30)})

    (piece,) = read_drawing(dxf(draw), "words.dxf").pieces
    assert piece.layer == "cut"
    assert len(piece.lines) == 1
    assert (piece.hints.quantity, piece.hints.thickness) == (4, 8.0)
    assert piece.hints.hand == "left"
