"""What hands do on the table, beside the no-fit polygon of convex shapes.

Two convex shapes A and B overlap just when B's shift lies inside the Minkowski sum of A and −B
(R. C. Art, "An approach to the two dimensional irregular cutting stock problem", 1966; J. A.
Bennell and J. F. Oliveira, "The geometry of nesting problems: a tutorial", European Journal of
Operational Research 184, 2008, section 4). The sum of two convex polygons is the hull of all sums
of their corners; the hull and all distances are the geometry library's.
"""

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import LineString, MultiPoint, Point

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.hand_moves import STEP, HandMove
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, SheetSpec
from tests.effort import random_cases

SIDE = 1000.0
WALL_AT = (450.0, 450.0)
TOUCH = 0.01  # mm: the agreed slack of two parts that touch


@st.composite
def convex(draw):
    """The hull of some points, about the origin."""
    points = draw(
        st.lists(
            st.tuples(st.integers(-60, 60), st.integers(-60, 60)),
            min_size=3,
            max_size=9,
            unique=True,
        )
    )
    hull = MultiPoint(points).convex_hull
    assume(hull.geom_type == "Polygon" and hull.area > 200.0)
    return Shape.make(np.asarray(hull.exterior.coords)[:-1])


def no_fit(wall, held):
    """Return all shifts of `held` that overlap `wall`, as a polygon."""
    a = np.asarray(wall.polygon.exterior.coords) + WALL_AT
    b = np.asarray(held.polygon.exterior.coords)
    return MultiPoint((a[:, None] - b[None]).reshape(-1, 2)).convex_hull


def take(wall, held, x, y):
    """Return a hand that holds one part at (x, y), with another lying in the middle."""
    job = LayJob(
        (PieceSpec("wall", wall, 1, (0.0,)), PieceSpec("held", held, 1, (0.0,))),
        (SheetSpec("s", rectangle(SIDE, SIDE)),),
    )
    lying = Placement("wall", 0, "s", 0, Pose(*WALL_AT))
    holding = Placement("held", 0, "s", 0, Pose(x, y))
    return HandMove(job, (lying, holding), 1), holding


@given(convex(), convex(), st.floats(0.0, 0.99), st.floats(0, 2 * math.pi))
@random_cases(60, 600)
def test_a_part_slides_to_the_nearest_free_shift(wall, held, share, angle):
    forbidden = no_fit(wall, held)
    # Somewhere inside it: a share of the way from its centre to its edge.
    middle = forbidden.centroid
    far = Point(middle.x + 500 * math.cos(angle), middle.y + 500 * math.sin(angle))
    way = LineString([middle, far]).intersection(forbidden)
    wanted = way.interpolate(share, normalized=True)
    assume(forbidden.exterior.distance(wanted) > TOUCH)
    hand, _ = take(wall, held, 150.0, 150.0)
    least = forbidden.exterior.distance(wanted)
    found = hand.near(
        Placement("held", 0, "s", 0, Pose(wanted.x, wanted.y)), reach=least + 2 * STEP
    )
    assert found is not None
    at = Point(found.pose.x, found.pose.y)
    assert forbidden.distance(at) > 0 or forbidden.exterior.distance(at) < TOUCH
    assert least - TOUCH <= at.distance(wanted) <= least + STEP
    assert (found.sheet, found.pose.rotation, found.pose.mirrored) == ("s", 0.0, False)


@pytest.mark.parametrize(
    ("way", "dx", "dy"), [("left", -1, 0), ("right", 1, 0), ("down", 0, -1), ("up", 0, 1)]
)
@given(convex(), convex(), st.floats(-200, 200))
@random_cases(25, 250)
def test_a_push_ends_at_the_no_fit_polygon_or_at_the_edge(way, dx, dy, wall, held, off):
    forbidden = no_fit(wall, held)
    # From far off, straight towards the other part or past it.
    start = (WALL_AT[0] - 300 * dx + off * abs(dy), WALL_AT[1] - 300 * dy + off * abs(dx))
    hand, holding = take(wall, held, *start)
    moved = hand.pushed(holding, way)
    assert moved is not None
    path = LineString([start, (start[0] + 2000 * dx, start[1] + 2000 * dy)])
    # A path that only grazes the polygon may be let through or not: rounding decides.
    assume(path.intersects(forbidden.buffer(-0.1)) or not path.intersects(forbidden.buffer(0.1)))
    x0, y0, x1, y1 = held.bounds
    edge = {
        "left": -x0 - start[0],
        "right": SIDE - x1 - start[0],
        "down": -y0 - start[1],
        "up": SIDE - y1 - start[1],
    }[way]
    end = (moved.pose.x, moved.pose.y)
    gone = (end[0] - start[0]) * dx + (end[1] - start[1]) * dy
    assert not LineString([start, end]).intersects(forbidden.buffer(-TOUCH))
    if path.intersects(forbidden):
        assert forbidden.exterior.distance(Point(end)) < TOUCH
    else:
        assert gone == pytest.approx(abs(edge), abs=TOUCH)
    aside = abs(moved.pose.x - start[0]) * abs(dy) + abs(moved.pose.y - start[1]) * abs(dx)
    assert aside == pytest.approx(0.0, abs=1e-9)
