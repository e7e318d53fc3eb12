"""Which tasks cannot be scheduled together, and how early each may start at all."""

from collections.abc import Callable
from dataclasses import replace

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.schedule.schedule_job import ScheduleJob, Task, windows_of

Possible = Callable[[ScheduleJob], bool]


def earliest_starts(job: ScheduleJob) -> dict[str, int]:
    """Return the earliest start of each task by its waits and calendars alone, resources aside.

    Longest paths by relaxation (Bellman and Ford): a most wait is an arc back.

    Raises:
        InputError: waits contradict each other, or a task fits no window; the tasks are named.
    """
    minutes = {t.id: t.minutes for t in job.tasks}
    spans = {t.id: _spans(t, job) for t in job.tasks}
    arcs: list[tuple[str, str, int]] = []
    for f in job.follows:
        arcs.append((f.after, f.task, minutes[f.after] + f.least))
        if f.most is not None:
            arcs.append((f.task, f.after, -(minutes[f.after] + f.most)))
    _refuse_cycles(list(minutes), arcs)
    start = {}
    for name, options in spans.items():
        first = _fit(0, options)
        if first is None:
            raise _no_window([name])
        start[name] = first
    # Windows make steps: what is pushed out of one begins in the next, so it ends at the last.
    most = sum(len(o) for o in spans.values() if o is not None) + len(minutes) + 1
    for _ in range(most + len(arcs)):
        moved = False
        for a, b, length in arcs:
            if start[a] + length > start[b]:
                first = _fit(start[a] + length, spans[b])
                if first is None:
                    raise _no_window([a, b])
                start[b], moved = first, True
        if not moved:
            return start
    raise _no_window(sorted({n for a, b, _ in arcs for n in (a, b)}))


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


def _refuse_cycles(names: list[str], arcs: list[tuple[str, str, int]]) -> None:
    """Refuse waits that ask a task to start later than itself; the tasks on the way are named."""
    start = dict.fromkeys(names, 0)
    before: dict[str, str] = {}
    moved = ""
    for _ in range(len(names) + 1):
        moved = ""
        for a, b, length in arcs:
            if start[a] + length > start[b]:
                start[b], before[b], moved = start[a] + length, a, b
        if not moved:
            return
    for _ in names:  # into the cycle
        moved = before[moved]
    cycle = [moved]
    while before[cycle[-1]] != moved:
        cycle.append(before[cycle[-1]])
    shown = ", ".join(f"'{n}'" for n in reversed(cycle[-8:]))
    problem = f"the waits between {shown} contradict each other"
    raise InputError("follows", problem, "waits that one schedule can keep")


def _no_window(names: list[str]) -> InputError:
    shown = ", ".join(f"'{n}'" for n in names[:8])
    return InputError("tasks", f"{shown} fit no window of the calendar", "longer or later windows")


def conflict_of(job: ScheduleJob, possible: Possible) -> list[str]:
    """Return tasks that cannot be scheduled together, and can as soon as any of them is left out.

    By leaving out a part at a time, halves first (deletion filter).
    """
    kept = [t.id for t in job.tasks]
    size = max(1, len(kept) // 2)
    while True:
        k = 0
        while k < len(kept):
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
