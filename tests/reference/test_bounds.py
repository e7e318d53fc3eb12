"""The cost that areas prove, against SciPy's own way to the solver, on programs by chance.

SciPy's `milp` states its programs another way, and says what its answers mean in its handbook.
"""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from ivory_quilt.core.nesting.bounds import Needs, _least_cost
from tests.effort import random_cases


def program(seed):
    """Return needs of some groups of pieces on some sheets and rolls, and how many are sheets."""
    rng = np.random.default_rng(seed)
    sheets, rolls, groups = (
        int(rng.integers(1, 4)),
        int(rng.integers(0, 2)),
        int(rng.integers(1, 5)),
    )
    stock = sheets + rolls
    wide = stock + groups * stock
    rows = np.zeros((groups + stock, wide))
    for k in range(groups):
        rows[k, stock + k * stock : stock + (k + 1) * stock] = 1
    for k in range(stock):
        rows[groups + k, stock + k :: stock] = 1
        rows[groups + k, k] = -rng.uniform(5, 20)
    low = np.concatenate((rng.uniform(1, 50, groups), np.full(stock, -np.inf)))
    high = np.concatenate((np.full(groups, np.inf), np.zeros(stock)))
    costs = np.concatenate((rng.uniform(0, 9, sheets).round(2), rng.uniform(0, 2, rolls)))
    limits = rng.choice([1.0, 2.0, 5.0, np.inf], stock)
    return Needs(rows, low, high, costs, limits), sheets


def by_scipy(needs, sheets):
    free = np.zeros(needs.width - len(needs.costs))
    whole = [1] * sheets + [0] * (needs.width - sheets)
    found = milp(
        np.concatenate((needs.costs, free)),
        constraints=LinearConstraint(needs.rows, needs.low, needs.high),
        bounds=Bounds(np.zeros(needs.width), np.concatenate((needs.limits, free + np.inf))),
        integrality=whole,
    )
    return None if found.status == 2 else found.fun


@random_cases(40, 400)
@given(st.integers(0, 10**6))
def test_the_least_cost_is_what_scipy_finds(seed):
    needs, sheets = program(seed)
    theirs, ours = by_scipy(needs, sheets), _least_cost(needs, sheets)
    assert (ours is None) == (theirs is None)
    assert (ours or 0.0) == pytest.approx(theirs or 0.0, rel=2e-4, abs=1e-6)
    # A bound may fall short of the least cost, and never pass it.
    assert (ours or 0.0) <= (theirs or 0.0) + 1e-6
