"""What is doubtful before foam is cut, and what is put right (common practice, no source)."""

import math

import numpy as np
import pytest
from hypothesis import given

from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.editing.reshape import (
    FoldEdge,
    fold_edge,
    mirrored_piece,
    same_shape,
    unfolded,
)
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.review.review import review
from ivory_quilt.demo.project import demo_project
from tests.strategies import shapes

HOOK = Shape.make([(0, 0), (60, 0), (60, 20), (20, 20), (20, 60), (0, 60)])


def piece(ident="a", shape=HOOK, name="shin plate", **rest):
    return Piece(ident, name, shape, **rest)


def codes(*pieces):
    return [f.code for f in review(Project("p", pieces))]


def mended(*pieces):
    project = Project("p", pieces)
    (finding,) = review(project)
    return finding.apply(project)


# Review


def test_the_demo_is_sound():
    assert review(demo_project()) == ()


def test_two_hands_cut_alike_are_found_and_one_is_mirrored():
    left, right = piece("l", hand=Hand.LEFT), piece("r", hand=Hand.RIGHT)
    assert codes(left, right) == ["hands-alike"]
    after = mended(left, right)
    assert same_shape(after.piece("r").shape, mirrored_piece(left).shape)
    assert after.piece("r").hand is Hand.RIGHT
    assert review(after) == ()


def test_a_hand_without_its_other_becomes_a_pair():
    right = piece("r", hand=Hand.RIGHT)
    assert codes(right) == ["missing-hand"]
    after = mended(right).piece("r")
    assert (after.hand, after.drawn_hand) == (Hand.PAIR, Hand.RIGHT)


def test_a_mirrored_pair_drawn_as_two_is_fine():
    left = piece("l", hand=Hand.LEFT, name="left cuff")
    right = mirrored_piece(piece("r", hand=Hand.LEFT, name="right cuff"))
    assert right.hand is Hand.RIGHT
    assert codes(left, right) == []


def test_hands_of_other_foam_are_no_partners():
    left = piece("l", hand=Hand.LEFT, thickness=4.0)
    right = mirrored_piece(piece("r", hand=Hand.LEFT, thickness=6.0))
    assert codes(left, right) == ["missing-hand", "missing-hand"]


def test_a_piece_drawn_twice_is_kept_once():
    moved = Shape.make(HOOK.outer + np.array([300.0, 40.0]))
    twice = (piece("a", count=2), piece("b", moved))
    assert codes(*twice) == ["duplicate"]
    after = mended(*twice)
    assert [(p.id, p.count) for p in after.pieces] == [("a", 3)]
    assert codes(piece("a"), piece("b", name="other plate")) == []


def test_necks_narrower_than_the_foam_are_found():
    neck = Shape.make(
        [
            (0, 0),
            (40, 0),
            (40, 18),
            (80, 18),
            (80, 0),
            (120, 0),
            (120, 40),
            (80, 40),
            (80, 22),
            (40, 22),
            (40, 40),
            (0, 40),
        ]
    )
    assert codes(piece(shape=neck, thickness=3.0)) == []
    (finding,) = review(Project("p", (piece(shape=neck, thickness=6.0),)))
    assert finding.code == "too-thin"
    assert "has a neck narrower than its foam is thick (6 mm)" in finding.message
    assert "is narrower" in review(Project("p", (piece(shape=rectangle(80, 4)),)))[0].message


def test_holes_near_the_edge_are_found():
    holed = Shape.make(rectangle(80, 60).outer, [circle((12, 30), 4.0)])
    assert codes(piece(shape=holed, thickness=6.0)) == []
    assert codes(piece(shape=holed, thickness=10.0)) == ["hole-near-edge"]


@pytest.mark.parametrize("name", ["Piece 3", "path 12", "outline"])
def test_what_has_no_name_is_said(name):
    assert codes(piece(name=name)) == ["no-name"]
    assert codes(piece(name="Piece of the crest")) == []


def test_what_is_not_cut_is_not_looked_at():
    assert codes(piece(hand=Hand.LEFT, count=0)) == []


# Mirror


def test_mirroring_twice_is_nothing():
    line = PieceLine(LineKind.SCORE, np.array([[5.0, 5.0], [30.0, 10.0]]))
    one = piece(hand=Hand.PAIR, lines=(line,), match_marks=((60.0, 0.0),))
    other = mirrored_piece(one)
    assert other.drawn_hand is Hand.RIGHT
    assert other.shape.bounds == pytest.approx(one.shape.bounds)
    assert not same_shape(one.shape, other.shape)
    again = mirrored_piece(other)
    assert same_shape(again.shape, one.shape, within=1e-6)
    assert again.lines[0].points == pytest.approx(line.points)
    assert again.match_marks == one.match_marks


