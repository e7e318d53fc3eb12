"""Parting, strips, darts, taking in, stretching and offsetting; the tracing rule."""

import math
from contextlib import nullcontext

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import LineString

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import add_dart, fit_of, join_edges, part_piece
from ivory_quilt.core.editing.resize import offset, stretched
from ivory_quilt.core.editing.surgery import CutLine, parted, taken_in, with_dart, with_strip
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.edges import edge_length, edge_of, edges_of
from ivory_quilt.core.pattern.piece import CutSide, Label, LineKind, Piece, PieceLine, TraceRule
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, SeamVerdict
from ivory_quilt.core.record import replace
from tests import strategies as own
from tests.parts import parts_of

SCORE = PieceLine(LineKind.SCORE, np.array([[10.0, 20], [110, 20]]))
PLATE = Piece(
    "p",
    "plate",
    rectangle(120, 40),
    lines=(SCORE,),
    match_marks=((30, 0), (90, 40)),
    labels=(Label("front", (20, 30)),),
)
ACROSS = CutLine((60, -5), (60, 45))  # upwards: the left side is x < 60


def test_a_piece_parts_in_two_with_everything_on_it():
    one, other, cut, cut_other = parted(PLATE, ACROSS, "q")
    assert (one.id, other.id, one.name, other.name) == ("p", "q", "plate 1", "plate 2")
    assert one.shape.bounds == (0, 0, 60, 40)
    assert other.shape.bounds == (60, 0, 120, 40)
    assert one.match_marks == ((30, 0),)
    assert other.match_marks == ((90, 40),)
    assert (len(one.labels), len(other.labels)) == (1, 0)
    assert [round(p.lines[0].points[:, 0].max()) for p in (one, other)] == [60, 110]
    assert edge_length(one, cut) == edge_length(other, cut_other) == 40
    assert {e.name for e in one.edges} == {"A", "C", "D", "cut"}
    assert {e.name for e in other.edges} == {"A", "B", "C", "cut"}


def test_the_line_must_part_it_in_two():
    with pytest.raises(InputError, match="does not cross it"):
        parted(PLATE, CutLine((200, 0), (200, 40)), "q")
    comb = Shape.make([(0, 0), (90, 0), (90, 60), (60, 60), (60, 20), (30, 20), (30, 60), (0, 60)])
    with pytest.raises(InputError, match="more than two"):
        parted(Piece("c", "comb", comb), CutLine((0, 40), (90, 40)), "q")
    with pytest.raises(InputError, match="on one place"):
        CutLine((3, 3), (3, 3.5))


@given(own.shapes(size=200), st.floats(0, math.pi), st.floats(-20, 20))
def test_nothing_is_lost_where_a_piece_is_parted(shape, angle, away):
    d, n = (math.cos(angle), math.sin(angle)), (-math.sin(angle), math.cos(angle))
    middle = (away * n[0], away * n[1])
    line = CutLine(middle, (middle[0] + 10 * d[0], middle[1] + 10 * d[1]))
    piece = Piece("p", "p", shape)
    try:
        one, other, cut, cut_other = parted(piece, line, "q")
    except InputError:
        assume(False)
    assert one.shape.area + other.shape.area == pytest.approx(shape.area, rel=1e-3)
    assert edge_length(one, cut) == pytest.approx(edge_length(other, cut_other), abs=1e-6)
    for part in (one, other):
        assert sum(edge_length(part, e) for e in part.edges) == pytest.approx(
            part.shape.outline_length
        )
    assert (line.side(one.shape.outer) > -1e-6).all()


@pytest.mark.parametrize("corner", [(0, 0), (120, 0), (120, 40), (0, 40)])
@pytest.mark.parametrize("off", [0.0, 0.03, -0.03])
def test_a_line_through_a_corner_leaves_no_edge_of_no_length(corner, off):
    line = CutLine((corner[0] + off, corner[1]), (52 + off, 14))
    one, other, _, _ = parted(PLATE, line, "q")
    for part in (one, other):
        assert all(edge_length(part, e) > 1.0 for e in part.edges)
        assert len({e.name for e in part.edges}) == len(part.edges)
        total = sum(edge_length(part, e) for e in part.edges)
        assert total == pytest.approx(part.shape.outline_length)


