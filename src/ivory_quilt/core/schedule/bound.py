"""Before when no schedule can end: the work of each resource must fit its calendar."""

from ivory_quilt.core.schedule.schedule_job import Resource, ScheduleJob, merged
from ivory_quilt.core.schedule.serial import tails

HEADS = 40  # starting moments that are looked at for each resource


def work_bound(job: ScheduleJob, earliest: dict[str, int]) -> int:
    """Return a moment before which no schedule ends.

    For a resource and a moment: what cannot start before it is work that its calendar must take
    from there on; after the last of it still comes the shortest way to the end.
    """
    minutes = {t.id: t.minutes for t in job.tasks}
    way = tails(job)
    best = max((earliest[i] + minutes[i] + way[i] for i in minutes), default=0)
    for resource in job.resources:
        if not resource.capacity:
            continue
        users = [t for t in job.tasks if t.needs.get(resource.id, 0) and t.minutes]
        users.sort(key=lambda t: -earliest[t.id])
        heads = sorted({earliest[t.id] for t in users})
        wanted = set(heads[:: max(1, len(heads) // HEADS)])
        work, tail = 0, 0
        for k, task in enumerate(users):
            work += task.minutes * task.needs[resource.id]
            tail = way[task.id] if k == 0 else min(tail, way[task.id])
            head = earliest[task.id]
            last = k + 1 == len(users) or earliest[users[k + 1].id] < head
            if last and head in wanted:
                best = max(best, _done_by(resource, head, -(-work // resource.capacity)) + tail)
    return best


def _done_by(resource: Resource, moment: int, minutes: int) -> int:
    """Return when so many minutes from a moment on are over by a calendar; at least its end."""
    if resource.calendar is None:
        return moment + minutes
    left = minutes
    for a, b in merged(resource.calendar):
        begin = max(a, moment)
        if b - begin >= left:
            return begin + left
        left -= max(0, b - begin)
    return moment + minutes
