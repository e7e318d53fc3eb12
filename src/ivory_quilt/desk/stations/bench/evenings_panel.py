"""All evenings: when all is done, what would help, and every step in its time."""

from datetime import date
from functools import partial

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from ivory_quilt.core.record import asdict
from ivory_quilt.core.schedule.bench_schedule import BenchSchedule, PlacedStep
from ivory_quilt.core.units import counted
from ivory_quilt.desk.stations.bench.day_strip import DayStrip, clock
from ivory_quilt.desk.stations.bench.helps import Help
from ivory_quilt.desk.stations.bench.presenter import Benched, BenchPlanner
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import (
    Stitch,
    button,
    clear,
    column,
    label,
    row,
    scrolled,
    set_tone,
)

MOST_DAYS = 30
NOTHING = "What is to be done at the bench stands here as soon as the pieces are laid."


class EveningsPanel(QWidget):
    """Steps in time."""

    def __init__(self, planner: BenchPlanner) -> None:
        """Show what `planner` finds."""
        super().__init__()
        self.planner = planner
        self.look: Palette = LIGHT
        self.end = label("", "great")
        self.end_note = label("", "note")
        self.hours = label("", "figure")
        self.hours_note = label("at the bench", "note")
        self.held = label("", "figure")
        self.held_note = label("cannot be later", "note")
        self.helps = QVBoxLayout()
        self.helps.setSpacing(4)
        self.days = QVBoxLayout()
        self.days.setSpacing(14)
        figures = row(
            column(label("Done", "heading"), self.end, self.end_note, None, space=2),
            None,
            column(label("Hands", "heading"), self.hours, self.hours_note, None, space=2),
            column(label("Critical", "heading"), self.held, self.held_note, None, space=2),
            space=36,
        )
        inside = QWidget()
        around = column(figures, self.helps, self.days, None, space=14)
        around.setContentsMargins(24, 20, 24, 20)
        inside.setLayout(around)
        self.setLayout(column(scrolled(inside), space=0))
        self._shown: object = None

    def fill(self) -> None:
        """Show what is found now, unless it is shown already."""
        found, planner = self.planner.found, self.planner
        unlaid = planner.session.plan.unlaid != ()
        state = (found, planner.problem, planner.running, self.look, unlaid)
        if state == self._shown:
            return
        self._shown = state
        clear(self.days)
        clear(self.helps)
        if found is None:
            self.end.setText("–")
            self.hours.setText("–")
            self.held.setText("–")
            text = planner.problem or ("planning …" if planner.running else NOTHING)
            self.end_note.setText(text)
            set_tone(self.end_note, "cut" if planner.problem else "soft")
            return
        self._figures(found)
        self._helps(found)
        today = planner.now().date()
        for k, (day, placed) in enumerate(found.schedule.days.items()):
            if k >= MOST_DAYS:
                more = len(found.schedule.days) - MOST_DAYS
                self.days.addWidget(label(f"and {counted(more, 'evening')} more", "note"))
                break
            self._day(found, day, placed, first=k == 0, today=today)
        self._done()

    def _figures(self, found: Benched) -> None:
        schedule: BenchSchedule = found.schedule
        self.end.setText(f"{found.end:%a %d %b}" if schedule.placed else "all done")
        text, tone = self._proof(found)
        self.end_note.setText(text)
        set_tone(self.end_note, tone)
        self.hours.setText(f"{schedule.hands / 60:.1f} h")
        self.hours_note.setText(f"{counted(len(schedule.days), 'evening')}")
        self.held.setText(f"{len(schedule.critical)}")
        self.held_note.setText(f"of {counted(len(schedule.placed), 'step')} cannot be later")

    def _proof(self, found: Benched) -> tuple[str, str]:
        event = self.planner.choices.event
        if event:
            left = (date.fromisoformat(event) - found.end.date()).days
            if left < 0:
                return f"{counted(-left, 'day')} after the event", "cut"
            return f"{counted(left, 'day')} before the event", "good" if left > 2 else "heat"
        if self.planner.running:
            return "looking for a sooner end …", "soft"
        if found.schedule.optimal:
            return "proven: it cannot be sooner", "good"
        return f"not before {found.moment(found.schedule.bound):%a %d %b}", "soft"

    def _helps(self, found: Benched) -> None:
        """Show what would end it sooner by an evening or more."""
        shown = [h for h in found.helps if h.gained >= 60][:4]
        if not shown:
            return
        self.helps.addWidget(label("What would help", "heading"))
        for one in shown:
            days, hours = divmod(one.gained // 60, 24)
            gain = counted(days, "day") if days else f"{hours} h"
            line: list[QWidget | None] = [label(f"{gain} sooner", "mono", "good")]
            line += [label(one.words), None]
            if one.choices is not None or one.simpler is not None:
                use = button("Do so", partial(self._use, one), "quiet", "Can be undone")
                use.setAccessibleName(f"do so: {one.words}")
                line.append(use)
            self.helps.addLayout(row(*line))

    def _use(self, one: Help) -> None:
        if one.simpler is not None:
            self.planner.build_simpler(one.simpler)
        elif one.choices is not None:
            self.planner.choose("What would help", **asdict(one.choices))

    def _day(
        self,
        found: Benched,
        day: int,
        placed: tuple[PlacedStep, ...],
        *,
        first: bool,
        today: date,
    ) -> None:
        when = found.moment(day * 1440).date()
        name = "Tonight" if when == today else f"{when:%A %d %B}"
        minutes = sum(p.step.minutes for p in placed)
        note = f"{counted(len(placed), 'step')}, {minutes / 60:.1f} h of hands"
        self.days.addWidget(Stitch())
        self.days.addLayout(row(label(name, "title"), label(note, "note"), None))
        self.days.addWidget(DayStrip(placed, self.look))
        if first:
            cautions = dict.fromkeys(p.step.caution for p in placed if p.step.caution)
            for caution in cautions:
                self.days.addWidget(label(caution, "note", "heat", wrap=True))
            for one in placed:
                self.days.addLayout(self._step(one))

    def _step(self, one: PlacedStep) -> QHBoxLayout:
        box = QCheckBox(f"{one.step.kind.value}: {one.step.title}")
        box.setAccessibleName(f"{one.step.kind.value} {one.step.title} is done")
        box.clicked.connect(lambda on, i=one.step.id: self.planner.tick(i, done=on))
        held = label("cannot be later", "note", "heat") if one.slack == 0 else label("")
        minutes = label(f"{one.step.minutes} min", "mono")
        return row(label(clock(one.start), "mono"), box, held, None, minutes, space=12)

    def _done(self) -> None:
        """Show what is ticked, to take a tick back."""
        done = self.planner.choices.done
        if not done:
            return
        self.days.addWidget(Stitch())
        text = f"{counted(len(done), 'step')} done"
        last = button(
            "Take the last back", partial(self.planner.tick, done[-1].id, done=False), "quiet"
        )
        self.days.addLayout(row(label(text, "heading"), None, last))
