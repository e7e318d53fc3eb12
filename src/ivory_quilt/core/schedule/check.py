"""Whether a schedule keeps every rule: plain comparisons, none of the solver's."""

from collections import defaultdict

from ivory_quilt.core.schedule.schedule_job import ScheduleJob, Timed, merged


def broken_rules(job: ScheduleJob, timed: tuple[Timed, ...]) -> list[str]:
    """Return a sentence for every rule that a schedule breaks; an empty list: it is true."""
    at = {t.id: t for t in timed}
    found = []
    if len(at) != len(timed) or set(at) != {t.id for t in job.tasks}:
        return ["not every task is there exactly once"]
    for task in job.tasks:
        one = at[task.id]
        if one.start < 0 or one.end - one.start != task.minutes:
            found.append(f"'{task.id}' runs from {one.start} to {one.end}")
    for follow in job.follows:
        wait = at[follow.task].start - at[follow.after].end
        if wait < follow.least or (follow.most is not None and wait > follow.most):
            found.append(f"'{follow.task}' starts {wait} after '{follow.after}'")
    for resource in job.resources:
        users = [(at[t.id], t.needs.get(resource.id, 0)) for t in job.tasks]
        users = [(one, count) for one, count in users if count]
        found += _overfull(resource.id, resource.capacity, users)
        if resource.calendar is not None:
            windows = merged(resource.calendar)
            found += [
                f"'{one.id}' runs while '{resource.id}' is not at work"
                for one, _ in users
                if not any(a <= one.start and one.end <= b for a, b in windows)
            ]
    return found


def _overfull(name: str, capacity: int, users: list[tuple[Timed, int]]) -> list[str]:
    change: dict[int, int] = defaultdict(int)
    for one, count in users:
        if one.end > one.start:
            change[one.start] += count
            change[one.end] -= count
    held = 0
    for moment in sorted(change):
        held += change[moment]
        if held > capacity:
            return [f"{held} of '{name}' are held at {moment}, of {capacity}"]
    return []
