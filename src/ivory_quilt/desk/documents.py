"""Projects and drawings in and out: new, open, save, bring in; nothing unsaved is lost unasked."""

from collections.abc import Callable, Sequence
from enum import Enum
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QMenu, QMessageBox, QWidget

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import QuiltError
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.desk.imports.reader import PendingImport, read_file, read_pages
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.settings import Settings
from ivory_quilt.desk.work import TaskRunner
from ivory_quilt.files.atomic import write_atomic
from ivory_quilt.files.drawings import DRAWINGS, PICTURES, FileKind, kind_of
from ivory_quilt.files.pattern_write import write_pattern

PROJECT_FILES = "Ivory Quilt projects (*.ivq)"
PAGE_FILES = f"Pages ({' '.join(f'*{kind}' for kind in ('.pdf', *PICTURES))})"
PATTERN_FILES = f"Patterns ({' '.join(f'*{kind}' for kind in DRAWINGS)})"


class Unsaved(Enum):
    """What the maker says about unsaved changes."""

    SAVE = "save"
    DISCARD = "discard"
    CANCEL = "cancel"


class Documents(QObject):
    """What the Project menu does."""

    began = Signal()
    """Another project is open."""
    arrived = Signal(object)
    """A drawing was read: a `PendingImport` for the station that takes it."""

    def __init__(
        self,
        window: QWidget,
        session: Session,
        settings: Settings,
        tasks: TaskRunner,
        chosen: Callable[[], Sequence[Piece]],
    ) -> None:
        """Ask in front of `window`; read with `tasks`, export what is `chosen`."""
        super().__init__(window)
        self._window, self._session, self._settings = window, session, settings
        self._tasks, self._chosen = tasks, chosen
        self.ask_unsaved: Callable[[], Unsaved] = self._ask_unsaved

    # Projects

    def new(self) -> None:
        """Begin with an empty project."""
        if self.may_leave():
            self._session.start(Project())
            self.began.emit()

    def ask_open(self) -> None:
        """Ask which project to open."""
        name, _ = QFileDialog.getOpenFileName(
            self._window, "Open project", self._folder(), PROJECT_FILES
        )
        if name:
            self.open(Path(name))

    def open(self, path: Path) -> None:
        """Open a project file, once the present one is safe."""
        if not self.may_leave():
            return
        try:
            self._session.open(path)
        except QuiltError as error:
            self._session.tell(str(error), "cut")
            return
        self._settings.add_recent(path)
        self.began.emit()

    def save(self) -> bool:
        """Save; ask where when there is no file yet."""
        if self._session.path is None:
            return self.save_as()
        return self._save(self._session.path)

    def save_as(self) -> bool:
        """Ask where to save."""
        stem = self._session.project.name.lower().replace(" ", "-")
        start = str(Path(self._folder()) / f"{stem}.ivq")
        name, _ = QFileDialog.getSaveFileName(self._window, "Save project", start, PROJECT_FILES)
        if not name:
            return False
        path = Path(name)
        return self._save(path if path.suffix else path.with_suffix(".ivq"))

    def _save(self, path: Path) -> bool:
        try:
            self._session.save(path)
        except QuiltError as error:
            self._session.tell(str(error), "cut")
            return False
        self._settings.add_recent(path)
        self._session.tell(f"Saved: {path.name}", "good")
        return True

    def fill_recent(self, menu: QMenu) -> None:
        """List recent projects in a menu."""
        menu.clear()
        for path in self._settings.recent:
            action = menu.addAction(path.name)
            action.setToolTip(str(path))
            action.triggered.connect(partial(self.open, path))
        if menu.isEmpty():
            menu.addAction("No recent projects").setEnabled(False)

    def may_leave(self) -> bool:
        """Return whether the present project may be let go: saved, or given up by the maker."""
        if not self._session.dirty or not self._session.project.pieces:
            return True
        answer = self.ask_unsaved()
        return self.save() if answer is Unsaved.SAVE else answer is Unsaved.DISCARD

    def _ask_unsaved(self) -> Unsaved:
        box = QMessageBox(self._window)
        box.setWindowTitle("Ivory Quilt")
        box.setText(f"{self._session.project.name} has changes that are not saved.")
        save = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        discard = box.addButton("Don't save", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Cancel", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        chosen = box.clickedButton()
        if chosen is save:
            return Unsaved.SAVE
        return Unsaved.DISCARD if chosen is discard else Unsaved.CANCEL

    def _folder(self) -> str:
        return str(self._session.path.parent if self._session.path else Path.home())

    # Drawings

    def ask_import(self) -> None:
        """Ask which drawings to bring in."""
        names, _ = QFileDialog.getOpenFileNames(
            self._window, "Import patterns", self._folder(), PATTERN_FILES
        )
        self.read_files([Path(n) for n in names])

    def ask_export(self) -> None:
        """Ask where to write the chosen pieces, or all, as a drawing."""
        stem = self._session.project.name.lower().replace(" ", "-") or "pattern"
        start = str(Path(self._folder()) / f"{stem}.svg")
        name, _ = QFileDialog.getSaveFileName(
            self._window, "Export pattern", start, "SVG (*.svg);;DXF (*.dxf)"
        )
        if name:
            self.export(Path(name))

    def export(self, path: Path) -> None:
        """Write the chosen pieces, or all, as SVG or DXF, off the interface thread."""
        pieces = tuple(self._chosen()) or self._session.project.pieces

        def work() -> int:
            write_atomic(path, write_pattern(pieces, path.name))
            return len(pieces)

        def done(count: int | None, error: Exception | None) -> None:
            if isinstance(error, QuiltError):
                self._session.tell(str(error), "cut")
            elif error is not None:
                raise error
            else:
                many = f"{count} piece{'s' if count != 1 else ''}"
                self._session.tell(f"Exported: {path.name}, {many}", "good")

        self._tasks.run(work, done)

    def ask_join(self) -> None:
        """Ask which pages to lay together."""
        names, _ = QFileDialog.getOpenFileNames(
            self._window, "Join pages", self._folder(), PAGE_FILES
        )
        if names:
            self.join_files([Path(n) for n in names])

    def join_files(self, paths: list[Path]) -> None:
        """Lay the pages of PDFs, or several pictures, on the page table."""
        self._tasks.run(partial(read_pages, paths), self._have_read)

    def read_files(self, paths: list[Path]) -> None:
        """Open a project, or bring in drawings, off the interface thread."""
        for path in paths:
            kind = kind_of(path.name)
            if kind is FileKind.PROJECT:
                self.open(path)
            elif kind is not None:
                self._tasks.run(partial(read_file, path), self._have_read)
            else:
                kinds = ", ".join(DRAWINGS)
                text = (
                    f"{path.name} cannot be imported: drop a pattern ({kinds}) or a project (.ivq)."
                )
                self._session.tell(text, "cut")

    def _have_read(self, found: PendingImport | None, error: Exception | None) -> None:
        if isinstance(error, QuiltError):
            self._session.tell(str(error), "cut")
        elif error is not None:
            raise error
        elif found is not None:
            self.arrived.emit(found)
