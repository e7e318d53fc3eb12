"""Where a part may stand in a row, asked member by member, against the whole slice."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting import construct as construction
from ivory_quilt.core.nesting.construct import first_layout
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, RollSpec
from ivory_quilt.core.nesting.kernels.slices import least_free, slid_back, whole_slice
from ivory_quilt.core.nesting.world import World
from tests.core.nesting.test_kernels import edges_and_box, prepared
from tests.strategies import shapes

WIDTH = 700.0
CLEAR = 1e-3
ELL = Shape.make([(0, 0), (90, 0), (90, 30), (35, 30), (35, 80), (0, 80)])


def strewn(members, seed):
    """Return a world whose parts lie anywhere on a roll, and the ids of its items."""
    pieces = tuple(PieceSpec(f"p{k}", s, 1) for k, s in enumerate(members))
    world = World(LayJob(pieces, rolls=(RollSpec("r", 300.0, WIDTH),)))
    random = np.random.default_rng(seed)
    region = world.region_index("r", 0)
    for i in range(world.count):
        angle = random.uniform(0, 2 * np.pi)
        x, y = random.uniform((0, 0), (WIDTH, 300))
        world.set_pose(i, (x, y, np.cos(angle), np.sin(angle), 1.0), region)
    return world, world.members(region)


def asked(world, members, shape, swap, rise):
    """Return what all questions about one row need, and the row's forbidden stretches."""
    _, box = edges_and_box(shape)
    common = (prepared(shape, swap), box, rise, swap, world.slice_items, members, len(members))
    low, high = np.zeros(8), np.zeros(8)  # they grow
    low, high, n = whole_slice(*common, low, high)
    work = (np.zeros(8), np.zeros(8), np.zeros((len(members), 3)))
    return common, work, list(zip(low[:n].tolist(), high[:n].tolist(), strict=True))


@pytest.mark.parametrize("swap", [False, True])
@given(
    shape=shapes(size=70.0),
    members=st.lists(shapes(size=90.0), min_size=1, max_size=9),
    seed=st.integers(0, 10**6),
    rise=st.floats(0, 250, allow_nan=False),
    start=st.floats(-50, 500, allow_nan=False),
)
def test_a_row_asked_member_by_member_is_the_whole_slice(swap, shape, members, seed, rise, start):
    world, lying = strewn(members, seed)
    common, work, spans = asked(world, lying, shape, swap, rise)
    expected = start
    for low, high in spans:
        if low <= expected <= high:
            expected = high + CLEAR
    found = least_free(*common, start, 1e9, CLEAR, work)
    assert found == pytest.approx(expected, abs=1e-6)
    # Asked for no further than just before it, the answer is still that nothing is free there.
    if expected > start:
        short = (start + expected) / 2
        assert least_free(*common, start, short, CLEAR, work) > short
    # From a free place far off it slides to the last thing in the way.
    back = slid_back(*common, 2000.0, start, CLEAR, work)
    assert back == pytest.approx(max([start, *(high + CLEAR for _, high in spans)]), abs=1e-6)
    # And from the one found no further back than to what keeps it from going on.
    near = slid_back(*common, found, -500.0, CLEAR, work)
    behind = [high + CLEAR for _, high in spans if high < found]
    assert near == pytest.approx(max([-500.0, *behind]), abs=1e-6)


def test_a_free_place_inside_a_frame_is_found_and_not_left_by_sliding():
    frame = Shape.make(rectangle(100, 100).outer, [rectangle(60, 60).outer + 20])
    pieces = (PieceSpec("f", frame, 1), PieceSpec("plug", rectangle(20, 20), 1))
    world = World(LayJob(pieces, rolls=(RollSpec("r", 300.0, WIDTH),)))
    region = world.region_index("r", 0)
    world.set_pose(0, (50.0, 50.0, 1.0, 0.0, 1.0), region)
    common, work, _ = asked(world, world.members(region), rectangle(20, 20), False, 40.0)
    assert least_free(*common, -5.0, 1e9, 0.0, work) == pytest.approx(20, abs=0.01)
    assert least_free(*common, -50.0, 1e9, 0.0, work) == -50
    assert least_free(*common, 61.0, 1e9, 0.0, work) == pytest.approx(100, abs=0.01)
    assert slid_back(*common, 55.0, -90.0, 0.0, work) == pytest.approx(20, abs=0.01)
    assert slid_back(*common, 130.0, -90.0, 0.0, work) == pytest.approx(100, abs=0.01)
    assert slid_back(*common, -30.0, -90.0, 0.0, work) == -90


def test_what_an_earlier_copy_found_out_changes_no_layout(monkeypatch):
    """Only time is saved: forgetting it between any two parts gives the same places."""
    pieces = (
        PieceSpec("l", ELL, 9, (0.0, 90.0, 180.0, 270.0)),
        PieceSpec("s", rectangle(25, 40), 8),
    )
    job = LayJob(pieces, rolls=(RollSpec("r", 200.0, 2000.0),))
    layouts, real, remembered = [], construction.best_in_region, []

    def forgetful(*asked):
        known = asked[9]
        remembered.append(bool((known > -np.inf).any()))
        known[:] = -np.inf
        return real(*asked)

    for kernel in (real, forgetful):
        monkeypatch.setattr(construction, "best_in_region", kernel)
        world = World(job)
        first_layout(world, np.zeros(2, dtype=np.int64))
        layouts.append(world.placements())
    assert layouts[0] == layouts[1]
    assert len(layouts[0]) == 17
    assert sum(remembered) >= 12  # or nothing was there to be forgotten
