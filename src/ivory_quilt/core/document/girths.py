"""Girths that unlike parts go around together: summed, and what is missing spread over them."""

import numpy as np

from ivory_quilt.core.document.project import Project, free_name, put_pieces
from ivory_quilt.core.document.seam_book import SeamChange, seam_changes
from ivory_quilt.core.document.sizing import across_middle
from ivory_quilt.core.editing.resize import stretched
from ivory_quilt.core.editing.surgery import with_strip
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.fit import KeyOf, key_length
from ivory_quilt.core.measure.parts_around import AroundPart, AroundSum, GrowBy, PartsAround
from ivory_quilt.core.pattern.edges import edge_length, edge_line, edge_of, edges_of
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.record import replace

LEAST = 0.01  # mm: nothing is done about less
ROUNDS = 12
TRUNK = ("head", "neck", "chest", "waist", "hip")
"""Girths that a body has once; of the others it has two."""


def around_sum(project: Project, around: PartsAround) -> AroundSum | None:
    """Return what the parts of a girth come to, None while its wearer has not been measured there.

    Parts whose piece is gone do not count.
    """
    wearer = next((w for w in project.wearers if w.id == around.wearer), None)
    measure = wearer.measure(around.spot) if wearer is not None else None
    if measure is None:
        return None
    known = {p.id for p in project.pieces}
    around = replace(around, parts=tuple(p for p in around.parts if p.piece in known))
    pieces = [project.piece(p.piece) for p in around.parts]
    lengths = tuple(part_length(q, p) for p, q in zip(around.parts, pieces, strict=True))
    return AroundSum(around, measure, lengths, tuple(q.thickness for q in pieces))


def closed(project: Project, around: PartsAround) -> tuple[Project, tuple[SeamChange, ...]]:
    """Return a project whose parts go around the girth, and what that does to seams.

    Raises:
        InputError: it was not measured, no part takes what is missing, or a way does not serve.
    """
    total = around_sum(project, around)
    if total is None:
        raise InputError(f"girth '{around.name}'", "it is not measured", "the wearer's measure")
    made = [
        grown(project.piece(part.piece), part, share, around.by)
        for part, share in zip(total.around.parts, total.shares(), strict=True)
        if abs(share) > LEAST
    ]
    after = put_pieces(project, made)
    return after, seam_changes(project, after)


def part_length(piece: Piece, part: AroundPart) -> float:
    """Return how far one of a part goes around, mm; its key dimension where its edge is gone."""
    if any(e.name == part.edge for e in edges_of(piece)):
        return edge_length(piece, edge_of(piece, part.edge))
    return key_length(piece.shape, part.key)


def grown(piece: Piece, part: AroundPart, by: float, way: GrowBy) -> Piece:
    """Return a piece that goes around by `by` mm further.

    Raises:
        InputError: the way does not serve this dimension or this change.
    """
    where = f"piece '{piece.name}'"
    if part.key is KeyOf.OUTLINE:
        raise InputError(where, "an outline has no direction", "width or height")
    if way is GrowBy.STRIP and by < 0:
        raise InputError(where, "it is long enough: no strip can be let in", "stretch")
    wanted = part_length(piece, part) + by
    amount, made = by, piece
    for _ in range(ROUNDS):  # along a curve a strip or stretch counts for a little more or less
        made = _wider(piece, part.key, amount, way)
        off = wanted - part_length(made, part)
        if abs(off) < LEAST / 10:
            break
        amount += off
    return made


def _wider(piece: Piece, key: KeyOf, by: float, way: GrowBy) -> Piece:
    if way is GrowBy.STRIP:
        return with_strip(piece, across_middle(piece, key), by)
    long = key_length(piece.shape, key)
    factor = (long + by) / long
    return stretched(piece, *((factor, 1.0) if key is KeyOf.WIDTH else (1.0, factor)))


def edge_choices(piece: Piece) -> list[tuple[str, KeyOf]]:
    """Return the edges that may go around, and the dimension that grows with each."""
    found = []
    for edge in edges_of(piece):
        line = edge_line(piece, edge)
        wide, high = np.ptp(line[:, 0]), np.ptp(line[:, 1])
        found.append((edge.name, KeyOf.WIDTH if wide >= high else KeyOf.HEIGHT))
    return found


def times_of(piece: Piece, spot_id: str) -> int:
    """Return how many of a piece go around a girth as a rule.

    Both of a pair around the trunk, neck or head; around a limb one, the other is for the other.
    """
    both = piece.hand is Hand.PAIR and spot_id in TRUNK
    return max(1, piece.count * (2 if both else 1))


def put_around(project: Project, around: PartsAround) -> Project:
    """Put a girth in place of the one with the same id, or add it.

    Raises:
        InputError: its wearer or a piece is not there.
    """
    project.wearer(around.wearer)
    for part in around.parts:
        project.piece(part.piece)
    if any(a.id == around.id for a in project.girths):
        girths = tuple(around if a.id == around.id else a for a in project.girths)
    else:
        girths = (*project.girths, around)
    return replace(project, girths=girths)


def drop_around(project: Project, around_id: str) -> Project:
    """Take a girth out; unknown ids are ignored."""
    return replace(project, girths=tuple(a for a in project.girths if a.id != around_id))


def fresh_around_id(project: Project) -> str:
    """Return an id that no girth of the project has."""
    return free_name("girth", {a.id for a in project.girths})
