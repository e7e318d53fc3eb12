"""Pieces united at an edge, the direction arrow on the sheet, and what survives every move."""

import math

import numpy as np
import pytest
from hypothesis import assume, example, given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import fit_of, join_edges, unite_pieces
from ivory_quilt.core.editing.reshape import mirrored_piece, scaled_piece
from ivory_quilt.core.editing.surgery import CutLine, parted
from ivory_quilt.core.editing.unite import united
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.edges import edge_length, edge_of, edges_of
from ivory_quilt.core.pattern.piece import FaceUp, Hand, LineKind, Piece, PieceLine, Turn
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, SeamVerdict
from ivory_quilt.core.record import replace
from tests import strategies as own
from tests.parts import parts_of

STAR = Shape.make(
    [
        (100.0, 0.0),
        (30.901699437494745, 95.10565162951535),
        (-80.90169943749473, 58.77852522924732),
        (-51.089199996290084, -37.11847651907606),
        (30.901699437494724, -95.10565162951536),
    ]
)
SLIVER = Shape.make([(60.2976491, 0), (0, 83.3223419), (-46.7395005, 0), (0, -100)])


@example(
    STAR,
    2.0543217093865405,
    -14.662824463174536,
    Pose(-78.94822358651379, -146.0108496715041, 341.0758443947517),
)
@example(SLIVER, 3.044869853435414, -8.884480595136754, Pose(0.125, 193.52364509501535, 3.6))
@given(own.shapes(size=200), st.floats(0, math.pi), st.floats(-15, 15), own.poses)
def test_what_was_parted_is_united_again(shape, angle, away, pose):
    """However the second part lies: it is laid edge on edge."""
    n = (-math.sin(angle), math.cos(angle))
    middle = (away * n[0], away * n[1])
    line = CutLine(middle, (middle[0] + 10 * math.cos(angle), middle[1] + 10 * math.sin(angle)))
    piece = Piece("p", "p", shape)
    try:
        one, other, cut, cut_other = parted(piece, line, "q")
    except InputError:
        assume(False)
    assume(edge_length(one, cut) > 10)
    # A line through a hole leaves two stretches on the cut; then the edge is only one of them.
    assume(not shape.holes)
    turn = replace(pose, mirrored=False)
    moved = other.moved_by(turn.apply)
    seam = Seam(EdgeRef("p", cut.name), EdgeRef("q", cut_other.name))
    whole, _ = united(one, moved, seam)
    assert whole.shape.area == pytest.approx(shape.area, rel=2e-3)
    assert whole.shape.polygon.symmetric_difference(shape.polygon).area < 0.01 * shape.area


def project():
    a = Piece("a", "a", rectangle(60, 40), match_marks=((60, 20), (0, 10)))
    b = Piece("b", "b", rectangle(80, 40).placed(Pose(300, 10, 90)))
    c = Piece("c", "c", rectangle(40, 30))
    whole = Project(pieces=(a, b, c))
    for first, second in ((("a", "B"), ("b", "A")), (("b", "C"), ("c", "A"))):
        name = _edge_of_length(whole.piece(first[0]), 40, first[1])
        other = _edge_of_length(whole.piece(second[0]), 40, second[1])
        whole = join_edges(whole, Seam(EdgeRef(first[0], name), EdgeRef(second[0], other)))
    return whole


def _edge_of_length(piece, length, wish):
    fitting = [e.name for e in edges_of(piece) if round(edge_length(piece, e)) == length]
    return wish if wish in fitting else fitting[0]


def test_united_pieces_keep_their_other_seams():
    whole = project()
    made = unite_pieces(whole, whole.seams[0])
    assert [p.id for p in made.pieces] == ["a", "c"]
    piece = made.piece("a")
    assert piece.shape.area == pytest.approx(140 * 40, rel=1e-3)
    assert (0, 10) in piece.match_marks  # its edge is still there
    assert len(piece.match_marks) == 1  # the mark on the seam went with it
    (seam,) = made.seams
    assert fit_of(made, seam).verdict is SeamVerdict.SITS
    assert sum(edge_length(piece, e) for e in piece.edges) == pytest.approx(360, abs=0.5)


def test_what_cannot_be_one_piece_is_refused():
    a, b = Piece("a", "a", rectangle(60, 40)), Piece("b", "b", rectangle(80, 40))
    seam = Seam(EdgeRef("a", "B"), EdgeRef("b", "D"))
    with pytest.raises(InputError, match="different foam"):
        united(a, replace(b, thickness=10), seam)
    with pytest.raises(InputError, match="not equally long"):
        united(a, Piece("b", "b", rectangle(80, 50)), seam)
    with pytest.raises(InputError, match="side by side"):
        united(a, a, Seam(EdgeRef("a", "B"), EdgeRef("a", "D")))
    with pytest.raises(InputError, match="side by side"):
        united(a, b, replace(seam, turned=True))
    angle = np.linspace(0, math.pi, 60)
    bow = Piece(
        "c",
        "c",
        rectangle(1, 1).make(
            np.column_stack((40 / math.pi * np.cos(angle), 40 / math.pi * np.sin(angle)))
        ),
    )
    curved = max(edges_of(bow), key=lambda e: edge_length(bow, e)).name
    with pytest.raises(InputError, match="differ in shape"):
        united(a, bow, Seam(EdgeRef("a", "B"), EdgeRef("c", curved)))


# Direction


@pytest.mark.parametrize("angle", [0, 30, 90, 200])
def test_the_arrow_points_along_the_sheet(angle):
    turn = math.radians(angle)
    arrow = np.array([[50.0, 50], [50 + 30 * math.cos(turn), 50 + 30 * math.sin(turn)]])
    piece = Piece(
        "p",
        "p",
        rectangle(100, 100),
        turn=Turn.DIRECTION,
        hand=Hand.PAIR,
        face=FaceUp.SKIN,
        lines=(PieceLine(LineKind.GRAIN, arrow),),
    )
    for part in parts_of(piece):
        assert len(part.rotations) == 2
        for rotation in part.rotations:
            laid = Pose(0, 0, rotation).apply(part.lines[0].points)
            across = laid[1] - laid[0]
            assert across[1] == pytest.approx(0, abs=1e-6)  # along x: the sheet's length
    free = replace(piece, turn=Turn.FREE)
    assert parts_of(free)[0].rotations is None
    drawn = replace(piece, lines=())
    assert parts_of(drawn)[0].rotations == (0, 180)


# What survives


@given(own.pieces(), st.floats(0.3, 3))
def test_everything_drawn_survives_mirror_and_scale(piece, factor):
    other = mirrored_piece(scaled_piece(piece, factor))
    assert [k.kind for k in other.lines] == [k.kind for k in piece.lines]
    assert [k.text for k in other.labels] == [k.text for k in piece.labels]
    for before, after in zip(piece.lines, other.lines, strict=True):
        lengths = [np.hypot(*np.diff(k.points, axis=0).T).sum() for k in (before, after)]
        assert lengths[1] == pytest.approx(lengths[0] * factor)
    assert len(other.match_marks) == len(piece.match_marks)
    again = mirrored_piece(other)
    back = scaled_piece(again, 1 / factor)
    assert np.allclose(back.shape.bounds, piece.shape.bounds, atol=1e-6)
    for before, after in zip(piece.match_marks, back.match_marks, strict=True):
        assert after == pytest.approx(before, abs=1e-6)
    for edge in piece.edges:
        assert edge_length(back, edge_of(back, edge.name)) == pytest.approx(
            edge_length(piece, edge), rel=1e-6
        )
