"""Reading vector PDF patterns: every page's paths at true size, words as hints.

A page's unit is 1/72 in times its user unit (ISO 32000-1, 8.3.2.3).
"""

import io
import logging
import math
from collections.abc import Sequence
from typing import Any

import numpy as np
from pdfminer.converter import PDFPageAggregator
from pdfminer.layout import LAParams, LTChar, LTContainer, LTTextLine
from pdfminer.pdfdocument import (
    PDFDocument,
    PDFPasswordIncorrect,
    PDFTextExtractionNotAllowed,
)
from pdfminer.pdfexceptions import PDFException
from pdfminer.pdfinterp import PDFPageInterpreter, PDFResourceManager
from pdfminer.pdfpage import PDFPage
from pdfminer.pdfparser import PDFParser
from pdfminer.psexceptions import PSException
from pdfminer.utils import apply_matrix_pt

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import TOLERANCE, flatten_bezier
from ivory_quilt.core.geometry.reach import check_reach
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reading.assembly import CLOSE_WITHIN, assemble
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.found import FoundPiece, Reading, ReadProblem
from ivory_quilt.core.reading.joining import join_ends
from ivory_quilt.core.reading.pages.page import Page
from ivory_quilt.core.reading.progress import ReadProgress, ReadReport, tell_nobody
from ivory_quilt.core.record import replace
from ivory_quilt.files.damaged import DAMAGE, library_words

# Its warnings about damaged files would stand beside our own one sentence.
logging.getLogger("pdfminer").setLevel(logging.CRITICAL)

MM_PER_POINT = 25.4 / 72
MOST_PAGES = 200
MOST_PATHS = 100_000  # in all pages
MOST_POINTS = 3_000_000
PAGE_FRAME = 0.5  # mm: a rectangle as near as this to the whole page is its background
_ERRORS = (PDFException, PSException, *DAMAGE)


def read_pdf(
    data: bytes,
    *,
    file: str = "pattern.pdf",
    tolerance: float = TOLERANCE,
    report: ReadReport = tell_nobody,
) -> Reading:
    """Read the pieces of all pages of a vector PDF.

    Args:
        data: the file's bytes.
        file: its name, for messages and the pieces' source.
        tolerance: how far, in mm, a flattened curve may leave the true one.

    Raises:
        InputError: not a readable PDF, locked, or beyond the stated limits.
    """
    pages = _opened(data, file, tolerance, report)
    pieces: list[FoundPiece] = []
    problems: list[ReadProblem] = []
    for page in pages:
        joined = join_ends(page.paths, CLOSE_WITHIN)
        reading = assemble(
            joined, file, texts=page.texts, page=page.number, count=len(pieces), report=report
        )
        pieces += reading.pieces
        problems += page.problems
        problems += reading.problems
    if not any(p.paths for p in pages):
        text = "no page holds vector outlines: it may be a scan"
        problems.append(ReadProblem("no-outlines", text, (0.0, 0.0), "trace it as a picture"))
    return Reading(tuple(pieces), tuple(problems))


def pdf_pages(
    data: bytes,
    *,
    file: str = "pattern.pdf",
    tolerance: float = TOLERANCE,
    report: ReadReport = tell_nobody,
) -> list[Page]:
    """Return all pages of a vector PDF, each with its size and its lower left corner at (0, 0).

    Raises:
        InputError: see `read_pdf`.
    """
    found = []
    for page in _opened(data, file, tolerance, report):
        x0, y0, x1, y1 = page.sheet
        shift = np.array([x0, y0])
        paths = tuple(replace(p, points=p.points - shift) for p in page.paths)
        texts = tuple(replace(t, at=(t.at[0] - x0, t.at[1] - y0)) for t in page.texts)
        found.append(Page(page.number, x1 - x0, y1 - y0, paths, texts))
    return found


def _opened(data: bytes, file: str, tolerance: float, report: ReadReport) -> list["_PdfPage"]:
    if b"%PDF-" not in data[:1024]:
        raise InputError(file, "it does not begin like a PDF", "a PDF with vector paths")
    try:
        return _pages(data, file, tolerance, report)
    except InputError:
        raise
    except (PDFPasswordIncorrect, PDFTextExtractionNotAllowed):
        raise InputError(file, "it is locked with a password", "an open PDF") from None
    except _ERRORS as error:
        raise InputError(
            file, f"it is not a readable PDF ({library_words(error)})", "a PDF"
        ) from None


def _pages(data: bytes, file: str, tolerance: float, report: ReadReport) -> list["_PdfPage"]:
    document = PDFDocument(PDFParser(io.BytesIO(data)))
    resources = PDFResourceManager()
    pages: list[_PdfPage] = []
    paths = points = 0
    for number, page in enumerate(PDFPage.create_pages(document), 1):
        report(ReadProgress(0, 0, f"page {number}"))
        if number > MOST_PAGES:
            raise InputError(file, "it has too many pages", f"at most {MOST_PAGES}")
        unit = page.attrs.get("UserUnit", 1.0)
        scale = MM_PER_POINT * (float(unit) if isinstance(unit, int | float) and unit > 0 else 1.0)
        made = _PdfPage(
            resources, number, scale, tolerance, file, MOST_PATHS - paths, MOST_POINTS - points
        )
        PDFPageInterpreter(resources, made).process_page(page)
        made.collect_words()
        paths, points = paths + len(made.paths), points + made.points
        pages.append(made)
    return pages


