"""What the journal holds, what it teaches, and what is told to it; no widgets."""

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from uuid import uuid4

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.document.cutting import spoil_part
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.journal.actuals import Actual, ProjectActual, actuals_of, projects_of
from ivory_quilt.core.journal.entry import LONGEST_TEXT, EntryKind, JournalEntry
from ivory_quilt.core.journal.learning import Learned, LearnedKind, accepted, learned_from
from ivory_quilt.core.plan.step_list import paced_as
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.step import BenchStep, StepKind
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState, SpentSheet
from ivory_quilt.desk.session import Session
from ivory_quilt.files.journal_file import write_journal
from ivory_quilt.files.photos import keep_photo, move_photos, photo_folder


class JournalPresenter(QObject):
    """The journal of a shop, seen from one project."""

    changed = Signal()

    def __init__(self, session: Session) -> None:
        """Tell of `session`'s project."""
        super().__init__()
        self.session = session
        self.now: Callable[[], datetime] = datetime.now
        self.data = Path()
        """Where photos of a project without a file are kept; set by the desk."""
        self.wanted = ""
        self.everywhere = False
        self._entries: tuple[JournalEntry, ...] | None = None
        self._spent: tuple[SpentSheet, ...] | None = None
        self._project: Path | None = None
        session.changed.connect(self._follow_cutting)
        session.opened.connect(self._opened)

    # Reading

    def entries(self) -> tuple[JournalEntry, ...]:
        """Return the whole journal, oldest first."""
        if self._entries is None:
            self._entries = self.session.store.entries()
        return self._entries

    def mine(self) -> tuple[JournalEntry, ...]:
        """Return the entries of the open project, or of all where that is wanted."""
        if self.everywhere:
            return self.entries()
        key, name = self.session.key, self.session.project.name
        return tuple(
            e
            for e in self.entries()
            if (e.project and e.project == key) or (not e.project and e.project_name == name)
        )

    def found(self) -> tuple[JournalEntry, ...]:
        """Return what is searched for, newest first."""
        return tuple(e for e in reversed(self.mine()) if e.holds(self.wanted))

    def learned(self) -> tuple[Learned, ...]:
        """Return what the whole journal says of the shop's rates."""
        store = self.session.store
        return learned_from(self.entries(), store.coupons(), self.session.stock)

    def actuals(self) -> tuple[Actual, ...]:
        """Return plan against actual of the entries in sight."""
        orders, name = self.session.store.past_orders(), self.session.project.name
        mine = orders if self.everywhere else [o for o in orders if o.project == name]
        return actuals_of(self.mine(), self.session.stock.rates, mine)

    def projects(self) -> tuple[ProjectActual, ...]:
        """Return every project that the journal knows."""
        return projects_of(self.entries(), self.session.store.past_orders())

    @property
    def folder(self) -> Path:
        """Where the open project's photos are."""
        return photo_folder(self.session.path, self.data)

    def photo(self, name: str) -> Path:
        """Return where a photo is: beside the project, or still with the shop."""
        here = self.folder / name
        return here if here.exists() else photo_folder(None, self.data) / name

    def reload(self) -> None:
        """Read the journal anew at the next look."""
        self._entries = None
        self.changed.emit()

    # Telling

    def tell(
        self,
        kind: EntryKind,
        words: str = "",
        *,
        piece: str = "",
        step: str = "",
        about: str = "",
        value: float = 0.0,
        planned: float = 0.0,
        went_well: bool = True,
        photos: tuple[Path, ...] = (),
    ) -> JournalEntry:
        """Write an entry, with copies of its photos beside the project.

        A spoiled part that was cut is asked for again.

        Raises:
            InputError: a value that makes no sense, a photo that cannot be copied, or the shop
                cannot be written; nothing is told.
        """
        kept = tuple(keep_photo(p, self.folder) for p in photos)
        begun = self._begun(uuid4().hex, f"{self.now():%Y-%m-%dT%H:%M:%S.%f}", kind, words.strip())
        entry = replace(
            begun,
            piece=piece,
            step=step,
            about=about,
            value=value,
            planned=planned,
            went_well=went_well,
            photos=kept,
        )
        self._write(entry)
        if kind is EntryKind.SPOILED and piece and value >= 1:
            self._ask_again(piece, round(value))
        return entry

    def _begun(self, ident: str, when: str, kind: EntryKind, words: str) -> JournalEntry:
        """Return an entry of the open project, as it is called now."""
        name = self.session.project.name
        return JournalEntry(ident, self.session.key, when, kind, words, name)

    def _ask_again(self, piece: str, count: int) -> None:
        for _ in range(count):
            try:
                spoil_part(self.session.project, piece)
            except InputError:
                return  # it was not cut here: the entry stands all the same
            self.session.edit("Spoiled", lambda p: spoil_part(p, piece))

    def _write(self, entry: JournalEntry) -> None:
        self.session.store.put_entry(entry)
        self.reload()

    def remove(self, entry: JournalEntry) -> None:
        """Take an entry out; its photos stay where they are."""
        self.session.store.remove_entry(entry.id)
        self.reload()

    def step_done(self, step: BenchStep, minutes: float, when: str) -> None:
        """Note how long a step really took."""
        pace = self.session.stock.rates.pace(paced_as(step.kind).value)
        ident = f"time {self.session.key} {step.id} {when}"
        entry = replace(
            self._begun(ident, when, EntryKind.TIME, step.title),
            piece=step.pieces[0] if len(step.pieces) == 1 else "",
            step=step.id,
            about=paced_as(step.kind).value,
            value=minutes,
            planned=step.minutes / pace,
        )
        self._write(entry)

    def sheet_timed(self, name: str, minutes: float, planned: float) -> None:
        """Note how long hands took to cut what was ticked on a sheet, against plain rates."""
        when = f"{self.now():%Y-%m-%dT%H:%M:%S}"
        about = StepKind.CUT.value
        entry = self._begun(
            f"time {self.session.key} sheet {uuid4().hex}", when, EntryKind.TIME, name
        )
        self._write(replace(entry, about=about, value=minutes, planned=planned))

    def step_undone(self, step: BenchStep) -> None:
        """Take back how long a step took: it was not done after all."""
        mine = [e for e in self.entries() if e.kind is EntryKind.TIME and e.step == step.id]
        for entry in mine:
            if entry.project == self.session.key:
                self.session.store.remove_entry(entry.id)
        self.reload()

    def accept(self, learned: Learned) -> None:
        """Let every plan use what was learned.

        Raises:
            InputError: the shop cannot be written, or no shop has such a value.
        """
        session = self.session
        stock = accepted(learned, session.stock)
        if learned.kind in (LearnedKind.PACE, LearnedKind.SPOILED):
            session.store.set_rates(stock.rates)
        elif learned.kind is LearnedKind.COVERAGE:
            session.store.put_consumable(
                next(c for c in stock.consumables if c.id == learned.about)
            )
        else:
            material = learned.about.partition("\n")[0]
            session.store.put_material(stock.material(material))
        session.reload_stock()
        self.changed.emit()

    def export(self, path: Path) -> None:
        """Write what is in sight as a table.

        Raises:
            InputError: no such format, or the place cannot be written.
        """
        write_journal(reversed(self.found()), path)

    # What is noted by itself

    def _opened(self) -> None:
        self._spent = None
        self._entries = None

    def _follow_cutting(self) -> None:
        """Note sheets as they are cut, and take back what turns out not to be."""
        project: Project = self.session.project
        before, self._spent = self._spent, project.spent
        if self.session.path != self._project:
            self._bring_photos()
            return
        if before is None or before is project.spent:
            return
        known, now = (
            {s.id: s for s in sheets if not s.under_knife} for sheets in (before, project.spent)
        )
        try:
            for ident in set(known) - set(now):
                for about in ("", " foam", " spoiled"):
                    self.session.store.remove_entry(self._cut_id(ident) + about)
            for ident in set(now) - set(known):
                self._note_cut(now[ident])
        except InputError as error:
            self.session.tell(str(error), "cut")
        self._entries = None

    def _bring_photos(self) -> None:
        """Copy photos beside the project where it has been saved for the first time, or elsewhere.

        What cannot be copied stays with the shop, where it is still found.
        """
        before, self._project = photo_folder(self._project, self.data), self.session.path
        names = tuple(n for e in self.mine() for n in e.photos)
        if names and self.session.path is not None:
            try:
                move_photos(before, self.folder, names)
            except (InputError, OSError) as error:
                self.session.tell(str(error), "cut")

    def _cut_id(self, sheet: str) -> str:
        return f"cut {self.session.key} {self.session.project.name} {sheet}"

    def _note_cut(self, sheet: SpentSheet) -> None:
        when, ident = f"{self.now():%Y-%m-%dT%H:%M:%S}", self._cut_id(sheet.id)
        about, words = sheet.item.foam.material, sheet.item.name
        cut = self._begun(ident, when, EntryKind.CUT, words)
        foam = self._begun(f"{ident} foam", when, EntryKind.FOAM, words)
        cut = replace(cut, about=about, value=float(sum(p.made for p in sheet.parts)))
        changed = [p for p in sheet.parts if p.state is CutState.CHANGED]
        if changed:
            cut = replace(cut, words=f"{words}; changed: {_remarks(changed)}")
        used, planned = (sheet.area - sheet.kept) / 1e6, sheet.part_area / 1e6
        foam = replace(foam, about=about, value=used, planned=planned)
        with self.session.store.together():
            self.session.store.put_entry(cut)
            self.session.store.put_entry(foam)
            spoiled = [p for p in sheet.parts if p.spoiled]
            if spoiled:
                entry = self._begun(f"{ident} spoiled", when, EntryKind.SPOILED, _remarks(spoiled))
                self.session.store.put_entry(replace(entry, about=about, value=float(len(spoiled))))


def _remarks(parts: list[CutPart]) -> str:
    """Return what was said of some parts, as far as a journal's entry holds it."""
    said = (f"{p.label} ({p.remark})" if p.remark else p.label for p in parts)
    return ", ".join(said)[: LONGEST_TEXT // 2]
