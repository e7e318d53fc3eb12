"""Plans the bench beside the window: a first schedule at once, a better one from a process."""

import subprocess
import sys
import tempfile
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Qt, Signal

from ivory_quilt.core.document.project import set_bench
from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.pattern.thing import ThingStanding
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.plan import Plan, used_sheets
from ivory_quilt.core.schedule.bench_choices import BenchChoices, FormOrder, JoinSchool
from ivory_quilt.core.schedule.bench_schedule import (
    DAY,
    BenchSchedule,
    bench_job,
    bench_schedule,
)
from ivory_quilt.core.schedule.schedule_job import ScheduleJob, ScheduleResult
from ivory_quilt.core.schedule.solve import schedule_at_once
from ivory_quilt.core.schedule.step import BenchSteps
from ivory_quilt.core.units import decimal_mark
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.work import TaskRunner

SECONDS = 5


@dataclass(frozen=True)
class Help:
    """Something that would end the work sooner: in words, and by how many minutes."""

    words: str
    choices: BenchChoices | None
    """What the maker would decide; None where it is not the maker's to decide here."""
    gained: int


@dataclass(frozen=True)
class Benched:
    """What is known of one plan: its schedule from `base` on, and what would help."""

    schedule: BenchSchedule
    base: date
    helps: tuple[Help, ...] = ()

    def moment(self, minutes: int) -> datetime:
        """Return when so many minutes from the first midnight are."""
        return datetime.combine(self.base, datetime.min.time()) + timedelta(minutes=minutes)

    @property
    def end(self) -> datetime:
        """When all is done."""
        return self.moment(self.schedule.end)


class BenchPlanner(QObject):
    """Keeps the schedule of the present plan."""

    changed = Signal()
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
        self._day: date | None = None
        self._quick = False
        self._closed = False
        self._number = 0
        self._tasks: TaskRunner | None = None
        self._process: subprocess.Popen[bytes] | None = None
        self._told.connect(self._take, Qt.ConnectionType.QueuedConnection)

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

    def tick(self, step: str, *, done: bool) -> None:
        """Say that a step is done, or not after all."""
        others = tuple(i for i in self.choices.done if i != step)
        after = replace(self.choices, done=(*others, step) if done else others)
        word = "Done" if done else "Not done"
        self.session.edit(word, lambda p: set_bench(p, after))

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
        return hours, f"done {found.end:%d %b}", "cut" if late else ""

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
        steps = bench_steps(plan, choices, arrivals(plan, midnight, minutes))
        job = bench_job(steps, choices, base.weekday(), minutes)
        first = schedule_at_once(job)
        if first is None:
            names = "the calendar is too short for these waits"
            raise InputError("bench", names, "more or longer evenings")
        found = Benched(bench_schedule(steps, job, first), base)
        self._told.emit(number, found)
        if quick:
            return
        helps = tuple(_helps(plan, choices, base, minutes, first.makespan))
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


def arrivals(plan: Plan, midnight: datetime, now: int) -> dict[str, int]:
    """Return before when things are not here: "foam" to buy, and by piece what it waits for."""
    days = {s.id: s.days for s in plan.stock.suppliers}
    wait = max(
        (
            days.get(sheet.item.supplier, 0)
            for foam in plan.foams
            for sheet in used_sheets(foam, plan.stock)
            if not sheet.owned
        ),
        default=0,
    )
    found = {"foam": (now // DAY + wait) * DAY} if wait else {}
    for thing in plan.project.things:
        if thing.standing is ThingStanding.ON_HAND or not thing.arrives:
            continue
        here = datetime.combine(date.fromisoformat(thing.arrives), datetime.min.time())
        minutes = int((here - midnight).total_seconds() // 60)
        pieces = [thing.piece] if thing.piece else [p.id for p in plan.project.pieces[:1]]
        for piece in pieces:
            found[piece] = max(minutes, found.get(piece, 0))
    return found


def _helps(plan: Plan, choices: BenchChoices, base: date, now: int, end: int) -> list[Help]:
    """Return what would end the work sooner, the most first; each as far as one look tells."""
    ways = [("one more pair of hands", replace(choices, people=choices.people + 1))]
    if choices.paint > 1:
        ways.append(("one coat of paint less", replace(choices, paint=choices.paint - 1)))
    if choices.primer > 1:
        ways.append(("one coat of primer less", replace(choices, primer=choices.primer - 1)))
    if choices.sealer:
        ways.append(("no sealer", replace(choices, sealer=0)))
    if choices.filled:
        ways.append(("seams hidden, not filled", replace(choices, filled=False)))
    if choices.join is JoinSchool.DRY:
        ways.append(("joined while still tacky", replace(choices, join=JoinSchool.TACKY)))
    if choices.order is FormOrder.FORM_FIRST:
        ways.append(("glued flat, then formed", replace(choices, order=FormOrder.GLUE_FIRST)))
    midnight = datetime.combine(base, datetime.min.time())
    ready = arrivals(plan, midnight, now)
    found = []

    def ends(other: BenchChoices, ready: dict[str, int]) -> int:
        steps: BenchSteps = bench_steps(plan, other, ready)
        result = schedule_at_once(bench_job(steps, other, base.weekday(), now))
        return result.makespan if result is not None else end

    for words, other in ways:
        found.append(Help(words, other, end - ends(other, ready)))
    if "foam" in ready:
        sooner = {k: v for k, v in ready.items() if k != "foam"}
        found.append(Help("foam that is here at once", None, end - ends(choices, sooner)))
    late = [t for t in plan.project.things if t.arrives and t.standing is not ThingStanding.ON_HAND]
    if late:
        last = max(late, key=lambda t: t.arrives)
        others = replace(
            plan.project, things=tuple(t for t in plan.project.things if t is not last)
        )
        sooner = arrivals(replace(plan, project=others), midnight, now)
        words = f"{last.name} before {last.arrives}"
        found.append(Help(words, None, end - ends(choices, sooner)))
    return sorted((h for h in found if h.gained > 0), key=lambda h: -h.gained)
