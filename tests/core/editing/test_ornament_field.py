"""Ornaments all over a piece, along a line on it, and rows of overlapping plates."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.ornament_rows import with_field, with_plates, with_row
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.editing.ornament_field import OrnamentField, field_places
from ivory_quilt.core.editing.ornament_row import OrnamentRow, RowOf, row_places
from ivory_quilt.core.editing.plate_row import PlateRow
from ivory_quilt.core.editing.symmetry import axis_of
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace
from tests.effort import random_cases

PLATE = Piece("p", "plate", rectangle(200, 120))
KITE = Piece("k", "kite", Shape.make([(0, 0), (60, 90), (0, 140), (-60, 90)]))


def test_a_plain_grid_by_hand():
    row = OrnamentRow("*", RowOf.HOLES, spacing=40, inset=6, first=8, last=8)
    places, sizes = field_places(PLATE, OrnamentField(row, up=30, staggered=False))
    # Middles at least 10 mm from the edges, about the middle (100, 60).
    x, y = (20, 60, 100, 140, 180), (15, 45, 75, 105)  # four rows fit about a gap, three about one
    wanted = {(float(a), float(b)) for a in x for b in y}
    assert {tuple(m) for m in np.round(places.middles, 9).tolist()} == wanted
    assert sizes.tolist() == [8.0] * 20


def test_staggered_rows_stand_in_the_gaps_at_equal_distances():
    row = OrnamentRow("*", RowOf.MARKS, spacing=24, inset=2, first=5, last=5)
    places, _ = field_places(PLATE, OrnamentField(row))
    tree = shapely.STRtree(shapely.points(places.middles))
    for k, spot in enumerate(shapely.points(places.middles)):
        near = [j for j in tree.query(spot, predicate="dwithin", distance=24.01) if j != k]
        away = [math.dist(places.middles[j], places.middles[k]) for j in near]
        assert away == pytest.approx([24] * len(away), abs=1e-6)  # a triangular lattice
        assert len(away) >= 2


@given(st.floats(8, 40), st.floats(2, 9), st.floats(0, 10), st.booleans())
@random_cases(40, 300)
def test_a_field_is_alike_on_both_sides_and_never_off_the_piece(spacing, size, inset, staggered):
    row = OrnamentRow("*", RowOf.HOLES, spacing=spacing, inset=inset, first=size, last=size / 2)
    axis = axis_of(KITE)
    try:
        places, sizes = field_places(KITE, OrnamentField(row, staggered=staggered))
    except InputError:
        return
    spots = {tuple(np.round(m, 6)) for m in places.middles}
    assert {tuple(np.round(axis.reflected(m), 6) + 0.0) for m in places.middles.tolist()} == {
        tuple(np.array(s) + 0.0) for s in spots
    }
    away = shapely.distance(KITE.shape.polygon.boundary, shapely.points(places.middles))
    assert (away >= inset + sizes / 2 - 1e-6).all()
    # Larger at the low end.
    low, high = np.argmin(places.middles[:, 1]), np.argmax(places.middles[:, 1])
    assert sizes[low] >= sizes[high]


@pytest.mark.parametrize("count", [1, 7, 24, 60])
def test_a_count_gives_as_many_or_nearly(count):
    row = OrnamentRow("*", RowOf.MARKS, count=count, inset=3, first=6, last=6)
    places, _ = field_places(PLATE, OrnamentField(row, staggered=True))
    assert abs(len(places.middles) - count) <= max(1, 0.12 * count)


def test_holes_all_over_become_holes_and_what_does_not_fit_is_refused():
    project = Project(pieces=(PLATE,))
    row = OrnamentRow("*", RowOf.HOLES, spacing=30, inset=5, first=6, last=6)
    made, places = with_field(project, "p", OrnamentField(row))
    assert len(made.piece("p").shape.holes) == len(places.middles)
    with pytest.raises(InputError, match="no place"):
        with_field(project, "p", OrnamentField(replace(row, inset=70)))
    with pytest.raises(InputError, match="meet"):
        with_field(project, "p", OrnamentField(replace(row, spacing=5, first=8, last=8)))
    with pytest.raises(InputError, match="from row to row"):
        OrnamentField(row, up=0.5)


def test_scales_all_over_a_pair_are_counted_on_both():
    base = replace(PLATE, hand=Hand.PAIR)
    scale = Piece("s", "scale", Shape.make(circle((0, 0), 7)))
    row = OrnamentRow("*", RowOf.PIECES, spacing=22, inset=2, pieces=("s",))
    made, places = with_field(Project(pieces=(base, scale)), "p", OrnamentField(row))
    assert made.piece("s").count == 2 * len(places.middles)
    assert f"{len(places.middles)} × scale" in made.piece("p").labels[0].text


def test_a_row_along_a_line_on_the_piece():
    bow = np.array([(20 + x, 40 + 30 * math.sin(x / 160 * math.pi)) for x in range(161)])
    piece = replace(PLATE, lines=(PieceLine(LineKind.MARK, bow),))
    places = row_places(piece, OrnamentRow("line 1", count=9, inset=0))
    line = shapely.LineString(bow)
    along = [line.project(shapely.Point(m)) for m in places.middles]
    assert np.diff(along) == pytest.approx([line.length / 8] * 8, abs=0.01)
    assert along[0] == pytest.approx(0, abs=1e-6)
    beside = row_places(piece, OrnamentRow("line 1", count=5, inset=6))
    away = [line.distance(shapely.Point(m)) for m in beside.middles]
    assert away == pytest.approx([6] * 5, abs=0.02)
    ring = circle((100, 60), 30)
    closed = replace(PLATE, lines=(PieceLine(LineKind.MARK, np.vstack((ring, ring[:1]))),))
    around = row_places(closed, OrnamentRow("line 1", count=12, inset=0))
    assert around.spacing == pytest.approx(2 * math.pi * 30 / 12, rel=1e-3)
    made, _ = with_row(Project(pieces=(piece,)), "p", OrnamentRow("line 1", count=5, inset=0))
    assert len(made.piece("p").shape.holes) == 5
    with pytest.raises(InputError, match="no such line"):
        row_places(piece, OrnamentRow("line 2"))


# Overlapping plates


@given(st.integers(2, 12), st.floats(150, 900), st.floats(0, 8), st.floats(0.5, 2))
@random_cases(40, 300)
def test_heights_less_overlaps_make_up_the_row(count, length, overlap, taper):
    row = PlateRow(count, length, overlap, taper)
    try:
        heights = row.scales(140) * 140
    except InputError:
        return
    assert heights.sum() - (count - 1) * overlap == pytest.approx(length)
    assert heights[-1] / heights[0] == pytest.approx(taper)
    assert np.diff(heights, 2) == pytest.approx(np.zeros(count - 2), abs=1e-9)
    assert row.reckon(140).figure("first") == pytest.approx(heights[0])


def test_plates_alike_are_one_piece_and_tapered_ones_are_several():
    project = Project(pieces=(replace(KITE, count=2),))
    alike = with_plates(project, "k", PlateRow(5, 300, 20))
    (plate,) = alike.pieces
    assert plate.count == 10
    assert plate.shape.height == pytest.approx((300 + 80) / 5)
    assert plate.lines[-1].points[:, 1] == pytest.approx([plate.shape.bounds[3] - 20] * 2)
    tapered = with_plates(project, "k", PlateRow(4, 300, 15, 0.6))
    assert [p.name for p in tapered.pieces] == ["kite 1", "kite 2", "kite 3", "kite 4"]
    heights = [p.shape.height for p in tapered.pieces]
    assert sum(heights) - 45 == pytest.approx(300)
    assert heights[-1] / heights[0] == pytest.approx(0.6)
    assert [len(p.lines) for p in tapered.pieces] == [1, 1, 1, 0]


def test_plates_that_would_lap_altogether_are_refused():
    with pytest.raises(InputError, match="overlap"):
        PlateRow(10, 100, 60, 0.5).scales(140)
    with pytest.raises(InputError, match="plates"):
        PlateRow(1, 100, 5)
