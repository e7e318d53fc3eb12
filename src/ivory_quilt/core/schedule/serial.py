"""A first schedule at once: tasks one after the other, each as early as it can be.

Those with the longest way to the end come first, or those that stand first in the job, whichever
ends sooner (serial schedule generation). Tasks that open times tie together, coat and join, are
placed as one: when a later one comes too late, the first is moved.
"""

import heapq
from collections import defaultdict
from collections.abc import Callable

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.pattern.linking import leaders
from ivory_quilt.core.record import Struct
from ivory_quilt.core.schedule.conflict import in_order
from ivory_quilt.core.schedule.schedule_job import (
    Follow,
    ScheduleJob,
    Task,
    Timed,
    merged,
)

Free = npt.NDArray[np.int32]
LONGEST_ARRAY = 4_000_000  # minutes that are looked at one by one: nearly eight years
CHUNK = 4096
SHIFTS = 400  # times that tied tasks are moved before they are given up


def tails(job: ScheduleJob) -> dict[str, int]:
    """Return the least minutes from each task's end to the end of all, resources aside."""
    found = {t.id: 0 for t in job.tasks}
    minutes = {t.id: t.minutes for t in job.tasks}
    after = _after(job)
    for name in reversed(in_order(job)):
        for f in after[name]:
            found[name] = max(found[name], f.least + minutes[f.task] + found[f.task])
    return found


def serial_schedule(
    job: ScheduleJob, earliest: dict[str, int], going: Callable[[], bool] = lambda: True
) -> tuple[Timed, ...] | None:
    """Return a schedule that keeps every rule; None where this simple way finds none.

    Args:
        job: to schedule; its waits do not contradict each other.
        earliest: start of each task by waits and calendars alone.
        going: returns False to give up.
    """
    work = sum(t.minutes for t in job.tasks) + sum(f.least for f in job.follows)
    ends = [b for r in job.resources for _, b in r.calendar or ()]
    horizon = max([0, *ends, *earliest.values()]) + work + 1
    if horizon > LONGEST_ARRAY:
        return None
    blocks, way = _blocks(job), tails(job)
    minutes = {t.id: t.minutes for t in job.tasks}
    longest = [-max(way[n] + minutes[n] for n in b.names) for b in blocks]
    best: tuple[Timed, ...] | None = None
    # The longest way first is good where few tasks hold up all; the job's own order where many
    # alike share a booth, which would stand idle until the last of them otherwise.
    for rank in (longest, list(range(len(blocks)))):
        found = _placed(job, earliest, horizon, _sequence(blocks, rank), going)
        if found is not None and (best is None or _end_of(found) < _end_of(best)):
            best = found
    return best


def _end_of(timed: tuple[Timed, ...]) -> int:
    return max((t.end for t in timed), default=0)


def _placed(
    job: ScheduleJob,
    earliest: dict[str, int],
    horizon: int,
    sequence: list[list[str]],
    going: Callable[[], bool],
) -> tuple[Timed, ...] | None:
    """Return the schedule that placing blocks in a sequence gives, None where one has no room."""
    placer = _Placer(job, earliest, horizon)
    for block in sequence:
        if not going() or not placer.place(block):
            return None
    return tuple(Timed(t.id, placer.start[t.id], placer.start[t.id] + t.minutes) for t in job.tasks)


