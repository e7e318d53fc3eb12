"""Lay a job: a constructive layout at once, then better ones until told to stop.

The core has no clock: the caller passes one. With a number of steps instead of seconds the same
job and seed give the same result on any machine.
"""

from collections.abc import Callable
from decimal import Decimal

import numpy as np

from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.nesting.bounds import cost_bound
from ivory_quilt.core.nesting.check import GrowingCheck, Violation, check_steps, violations
from ivory_quilt.core.nesting.construct import first_layout
from ivory_quilt.core.nesting.job import (
    LayJob,
    LayResult,
    PieceSpec,
    Placement,
    Progress,
    Report,
    SheetSpec,
    keep_going,
)
from ivory_quilt.core.nesting.on_strip import StripView, one_sheet, strip_views
from ivory_quilt.core.nesting.search import WALKERS, Search
from ivory_quilt.core.nesting.summary import summarise
from ivory_quilt.core.nesting.world import Ints, World
from ivory_quilt.core.record import Struct, replace

MOST_ON_STRIPS = 150  # parts: more of them are laid by what follows
ON_STRIP = 0.2  # of the time, for each of the two ways


class LayoutFault(QuiltError):
    """The engine made a layout that the exact check refuses: a bug, never the maker's fault."""

    def __init__(self, job: LayJob, message: str) -> None:
        super().__init__(f"The layout engine made a layout that does not hold: {message}")
        self.job = job


class Limit(Struct, frozen=True):
    """When to stop: after `seconds` by the caller's clock, or after `steps`, whichever is given.

    And before that once everything lies and costs no more than `target`.
    """

    seconds: float | None = None
    steps: int | None = None
    target: Decimal | None = None


class StopSwitch:
    """Stops a running search from another thread, within milliseconds."""

    def __init__(self) -> None:
        self.flags: Ints = np.zeros(2, dtype=np.int64)

    def stop(self) -> None:
        """Ask the search to stop."""
        self.flags[0] = 1

    @property
    def stopped(self) -> bool:
        """Whether a stop was asked for."""
        return bool(self.flags[0])


def lay(
    job: LayJob,
    *,
    limit: Limit,
    clock: Callable[[], float],
    seed: int = 0,
    report: Report = keep_going,
    switch: StopSwitch | None = None,
    start: tuple[Placement, ...] = (),
    threads: int = WALKERS,
) -> LayResult:
    """Lay `job` and return the best checked layout found.

    Each better layout is reported as `Progress.better`; the first one is constructive, or `start`
    where that is given, holds, and leaves nothing out. One that leaves something out is searched
    anew, and what comes of it never leaves out more: what lay on a sheet lies on a larger one, and
    beside one more, as well. A stop keeps the best so far. How many
    `threads` search changes how long it takes, not what a number of steps finds.

    Raises:
        InputError: fixed pieces clash with each other or their sheets.
        LayoutFault: a result failed the exact check.
    """
    _check_pins(job)
    # Of what there is none of, nothing can be laid on.
    there = tuple(s for s in job.sheets if s.quantity != 0)
    if len(there) < len(job.sheets):
        job = replace(job, sheets=there)
    run = _Run(job, limit, clock, seed, report, switch or StopSwitch(), threads)
    return _no_more_left_out(job, run.all(start), start)


def _no_more_left_out(job: LayJob, found: LayResult, start: tuple[Placement, ...]) -> LayResult:
    """Return what was found, or of `start` what still holds where that leaves less out."""
    if not found.unplaced or not start:
        return found
    wanted = {p.id: p.quantity for p in job.pieces}
    still = tuple(p for p in start if p.copy < wanted.get(p.piece, 0) and p.sheet in job.stock)
    worth, found_worth = (
        sum(job.values[p.piece] for p in laid) for laid in (still, found.placements)
    )
    if worth <= found_worth or violations(job, still):
        return found
    return replace(
        summarise(job, still, found.cost_bound),
        seed=found.seed,
        seconds=found.seconds,
        stopped_by=found.stopped_by,
        history=found.history,
        steps=found.steps,
        faults=found.faults,
    )


