"""Where a dragged node or handle falls, and why."""

import pytest

from ivory_quilt.core.editing.node_snap import snap_handle, snap_node
from ivory_quilt.core.editing.symmetry import Axis
from ivory_quilt.core.geometry.curve_path import CurveNode, CurvePath

REACH = 2.0
PLATE = CurvePath(
    tuple(CurveNode.corner(p) for p in ((0, 0), (100, 0), (120, 40), (90, 80), (10, 80), (-20, 40)))
)
AXIS = Axis((50.0, 0.0), (0.0, 1.0))


@pytest.mark.parametrize(
    ("k", "hand", "at", "why"),
    [
        (3, (51, 92), (50, 92), "on the centre line"),
        (3, (91.5, 79), (90, 80), "opposite a node"),  # of the one at (10, 80)
        (2, (131, 0.8), (131, 0), "in line with the side before it"),
        (5, (-41, 79), (-41, 80), "in line with the side before it"),
        (3, (150, 57.3), (150, 57.3), ""),
        (2, (111.3, 33.1), (111.3, 33.1), ""),
    ],
)
def test_a_node_falls_where_a_maker_would_put_it(k, hand, at, why):
    found = snap_node(PLATE, k, hand, REACH, AXIS)
    assert found.at == pytest.approx(at, abs=1e-9)
    assert found.why == why


def test_without_a_centre_line_it_is_level_and_upright():
    found = snap_node(PLATE, 0, (11, 41.5), REACH)
    assert found.at == (10, 40)
    assert found.why == "level with a node, upright over a node"
    # Never onto another node: two in one place make no outline.
    onto = snap_node(PLATE, 0, (91, 81), REACH)
    assert onto.at == (91, 81)


def test_square_to_the_side_beyond_the_neighbour():
    # The next side but one runs from (120, 40) to (90, 80): square to it at (120, 40).
    found = snap_node(PLATE, 1, (160.5, 71), REACH)
    assert found.why == "square to the side"
    dx, dy = found.at[0] - 120, found.at[1] - 40
    assert dx * -30 + dy * 40 == pytest.approx(0, abs=1e-9)


def test_a_handle_falls_in_line_with_a_straight_side_or_level():
    path = PLATE.with_node(1, CurveNode((100, 0), (100, 0), (130, 9)))
    path = path.with_node(2, CurveNode((120, 40), (125, 30), (120, 40)))
    assert snap_handle(path, 1, (140, 1.5), REACH).why == "in line with the straight side"
    assert snap_handle(path, 1, (140, 1.5), REACH).at == pytest.approx((140, 0))
    assert snap_handle(path, 1, (101, 30), REACH).why == "upright"
    assert snap_handle(path, 1, (130, 30), REACH).why == ""
    # Near its node a handle says no direction.
    assert snap_handle(path, 1, (102, 0.5), REACH).why == ""
