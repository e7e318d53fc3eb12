"""Line ornaments: once and in runs, against arc lengths, and never off the piece."""

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import LineString, Polygon
from shapely.affinity import rotate, scale, translate

from ivory_quilt.core.editing.motif import MotifRun, motif_of, with_motif, with_motif_run
from ivory_quilt.core.editing.ornament_row import AROUND, OrnamentRow, RowOf
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.region_shapes import line_names, lines_named
from tests.effort import random_cases
from tests.strategies import shapes

# A hook from the lower left to the right: 30 wide, 10 high.
HOOK = motif_of([np.array([(5.0, 5.0), (5.0, 15.0), (35.0, 15.0), (35.0, 5.0)])], "hook.svg")
PLATE = Piece("p", "plate", rectangle(300, 100))


def run(edge, count, inset=20.0, ends=0.0):
    return OrnamentRow(edge, RowOf.MARKS, count, inset=inset, ends=ends)


def test_once_it_is_as_wide_as_typed_and_about_its_place():
    made = with_motif(PLATE, HOOK, (150.0, 50.0), 60.0, 0.0)
    (line,) = made.lines
    assert line.points.min(axis=0) == pytest.approx((120, 40))
    assert line.points.max(axis=0) == pytest.approx((180, 60))
    turned = with_motif(PLATE, HOOK, (150.0, 50.0), 60.0, 90.0).lines[0].points
    assert np.ptp(turned, axis=0) == pytest.approx((20, 60))
    assert turned[0] == pytest.approx((160, 20))  # the hook's foot, a quarter turn to the left


def test_a_run_follows_the_true_curve():
    """Around a disc: the foot of each copy lies an equal share of the circle on."""
    disc = Piece("d", "disc", Shape.make(circle((0, 0), 100, 0.0005)))
    made = with_motif_run(disc, HOOK, MotifRun(run(AROUND, 12), 10.0))
    assert len(made.lines) == 12
    starts = np.array([k.points[0] for k in made.lines])
    # To the left of an outline that runs counter-clockwise is inwards: the foot lies outside.
    assert np.hypot(*starts.T) == pytest.approx(85.0, abs=0.02)
    turns = np.degrees(np.unwrap(np.arctan2(starts[:, 1], starts[:, 0])))
    assert np.diff(turns) == pytest.approx(30.0, abs=0.01)
    top = made.lines[0].points[np.hypot(*made.lines[0].points.T) < 75.1]
    length = LineString(top).length
    assert length == pytest.approx(math.tau * 75 / 12, rel=2e-3)


def test_all_strokes_have_one_name_and_earlier_lines_keep_theirs():
    line = PieceLine(LineKind.SCORE, np.array([(10.0, 10.0), (290.0, 10.0)]))
    piece = Piece("p", "plate", PLATE.shape, lines=(line,))
    made = with_motif_run(piece, HOOK, MotifRun(run("A", 4, ends=10.0), 8.0))
    assert line_names(made) == ("1", "2", "2", "2", "2")
    assert len(lines_named(made, "2")) == 4
    assert {k.kind for k in made.lines[1:]} == {LineKind.MARK}


@random_cases(15, 150)
@given(shapes(size=200.0, holes=False), st.floats(20, 400), st.floats(0, 360))
def test_just_what_is_on_the_piece_is_drawn(shape, width, turn):
    """Against the library's own transforms and intersection."""
    hook = translate(LineString(HOOK.strokes[0]), -HOOK.width / 2, -HOOK.height / 2)
    size = width / HOOK.width
    placed = rotate(scale(hook, size, size, origin=(0, 0)), turn, origin=(0, 0))
    known = translate(placed, *shape.label_point).intersection(shape.polygon)
    parts = [g.length for g in getattr(known, "geoms", [known])]
    assume(max(parts) > 1.0 and min(parts) > 0.6)
    made = with_motif(Piece("p", "p", shape), HOOK, shape.label_point, width, turn)
    within = shape.polygon.buffer(1e-6)
    assert all(within.covers(LineString(k.points)) for k in made.lines)
    assert sum(LineString(k.points).length for k in made.lines) == pytest.approx(sum(parts))


def test_what_is_no_motif_or_has_no_room_is_refused():
    for strokes in ([], [np.array([(0.0, 0.0)])], [np.zeros((2, 2))]):
        with pytest.raises(InputError, match=r"lines\.svg"):
            motif_of(strokes, "lines.svg")
    with pytest.raises(InputError, match="wide"):
        with_motif(PLATE, HOOK, (0.0, 0.0), 0.0, 0.0)
    with pytest.raises(InputError, match="nothing of the motif"):
        with_motif(PLATE, HOOK, (900.0, 0.0), 20.0, 0.0)
    with pytest.raises(InputError, match="room at the ends"):
        with_motif_run(PLATE, HOOK, MotifRun(run("A", 2, ends=200.0), 8.0))
    upright = motif_of([np.array([(0.0, 0.0), (0.0, 9.0)])], "bar.svg")
    with pytest.raises(InputError, match="no length"):
        with_motif_run(PLATE, upright, MotifRun(run("A", 2), 8.0))
    assert Polygon(with_motif(PLATE, upright, (150.0, 50.0), 30.0, 0.0).shape.outer).area == 30000
