"""Seams whose edges differ, whose marks miss, whose bevels do not mate, or whose edge is gone."""

from collections.abc import Callable
from functools import partial

import numpy as np

from ivory_quilt.core.document.project import (
    Project,
    put_pieces,
)
from ivory_quilt.core.document.seam_book import (
    fit_of,
    keep_edges,
    let_meet,
    open_seam,
    seam_book,
    seam_name,
)
from ivory_quilt.core.editing.surgery import CutLine, with_strip
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import along_line, line_length
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.seams import Seam, SeamVerdict, marks_evenly
from ivory_quilt.core.review.finding import Finding
from ivory_quilt.core.units import show_number


def seam_findings(project: Project) -> list[Finding]:
    """Seams whose edges differ too much, whose marks miss, or whose edge is gone."""
    found = []
    for entry in seam_book(project):
        seam, fit = entry.seam, entry.fit
        ids = tuple(dict.fromkeys((seam.first.piece, seam.second.piece)))
        name = seam_name(project, seam)
        if fit is None:
            text = f"the seam {name} has lost an edge"
            found.append(
                Finding("seam-lost", text, ids, "remove the seam", partial(open_seam, seam=seam))
            )
        elif fit.verdict is SeamVerdict.NO:
            off, share = show_number(abs(fit.difference), 1), show_number(abs(fit.percent), 1)
            text = f"the seam {name} does not fit: {off} mm, {share} %"
            mend, apply = _lengthened(project, seam)
            found.append(Finding("seam-mismatch", text, ids, mend, apply, seam))
        elif (fit.landings or fit.lonely) and not fit.marks_meet:
            text = f"match marks of the seam {name} miss each other"
            count = len(fit.landings) + len(fit.lonely)
            found.append(
                Finding(
                    "seam-marks",
                    text,
                    ids,
                    f"set {count} marks anew, evenly",
                    partial(_marked_anew, seam=seam, count=count),
                    seam,
                )
            )
        if fit is not None and entry.mate is not None and not entry.mate.good:
            text = f"the seam {name}: {entry.mate.sentence}"
            found.append(
                Finding(
                    "seam-bevels",
                    text,
                    ids,
                    "bevel both edges to meet",
                    partial(let_meet, seam=seam),
                    seam,
                )
            )
    return found


def _lengthened(project: Project, seam: Seam) -> tuple[str, Callable[[Project], Project] | None]:
    """Return the mend of a seam that does not fit: a strip let in across the shorter edge.

    No mend where that does not bring the edges together, as on an edge that is much curved.
    """
    fit = fit_of(project, seam)
    if fit is None:
        return "", None
    ref = seam.second if fit.difference < 0 else seam.first
    width = abs(fit.difference)

    def apply(whole: Project) -> Project:
        whole = keep_edges(whole, [ref.piece])
        piece = whole.piece(ref.piece)
        line = edge_line(piece, edge_of(piece, ref.edge))
        half = line_length(line) / 2
        before, here, after = along_line(line, np.array([half - 1, half, half + 1]))
        across = np.array([before[1] - after[1], after[0] - before[0]])
        cut = CutLine(tuple(here.tolist()), tuple((here + across * 10).tolist()))
        return put_pieces(whole, [with_strip(piece, cut, width)])

    try:
        after_fit = fit_of(apply(project), seam)
    except InputError:
        return "", None
    if after_fit is None or after_fit.verdict is SeamVerdict.NO:
        return "", None
    name = project.piece(ref.piece).name
    return f"let a strip of {show_number(width, 1)} mm into '{name}'", apply


def _marked_anew(project: Project, seam: Seam, count: int) -> Project:
    project = keep_edges(project, (seam.first.piece, seam.second.piece))
    first, second = project.piece(seam.first.piece), project.piece(seam.second.piece)
    return put_pieces(project, marks_evenly(first, second, seam, count))
