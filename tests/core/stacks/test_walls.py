"""The foam left under carving, hollows and scores, against sums by hand and a grid of depths."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Point

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import Build, Layer
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.region_shapes import region_on
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace, typed_grits
from ivory_quilt.core.record import replace
from ivory_quilt.core.review.foam import making_findings
from ivory_quilt.core.stacks.walls import walls_of
from ivory_quilt.core.stacks.work_section import work_section
from tests.effort import random_cases

ACROSS = PieceLine(LineKind.MARK, np.array([(20.0, 50.0), (180.0, 50.0)]))
ROUND = PieceLine(LineKind.MARK, np.vstack((circle((100, 50), 30), circle((100, 50), 30)[:1])))
CARVE = SurfaceWork(SurfaceKind.CARVE, FaceRegion(RegionKind.LINE, "1", 4), depth=2.0)
HOLLOW = SurfaceWork(
    SurfaceKind.HOLLOW, FaceRegion(RegionKind.LINE, "2"), WorkFace.INNER, depth=3.0
)


def plate(*works, lines=(ACROSS, ROUND), **rest):
    return Piece("p", "plate", rectangle(200, 100), lines=lines, build=Build(works=works, **rest))


def test_a_groove_over_a_hollow_leaves_what_both_leave():
    walls = walls_of(plate(CARVE, HOLLOW))
    assert [w.left for w in walls] == pytest.approx([1.0, 3.0, 4.0])
    assert {d.words for d in walls[0].dents} == {"carve, line 1 4 mm", "hollow out, line 2"}
    assert region_on(plate(), CARVE.region).covers(Point(walls[0].at))
    assert "leave 1.5 mm" in walls[0].problem
    assert not walls[1].problem
    assert walls[0].reckoning.figure("left") == pytest.approx(1.0)
    # Beside each other, or from one face, they do not add up.
    aside = replace(HOLLOW, region=FaceRegion(RegionKind.EDGE, "A", 10))
    assert walls_of(plate(CARVE, aside))[0].left == 3.0
    assert walls_of(plate(CARVE, replace(HOLLOW, face=WorkFace.OUTER)))[0].left == 3.0


def test_layers_count_and_what_goes_through_is_said():
    deep = replace(HOLLOW, depth=5.0)
    assert "goes through" in walls_of(plate(CARVE, deep))[0].problem
    stacked = plate(CARVE, deep, layers=(Layer(4.0),))
    assert walls_of(stacked)[0].left == pytest.approx(3.0)
    found = making_findings(plate(CARVE, deep), Project())
    assert [f.code for f in found] == ["thin-wall"]
    assert "and 1 place more" in found[0].message


def test_a_score_counts_with_what_lies_behind_it():
    score = replace(ACROSS, kind=LineKind.SCORE, crease=Crease(0.0, front=True))
    walls = walls_of(plate(HOLLOW, lines=(score, ROUND)))
    assert walls[0].left == pytest.approx(6 - 3 - 3)
    assert walls_of(plate(lines=(score, ROUND))) == ()


@random_cases(15, 150)
@given(
    st.lists(
        st.tuples(
            st.floats(10, 190),
            st.floats(10, 90),
            st.floats(5, 40),
            st.floats(0.5, 3),
            st.booleans(),
        ),
        min_size=1,
        max_size=5,
    )
)
def test_the_least_wall_is_that_of_a_grid_of_depths(found):
    lines = tuple(
        PieceLine(LineKind.MARK, np.vstack((circle((x, y), r), circle((x, y), r)[:1])))
        for x, y, r, _, _ in found
    )
    works = tuple(
        SurfaceWork(
            SurfaceKind.HOLLOW,
            FaceRegion(RegionKind.LINE, str(k)),
            WorkFace.OUTER if front else WorkFace.INNER,
            depth,
        )
        for k, (_, _, _, depth, front) in enumerate(found, 1)
    )
    piece = Piece("p", "plate", rectangle(200, 100), thickness=8.0, lines=lines)
    piece = replace(piece, build=Build(works=works))
    xs, ys = (a.ravel() for a in np.meshgrid(np.arange(0.5, 200), np.arange(0.5, 100)))
    depths = np.zeros((2, len(xs)))
    for x, y, r, depth, front in found:
        inside = np.hypot(xs - x, ys - y) < r - 1.0
        row = depths[0 if front else 1]
        np.maximum(row, np.where(inside, depth, 0.0), out=row)
    # The grid misses slivers at most: it never sees less foam than there is.
    assert walls_of(piece)[0].left <= 8.0 - depths.sum(axis=0).max() + 1e-9
    deepest = [max((d for *_, d, f in found if f is side), default=0.0) for side in (True, False)]
    assert walls_of(piece)[0].left >= 8.0 - sum(deepest) - 1e-9


def test_the_section_shows_what_is_left():
    section = work_section(plate(CARVE, HOLLOW), 0)
    outline = section.bands[0].outline
    low = outline[np.abs(outline[:, 0]) < 3]
    assert sorted(set(np.round(low[:, 1], 6))) == [4.0, 6.0]
    assert outline[:, 1].min() == 0.0
    assert 3.0 in outline[:, 1]  # the hollow from beneath
    assert any("1 mm left" in words for _, words in section.measures)
    clay = SurfaceWork(SurfaceKind.CLAY, FaceRegion(RegionKind.EDGE, "A", 12), depth=4.0)
    made = work_section(plate(clay), 0)
    assert made.bands[1].outline[:, 1].tolist() == [6, 6, 10, 10]
    assert math.isclose(np.ptp(made.bands[1].outline[:, 0]), 12.0)


@pytest.mark.parametrize(
    "change",
    [
        {"kind": SurfaceKind.CARVE, "region": FaceRegion()},
        {"kind": SurfaceKind.CARVE, "region": FaceRegion(RegionKind.LINE, "1")},
        {"kind": SurfaceKind.CLAY, "depth": 0.0},
        {"kind": SurfaceKind.SAND},
        {"kind": SurfaceKind.SAND, "grits": (5,)},
        {"kind": SurfaceKind.FOIL},
        {"depth": -1.0},
        {"margin": -1.0},
        {"kind": SurfaceKind.CLOTH, "material": "cloth", "thickness": 0.0},
    ],
)
def test_works_that_make_no_sense_are_refused(change):
    with pytest.raises(InputError, match="surface"):
        replace(replace(CARVE, kind=SurfaceKind.HOLLOW), **change)


def test_grits_are_typed():
    assert typed_grits("120, 220 320") == (120, 220, 320)
    with pytest.raises(InputError, match="such as"):
        typed_grits("fine")


def test_what_goes_through_is_drawn_through_and_no_further():
    section = work_section(plate(replace(HOLLOW, depth=9.0)), 0)
    outline = section.bands[0].outline
    assert (outline[:, 1].min(), outline[:, 1].max()) == (0.0, 6.0)
    assert any("0 mm left" in words for _, words in section.measures)
