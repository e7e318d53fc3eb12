"""A strip let into a piece, and into the neighbours that it meets at its seams."""

import numpy as np

from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.document.seam_book import keep_edges
from ivory_quilt.core.editing.surgery import CutLine, with_strip
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import along_line, line_length
from ivory_quilt.core.geometry.shape import Array, as_point
from ivory_quilt.core.pattern.edges import edge_length, edge_line, edge_of
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, walks_alike
from ivory_quilt.core.record import Struct

LEAST = 0.05  # mm: a seam that changes by less is left as it is


class LetIn(Struct, frozen=True):
    """What a strip did: the project with it, and the neighbours that got one as well.

    Attributes:
        neighbours: (name, width of its strip in mm).
    """

    project: Project
    neighbours: tuple[tuple[str, float], ...] = ()


def let_in(
    project: Project, piece_id: str, line: CutLine, width: float, *, neighbours: bool
) -> LetIn:
    """Let a strip into a piece along a line; with `neighbours`, into what is sewn there as well.

    A neighbour's strip crosses its edge squarely where the line meets the seam, and is as wide as
    the seam has grown there. It goes on to nobody else.

    Raises:
        InputError: the width is not above 0, or the line does not cross the piece.
    """
    mine = [s for s in project.seams if piece_id in (s.first.piece, s.second.piece)]
    if neighbours:
        project = keep_edges(project, {r.piece for s in mine for r in (s.first, s.second)})
    piece = project.piece(piece_id)
    grown = with_strip(piece, line, width)
    made = put_pieces(project, [grown])
    told = []
    for seam in mine if neighbours else ():
        found = _in_neighbour(project, made, seam, piece_id, line)
        if found is not None:
            made, name, wide = found
            told.append((name, wide))
    return LetIn(made, tuple(told))


def _in_neighbour(
    before: Project, after: Project, seam: Seam, piece_id: str, line: CutLine
) -> tuple[Project, str, float] | None:
    """Return the project with a strip in a seam's other piece, its name and width; or None."""
    own, other = (
        (seam.first, seam.second) if seam.first.piece == piece_id else (seam.second, seam.first)
    )
    if other.piece == piece_id or seam.onto_other_hand:
        return None  # it meets itself: the same strip is there already
    try:
        grown = _length(after, own) - _length(before, own)
        share = _crossed(before, own, line)
        piece = after.piece(other.piece)
        edge = edge_line(piece, edge_of(piece, other.edge))
        if grown < LEAST or share is None:
            return None
        at = share if walks_alike(seam) else 1.0 - share
        strip = with_strip(piece, _across(edge, at), grown)
    except InputError:
        return None
    return put_pieces(after, [strip]), piece.name, grown


def _length(project: Project, ref: EdgeRef) -> float:
    piece = project.piece(ref.piece)
    return edge_length(piece, edge_of(piece, ref.edge))


def _crossed(project: Project, ref: EdgeRef, line: CutLine) -> float | None:
    """Return at which share of an edge a line crosses it first; None where it does not."""
    piece = project.piece(ref.piece)
    edge = edge_line(piece, edge_of(piece, ref.edge))
    side = line.side(edge)
    turns = np.flatnonzero(side[:-1] * side[1:] < 0)
    if not len(turns):
        return None
    k = int(turns[0])
    step = np.hypot(*np.diff(edge, axis=0).T)
    at = float(step[:k].sum() + step[k] * side[k] / (side[k] - side[k + 1]))
    return at / line_length(edge)


def _across(edge: Array, share: float) -> CutLine:
    """Return a line through an edge's place, square to it, that the edge crosses to the left."""
    length = line_length(edge)
    at = np.clip(share * length + np.array([-0.5, 0.0, 0.5]), 0.0, length)
    before, here, after = along_line(edge, at)
    way = (after - before) / max(float(np.hypot(*(after - before))), 1e-9)
    # What lies left of the line moves away: the edge's further end.
    out = np.array([way[1], -way[0]])
    return CutLine(as_point(here - 0.5 * out), as_point(here + 0.5 * out))
