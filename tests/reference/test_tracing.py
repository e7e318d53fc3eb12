"""Twenty pieces drawn on paper, pictured by the simulated scanner, and traced back.

The pieces are the demo's, the pictures the scanner's (by seed); areas and distances are measured
by a general geometry library. The limits are those that the project promises.

So that the tracer is not judged by our own scanner alone, outlines are also drawn by ReportLab and
made into pictures by PDFium (pypdfium2), and drawn by Pillow.
"""

import io

import numpy as np
import pypdfium2
import pytest
from PIL import Image, ImageDraw
from reportlab.pdfgen import canvas
from shapely import LinearRing

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.reading.tracing.picture import Ink, PictureScale
from ivory_quilt.demo.project import demo_project
from ivory_quilt.devices.scanner import FLAT_300, PHONE, ScanConditions, png, scan
from ivory_quilt.files.picture_read import read_picture

A3, A4 = (420.0, 297.0), (210.0, 297.0)
MM = 72 / 25.4  # points
PHOTOS, SCANS = 6, 7  # sheets that twenty pieces, and eight smaller ones, need


def sheets(paper, count):
    """The demo's smaller pieces set in rows on as many sheets as they need, 12 mm apart."""
    pieces = [p.shape for p in demo_project().pieces if max(p.shape.width, p.shape.height) < 262]
    pieces = sorted(pieces, key=lambda s: -s.height)[:count]
    made, x, y, row = [[]], 14.0, 14.0, 0.0
    for shape in pieces:
        if x + shape.width > paper[0] - 14:
            x, y, row = 14.0, y + row + 12.0, 0.0
        if y + shape.height > paper[1] - 14:
            made.append([])
            x, y, row = 14.0, 14.0, 0.0
        x0, y0, _, _ = shape.bounds
        move = np.array([x - x0, y - y0])
        made[-1].append(Shape.make(shape.outer + move, [h + move for h in shape.holes]))
        x += shape.width + 12.0
        row = max(row, shape.height)
    assert sum(map(len, made)) == count
    return [sheet for sheet in made if sheet]


def apart(a, b):
    """Hausdorff distance of two outlines, by points every half millimetre."""
    one, other = LinearRing(a), LinearRing(b)
    return max(
        one.segmentize(0.5).hausdorff_distance(other), other.segmentize(0.5).hausdorff_distance(one)
    )


def check(drawn, paper, how, scale, seed, most_area, most_apart):
    reading = read_picture(png(scan(drawn, paper, how, seed=seed)), scale=scale)
    found = [p.shape for p in reading.pieces]
    assert len(found) == len(drawn)
    for shape in drawn:
        back = max(found, key=lambda f: f.polygon.intersection(shape.polygon).area)
        assert back.area == pytest.approx(shape.area, rel=most_area)
        assert apart(back.outer, shape.outer) < most_apart
        assert len(back.holes) == len(shape.holes)
        for hole in shape.holes:
            assert min(apart(hole, h) for h in back.holes) < most_apart


@pytest.mark.parametrize("number", range(1, PHOTOS + 1))
def test_photos_at_150_dpi_with_perspective_uneven_light_and_noise(number):
    drawn = sheets(A3, 20)
    assert len(drawn) == PHOTOS
    scale = PictureScale(rectangle=A3)
    check(drawn[number - 1], A3, PHONE, scale, number, most_area=0.01, most_apart=0.6)


@pytest.mark.parametrize("number", range(1, SCANS + 1))
def test_flat_scans_at_300_dpi(number):
    drawn = sheets(A4, 8)
    assert len(drawn) == SCANS
    scale = PictureScale(dpi=300.0)
    check(drawn[number - 1], A4, FLAT_300, scale, number, most_area=0.01, most_apart=0.25)


@pytest.mark.parametrize("seed", range(3))
def test_a_sheets_long_side_is_its_long_side_however_it_lies(seed):
    plate = Shape.make([(60, 40), (150, 40), (150, 100), (90, 140), (60, 120)])
    how = ScanConditions(dpi=110.0, skew=(-8.0, 5.0, 12.0)[seed], perspective=0.05, blur=0.8)
    picture = png(scan([plate], (210.0, 297.0), how, seed))
    for rectangle in ((210.0, 297.0), (297.0, 210.0)):
        (piece,) = read_picture(picture, scale=PictureScale(rectangle=rectangle)).pieces
        assert apart(piece.shape.outer, plate.outer) < 0.6


