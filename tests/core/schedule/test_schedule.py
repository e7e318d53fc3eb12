"""Schedules: true by an independent check, proven where small, refused with what conflicts."""

import itertools
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.schedule.bound import work_bound
from ivory_quilt.core.schedule.check import broken_rules
from ivory_quilt.core.schedule.conflict import conflict_of, earliest_starts
from ivory_quilt.core.schedule.schedule_job import (
    Follow,
    Resource,
    ScheduleJob,
    Task,
    Timed,
    merged,
    shared,
)
from ivory_quilt.core.schedule.serial import _end_of, serial_schedule
from ivory_quilt.core.schedule.solve import Effort, schedule
from tests.effort import random_cases

MAKER = Resource("maker")
QUICK = Effort(10.0, 2)


def job(*tasks, follows=(), resources=(MAKER,), due=None):
    made = tuple(Task(i, m, needs) for i, m, needs in tasks)
    return ScheduleJob(tuple(resources), made, tuple(Follow(*f) for f in follows), due)


def own(ident, minutes):
    return (ident, minutes, {"maker": 1})


def starts(result):
    return {t.id: t.start for t in result.tasks}


def test_a_join_waits_for_the_cement_and_hands_work_meanwhile():
    # Coat, wait 10 to 15, join; sanding for 8 fits into the wait: 6 + 10 + 4.
    found = schedule(
        job(own("coat", 6), own("join", 4), own("sand", 8), follows=(("join", "coat", 10, 15),)),
        QUICK,
    )
    assert found.optimal
    assert found.makespan == found.bound == 20
    assert starts(found) == {"coat": 0, "sand": starts(found)["sand"], "join": 16}
    assert 6 <= starts(found)["sand"] <= 8


def test_an_open_time_is_never_passed():
    # Sanding for 20 does not fit into a wait of 15 at most: it comes before or after.
    found = schedule(
        job(own("coat", 6), own("join", 4), own("sand", 20), follows=(("join", "coat", 10, 15),)),
        QUICK,
    )
    assert found.makespan == 20 + 20
    assert 10 <= starts(found)["join"] - 6 - starts(found)["coat"] <= 15


def test_a_task_runs_within_one_evening_and_waiting_runs_on_overnight():
    evenings = Resource("maker", 1, ((0, 60), (1440, 1500)))
    found = schedule(
        job(own("a", 40), own("b", 30), follows=(("b", "a", 600, None),), resources=(evenings,)),
        QUICK,
    )
    assert starts(found) == {"a": 0, "b": 1440}
    touching = Resource("maker", 1, ((0, 60), (60, 120)))
    whole = schedule(job(own("a", 100), resources=(touching,)), QUICK)
    assert whole.makespan == 100


def test_several_hands_and_a_booth():
    resources = (Resource("maker", 2), Resource("booth", 1, ((30, 90),)))
    tasks = [(f"cut {k}", 10, {"maker": 1}) for k in range(4)]
    tasks += [("spray", 20, {"maker": 1, "booth": 1}), ("lift", 5, {"maker": 2})]
    found = schedule(job(*tasks, resources=resources), QUICK)
    assert found.makespan == 50
    assert starts(found)["spray"] == 30


def test_how_late_it_is():
    assert schedule(job(own("a", 50), due=30), QUICK).late == 20
    assert schedule(job(own("a", 50), due=60), QUICK).late == 0
    assert schedule(job(), QUICK).makespan == 0


# What cannot be


