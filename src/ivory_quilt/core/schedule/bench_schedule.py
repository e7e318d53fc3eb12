"""Steps on the maker's calendar: the job for the scheduler, and what comes of it.

All times are minutes from midnight before the first evening.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.schedule_job import (
    Resource,
    ScheduleJob,
    ScheduleResult,
    Task,
    Window,
)
from ivory_quilt.core.schedule.step import BenchStep, BenchSteps

DAY = 1440
SPARE_WEEKS = 12  # more than the work needs: waits, and windows that a task does not fit
HANDS, BOOTH = "hands", "booth"


def evening_windows(
    choices: BenchChoices, weekday: int, days: int, now: int = 0
) -> tuple[Window, ...]:
    """Return the working hours of so many days, the first of which is a `weekday`, from `now` on.

    Raises:
        InputError: the bench works on no day.
    """
    if not choices.evenings:
        raise InputError("calendar", "the bench works on no day", "one evening or more")
    made = []
    for day in range(days):
        for one in choices.evenings:
            if one.weekday == (weekday + day) % 7:
                start, stop = (DAY * day + m for m in one.minutes)
                if stop > now:
                    made.append((max(start, now), stop))
    return tuple(sorted(made))


def bench_job(steps: BenchSteps, choices: BenchChoices, weekday: int, now: int = 0) -> ScheduleJob:
    """Return the steps that are not done as a job from `now` on.

    Raises:
        InputError: the bench works on no day.
    """
    left = [s for s in steps.steps if s.id not in choices.done]
    names = {s.id for s in left}
    week = sum(b - a for a, b in (e.minutes for e in choices.evenings)) or 1
    work = sum(s.minutes for s in left) / max(1, choices.people)
    latest = max([now, *(s.ready for s in left)])
    days = latest // DAY + 7 * (int(work / week) + SPARE_WEEKS)
    windows = evening_windows(choices, weekday, days, now)
    resources = [Resource(HANDS, choices.people, windows), Resource(BOOTH, 1, windows)]
    gates = sorted({s.ready for s in left if s.ready > now})
    resources += [Resource(f"here at {g}", len(left), ((g, DAY * days),)) for g in gates]
    tasks = tuple(Task(s.id, s.minutes, _needs(s, now)) for s in left)
    follows = tuple(f for f in steps.follows if f.task in names and f.after in names)
    due = None
    return ScheduleJob(tuple(resources), tasks, follows, due)


def _needs(step: BenchStep, now: int) -> dict[str, int]:
    needs = {HANDS: 1}
    if step.booth:
        needs[BOOTH] = 1
    if step.ready > now:
        needs[f"here at {step.ready}"] = 1
    return needs


@dataclass(frozen=True)
class PlacedStep:
    """A step with its time; `slack`: minutes by which it can be later without moving the end."""

    step: BenchStep
    start: int
    end: int
    slack: int

    @property
    def day(self) -> int:
        """Which day it is on, 0 the first."""
        return self.start // DAY


@dataclass(frozen=True)
class BenchSchedule:
    """The steps that are left, in time."""

    placed: tuple[PlacedStep, ...]
    bound: int
    optimal: bool

    @property
    def end(self) -> int:
        """When all is done."""
        return max((p.end for p in self.placed), default=0)

    @property
    def hands(self) -> int:
        """Minutes of work that are left."""
        return sum(p.step.minutes for p in self.placed)

    @cached_property
    def days(self) -> dict[int, tuple[PlacedStep, ...]]:
        """The steps of each day that has some, in time."""
        found: dict[int, list[PlacedStep]] = {}
        for one in self.placed:
            found.setdefault(one.day, []).append(one)
        return {d: tuple(v) for d, v in sorted(found.items())}

    @property
    def critical(self) -> tuple[PlacedStep, ...]:
        """The steps that cannot be later: what holds everything up."""
        return tuple(p for p in self.placed if p.slack == 0)


def bench_schedule(steps: BenchSteps, job: ScheduleJob, result: ScheduleResult) -> BenchSchedule:
    """Return a scheduler's result with its steps, in time, and their slack."""
    by_id = {s.id: s for s in steps.steps}
    slack = slacks(job, result)
    placed = [PlacedStep(by_id[t.id], t.start, t.end, slack[t.id]) for t in result.tasks]
    placed.sort(key=lambda p: (p.start, p.end, p.step.id))
    return BenchSchedule(tuple(placed), result.bound, result.optimal)


def slacks(job: ScheduleJob, result: ScheduleResult) -> dict[str, int]:
    """Return how much later each task can start when all others keep their order.

    A backward pass over the waits, over who uses the same hands or booth next, and over the
    windows: a task moves within its own evening or to a later one that has room for it.
    """
    at = {t.id: t for t in result.tasks}
    latest = {t.id: result.makespan for t in result.tasks}
    after: dict[str, list[tuple[str, int]]] = {t.id: [] for t in result.tasks}
    for f in job.follows:
        after[f.after].append((f.task, f.least))
    for resource in job.resources:
        users = sorted(
            (t.id for t in job.tasks if t.needs.get(resource.id)),
            key=lambda i: (at[i].start, at[i].end),
        )
        if resource.capacity < len(users):
            for before, later in zip(users, users[resource.capacity :], strict=False):
                if at[before].end <= at[later].start:
                    after[before].append((later, 0))
    windows = {r.id: r.calendar for r in job.resources}
    needs = {t.id: t.needs for t in job.tasks}
    tied = {f.task for f in job.follows if f.most is not None}
    tied |= {f.after for f in job.follows if f.most is not None}
    found: dict[str, int] = {}
    for name in sorted(at, key=lambda i: -at[i].start):
        one = at[name]
        end = min(
            [latest[name], *(found[n] + at[n].start - w for n, w in after[name] if n in found)]
        )
        start = max(one.start, end - (one.end - one.start))
        calendars = [windows[r] for r in needs[name] if windows[r] is not None]
        start = _within(one.start, start, one.end - one.start, calendars)
        found[name] = 0 if name in tied and start - one.start < 1 else start - one.start
    return found


def _within(
    early: int, late: int, minutes: int, calendars: Iterable[tuple[Window, ...] | None]
) -> int:
    """Return the latest start up to one that all calendars take; at least the earliest."""
    start = late
    for windows in calendars:
        fits = [min(start, b - minutes) for a, b in windows or () if a <= min(start, b - minutes)]
        start = max(fits, default=early)
    return max(early, start)
