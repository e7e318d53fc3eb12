"""Shapes and their rules against handbook formulas worked by hand, and a geometry library's hulls.

Sources are named at each check; "common practice" where there is none.
"""

import math

import numpy as np
import pytest
from scipy.spatial import ConvexHull

from ivory_quilt.core.calculators import reckon
from ivory_quilt.core.geometry.develop import develop_strip
from ivory_quilt.core.geometry.solids import cone_sector, regular_pyramid, spherical_cap
from ivory_quilt.core.shapes.book import maker


def results(name, **values):
    return reckon(name, {k: str(v) for k, v in values.items()}).results


# Bands and cones


def test_a_wrap_is_the_neutral_lines_length():
    # Bend allowance, as in sheet-metal handbooks: angle × (r + k·t).
    # By hand: (300 + 20) ÷ 2π = 50.9296; + 0.5 × 10 = 55.9296; × 2π = 351.416.
    assert results("wrap", girth=300, ease=20, thickness=10)["length"] == pytest.approx(
        351.416, abs=1e-3
    )
    # On the inner face thickness does not count; half way around asks half.
    assert results("wrap", girth=300, thickness=10, neutral=0)["length"] == pytest.approx(300)
    half = results("wrap", girth=300, ease=20, thickness=10, angle=180)["length"]
    assert half == pytest.approx(351.416 / 2, abs=1e-3)
    # A whole turn on the outer face: girth + 2π·t, whatever the girth.
    for girth in (100, 640):
        outside = results("wrap", girth=girth, thickness=10, neutral=1)["length"]
        assert outside - girth == pytest.approx(2 * math.pi * 10)


def test_a_cone_develops_into_the_textbook_sector():
    # Development of a right circular cone: r = 30, h = 40 has slant 50 (3-4-5) and the sector
    # 360° × 30 ÷ 50 = 216°.
    whole = results("cone", diameter_1=0, diameter_2=60, height=40)
    assert whole["radius_2"] == pytest.approx(50)
    assert whole["radius_1"] == pytest.approx(0)
    assert whole["angle"] == pytest.approx(216)
    # Frustum: lateral area π(r1 + r2)·slant must be the sector ring's area.
    cut = results("cone", diameter_1=100, diameter_2=40, height=75)
    slant = math.hypot(75, 30)
    ring = math.radians(cut["angle"]) / 2 * (cut["radius_1"] ** 2 - cut["radius_2"] ** 2)
    assert cut["radius_1"] - cut["radius_2"] == pytest.approx(slant)
    assert ring == pytest.approx(math.pi * (50 + 20) * slant)


def test_a_cuffs_outline_is_that_sector_and_its_edges_go_around():
    made = maker("cuff").made(
        {
            "diameter_1": "80",
            "diameter_2": "140",
            "height": "90",
            "thickness": "6",
            "neutral": "0.5",
        }
    )
    (piece,) = made.pieces
    r1, r2 = 43.0, 73.0  # on the neutral line
    area = math.pi * (r1 + r2) * math.hypot(90, 30)  # lateral area of a frustum
    assert piece.shape.area == pytest.approx(area, rel=1e-3)
    around = 2 * math.pi * (r1 + r2) + 2 * math.hypot(90, 30)
    assert piece.shape.outline_length == pytest.approx(around, rel=1e-3)


def test_triangulated_development_agrees_with_the_cones_formula():
    # Two ways to the same figure: the general method of triangulation, and the closed form.
    sector = cone_sector(20.0, 50.0, 75.0)
    angle = np.linspace(0.0, math.pi / 2, 400)
    low = np.column_stack((50 * np.cos(angle), 50 * np.sin(angle), np.zeros_like(angle)))
    high = np.column_stack((20 * np.cos(angle), 20 * np.sin(angle), np.full_like(angle, 75.0)))
    flat_low, flat_high = develop_strip(low, high)
    # Both edges lie on circles about one centre, the sector's apex.
    apex = flat_low[0] + (flat_high[0] - flat_low[0]) * sector.outer / (sector.outer - sector.inner)
    assert np.hypot(*(flat_low - apex).T) == pytest.approx(sector.outer, rel=1e-4)
    assert np.hypot(*(flat_high - apex).T) == pytest.approx(sector.inner, rel=1e-3)


# Domes


def test_a_caps_measures():
    # By hand: base radius 60, height 20: R = (3600 + 400) ÷ 40 = 100 (Euclid III.35).
    cap = spherical_cap(60.0, 20.0)
    assert cap.sphere_radius == pytest.approx(100)
    # Archimedes, On the Sphere and Cylinder I.42: area = 2πRh = that of a disc of radius √(a²+h²).
    assert math.pi * cap.blank_radius**2 == pytest.approx(2 * math.pi * 100 * 20)
    assert cap.arc == pytest.approx(100 * math.asin(0.6))
    # A hemisphere: the arc is a quarter circle, the blank √2 × the radius.
    half = spherical_cap(50.0, 50.0)
    assert half.arc == pytest.approx(25 * math.pi)
    assert half.blank_radius == pytest.approx(50 * math.sqrt(2))


