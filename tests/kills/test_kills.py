"""A few sudden ends in the suite; `./quilt kills` makes a thousand."""

from tests.effort import FEW, LONG
from tests.kills.cutting_judge import CuttingJudge
from tests.kills.judge import MOST_LOST, Judge

COUNT = 40 if LONG else 2 if FEW else 6


def test_sudden_ends_lose_no_saved_byte_and_at_most_two_seconds(tmp_path):
    judge = Judge(tmp_path)
    for seed in range(COUNT):
        judge.one(7000 + seed)
    assert max(judge.lost, default=0.0) < MOST_LOST + 1.0  # the judge itself is exact


def test_sudden_ends_in_cutting_mode_lose_no_tick_and_no_foam(tmp_path):
    judge = CuttingJudge(tmp_path)
    for seed in range(COUNT // 2):
        judge.one(9000 + seed)
    assert judge.steps > COUNT
