"""Patterns written as SVG and DXF come in again with everything on them."""

import ezdxf
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.piece import Hand, Label, Piece, PieceLine
from ivory_quilt.core.record import replace
from ivory_quilt.files.drawings import read_drawing
from ivory_quilt.files.pattern_write import LAYERS, lay_out, write_pattern
from tests import strategies as own
from tests.effort import random_cases

OUTLINE = Shape.make(
    [(0, 0), (160, 0), (160, 90), (60, 120), (0, 90)], [[(20, 20), (40, 20), (30, 40)]]
)


def full_piece():
    lines = tuple(
        PieceLine(kind, np.array([[60.0 + 8 * k, 30], [60 + 8 * k, 70]]))
        for k, kind in enumerate(own.DRAWN)
    )
    return Piece(
        "cap",
        "Stag cap",
        OUTLINE,
        thickness=6,
        count=2,
        hand=Hand.PAIR,
        lines=lines,
        match_marks=((80, 0), (160, 45)),
        labels=(Label("buckle here", (120, 50)),),
    )


@pytest.mark.parametrize("name", ["out.svg", "out.dxf"])
def test_everything_on_a_piece_comes_back(name):
    piece = full_piece()
    reading = read_drawing(write_pattern([piece], name), name)
    assert [p.code for p in reading.problems] == ["text-hint"]
    (found,) = reading.pieces
    assert found.name == "Stag cap"
    assert found.shape.area == pytest.approx(piece.shape.area, rel=1e-6)
    assert len(found.shape.holes) == 1
    assert [k.kind for k in found.lines] == own.DRAWN
    assert (found.hints.quantity, found.hints.thickness, found.hints.hand) == (4, 6, Hand.PAIR)
    back = found.to_piece()
    assert np.allclose(sorted(back.match_marks), sorted(piece.match_marks), atol=1e-3)
    assert [(k.text, k.at) for k in back.labels] == [
        ("buckle here", pytest.approx((120, 50), abs=1e-3))
    ]


@random_cases(20, 200)
@given(own.pieces(), st.sampled_from(["a.svg", "a.dxf"]))
def test_outlines_of_any_piece_come_back(piece, name):
    bare = replace(piece, lines=(), labels=(), match_marks=(), edges=(), name="plate")
    reading = read_drawing(write_pattern([bare, replace(bare, id="q")], name), name)
    assert len(reading.pieces) == 2
    for found in reading.pieces:
        assert found.shape.area == pytest.approx(bare.shape.area, abs=0.05)
        assert len(found.shape.holes) == len(bare.shape.holes)


def test_pieces_lie_apart_on_the_sheet():
    many = [replace(full_piece(), id=str(k)) for k in range(12)]
    laid = lay_out(many)
    boxes = [p.shape.bounds for p in laid]
    for i, a in enumerate(boxes):
        for b in boxes[i + 1 :]:
            assert a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]


def test_a_dxf_library_finds_the_layers_and_the_unit():
    """Checked with ezdxf, which is not ours."""
    data = write_pattern([full_piece()], "a.dxf").decode()
    import io

    drawing = ezdxf.read(io.StringIO(data))
    assert drawing.units == ezdxf.units.MM
    used = {e.dxf.layer for e in drawing.modelspace()}
    assert used == {"cut", "match marks", "words", *(LAYERS[k] for k in own.DRAWN)}


def test_other_endings_are_refused():
    with pytest.raises(InputError, match=r"\.svg or \.dxf"):
        write_pattern([], "a.pdf")
