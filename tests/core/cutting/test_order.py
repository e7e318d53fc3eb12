"""Cutting orders: stages are kept, every cut is made once, and the way between is short."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.benchmarks.cutting import strewn
from ivory_quilt.core.cutting.order import cutting_order
from ivory_quilt.core.cutting.strokes import CutStep, Stage, Stroke
from ivory_quilt.core.cutting.ways import ways_of
from tests.effort import random_cases


def outline(number, x, y, size=10.0, band=0):
    corners = np.array([(0, 0), (1, 0), (1, 1), (0, 1)], dtype=float)
    stage = Stage(through=True, outside=0, step=CutStep.OUTLINE, setting=0, band=band)
    return Stroke(number, stage, (x, y) + size * corners, closed=True)


def shortest(strokes):
    """Return the least way over every order that keeps the stages, and every place to begin."""
    ways = [ways_of(s) for s in strokes]
    best = np.inf
    for order in itertools.permutations(range(len(strokes))):
        kept = [strokes[k].stage for k in order]
        if kept != sorted(kept):
            continue
        for chosen in itertools.product(*(ways[k] for k in order)):
            at, length = np.zeros(2), 0.0
            for way in chosen:
                length += float(np.linalg.norm(way[0] - at))
                at = way[-1]
            best = min(best, length)
    return best


def test_cuts_in_a_row_are_made_one_after_the_other_from_the_nearest_corner():
    row = [outline(k, 100.0 * k, 0.0) for k in (3, 1, 0, 2)]
    made = cutting_order(row)
    assert [c.stroke.part for c in made.cuts] == [0, 1, 2, 3]
    # From corner to corner: the next outline begins 100 on, each is entered and left at one place.
    assert made.travel == pytest.approx(300)
    assert cutting_order([]).cuts == ()


def test_an_open_cut_is_run_from_whichever_end_is_nearer():
    score = Stage(through=False, outside=0, step=CutStep.SCORE, setting=0, band=0)
    line = Stroke(0, score, np.array([(200.0, 0.0), (10.0, 0.0)]), closed=False)
    made = cutting_order([line, outline(1, 200.0, 5.0)])
    assert made.cuts[0].places[0].tolist() == [10.0, 0.0]
    assert made.travel == pytest.approx(15)


@random_cases(25, 300)
@given(st.integers(0, 10**6))
def test_stages_are_kept_and_every_cut_is_made_once(seed):
    strokes = strewn(seed)[:24]
    made = cutting_order(strokes, kicks=2)
    assert sorted(map(id, (c.stroke for c in made.cuts))) == sorted(map(id, strokes))
    kept = [c.stroke.stage for c in made.cuts]
    assert kept == sorted(kept)
    at, length = np.zeros(2), 0.0
    for cut in made.cuts:
        length += float(np.linalg.norm(cut.places[0] - at))
        at = cut.places[-1]
        ring = {tuple(p) for p in cut.stroke.places.tolist()}
        assert {tuple(p) for p in cut.places.tolist()} == ring
        assert (cut.places[0].tolist() == cut.places[-1].tolist()) == cut.stroke.closed
    assert made.travel == pytest.approx(length)


@random_cases(12, 120)
@given(st.integers(0, 10**6))
def test_few_cuts_come_in_the_best_order(seed):
    random = np.random.default_rng(seed)
    strokes = [
        outline(k, *random.uniform(0, 400, 2), size=random.uniform(5, 60), band=int(k > 2))
        for k in range(5)
    ]
    assert cutting_order(strokes, kicks=12).travel == pytest.approx(shortest(strokes))


def test_the_same_sheet_gives_the_same_order_and_stops_when_it_is_told_to():
    strokes = strewn(7)
    first, again = cutting_order(strokes), cutting_order(strokes)
    assert [c.stroke.part for c in first.cuts] == [c.stroke.part for c in again.cuts]
    stopped = cutting_order(strokes, going=lambda: False)
    assert len(stopped.cuts) == len(strokes)
    assert stopped.travel >= first.travel - 1e-9