class _PdfPage(PDFPageAggregator):
    """One page: takes the painted paths as they come, in mm with y upwards."""

    def __init__(
        self,
        resources: PDFResourceManager,
        number: int,
        scale: float,
        tolerance: float,
        file: str,
        most_paths: int,
        most_points: int,
    ) -> None:
        super().__init__(resources, laparams=LAParams(boxes_flow=None))
        self.number, self.scale, self.tolerance, self.file = number, scale, tolerance, file
        self.most_paths, self.most_points = most_paths, most_points
        self.paths: list[RawPath] = []
        self.texts: list[RawText] = []
        self.problems: list[ReadProblem] = []
        self.points = 0
        self.tags: list[bool] = []  # marked content that is open: whether it is an artifact
        self.sheet = (0.0, 0.0, 0.0, 0.0)

    def begin_tag(self, tag: Any, props: Any = None) -> None:
        """Begin marked content; artifacts are the page's own (ISO 32000-1, 14.8.2)."""
        del props
        self.tags.append(getattr(tag, "name", "") == "Artifact")

    def end_tag(self) -> None:
        """End it; a file may end more than it began."""
        if self.tags:
            self.tags.pop()

    def paint_path(
        self, _gstate: Any, stroke: Any, fill: Any, _evenodd: Any, path: Sequence[Any]
    ) -> None:
        """Take a painted path of the drawing; one neither stroked nor filled only clips."""
        if not (stroke or fill) or any(self.tags):
            return
        for points, closed in self._subpaths(path):
            # A fill closes its subpaths; a stroke leaves them as they are.
            ended = closed or (fill and not stroke and len(points) > 2)
            if ended and len(points) > 3 and np.allclose(points[0], points[-1], atol=1e-9):
                points = points[:-1]
            self.points += len(points)
            if len(self.paths) >= self.most_paths or self.points > self.most_points:
                limit = f"at most {MOST_PATHS} paths and {MOST_POINTS} points"
                raise InputError(self.file, "it is too large", limit)
            check_reach(points, f"{self.file}, a path on page {self.number}")
            if len(points) > 1:
                if fill and not stroke and self._is_background(points):
                    continue
                self.paths.append(RawPath(points, ended))

    def _subpaths(self, path: Sequence[Any]) -> list[tuple[Array, bool]]:
        made: list[tuple[Array, bool]] = []
        runs: list[Array] = []
        start = at = (0.0, 0.0)

        def finish(*, closed: bool) -> None:
            if runs and sum(map(len, runs)) > 1:
                made.append((np.vstack(runs), closed))
            runs.clear()

        for op, *numbers in path:
            v = [float(n) for n in numbers]
            if op == "m":
                finish(closed=False)
                start = at = self._mm(v[0], v[1])
                runs.append(np.array([at]))
            elif op == "h":
                finish(closed=True)
                at = start
            else:
                if not runs:
                    runs.append(np.array([at]))
                if op == "l":
                    at = self._mm(v[0], v[1])
                    runs.append(np.array([at]))
                elif op in ("c", "v", "y"):
                    pairs = [self._mm(v[k], v[k + 1]) for k in range(0, len(v), 2)]
                    if op == "v":
                        pairs = [at, *pairs]
                    elif op == "y":
                        pairs = [*pairs, pairs[-1]]
                    control = np.array([at, *pairs])
                    check_reach(control, f"{self.file}, a curve on page {self.number}")
                    runs.append(flatten_bezier(control, self.tolerance))
                    at = pairs[-1]
        finish(closed=False)
        return made

    def _mm(self, x: float, y: float) -> tuple[float, float]:
        px, py = apply_matrix_pt(self.ctm, (x, y))
        return px * self.scale, py * self.scale

    def _is_background(self, points: Array) -> bool:
        """Return whether a filled shape is the whole page: paper, not a piece."""
        x0, y0, x1, y1 = (v * self.scale for v in self.cur_item.bbox)
        low, high = points.min(axis=0), points.max(axis=0)
        covers = bool(
            low[0] <= x0 + PAGE_FRAME
            and low[1] <= y0 + PAGE_FRAME
            and high[0] >= x1 - PAGE_FRAME
            and high[1] >= y1 - PAGE_FRAME
        )
        return covers and len(points) <= 5

    def collect_words(self) -> None:
        """Take the page's lines of text, each where its middle lies."""
        layout = self.get_result()
        x0, y0, x1, y1 = (float(v) * self.scale for v in layout.bbox)
        self.sheet = (min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
        self._collect(layout)

    def _collect(self, item: Any) -> None:
        if isinstance(item, LTTextLine):
            x0, y0, x1, y1 = item.bbox
            x, y = (x0 + x1) / 2 * self.scale, (y0 + y1) / 2 * self.scale
            if item.get_text().strip() and math.isfinite(x) and math.isfinite(y):
                self.texts.append(RawText(item.get_text(), (x, y)))
        elif isinstance(item, LTContainer) and not isinstance(item, LTChar):
            for inner in item:
                self._collect(inner)
