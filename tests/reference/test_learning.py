"""What the journal learns, against SciPy and published examples."""

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import stats

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.journal.estimate import (
    kept_observations,
    limit_estimate,
    mean_estimate,
    ratio_estimate,
    share_estimate,
)
from ivory_quilt.core.journal.learning import ring_neutral
from tests.effort import random_cases

PLAIN = st.lists(st.floats(0.5, 2.0), min_size=2, max_size=30)


@random_cases(60, 600)
@given(PLAIN)
def test_the_interval_is_students_as_scipy_has_it(values):
    kept = kept_observations(values)
    found = mean_estimate(values)
    if np.ptp(kept) == 0:
        low = high = kept[0]
    else:
        low, high = stats.t.interval(0.95, len(kept) - 1, np.mean(kept), stats.sem(kept))
    assert found.value == pytest.approx(np.mean(kept))
    assert (found.low, found.high) == pytest.approx((low, high))
    assert found.count + found.wild == len(values)


@random_cases(60, 600)
@given(PLAIN)
def test_the_modified_z_score_is_that_of_scipys_mad(values):
    values = [*values, 1.0, 1.1, 0.9, 1.05]
    scaled = stats.median_abs_deviation(values, scale="normal")
    assume(scaled > 0)  # else more than half are alike, and the mean deviation judges
    off = np.abs(np.array(values) - np.median(values))
    # SciPy's constant has more digits: what stands just at the edge is left to either.
    edge = np.abs(off / max(scaled, 1e-12) - 3.5) < 0.01
    wild = (off / max(scaled, 1e-12) > 3.5) & ~edge
    kept = list(kept_observations(values))
    expected = [v for v, w, e in zip(values, wild, edge, strict=True) if not w and not e]
    assert [v for v, e in zip(values, edge, strict=True) if v in kept and not e] == expected


def test_the_published_example_of_a_wild_value():
    # Iglewicz and Hoaglin (1993), the data as the NIST/SEMATECH e-Handbook, section 1.3.5.17,
    # discusses them: of eight, the last is wild. From memory.
    values = [199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57]
    assert kept_observations(values) == tuple(values[:-1])


@random_cases(40, 400)
@given(st.integers(0, 60), st.integers(1, 60))
def test_a_share_has_the_exact_interval(some, of):
    some = min(some, of)
    exact = stats.binomtest(some, of).proportion_ci(0.95, method="exact")
    found = share_estimate(some, of)
    assert (found.low, found.high) == pytest.approx((exact.low, exact.high), abs=1e-9)


def test_one_wild_entry_moves_neither_a_pace_nor_a_limit():
    usual = [1.2, 1.3, 1.25, 1.15, 1.28]
    assert ratio_estimate([*usual, 40.0]).value == pytest.approx(ratio_estimate(usual).value)
    assert ratio_estimate([*usual, 40.0]).wild == 1
    held, failed = [4.0, 6.0, 8.0, 9.0, 10.0], [14.0, 15.0, 18.0]
    plain, wild = limit_estimate(held, failed), limit_estimate(held, [*failed, 3.0])
    assert plain.value == wild.value == 12.0
    assert (plain.low, plain.high) == (10.0, 14.0)


def test_half_as_long_weighs_as_twice_as_long():
    assert ratio_estimate([0.5, 2.0]).value == pytest.approx(1.0)


def test_a_closed_ring_by_hand():
    # Neutral line in the middle: the strip is as long as the middle circle.
    assert ring_neutral(math.pi * 110, 100, 10) == pytest.approx(0.5)
    assert ring_neutral(math.pi * 108, 100, 10) == pytest.approx(0.4)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: mean_estimate([1.0]),
        lambda: share_estimate(3, 2),
        lambda: share_estimate(0, 0),
        lambda: limit_estimate([1.0], []),
        lambda: ring_neutral(500, 100, 10),
        lambda: ring_neutral(0, 100, 10),
    ],
)
def test_what_says_nothing_is_refused(wrong):
    with pytest.raises(InputError):
        wrong()
