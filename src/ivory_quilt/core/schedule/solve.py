"""The earliest end: constraint programming over start times (CP-SAT).

Each task is an interval; what it needs is a cumulative resource; waits are bounds on differences of
starts. A calendar leaves gaps in the domain of a start, since a task runs without a break.
"""

from collections.abc import Callable
from typing import Any

from ivory_quilt.core.errors import InputError, QuiltError, Stopped
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.bound import work_bound
from ivory_quilt.core.schedule.check import broken_rules
from ivory_quilt.core.schedule.conflict import conflict_of, earliest_starts
from ivory_quilt.core.schedule.schedule_job import (
    ScheduleJob,
    ScheduleResult,
    Timed,
    windows_of,
)
from ivory_quilt.core.schedule.serial import serial_schedule

SEARCHING = 5.0  # s at least in which a conflict is narrowed down
NAMED = 8  # tasks of a conflict that are named
Better = Callable[[ScheduleResult], bool]
"""Hears of each better schedule; returns False to stop with it."""


class ScheduleFault(QuiltError):
    """The solver made a schedule that the check refuses: a bug, never the maker's fault."""


class Effort(Struct, frozen=True):
    """How long to look, and on how many threads; `deterministic` work instead of seconds."""

    seconds: float = 10.0
    threads: int = 2
    seed: int = 0


def schedule(
    job: ScheduleJob,
    effort: Effort,
    *,
    better: Better = lambda _: True,
    clock: Callable[[], float] = lambda: 0.0,
) -> ScheduleResult:
    """Return the schedule that ends first, as far as that was found.

    A simple one comes at once; `clock` tells seconds, so that both keep to the effort.

    Raises:
        InputError: no schedule keeps all rules; the message names tasks in conflict.
        Stopped: none was found in the time, and that there is none was not proven either.
        ScheduleFault: a schedule failed the check.
    """
    if not job.tasks:
        return ScheduleResult((), 0, optimal=True)
    earliest = earliest_starts(job)
    bound = work_bound(job, earliest)
    begin = clock()
    first = _first(job, earliest, bound, lambda: clock() - begin < effort.seconds / 2 + 1.0)
    if first is not None and (not better(first) or first.optimal):
        return first
    model = _Model(job, earliest, first=first, bound=bound)
    left = effort.seconds - (clock() - begin)
    if first is not None and left <= 0:
        return first
    found = model.solve(replace(effort, seconds=max(0.05, left)), better)
    if isinstance(found, ScheduleResult):
        return found if first is None or found.makespan <= first.makespan else first
    if first is not None:
        return first
    if found == "impossible":
        limit = clock() + max(SEARCHING, effort.seconds)
        names = conflict_of(job, lambda part: _possible(part, effort), lambda: clock() < limit)
        raise conflict_error(names)
    raise Stopped(f"no schedule was found in {effort.seconds:g} s")


def schedule_at_once(job: ScheduleJob) -> ScheduleResult | None:
    """Return a simple schedule and its bound without a search; None where none is found so.

    Raises:
        InputError: waits contradict each other, or a task fits no window.
    """
    earliest = earliest_starts(job)
    return _first(job, earliest, work_bound(job, earliest), lambda: True)


def _first(
    job: ScheduleJob, earliest: dict[str, int], bound: int, going: Callable[[], bool]
) -> ScheduleResult | None:
    timed = serial_schedule(job, earliest, going)
    return _checked(job, timed, bound) if timed is not None else None


def conflict_error(names: list[str]) -> InputError:
    """Return the refusal that names tasks in conflict."""
    shown = ", ".join(f"'{n}'" for n in names[:NAMED])
    more = f" and {len(names) - NAMED} more" if len(names) > NAMED else ""
    verb = "cannot all be scheduled" if len(names) > 1 else "cannot be scheduled"
    return InputError(
        "tasks", f"{shown}{more} {verb}", "waits, calendars and capacities that leave room"
    )


def _possible(job: ScheduleJob, effort: Effort) -> bool:
    """Return whether tasks can be scheduled, as far as a short look tells."""
    try:
        earliest = earliest_starts(job)
    except InputError:
        return False
    short = Effort(min(2.0, effort.seconds), effort.threads, effort.seed)
    return _Model(job, earliest, first_only=True).solve(short, lambda _: True) != "impossible"


