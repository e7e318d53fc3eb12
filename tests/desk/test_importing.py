"""Patterns of every kind come in by drop; what is written on them is offered."""

import io

import ezdxf
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton
from reportlab.pdfgen.canvas import Canvas

from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.reading.hints import read_hints
from ivory_quilt.desk.stations.pattern.import_presenter import decided_by
from tests.desk.conftest import let_run

MM = 72 / 25.4


def bring_in(desk, *paths):
    before = len(desk.session.history)
    desk.window.drawings.read_files(list(paths))
    waiting = desk.pattern.presenter.imports
    assert let_run(lambda: len(desk.session.history) > before or waiting, 20)


def press(desk, words):
    buttons = desk.pattern.imports.findChildren(QPushButton)
    found = next(b for b in buttons if b.text() == words)
    QTest.mouseClick(found, Qt.MouseButton.LeftButton)
    let_run()


@pytest.fixture
def greaves(tmp_path):
    """Two pages with the same outline and different writing."""
    path = tmp_path / "greaves.pdf"
    canvas = Canvas(str(path))
    for name, words in (("greave front", "cut 2  L/R  6mm"), ("greave back", "cut 3  8 mm")):
        canvas.rect(30 * MM, 30 * MM, 120 * MM, 200 * MM)
        canvas.drawCentredString(90 * MM, 150 * MM, name)
        canvas.drawCentredString(90 * MM, 130 * MM, words)
        canvas.showPage()
    canvas.save()
    return path


def test_a_pdfs_writing_is_taken_over_as_one_step(empty_desk, greaves):
    desk = empty_desk
    bring_in(desk, greaves)
    assert [p.name for p in desk.session.project.pieces] == ["greave front", "greave back"]
    assert {p.thickness for p in desk.session.project.pieces} == {6.0}  # offered, not taken
    press(desk, "Apply all labels")
    front, back = desk.session.project.pieces
    assert (front.hand, front.count, front.thickness) == (Hand.PAIR, 1, 6.0)
    assert (back.hand, back.count, back.thickness) == (Hand.NONE, 3, 8.0)
    assert [p.source.page for p in (front, back)] == [1, 2]
    assert not desk.pattern.presenter.imports
    desk.act("undo")
    assert {p.count for p in desk.session.project.pieces} == {1}


def test_one_pieces_writing_is_taken_over_alone(empty_desk, greaves):
    bring_in(empty_desk, greaves)
    press(empty_desk, "Apply it: 3 ×, 8 mm")
    assert [p.count for p in empty_desk.session.project.pieces] == [1, 3]
    assert empty_desk.pattern.presenter.imports  # the other still waits


def test_a_dxf_without_units_asks_and_comes_in_at_true_size(empty_desk, tmp_path):
    document = ezdxf.new()
    document.header["$INSUNITS"] = 0
    document.modelspace().add_lwpolyline([(0, 0), (4, 0), (4, 2), (0, 2)], close=True)
    out = io.StringIO()
    document.write(out)
    path = tmp_path / "plate.dxf"
    path.write_text(out.getvalue(), encoding="utf-8")
    bring_in(empty_desk, path)
    assert not empty_desk.session.project.pieces
    (waiting,) = empty_desk.pattern.presenter.imports
    scale = empty_desk.pattern.presenter.scale_said("4", "4 in")
    empty_desk.pattern.presenter.set_scale(waiting, waiting.at_scale(scale))
    (piece,) = empty_desk.session.project.pieces
    assert (piece.shape.width, piece.shape.height) == pytest.approx((101.6, 50.8))


@pytest.mark.parametrize(
    ("words", "hand", "fields"),
    [
        ("cut 2", Hand.NONE, {"count": 2}),
        ("cut 2", Hand.PAIR, {"count": 1}),
        ("cut 3", Hand.PAIR, {"count": 3}),
        ("1 pair 6mm", Hand.NONE, {"hand": Hand.PAIR, "thickness": 6.0}),
        ("left", Hand.NONE, {"hand": Hand.LEFT}),
    ],
)
def test_writing_decides_about_a_piece(words, hand, fields):
    piece = Piece("a", "a", rectangle(10.0, 10.0), hand=hand)
    assert decided_by(read_hints(words), piece) == fields
