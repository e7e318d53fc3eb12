"""What a project decides for the bench: schools and evenings, paint, checks."""

from collections.abc import Iterable

from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.fit_check import FitCheck
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.region import RegionKind
from ivory_quilt.core.pattern.region_shapes import with_name_kept
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices


def set_bench(project: Project, choices: BenchChoices) -> Project:
    """Choose when and by which school the suit is made."""
    return replace(project, bench=choices)


def set_paint(project: Project, areas: Iterable[PaintArea]) -> Project:
    """Decide what is painted in which tone; lines that a tone is on keep their names.

    Raises:
        InputError: regions that make no sense; nothing is changed.
    """
    made = tuple(areas)
    kept: dict[str, Piece] = {}
    for area in made:
        for piece in project.pieces if area.on is RegionKind.LINE else ():
            if area.covers(piece.id):
                kept[piece.id] = with_name_kept(kept.get(piece.id, piece), area.region)
    known = {p.id: p for p in project.pieces}
    changed = [p for i, p in kept.items() if p is not known[i]]
    return replace(put_pieces(project, changed), paint=made)


def set_checks(project: Project, checks: Iterable[FitCheck]) -> Project:
    """Decide what is checked before anything permanent."""
    made = tuple(checks)
    if len({c.id for c in made}) != len(made):
        raise InputError("checks", "an id is used twice", "different ids")
    return replace(project, checks=made)