@pytest.mark.parametrize(
    ("tasks", "follows", "resources", "named"),
    [
        # Waits that contradict each other.
        ([own("a", 5), own("b", 5)], [("b", "a"), ("a", "b")], (MAKER,), {"a", "b"}),
        (
            [own("a", 5), own("b", 5), own("c", 9), own("d", 1)],
            [("c", "a", 0, 10), ("b", "a", 30, None), ("c", "b", 0, None)],
            (MAKER,),
            {"a", "b", "c"},
        ),
        # A task longer than any window.
        ([own("a", 90), own("b", 5)], [], (Resource("maker", 1, ((0, 60), (100, 150))),), {"a"}),
        # No two windows in which the wait could end.
        (
            [own("a", 50), own("b", 50), own("c", 1)],
            [("b", "a", 0, 30)],
            (Resource("maker", 1, ((0, 60), (600, 660))),),
            {"a", "b"},
        ),
        # Three joins within one open time, one pair of hands.
        (
            [own("coat", 5), own("x", 8), own("y", 8), own("z", 8), own("w", 3)],
            [(j, "coat", 0, 10) for j in "xyz"],
            (MAKER,),
            {"coat", "x", "y", "z"},
        ),
        # More work than the calendar has.
        ([own("a", 40), own("b", 40)], [], (Resource("maker", 1, ((0, 60),)),), {"a", "b"}),
    ],
)
def test_what_cannot_be_scheduled_names_the_tasks_in_conflict(tasks, follows, resources, named):
    with pytest.raises(InputError) as caught:
        schedule(job(*tasks, follows=follows, resources=resources), QUICK)
    text = str(caught.value)
    assert {i for i, _, _ in tasks if f"'{i}'" in text} == named


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda: job(own("a", -1)), "minutes"),
        (lambda: job(own("a", 5), own("a", 6)), "twice"),
        (lambda: job(("a", 5, {"makr": 1})), "did you mean"),
        (lambda: job(("a", 5, {"maker": 2})), "of which there are 1"),
        (lambda: job(own("a", 5), follows=(("a", "b"),)), "no task 'b'"),
        (lambda: job(own("a", 5), follows=(("a", "a"),)), "follow itself"),
        (lambda: job(own("a", 5), own("b", 5), follows=(("a", "b", 9, 4),)), "most"),
        (lambda: job(resources=(Resource("m", 1, ((9, 3),)),)), "ends before"),
        (lambda: job(resources=(MAKER, MAKER)), "twice"),
    ],
)
def test_a_job_that_makes_no_sense_is_refused(make, said):
    with pytest.raises(InputError, match=said):
        make()


def test_the_conflict_is_as_small_as_can_be():
    tasks = [own(f"t{k}", 1) for k in range(30)]
    bad = {"t4", "t17", "t23"}
    found = conflict_of(job(*tasks), lambda part: not bad <= {t.id for t in part.tasks})
    assert set(found) == bad


def test_windows_that_touch_are_one_and_shared_ones_are_cut():
    assert merged([(5, 9), (0, 3), (3, 5), (20, 30)]) == ((0, 9), (20, 30))
    assert shared(((0, 10), (20, 30)), ((5, 25),)) == ((5, 10), (20, 25))
    assert shared(((0, 10),), ((10, 20),)) == ((10, 10),)


# Against every order, and at random


def small(seed):
    rng = random.Random(seed)
    count = rng.randint(2, 5)
    tasks = [own(f"t{k}", rng.randint(0, 9)) for k in range(count)]
    follows = []
    for a, b in itertools.combinations(range(count), 2):
        if rng.random() < 0.4:
            least = rng.randint(0, 8)
            most = least + rng.randint(0, 12) if rng.random() < 0.5 else None
            follows.append((f"t{b}", f"t{a}", least, most))
    calendar = None
    if rng.random() < 0.5:
        calendar = tuple((k * 30, k * 30 + rng.randint(8, 20)) for k in range(4))
    return job(*tasks, follows=follows, resources=(Resource("maker", 1, calendar),))


def brute(one):
    """Return the least end by trying every start of every task; None: no schedule holds."""
    spans = range(120)  # past the last window of `small`, and past all its waits in a row
    best = None

    def place(k, timed):
        nonlocal best
        if k == len(one.tasks):
            if not broken_rules(one, tuple(timed)):
                end = max(t.end for t in timed)
                best = end if best is None else min(best, end)
            return
        task = one.tasks[k]
        for start in spans:
            if best is not None and start + task.minutes >= best:
                break
            now = [*timed, Timed(task.id, start, start + task.minutes)]
            names = {t.id for t in now}
            part = ScheduleJob(
                one.resources,
                one.tasks[: k + 1],
                tuple(f for f in one.follows if {f.task, f.after} <= names),
            )
            if not broken_rules(part, tuple(now)):
                place(k + 1, now)

    place(0, [])
    return best