class _Run:
    def __init__(
        self,
        job: LayJob,
        limit: Limit,
        clock: Callable[[], float],
        seed: int,
        report: Report,
        switch: StopSwitch,
        threads: int,
    ) -> None:
        self.job, self.limit, self.clock, self.seed = job, limit, clock, seed
        self.report, self.switch, self.threads = report, switch, threads
        self.start = clock()
        self.bound = cost_bound(job)
        self.world = World(job)
        self.history: list[tuple[float, Decimal, float]] = []
        self.stopped_by = "done"
        self.steps = 0
        self.out_of_time = False
        self.on_target = False
        self.faults: list[str] = []
        self.check = GrowingCheck(job)
        self.broken: list[Violation] = []

    def all(self, start: tuple[Placement, ...]) -> LayResult:
        if not self._adopt(start):
            first_layout(self.world, self.switch.flags, self._look)
        result = self._first()
        if not self.report(Progress(0, 0, "first layout", result)):
            self.switch.stop()
        if self.switch.stopped:
            return replace(result, stopped_by="maker")
        if self._finished(None):
            return self._ended(result)
        result = self._on_strips(result)
        if self._finished(None):
            return self._ended(result)
        search = Search(self.world, self.seed, self.switch.flags, self.bound, self.threads)
        try:
            search.open(self._pause)
            while not self._finished(search):
                if search.epoch(self._pause):
                    self.world.restore(search.best)
                    known, result = result, self._result(result)
                    self._tell(result if result is not known else None)
                else:
                    self._tell(None)
                self.steps += 1
        finally:
            hurried = self._hurried
            self.switch.flags[0] = 1
            search.close(at_once=hurried)
        return self._ended(result)

    def _ended(self, result: LayResult) -> LayResult:
        return replace(
            result,
            seconds=self._elapsed(),
            stopped_by=self.stopped_by,
            steps=self.steps,
            faults=tuple(self.faults),
        )

    def _on_strips(self, result: LayResult) -> LayResult:
        """Where one sheet does not take everything: shorten it as a strip, both ways.

        How that goes does not hang on the strip's end, so a longer sheet never leaves more out.
        """
        sheet = one_sheet(self.job)
        if not result.unplaced or sheet is None or self.world.count > MOST_ON_STRIPS:
            return result
        for view in strip_views(self.job, sheet):
            if not result.unplaced or self._finished(None):
                break
            result = self._on_strip(view, result)
        return result

    def _on_strip(self, view: StripView, result: LayResult) -> LayResult:
        best = [result]

        def heard(progress: Progress) -> bool:
            if progress.better is not None:
                best[0] = self._clipped(view, progress.better, best[0])
            self._pause()
            return not self.switch.stopped

        limit = Limit(target=view.target)
        if self.limit.steps is not None:
            limit = replace(limit, steps=max(1, int(self.limit.steps * ON_STRIP)))
        if self.limit.seconds is not None:
            limit = replace(limit, seconds=self.limit.seconds * ON_STRIP)
        run = _Run(view.job, limit, self.clock, self.seed, heard, StopSwitch(), self.threads)
        run.all(())
        self.steps += run.steps
        return best[0]

    def _clipped(self, view: StripView, found: LayResult, known: LayResult) -> LayResult:
        """Return the part of a strip's layout that the sheet takes, where it takes more."""
        placements = view.on_sheet(found.placements)

        def worth(laid: tuple[Placement, ...]) -> float:
            return sum(self.job.values[p.piece] for p in laid)

        if worth(placements) <= worth(known.placements) or violations(self.job, placements):
            return known
        self.world.clear()
        self.world.adopt(placements)
        result = self._summary(placements)
        self._tell(result)
        return result

    def _adopt(self, start: tuple[Placement, ...]) -> bool:
        """Begin from a given layout; False when it does not hold in full."""
        if len(start) != self.world.count or violations(self.job, start):
            return False
        return self.world.adopt(start)

    def _finished(self, search: Search | None) -> bool:
        if self.switch.stopped:
            self.stopped_by = "maker" if self._hurried else "time"
        elif self.on_target:
            self.stopped_by = "target"
        elif self.limit.steps is not None and self.steps >= self.limit.steps:
            self.stopped_by = "iterations"
        elif self.limit.seconds is not None and self._elapsed() >= self.limit.seconds:
            self.stopped_by = "time"
        elif self.world.count == 0 or self.world.pinned.all():
            self.stopped_by = "done"
        elif search is not None and search.done:
            self.stopped_by = "bound" if search.score.cost <= self.bound else "done"
        else:
            return False
        return True

    def _pause(self) -> bool:
        """Between kernel calls: tell the caller, look at the clock."""
        self._tell(None)
        if self.limit.seconds is not None and self._elapsed() >= self.limit.seconds:
            self.out_of_time = True
            self.switch.stop()
        return not self._hurried

    @property
    def _hurried(self) -> bool:
        """Whether the maker stopped it: what is known already stays, and nothing is waited for."""
        return self.switch.stopped and not self.out_of_time

    def _tell(self, better: LayResult | None) -> None:
        if self.limit.steps is not None:
            done, total = self.steps, self.limit.steps
        else:
            total = round(1000 * (self.limit.seconds or 0.0))
            done = min(total, round(1000 * self._elapsed()))
        if not self.report(Progress(done, total, "improving", better)):
            self.switch.stop()

    def _elapsed(self) -> float:
        return self.clock() - self.start

    def _look(self) -> None:
        """Check what lies by now, so that a stop need not wait until all of it is."""
        placements = self.world.placements()
        seen = set(self.check.placements)
        if not seen.issubset(placements):
            self.check, self.broken, seen = GrowingCheck(self.job), [], set()
        for found in self.check.more(tuple(p for p in placements if p not in seen)):
            self.broken += found

    def _first(self) -> LayResult:
        """Return the first layout as a checked result."""
        self._look()
        self.check = GrowingCheck(self.job)  # what it knows takes room and is of no more use
        if self.broken:
            raise LayoutFault(self.job, self.broken[0].message)
        return self._summary(self.world.placements())

    def _result(self, known: LayResult) -> LayResult:
        """Return the world as a checked result; one that does not hold is reported, not shown.

        A maker who stops is not kept waiting for the check: what is known already stays.
        """
        placements = self.world.placements()
        broken: list[Violation] = []
        for found in check_steps(self.job, placements):
            if self._hurried:
                return known
            broken += found
        if broken:
            self.faults.append(str(LayoutFault(self.job, broken[0].message)))
            return known
        return self._summary(placements)

    def _summary(self, placements: tuple[Placement, ...]) -> LayResult:
        result = summarise(self.job, placements, self.bound)
        self.history.append((round(self._elapsed(), 3), result.cost, result.density))
        target = self.limit.target
        self.on_target = target is not None and not result.unplaced and result.cost <= target
        return replace(result, seed=self.seed, seconds=self._elapsed(), history=tuple(self.history))


def _check_pins(job: LayJob) -> None:
    pins = tuple(f for p in job.pieces for f in p.fixed)
    broken = violations(job, pins)
    if broken:
        names = sorted({pins[i].piece for i in broken[0].who})
        raise InputError(
            f"piece '{names[0]}', fixed", broken[0].message, "fixed places that keep the rules"
        )


def warm_up() -> None:
    """Compile (or load from the cache) every kernel by laying a small job."""
    triangle = Shape.make([(0, 0), (40, 0), (15, 30)])
    notched = Shape.make([(0, 0), (100, 0), (100, 60), (50, 50), (0, 60)])
    pieces = (PieceSpec("a", triangle, 2, (0.0, 90.0)),)
    job = LayJob(pieces, (SheetSpec("s", notched, 1, Decimal(1)),), gap=1.0)
    lay(job, limit=Limit(steps=2), clock=lambda: 0.0, seed=1)