def test_parting_beside_a_dart_leaves_its_seam_in_one_part():
    dart = Shape.make([(0, 0), (56, 0), (60, 25), (64, 0), (120, 0), (120, 80), (0, 80)])
    project = Project(pieces=(Piece("p", "p", dart),))
    names = {round(e.start[0]): e.name for e in edges_of(project.piece("p"))}
    legs = EdgeRef("p", names[56]), EdgeRef("p", names[60])
    project = join_edges(project, Seam(*legs))
    cut = part_piece(project, "p", CutLine((56, 0), (57, 80)))
    assert [{s.first.piece, s.second.piece} for s in cut.seams] == [{"p-2"}, {"p", "p-2"}]
    assert len(cut.seams) == 2
    assert all(fit_of(cut, s).verdict is SeamVerdict.SITS for s in cut.seams)


def test_parting_keeps_the_seams():
    neighbours = (PLATE, Piece("b", "b", rectangle(40, 120)), Piece("c", "c", rectangle(40, 200)))
    whole = Project(pieces=neighbours)
    whole = join_edges(whole, Seam(EdgeRef("p", "B"), EdgeRef("b", "A")))
    whole = join_edges(whole, Seam(EdgeRef("p", "D"), EdgeRef("c", "A")))
    cut = part_piece(whole, "p", ACROSS)
    assert [p.id for p in cut.pieces] == ["p", "p-2", "b", "c"]
    assert [(s.first.piece, s.first.edge) for s in cut.seams] == [
        ("p-2", "B"),
        ("p", "D"),
        ("p", "cut"),
    ]
    assert all(fit_of(cut, s).verdict is SeamVerdict.SITS for s in cut.seams)


def test_a_strip_is_let_in():
    made = with_strip(PLATE, ACROSS, 25.4)
    assert made.shape.width == pytest.approx(145.4)
    assert made.shape.area == pytest.approx(145.4 * 40)
    assert made.lines[0].points[:, 0].max() - made.lines[0].points[:, 0].min() == pytest.approx(
        125.4, abs=1e-3
    )
    assert made.match_marks[0][0] - made.match_marks[1][0] == pytest.approx(30 - 25.4 - 90)
    with pytest.raises(InputError, match="width above 0"):
        with_strip(PLATE, ACROSS, 0)
    with pytest.raises(InputError, match="does not cross"):
        with_strip(PLATE, CutLine((200, 0), (200, 40)), 5)


@given(own.shapes(size=200, holes=False), st.floats(0, math.pi), st.floats(1, 40))
def test_a_strip_adds_its_width_times_the_chord(shape, angle, width):
    d = (math.cos(angle), math.sin(angle))
    line = CutLine((0, 0), (10 * d[0], 10 * d[1]))
    # Star-shaped about the origin: the line through it meets one stretch of foam.
    far = LineString([(-400 * d[0], -400 * d[1]), (400 * d[0], 400 * d[1])])
    chord = far.intersection(shape.polygon).length
    try:
        made = with_strip(Piece("p", "p", shape), line, width)
    except InputError:
        assume(False)
    assert made.shape.area - shape.area == pytest.approx(width * chord, rel=1e-2, abs=1)


def test_a_dart_takes_out_its_triangle_and_joins_its_legs():
    made, one, other = with_dart(PLATE, (60, 40), (60, 15), 10)
    assert made.shape.area == pytest.approx(4800 - 10 * 25 / 2)
    assert edge_length(made, one) == pytest.approx(math.hypot(5, 25))
    assert edge_length(made, other) == pytest.approx(math.hypot(5, 25))
    assert {"A", "B", "C", "D"} <= {e.name for e in made.edges}
    project = add_dart(Project(pieces=(PLATE,)), "p", (60, 40), (60, 15), 10)
    assert fit_of(project, project.seams[0]).verdict is SeamVerdict.SITS
    again = add_dart(project, "p", (30, 40), (30, 15), 6)
    assert len(again.seams) == 2
    assert all(fit_of(again, s).verdict is SeamVerdict.SITS for s in again.seams)
    with pytest.raises(InputError, match="from the edge inwards"):
        with_dart(PLATE, (60, 20), (60, 15), 10)
    with pytest.raises(InputError, match="room for"):
        with_dart(PLATE, (60, 40), (60, 15), 100)


