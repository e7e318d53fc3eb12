"""A schedule's job and result: the shapes that the command line, the desk and the solver share.

All times are whole minutes from the job's start.
"""

from collections.abc import Iterable, Mapping

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.record import Struct, field

LONGEST = 1_000_000  # minutes of one task or wait: nearly two years
FURTHEST = 20_000_000  # minutes from the start: some forty years
MOST_TASKS = 20_000
MOST_CAPACITY = 1000

Window = tuple[int, int]
"""From when to when, minutes."""


class Resource(Struct, frozen=True):
    """People, a booth, clamps: so many, at work in the windows of `calendar`; None: always."""

    id: str
    capacity: int = 1
    calendar: tuple[Window, ...] | None = None


class Task(Struct, frozen=True):
    """`minutes` of work without a break, holding so many of each resource from start to end."""

    id: str
    minutes: int
    needs: Mapping[str, int] = field(default_factory=dict)


class Follow(Struct, frozen=True):
    """From the end of `after` to the start of `task`: `least` to `most` minutes."""

    task: str
    after: str
    least: int = 0
    most: int | None = None


class ScheduleJob(Struct, frozen=True):
    """Tasks to schedule, to the earliest end of the last one; `due` is when they should be done."""

    resources: tuple[Resource, ...]
    tasks: tuple[Task, ...]
    follows: tuple[Follow, ...] = ()
    due: int | None = None

    def __post_init__(self) -> None:
        check_schedule_job(self)


class Timed(Struct, frozen=True):
    """When a task is done, minutes from the job's start."""

    id: str
    start: int
    end: int


class ScheduleResult(Struct, frozen=True):
    """When each task is done, in the job's order; no schedule can end before `bound`."""

    tasks: tuple[Timed, ...]
    bound: int
    optimal: bool
    late: int = 0
    """Minutes past the day by which it should be done."""

    @property
    def makespan(self) -> int:
        """The end of the last task."""
        return max((t.end for t in self.tasks), default=0)


def merged(windows: Iterable[Window]) -> tuple[Window, ...]:
    """Return windows in order, those that touch or overlap as one."""
    made: list[Window] = []
    for start, stop in sorted(windows):
        if made and start <= made[-1][1]:
            made[-1] = (made[-1][0], max(made[-1][1], stop))
        else:
            made.append((start, stop))
    return tuple(made)


def shared(one: tuple[Window, ...], other: tuple[Window, ...]) -> tuple[Window, ...]:
    """Return the windows in which both work; a moment that they share counts as well."""
    made = []
    for a, b in one:
        for c, d in other:
            if max(a, c) <= min(b, d):
                made.append((max(a, c), min(b, d)))
    return merged(made)


def windows_of(task: Task, job: ScheduleJob) -> tuple[Window, ...] | None:
    """Return when a task may run, from the calendars of what it needs; None: always."""
    known = {r.id: r for r in job.resources}
    found: tuple[Window, ...] | None = None
    for name, count in task.needs.items():
        calendar = known[name].calendar
        if count and calendar is not None:
            mine = merged(calendar)
            found = mine if found is None else shared(found, mine)
    return found


def check_schedule_job(job: ScheduleJob) -> None:
    """Refuse a job that makes no sense.

    Raises:
        InputError: naming the resource, task or follow and what was expected.
    """
    if len(job.tasks) > MOST_TASKS:
        raise InputError("tasks", f"{len(job.tasks)} tasks", f"at most {MOST_TASKS}")
    seen: set[str] = set()
    for resource in job.resources:
        where = f"resource '{resource.id}'"
        _once(resource.id, seen, where)
        if not 0 <= resource.capacity <= MOST_CAPACITY:
            raise InputError(f"{where}, capacity", f"{resource.capacity}", f"0 to {MOST_CAPACITY}")
        for start, stop in resource.calendar or ():
            if stop < start:
                problem = "a window ends before it begins"
                raise InputError(f"{where}, calendar", problem, "from, to")
            if abs(start) > FURTHEST or abs(stop) > FURTHEST:
                raise InputError(f"{where}, calendar", "a window decades away", "within 38 years")
    _check_follows(job, _check_tasks(job))


def _check_tasks(job: ScheduleJob) -> set[str]:
    """Refuse tasks that make no sense; return the ids of all."""
    capacity = {r.id: r.capacity for r in job.resources}
    seen: set[str] = set()
    for task in job.tasks:
        where = f"task '{task.id}'"
        _once(task.id, seen, where)
        if not 0 <= task.minutes <= LONGEST:
            raise InputError(f"{where}, minutes", f"{task.minutes}", f"0 to {LONGEST}")
        for name, count in task.needs.items():
            if name not in capacity:
                hint = nearest(name, capacity)
                problem = f"no resource '{name}'{hint}"
                raise InputError(f"{where}, needs", problem, "a resource's id")
            if count < 0:
                raise InputError(f"{where}, needs", f"{count} of '{name}'", "0 or more")
            if count > capacity[name]:
                text = f"{count} of '{name}', of which there are {capacity[name]}"
                raise InputError(f"{where}, needs", text, f"at most {capacity[name]}")
    return seen


def _check_follows(job: ScheduleJob, tasks: set[str]) -> None:
    for one in job.follows:
        where = f"follows, '{one.task}' after '{one.after}'"
        for name in (one.task, one.after):
            if name not in tasks:
                hint = nearest(name, tasks)
                raise InputError(where, f"no task '{name}'{hint}", "a task's id")
        if one.task == one.after:
            raise InputError(where, "a task cannot follow itself", "two tasks")
        if not 0 <= one.least <= LONGEST:
            raise InputError(f"{where}, least", f"{one.least}", f"0 to {LONGEST}")
        if one.most is not None and not one.least <= one.most <= FURTHEST:
            expected = f"{one.least} (least) or more, or null"
            raise InputError(f"{where}, most", f"{one.most}", expected)


def _once(name: str, seen: set[str], where: str) -> None:
    if name in seen:
        raise InputError(where, "the id is used twice", "different ids")
    seen.add(name)
