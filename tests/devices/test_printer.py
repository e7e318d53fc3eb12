"""The simulated printer: true size, its errors, what it refuses."""

import numpy as np
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.devices.printer import SimulatedPrinter
from tests.papers import pdf_of

PLATE = Piece("p", "plate", rectangle(120, 80))


def test_the_paper_has_the_pages_size():
    printed = SimulatedPrinter(dpi=100).print_page(pdf_of(PLATE))
    assert printed.shape == (round(297 / 25.4 * 100), round(210 / 25.4 * 100))
    assert printed.min() < 80
    assert np.median(printed) == 255


def test_stretching_keeps_the_lower_left_corner():
    pdf = pdf_of(PLATE)
    whole = SimulatedPrinter(dpi=150, margin=0).print_page(pdf) < 128
    short = SimulatedPrinter(dpi=150, margin=0, along=0.9, across=0.8).print_page(pdf) < 128

    def reach(picture):
        rows, columns = np.nonzero(picture)
        return picture.shape[0] - rows.min(), columns.max()

    (up, right), (low, near) = reach(whole), reach(short)
    assert low / up == pytest.approx(0.9, abs=0.005)
    assert near / right == pytest.approx(0.8, abs=0.005)


def test_nothing_of_ours_lies_where_no_printer_reaches():
    pdf = pdf_of(PLATE, Piece("w", "wide", rectangle(400, 250)))
    for page in range(3):
        full = SimulatedPrinter(dpi=72, margin=0).print_page(pdf, page)
        assert (SimulatedPrinter(dpi=72, margin=5.0).print_page(pdf, page) == full).all()
    assert (SimulatedPrinter(dpi=72, margin=14.0).print_page(pdf) != full).any()


@pytest.mark.parametrize(
    ("how", "said"),
    [
        ({"dpi": 10.0}, "10 dots an inch"),
        ({"along": 3.0}, "300 %"),
        ({"margin": 90.0}, "90 mm"),
    ],
)
def test_a_printer_that_cannot_be_is_refused(how, said):
    with pytest.raises(InputError, match=said):
        SimulatedPrinter(**how)


def test_what_cannot_be_printed_is_said():
    printer = SimulatedPrinter()
    with pytest.raises(InputError, match="no PDF"):
        printer.print_page(b"hello")
    with pytest.raises(InputError, match="page 2 of 1"):
        printer.print_page(pdf_of(PLATE), 1)
