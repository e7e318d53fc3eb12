"""Girths that their parts do not go around."""

from functools import partial

from ivory_quilt.core.document.girths import around_sum, closed
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.parts_around import PartsAround
from ivory_quilt.core.review.finding import Finding
from ivory_quilt.core.units import show_number


def girth_findings(project: Project) -> list[Finding]:
    """Return the girths whose parts are too short or too long together."""
    found = []
    for around in project.girths:
        total = around_sum(project, around)
        if total is None or not total.around.parts or total.closes:
            continue
        off = show_number(abs(total.missing), 0)
        word = "too short" if total.missing > 0 else "too long"
        who = project.wearer(around.wearer).name
        text = f"the parts around the {around.name} of {who} are {off} mm {word} together"
        ids = tuple(p.piece for p in total.around.parts)
        try:
            closed(project, around)
        except InputError:
            found.append(Finding("girth", text, ids))
            continue
        mend = f"spread {off} mm over them"
        found.append(Finding("girth", text, ids, mend, partial(_closed, around=around)))
    return found


def _closed(project: Project, around: PartsAround) -> Project:
    return closed(project, around)[0]
