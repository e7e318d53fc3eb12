"""Joined pages read as one drawing. Apart from `reading`, which must load fast."""

from collections.abc import Sequence

from ivory_quilt.core.pattern.found import Reading, ReadProblem
from ivory_quilt.core.pattern.joining import join_ends
from ivory_quilt.core.pattern.pages.page import Page, Placed
from ivory_quilt.core.pattern.pages.unite import united
from ivory_quilt.core.pattern.reading import CLOSE_WITHIN, assemble


def assemble_pages(pages: Sequence[Page], placed: Placed, file: str = "") -> Reading:
    """Return what joined pages hold together, and what each page holds that joins nothing."""
    paths, texts = united(pages, placed)
    together = assemble(paths, file, texts=texts)
    pieces, problems = list(together.pieces), list(together.problems)
    for page, pose in zip(pages, placed.poses, strict=True):
        if pose is None:
            alone = assemble(
                join_ends(page.paths, CLOSE_WITHIN), file, texts=page.texts, page=page.number,
                count=len(pieces),
            )  # fmt: skip
            pieces += alone.pieces
            problems += alone.problems
            text = f"page {page.number} has no marks in common with another and was read alone"
            problems.append(ReadProblem("page-alone", text, (0.0, 0.0)))
    return Reading(tuple(pieces), tuple(problems), joined=placed)
