"""Templates: larger by what is trimmed, smaller by what the pen adds, half on the fold."""

import numpy as np
import pytest

from ivory_quilt.core.editing.template import centre_of, template_of
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import CutSide, LineKind, Piece, PieceLine, TraceRule
from ivory_quilt.core.record import replace


def centred(shape, x=50.0, y0=0.0, y1=60.0):
    line = PieceLine(LineKind.CENTRE, np.array([[x, y0], [x, y1]]))
    return Piece("p", "plate", shape, lines=(line,))


def test_what_is_trimmed_and_what_the_pen_adds_both_count():
    piece = Piece("p", "plate", rectangle(100.0, 60.0))
    rule = TraceRule(pen=1.0, side=CutSide.OUTSIDE, trim=5.0)
    made = template_of(piece, rule)
    assert made.shape.width == pytest.approx(100 + 10 - 2 * rule.growth)
    assert made.shape.height == pytest.approx(60 + 10 - 2 * rule.growth)
    own = replace(piece, rule=TraceRule(trim=2.0))
    assert template_of(own, rule).shape.width == pytest.approx(104)
    assert template_of(piece, TraceRule()).shape == piece.shape


def test_what_is_too_slender_to_be_smaller_stays():
    sliver = Piece("p", "sliver", rectangle(100.0, 1.0))
    rule = TraceRule(pen=2.0, side=CutSide.OUTSIDE)
    assert rule.growth > 0.5
    assert template_of(sliver, rule).shape == sliver.shape


@pytest.mark.parametrize(("off", "found"), [(0.0, True), (0.42, True), (0.6, False), (3.0, False)])
def test_halves_that_differ_by_less_than_a_pencil_line_mirror_each_other(off, found):
    shape = Shape.make([(0, 0), (100, 0), (100 + off, 60), (0, 60)])
    assert (centre_of(centred(shape)) is not None) == found


@pytest.mark.parametrize(("length", "found"), [(8.5, False), (12.0, True)])
def test_a_short_stroke_is_no_centre_line(length, found):
    piece = centred(rectangle(100.0, 60.0), y0=20.0, y1=20.0 + length)
    assert (centre_of(piece) is not None) == found


def test_a_centre_line_goes_from_its_first_point_to_its_last():
    piece = centred(rectangle(100.0, 60.0))
    bent = np.array([[50.0, 0.0], [50.0, 4.0], [50.0, 60.0]])
    line = replace(piece.lines[0], points=bent)
    assert centre_of(replace(piece, lines=(line,))) is not None


def test_only_a_centre_line_is_one():
    piece = centred(rectangle(100.0, 60.0))
    other = replace(piece, lines=(replace(piece.lines[0], kind=LineKind.SCORE),))
    assert centre_of(other) is None
    both = replace(piece, lines=(*other.lines, *piece.lines))
    assert centre_of(both) is not None
    assert centre_of(centred(rectangle(100.0, 60.0), x=40.0)) is None


def test_half_a_template_has_a_fold_where_its_middle_was():
    whole = centred(rectangle(100.0, 60.0))
    mark = PieceLine(LineKind.SCORE, np.array([[10.0, 30.0], [30.0, 30.0]]))
    made = template_of(replace(whole, lines=(*whole.lines, mark)), TraceRule(), half=True)
    assert made.shape.area == pytest.approx(whole.shape.area / 2)
    assert (made.id, made.name, made.edges) == ("p", "plate", ())
    kinds = sorted(line.kind.value for line in made.lines)
    assert kinds == ["fold", "score"]
    (fold,) = (k for k in made.lines if k.kind is LineKind.FOLD)
    assert fold.points[:, 0] == pytest.approx([50, 50])
    assert sorted(fold.points[:, 1]) == pytest.approx([0, 60])
    assert template_of(whole, TraceRule()).shape.area == whole.shape.area


def test_a_hole_on_the_centre_line_leaves_two_stretches_of_fold():
    hole = [(40, 20), (60, 20), (60, 40), (40, 40)]
    made = template_of(
        centred(Shape.make(rectangle(100, 60).outer, [hole])), TraceRule(), half=True
    )
    folds = sorted(sorted(k.points[:, 1].tolist()) for k in made.lines if k.kind is LineKind.FOLD)
    assert folds == [pytest.approx([0, 20]), pytest.approx([40, 60])]


def test_what_has_no_centre_stays_whole():
    piece = Piece("p", "plate", rectangle(100.0, 60.0))
    assert template_of(piece, TraceRule(), half=True).shape == piece.shape
