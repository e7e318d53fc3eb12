"""Outlines of curves against libraries of others: lengths, areas, tangents, allowances."""

import math

import numpy as np
import pytest
import shapely

from ivory_quilt.core.editing.outline_edit import OutlineEdit, curves_of, edited_outline
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_fit import fitted
from ivory_quilt.demo.project import demo_project
from tests.curve_edits import exact, random_edit


def test_three_hundred_edits_against_quadrature():
    """The font library fontTools knows cubics' areas and lengths exactly.

    What is cut is flattened within 0.01 mm, spans that no edit touched within 0.06 mm of theirs;
    GEOS measures that polygon.
    """
    rng = np.random.default_rng(20)
    pieces = [p for p in demo_project().pieces if not p.shape.holes]
    done = 0
    while done < 300:
        piece = pieces[int(rng.integers(len(pieces)))]
        path = curves_of(piece)[0]
        try:
            edit = random_edit(rng, path)
            made = edited_outline(piece, OutlineEdit(0, edit, edit.after))
        except InputError:  # it would cross itself: refused, and nothing is changed
            continue
        done += 1
        length, area = exact(made.curves[0])
        ring = shapely.LinearRing(made.shape.outer)
        assert made.shape.area == pytest.approx(abs(area), abs=0.03 * length)
        assert ring.length == pytest.approx(length, rel=5e-4)
        assert shapely.Polygon(ring).area == pytest.approx(made.shape.area, rel=1e-12)


@pytest.mark.parametrize(("a", "b"), [(80, 30), (50, 50), (120, 100)])
def test_tangents_of_a_fitted_ellipse(a, b):
    """Against the ellipse's own tangents: b²x : a²y (any textbook of analytic geometry)."""
    t = np.linspace(0, 2 * math.pi, 721)[:-1]
    path = fitted(np.column_stack((a * np.cos(t), b * np.sin(t))))
    for node in path.nodes:
        x, y = node.at
        true = math.atan2(b * b * x, -a * a * y)
        way = math.atan2(node.after[1] - y, node.after[0] - x)
        assert math.degrees(abs((way - true + math.pi) % (2 * math.pi) - math.pi)) < 0.1
