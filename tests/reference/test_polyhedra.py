"""Bevels of panels that make a solid, against the published dihedral angles of regular solids.

Published: cube 90°, octahedron 109.471°, dodecahedron 116.565°, icosahedron 138.190°, tetrahedron
70.529° (Coxeter, Regular Polytopes, table I). The angles are also taken from the solids' corners by
the convex hull of a general library (SciPy, qhull), which knows nothing of foam.
"""

import math
from itertools import product

import numpy as np
import pytest
from scipy import stats
from scipy.spatial import ConvexHull

from ivory_quilt.core.calculators import reckon
from ivory_quilt.core.edges.profiles import knives_of, outline_at
from ivory_quilt.core.forming.shrink import coupon_result
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.build import Build, EdgeProfile, Profile, ProfileKind
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.record import replace

PHI = (1 + math.sqrt(5)) / 2
SIGNS = (-1.0, 1.0)
SOLIDS = {
    "tetrahedron": ([(1, 1, 1), (1, -1, -1), (-1, 1, -1), (-1, -1, 1)], 70.529, 3),
    "cube": (list(product(SIGNS, SIGNS, SIGNS)), 90.0, 4),
    "octahedron": (
        [(s, 0, 0) for s in SIGNS] + [(0, s, 0) for s in SIGNS] + [(0, 0, s) for s in SIGNS],
        109.471,
        3,
    ),
    "dodecahedron": (
        list(product(SIGNS, SIGNS, SIGNS))
        + [(0, a / PHI, b * PHI) for a in SIGNS for b in SIGNS]
        + [(a / PHI, b * PHI, 0) for a in SIGNS for b in SIGNS]
        + [(b * PHI, 0, a / PHI) for a in SIGNS for b in SIGNS],
        116.565,
        5,
    ),
    "icosahedron": (
        [(0, a, b * PHI) for a in SIGNS for b in SIGNS]
        + [(a, b * PHI, 0) for a in SIGNS for b in SIGNS]
        + [(b * PHI, 0, a) for a in SIGNS for b in SIGNS],
        138.190,
        3,
    ),
}


def dihedral_of(corners):
    """Return the angle between neighbouring faces, degrees, by the hull's normals."""
    hull = ConvexHull(np.array(corners, dtype=float))
    normals = np.unique(np.round(hull.equations[:, :3], 6), axis=0)
    normals = normals / np.linalg.norm(normals, axis=1)[:, None]
    nearest = np.sort(np.clip(normals @ normals.T, -1, 1), axis=1)[:, -2]
    return 180 - math.degrees(math.acos(float(nearest.mean())))


def panel(ident, sides, side=80.0):
    turn = np.arange(sides) * 2 * math.pi / sides
    radius = side / 2 / math.sin(math.pi / sides)
    shape = Shape.make(np.column_stack((np.cos(turn), np.sin(turn))) * radius)
    piece = Piece(ident, ident, shape)
    meet = Profile(ProfileKind.MEET)
    edges = edges_of(piece)
    build = Build(edges=tuple(EdgeProfile(e.name, meet) for e in edges))
    return replace(piece, edges=edges, build=build)


@pytest.mark.parametrize("name", SOLIDS)
def test_panels_of_a_regular_solid_meet_at_its_published_angle(name):
    corners, published, sides = SOLIDS[name]
    assert dihedral_of(corners) == pytest.approx(published, abs=1e-3)
    one, other = panel("one", sides), panel("other", sides)
    seams = [
        Seam(EdgeRef("one", e.name), EdgeRef("other", e.name), False, dihedral_of(corners))
        for e in edges_of(one)
    ]
    knives = knives_of(one, seams, {"one": one, "other": other})
    assert [k.angle for k in knives] == pytest.approx([(180 - published) / 2] * sides, abs=1e-3)
    assert reckon("mitre", {"dihedral": f"{published}"}).results["bevel"] == pytest.approx(
        knives[0].angle, abs=1e-3
    )
    # The outer face is the larger one all around by thickness × tan of the bevel: the inradius of
    # the solid's faces grows in the ratio of the solids' own inradii.
    inner = outline_at(one, knives, 0.0, 6.0, 0.0)
    outer = outline_at(one, knives, 6.0, 6.0, 0.0)
    inradius = 80 / 2 / math.tan(math.pi / sides)
    grown = inradius + 6 * math.tan(math.radians(knives[0].angle))
    assert outer.area / inner.area == pytest.approx((grown / inradius) ** 2, rel=1e-6)


@pytest.mark.parametrize(("base", "height"), [(100, 50), (100, 86.6), (60, 140)])
def test_square_pyramids_by_their_corners(base, height):
    """The dihedral between two flanks from the hull's normals, against the spike's own formula."""
    a = base / 2
    corners = [(a, a, 0), (a, -a, 0), (-a, -a, 0), (-a, a, 0), (0, 0, height)]
    hull = ConvexHull(np.array(corners, dtype=float))
    flanks = np.unique(np.round(hull.equations[:, :3], 9), axis=0)
    flanks = flanks[flanks[:, 2] > 0.0]
    cosines = sorted({round(float(p @ q), 9) for p in flanks for q in flanks})
    neighbours = cosines[-2] if len(cosines) > 2 else cosines[0]
    spike = reckon("spike", {"sides": "4", "base": f"{base}", "height": f"{height}"}).results
    assert spike["dihedral"] == pytest.approx(180 - math.degrees(math.acos(neighbours)), abs=1e-4)
    mitre = reckon("mitre", {"dihedral": f"{spike['dihedral']:.9f}"}).results
    assert mitre["bevel"] == pytest.approx(spike["bevel"], abs=1e-6)


def test_students_own_example():
    """Student 1908, additional sleep of ten patients: mean 1.58, 95 % from 0.70 to 2.46 hours."""
    sleep = [1.2, 2.4, 1.3, 1.3, 0.0, 1.0, 1.8, 0.8, 4.6, 1.4]
    found = coupon_result([100.0] * 10, [100 - x for x in sleep])
    assert (round(found.mean, 2), round(found.low, 2), round(found.high, 2)) == (1.58, 0.70, 2.46)
    low, high = stats.t.interval(0.95, 9, loc=np.mean(sleep), scale=stats.sem(sleep))
    assert (found.low, found.high) == pytest.approx((low, high))
