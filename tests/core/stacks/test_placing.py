"""Where a piece lies on its base, and the marks that bring both together."""

import numpy as np
import pytest

from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import Build, Placing
from ivory_quilt.core.pattern.piece import Label, LineKind, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.placing import drawn_on, marked_to_place, on_base, pose_on, set_back

BASE = Piece("b", "wing", Shape.make(rectangle(100, 50).outer + np.array([10.0, 20.0])))
WEDGE = Shape.make([(200, 300), (240, 300), (240, 310), (200, 304)])


def badge(turn=90.0, across=0.25, up=0.6, shape=WEDGE, name="wing badge"):
    return Piece("o", name, shape, build=Build(placing=Placing("b", across, up, turn)))


def marks(piece):
    return [k.points for k in piece.lines if k.kind is LineKind.MARK]


def test_a_pieces_middle_comes_to_its_share_of_the_base_and_is_turned_there():
    there = on_base(badge(), BASE).shape
    x0, y0, x1, y1 = there.bounds
    assert ((x0 + x1) / 2, (y0 + y1) / 2) == pytest.approx((10 + 25, 20 + 30))
    assert (there.width, there.height) == pytest.approx((10, 40))
    assert there.area == pytest.approx(WEDGE.area)
    # A quarter turn counter-clockwise: what was its left end is now its foot, narrow to the right.
    foot = there.outer[there.outer[:, 1] < y0 + 1e-6]
    assert np.ptp(foot[:, 0]) == pytest.approx(4.0)
    assert foot[:, 0].max() == pytest.approx(x1)


@pytest.mark.parametrize("turn", [0.0, 90.0, -37.0])
def test_what_is_changed_on_the_base_goes_back_to_where_it_was(turn):
    piece = replace(badge(turn), labels=(Label("up", (210.0, 302.0)),))
    back = set_back(on_base(piece, BASE), piece, BASE)
    assert back.shape.outer == pytest.approx(piece.shape.outer)
    assert back.labels[0].at == pytest.approx((210.0, 302.0))
    assert back.build == piece.build


@pytest.mark.parametrize(("turn", "level"), [(0.0, True), (90.0, False)])
def test_a_base_shows_the_outline_and_a_tick_at_either_end(turn, level):
    block = badge(turn, shape=Shape.make(rectangle(40, 10).outer + np.array([200.0, 300.0])))
    ring, *ticks = marks(drawn_on(BASE, (block,)))
    assert len(ring) == 5
    assert ring[0] == pytest.approx(ring[-1])
    ends = [(-20.0, 0.0), (20.0, 0.0)] if level else [(0.0, -20.0), (0.0, 20.0)]
    reach = np.array([5.0, 0.0]) if level else np.array([0.0, 5.0])
    for tick, end in zip(ticks, ends, strict=True):
        middle = np.add((35.0, 50.0), end)
        assert tick == pytest.approx(np.array([middle - reach, middle + reach]))


@pytest.mark.parametrize("turn", [0.0, 90.0, -37.0])
def test_a_pieces_marks_fall_on_the_bases_ticks(turn):
    piece = badge(turn)
    marked = marked_to_place(piece, BASE)
    _, *ticks = marks(drawn_on(BASE, (piece,)))
    fallen = pose_on(piece, BASE).apply(np.array(marked.match_marks))
    assert fallen == pytest.approx(np.array([(a + b) / 2 for a, b in ticks]))
    assert len(marked.match_marks) == 2


def test_words_say_what_is_cemented_where():
    assert drawn_on(BASE, ()) is BASE
    (alone,) = drawn_on(BASE, (badge(),)).labels
    assert alone.text == "cement here: badge"
    both = drawn_on(BASE, (badge(), badge(across=0.7, name="lamp")))
    assert [k.text for k in both.labels] == ["badge", "lamp"]
    assert len(both.lines) == 6
