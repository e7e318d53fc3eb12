"""Plans the bench beside the window: a first schedule at once, a better one from a process."""

import subprocess
import sys
import tempfile
from collections.abc import Callable
from datetime import date, datetime, timedelta
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Qt, Signal

from ivory_quilt.core.document.benchwork import set_bench
from ivory_quilt.core.document.project import change_piece
from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.simpler import SimplerPart
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.bench_schedule import BenchSchedule, bench_job, bench_schedule
from ivory_quilt.core.schedule.own_steps import DoneStep
from ivory_quilt.core.schedule.schedule_job import ScheduleJob, ScheduleResult
from ivory_quilt.core.schedule.solve import schedule_at_once
from ivory_quilt.core.schedule.step import BenchStep, BenchSteps
from ivory_quilt.core.units import decimal_mark
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.bench.helps import Help, arrivals, ways_to_help
from ivory_quilt.desk.work import TaskRunner

SECONDS = 5


class Benched(Struct, frozen=True):
    """What is known of one plan: its schedule from `base` on, and what would help."""

    schedule: BenchSchedule
    base: date
    steps: BenchSteps
    helps: tuple[Help, ...] = ()

    def moment(self, minutes: int) -> datetime:
        """Return when so many minutes from the first midnight are."""
        return datetime.combine(self.base, datetime.min.time()) + timedelta(minutes=minutes)

    @property
    def end(self) -> datetime:
        """When all is done."""
        return self.moment(self.schedule.end)


