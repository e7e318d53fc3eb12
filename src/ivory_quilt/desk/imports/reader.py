"""The one reader of files that come in: what a file becomes is decided by its kind."""

from collections.abc import Sequence
from pathlib import Path

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reading.progress import ReadProgress, ReadReport, tell_nobody
from ivory_quilt.core.reading.tracing.picture import PictureScale
from ivory_quilt.desk.imports.drawing import DrawingImport
from ivory_quilt.desk.imports.pages import (
    PagesImport,
    all_pages,
    pages_of_pdf,
    pages_of_pictures,
)
from ivory_quilt.desk.imports.picture import PictureImport, first_choices
from ivory_quilt.files.atomic import read_bytes, shown_name
from ivory_quilt.files.drawings import read_drawing
from ivory_quilt.files.kinds import FileKind, kind_of, one_kind

GUESSED_DPI = 300.0  # of a scan that states none, until the maker says otherwise
PendingImport = DrawingImport | PictureImport | PagesImport
"""Whatever a file becomes when it is read."""


def read_file(path: Path, *, report: ReadReport = tell_nobody) -> PendingImport:
    """Read a drawing, or load a picture; may run anywhere.

    A PDF whose pages have registration marks in common comes as pages to be joined.

    Raises:
        InputError: not a readable file.
    """
    data = read_bytes(path)
    kind, name = kind_of(path.name), shown_name(path.name)
    if kind is FileKind.PICTURE:
        from ivory_quilt.files.picture_read import load_picture

        report(ReadProgress(0, 0, "loading the picture"))
        picture = load_picture(data, name)
        return PictureImport(name, picture, first_choices(picture))
    if kind is FileKind.PDF and (pages := pages_of_pdf(data, name, report=report)) is not None:
        return pages
    return DrawingImport(name, data, read_drawing(data, name, report=report))


def read_pages(paths: Sequence[Path], *, report: ReadReport = tell_nobody) -> PagesImport:
    """Read files whose pages are to be joined, by marks or by hand; may run anywhere.

    Raises:
        InputError: unreadable, or PDFs and pictures mixed.
    """
    files = [(shown_name(path.name), read_bytes(path)) for path in paths]
    kind = one_kind([name for name, _ in files])
    if kind is FileKind.PICTURE:
        from ivory_quilt.files.picture_read import load_picture

        pictures = tuple((name, load_picture(data, name)) for name, data in files)
        return pages_of_pictures(pictures, PictureScale(dpi=pictures[0][1].dpi or GUESSED_DPI))
    if kind is FileKind.PDF:
        return all_pages(files, report=report)
    names = ", ".join(name for name, _ in files)
    raise InputError(names, "these are not joined", "PDFs only, or pictures only")
