"""The Journal station: entries, pictures, what is learned, plan against actual."""

from decimal import Decimal
from enum import Enum, auto
from functools import partial
from pathlib import Path

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon, QImageReader, QPixmap
from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.journal.actuals import MONEY
from ivory_quilt.core.journal.entry import EntryKind, JournalEntry
from ivory_quilt.core.journal.learning import Learned
from ivory_quilt.core.units import counted, show_number, show_parts
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.journal.entry_card import EntryCard
from ivory_quilt.desk.stations.journal.presenter import JournalPresenter
from ivory_quilt.desk.widgets.basics import Stitch, button, column, label, row, scrolled
from ivory_quilt.desk.widgets.mode_bar import ModeBar
from ivory_quilt.desk.widgets.share_bars import ShareBars, ShareRow

MOST = 300
FORMATS = "Table (*.csv);;Spreadsheet (*.ods)"
THUMB = 180
NOTHING = (
    "Nothing is told yet. Sheets that are cut and steps that are ticked with their time come here "
    "by themselves; tell the rest at the side: what was spoiled, how it fitted, where it pressed."
)
TAUGHT = (
    "Nothing can be learned yet: it takes two observations of the same thing. One wild entry among "
    "four or more is left out (more than 3.5 by the modified z-score); intervals are of 95 %."
)


class JournalMode(Enum):
    """What stands in the centre."""

    ENTRIES = auto()
    PICTURES = auto()
    LEARNED = auto()
    ACTUAL = auto()


MODES = (
    (JournalMode.ENTRIES, "Entries", "What happened, newest first"),
    (JournalMode.PICTURES, "Pictures", "Photos and references, by piece"),
    (JournalMode.LEARNED, "Learned", "Rates and limits, to accept or not"),
    (JournalMode.ACTUAL, "Plan and actual", "What was planned, what it came to"),
)


