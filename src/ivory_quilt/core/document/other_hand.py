"""Which edge of a piece in the middle the other hand of a pair meets: the mirror image's."""

import math
from collections.abc import Collection, Iterable

import numpy as np
import shapely

from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.edges import edge_line, edge_of, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef

ALIKE = 0.03  # of an edge's length: one that differs by more is not its mirror image


def mirror_edge(
    piece: Piece, edge: str, middle: Iterable[Piece], taken: Collection[tuple[str, str]]
) -> EdgeRef | None:
    """Return the free edge that is the mirror image of one which a pair meets; None without any.

    As long as that, and so that the piece turned over onto it covers itself best: two halves of an
    edge may be alike. Of the same piece, or where that has none, of another in the middle, since
    the piece may have been parted along it.

    Args:
        piece: the piece in the middle.
        edge: its edge that one hand meets.
        middle: other pieces that are no pairs.
        taken: edges (piece, edge) that are in a seam already.
    """
    line = edge_line(piece, edge_of(piece, edge))
    long = line_length(line)
    for among in ([piece], [p for p in middle if p.id != piece.id]):
        best = (math.inf, EdgeRef(piece.id, edge))
        for other in among:
            for one in edges_of(other):
                there = edge_line(other, one)
                if (other.id, one.name) in taken or abs(line_length(there) - long) > ALIKE * long:
                    continue
                off = _uncovered(piece, line, other, there)
                if off < best[0]:
                    best = (off, EdgeRef(other.id, one.name))
        if best[0] < math.inf:
            return best[1]
    return None


def _uncovered(piece: Piece, line: Array, other: Piece, there: Array) -> float:
    """Return how far a piece's corners lie from another's outline, turned over edge onto edge.

    The mean, mm. Its edge runs from where the other's ends to where that begins.
    """
    spots = np.array(piece.shape.outer) @ (1.0, 1j)
    start, stop = line[[0, -1]] @ (1.0, 1j)
    begins, ends = there[[-1, 0]] @ (1.0, 1j)
    turn = (ends - begins) * (stop - start)
    turn = turn / max(abs(turn), 1e-12)  # of the mirror image, whose edge is the conjugate
    turned = (begins + ends) / 2 + turn * np.conj(spots - (start + stop) / 2)
    points = shapely.points(turned.real, turned.imag)
    return float(shapely.distance(other.shape.polygon.exterior, points).mean())