def test_a_deep_narrow_notch_comes_back():
    # The two lines of the notch run together well before its tip.
    notch = Shape.make([(20, 20), (80, 20), (80, 90), (51.2, 90), (50, 50), (48.8, 90), (20, 90)])
    (piece,) = read_picture(
        png(scan([notch], (100.0, 110.0), FLAT_300, 3)), scale=PictureScale(dpi=300.0)
    ).pieces
    assert apart(piece.shape.outer, notch.outer) < 1.0
    assert piece.shape.area == pytest.approx(notch.area, rel=0.005)


# Pictures that our own scanner has no hand in


def drawn_by_reportlab(shapes, paper, pen):
    """A PDF page with outlines stroked `pen` mm wide."""
    out = io.BytesIO()
    page = canvas.Canvas(out, pagesize=(paper[0] * MM, paper[1] * MM))
    page.setLineWidth(pen * MM)
    page.setLineJoin(0)
    for shape in shapes:
        path = page.beginPath()
        for ring in shape.rings:
            (x, y), *rest = (ring * MM).tolist()
            path.moveTo(x, y)
            for x, y in rest:
                path.lineTo(x, y)
            path.close()
        page.drawPath(path, stroke=1, fill=0)
    page.showPage()
    page.save()
    return out.getvalue()


def rendered_by_pdfium(pdf, dpi):
    """The page as an independent renderer draws it, antialiased, as the bytes of a PNG file."""
    picture = pypdfium2.PdfDocument(pdf)[0].render(scale=dpi / 72).to_pil()
    out = io.BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize(
    ("dpi", "pen", "most"), [(150, 0.7, 0.25), (200, 1.2, 0.2), (300, 0.5, 0.15)]
)
def test_outlines_rendered_by_pdfium_come_back(dpi, pen, most):
    drawn = sheets(A4, 4)[0]
    picture = rendered_by_pdfium(drawn_by_reportlab(drawn, A4, pen), dpi)
    found = [p.shape for p in read_picture(picture, scale=PictureScale(dpi=dpi)).pieces]
    assert len(found) == len(drawn)
    for shape in drawn:
        back = max(found, key=lambda f: f.polygon.intersection(shape.polygon).area)
        assert back.area == pytest.approx(shape.area, rel=0.005)
        assert apart(back.outer, shape.outer) < most
        assert len(back.holes) == len(shape.holes)


@pytest.mark.parametrize(("ink", "off"), [("inside", -0.5), ("middle", 0.0), ("outside", 0.5)])
def test_the_side_of_a_rendered_line_is_where_it_was_said(ink, off):
    """A line 1 mm wide about a plate of 80 by 50: half of it lies to either side."""
    plate = Shape.make([(40, 60), (120, 60), (120, 110), (40, 110)])
    picture = rendered_by_pdfium(drawn_by_reportlab([plate], A4, 1.0), 200)
    (piece,) = read_picture(picture, scale=PictureScale(dpi=200), ink=Ink(ink)).pieces
    assert piece.shape.width == pytest.approx(80 + 2 * off, abs=0.15)
    assert piece.shape.height == pytest.approx(50 + 2 * off, abs=0.15)


def test_lines_drawn_by_pillow_come_back():
    """Pillow draws lines of whole pixels without smoothing, the other way a raster may look."""
    corners = [(30, 40), (150, 35), (170, 120), (90, 160), (25, 130)]
    dpi, high = 150.0, 200.0
    picture = Image.new("L", (1200, round(high / 25.4 * dpi)), 255)
    points = [(x / 25.4 * dpi, (high - y) / 25.4 * dpi) for x, y in corners]
    ImageDraw.Draw(picture).line([*points, points[0], points[1]], fill=20, width=5, joint="curve")
    out = io.BytesIO()
    picture.save(out, "PNG")
    (piece,) = read_picture(out.getvalue(), scale=PictureScale(dpi=dpi)).pieces
    true = Shape.make(corners)
    assert piece.shape.area == pytest.approx(true.area, rel=0.005)
    x0, y0, _, _ = piece.shape.bounds
    moved = piece.shape.outer + np.array([25 - x0, 35 - y0])
    assert apart(moved, true.outer) < 0.35
