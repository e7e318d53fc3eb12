"""Joined pages read as one drawing. Apart from `reading`, which must load fast."""

from collections.abc import Sequence

from ivory_quilt.core.reading.assembly import CLOSE_WITHIN, assemble
from ivory_quilt.core.reading.found import Reading, ReadProblem
from ivory_quilt.core.reading.joining import join_ends
from ivory_quilt.core.reading.pages.page import JoinedPages, Page
from ivory_quilt.core.reading.pages.unite import united


class JoinedReading(Reading, frozen=True, kw_only=True):
    """What pages hold that were joined by their marks; `joined` is how they lie."""

    joined: JoinedPages


def assemble_pages(pages: Sequence[Page], placed: JoinedPages, file: str = "") -> JoinedReading:
    """Return what joined pages hold together, and what each page holds that joins nothing."""
    paths, texts = united(pages, placed)
    together = assemble(paths, file, texts=texts)
    pieces, problems = list(together.pieces), list(together.problems)
    for page, pose in zip(pages, placed.poses, strict=True):
        if pose is None:
            alone = assemble(
                join_ends(page.paths, CLOSE_WITHIN),
                file,
                texts=page.texts,
                page=page.number,
                count=len(pieces),
            )
            pieces += alone.pieces
            problems += alone.problems
            text = f"page {page.number} has no marks in common with another and was read alone"
            problems.append(ReadProblem("page-alone", text, (0.0, 0.0)))
    return JoinedReading(tuple(pieces), tuple(problems), joined=placed)