def minutes_of(at: str, midnight: datetime) -> int:
    """Return an ISO moment in minutes from a midnight; -1 for one that nobody knows."""
    if not at:
        return -1
    return max(0, int((datetime.fromisoformat(at) - midnight).total_seconds() // 60))


class BenchPlanner(QObject):
    """Keeps the schedule of the present plan."""

    changed = Signal()
    ticked = Signal(str, bool)
    """A step was done, or is not after all."""
    _told = Signal(int, object)

    def __init__(self, session: Session) -> None:
        """Plan for `session`'s project."""
        super().__init__()
        self.session = session
        self.now: Callable[[], datetime] = datetime.now
        self.found: Benched | None = None
        self.problem = ""
        self.running = False
        self.improves = True
        self._plan: Plan | None = None
        self._found_for: Plan | None = None
        self._before: tuple[int, datetime] | None = None
        """Hands and end before the last edit."""
        self._day: date | None = None
        self._quick = False
        self._closed = False
        self._number = 0
        self._tasks: TaskRunner | None = None
        self._process: subprocess.Popen[bytes] | None = None
        self._told.connect(self._take, Qt.ConnectionType.QueuedConnection)
        session.opened.connect(self._forget)

    def _forget(self) -> None:
        """Another project is open: nothing of the last one's bench holds."""
        self.found, self._found_for, self._before = None, None, None

    @property
    def choices(self) -> BenchChoices:
        """What the maker decided about the bench."""
        return self.session.project.bench

    def choose(self, label: str, **changes: object) -> None:
        """Decide something.

        Raises:
            InputError: it makes no sense; nothing is changed.
        """
        after = replace(self.choices, **changes)  # type: ignore[arg-type]
        self.session.edit(label, lambda p: set_bench(p, after), merge=True)

    def tick(self, step: str, *, done: bool, minutes: float = 0.0) -> None:
        """Say that a step is done now, and how long it took; or that it is not after all."""
        others = tuple(d for d in self.choices.done if d.id != step)
        mine = DoneStep(step, f"{self.now():%Y-%m-%dT%H:%M:%S}", minutes)
        after = replace(self.choices, done=(*others, mine) if done else others)
        word = "Done" if done else "Not done"
        self.session.edit(word, lambda p: set_bench(p, after))
        self.ticked.emit(step, done)

    def set_choices(self, label: str, after: BenchChoices) -> None:
        """Decide something about steps or joints.

        Raises:
            InputError: a step would wait for itself; nothing is changed.
        """
        bench_steps(self.session.plan, after)
        self.session.edit(label, lambda p: set_bench(p, after))

    def build_simpler(self, part: SimplerPart) -> None:
        """Make a piece with less; its foam is laid anew."""
        self.session.edit(part.words, lambda p: change_piece(p, part.piece, build=part.build))

    def step(self, ident: str) -> BenchStep | None:
        """Return a step of the present plan, done or not."""
        steps = self.found.steps.steps if self.found is not None else ()
        return next((s for s in steps if s.id == ident), None)

    def plan(self, *, quick: bool = False) -> None:
        """Plan the present project, unless that is known or under way.

        `quick`: only the first schedule, for the ledger's figures.
        """
        plan, today = self.session.plan, self.now().date()
        if self._closed:
            return
        if plan is self._plan and today == self._day and (quick or not self._quick):
            return
        if plan.unlaid:
            return
        self.stop()
        self._plan, self._day, self._quick, self.problem = plan, today, quick, ""
        if not plan.foams:
            self.found = None
            self.changed.emit()
            return
        self._number += 1
        self.running = True
        if self._tasks is None:
            self._tasks = TaskRunner(self)
        number, now = self._number, self.now()
        work = partial(self._run, number, plan, now, quick=quick)
        self._tasks.run(work, partial(self._ended, number))
        self.changed.emit()

    def words(self) -> tuple[str, str, str]:
        """Return hours, the day on which all is done, and its tone, for the ledger."""
        found = self.found
        if found is None:
            return "", "", ""
        if not found.schedule.placed:
            return "0 h", "all done", "good"
        event = self.choices.event
        late = bool(event) and found.end.date() > date.fromisoformat(event)
        hours = f"{decimal_mark(f'{found.schedule.hands / 60:.1f}')} h"
        return hours, f"done {found.end:%d %b}{self._change()}", "cut" if late else ""

    def _change(self) -> str:
        """Return what the last edit did to the day, or else to the hours; empty for nothing."""
        if self._before is None or self.found is None:
            return ""
        hands, end = self._before
        days = (self.found.end.date() - end.date()).days
        hours = (self.found.schedule.hands - hands) / 60
        if days:
            return f", {days:+d} d".replace("-", "−")
        text = decimal_mark(f"{hours:+.1f}").replace("-", "−")
        return f", {text} h" if abs(hours) >= 0.05 else ""

    def stop(self) -> None:
        """Stop looking; what was found stays."""
        self._number += 1
        self.running = False
        if self._process is not None:
            self._process.kill()

    def close(self) -> None:
        """End everything: the desk closes, and asks for nothing more."""
        self._closed = True
        self.stop()
        if self._tasks is not None:
            self._tasks.close()

    # On the task's own thread

    def _run(self, number: int, plan: Plan, now: datetime, *, quick: bool) -> None:
        choices = plan.project.bench
        base = date.fromisoformat(choices.start) if choices.start else now.date()
        midnight = datetime.combine(base, datetime.min.time())
        minutes = max(0, int((now - midnight).total_seconds() // 60))
        ready = arrivals(plan, midnight, minutes)
        steps = bench_steps(plan, choices, ready, today=f"{now:%Y-%m-%d}")
        done = {d.id: minutes_of(d.at, midnight) for d in choices.done}
        choices = replace(choices, start=base.isoformat())
        job = bench_job(steps, choices, base.weekday(), minutes, done)
        first = schedule_at_once(job)
        if first is None:  # what is brushed cannot all be joined in time
            job = bench_job(steps, choices, base.weekday(), minutes, done, held=False)
            first = schedule_at_once(job)
        if first is None:
            names = "the calendar is too short for these waits"
            raise InputError("bench", names, "more or longer evenings")
        found = Benched(bench_schedule(steps, job, first), base, steps)
        self._told.emit(number, found)
        if quick:
            return
        helps = tuple(ways_to_help(plan, choices, base, minutes, first.makespan))
        found = replace(found, helps=helps)
        self._told.emit(number, found)
        if self.improves and not first.optimal and number == self._number:
            better = self._better(number, job, midnight)
            if better is not None and better.makespan <= first.makespan:
                schedule = bench_schedule(steps, job, better)
                self._told.emit(number, replace(found, schedule=schedule))

    def _better(self, number: int, job: ScheduleJob, start: datetime) -> ScheduleResult | None:
        from ivory_quilt.files.schedule_file import encode_schedule_job, load_schedule_result

        with tempfile.TemporaryDirectory(prefix="ivory-quilt-bench-") as folder:
            asked, answer = Path(folder) / "job.json", Path(folder) / "result.json"
            asked.write_bytes(encode_schedule_job(job, start))
            words = [sys.executable, "-m", "ivory_quilt.cli", "schedule", str(asked)]
            words += ["--seconds", str(SECONDS), "--out", str(answer)]
            quiet = subprocess.DEVNULL
            with subprocess.Popen(words, stdout=quiet, stderr=quiet) as process:
                self._process = process
                if number != self._number:
                    process.kill()
                process.wait()
                self._process = None
            return load_schedule_result(answer) if answer.exists() else None

    # Back on the interface's

    def _take(self, number: int, found: Benched) -> None:
        if number == self._number:
            if self.found is not None and self._found_for is not self._plan:
                self._before = (self.found.schedule.hands, self.found.end)
            self._found_for = self._plan
            self.found = found
            self.changed.emit()

    def _ended(self, number: int, _: object, error: Exception | None) -> None:
        if error is not None and not isinstance(error, QuiltError):
            raise error
        if number != self._number:
            return
        self.running = False
        if error is not None:
            self.found, self.problem = None, str(error)
        self.changed.emit()
