"""What foam cannot do: too thin, too near an edge, forms and grooves that cannot be."""

import math
from functools import lru_cache

from shapely import Polygon

from ivory_quilt.core.document.project import (
    Project,
    rule_of,
    set_gap,
)
from ivory_quilt.core.edges.groove_check import grooves_cross, grooves_of
from ivory_quilt.core.edges.profiles import knives_of
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.review.finding import Finding
from ivory_quilt.core.stacks.walls import walls_of
from ivory_quilt.core.units import counted, show_number, show_thickness


def making_findings(piece: Piece, project: Project) -> list[Finding]:
    """Forms and bevels that cannot be, and grooves that weaken the foam."""
    found = []
    try:
        knives_of(piece, project.seams, {p.id: p for p in project.pieces})
        shaping_of(piece)
    except InputError as error:
        text = f"'{piece.name}' cannot be made as decided: {error.problem}"
        found.append(Finding("cannot-be-made", text, (piece.id,)))
    for groove in grooves_of(piece):
        for problem in groove.problems:
            text = f"an undercut of '{piece.name}': {problem}"
            found.append(Finding("groove", text, (piece.id,)))
    thin = [wall.problem for wall in walls_of(piece) if wall.problem]
    if thin:
        more = f", and {counted(len(thin) - 1, 'place')} more" if len(thin) > 1 else ""
        found.append(Finding("thin-wall", f"'{piece.name}': {thin[0]}{more}", (piece.id,)))
    if grooves_cross(piece.lines):
        text = f"two folds of '{piece.name}' cross: foam cannot follow both"
        found.append(Finding("folds-cross", text, (piece.id,)))
    return found


def pen_findings(project: Project) -> list[Finding]:
    """Parts closer to each other than the pen is wide share its line."""
    rules = [(p, rule_of(project, p)) for p in project.pieces if p.count > 0]
    widest = max(rules, key=lambda r: r[1].pen, default=None)
    if widest is None or widest[1].pen <= project.gap:
        return []
    pen = show_number(widest[1].pen, 1)
    text = f"the pen is {pen} mm wide, parts lie {show_number(project.gap, 1)} mm apart"
    return [
        Finding(
            "gap-under-pen",
            text,
            (widest[0].id,),
            f"lay parts {pen} mm apart",
            lambda p: set_gap(p, widest[1].pen),
        )
    ]


def thin_findings(piece: Piece) -> list[Finding]:
    """Places narrower than the foam is thick, which tear or cannot be cut clean."""
    parts = _thick_parts(piece.shape, piece.thickness)
    if parts == 1:
        return []
    what = "has a neck" if parts else "is"
    foam = show_thickness(piece.thickness)
    text = f"'{piece.name}' {what} narrower than its foam is thick ({foam})"
    return [Finding("too-thin", text, (piece.id,))]


@lru_cache(maxsize=4096)
def _thick_parts(shape: Shape, thickness: float) -> int:
    """Return how many parts are left where everything narrower than the foam is taken away."""
    core = shape.polygon.buffer(-0.49 * thickness, quad_segs=4)
    return len([g for g in getattr(core, "geoms", [core]) if g.area > 1.0])


def hole_findings(piece: Piece) -> list[Finding]:
    """A hole nearer to the edge than the foam is thick, which tears out."""
    nearest = _nearest_hole(piece.shape)
    if nearest >= piece.thickness:
        return []
    text = (
        f"a hole of '{piece.name}' is {show_number(nearest, 1)} mm from the edge, nearer than its "
        f"foam is thick ({show_thickness(piece.thickness)})"
    )
    return [Finding("hole-near-edge", text, (piece.id,))]


@lru_cache(maxsize=4096)
def _nearest_hole(shape: Shape) -> float:
    """Return the least distance of a hole from the edge, mm."""
    edge = Polygon(shape.outer).exterior
    return min((float(edge.distance(Polygon(h))) for h in shape.holes), default=math.inf)