class _Placer:
    def __init__(self, job: ScheduleJob, earliest: dict[str, int], horizon: int) -> None:
        self.tasks = {t.id: t for t in job.tasks}
        self.earliest, self.horizon = earliest, horizon
        self.before: dict[str, list[Follow]] = defaultdict(list)
        for f in job.follows:
            self.before[f.task].append(f)
        self.free: dict[str, Free] = {}
        for resource in job.resources:
            open_at = np.zeros(horizon, dtype=np.int32)
            for a, b in merged(resource.calendar or ()) if resource.calendar is not None else ():
                open_at[max(0, a) : max(0, min(b, horizon))] = resource.capacity
            if resource.calendar is None:
                open_at[:] = resource.capacity
            self.free[resource.id] = open_at
        self.front = dict.fromkeys(self.free, 0)
        self.start: dict[str, int] = {}

    def place(self, block: list[str]) -> bool:
        """Place tasks that are tied together, in their order."""
        floor = {name: self.earliest[name] for name in block}
        for _ in range(SHIFTS):
            late = self._try(block, floor)
            if late is None:
                return True
            first, by = late
            self._undo(block)
            if by <= 0 or floor[first] + by >= self.horizon:
                return False
            floor[first] += by
        return False

    def _try(self, block: list[str], floor: dict[str, int]) -> tuple[str, int] | None:
        """Place a block; where a task comes too late after another: that one, and by how much.

        What does not fit at all is too late by the whole horizon.
        """
        for name in block:
            task = self.tasks[name]
            moment = floor[name]
            for f in self.before[name]:
                moment = max(moment, self._end(f.after) + f.least)
            found = self._fit(task, moment)
            if found is None:
                return name, self.horizon
            for f in self.before[name]:
                late = found - self._end(f.after) - (f.most if f.most is not None else found)
                if late > 0:
                    return f.after, late + (self.start[f.after] - floor[f.after])
            self._hold(task, found, 1)
            self.start[name] = found
        return None

    def _end(self, name: str) -> int:
        return self.start[name] + self.tasks[name].minutes

    def _undo(self, block: list[str]) -> None:
        for name in block:
            if name in self.start:
                self._hold(self.tasks[name], self.start.pop(name), -1)

    def _hold(self, task: Task, start: int, sign: int) -> None:
        for name, count in task.needs.items():
            self.free[name][start : start + task.minutes] -= sign * count

    def _fit(self, task: Task, moment: int) -> int | None:
        """Return the first moment from one on at which everything that a task needs is free."""
        needs = [(self.free[n], c) for n, c in task.needs.items() if c]
        if not needs:
            return moment
        size = max(task.minutes, 1)
        for name in (n for n, c in task.needs.items() if c):
            moment = max(moment, self._first_free(name))
        while moment + task.minutes <= self.horizon:
            stop = min(self.horizon, moment + CHUNK + size)
            blocked = np.zeros(stop - moment, dtype=bool)
            for free, count in needs:
                blocked |= free[moment:stop] < count
            if task.minutes == 0:
                hits = np.flatnonzero(~blocked)
            else:
                total = np.concatenate(([0], np.cumsum(blocked)))
                hits = np.flatnonzero(total[size:] == total[:-size])
            if len(hits):
                return moment + int(hits[0])
            moment = max(moment + 1, stop - size + 1)
        return None

    def _first_free(self, name: str) -> int:
        """Return the first moment at which anything of a resource is free; it only moves on.

        What is undone may free an earlier moment again: that costs quality, never truth.
        """
        free, at = self.free[name], self.front[name]
        while at < self.horizon:
            hits = np.flatnonzero(free[at : at + CHUNK] > 0)
            if len(hits):
                at += int(hits[0])
                break
            at += CHUNK
        self.front[name] = min(at, self.horizon)
        return self.front[name]


def _after(job: ScheduleJob) -> dict[str, list[Follow]]:
    found: dict[str, list[Follow]] = defaultdict(list)
    for f in job.follows:
        found[f.after].append(f)
    return found


class _Block(Struct, frozen=True):
    """Tasks that open times tie together, in their order, and the blocks that they come after."""

    names: list[str]
    after: set[int]


def _blocks(job: ScheduleJob) -> list[_Block]:
    """Return all tasks in blocks, in the order of each block's first task in the job."""
    ties = ((f.after, f.task) for f in job.follows if f.most is not None)
    leader = leaders((t.id for t in job.tasks), ties)
    members: dict[str, list[str]] = defaultdict(list)
    for name in in_order(job):
        members[leader[name]].append(name)
    number = {block: k for k, block in enumerate(dict.fromkeys(leader[t.id] for t in job.tasks))}
    after: dict[str, set[int]] = defaultdict(set)
    for f in job.follows:
        if leader[f.task] != leader[f.after]:
            after[leader[f.task]].add(number[leader[f.after]])
    return [_Block(members[block], after[block]) for block in number]


def _sequence(blocks: list[_Block], rank: list[int]) -> list[list[str]]:
    """Return blocks so that each comes after those it waits for, the smallest rank first.

    Where blocks wait for each other both ways they come last, as one.
    """
    opens: dict[int, list[int]] = defaultdict(list)
    missing = [len(b.after) for b in blocks]
    for k, block in enumerate(blocks):
        for other in block.after:
            opens[other].append(k)
    heap = [(rank[k], k) for k in range(len(blocks)) if not missing[k]]
    heapq.heapify(heap)
    made, done = [], set()
    while heap:
        _, k = heapq.heappop(heap)
        done.add(k)
        made.append(blocks[k].names)
        for other in opens[k]:
            missing[other] -= 1
            if not missing[other]:
                heapq.heappush(heap, (rank[other], other))
    rest = [n for k, b in enumerate(blocks) if k not in done for n in b.names]
    return [*made, rest] if rest else made
