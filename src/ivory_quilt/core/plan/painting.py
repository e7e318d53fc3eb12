"""Paint by region: how much is covered, and the steps before gluing and after priming."""

from collections.abc import Iterable, Sequence

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.pattern.paint import CoatKind, PaintArea
from ivory_quilt.core.pattern.region_shapes import is_on, share_on
from ivory_quilt.core.pattern.surface import WorkFace
from ivory_quilt.core.plan.step_list import StepList
from ivory_quilt.core.schedule.step import StepKind

PAINT_DRY = 120  # minutes between coats: common practice, the label decides
HOW: dict[CoatKind, tuple[float, float]] = {
    CoatKind.BRUSHED: (1.0, 1.0),
    CoatKind.SPRAYED: (0.5, 1.0),
    CoatKind.SPONGED: (0.8, 0.7),
    CoatKind.WASH: (0.6, 0.4),
    CoatKind.DRY_BRUSHED: (0.7, 0.2),
    CoatKind.GLAZE: (0.8, 0.4),
}
"""Of each kind of coat: minutes and paint, as shares of a brushed one; from memory, no source."""
MASK = 3.0  # minutes to mask a piece that is painted in part, and to take the tape off; from memory


def covered(project: Project, area: PaintArea, pieces: Iterable[str], suits: int) -> float:
    """Return what a region covers of some pieces, m²."""
    found = [project.piece(p) for p in pieces if area.covers(p)]
    return suits * sum(share_on(p, area) * p.shape.area * p.cut_count for p in found) / 1e6


def coated_in(project: Project, area: PaintArea, suits: int) -> float:
    """Return what one tone covers in all its coats, m² of one brushed coat."""
    made = [p.id for p in project.pieces if p.count]
    return sum(HOW[k][1] for k in area.coat_kinds) * covered(project, area, made, suits)


def coated(project: Project, suits: int) -> float:
    """Return what all regions cover in all their coats, m² of one coat.

    A piece of no region that covers all of it takes the usual coats of its own.
    """
    regions = sum(coated_in(project, a, suits) for a in project.paint)
    return regions + _usual_coats(project, suits)


def _usual_coats(project: Project, suits: int) -> float:
    made = [p.id for p in project.pieces if p.count]
    usual = PaintArea("usual", "usual", coats=max(1, project.bench.paint))
    left = unpainted(project.paint, made)
    return project.bench.paint * covered(project, usual, left, suits)


def coated_by_can(project: Project, cans: Sequence[str], suits: int) -> tuple[float, ...]:
    """Return what each can of paint covers, m² of one coat.

    A can whose name has a tone's in it is that tone's; all others come out of the first can that
    no tone names, or of the first.
    """
    if not cans:
        return ()
    amounts = [0.0] * len(cans)
    names = [c.casefold() for c in cans]
    tones = {a.tone.casefold() for a in project.paint}
    own = [any(t in n for t in tones) for n in names]
    rest = own.index(False) if False in own else 0
    for area in project.paint:
        tone = area.tone.casefold()
        which = next((k for k, n in enumerate(names) if tone in n), rest)
        amounts[which] += coated_in(project, area, suits)
    amounts[rest] += _usual_coats(project, suits)
    return tuple(amounts)


def unpainted(areas: Iterable[PaintArea], pieces: Iterable[str]) -> tuple[str, ...]:
    """Return the pieces whose outer face no region covers: their ground takes the usual paint."""
    whole = [a for a in areas if not a.partial and a.face is WorkFace.OUTER]
    return tuple(p for p in pieces if not any(a.covers(p) for a in whole))


def painted_in(project: Project, area: PaintArea, pieces: Iterable[str]) -> tuple[str, ...]:
    """Return the pieces that a tone is on: those that have its place."""
    return tuple(p for p in pieces if is_on(project.piece(p), area))


def paint_area(
    made: StepList,
    project: Project,
    area: PaintArea,
    pieces: tuple[str, ...],
    suits: int,
    before: list[str],
    name: str,
    wait: int,
) -> str:
    """Add the coats of one region on pieces that are painted together; return the last.

    Args:
        made: gets the steps.
        project: whose pieces they are.
        area: that is painted; it is on all of `pieces`.
        pieces: ids.
        suits: how many are made.
        before: steps that come before.
        name: of the batch, in words.
        wait: minutes that the steps before dry.
    """
    masked = MASK * sum(project.piece(p).cut_count for p in pieces) * suits
    minutes = covered(project, area, pieces, suits) * made.rates.coat
    for k, kind in enumerate(area.coat_kinds):
        coat = f", coat {k + 1} of {area.coats}" if area.coats > 1 else ""
        coat += f", {kind.value}" if area.kinds else ""
        first = masked if k == 0 and area.partial else 0.0
        step = f"paint{k + 1}:{area.id}:{pieces[0]}"
        title = f"{name}: {area.title}{coat}"
        before = [
            made.add(
                step,
                StepKind.PAINT,
                title,
                minutes * HOW[kind][0] + first,
                pieces,
                after=before,
                least=wait,
            )
        ]
        wait = PAINT_DRY
    return before[0]
