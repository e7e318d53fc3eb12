"""Projects: new, open, save; nothing unsaved is lost unasked, nor what others changed meanwhile."""

import contextlib
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from ivory_quilt.core.document.project import Project, set_name
from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.schedule.bench_choices import USUAL_CHOICES
from ivory_quilt.core.stock.spent_sheet import SpentSheet
from ivory_quilt.desk.asking import (
    Asking,
    Changed,
    Damaged,
    Elsewhere,
    Unsaved,
)
from ivory_quilt.desk.foam_mover import finish_move, give_back
from ivory_quilt.desk.keeper import WorkKeeper
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.settings import Settings
from ivory_quilt.files.atomic import backup_of, read_bytes, shown_name
from ivory_quilt.files.project_file import load_project
from ivory_quilt.files.project_rescue import rescue_project
from ivory_quilt.files.recovery import UnsavedWork

PROJECT_FILES = "Ivory Quilt projects (*.ivq)"


class Documents(QObject):
    """What the Project menu does with projects."""

    began = Signal()
    """Another project is open."""

    def __init__(
        self,
        window: QWidget,
        session: Session,
        settings: Settings,
        keeper: WorkKeeper | None = None,
    ) -> None:
        """Ask in front of `window`; `keeper` knows what other windows have open."""
        super().__init__(window)
        self._window, self._session, self._settings = window, session, settings
        self._keeper = keeper
        self.asking = Asking(window)
        self._noticed: object = None

    def new(self) -> None:
        """Begin with an empty project."""
        if self.may_leave():
            kept = next((k for k in self._session.store.step_sets() if k.usual), None)
            bench = kept.choices if kept is not None else USUAL_CHOICES
            self._session.start(Project(paper=self._settings.paper, bench=bench))
            self.began.emit()

    def ask_open(self) -> None:
        """Ask which project to open."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, "Open project", self.folder(), PROJECT_FILES
        )
        if name:
            self.open(Path(name))

    def open(self, path: Path) -> None:
        """Open a project file, once the present one is safe."""
        if not self.may_leave():
            return
        since = self._opened_elsewhere(path)
        if since is not None:
            if self.asking.elsewhere(shown_name(path.name), since) is Elsewhere.COPY:
                self._open_copy(path)
            return
        try:
            self._session.open(path)
        except QuiltError as error:
            self._cannot_open(path, error)
            return
        self._settings.add_recent(path)
        self.began.emit()

    def _opened_elsewhere(self, path: Path) -> str | None:
        return self._keeper.opened_elsewhere(path) if self._keeper is not None else None

    def _open_copy(self, path: Path) -> None:
        try:
            found = load_project(path)
        except QuiltError as error:
            self._session.tell(str(error), "cut")
            return
        self._begin(set_name(found, f"{found.name} (copy)"))
        self._session.tell("This is a copy: Save asks for a name of its own.", "heat")

    def _begin(self, project: Project) -> None:
        """Begin with a project that has no file yet and is not saved."""
        self._session.start(project, saved=False)
        self.began.emit()

    def _cannot_open(self, path: Path, error: QuiltError) -> None:
        """Say why; of a damaged file, offer what there is: the copy before it, or whole pieces."""
        spare, rescued = None, None
        try:
            rescued = rescue_project(read_bytes(path))
            spare = load_project(backup_of(path))
        except InputError:
            pass  # it is gone, or has no copy that can be read
        if rescued is None and (spare is None or not path.exists()):
            self._session.tell(str(error), "cut")
            return
        offered = {
            Damaged.BACKUP: spare,
            Damaged.RESCUE: rescued.project if rescued is not None else None,
        }
        words = rescued.words if rescued is not None else ""
        answer = self.asking.damaged(str(error), words, has_backup=spare is not None)
        chosen = offered.get(answer)
        if chosen is not None:
            self._begin(chosen)
            text = f"Opened without its file: {shown_name(path.name)} is left as it is."
            self._session.tell(text, "heat")

    def save(self) -> bool:
        """Save; ask where when there is no file yet."""
        session = self._session
        if session.path is None:
            return self.save_as()
        if not session.dirty and session.path.exists():
            if session.changed_outside:
                text = f"{shown_name(session.path.name)} was changed by another program; nothing "
                session.tell(text + "is unsaved here, so it was left as it is.", "heat")
            else:
                session.tell("Everything is saved.", "good")
            return True
        if session.changed_outside:
            answer = self.asking.changed(shown_name(session.path.name))
            if answer is Changed.SAVE_AS:
                return self.save_as()
            if answer is not Changed.REPLACE:
                return False
        return self._save(session.path)

    def save_as(self) -> bool:
        """Ask where to save."""
        name, _ = QFileDialog.getSaveFileName(
            self._window, "Save project", self.suggested(".ivq"), PROJECT_FILES
        )
        if not name:
            return False
        path = Path(name)
        path = path if path.suffix else path.with_suffix(".ivq")
        since = self._opened_elsewhere(path)
        if since is not None:
            text = f"{shown_name(path.name)} is open in another window: choose another name."
            self._session.tell(text, "cut")
            return False
        return self._save(path)

    def _save(self, path: Path) -> bool:
        try:
            self._session.save(path)
        except QuiltError as error:
            self._session.tell(f"Not saved: {error}. Your work is still here.", "cut")
            return False
        self._settings.add_recent(path)
        self._session.tell(f"Saved: {shown_name(path.name)}", "good")
        return True

    def notice(self) -> None:
        """Tell, once, when another program has changed or removed the project's file."""
        session = self._session
        if session.path is None or session.stamp is None:
            return
        gone = not session.path.exists()
        if not gone and not session.changed_outside:
            self._noticed = None
            return
        if self._noticed == (session.path, gone):
            return
        self._noticed = (session.path, gone)
        name = shown_name(session.path.name)
        if gone:
            session.tell(f"{name} is gone from its folder; Save writes it anew.", "heat")
        else:
            text = f"{name} was changed by another program. Save will ask before replacing it."
            session.tell(text, "heat")

    def fill_recent(self, menu: QMenu) -> None:
        """List recent projects in a menu."""
        menu.clear()
        for path in self._settings.recent:
            action = menu.addAction(shown_name(path.name))
            action.setToolTip(shown_name(path))
            action.triggered.connect(partial(self.open, path))
        if menu.isEmpty():
            menu.addAction("No recent projects").setEnabled(False)

    def may_leave(self) -> bool:
        """Return whether the present project may be let go: saved, or given up by the maker."""
        if not self._session.dirty:
            return True
        answer = self.asking.unsaved(self._session.project.name)
        if answer is Unsaved.DISCARD:
            self._session.give_up(self._saved_spent())
        return self.save() if answer is Unsaved.SAVE else answer is Unsaved.DISCARD

    def _saved_spent(self) -> tuple[SpentSheet, ...]:
        """Return the sheets that are cut as far as the project's file knows."""
        return self._spent_in(self._session.path, self._session.project.spent)

    @staticmethod
    def _spent_in(path: Path | None, otherwise: tuple[SpentSheet, ...]) -> tuple[SpentSheet, ...]:
        """Return the sheets that a file says are cut; `otherwise` where it cannot be read."""
        try:
            return load_project(path).spent if path is not None else ()
        except InputError:  # it is gone: the shelf stays as it is
            return otherwise

    def folder(self) -> str:
        """Return the folder that a file dialog begins in."""
        return str(self._session.path.parent if self._session.path else Path.home())

    def suggested(self, suffix: str) -> str:
        """Return where a file of the project is suggested to be written."""
        stem = self._session.project.name.lower().replace(" ", "-").replace("/", "-") or "pattern"
        return str(Path(self.folder()) / f"{stem}{suffix}")

    # Recovery

    def let_go(self, left: UnsavedWork) -> None:
        """Discard unsaved work; foam of sheets that were cut in it lies on the shelf again."""
        session = self._session
        with contextlib.suppress(QuiltError):  # damaged: nobody knows what was cut
            state = left.read()
            saved, since = self._spent_in(left.path, state.project.spent), left.saved_since
            if session.try_shop(lambda: give_back(session.store, state, saved, since=since)):
                session.reload_stock()
        left.discard()

    def recover(self, left: UnsavedWork) -> bool:
        """Open unsaved work; its copy goes only once this window keeps it itself."""
        if not self.may_leave():
            return False
        try:
            state = left.read()
        except QuiltError as error:
            self._session.tell(str(error), "cut")
            return False
        self._session.try_shop(lambda: finish_move(self._session.store, state))
        self._session.start(state.project, state.path, saved=False, stamp=state.stamp)
        if state.move is not None:
            self._session.reload_stock()
        self.began.emit()
        if self._keeper is not None and self._keeper.journal is not None and self._keeper.settle():
            left.discard()
        self._session.tell("This is the unsaved work. Save keeps it in its file.", "good")
        return True
