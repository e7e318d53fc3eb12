"""Templates on paper: what a printer makes of them, and codes read by an independent reader.

True size: 1 in = 25.4 mm (international agreement of 1959), 1 pt = 1/72 in (ISO 32000-1, 8.3.2.3);
pages are drawn by the PDF library pdfium, which wrote none of them. Square codes: ISO/IEC 18004,
read by OpenCV's detector; the PDF library reportlab encoded them.
"""

import io

import cv2
import numpy as np
import pdfplumber
import pytest

from ivory_quilt.core.calculators.sizes import print_scale
from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.devices.printer import SimulatedPrinter
from ivory_quilt.files.code_read import codes_in
from ivory_quilt.files.papers.code_square import code_square
from ivory_quilt.files.papers.tiling import frame_of
from tests.papers import pages_of, pdf_of, plain

DPI = 300.0
PER_MM = DPI / 25.4
OVAL = np.linspace(0, 2 * np.pi, 300, endpoint=False)
SHAPES = {
    "plate": rectangle(150, 100),
    "leg": Shape.make([(0, 0), (170, 20), (140, 120), (20, 90)]),
    "oval": Shape.make(np.column_stack((85 * np.cos(OVAL), 60 * np.sin(OVAL)))),
}


def across(picture, place, normal, reach=7.0):
    """Return where ink lies along a normal, pixels from `place`, weighted by how dark it is."""
    steps = np.arange(-reach, reach + 0.1, 0.25)
    points = place[None] + steps[:, None] * normal[None]
    seen = cv2.remap(
        picture.astype(np.float32),
        points[None, :, 0].astype(np.float32),
        points[None, :, 1].astype(np.float32),
        cv2.INTER_LINEAR,
    )[0]
    ink = 255.0 - seen
    return float((ink * steps).sum() / ink.sum())


@pytest.mark.parametrize("name", list(SHAPES))
def test_a_printed_template_is_the_piece_within_half_a_pixel(name):
    made = Piece(name, name, SHAPES[name])
    (page,) = pages_of(made).pages
    (spot,) = page.spots
    picture = SimulatedPrinter(dpi=DPI).print_page(pdf_of(made))
    outline = Outline(spot.shape.outer + np.array(frame_of(Paper.A4).origin))
    height = picture.shape[0]
    corners = outline.vertices_at
    checked = 0
    for at in np.arange(3.0, outline.length - 3.0, 4.0):
        sharp = len(corners) < 20
        if sharp and np.abs(corners - at).min() < 3.0:
            continue  # a corner's own ink lies on both sides
        before, here, after = outline.places(np.array([at - 0.2, at, at + 0.2]))
        along = (after - before) / np.linalg.norm(after - before)
        # Pixel (0, 0) covers the upper left corner of the page.
        place = np.array([here[0] * PER_MM - 0.5, height - here[1] * PER_MM - 0.5])
        normal = np.array([along[1], along[0]])
        assert abs(across(picture, place, normal)) <= 0.5
        checked += 1
    assert checked > 50


def bar_length(picture, dpi):
    """Return how long the check bar is on a print, mm: the long level run of ink near the foot."""
    foot = picture[-round(20 / 25.4 * dpi) :, : round(150 / 25.4 * dpi)] < 128
    best = 0
    for row in foot:
        edges = np.flatnonzero(np.diff(np.concatenate([[0], row.astype(int), [0]])))
        runs = edges[1::2] - edges[::2]
        best = max(best, int(runs.max(initial=0)))
    return best / dpi * 25.4


@pytest.mark.parametrize("scale", [1.0, 0.98, 1.02])
def test_the_check_bar_finds_a_print_error_and_corrects_it(scale):
    made = Piece("p", "plate", rectangle(150, 100))
    wrong = SimulatedPrinter(dpi=DPI, along=scale, across=scale)
    measured = bar_length(wrong.print_page(pdf_of(made)), DPI)
    # A line of 0.3 mm ends 0.15 mm past both ends of the bar.
    assert print_scale(100.0, measured - 0.3).results["scale"] == pytest.approx(scale, abs=0.0015)
    printer = Printer("p", 100.0, measured - 0.3)
    again = wrong.print_page(pdf_of(made, correction=printer.correction))
    assert bar_length(again, DPI) - 0.3 * printer.correction * scale == pytest.approx(100, abs=0.15)


def test_codes_of_printed_templates_are_read_from_a_picture():
    made = [Piece(f"p{k}", f"plate {k}", SHAPES["plate"].scaled(1 - 0.02 * k)) for k in range(3)]
    pdf = pdf_of(*made)
    found = set()
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        pages = len(document.pages)
    for page in range(pages):
        picture = SimulatedPrinter(dpi=200).print_page(pdf, page)
        done, data = cv2.imencode(".png", picture)
        assert done
        found |= set(codes_in(bytes(data), "page.png"))
    assert found == {t.code for t in plain(*made)}


@pytest.mark.parametrize("text", ["IQ 7KQ3MX 2WPR8", "lower case — and an umlaut ü", "A" * 60])
def test_an_independent_reader_reads_our_codes(text):
    dark = code_square(text)
    assert dark.shape[0] == dark.shape[1]
    # Finder patterns: a dark 7 × 7 frame in three corners (ISO/IEC 18004, 6.3.3).
    for corner in (dark[:7, :7], dark[:7, -7:], dark[-7:, :7]):
        assert corner[0].all()
        assert corner[:, 0].all()
        assert corner[3, 3]
        assert not corner[1, 1:6].any()
    picture = np.kron(np.pad(~dark, 4, constant_values=True), np.ones((8, 8))).astype(np.uint8)
    assert cv2.QRCodeDetector().detectAndDecode(picture * 255)[0] == text


def test_every_template_is_there_once_with_fonts_embedded_and_text_to_extract():
    made = [Piece(f"p{k}", f"plate {k}", rectangle(60 + 3 * k, 45)) for k in range(9)]
    with pdfplumber.open(io.BytesIO(pdf_of(*made))) as document:
        words = ["".join(c["text"] for c in page.chars) for page in document.pages]
        fonts = {c["fontname"] for page in document.pages for c in page.chars}
    text = " ".join(words)
    for template in plain(*made):
        assert text.count(template.code) == 1
        assert text.count(template.piece.name) == 1
    assert fonts
    assert all("+" in name for name in fonts)  # a subset that is embedded (ISO 32000-1, 9.6.4)
