"""What a project decides for the bench: schools and evenings, paint, checks."""

from collections.abc import Iterable
from dataclasses import replace

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.fit_check import FitCheck
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.schedule.bench_choices import BenchChoices


def set_bench(project: Project, choices: BenchChoices) -> Project:
    """Choose when and by which school the suit is made."""
    return replace(project, bench=choices)


def set_paint(project: Project, areas: Iterable[PaintArea]) -> Project:
    """Decide what is painted in which tone.

    Raises:
        InputError: regions that make no sense; nothing is changed.
    """
    return replace(project, paint=tuple(areas))


def set_checks(project: Project, checks: Iterable[FitCheck]) -> Project:
    """Decide what is checked before anything permanent."""
    made = tuple(checks)
    if len({c.id for c in made}) != len(made):
        raise InputError("checks", "an id is used twice", "different ids")
    return replace(project, checks=made)
