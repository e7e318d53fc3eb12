"""Areas, offsets and hulls against general libraries, and against handbook formulas.

Sources: shapely (GEOS) and SciPy (Qhull) as independent implementations; area of a circle πr², of
an ellipse πab, of a circular segment r²(θ − sin θ)/2 and of a regular polygon ½nr² sin(2π/n)
(Bronshtein et al., Handbook of Mathematics, section 3.1, from memory); arc length rθ.
"""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.bounds import grown_area, least_width, usable_area
from ivory_quilt.core.nesting.job import SheetSpec
from ivory_quilt.files.svg_read import read_svg
from tests.strategies import shapes


@given(shapes())
def test_areas_and_lengths_agree_with_geos(shape):
    polygon = shapely.Polygon(shape.outer, shape.holes)
    assert shape.area == pytest.approx(polygon.area, rel=1e-12)
    assert shape.outline_length == pytest.approx(polygon.exterior.length, rel=1e-12)
    assert shape.bounds == pytest.approx(polygon.bounds)


@given(shapes(holes=False))
def test_the_least_width_agrees_with_rotating_calipers_on_qhull(shape):
    hull = shape.outer[ConvexHull(shape.outer).vertices]
    widths = []
    for k in range(len(hull)):
        edge = hull[k] - hull[k - 1]
        normal = np.array([-edge[1], edge[0]]) / np.hypot(*edge)
        reach = hull @ normal
        widths.append(reach.max() - reach.min())
    assert least_width(shape) == pytest.approx(min(widths), rel=1e-9)


@pytest.mark.parametrize("n", [3, 5, 6, 8, 12])
def test_regular_polygons(n):
    r = 80.0
    points = [
        (r * math.cos(2 * math.pi * k / n), r * math.sin(2 * math.pi * k / n)) for k in range(n)
    ]
    shape = Shape.make(points)
    assert shape.area == pytest.approx(0.5 * n * r * r * math.sin(2 * math.pi / n), rel=1e-12)
    assert shape.outline_length == pytest.approx(2 * n * r * math.sin(math.pi / n), rel=1e-12)


def read_path(data):
    drawing = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="300mm" '
        f'viewBox="0 0 300 300"><path d="{data}"/></svg>'
    )
    (piece,) = read_svg(drawing.encode()).pieces
    return piece.shape


@given(st.floats(5, 100), st.floats(5, 100), st.floats(0, 180))
def test_ellipses_from_arcs_have_their_area(a, b, turn):
    dx, dy = a * math.cos(math.radians(turn)), a * math.sin(math.radians(turn))
    x0, y0, x1, y1 = 150 - dx, 150 - dy, 150 + dx, 150 + dy
    arc = f"A{a} {b} {turn} 0 1"
    shape = read_path(f"M{x0} {y0} {arc} {x1} {y1} {arc} {x0} {y0} Z")
    # An inscribed polygon within 0.01 mm is short by at most that times the length around it.
    assert shape.area == pytest.approx(math.pi * a * b, abs=0.011 * 2 * math.pi * max(a, b))


@pytest.mark.parametrize("degrees", [40, 90, 150, 200, 300])
def test_circular_segments_have_their_area_and_length(degrees):
    r, angle = 60.0, math.radians(degrees)
    x, y = 150 + r * math.cos(angle), 150 + r * math.sin(angle)
    large = int(degrees > 180)
    shape = read_path(f"M{150 + r} 150 A{r} {r} 0 {large} 1 {x} {y} Z")
    segment = r * r * (angle - math.sin(angle)) / 2
    chord = 2 * r * math.sin(angle / 2)
    assert shape.area == pytest.approx(segment, abs=0.01 * r * angle)
    assert shape.outline_length == pytest.approx(r * angle + chord, abs=0.02)


def test_cubic_curves_have_their_area():
    # By Green's theorem a cubic Bézier from p0 to p3 and straight back encloses
    # 3/20 · (… ) of the cross products of its control points (textbook formula, from memory);
    # checked for p = (0,0), (0,100), (100,100), (100,0): area = 6000 mm².
    shape = read_path("M100 100 C100 200 200 200 200 100 Z")
    x = np.array([100.0, 100.0, 200.0, 200.0])
    y = np.array([100.0, 200.0, 200.0, 100.0])

    def cross(i, j):
        return x[i] * y[j] - x[j] * y[i]

    by_hand = abs(
        (
            6 * cross(0, 1)
            + 3 * cross(0, 2)
            + cross(0, 3)
            + 3 * cross(1, 2)
            + 3 * cross(1, 3)
            + 6 * cross(2, 3)
        )
        / 20
        - cross(0, 3) / 2
    )
    assert by_hand == pytest.approx(6000)
    assert shape.area == pytest.approx(by_hand, abs=2.5)


def test_grown_areas_are_never_above_the_steiner_formula():
    # Steiner: a convex outline grown by d has area A + L·d + πd².
    shape = rectangle(120, 80)
    true = 9600 + 400 * 1.0 + math.pi
    assert grown_area(shape, 2.0) <= true
    assert grown_area(shape, 2.0) == pytest.approx(true, rel=1e-3)
    disc = Shape.make(circle((0, 0), 50))
    assert grown_area(disc, 2.0) <= math.pi * 51**2
    # A sheet of 1000 × 500 with 5 mm of margin and a gap of 2 has 992 × 492 to share.
    sheet = SheetSpec("s", rectangle(1000, 500), margin=5.0)
    assert usable_area(sheet, 2.0) == pytest.approx(992 * 492)
