"""Drawings in and out: patterns and pages to be read, pieces to be exported."""

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QWidget

from ivory_quilt.core.errors import QuiltError
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.units import counted
from ivory_quilt.desk.canvas.picture import picture_bytes
from ivory_quilt.desk.documents import Documents
from ivory_quilt.desk.reading import Done
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.work import Background
from ivory_quilt.files.apart import ReaderCrash
from ivory_quilt.files.atomic import shown_name, write_atomic
from ivory_quilt.files.kinds import DRAWINGS, PICTURES, FileKind, kind_of, title
from ivory_quilt.files.pattern_write import write_pattern

if TYPE_CHECKING:  # what reads drawings is loaded with the first of them
    from ivory_quilt.desk.imports.reader import PendingImport

PAGE_FILES = f"Pages ({' '.join(f'*{kind}' for kind in ('.pdf', *PICTURES))})"
PATTERN_FILES = f"Patterns ({' '.join(f'*{kind}' for kind in DRAWINGS)})"
Read = Callable[[Callable[..., "PendingImport"], Done, str], None]
"""Reads apart, then tells of the result: `ReadRunner.run`."""


class Drawings(QObject):
    """What the Project menu does with patterns."""

    arrived = Signal(object)
    """A drawing was read: a `PendingImport` for the station that takes it."""

    def __init__(
        self,
        window: QWidget,
        session: Session,
        documents: Documents,
        read: Read,
        background: Background,
        chosen: Callable[[], Sequence[Piece]],
    ) -> None:
        """Ask in front of `window`; export what is `chosen`."""
        super().__init__(window)
        self._window, self._session, self._documents = window, session, documents
        self._read, self._background, self._chosen = read, background, chosen

    def ask_import(self) -> None:
        """Ask which drawings to bring in."""
        names, _ = QFileDialog.getOpenFileNames(
            self._window, "Import patterns", self._documents.folder(), PATTERN_FILES
        )
        self.read_files([Path(n) for n in names])

    def ask_export(self) -> None:
        """Ask where to write the chosen pieces, or all, as a drawing."""
        name, _ = QFileDialog.getSaveFileName(
            self._window,
            "Export pattern",
            self._documents.suggested(".svg"),
            "SVG (*.svg);;DXF (*.dxf)",
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
                many = counted(count or 0, "piece")
                self._session.tell(f"Exported: {shown_name(path.name)}, {many}", "good")

        self._background(work, done)

    def ask_picture(self, view: QWidget) -> None:
        """Ask where to write what a view shows, as a picture."""
        name, _ = QFileDialog.getSaveFileName(
            self._window,
            "Export picture",
            self._documents.suggested(".png"),
            "PNG (*.png);;SVG (*.svg)",
        )
        if name:
            self.export_picture(view, Path(name))

    def export_picture(self, view: QWidget, path: Path) -> None:
        """Write what a view shows as PNG or SVG."""
        try:
            title = self._session.project.name
            write_atomic(path, picture_bytes(view, path.suffix.lower(), title))
        except QuiltError as error:
            self._session.tell(str(error), "cut")
            return
        self._session.tell(f"Exported: {shown_name(path.name)}", "good")

    def ask_join(self) -> None:
        """Ask which pages to lay together."""
        names, _ = QFileDialog.getOpenFileNames(
            self._window, "Join pages", self._documents.folder(), PAGE_FILES
        )
        if names:
            self.join_files([Path(n) for n in names])

    def join_files(self, paths: list[Path]) -> None:
        """Lay the pages of PDFs, or several pictures, on the page table."""
        from ivory_quilt.desk.imports.reader import read_pages

        names = title([shown_name(p.name) for p in paths])
        self._read(partial(read_pages, paths), self._have_read, names)

    def read_files(self, paths: list[Path]) -> None:
        """Open a project, or bring in drawings, apart from the window."""
        for path in paths:
            kind, name = kind_of(path.name), shown_name(path.name)
            if kind is FileKind.PROJECT:
                self._documents.open(path)
            elif kind is not None:
                from ivory_quilt.desk.imports.reader import read_file

                self._read(partial(read_file, path), self._have_read, name)
            else:
                kinds = ", ".join(DRAWINGS)
                text = f"{name} cannot be imported: drop a pattern ({kinds}) or a project (.ivq)."
                self._session.tell(text, "cut")

    def _have_read(self, found: "PendingImport | None", error: Exception | None) -> None:
        if isinstance(error, QuiltError) and not isinstance(error, ReaderCrash):
            self._session.tell(str(error), "cut")
        elif error is not None:
            raise error
        elif found is not None:
            self.arrived.emit(found)
