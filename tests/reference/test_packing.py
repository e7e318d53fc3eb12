"""Layouts with a known answer.

Sources: the tangram's seven pieces are two large triangles of 1/4 of the square each, a medium one
of 1/8, two small ones of 1/16, a square of 1/8 and a parallelogram of 1/8 (the traditional
dissection as described in M. Gardner, "Time Travel and Other Mathematical Bewilderments", 1988,
chapter 3; values from memory and checked by their sum). Ten equal discs in a unit square: the
greatest least distance of ten points in it is 0.421280 (C. de Groot, R. Peikert, D. Würtz, "The
optimal packing of ten equal circles in a square", IPS Research Report 90-12, ETH Zürich, 1990;
title and value from memory), and discs about points m apart have the radius m / (2 (1 + m)).
"""

from fractions import Fraction

import pytest

from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, SheetSpec
from tests.effort import seeds

SIDE = 200.0
POINTS_APART = 0.421280  # of ten points in a unit square
A, Q, E = SIDE, SIDE / 2, SIDE / 4
TANGRAM = {
    "large one": ([(0, 0), (A, 0), (Q, Q)], Fraction(1, 4)),
    "large two": ([(0, 0), (Q, Q), (0, A)], Fraction(1, 4)),
    "medium": ([(A, A), (Q, A), (A, Q)], Fraction(1, 8)),
    "small one": ([(A, 0), (A, Q), (A - E, E)], Fraction(1, 16)),
    "small two": ([(Q, Q), (A - E, A - E), (E, A - E)], Fraction(1, 16)),
    "square": ([(Q, Q), (A - E, E), (A, Q), (A - E, A - E)], Fraction(1, 8)),
    "parallelogram": ([(0, A), (E, A - E), (A - E, A - E), (Q, A)], Fraction(1, 8)),
}
EIGHTHS = tuple(45.0 * k for k in range(8))


def run(job, steps, seed=1):
    return lay(job, limit=Limit(steps=steps), clock=lambda: 0.0, seed=seed)


def test_the_tangram_has_its_published_areas():
    for points, share in TANGRAM.values():
        assert Shape.make(points).area == pytest.approx(float(share) * SIDE**2)
    assert sum(share for _, share in TANGRAM.values()) == 1


def test_the_tangram_pieces_fill_the_square_without_overlap():
    from shapely import union_all

    union = union_all([Shape.make(points).polygon for points, _ in TANGRAM.values()])
    assert union.area == pytest.approx(SIDE**2)
    missed = union.symmetric_difference(rectangle(SIDE, SIDE).polygon)
    assert missed.area == pytest.approx(0, abs=1e-6)


@pytest.mark.long
@pytest.mark.parametrize("seed", seeds(1, 10))
def test_the_tangram_is_laid_in_a_square_a_tenth_wider(seed):
    pieces = tuple(
        PieceSpec(name, Shape.make(points), 1, EIGHTHS, mirror=name == "parallelogram")
        for name, (points, _) in TANGRAM.items()
    )
    job = LayJob(pieces, (SheetSpec("square", rectangle(1.10 * SIDE, 1.10 * SIDE)),))
    result = run(job, 120, seed)
    assert result.unplaced == ()
    assert violations(job, result.placements) == []
    assert result.density == pytest.approx(1 / 1.21, rel=1e-5)


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_ten_discs_are_laid_in_a_square(seed):
    side = 600.0
    disc = Shape.make(circle((0, 0), POINTS_APART / (2 * (1 + POINTS_APART)) * side / 1.05))
    job = LayJob((PieceSpec("disc", disc, 10, (0.0,)),), (SheetSpec("s", rectangle(side, side)),))
    result = run(job, 12, seed)
    assert result.unplaced == ()
    assert violations(job, result.placements) == []