class JournalStation(Station):
    """What happened."""

    ident = "journal"

    def __init__(self, session: Session, presenter: JournalPresenter) -> None:
        """Show the journal of `session`'s shop."""
        super().__init__(session)
        self.presenter = presenter
        self.entry_card = EntryCard(self.presenter)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search: words, a piece, a day")
        self.search.setAccessibleName("search the journal")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._searched)
        self.everywhere = QCheckBox("all projects")
        self.everywhere.clicked.connect(self._scope)
        self.count = label("", "note")
        self.pages: dict[JournalMode, QScrollArea] = {}
        self.centre = QStackedWidget()
        self._widgets: dict[JournalMode, QWidget] = {}
        for mode in (JournalMode.ENTRIES, JournalMode.LEARNED, JournalMode.ACTUAL):
            self.pages[mode] = self._widgets[mode] = scrolled(QWidget())
        self.board = QListWidget()
        self.board.setViewMode(QListWidget.ViewMode.IconMode)
        self.board.setIconSize(QSize(THUMB, THUMB))
        self.board.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.board.setMovement(QListWidget.Movement.Static)
        self.board.setSpacing(12)
        self.board.setAccessibleName("pictures")
        self._widgets[JournalMode.PICTURES] = self.board
        for mode, _, _ in MODES:
            self.centre.addWidget(self._widgets[mode])
        self.mode = JournalMode.ENTRIES
        self.modes = ModeBar(MODES, self.go_to)
        export = button("Export …", self.ask_export, "quiet", "What is in sight, as CSV or ODS")
        head = row(self.search, self.everywhere, self.count, export, space=12)
        head.setContentsMargins(24, 8, 24, 0)
        middle = QWidget()
        middle.setLayout(column(self.modes, head, self.centre, space=0))
        self.lay_out(middle, self.entry_card)
        self.presenter.changed.connect(self._maybe_refresh)
        self.modes.show_mode(self.mode, tuple(self._widgets))
        for mode, _, _ in MODES:
            self.offer(f"journal-{mode.name.lower()}", partial(self.go_to, mode))
        self.offer("export-journal", self.ask_export)

    def _fresh(self, mode: JournalMode) -> QVBoxLayout:
        """Return an empty page to fill, in place of the one that was shown."""
        inside = QWidget()
        around = QVBoxLayout(inside)
        around.setContentsMargins(24, 12, 24, 20)
        around.setSpacing(10)
        self.pages[mode].setWidget(inside)
        return around

    def begin(self, kind: EntryKind, *, piece: str = "", step: str = "", words: str = "") -> None:
        """Bring an entry about something to the front, to be told."""
        self.entry_card.begin(kind, piece=piece, step=step, words=words)

    def go_to(self, mode: JournalMode) -> None:
        """Bring one page to the front."""
        self.mode = mode
        self.modes.show_mode(mode, tuple(self._widgets))
        self.centre.setCurrentWidget(self._widgets[mode])
        self.refresh()

    def _searched(self, text: str) -> None:
        self.presenter.wanted = text
        self.refresh()

    def _scope(self, on: bool) -> None:  # noqa: FBT001 - a signal's
        self.presenter.everywhere = on
        self.refresh()

    def enter(self) -> None:
        """Read the journal anew: other windows tell it things as well."""
        self._stale = True
        super().enter()

    def refresh(self) -> None:
        """Show the page in front as it is now."""
        try:
            found = self.presenter.found()
        except InputError as error:
            self.count.setText(str(error))
            return
        self.count.setText(counted(len(found), "entry").replace("entrys", "entries"))
        show = {
            JournalMode.ENTRIES: lambda: self._entries(found),
            JournalMode.PICTURES: lambda: self._pictures(found),
            JournalMode.LEARNED: self._learned,
            JournalMode.ACTUAL: self._actual,
        }
        show[self.mode]()

    # Entries and pictures

    def _names(self) -> dict[str, str]:
        return {p.id: p.name for p in self.session.project.pieces}

    def _entries(self, found: tuple[JournalEntry, ...]) -> None:
        page, names = self._fresh(JournalMode.ENTRIES), self._names()
        if not found:
            text = NOTHING if not self.presenter.wanted else "Nothing holds these words."
            page.addWidget(label(text, "note", wrap=True))
        day = ""
        for entry in found[:MOST]:
            if entry.moment[:10] != day:
                day = entry.moment[:10]
                page.addWidget(Stitch())
                page.addWidget(label(day, "heading"))
            tone = "cut" if entry.kind in BAD or not entry.went_well else ""
            value = f"{show_number(entry.value, 2)} {entry.unit}" if entry.value else ""
            if entry.unit == "parts" and entry.value:
                value = show_parts(round(entry.value))
            about = " · ".join(
                x for x in (names.get(entry.piece, entry.piece), entry.about, value) if x
            )
            if self.presenter.everywhere:
                about = f"{entry.project_name}: {about}" if about else entry.project_name
            remove = button("Remove", partial(self._remove, entry), "quiet")
            remove.setAccessibleName(f"remove {entry.kind.value} of {entry.moment}")
            kind = label(entry.kind.value, "title", tone)
            photos = f"{counted(len(entry.photos), 'photo')}" if entry.photos else ""
            page.addLayout(
                row(
                    label(entry.moment[11:16], "mono"),
                    kind,
                    label(about, "note"),
                    label(photos, "note"),
                    None,
                    remove,
                    space=12,
                )
            )
            if entry.words:
                page.addWidget(label(entry.words, wrap=True))
        if len(found) > MOST:
            page.addWidget(label(f"and {len(found) - MOST} more: search for them", "note"))
        page.addStretch(1)

    def _remove(self, entry: JournalEntry) -> None:
        try:
            self.presenter.remove(entry)
        except InputError as error:
            self.session.tell(str(error), "cut")

    def _pictures(self, found: tuple[JournalEntry, ...]) -> None:
        self.board.clear()
        names = self._names()
        shown = [(e, n) for e in found for n in e.photos]
        shown.sort(key=lambda x: (x[0].kind is not EntryKind.REFERENCE, x[0].piece))
        for entry, name in shown[:MOST]:
            words = names.get(entry.piece, "") or entry.kind.value
            item = QListWidgetItem(_thumbnail(self.presenter.photo(name)), words)
            item.setToolTip(f"{entry.moment[:10]} {entry.kind.value}: {entry.words}")
            self.board.addItem(item)
        if not shown:
            text = "No pictures yet: add photos to what you tell, or a reference picture."
            item = QListWidgetItem(text)
            item.setFlags(Qt.ItemFlag.NoItemFlags)
            self.board.addItem(item)

    # Learned, and plan against actual

    def _learned(self) -> None:
        page = self._fresh(JournalMode.LEARNED)
        learned = self.presenter.learned()
        if not learned:
            page.addWidget(label(TAUGHT, "note", wrap=True))
        for one in learned:
            f, found = one.factor, one.found
            old, new = show_number(one.old * f, 2), show_number(found.value * f, 2)
            span = f"{show_number(found.low * f, 2)} to {show_number(found.high * f, 2)}"
            wild = f", {found.wild} left out" if found.wild else ""
            note = f"{span}, 95 %, from {counted(found.count, 'observation')}{wild}"
            tone = "heat" if one.sure else ""
            told = label(f"{old} → {new} {one.unit}", "figure", tone)
            accept = button("Accept", partial(self._accept, one), "main" if one.sure else "")
            accept.setAccessibleName(f"accept {one.name}")
            accept.setEnabled(round(one.old, 3) != round(found.value, 3))
            words = "differs from what is reckoned with" if one.sure else "the old may be right"
            page.addLayout(
                row(
                    column(label(one.name, "title"), label(f"{note}; {words}", "note"), space=0),
                    None,
                    told,
                    accept,
                    space=16,
                )
            )
            page.addWidget(Stitch())
        page.addStretch(1)

    def _accept(self, learned: Learned) -> None:
        try:
            self.presenter.accept(learned)
        except InputError as error:
            self.session.tell(str(error), "cut")

    def _actual(self) -> None:
        page = self._fresh(JournalMode.ACTUAL)
        lines, currency = self.presenter.actuals(), self.session.stock.currency

        def money(value: float) -> str:
            return currency.show(Decimal(f"{value:.2f}"))

        if not lines:
            page.addWidget(label("Nothing to compare yet.", "note"))
        bars = ShareBars()
        rows = []
        for one in lines:
            text = f"{one.actual:.1f} of {one.planned:.1f} {one.unit}"
            if one.unit == MONEY:
                text = f"{money(one.actual)} of {money(one.planned)}"
            more = max(0.0, one.actual - one.planned)
            least = min(one.actual, one.planned)
            scale = max(one.planned, one.actual) or 1.0
            parts = (("parts", least / scale), ("rest", more / scale))
            rows.append(ShareRow(one.name, parts, text))
        page.addWidget(bars)
        bars.show_rows(
            tuple(rows), self.look, (("parts", "as planned"), ("rest", "more than planned"))
        )
        for one in lines:
            if one.why:
                page.addWidget(label(f"{one.name}: {one.why}", "note", wrap=True))
        page.addWidget(Stitch())
        page.addWidget(label("Across projects", "heading"))
        for project in self.presenter.projects():
            hours = f"{project.actual / 60:.1f} h of {project.planned / 60:.1f} h planned"
            spoiled = f"{project.spoiled:g} of {project.parts + project.spoiled:g} parts spoiled"
            worn = f"worn {project.worn:g} h" if project.worn else ""
            ordered = f"{currency.show(project.paid)} ordered" if project.paid else ""
            said = " · ".join(x for x in (hours, spoiled, ordered, worn) if x)
            page.addLayout(row(label(project.name, "title"), label(said, "note"), None))
        page.addStretch(1)

    # Out

    def ask_export(self) -> None:
        """Ask where to, and write what is in sight."""
        name = f"{self.session.project.name} journal.csv"
        chosen, _ = QFileDialog.getSaveFileName(self, "Export journal", name, FORMATS)
        if chosen:
            try:
                self.presenter.export(Path(chosen))
            except InputError as error:
                self.session.tell(str(error), "cut")
            else:
                self.session.tell(f"{Path(chosen).name} is written", "good")


BAD = (EntryKind.SPOILED, EntryKind.TROUBLE)


def _thumbnail(path: Path) -> QIcon:
    """Return a small picture of a file, read no larger than it is shown."""
    reader = QImageReader(str(path))
    reader.setAutoTransform(True)
    size = reader.size()
    if size.isValid():
        reader.setScaledSize(size.scaled(THUMB, THUMB, Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    return QIcon(QPixmap.fromImage(image)) if not image.isNull() else QIcon()