def test_a_dishs_strains_have_the_signs_of_pressing():
    shallow = results("dish", base_radius=60, height=20)
    assert shallow["sphere_radius"] == pytest.approx(100)
    assert shallow["blank_radius"] == pytest.approx(math.hypot(60, 20))
    assert shallow["meridian_strain"] == pytest.approx(
        100 * math.asin(0.6) / math.hypot(60, 20) - 1
    )
    assert shallow["rim_strain"] == pytest.approx(60 / math.hypot(60, 20) - 1)
    assert shallow["meridian_strain"] > 0 > shallow["rim_strain"]


@pytest.mark.parametrize("count", [2, 3, 6, 12])
def test_gores_together_have_the_domes_area(count):
    # Archimedes: the cap's area is 2πRh; gores that share each parallel have it together.
    made = maker("dome").made(
        {"diameter": "160", "height": "60", "count": str(count), "thickness": "0"}
    )
    (gore,) = made.pieces
    assert gore.count == count
    radius = (80**2 + 60**2) / 120
    assert gore.shape.area * count == pytest.approx(2 * math.pi * radius * 60, rel=2e-4)
    # At the rim all gores together go once around the base.
    assert made.reckoning.results["rim_width"] * count == pytest.approx(2 * math.pi * 80)


def test_gores_of_a_sphere():
    # By hand: R = 100: pole to pole half the great circle, 314.16; six gores share 628.32.
    whole = results("gores", radius=100, count=6)
    assert whole["length"] == pytest.approx(314.159, abs=1e-3)
    assert whole["greatest_width"] == pytest.approx(104.720, abs=1e-3)


def test_a_domes_area_is_a_fine_meshs():
    # The hull of many points on the cap, less its flat base, by a general geometry library.
    radius, height = 100.0, 100.0
    polar, around = np.meshgrid(np.linspace(0, math.pi / 2, 60), np.linspace(0, 2 * math.pi, 180))
    points = np.column_stack(
        (
            (radius * np.sin(polar) * np.cos(around)).ravel(),
            (radius * np.sin(polar) * np.sin(around)).ravel(),
            (radius * np.cos(polar)).ravel(),
        )
    )
    mesh = ConvexHull(points).area - math.pi * radius**2
    made = maker("dome").made({"diameter": "200", "height": "100", "count": "8", "thickness": "0"})
    assert made.pieces[0].shape.area * 8 == pytest.approx(mesh, rel=2e-3)
    assert height == radius


# Spikes


def test_the_tetrahedrons_dihedral_is_the_textbook_one():
    # Regular tetrahedron of edge a: height a√(2/3), dihedral arccos(1/3) = 70.5288°.
    made = regular_pyramid(3, 30.0, 30.0 * math.sqrt(2 / 3))
    assert made.dihedral_degrees == pytest.approx(70.528779, abs=1e-5)
    assert made.edge_length == pytest.approx(30.0)
    assert made.apex_degrees == pytest.approx(60.0)
    assert made.bevel_degrees == pytest.approx((180 - 70.528779) / 2, abs=1e-5)


def test_half_an_octahedron_has_the_octahedrons_dihedral():
    # Regular octahedron of edge a: half of it is a square pyramid of height a ÷ √2, and its
    # dihedral is arccos(−1/3) = 109.4712°.
    half = results("spike", sides=4, base=40, height=40 / math.sqrt(2))
    assert half["dihedral"] == pytest.approx(109.471221, abs=1e-5)
    assert half["face_height"] == pytest.approx(40 * math.sqrt(3) / 2)


@pytest.mark.parametrize("sides", [3, 4, 5, 8])
def test_a_spikes_net_has_its_faces_area(sides):
    base, height = 30.0, 70.0
    angle = np.arange(sides) * 2 * math.pi / sides
    r = base / (2 * math.sin(math.pi / sides))
    foot = np.column_stack((r * np.cos(angle), r * np.sin(angle), np.zeros(sides)))
    hull = ConvexHull(np.vstack((foot, [[0.0, 0.0, height]])))
    floor = sides * base**2 / (4 * math.tan(math.pi / sides))  # regular polygon
    values = {"sides": str(sides), "base": str(base), "height": str(height)}
    (net,) = maker("spike").made(values).pieces
    assert net.shape.area == pytest.approx(hull.area - floor)
    assert len(net.lines) == sides - 1
    (face,) = maker("spike").made({**values, "form": "faces"}).pieces
    assert face.shape.area * face.count == pytest.approx(hull.area - floor)


# What the trade knows


def test_the_horn_of_the_workshop():
    # Common practice: a 10 mm spine and 10, 6, 6, 4 mm on each side: 62 mm at its thickest.
    assert results("horn-layers", spine=10, sides="10,6,6,4")["total"] == 62


def test_a_strip_is_as_long_as_the_edge_it_is_rolled_along():
    # Common practice.
    assert results("edge-roll", lengths="310, 12.5, 1in")["length"] == pytest.approx(347.9)


def test_a_cloth_strap_is_cut_four_times_as_wide():
    # Common practice: 3 in of cloth makes a strap of 3/4 in.
    cut = results("strap", finished_width="3/4in", length=400, turn_back=30, tail=50)
    assert cut["cut_width"] == pytest.approx(3 * 25.4)
    assert cut["cut_length"] == 480
