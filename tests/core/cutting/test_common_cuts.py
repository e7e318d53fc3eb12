"""Edges that two parts have in common are cut once, and nothing is left uncut."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.ops import split

from ivory_quilt.core.cutting.common_cuts import TOUCH
from ivory_quilt.core.cutting.order import cutting_order
from ivory_quilt.core.cutting.sheet_strokes import strokes_of
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.part import BevelledEdge
from tests.core.cutting.test_strokes import line_of, part
from tests.effort import random_cases


def cuts(*laid):
    return strokes_of([(one, Pose(*at)) for one, at in laid])


def test_two_plates_edge_to_edge_have_one_cut_between_them():
    made = cuts((part("a", rectangle(100, 50)), (0, 0)), (part("b", rectangle(100, 60)), (0, 50)))
    first, second = sorted(made, key=lambda s: s.part)
    assert first.closed
    assert (first.part, first.also) == (0, (1,))
    assert not second.closed
    assert second.length == pytest.approx(220, abs=0.2)
    assert second.places[[0, -1]][:, 1] == pytest.approx([50, 50], abs=0.01)
    assert line_of(second).distance(line_of(first)) == 0  # no bridge stays between them
    # The larger one is free only when both are cut.
    assert cutting_order(made).freed == (0, 1)


def test_what_all_sides_of_are_cut_comes_free_with_the_last_of_them():
    sides = [((40, 10), (0, -10)), ((40, 10), (0, 40)), ((10, 40), (-10, 0)), ((10, 40), (40, 0))]
    laid = [(part(str(k), rectangle(*size)), at) for k, (size, at) in enumerate(sides)]
    made = cuts(*laid, (part("middle", rectangle(40, 40)), (0, 0)))
    assert {s.part for s in made} == {0, 1, 2, 3}
    assert cutting_order(made).freed[-1] == 4


def test_apart_by_a_gap_across_a_bevel_or_at_a_corner_each_has_its_own_cut():
    plate = part("a", rectangle(100, 50))
    edge = BevelledEdge("A", 45.0, (0.0, 0.0), (100.0, 0.0))
    bevelled = part("b", rectangle(100, 50), bevels=(edge,))
    for laid in (
        [(plate, (0, 0)), (plate, (0, 50.2))],
        [(plate, (0, 0)), (bevelled, (0, 50))],
        [(plate, (0, 0)), (plate, (100, 50))],
    ):
        made = cuts(*laid)
        assert sum(s.length for s in made) == pytest.approx(600)
        assert not any(s.also for s in made)


@random_cases(40, 400)
@given(st.integers(0, 10**6))
def test_of_a_sheet_cut_up_without_gaps_every_line_is_cut_once(seed):
    """Random straight cuts through a square: the faces are the parts."""
    random = np.random.default_rng(seed)
    square = shapely.box(0, 0, 300, 300)
    pieces = [square]
    for _ in range(4):
        (x, y), turn = random.uniform(60, 240, 2), random.uniform(0, np.pi)
        dx, dy = 500 * np.cos(turn), 500 * np.sin(turn)
        knife = shapely.LineString([(x - dx, y - dy), (x + dx, y + dy)])
        pieces = [g for p in pieces for g in split(p, knife).geoms]
    parts = [Shape.from_polygon(p) for p in pieces]
    made = strokes_of(
        [(part(f"p{k}", shape), Pose(0, 0)) for k, shape in enumerate(parts)],
        upright=bool(random.integers(2)),
    )
    lines = shapely.union_all([p.boundary for p in pieces])
    cut = shapely.union_all([line_of(s) for s in made])
    assert cut.hausdorff_distance(lines) < 0.1
    # Stretches under a centimetre may be cut twice; all else is cut once.
    crossings = 4 * len(pieces)
    assert sum(s.length for s in made) < lines.length + 10.0 * crossings
    assert sum(s.length for s in made) < sum(p.length for p in pieces) - 100
    assert all(
        line_of(s).distance(shapely.union_all([line_of(o) for o in made if o is not s])) < TOUCH
        for s in made
    )
    order = cutting_order(made)
    assert sorted(order.freed) == list(range(len(pieces)))
