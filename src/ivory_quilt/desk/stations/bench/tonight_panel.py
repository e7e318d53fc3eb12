"""Tonight: large, one step after the other, timers running, what must be at hand."""

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.plan.at_hand import at_hand
from ivory_quilt.core.schedule.bench_schedule import PlacedStep
from ivory_quilt.core.schedule.timer import Timer, TimerStanding, show_left
from ivory_quilt.core.units import parse_scalar
from ivory_quilt.desk.stations.bench.day_strip import clock
from ivory_quilt.desk.stations.bench.presenter import BenchPlanner
from ivory_quilt.desk.stations.bench.timers import TimerBoard
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    clear,
    column,
    label,
    row,
    scrolled,
    set_tone,
)
from ivory_quilt.desk.widgets.fields import Taking

TONES = {
    TimerStanding.RUNNING: "",
    TimerStanding.READY: "good",
    TimerStanding.CLOSING: "heat",
    TimerStanding.OVER: "cut",
}
MOST_STEPS = 40
NOTHING = "Nothing is to be done tonight."


class TonightPanel(QWidget):
    """The steps of the first evening that has some."""

    wants_entry = Signal(str)
    """Something is to be told of a step: its id."""

    def __init__(self, planner: BenchPlanner, timers: TimerBoard) -> None:
        """Show the evening that `planner` has first, and `timers`."""
        super().__init__()
        self.planner, self.timers = planner, timers
        self.error = Complaint()
        self.head = label("", "great")
        self.note = label("", "note")
        self.hand_head = label("", "heading")
        self.hand = QVBoxLayout()
        self.hand.setSpacing(4)
        self.clocks = QVBoxLayout()
        self.clocks.setSpacing(6)
        self.steps = QVBoxLayout()
        self.steps.setSpacing(10)
        self.timer_name, self.timer_minutes = QLineEdit(), QLineEdit()
        self.timer_name.setPlaceholderText("a timer of your own")
        self.timer_name.setAccessibleName("what the timer is for")
        self.timer_minutes.setPlaceholderText("min")
        self.timer_minutes.setAccessibleName("minutes of the timer")
        self.timer_minutes.setFixedWidth(80)
        start = button("Start timer", self.start_own)
        own = row(self.timer_name, self.timer_minutes, start)
        inside = QWidget()
        around = column(
            self.head,
            self.note,
            self.error,
            self.clocks,
            own,
            Stitch(),
            self.steps,
            Stitch(),
            self.hand_head,
            self.hand,
            None,
            space=12,
        )
        around.setContentsMargins(24, 20, 24, 20)
        inside.setLayout(around)
        self.setLayout(column(scrolled(inside), space=0))
        self.begun: dict[str, float] = {}
        """When hands began with a step, by the machine's own clock."""
        self._shown: object = None
        self._faces: dict[str, tuple[QLabel, QLabel]] = {}

    def tonight(self) -> tuple[PlacedStep, ...]:
        """Return the steps of the first evening that has some."""
        found = self.planner.found
        return next(iter(found.schedule.days.values()), ()) if found is not None else ()

    def fill(self) -> None:
        """Show evening and timers as they are now."""
        self._show_timers()
        found, plan = self.planner.found, self.planner.session.plan
        state = (found, tuple(self.begun), plan)
        if state == self._shown:
            return
        self._shown = state
        clear(self.steps)
        clear(self.hand)
        placed = self.tonight()
        self.hand_head.setText("Before it starts: at hand and still good" if placed else "")
        if found is None or not placed:
            self.head.setText("Tonight")
            self.note.setText(self.planner.problem or NOTHING)
            return
        day = found.moment(placed[0].start).date()
        today = self.planner.now().date()
        self.head.setText("Tonight" if day == today else f"{day:%A %d %B}")
        hours = sum(p.step.minutes for p in placed) / 60
        self.note.setText(f"{len(placed)} steps, {hours:.1f} h of hands")
        for caution in dict.fromkeys(p.step.caution for p in placed if p.step.caution):
            self.steps.addWidget(label(caution, "", "heat", wrap=True))
        for one in placed[:MOST_STEPS]:
            self.steps.addLayout(self._step(one))
        if len(placed) > MOST_STEPS:
            self.steps.addWidget(label(f"and {len(placed) - MOST_STEPS} more", "note"))
        choices = self.planner.choices
        for one_thing in at_hand(plan, choices, (p.step for p in placed), f"{today}"):
            line = label(one_thing.words, wrap=True)
            said = label(one_thing.problem, "", "cut") if one_thing.problem else label("")
            self.hand.addLayout(row(line, said, None, space=12))

    def _step(self, one: PlacedStep) -> QHBoxLayout:
        step = one.step
        what = label(f"{step.kind.value}: {step.title}", "title", wrap=True)
        told = f"{step.minutes} min" + (", cannot be later" if one.slack == 0 else "")
        note = label(told, "note", "heat" if one.slack == 0 else "")
        on = step.id in self.begun
        begin = button("Hands off" if on else "Begin", partial(self.begin, step.id), "quiet")
        begin.setToolTip("Measures how long it really takes; the journal learns from it")
        begin.setAccessibleName(f"begin {step.title}")
        done = button("Done", partial(self.done, step.id), "main")
        done.setMinimumHeight(48)
        done.setAccessibleName(f"{step.kind.value} {step.title} is done")
        tell = button("Tell …", partial(self.wants_entry.emit, step.id), "quiet")
        tell.setToolTip("Something for the journal: spoiled, slipped, a photo")
        tell.setAccessibleName(f"tell of {step.title}")
        words = column(what, note, space=2)
        made = row(label(clock(one.start), "mono"), words, begin, tell, done, space=14)
        made.setStretch(1, 1)
        return made

    def begin(self, step: str) -> None:
        """Begin to measure a step's time, or let it be."""
        if step in self.begun:
            del self.begun[step]
        else:
            self.begun[step] = self.timers.now().ticks
        self.fill()

    def done(self, step: str) -> None:
        """Tick a step, with the time that it took where that was measured."""
        minutes = 0.0
        if step in self.begun:
            minutes = round((self.timers.now().ticks - self.begun.pop(step)) / 60, 2)
        self._do(lambda: self.planner.tick(step, done=True, minutes=minutes))

    def start_own(self) -> None:
        """Start the timer that was typed."""
        with Taking(self.error, self.timer_name, self.timer_minutes):
            name = self.timer_name.text().strip() or "timer"
            minutes = parse_scalar(self.timer_minutes.text(), where="minutes")
            if not 0 < minutes <= 7 * 24 * 60:
                raise InputError("minutes", f"{minutes:g}", "above 0, at most a week")
            number = 1 + len(self.timers.timers)
            taken = {t.id for t in self.timers.timers}
            while f"own:{number}" in taken:
                number += 1
            self.timers.start(f"own:{number}", name, 60 * minutes)
            self.timer_name.clear()
            self.timer_minutes.clear()

    def _do(self, what: Callable[[], object]) -> None:
        with Taking(self.error):
            what()

    # Timers

    def _show_timers(self) -> None:
        """Show every timer; only words change while the same ones run."""
        timers, now = self.timers.timers, self.timers.now()
        if list(self._faces) != [t.id for t in timers]:
            clear(self.clocks)
            self._faces = {}
            for timer in timers:
                face, said = label("", "great"), label("", "note")
                stop = button("Stop", partial(self._stop, timer.id), "quiet")
                stop.setAccessibleName(f"stop the timer of {timer.title}")
                title = label(timer.title, "title", wrap=True)
                line = row(face, column(title, said, space=0), stop, space=18)
                line.setStretch(1, 1)
                self.clocks.addLayout(line)
                self._faces[timer.id] = face, said
        for timer in timers:
            face, said = self._faces[timer.id]
            standing = timer.standing(now)
            left = show_left(timer.left(now))
            face.setText(left if standing is not TimerStanding.OVER else "over")
            said.setText(_words(timer, standing))
            set_tone(face, TONES[standing])
            set_tone(said, TONES[standing] or "soft")

    def _stop(self, ident: str) -> None:
        self._do(lambda: self.timers.stop(ident))


def _words(timer: Timer, standing: TimerStanding) -> str:
    if standing is TimerStanding.RUNNING:
        return "until it is ready"
    if standing is TimerStanding.OVER:
        return "too late to join: brush it again"
    return "until it is too late" if timer.most else "ready"
