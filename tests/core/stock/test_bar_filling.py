"""Bars filled without a program: everything is cut once, and no bar is too short."""

import random

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st

from ivory_quilt.core.stock.bar_filling import close_patterns, fill_bars
from tests.effort import random_cases

ROOM = np.array([1001, 1501, 2501])


@st.composite
def cut_up(draw):
    """Bars that are cut up by chance: they can be filled, but for what is spared."""
    bars = draw(st.lists(st.integers(0, 2), min_size=1, max_size=12))
    pieces = []
    for bar in bars:
        left = int(ROOM[bar]) - draw(st.integers(0, 20))
        while left > 120:
            pieces.append(draw(st.integers(60, min(left, 900))))
            left -= pieces[-1]
    return bars, pieces


@random_cases(60, 600)
@given(cut_up())
def test_what_is_filled_is_all_cut_and_fits(case):
    bars, pieces = case
    widths, demand = np.unique(pieces, return_counts=True)
    made = fill_bars(bars, ROOM, widths, demand, lambda: True)
    assume(made is not None)
    assert sorted(p.bar for p, n in made.items() for _ in range(n)) == sorted(bars)
    assert (sum(np.array(p.counts) * n for p, n in made.items()) == demand).all()
    assert all(int(np.dot(p.counts, widths)) <= ROOM[p.bar] for p in made)


def test_many_short_lengths_fill_their_bars_to_the_end():
    chance = random.Random(5)
    pieces = [chance.randint(40, 600) for _ in range(120)]
    full = -(-sum(pieces) // 1501)
    pieces.append(full * 1501 - sum(pieces) - 5)  # five steps to spare in all
    widths, demand = np.unique(pieces, return_counts=True)
    assert fill_bars([1] * full, ROOM, widths, demand, lambda: True) is not None


def test_bars_that_are_too_short_or_a_stop_fill_nothing():
    widths, demand = np.array([500]), np.array([3])
    assert fill_bars([0], ROOM, widths, demand, lambda: True) is None
    assert fill_bars([0, 0], ROOM, widths, demand, lambda: False) is None


def test_close_patterns_cut_everything_that_the_bar_takes():
    widths, demand = np.array([1200, 700, 400, 90]), np.array([2, 3, 4, 9])
    made = list(close_patterns(1, ROOM, widths, demand))
    cut = sum(np.array(p.counts) for p in made)
    assert cut.tolist() == demand.tolist()
    assert all(int(np.dot(p.counts, widths)) <= ROOM[1] for p in made)
    # What is longer than the bar stays out, and all else is still cut.
    short = sum(np.array(p.counts) for p in close_patterns(0, ROOM, widths, demand))
    assert short.tolist() == [0, 3, 4, 9]