@random_cases(12, 40)
@given(st.integers(0, 10**6))
def test_small_jobs_against_every_schedule(seed):
    one = small(seed)
    if len(one.tasks) > 3:
        one = ScheduleJob(
            one.resources,
            one.tasks[:3],
            tuple(f for f in one.follows if {f.task, f.after} <= {"t0", "t1", "t2"}),
        )
    best = brute(one)
    if best is None:
        with pytest.raises(InputError):
            schedule(one, QUICK)
    else:
        found = schedule(one, QUICK)
        assert (found.makespan, found.optimal) == (best, True)
        early = earliest_starts(one)
        assert work_bound(one, early) <= best
        first = serial_schedule(one, early)
        assert first is None or (not broken_rules(one, first) and _end_of(first) >= best)


def large(seed):
    rng = random.Random(seed)
    count = rng.randint(10, 40)
    days = tuple((1440 * d, 1440 * d + rng.randint(90, 240)) for d in range(40))
    resources = (Resource("maker", rng.randint(1, 2), days), Resource("booth", 1, None))
    tasks = []
    for k in range(count):
        needs = {"maker": 1}
        if rng.random() < 0.2:
            needs["booth"] = 1
        tasks.append((f"t{k}", rng.randint(1, 60), needs))
    follows = []
    for k in range(1, count):
        if rng.random() < 0.7:
            follows.append((f"t{k}", f"t{rng.randrange(k)}", rng.choice((0, 10, 60, 480)), None))
    return job(*tasks, follows=follows, resources=resources)


@random_cases(40, 400)
@given(st.integers(0, 10**6))
def test_what_stands_at_once_keeps_every_rule(seed):
    one = large(seed)
    rng = random.Random(seed)
    tied = tuple(
        Follow(f.task, f.after, f.least, f.least + rng.randint(0, 200)) if rng.random() < 0.3 else f
        for f in one.follows
    )
    for job_ in (one, ScheduleJob(one.resources, one.tasks, tied)):
        try:
            early = earliest_starts(job_)
        except InputError:
            continue
        first = serial_schedule(job_, early)
        if first is not None:
            assert broken_rules(job_, first) == []
            assert _end_of(first) >= work_bound(job_, early)
    assert serial_schedule(one, earliest_starts(one)) is not None


@random_cases(10, 50)
@given(st.integers(0, 10**6))
def test_random_plans_keep_every_rule(seed):
    one = large(seed)
    found = schedule(one, Effort(0.6, 2))
    assert broken_rules(one, found.tasks) == []
    assert found.bound <= found.makespan
    early = earliest_starts(one)
    assert all(t.start >= early[t.id] for t in found.tasks)
    assert max(early[t.id] + t.minutes for t in one.tasks) <= found.makespan


@pytest.mark.parametrize(
    "timed",
    [
        ((0, 6), (16, 20), (10, 18)),  # two tasks, one pair of hands
        ((0, 6), (12, 16), (20, 28)),  # the cement is wet
        ((0, 6), (22, 26), (6, 14)),  # it is dead
        ((-1, 5), (15, 19), (6, 14)),
        ((0, 7), (17, 21), (7, 15)),
    ],
)
def test_the_check_sees_what_is_broken(timed):
    one = job(own("coat", 6), own("join", 4), own("sand", 8), follows=(("join", "coat", 10, 15),))
    names = ("coat", "join", "sand")
    assert broken_rules(one, tuple(Timed(n, *t) for n, t in zip(names, timed, strict=True)))
    good = (Timed("coat", 0, 6), Timed("join", 16, 20), Timed("sand", 6, 14))
    assert broken_rules(one, good) == []
    assert broken_rules(one, good[:2])