class _Model:
    def __init__(
        self,
        job: ScheduleJob,
        earliest: dict[str, int],
        *,
        first_only: bool = False,
        first: ScheduleResult | None = None,
        bound: int = 0,
    ) -> None:
        from ortools.sat.python import cp_model  # half a second to load

        self.cp: Any = cp_model
        self.job, self.first_only = job, first_only
        self.model = cp_model.CpModel()
        self.horizon = first.makespan if first is not None else _horizon(job, earliest)
        self.starts: dict[str, Any] = {}
        self.ends: dict[str, Any] = {}
        self.impossible = False
        for task in job.tasks:
            self._task(task, earliest[task.id])
        if self.impossible:
            return
        for follow in job.follows:
            wait = self.starts[follow.task] - self.ends[follow.after]
            if follow.most is None:
                self.model.add(wait >= follow.least)
            else:
                self.model.add_linear_constraint(wait, follow.least, follow.most)
        self._resources()
        most = first.makespan if first is not None else self.horizon
        self.last = self.model.new_int_var(min(bound, most), most, "last")
        for one in first.tasks if first is not None else ():
            self.model.add_hint(self.starts[one.id], one.start)
        for end in self.ends.values():
            self.model.add(self.last >= end)
        if not first_only:
            self.model.minimize(self.last)

    def _task(self, task: Any, earliest: int) -> None:
        windows = windows_of(task, self.job)
        latest = self.horizon - task.minutes
        spans = [(0, latest)] if windows is None else [(a, b - task.minutes) for a, b in windows]
        spans = [(max(a, earliest), min(b, latest)) for a, b in spans]
        spans = [(a, b) for a, b in spans if a <= b]
        if not spans:
            self.impossible = True
            return
        domain = self.cp.Domain.from_intervals([list(s) for s in spans])
        start = self.model.new_int_var_from_domain(domain, f"start {task.id}")
        self.starts[task.id] = start
        self.ends[task.id] = start + task.minutes

    def _resources(self) -> None:
        for resource in self.job.resources:
            users = [t for t in self.job.tasks if t.needs.get(resource.id, 0) and t.minutes]
            intervals = [
                self.model.new_fixed_size_interval_var(
                    self.starts[t.id], t.minutes, f"{resource.id} {t.id}"
                )
                for t in users
            ]
            needs = [t.needs[resource.id] for t in users]
            if not users or sum(needs) <= resource.capacity:
                continue
            if all(2 * n > resource.capacity for n in needs):
                self.model.add_no_overlap(intervals)
            else:
                self.model.add_cumulative(intervals, needs, resource.capacity)

    def solve(self, effort: Effort, better: Better) -> ScheduleResult | str:
        """Return the best schedule, "impossible", or "unknown"."""
        if self.impossible:
            return "impossible"
        cp = self.cp
        solver = cp.CpSolver()
        solver.parameters.max_time_in_seconds = max(0.05, effort.seconds)
        solver.parameters.num_workers = effort.threads
        solver.parameters.random_seed = effort.seed
        status = solver.solve(self.model, _listener(cp, self, better))
        if status == cp.INFEASIBLE:
            return "impossible"
        if status not in (cp.OPTIMAL, cp.FEASIBLE):
            return "unknown"
        bound = int(-(-solver.best_objective_bound // 1)) if not self.first_only else 0
        return self.result(solver.value, bound, optimal=status == cp.OPTIMAL)

    def result(self, value: Callable[[Any], int], bound: int, *, optimal: bool) -> ScheduleResult:
        """Return the checked schedule that values of the starts are."""
        timed = []
        for task in self.job.tasks:
            start = int(value(self.starts[task.id]))
            timed.append(Timed(task.id, start, start + task.minutes))
        found = _checked(self.job, tuple(timed), bound)
        return replace(found, optimal=optimal and found.optimal)


def _checked(job: ScheduleJob, timed: tuple[Timed, ...], bound: int) -> ScheduleResult:
    """Return a schedule as a result, once it is found to keep every rule."""
    broken = broken_rules(job, timed)
    if broken:
        raise ScheduleFault(f"The schedule does not hold: {broken[0]}")
    end = max((t.end for t in timed), default=0)
    late = max(0, end - job.due) if job.due is not None else 0
    return ScheduleResult(timed, min(bound, end), bound >= end, late)


def _listener(cp: Any, model: _Model, better: Better) -> Any:
    """Return what tells of each better schedule."""

    class Listener(cp.CpSolverSolutionCallback):  # type: ignore[misc]
        def on_solution_callback(self) -> None:
            bound = int(self.best_objective_bound) if not model.first_only else 0
            if not better(model.result(self.value, max(0, bound), optimal=False)):
                self.stop_search()

    return Listener()


def _horizon(job: ScheduleJob, earliest: dict[str, int]) -> int:
    """Return a moment by which some schedule that ends first has ended.

    After the last window everything else can follow one after the other, with the least waits;
    only most waits may force a task later than its own, never later than what it waits for.
    """
    windows = [b for r in job.resources for _, b in r.calendar or ()]
    begin = max([0, *windows, *earliest.values()])
    work = sum(t.minutes for t in job.tasks) + sum(f.least for f in job.follows)
    return begin + work
