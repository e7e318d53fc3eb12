"""The way between cuts against OR-tools' routing solver, which is given time to search.

Its guided local search (Voudouris and Tsang 1999) over the same places to begin; on sheets of one
stage it begins by itself. `./quilt bench cutting` gives it longer, on 20 sheets.
"""

import pytest

from ivory_quilt.benchmarks.cutting import solved_by_routing, strewn
from ivory_quilt.core.cutting.order import cutting_order


@pytest.mark.parametrize(("seed", "alike"), [(1, True), (5, True), (5, False)])
def test_the_way_between_cuts_is_nearly_as_short_as_a_routing_solvers(seed, alike):
    strokes = strewn(seed, alike=alike)
    ours = cutting_order(strokes)
    assert ours.travel <= 1.15 * solved_by_routing(strokes, ours, 3)
