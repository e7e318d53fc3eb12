"""The maker's own changes in the derived steps."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.schedule.bench_choices import (
    BenchChoices,
    StepSet,
    step_set,
    with_step_set,
)
from ivory_quilt.core.schedule.bench_schedule import bench_job, dried_out
from ivory_quilt.core.schedule.own_steps import DoneStep, OwnStep, StepChange
from ivory_quilt.core.schedule.schedule_job import Follow
from ivory_quilt.core.schedule.solve import schedule_at_once
from ivory_quilt.core.schedule.step import BenchStep, BenchSteps, StepKind
from ivory_quilt.core.schedule.step_changes import in_sittings, waits_for_itself, with_changes
from tests.effort import random_cases

EVENING = 18 * 60 + 30


def steps(*minutes):
    made = tuple(BenchStep(f"s{k}", StepKind.CUT, f"step {k}", m) for k, m in enumerate(minutes))
    follows = tuple(Follow(f"s{k + 1}", f"s{k}", 30) for k in range(len(minutes) - 1))
    return BenchSteps((*made, BenchStep("pack", StepKind.PACK, "all", 5)), follows)


def ends(made, choices=None, done=None, now=0):
    job = bench_job(made, choices or BenchChoices(), 0, now, done)
    return {t.id: (t.start, t.end) for t in schedule_at_once(job).tasks}


def test_other_minutes_and_repeats_with_a_wait():
    made = with_changes(steps(10, 10), [StepChange("s0", minutes=20, times=3, wait=15)], ())
    ids = [s.id for s in made.steps]
    assert ids == ["s0", "s0#2", "s0#3", "s1", "pack"]
    at = ends(made)
    assert at["s0"][1] - at["s0"][0] == 20
    assert at["s0#2"][0] >= at["s0"][1] + 15
    assert at["s1"][0] >= at["s0#3"][1] + 30


def test_what_is_skipped_hands_its_wait_on():
    made = with_changes(steps(10, 10, 10), [StepChange("s1", skip=True)], ())
    assert [s.id for s in made.steps] == ["s0", "s2", "pack"]
    assert Follow("s2", "s0", 30) in made.follows


def test_an_own_step_stands_between_others_and_before_packing():
    lights = OwnStep("o", "wire the lights", minutes=40, after=("s0",), before=("s1",), wait=10)
    made = with_changes(steps(10, 10), (), [lights, OwnStep("q", "call a friend")])
    at = ends(made)
    assert at["o"][0] >= at["s0"][1]
    assert at["s1"][0] >= at["o"][1] + 10
    assert Follow("pack", "q", 0) in made.follows


def test_another_order_may_not_go_round():
    with pytest.raises(InputError, match="wait for itself"):
        with_changes(steps(10, 10), [StepChange("s0", after=("s1",))], ())
    with pytest.raises(InputError, match="wait for itself"):
        with_changes(
            steps(10), (), [OwnStep("o", "x", after=("p",)), OwnStep("p", "y", after=("o",))]
        )
    gone = with_changes(steps(10), [StepChange("not there", minutes=5)], ())
    assert gone == steps(10)


@random_cases(60, 600)
@given(st.lists(st.integers(1, 900), min_size=1, max_size=6), st.integers(20, 210))
def test_what_is_longer_than_a_sitting_is_parted_and_nothing_is_lost(minutes, longest):
    whole = steps(*minutes)
    made = in_sittings(whole, longest)
    assert sum(s.minutes for s in made.steps) == sum(s.minutes for s in whole.steps)
    assert max(s.minutes for s in made.steps) <= longest
    assert len({s.id for s in made.steps}) == len(made.steps)
    assert waits_for_itself(made) == ""
    # Every step still comes, by whatever way, after all those before it.
    at = ends(made)
    for k in range(len(minutes) - 1):
        last = max(e for i, (_, e) in at.items() if i.split("~")[0] == f"s{k}")
        assert at[f"s{k + 1}"][0] >= last + 30


@random_cases(60, 600)
@given(st.lists(st.tuples(st.integers(0, 7), st.integers(0, 7)), max_size=20))
def test_a_round_about_is_found_as_by_walking(pairs):
    made = BenchSteps(
        tuple(BenchStep(f"s{k}", StepKind.CUT, "x", 1) for k in range(8)),
        tuple(Follow(f"s{b}", f"s{a}") for a, b in pairs if a != b),
    )
    reach = {k: {b for a, b in pairs if a == k and a != b} for k in range(8)}
    for _ in range(8):
        reach = {k: v | {c for b in v for c in reach[b]} for k, v in reach.items()}
    assert bool(waits_for_itself(made)) == any(k in v for k, v in reach.items())


def test_what_was_done_just_now_still_dries():
    made = steps(10, 10)
    at = ends(made, BenchChoices(done=(DoneStep("s0"),)), {"s0": EVENING + 5}, EVENING + 6)
    assert at["s1"][0] >= EVENING + 35
    # Where nobody knows when it was, it is dry.
    assert ends(made, None, {"s0": -1}, EVENING + 6)["s1"][0] == EVENING + 6


def test_what_is_brushed_is_joined_in_its_time_or_brushed_again():
    coat = BenchStep("coat", StepKind.COAT, "cuff", 3)
    join = BenchStep("join", StepKind.JOIN, "cuff", 3)
    made = BenchSteps((coat, join), (Follow("join", "coat", 12, 15),))
    done = {"coat": EVENING}
    assert ends(made, None, done, EVENING + 5)["join"][0] == EVENING + 12
    assert ends(made, None, done, EVENING + 14)["join"][0] == EVENING + 14
    # Nobody is in two places: what else there is to do waits meanwhile.
    both = BenchSteps((*made.steps, BenchStep("cut", StepKind.CUT, "x", 30)), made.follows)
    at = ends(both, None, done, EVENING + 12)
    assert at["join"] == (EVENING + 12, EVENING + 15)
    assert at["cut"][0] >= EVENING + 15
    # At midnight, long after the evening: it must be joined all the same.
    assert ends(made, None, {"coat": 1430}, 1441)["join"][0] == 1442
    assert dried_out(made, done, EVENING + 15) == frozenset()
    assert dried_out(made, done, EVENING + 16) == {"coat"}
    again = ends(made, None, done, EVENING + 16)
    assert set(again) == {"coat", "join"}


def test_the_booth_works_on_dry_days_only():
    paint = BenchStep("p", StepKind.PAINT, "cuff", 30, booth=True)
    wet = BenchChoices(start="2027-03-01", indoors=False, dry=("2027-03-03",))
    at = ends(BenchSteps((paint,), ()), wet)
    assert at["p"][0] == 2 * 1440 + EVENING


def test_a_set_of_steps_is_kept_without_days_and_ticks():
    own = OwnStep("o", "wire the lights", pieces=("cuff",))
    mine = BenchChoices(
        start="2027-03-01",
        paint=3,
        done=(DoneStep("x"),),
        own=(own,),
        changes=(StepChange("y", 5),),
    )
    kept = step_set("Lanterns", mine)
    assert kept.choices.own[0].pieces == ()
    assert (kept.choices.start, kept.choices.done, kept.choices.changes) == ("", (), ())
    other = BenchChoices(start="2027-05-01", done=(DoneStep("z"),))
    used = with_step_set(other, kept)
    assert (used.start, used.done, used.paint) == ("2027-05-01", other.done, 3)
    assert used.own == kept.choices.own
    with pytest.raises(InputError):
        StepSet(" ", mine)


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: StepChange("s", minutes=0),
        lambda: StepChange("s", times=0),
        lambda: OwnStep("o", " "),
        lambda: OwnStep("o", "x", wait=-1),
        lambda: DoneStep("s", "yesterday"),
    ],
)
def test_what_makes_no_sense_is_refused(wrong):
    with pytest.raises(InputError):
        wrong()
