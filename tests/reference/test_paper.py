"""Paper sizes and the check bar, read back by an independent PDF library (pdfplumber).

Sources: ISO 216:2007 (A4 is 210 × 297 mm); ANSI/ASME Y14.1 size A, "US Letter" (8.5 × 11 in);
1 in = 25.4 mm (international agreement of 1959); 1 pt = 1/72 in (ISO 32000-1, 8.3.2.3).
"""

import io

import pdfplumber
import pytest

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import Piece
from tests.papers import pdf_of

MM = 25.4 / 72


def document(paper):
    pieces = (
        Piece("square", "square", rectangle(100, 100)),
        Piece("long", "long", rectangle(500, 300)),
    )
    return pdfplumber.open(io.BytesIO(pdf_of(*pieces, paper=paper)))


@pytest.mark.parametrize(
    ("paper", "width", "height"), [(Paper.A4, 210, 297), (Paper.LETTER, 215.9, 279.4)]
)
def test_pages_have_the_standard_size(paper, width, height):
    with document(paper) as pdf:
        for page in pdf.pages:
            assert float(page.width) * MM == pytest.approx(width, abs=0.01)
            assert float(page.height) * MM == pytest.approx(height, abs=0.01)


@pytest.mark.parametrize("paper", list(Paper))
def test_the_check_bar_is_100_mm_on_every_page(paper):
    with document(paper) as pdf:
        for page in pdf.pages:
            level = [line for line in page.lines if abs(line["y1"] - line["y0"]) < 1e-6]
            lengths = [(line["x1"] - line["x0"]) * MM for line in level if line["y0"] * MM < 20]
            assert min(abs(length - 100.0) for length in lengths) <= 0.05


def test_a_template_is_printed_at_true_size():
    with document(Paper.A4) as pdf:
        boxes = [
            ((c["x1"] - c["x0"]) * MM, (c["y1"] - c["y0"]) * MM)
            for page in pdf.pages
            for c in [*page.curves, *page.rects]
        ]
    assert any(
        w == pytest.approx(100, abs=0.01) and h == pytest.approx(100, abs=0.01) for w, h in boxes
    )
