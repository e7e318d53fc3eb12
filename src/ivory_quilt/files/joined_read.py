"""Patterns that span pages of PDFs, or several scans, read as one."""

from collections.abc import Sequence

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reading.pages.joined_reading import JoinedReading, assemble_pages
from ivory_quilt.core.reading.pages.marks import find_marks
from ivory_quilt.core.reading.pages.page import JoinedPages, Page
from ivory_quilt.core.reading.pages.place import place_pages
from ivory_quilt.core.reading.progress import ReadReport, tell_nobody
from ivory_quilt.core.record import replace
from ivory_quilt.files.drawings import NOTHING_SAID, ReadOptions
from ivory_quilt.files.kinds import FileKind, one_kind, title

NamedBytes = tuple[str, bytes]


def read_joined(
    files: Sequence[NamedBytes],
    options: ReadOptions = NOTHING_SAID,
    *,
    report: ReadReport = tell_nobody,
) -> JoinedReading:
    """Read files whose pages belong together, joined by their registration marks.

    Args:
        files: (name, bytes) in the order of the pages; all PDFs, or all pictures.
        options: what is said about pictures; see `read_drawing`.

    Raises:
        InputError: an unreadable file, kinds mixed, or no two pages with marks in common.
    """
    names = [name for name, _ in files]
    kind = one_kind(names)
    if kind is FileKind.PDF:
        return joined_reading(marked_pages(files, report=report), title(names))
    if kind is FileKind.PICTURE:
        from ivory_quilt.files.picture_join import join_pictures

        return join_pictures(files, options)
    raise InputError(", ".join(names), "these cannot be joined", "PDFs, or pictures, not both")


def marked_pages(files: Sequence[NamedBytes], *, report: ReadReport = tell_nobody) -> list[Page]:
    """Return all pages of PDFs with their registration marks, numbered through.

    Raises:
        InputError: see `read_pdf`.
    """
    from ivory_quilt.files.pdf_read import pdf_pages

    pages = [page for name, data in files for page in pdf_pages(data, file=name, report=report)]
    return [find_marks(replace(page, number=k)) for k, page in enumerate(pages, 1)]


def joined_reading(
    pages: Sequence[Page], file: str, placed: JoinedPages | None = None
) -> JoinedReading:
    """Return what pages hold when they are joined, by their marks or as `placed`.

    Raises:
        InputError: no two pages have marks in common.
    """
    placed = placed or place_pages(pages)
    if placed.joined < 2:
        many = sum(len(p.marks) for p in pages)
        raise InputError(
            file,
            f"its {len(pages)} pages with {many} registration marks do not join",
            "pages with crosses, corner ticks or diamonds that lie on each other",
        )
    return assemble_pages(pages, placed, file)
