"""Edges between corners: found by angle, set by hand, kept through every move."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.editing.reshape import mirrored_piece, scaled_piece
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.outline import Outline, along_line, line_length, locate_on_line
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.edges import (
    edge_at,
    edge_length,
    edge_letter,
    edge_line,
    edge_of,
    edges_by_angle,
    edges_of,
    mark_tick,
    marks_on,
    named_edge,
    with_corner,
    without_corner,
)
from ivory_quilt.core.pattern.piece import Piece
from tests import strategies as own

PLATE = Piece("plate", "plate", rectangle(120, 40))


def test_an_outline_is_walked_from_its_first_point():
    outline = Outline(rectangle(120, 40).outer)
    assert outline.length == 320
    assert outline.place(120 + 10) == (120, 10)
    assert outline.locate((60, -3)) == (60, 3)
    assert np.allclose(outline.stretch(100, 150), [[100, 0], [120, 0], [120, 30]])
    # Past the first point, and once around when both ends are one place.
    assert np.allclose(outline.stretch(310, 10), [[0, 10], [0, 0], [10, 0]])
    assert line_length(outline.stretch(50, 50)) == pytest.approx(320)


def test_a_rectangle_has_four_edges_from_the_lower_left():
    found = edges_of(PLATE)
    assert [e.name for e in found] == ["A", "B", "C", "D"]
    assert [round(edge_length(PLATE, e), 6) for e in found] == [120, 40, 120, 40]
    assert found[0].start == (0, 0)


def test_a_curve_is_no_corner_but_a_rounded_corner_is():
    assert len(edges_by_angle(Shape.make(circle((0, 0), 40)))) == 1
    rounded = Shape.from_polygon(rectangle(120, 80).polygon.buffer(-3).buffer(3))
    found = edges_by_angle(rounded)
    assert len(found) == 4
    # Each in the middle of its rounding, 3 mm · (√2 − 1) from where the corner was.
    for edge, corner in zip(found, ((0, 0), (120, 0), (120, 80), (0, 80)), strict=True):
        assert math.dist(edge.start, corner) == pytest.approx(3 * (math.sqrt(2) - 1), abs=0.3)


@given(own.shapes(holes=False), st.floats(0, 360), st.floats(0.3, 4))
def test_edges_are_the_same_however_a_piece_lies(shape, angle, factor):
    """Corners are found by angle, so turning and scaling a large enough piece changes none."""
    shape = shape.scaled(4)
    turned = Shape.make(
        shape.outer
        @ np.array([[math.cos(angle), math.sin(angle)], [-math.sin(angle), math.cos(angle)]])
    )
    lengths = sorted(edge_length(Piece("p", "p", shape), e) for e in edges_by_angle(shape))
    again = sorted(edge_length(Piece("p", "p", turned), e) for e in edges_by_angle(turned))
    assert again == pytest.approx(lengths, abs=1e-6)


@given(own.pieces())
def test_edges_go_once_around(piece):
    assert sum(edge_length(piece, e) for e in edges_of(piece)) == pytest.approx(
        piece.shape.outline_length
    )
    for edge, following in zip(edges_of(piece), edges_of(piece)[1:], strict=False):
        assert edge.stop == pytest.approx(following.start, abs=1e-9)


@given(own.pieces(), st.floats(0.5, 3))
def test_kept_edges_stay_through_mirror_and_scale(piece, factor):
    kept = Piece("p", "p", piece.shape, edges=edges_of(piece))
    other = mirrored_piece(scaled_piece(kept, factor))
    assert {e.name for e in other.edges} == {e.name for e in kept.edges}
    for edge in kept.edges:
        same = edge_length(other, edge_of(other, edge.name))
        assert same == pytest.approx(factor * edge_length(kept, edge), rel=1e-9)


def test_corners_by_hand():
    parted = with_corner(PLATE, (50, 1))
    assert [(e.name, round(edge_length(parted, e))) for e in parted.edges] == [
        ("A", 50),
        ("E", 70),
        ("B", 40),
        ("C", 120),
        ("D", 40),
    ]
    with pytest.raises(InputError, match="corner already"):
        with_corner(parted, (50, 0))
    again = without_corner(parted, (51, 0))
    assert [(e.name, round(edge_length(again, e))) for e in again.edges] == [
        ("A", 120),
        ("B", 40),
        ("C", 120),
        ("D", 40),
    ]
    round_one = Piece("r", "r", Shape.make(circle((0, 0), 40)))
    with pytest.raises(InputError, match="only corner"):
        without_corner(round_one, (0, 0))
    halves = with_corner(round_one, (0, 40))
    assert sorted(edge_length(halves, e) for e in halves.edges) == pytest.approx(
        [math.pi * 40, math.pi * 40], rel=1e-3
    )


def test_edges_have_names():
    named = named_edge(PLATE, "B", "closing")
    assert edge_length(named, edge_of(named, "closing")) == 40
    with pytest.raises(InputError, match="empty or taken"):
        named_edge(named, "A", "closing")
    with pytest.raises(InputError, match="did you mean 'closing'"):
        edge_of(named, "closin")
    assert [edge_letter(k) for k in (0, 25, 26)] == ["A", "Z", "A2"]


def test_a_mark_belongs_to_the_nearest_edge():
    piece = Piece("p", "p", rectangle(120, 40), match_marks=((30, 2), (118, 20), (60, 20)))
    assert [at for at, _ in marks_on(piece, edge_of(piece, "A"))] == [30]
    assert [at for at, _ in marks_on(piece, edge_of(piece, "B"))] == [20]
    assert marks_on(piece, edge_of(piece, "C")) == ()
    assert edge_at(piece, (118, 20))[0].name == "B"
    assert mark_tick(piece.shape, (30, 2)) == ((30, 0), (30, pytest.approx(6)))
    assert mark_tick(piece.shape, (60, 20)) is None


def test_places_on_an_open_line():
    line = np.array([[0.0, 0], [30, 0], [30, 40]])
    assert np.allclose(along_line(line, np.array([10, 50])), [[10, 0], [30, 20]])
    assert locate_on_line(line, (33, 20)) == (50, 3)
    assert np.allclose(edge_line(PLATE, edge_of(PLATE, "C")), [[120, 40], [0, 40]])