def test_taking_in_shortens_one_edge_only():
    made = taken_in(replace(PLATE, edges=edges_of(PLATE)), (60, 40), (60, 0), 6)
    lengths = {e.name: edge_length(made, edge_of(made, e.name)) for e in made.edges}
    assert lengths["A"] == pytest.approx(120, abs=0.05)
    assert lengths["C"] == pytest.approx(114, abs=0.05)
    assert (lengths["B"], lengths["D"]) == pytest.approx((40, 40), abs=0.05)
    assert made.shape.area == pytest.approx(4800 - 6 * 40 / 2, rel=1e-3)
    with pytest.raises(InputError, match="edge to edge"):
        taken_in(PLATE, (60, 40), (60, 20), 6)


# Larger and smaller


@pytest.mark.parametrize(
    ("mouth", "width", "said"),
    [
        ((50.0, -4.5), 10.0, ""),
        ((50.0, -5.5), 10.0, "from edge to edge"),
        ((50.0, 0.0), 0.3, ""),
        ((50.0, 0.0), 0.1, "0.1 mm"),
        ((50.0, 0.0), 50.0, ""),
        ((50.0, 0.0), 70.0, "70 mm"),  # it would fold by more than 60°
    ],
)
def test_what_can_be_taken_in(mouth, width, said):
    piece = Piece("p", "plate", rectangle(100.0, 55.0))
    if said:
        with pytest.raises(InputError, match=said):
            taken_in(piece, mouth, (50.0, 55.0), width)
        return
    made = taken_in(piece, mouth, (50.0, 55.0), width)
    assert piece.shape.area - made.shape.area == pytest.approx(width * 55 / 2, rel=0.01)


@pytest.mark.parametrize(("width", "goes"), [(90.0, True), (97.0, False)])
def test_no_more_is_taken_in_than_a_quarter_of_the_outline(width, goes):
    """Of 380 mm, 95; the fold itself stays below 60°."""
    piece = Piece("p", "plate", rectangle(100.0, 90.0))
    assert 2 * math.degrees(math.atan(width / 2 / 90)) < 60
    with nullcontext() if goes else pytest.raises(InputError, match="97 mm"):
        taken_in(piece, (50.0, 0.0), (50.0, 90.0), width)


def test_stretch_and_offset():
    wide = stretched(PLATE, 1.1, 1.0)
    assert (wide.shape.width, wide.shape.height) == pytest.approx((132, 40))
    assert wide.match_marks == ((pytest.approx(33), 0), (pytest.approx(99), 40))
    out = offset(replace(PLATE, edges=edges_of(PLATE)), 2.0)
    assert out.shape.area == pytest.approx(124 * 44)
    assert out.match_marks == ((30, -2), (90, 42))
    assert [round(edge_length(out, e)) for e in out.edges] == [124, 44, 124, 44]
    assert offset(PLATE, -5).shape.area == pytest.approx(110 * 30)
    with pytest.raises(InputError, match="nothing would be left"):
        offset(PLATE, -25)
    with pytest.raises(InputError, match="10 to 1000"):
        stretched(PLATE, 0, 1)


@pytest.mark.parametrize(
    ("side", "growth"), [(CutSide.INSIDE, 0.0), (CutSide.MIDDLE, 0.5), (CutSide.OUTSIDE, 1.0)]
)
def test_the_pen_lies_outside_the_template(side, growth):
    """Common practice, no source: cut on the inside of the line to get the template's size."""
    assert TraceRule(1.0, side).growth == growth
    with pytest.raises(InputError, match="pen"):
        TraceRule(pen=-1)


def test_a_piece_that_is_trimmed_later_is_cut_larger():
    """Common practice, no source: 5 mm outside the line."""
    whole = parts_of(PLATE, TraceRule(trim=5))[0]
    assert whole.shape.area == pytest.approx(130 * 50)
    own_rule = parts_of(replace(PLATE, rule=TraceRule()), TraceRule(trim=5))[0]
    assert own_rule.shape.area == pytest.approx(120 * 40)
