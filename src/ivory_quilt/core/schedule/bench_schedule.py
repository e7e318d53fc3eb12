"""Steps on the maker's calendar: the job for the scheduler, and what comes of it.

All times are minutes from midnight before the first evening.
"""

from collections.abc import Iterable, Mapping
from functools import cached_property

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.schedule_job import (
    FURTHEST,
    Resource,
    ScheduleJob,
    ScheduleResult,
    Task,
    Window,
)
from ivory_quilt.core.schedule.step import BenchStep, BenchSteps
from ivory_quilt.core.units import day_number

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


def dried_out(steps: BenchSteps, done: Mapping[str, int], now: int) -> frozenset[str]:
    """Return the done steps whose open time has passed before what had to follow in it was done.

    Args:
        done: when each step that is done was, minutes from midnight before the first evening; a
            step that was done at a time that nobody knows has not dried.
    """
    return frozenset(
        f.after
        for f in steps.follows
        if f.most is not None and f.after in done and f.task not in done
        if done[f.after] >= 0 and now > done[f.after] + f.most
    )


def bench_job(
    steps: BenchSteps,
    choices: BenchChoices,
    weekday: int,
    now: int = 0,
    done: Mapping[str, int] | None = None,
    *,
    held: bool = True,
) -> ScheduleJob:
    """Return the steps that are not done as a job from `now` on.

    What was done lately still makes others wait; what has dried out is done again.

    Args:
        steps: all, done or not.
        choices: people and evenings.
        weekday: of the first evening, 0 is Monday.
        now: minutes from midnight before the first evening.
        done: when each step that is done was; below 0 where nobody knows. None: so for all that
            `choices` say are done.
        held: whether what is brushed already must be joined within its open time.

    Raises:
        InputError: the bench works on no day.
    """
    done = dict(done if done is not None else dict.fromkeys(choices.done_ids, -1))
    for again in dried_out(steps, done, now):
        del done[again]
    left = [s for s in steps.steps if s.id not in done]
    names = {s.id for s in left}
    week = sum(b - a for a, b in (e.minutes for e in choices.evenings)) or 1
    work = sum(s.minutes for s in left) / max(1, choices.people)
    earliest = {s.id: s.ready for s in left}
    latest: dict[str, int] = {}
    for f in steps.follows:
        if f.task in names and f.after in done and done[f.after] >= 0:
            earliest[f.task] = max(earliest[f.task], done[f.after] + f.least)
            if f.most is not None and held:
                latest[f.task] = min(latest.get(f.task, FURTHEST), done[f.after] + f.most)
    days = max([now, *earliest.values()]) // DAY + 7 * (int(work / week) + SPARE_WEEKS)
    windows = evening_windows(choices, weekday, days, now)
    booth = windows if choices.indoors else _dry(windows, choices)
    resources = [Resource(HANDS, choices.people, windows), Resource(BOOTH, 1, booth)]
    gates = sorted({t for i, t in earliest.items() if t > now and i not in latest})
    resources += [Resource(f"here at {g}", len(left), ((g, DAY * days),)) for g in gates]
    tasks = []
    for step in left:
        needs = _needs(step, earliest[step.id], now, choices.people)
        if step.id in latest:
            # Somebody stands there with the brush: evening or not, it is joined in its time.
            name = f"open for {step.id}"
            first = max(earliest[step.id], now)
            window = (first, max(latest[step.id], first) + step.minutes)
            resources.append(Resource(name, 1, (window,)))
            room = any(min(b, window[1]) - max(a, first) >= step.minutes for a, b in windows)
            needs = {name: 1, HANDS: 1} if room else {name: 1}
        tasks.append(Task(step.id, step.minutes, needs))
    follows = tuple(f for f in steps.follows if f.task in names and f.after in names)
    return ScheduleJob(tuple(resources), tuple(tasks), follows, None)


def _dry(windows: tuple[Window, ...], choices: BenchChoices) -> tuple[Window, ...]:
    """Return the windows on days that are dry enough for the booth.

    Beyond the last of the dry days nothing is known: every evening counts again.
    """
    if not choices.start or not choices.dry:
        return windows
    first = day_number(choices.start)
    dry = {day_number(d) - first for d in choices.dry}
    return tuple(w for w in windows if w[0] // DAY in dry or w[0] // DAY > max(dry))


def _needs(step: BenchStep, earliest: int, now: int, people: int) -> dict[str, int]:
    needs = {HANDS: min(step.hands, people)}
    if step.booth:
        needs[BOOTH] = 1
    if earliest > now:
        needs[f"here at {earliest}"] = 1
    return needs


class PlacedStep(Struct, frozen=True):
    """A step with its time; `slack`: minutes by which it can be later without moving the end."""

    step: BenchStep
    start: int
    end: int
    slack: int

    @property
    def day(self) -> int:
        """Which day it is on, 0 the first."""
        return self.start // DAY


class BenchSchedule(Struct, frozen=True, dict=True):
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
