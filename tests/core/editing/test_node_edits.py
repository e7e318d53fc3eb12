"""Outlines edited by their nodes: what is moved, what stays, and that it is an outline still."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString

from ivory_quilt.core.editing.node_edits import (
    HandleSide,
    arched,
    bent_span,
    cornered,
    inserted_node,
    moved_handle,
    moved_nodes,
    removed_nodes,
    rise_of,
    smoothed,
    span_length,
    straightened,
)
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_fit import fitted
from ivory_quilt.core.geometry.curve_path import CurveNode, CurvePath, plus, point_at
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import signed_area
from tests.curve_edits import exact, off_tangent, random_edit
from tests.effort import random_cases

SQUARE = CurvePath(tuple(CurveNode.corner(p) for p in ((0, 0), (100, 0), (100, 80), (0, 80))))
ROUND = fitted(circle((0, 0), 50))


def test_a_moved_node_takes_its_handles_along_and_the_others_stay():
    edit = moved_nodes(ROUND, [1], (7, -3))
    was, now = ROUND.node(1), edit.after.node(1)
    assert now.at == pytest.approx(plus(was.at, (7, -3)))
    assert now.before == pytest.approx(plus(was.before, (7, -3)))
    assert [edit.after.node(k) for k in (0, 2, 3)] == [ROUND.node(k) for k in (0, 2, 3)]


def test_a_handle_of_a_smooth_node_turns_the_other_and_leaves_its_length():
    node = ROUND.node(0)
    edit = moved_handle(ROUND, 0, HandleSide.AFTER, plus(node.after, (9, 4)))
    now = edit.after.node(0)
    assert off_tangent(edit.after, 0) < 1e-6
    assert math.dist(now.before, now.at) == pytest.approx(math.dist(node.before, node.at))
    free = moved_handle(ROUND, 0, HandleSide.AFTER, plus(node.after, (9, 4)), free=True).after
    assert free.node(0).before == node.before
    assert off_tangent(free, 0) > 5


def test_beside_a_straight_side_a_smooth_nodes_handle_stays_in_line():
    path = SQUARE.with_node(1, CurveNode((100, 0), (100, 0), (130, 0), smooth=True))
    path = path.with_node(2, CurveNode((100, 80), (140, 60), (100, 80)))
    edit = moved_handle(path, 1, HandleSide.AFTER, (120, 25))
    assert edit.after.node(1).after == pytest.approx((120, 0))
    moved = moved_nodes(path, [0], (0, 20)).after  # the straight side turns: so does the handle
    assert off_tangent(moved, 1) < 1e-6
    assert moved.node(1).after[1] < -1


def test_a_side_that_is_pulled_goes_through_the_hand():
    edit = bent_span(SQUARE, 0, 0.3, (30, -18))
    assert point_at(edit.after.control(0), 0.3) == pytest.approx((30, -18))
    assert not edit.after.is_straight(0)
    assert [edit.after.node(k).at for k in range(4)] == [n.at for n in SQUARE.nodes]


@pytest.mark.parametrize("path", [SQUARE, ROUND])
def test_a_node_put_in_changes_nothing_and_taken_out_again_next_to_nothing(path):
    edit, k = inserted_node(path, 1.37)
    assert k == 2
    assert len(edit.after) == len(path) + 1
    assert exact(edit.after)[1] == pytest.approx(exact(path)[1], rel=1e-12)
    assert edit.after.node(k).at == pytest.approx(path.place(1.37), abs=0.01)
    back = removed_nodes(edit.after, [k]).after
    line = LineString(path.span(1))
    assert max(line.distance(p) for p in map(_point, back.span(1))) < 0.05


def _point(place):
    from shapely import Point

    return Point(*place)


def test_where_a_node_is_none_is_put():
    with pytest.raises(InputError, match="node already"):
        inserted_node(SQUARE, 2.0)


def test_nodes_taken_out_leave_an_outline():
    edit = removed_nodes(SQUARE, [1])
    assert [n.at for n in edit.after.nodes] == [(0, 0), (100, 80), (0, 80)]
    assert edit.gone == ((100, 0),)
    with pytest.raises(InputError, match="fewer than 3"):
        removed_nodes(SQUARE, [0, 1])


def test_places_are_carried_along_through_several_edits():
    edit = removed_nodes(SQUARE, [0])  # sides 3 and 0 become one from (0, 80) to (100, 0)
    assert edit.after.place(edit.carried(0.5)) == pytest.approx(
        (0 + 100 * 130 / 180, 80 - 80 * 130 / 180)
    )
    assert edit.after.place(edit.carried(1.5)) == pytest.approx((100, 40))
    more, _ = inserted_node(edit.after, 0.25)
    both = edit.then(more)
    for place in (0.5, 1.0, 1.1, 1.9, 2.5, 3.5):
        assert both.after.place(both.carried(place)) == pytest.approx(
            edit.after.place(edit.carried(place))
        )


def test_smooth_and_sharp():
    soft = smoothed(SQUARE, [1]).after
    assert soft.node(1).smooth
    assert off_tangent(soft, 1) < 1e-6
    hard = cornered(soft, [1]).after
    assert not hard.node(1).smooth
    assert hard.node(1).after == soft.node(1).after  # it stays until a handle is moved
    assert straightened(soft, 1).after.is_straight(1)


@pytest.mark.parametrize("rise", [4.0, 50.0, 120.0, -30.0])
def test_an_arc_is_a_circles(rise):
    edit = arched(SQUARE, 0, rise)
    many = len(edit.after) - 3
    points = np.vstack([edit.after.span(k) for k in range(many)])
    radius = (50**2 + rise**2) / (2 * abs(rise))  # intersecting chords, Euclid III.35
    middle = np.array((50, np.sign(rise) * (radius - abs(rise))))
    assert np.hypot(*(points - middle).T) == pytest.approx(radius, rel=4e-4)
    assert points[:, 1].min() == pytest.approx(-rise if rise > 0 else 0, abs=0.05)
    assert edit.after.place(edit.carried(1.5)) == pytest.approx((100, 40))


def test_an_arc_is_told_by_its_rise():
    assert rise_of(arched(SQUARE, 0, 7.5).after, 0) == pytest.approx(7.5, abs=0.01)
    assert span_length(SQUARE, 1) == 80
    with pytest.raises(InputError, match="rise"):
        arched(SQUARE, 0, 1e6)


@given(st.integers(0, 2**32), st.floats(20, 90), st.booleans(), st.integers(1, 6))
@random_cases(60, 600)
def test_whatever_is_done_smooth_nodes_stay_smooth_and_places_on_the_outline(seed, r, round_, many):
    rng = np.random.default_rng(seed)
    path = fitted(circle((0, 0), r)) if round_ else SQUARE
    for _ in range(many):
        try:
            edit = random_edit(rng, path)
        except InputError:
            continue
        assert edit.before is path
        places = [edit.carried(c) for c in np.linspace(0, len(path), 13)[:-1].tolist()]
        turns = sum(b < a - 1e-6 for a, b in zip(places, places[1:] + places[:1], strict=True))
        assert turns <= 1  # they follow each other as before
        path = edit.after
        off = [off_tangent(path, j) for j, n in enumerate(path.nodes) if n.smooth]
        assert max(off, default=0.0) < 0.1
    ring = path.ring()
    around = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T).sum()
    # Flattened within 0.01 mm, against the exact integral of the cubics.
    assert signed_area(ring) == pytest.approx(exact(path)[1], abs=0.011 * around)
