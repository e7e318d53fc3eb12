"""What another thickness does to a piece, and the ways the shop has to it."""

from ivory_quilt.core.document.project import (
    Project,
    change_piece,
)
from ivory_quilt.core.document.seam_book import joined_by_thickness
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.edges import edge_line, edges_of
from ivory_quilt.core.pattern.seams import Seam, SeamFit
from ivory_quilt.core.plan.making import make_piece
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stacks.thickness import ThicknessWay, ways_to


def ways_for(plan: Plan, piece_id: str, wanted: float) -> tuple[ThicknessWay, ...]:
    """Return every way to a thickness from the shop's foam of the piece's material.

    Raises:
        InputError: a thickness that makes no sense, or the shop has none of the material.
    """
    material = plan.project.piece(piece_id).material
    kinds = sorted({i.foam.thickness for i in plan.stock.items if i.foam.material == material})
    if not kinds:
        raise InputError("foam", f"the shop has none of '{material}'", "foam on the shelf")
    return ways_to(wanted, kinds)


class EdgeChange(Struct, frozen=True):
    """How long an edge is cut in one thickness and in another, mm."""

    edge: str
    before: float
    after: float


class ThicknessChange(Struct, frozen=True):
    """What another thickness does to a piece.

    Attributes:
        width: (before, after) of its box across, mm.
        height: the same upwards.
        edges: that are longer or shorter than before.
        seams: (seam, fit before, fit after) of those that change, as cut.
        project: with the other thickness.
    """

    width: tuple[float, float]
    height: tuple[float, float]
    edges: tuple[EdgeChange, ...]
    seams: tuple[tuple[Seam, SeamFit, SeamFit], ...]
    project: Project


def in_thickness(plan: Plan, piece_id: str, thickness: float) -> ThicknessChange:
    """Return what happens to a piece's cut outline when its foam is of another thickness.

    Raises:
        InputError: no such piece, or it cannot be made in that thickness.
    """
    project = plan.project
    changed = change_piece(project, piece_id, thickness=thickness)
    old = plan.made[piece_id]
    new = make_piece(changed.piece(piece_id), old.rule, old.context)
    if new.problem:
        raise InputError(f"{thickness:g} mm", new.problem, "another thickness")
    one, two = old.cuts[0].piece, new.cuts[0].piece
    edges = []
    after = {e.name: line_length(edge_line(two, e)) for e in edges_of(two)}
    for edge in edges_of(one):
        length = line_length(edge_line(one, edge))
        if edge.name in after and abs(after[edge.name] - length) > 0.05:
            edges.append(EdgeChange(edge.name, length, after[edge.name]))
    cut = {i: m.cuts[0].piece for i, m in plan.made.items() if m.cuts}
    seams = joined_by_thickness(project, piece_id, cut, cut | {piece_id: two})
    return ThicknessChange(
        (one.shape.width, two.shape.width),
        (one.shape.height, two.shape.height),
        tuple(edges),
        seams,
        changed,
    )
