"""The Bench station: all evenings, tonight, steps, glue and fixings, and the card beside them."""

from datetime import UTC, datetime
from functools import partial
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QFileDialog, QStackedWidget, QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.bench.card import BenchCard
from ivory_quilt.desk.stations.bench.evenings_panel import EveningsPanel
from ivory_quilt.desk.stations.bench.fixings_panel import FixingsPanel
from ivory_quilt.desk.stations.bench.glue_panel import GluePanel
from ivory_quilt.desk.stations.bench.modes import MODES, BenchMode
from ivory_quilt.desk.stations.bench.paint_panel import PaintPanel
from ivory_quilt.desk.stations.bench.presenter import BenchPlanner
from ivory_quilt.desk.stations.bench.ringing import Bell
from ivory_quilt.desk.stations.bench.steps_panel import StepsPanel
from ivory_quilt.desk.stations.bench.timers import TimerBoard
from ivory_quilt.desk.stations.bench.tonight_panel import TonightPanel
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.widgets.mode_bar import ModeBar

FORMATS = "Calendar (*.ics);;Week to print (*.pdf)"


class BenchStation(Station):
    """Steps in time."""

    ident = "bench"

    def __init__(self, session: Session, planner: BenchPlanner) -> None:
        """Show what `planner` plans for `session`."""
        super().__init__(session)
        self.planner = planner
        self.timers = TimerBoard()
        self.bell = Bell(self)
        self.bench_card = BenchCard(self.planner)
        self.evenings = EveningsPanel(self.planner)
        self.tonight = TonightPanel(self.planner, self.timers)
        self.steps = StepsPanel(self.planner)
        self.glue = GluePanel(self.planner)
        self.paint = PaintPanel(session)
        self.fixings = FixingsPanel(session)
        self.panels: dict[BenchMode, QWidget] = {
            BenchMode.EVENINGS: self.evenings,
            BenchMode.TONIGHT: self.tonight,
            BenchMode.STEPS: self.steps,
            BenchMode.GLUE: self.glue,
            BenchMode.PAINT: self.paint,
            BenchMode.FIXINGS: self.fixings,
        }
        self.mode = BenchMode.EVENINGS
        self.modes = ModeBar(MODES, self.go_to)
        self.centre = QStackedWidget()
        for panel in self.panels.values():
            self.centre.addWidget(panel)
        middle = QWidget()
        stacked = QVBoxLayout(middle)
        stacked.setContentsMargins(0, 0, 0, 0)
        stacked.setSpacing(0)
        stacked.addWidget(self.modes)
        stacked.addWidget(self.centre, 1)
        self.lay_out(middle, self.bench_card)
        self.bench_card.wants_export.connect(self.ask_export)
        self.planner.changed.connect(self._fill)
        self.planner.ticked.connect(self._ticked)
        self.timers.changed.connect(self._fill_timers)
        self.timers.rang.connect(self.bell.ring)
        self.timers.rang.connect(lambda title, said: session.tell(f"{title}: {said}", "heat"))
        self.modes.show_mode(self.mode, tuple(self.panels))
        for mode, _, _ in MODES:
            self.offer(f"bench-{mode.name.lower()}", partial(self.go_to, mode))
        self.offer("export-bench", self.ask_export, lambda: self.planner.found is not None)

    def go_to(self, mode: BenchMode) -> None:
        """Bring one panel to the front."""
        self.mode = mode
        self.modes.show_mode(mode, tuple(self.panels))
        self.centre.setCurrentWidget(self.panels[mode])
        self._fill()

    def refresh(self) -> None:
        """Plan the present project."""
        self.bench_card.fill()
        self.planner.plan()
        self._fill()
        QTimer.singleShot(0, self._settle_card)

    def _settle_card(self) -> None:
        """Lay the card out anew: its words have their true heights only now."""
        layout = self.bench_card.layout()
        if layout is not None:
            layout.invalidate()
        self.bench_card.adjustSize()

    def set_look(self, palette: Palette) -> None:
        """Take another theme."""
        self.evenings.look = palette
        super().set_look(palette)

    def leave(self) -> None:
        """Stop the timers: the desk closes."""
        self.timers.close()

    def _fill(self) -> None:
        if not self.isVisible():
            return
        panel = self.panels[self.mode]
        panel.fill()  # type: ignore[attr-defined]

    def _fill_timers(self) -> None:
        if self.isVisible() and self.mode is BenchMode.TONIGHT:
            self.tonight.fill()

    def _ticked(self, step: str, done: bool) -> None:  # noqa: FBT001 - a signal's
        found = self.planner.found
        if found is None:
            return
        try:
            self.timers.follow_step(found.steps, step, done=done)
        except InputError as error:
            self.session.tell(str(error), "cut")

    # Out

    def ask_export(self) -> None:
        """Ask where to, and write the calendar or the week to print."""
        name = f"{self.session.project.name} bench.ics"
        chosen, _ = QFileDialog.getSaveFileName(self, "Export evenings", name, FORMATS)
        if chosen:
            self.export(Path(chosen))

    def export(self, path: Path) -> None:
        """Write the calendar (.ics) or the first week to print (.pdf)."""
        from ivory_quilt.files.atomic import write_atomic
        from ivory_quilt.files.calendar_file import write_calendar
        from ivory_quilt.files.papers.week import first_week, week_bytes

        found = self.planner.found
        if found is None:
            return
        name, midnight = self.session.project.name, found.moment(0)
        try:
            if path.suffix.lower() == ".pdf":
                first = first_week(found.schedule)
                write_atomic(path, week_bytes(found.schedule, midnight, name, first))
            elif path.suffix.lower() == ".ics":
                event, now = self.planner.choices.event, datetime.now(UTC)
                write_calendar(path, found.schedule, midnight, name, event, now)
            else:
                expected = ".ics or .pdf"
                raise InputError(path.name, f"'{path.suffix}' is no format of it", expected)
        except InputError as error:
            self.session.tell(str(error), "cut")
            return
        self.session.tell(f"{path.name} is written", "good")
