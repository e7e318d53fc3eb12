"""Which tasks cannot be scheduled together, and how early each may start at all."""

from collections import deque
from collections.abc import Callable

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.schedule_job import ScheduleJob, Task, windows_of

LOOK = 16  # times that a start is pushed between two looks for a cycle
Possible = Callable[[ScheduleJob], bool]


def earliest_starts(job: ScheduleJob) -> dict[str, int]:
    """Return the earliest start of each task by its waits and calendars alone, resources aside.

    Longest paths by relaxation (Bellman and Ford) from task to task: a most wait is an arc back.

    Raises:
        InputError: waits contradict each other, or a task fits no window; the tasks are named.
    """
    minutes = {t.id: t.minutes for t in job.tasks}
    spans = {t.id: _spans(t, job) for t in job.tasks}
    arcs: dict[str, list[tuple[str, int]]] = {t.id: [] for t in job.tasks}
    for f in job.follows:
        arcs[f.after].append((f.task, minutes[f.after] + f.least))
        if f.most is not None:
            arcs[f.task].append((f.after, -(minutes[f.after] + f.most)))
    order = in_order(job)
    _longest(order, arcs, dict.fromkeys(minutes, 0), lambda _, moment: moment)
    start = {}
    for name, options in spans.items():
        first = _fit(0, options)
        if first is None:
            raise _no_window([name])
        start[name] = first
    return _longest(order, arcs, start, lambda name, moment: _fit(moment, spans[name]))


def _longest(
    order: list[str],
    arcs: dict[str, list[tuple[str, int]]],
    start: dict[str, int],
    fit: Callable[[str, int], int | None],
) -> dict[str, int]:
    """Push starts along arcs until each is as late as its arcs ask; in an order that goes forward.

    Raises:
        InputError: a task is asked to start later than itself, or fits no window any more.
    """
    before: dict[str, str] = {}
    moved = dict.fromkeys(start, 0)
    waiting = deque(order)
    queued = set(order)
    while waiting:
        a = waiting.popleft()
        queued.discard(a)
        for b, length in arcs[a]:
            if start[a] + length <= start[b]:
                continue
            first = fit(b, start[a] + length)
            if first is None:
                raise _no_window([a, b])
            start[b], before[b] = first, a
            moved[b] += 1
            if moved[b] % LOOK == 0:
                _refuse_cycle(b, before)
            if b not in queued:
                queued.add(b)
                waiting.append(b)
    return start


def _refuse_cycle(name: str, before: dict[str, str]) -> None:
    """Refuse waits that ask a task to start later than itself; the tasks on the way are named."""
    seen: dict[str, int] = {}
    way: list[str] = []
    while name in before and name not in seen:
        seen[name] = len(way)
        way.append(name)
        name = before[name]
    if name not in seen:
        return
    cycle = way[seen[name] :]
    shown = ", ".join(f"'{n}'" for n in reversed(cycle[-8:]))
    problem = f"the waits between {shown} contradict each other"
    raise InputError("follows", problem, "waits that one schedule can keep")


def in_order(job: ScheduleJob) -> list[str]:
    """Return tasks so that each comes after those that it follows, as far as that goes."""
    opens: dict[str, list[str]] = {t.id: [] for t in job.tasks}
    missing = dict.fromkeys(opens, 0)
    for f in job.follows:
        opens[f.after].append(f.task)
        missing[f.task] += 1
    ready = deque(n for n, k in missing.items() if not k)
    order = []
    while ready:
        name = ready.popleft()
        order.append(name)
        for other in opens[name]:
            missing[other] -= 1
            if not missing[other]:
                ready.append(other)
    return order + [n for n, k in missing.items() if k]


def _spans(task: Task, job: ScheduleJob) -> list[tuple[int, int]] | None:
    """Return from when to when a task may start; None: always."""
    windows = windows_of(task, job)
    if windows is None:
        return None
    return [(max(0, a), b - task.minutes) for a, b in windows if b - task.minutes >= max(0, a)]


def _fit(moment: int, spans: list[tuple[int, int]] | None) -> int | None:
    """Return the first moment from one on at which a task may start, None when there is none."""
    if spans is None:
        return moment
    return next((max(moment, a) for a, b in spans if b >= moment), None)


def _no_window(names: list[str]) -> InputError:
    shown = ", ".join(f"'{n}'" for n in names[:8])
    return InputError("tasks", f"{shown} fit no window of the calendar", "longer or later windows")


def conflict_of(
    job: ScheduleJob, possible: Possible, going: Callable[[], bool] = lambda: True
) -> list[str]:
    """Return tasks that cannot be scheduled together, and can as soon as any of them is left out.

    By leaving out a part at a time, halves first (deletion filter). Once `going` returns False, the
    tasks that are left by then: in conflict still, perhaps with some to spare.
    """
    kept = [t.id for t in job.tasks]
    size = max(1, len(kept) // 2)
    while True:
        k = 0
        while k < len(kept):
            if not going():
                return kept
            fewer = kept[:k] + kept[k + size :]
            if fewer and not possible(only(job, set(fewer))):
                kept = fewer
            else:
                k += size
        if size == 1:
            return kept
        size = max(1, size // 2)


def only(job: ScheduleJob, names: set[str]) -> ScheduleJob:
    """Return the job of some of its tasks, with the waits between them."""
    tasks = tuple(t for t in job.tasks if t.id in names)
    follows = tuple(f for f in job.follows if f.task in names and f.after in names)
    return replace(job, tasks=tasks, follows=follows)
