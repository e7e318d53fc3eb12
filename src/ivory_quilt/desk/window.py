"""The window: rail, station in front, ledger; opening, saving, and the panels over it."""

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QByteArray, QEvent, Qt, QTimer
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QResizeEvent,
    QShowEvent,
)
from PySide6.QtWidgets import (
    QApplication,
    QMainWindow,
    QStackedWidget,
    QWidget,
)

from ivory_quilt.core.errors import QuiltError
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.desk.commands.menus import COMMANDS, MENUS
from ivory_quilt.desk.documents import Documents
from ivory_quilt.desk.drawings import Drawings
from ivory_quilt.desk.engine_choice import EngineChoice
from ivory_quilt.desk.errands import Errands
from ivory_quilt.desk.errors import ErrorWatch
from ivory_quilt.desk.event_turns import Later, PaintingWaits
from ivory_quilt.desk.finding import palette_answers, palette_entries
from ivory_quilt.desk.keeper import WorkKeeper
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.menus import Menus
from ivory_quilt.desk.panel_set import PanelSet
from ivory_quilt.desk.preferences import Preferences
from ivory_quilt.desk.quiet_bench import QuietBench
from ivory_quilt.desk.reading import ReadRunner
from ivory_quilt.desk.recovering import Recovering
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.settings import Settings
from ivory_quilt.desk.station_set import StationSet
from ivory_quilt.desk.stations.base import WORDS, Station
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.theme.style import apply_theme, style_sheet, text_size
from ivory_quilt.desk.wants import wants
from ivory_quilt.desk.widgets.basics import Stitch, column, row
from ivory_quilt.desk.widgets.header import Header
from ivory_quilt.desk.widgets.keys_panel import Shortcut
from ivory_quilt.desk.widgets.ledger import LedgerBar
from ivory_quilt.desk.widgets.panels import TOLD_FOR, Message
from ivory_quilt.desk.widgets.rail import Rail
from ivory_quilt.desk.widgets.reading_bar import ReadingBar
from ivory_quilt.desk.work import TaskRunner
from ivory_quilt.engine.orders import EngineFault
from ivory_quilt.engine.service import EngineService
from ivory_quilt.files.kinds import kind_of
from ivory_quilt.files.recovery import RecoveryFolder

if TYPE_CHECKING:
    from ivory_quilt.desk.stations.bench.view import BenchStation
    from ivory_quilt.desk.stations.build.view import BuildStation
    from ivory_quilt.desk.stations.journal.view import JournalStation
    from ivory_quilt.desk.stations.pattern.view import PatternStation

AFTER_LEDGER = 40  # ms: menus and marks follow a better layout in a turn of their own
CARD_FOLDED = "card-folded"