# Unfold


def half_leaf():
    t = np.linspace(-math.pi / 2, math.pi / 2, 60)
    return Shape.make(np.column_stack((40 * np.cos(t), 90 * np.sin(t))))


def test_a_half_is_unfolded_at_its_straight_edge():
    half = piece(shape=half_leaf(), match_marks=((40.0, 0.0),))
    edge = fold_edge(half)
    assert edge.length == pytest.approx(180)
    whole = unfolded(half, edge)
    assert whole.shape.area == pytest.approx(2 * half.shape.area, rel=1e-3)
    assert (whole.shape.width, whole.shape.height) == pytest.approx((80, 180), abs=0.05)
    assert same_shape(whole.shape, whole.shape.mirrored())
    assert sorted(round(x) for x, _ in whole.match_marks) == [0, 80]
    fold = next(k for k in whole.lines if k.kind is LineKind.CENTRE)
    assert fold.points[:, 0] == pytest.approx([40, 40], abs=0.05)


def test_a_drawn_fold_line_says_where():
    # The longer edge is straight too, but the maker drew the fold on the short one.
    shape = Shape.make([(0, 0), (100, 0), (80, 40), (0, 40)])
    fold = PieceLine(LineKind.FOLD, np.array([[0.0, 0.0], [0.0, 40.0]]))
    assert fold_edge(piece(shape=shape)).length == pytest.approx(100)
    edge = fold_edge(piece(shape=shape, lines=(fold,)))
    assert edge.length == pytest.approx(40)
    whole = unfolded(piece(shape=shape, lines=(fold,)), edge)
    assert whole.shape.width == pytest.approx(200, abs=0.05)
    assert [k.kind for k in whole.lines] == [LineKind.CENTRE]


def test_holes_and_lines_are_unfolded_too():
    shape = Shape.make(rectangle(50, 120).outer, [circle((25, 30), 6.0)])
    score = PieceLine(LineKind.SCORE, np.array([[10.0, 60.0], [40.0, 80.0]]))
    whole = unfolded(piece(shape=shape, lines=(score,)), FoldEdge((0.0, 120.0), (0.0, 0.0)))
    assert len(whole.shape.holes) == 2
    assert len([k for k in whole.lines if k.kind is LineKind.SCORE]) == 2
    assert whole.shape.area == pytest.approx(2 * shape.area, rel=2e-3)


def test_what_is_no_half_is_refused():
    with pytest.raises(InputError, match="both sides"):
        unfolded(piece(), FoldEdge((30.0, 0.0), (30.0, 60.0)))
    assert fold_edge(piece(shape=Shape.make(circle((0, 0), 50.0)))) is None


@given(shapes(holes=False))
def test_an_unfolded_shape_is_symmetrical(shape):
    x0 = float(shape.outer[:, 0].min())
    # Cut off straight at the left, so that there is a fold.
    cut = shape.polygon.intersection(rectangle(400, 400).polygon.buffer(0))
    if cut.geom_type != "Polygon" or cut.area < 50 or x0 > -1:
        return
    half = piece(shape=Shape.from_polygon(cut))
    on_axis = half.shape.outer[np.abs(half.shape.outer[:, 0]) < 1e-9]
    if len(on_axis) < 2:
        return
    low, high = on_axis[:, 1].min(), on_axis[:, 1].max()
    whole = unfolded(half, FoldEdge((0.0, float(low)), (0.0, float(high))))
    assert whole.shape.area == pytest.approx(2 * half.shape.area, rel=0.02, abs=2)
    assert (
        whole.shape.polygon.symmetric_difference(
            Shape.make(whole.shape.outer * [-1, 1] + [whole.shape.width, 0]).polygon
        ).area
        < 0.02 * whole.shape.area + 1
    )


def test_pieces_are_put_in_place():
    project = Project("p", (piece("a"), piece("b", rectangle(9, 9))))
    after = put_pieces(project, [mirrored_piece(project.piece("a"))])
    assert [p.id for p in after.pieces] == ["a", "b"]
    assert after.piece("b") is project.piece("b")
    with pytest.raises(InputError):
        put_pieces(project, [piece("c")])
