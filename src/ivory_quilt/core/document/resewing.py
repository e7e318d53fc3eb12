"""Seams of a piece whose edges were cut in two: both halves stay joined, as they were before."""

import math
from collections.abc import Sequence

import numpy as np

from ivory_quilt.core.document.other_hand import mirror_edge
from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import along_line, line_length, locate_on_line
from ivory_quilt.core.geometry.shape import Point, as_point
from ivory_quilt.core.pattern.edges import edge_length, edge_line, edge_of, edges_of, with_corner
from ivory_quilt.core.pattern.piece import Edge, Hand, Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, walks_alike
from ivory_quilt.core.record import replace

SAME = 0.2  # mm: ends of edges that are nearer are one place
LEAST = 1.0  # mm: a half of an edge that is shorter is none


def resewn(before: Project, after: Project, piece_id: str, parts: Sequence[str]) -> Project:
    """Return `after` with the seams that a piece had in `before`, on the edges it has now.

    An edge that was cut in two gives two seams; the edge that it meets gets a corner at the same
    share of its length. Seams whose edge is gone altogether stay as they are.

    Args:
        before: the project with the piece whole.
        after: the project with its parts.
        piece_id: the piece's id before.
        parts: ids of what it became, in which its edges are looked for.
    """
    old = before.piece(piece_id)
    for seam in before.seams:
        if piece_id not in (seam.first.piece, seam.second.piece) or seam not in after.seams:
            continue
        first = _halves(after, seam.first, old, parts)
        second = _halves(after, seam.second, old, parts)
        if not first or not second:
            continue
        kept = tuple(s for s in after.seams if s != seam)
        if seam.onto_other_hand:
            made = [replace(seam, first=r, second=r) for r in first]
        else:
            after, made = _paired(after, seam, first, second)
        after = replace(after, seams=(*kept, *made))
    return after


def _halves(after: Project, ref: EdgeRef, old: Piece, parts: Sequence[str]) -> list[EdgeRef]:
    """Return the edges, one or two, that an edge has become, from its start on."""
    if ref.piece != old.id:
        return [ref]
    was = edge_of(old, ref.edge)
    begins = ends = None
    for ident in parts:
        for edge in edges_of(after.piece(ident)):
            if begins is None and _same(edge.start, was.start) and _on(edge, old, was):
                begins = EdgeRef(ident, edge.name)
            if _same(edge.stop, was.stop) and _on(edge, old, was):
                ends = EdgeRef(ident, edge.name)
    found = [r for r in (begins, ends) if r is not None]
    return found[:1] if len(found) == 2 and found[0] == found[1] else found


def _on(edge: Edge, old: Piece, was: Edge) -> bool:
    """Whether an edge runs along another: an end of it is on it, and so is its other end."""
    line = edge_line(old, was)
    return all(locate_on_line(line, p)[1] < SAME for p in (edge.start, edge.stop))


def _same(a: Point, b: Point) -> bool:
    return math.dist(a, b) < SAME


def _paired(
    after: Project, seam: Seam, first: list[EdgeRef], second: list[EdgeRef]
) -> tuple[Project, list[Seam]]:
    """Join halves to halves; an edge that is whole is cut where the other one is."""
    if len(first) == 1 and len(second) == 2:
        after, first = _cut_alike(after, first[0], second, alike=walks_alike(seam))
    elif len(second) == 1 and len(first) == 2:
        after, second = _cut_alike(after, second[0], first, alike=walks_alike(seam))
    if not walks_alike(seam):
        second = second[::-1]
    pairs = zip(first, second, strict=False)
    return after, [replace(seam, first=a, second=b) for a, b in pairs]


def _cut_alike(
    after: Project, whole: EdgeRef, halves: list[EdgeRef], *, alike: bool
) -> tuple[Project, list[EdgeRef]]:
    lengths = [
        edge_length(after.piece(r.piece), edge_of(after.piece(r.piece), r.edge)) for r in halves
    ]
    share = lengths[0] / sum(lengths)
    share = share if alike else 1 - share
    mirror = _met_by_other_hand(after, whole, halves)
    after, rest = _parted_edge(after, whole, share)
    if rest is None:
        return after, [whole]
    if mirror is not None:
        after, _ = _parted_edge(after, mirror, 1 - share)
    return after, [whole, rest]


def _met_by_other_hand(after: Project, whole: EdgeRef, halves: list[EdgeRef]) -> EdgeRef | None:
    """Return the edge that the other hand meets in the place of one; None where there is none."""
    piece = after.piece(whole.piece)
    if piece.hand is Hand.PAIR or after.piece(halves[0].piece).hand is not Hand.PAIR:
        return None
    middle = [p for p in after.pieces if p.hand is not Hand.PAIR]
    taken = {(r.piece, r.edge) for s in after.seams for r in (s.first, s.second)}
    return mirror_edge(piece, whole.edge, middle, taken)


def _parted_edge(after: Project, ref: EdgeRef, share: float) -> tuple[Project, EdgeRef | None]:
    """Set a corner on an edge at a share of its length; return what comes after it, if it is."""
    piece = after.piece(ref.piece)
    line = edge_line(piece, edge_of(piece, ref.edge))
    long = line_length(line)
    at = share * long
    if min(at, long - at) < LEAST:
        return after, None
    known = {e.name for e in edges_of(piece)}
    try:
        made = with_corner(piece, as_point(along_line(line, np.array([at]))[0]))
    except InputError:  # a corner is as good as there: the edge is too short to be cut
        return after, None
    fresh = next(e.name for e in made.edges if e.name not in known)
    return put_pieces(after, [made]), EdgeRef(ref.piece, fresh)
