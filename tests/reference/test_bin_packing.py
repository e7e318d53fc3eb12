"""How many sheets: beside textbook cutting stock and bin packing, and squares in a square.

Strips as wide as the sheet make a job one-dimensional, so that what is known of bins holds for it.

Sources: the example of raws of 100 inches with 97, 610, 395 and 211 finals of 45, 36, 31 and
14 inches, whose linear program comes to 452.25 raws, is from V. Chvátal, "Linear Programming"
(1983), chapter 13. First fit decreasing needs at most 11/9 OPT + 6/9 bins (G. Dósa, "The tight
bound of first fit decreasing bin-packing algorithm is FFD(I) ≤ 11/9 OPT(I) + 6/9", 2007). The
squared rectangle of 33 × 32 from nine unlike squares is Z. Moroń's of 1925, the smallest that
there is. Five unit squares fit a square of side 2 + 1/√2 and no smaller one (F. Göbel, 1979; see
E. Friedman, "Packing Unit Squares in Squares", Electronic Journal of Combinatorics, DS7). All
values from memory; those of the rectangle are checked by their sum.
"""

import math
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.nesting.bounds import cost_bound
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, RollSpec, SheetSpec
from tests.effort import random_cases, seeds

RAW = 100.0
FINALS = {45: 97, 36: 610, 31: 395, 14: 211}
LEAST_RAWS = 453
SQUARES = (18, 15, 14, 10, 9, 8, 7, 4, 1)
LONG, WIDE = 33, 32


def run(job, steps, seed=1):
    return lay(job, limit=Limit(steps=steps), clock=lambda: 0.0, seed=seed)


def strips(lengths):
    """Return a job of strips as wide as their sheet, which is one money each."""
    pieces = tuple(
        PieceSpec(f"p{k}", rectangle(float(length), 30.0), 1, (0.0,))
        for k, length in enumerate(lengths)
    )
    return LayJob(pieces, (SheetSpec("s", rectangle(RAW, 30.0), None, Decimal(1)),))


def fewest_bins(lengths):
    """Return the true least number of bins, by an integer program."""
    n = len(lengths)
    size = n + n * n  # bin j is used; item i lies in bin j
    rows, low, high = [], [], []
    for i in range(n):
        row = np.zeros(size)
        row[n + i * n : n + (i + 1) * n] = 1.0
        rows.append(row)
        low.append(1.0)
        high.append(1.0)
    for j in range(n):
        row = np.zeros(size)
        row[n + j :: n] = lengths
        row[j] = -RAW
        rows.append(row)
        low.append(-np.inf)
        high.append(0.0)
    cost = np.concatenate((np.ones(n), np.zeros(n * n)))
    answer = milp(
        cost,
        constraints=LinearConstraint(np.array(rows), low, high),
        bounds=Bounds(0, 1),
        integrality=np.ones(size),
    )
    return round(answer.fun)


def test_the_bound_of_the_textbook_example_is_between_its_area_and_its_optimum():
    pieces = tuple(
        PieceSpec(f"{length}", rectangle(float(length), 10.0), count, (0.0,))
        for length, count in FINALS.items()
    )
    job = LayJob(pieces, (SheetSpec("raw", rectangle(RAW, 10.0), None, Decimal(1)),))
    area = math.ceil(sum(length * count for length, count in FINALS.items()) / RAW)
    assert area <= cost_bound(job) <= LEAST_RAWS


@given(st.lists(st.integers(12, 95), min_size=2, max_size=8))
@random_cases(10, 50)
def test_strips_are_laid_on_the_fewest_sheets(lengths):
    job = strips(lengths)
    fewest = fewest_bins(lengths)
    first, better = run(job, 0), run(job, 12)
    assert cost_bound(job) <= fewest
    assert first.unplaced == better.unplaced == ()
    assert fewest <= first.cost <= 11 * fewest / 9 + 6 / 9
    assert better.cost == fewest


@pytest.mark.parametrize("seed", [1, 2])
def test_a_squared_rectangle_is_laid_almost_without_waste(seed):
    assert sum(side * side for side in SQUARES) == LONG * WIDE
    scale = 10.0
    pieces = tuple(
        PieceSpec(f"{side}", rectangle(side * scale, side * scale), 1, (0.0,)) for side in SQUARES
    )
    job = LayJob(pieces, (), (RollSpec("r", WIDE * scale, 900.0, Decimal(1)),))
    result = run(job, 60, seed)
    assert violations(job, result.placements) == []
    assert LONG * scale - 0.01 <= float(result.cost) <= 1.06 * LONG * scale


@pytest.mark.long
@pytest.mark.parametrize("seed", seeds(1, 5))
def test_five_squares_need_a_slanted_one(seed):
    side = 100.0
    least = (2 + 1 / math.sqrt(2)) * side
    piece = PieceSpec("square", rectangle(side, side), 5, None)

    def laid(wide):
        return run(LayJob((piece,), (SheetSpec("s", rectangle(wide, wide)),)), 80, seed)

    roomy = laid(1.02 * least)
    assert roomy.unplaced == ()
    slants = [p.pose.rotation % 90.0 for p in roomy.placements]
    assert any(20.0 < slant < 70.0 for slant in slants)
    assert len(laid(0.995 * least).unplaced) == 1