class DeskWindow(QMainWindow):
    """One project on one desk."""

    def __init__(
        self,
        session: Session,
        settings: Settings,
        watch: ErrorWatch,
        recovery: RecoveryFolder,
        service: EngineService | None = None,
    ) -> None:
        """Put the desk together; unsaved work is kept in `recovery`.

        Layouts come from `service`, or from an engine of the window's own.
        """
        super().__init__()
        self.session: Session = session
        self._watch = watch
        self.settings: Settings = settings
        self.tasks, self.reading = TaskRunner(self), ReadRunner(self)
        self.keeper = WorkKeeper(session, recovery, self)
        self.laying: Laying = Laying(session, LayoutEngine(service, self), self)
        PaintingWaits(self)
        self.setAcceptDrops(True)
        self.setMinimumSize(1000, 640)
        self.resize(1280, 800)
        self.stack = QStackedWidget()
        self.stack.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.ledger = LedgerBar(session)
        self.quiet_bench = QuietBench(
            session,
            self.laying,
            self.ledger.show_bench,
            lambda: self._current == "bench",
            self,
        )
        self.stations: StationSet = StationSet(
            session,
            self.laying,
            self.tasks,
            self.reading,
            self.quiet_bench,
            data=recovery.root.parent,
            take_in=self._take_in,
        )
        self._current = ""
        self.documents: Documents = Documents(self, session, settings, self.keeper)
        self.drawings: Drawings = Drawings(
            self,
            session,
            self.documents,
            self.reading.run,
            self.tasks.run,
            lambda: self.pattern.presenter.pieces,
        )
        self.errands: Errands = Errands(self.stations, self.go, self.drawings, self.keeper)
        self.documents.began.connect(lambda: self.go("pattern"))
        keys = {c.id: c.keys for c in COMMANDS}
        self.rail = Rail([(ident, word, keys[f"go-{ident}"]) for ident, word in WORDS.items()])
        self.rail.chosen.connect(self.go)
        self.ledger.chosen.connect(self._show_foam)
        self.menus = Menus(self, self, self.documents.fill_recent, watch.did)
        self.actions_by_id: dict[str, QAction] = self.menus.actions
        self.header = Header(self.actions_by_id)
        self.menuBar().setCornerWidget(self.header)
        self._desk = desk = self._build()
        self.setCentralWidget(desk)
        self.message = Message(self.stack)
        self.engine_choice = EngineChoice(self.laying.engine, settings, self.tasks.run, self)
        self.preferences = Preferences(settings, session, self.tasks.run, self)
        self.panels = PanelSet(
            desk,
            session,
            self.documents,
            self.engine_choice,
            self.preferences,
            [Shortcut(c.menu, c.keys, c.title.removesuffix(" …"), c.tip) for c in COMMANDS],
            MENUS,
            lambda: palette_entries(self, self.errands.show_piece),
            lambda typed: palette_answers(self, typed, self.errands.look_up_code),
        )
        if self.engine_choice.address:
            QTimer.singleShot(0, self.engine_choice.connect_chosen)
        self.recovering = Recovering(desk, self.documents, recovery)
        self.reading_bar = ReadingBar(self.stack, self.reading.cancel)
        self.reading.began.connect(self.reading_bar.begin)
        self.reading.progress.connect(self.reading_bar.tell)
        self.reading.ended.connect(self.reading_bar.end)
        self.keeper.failed.connect(self._cannot_keep)
        session.told.connect(self.message.tell)
        session.changed.connect(self._refresh)
        session.proposed.connect(Later(self._refresh, AFTER_LEDGER, self).soon)
        self.laying.changed.connect(self.menus.refresh)
        self.laying.failed.connect(self._keep_report)
        watch.caught.connect(self.panels.error.show_error)
        geometry, where = settings.window()
        first = where if where in self.stations else "pattern"
        for ident in {first, "pattern"}:  # before the theme: Qt styles all at once more quickly
            self.stations[ident]
        self.look: Palette = self._theme()
        self._show_unit()
        self.stations.fold_cards(folded=settings.flag(CARD_FOLDED))
        if not geometry.isEmpty():
            self.restoreGeometry(QByteArray(geometry))
        self.go(first)
        self.preferences.changed.connect(self._look_anew)
        if self.stations.timers_file.is_file():  # timers ring wherever the maker stands
            self.stations["bench"]
        self._refresh()

    # Putting together

    def _build(self) -> QWidget:
        middle = row(self.rail, self.stack, space=0)
        middle.setStretch(1, 1)
        desk = QWidget()
        desk.setObjectName("Desk")
        desk.setLayout(column(Stitch(), middle, Stitch(), self.ledger, space=0))
        layout = desk.layout()
        assert layout is not None
        layout.setStretch(1, 1)  # type: ignore[attr-defined]
        return desk

    def _take_in(self, station: Station) -> None:
        """Give a station that was just made its place, its look and its ties."""
        self.stack.addWidget(station)
        station.picked.connect(self._look)
        self.errands.take_in(station)

    # Showing

    @property
    def pattern(self) -> "PatternStation":
        """Pieces at true size."""
        return self.stations.pattern

    @property
    def building(self) -> "BuildStation":
        """What is really cut, and why."""
        return self.stations.build

    @property
    def bench(self) -> "BenchStation":
        """Steps in time."""
        return self.stations.bench

    @property
    def journal(self) -> "JournalStation":
        """What happened."""
        return self.stations.journal

    @property
    def station(self) -> Station:
        """The station in front."""
        return self.stations[self._current]

    def go(self, ident: str) -> None:
        """Bring a station to the front; what was said at another one is not said here."""
        if ident != self._current:
            self.message.hide()
        self._current = ident
        station = self.stations[ident]
        self.stack.setCurrentWidget(station)
        station.enter()
        self.laying.look_at(station.foams_in_sight())
        self._refresh()
        if station.canvas is not None and station.canvas.isVisible():
            station.canvas.setFocus()
        else:
            self.stack.setFocus()

    def _look(self) -> None:
        """Something else is chosen: other commands make sense, and its foam is laid first."""
        self.laying.look_at(self.station.foams_in_sight())
        self.menus.refresh()

    def do_at(self, ident: str, action: str) -> None:
        """Go to a station and do one of its actions there."""
        self.go(ident)
        self.stations[ident].act(action)

    def _show_foam(self, foam: Foam | None) -> None:
        if foam is None or self._current == "buy":
            self.go("buy")
        else:
            self.go("lay")
        if foam is not None:
            self.station.show_foam(foam)

    def _refresh(self) -> None:
        self.setWindowTitle(f"{self.session.title} · Ivory Quilt")
        self.header.name.setText(self.session.title)
        self.menus.refresh()
        self.rail.show_state(self.look, self._current, self.wants())

    def wants(self) -> dict[str, str]:
        """Return what each station wants of the maker, for the marks on the rail."""
        offered = self.can_keep() and not self.laying.busy
        return wants(
            self.session.plan, offered=offered, waiting=bool(self.pattern.presenter.imports)
        )

    def can_keep(self) -> bool:
        """Whether an offered layout can be kept."""
        return any(
            f.standing is Standing.PROPOSED and not f.line.unplaced for f in self.session.plan.foams
        )

    def _theme(self) -> Palette:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        text_size(self.settings.text_size)
        look = apply_theme(app, dark=self.settings.dark)
        self.setStyleSheet(style_sheet(look))
        self.stations.show_look(look)
        self.panels.guide.set_look(look)
        self.header.set_look(look)
        self.recovering.look = look
        return look

    def _look_anew(self) -> None:
        """Show everything again: theme, text size, units or decimals are others."""
        self.look = self._theme()
        self._show_unit()
        self.station.enter()
        self.ledger.show_anew()
        self._refresh()

    def _show_unit(self) -> None:
        self.stations.show_unit(self.settings.unit)

    def fit(self) -> None:
        """Zoom to fit on the table in front."""
        if self.station.canvas is not None:
            self.station.canvas.fit()

    def zoom(self, factor: float) -> None:
        """Look nearer or further."""
        if self.station.canvas is not None:
            self.station.canvas.zoom(factor)

    def fold_card(self) -> None:
        """Fold the side card away, or back."""
        folded = not self.settings.flag(CARD_FOLDED)
        self.settings.set_flag(CARD_FOLDED, on=folded)
        self.stations.fold_cards(folded=folded)

    # The project

    def offer_recovery(self) -> bool:
        """Offer what was unsaved when the program last ended; return whether there was any."""
        return self.recovering.offer()

    def _keep_report(self, _foam: Foam, error: QuiltError) -> None:
        if isinstance(error, EngineFault):
            self._watch.keep(error)

    def _cannot_keep(self, why: str) -> None:
        if self.message.isVisible() and self.message.tone == "cut":  # that is more urgent
            QTimer.singleShot(TOLD_FOR, self, lambda: self._cannot_keep(why))
            return
        text = f"Unsaved work is not kept for a restart: it {why}. Save often."
        self.session.tell(text, "heat")

    # Events

    def changeEvent(self, event: QEvent) -> None:
        """Coming back from elsewhere: see what was done there to the project and the shop."""
        super().changeEvent(event)
        if event.type() is QEvent.Type.ActivationChange and self.isActiveWindow():
            self.documents.notice()
            self.session.notice_shop()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Welcome drawings and projects."""
        names = [u.toLocalFile() for u in event.mimeData().urls()]
        if any(kind_of(name) is not None for name in names):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Bring in what was dropped."""
        paths = [Path(u.toLocalFile()) for u in event.mimeData().urls() if u.isLocalFile()]
        event.acceptProposedAction()
        self.drawings.read_files(paths)

    def showEvent(self, event: QShowEvent) -> None:
        """Let the engine begin once the window is there."""
        super().showEvent(event)
        QTimer.singleShot(0, self.laying.engine.begin)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Keep the message in its place."""
        super().resizeEvent(event)
        if self.message.isVisible():
            self.message.place()
        if self.reading_bar.isVisible():
            self.reading_bar.place()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Ask about unsaved work, remember the window, end the threads."""
        if not self.documents.may_leave():
            event.ignore()
            return
        self.settings.keep_window(self.saveGeometry(), self._current)
        self.settings.sync()
        self.stations.leave()
        self.quiet_bench.close()
        self.laying.close()
        self.tasks.close()
        self.reading.close()
        self.keeper.close()
        event.accept()
