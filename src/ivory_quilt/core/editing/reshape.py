"""Outlines put right by whole moves: the other hand, a half pattern unfolded at its fold."""

from collections.abc import Callable
from functools import lru_cache

import numpy as np
from shapely import LineString, Polygon

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Point, Pose, Shape, as_point, simplified
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.record import Struct, replace

STRAIGHT_WITHIN = 0.15  # mm that an edge may stray and still be a fold (our choice)
SHORTEST_FOLD = 0.12  # of the outline: shorter edges are not taken for a fold (our choice)


class FoldEdge(Struct, frozen=True):
    """A straight stretch of an outline, from one point to another."""

    start: Point
    stop: Point

    @property
    def length(self) -> float:
        """Length in mm."""
        return float(np.hypot(self.stop[0] - self.start[0], self.stop[1] - self.start[1]))


def mirrored_piece(piece: Piece) -> Piece:
    """Return the other hand of a piece: outline, lines and marks mirrored, left and right swapped.

    It lies where the piece lay, and is no longer linked to numbers.
    """
    x0, _, x1, _ = piece.shape.bounds
    back = Pose(x0 + x1, 0.0, 0.0, mirrored=True)
    other = {Hand.LEFT: Hand.RIGHT, Hand.RIGHT: Hand.LEFT}
    return replace(
        piece.moved_by(back.apply, flips=True),
        hand=other.get(piece.hand, piece.hand),
        drawn_hand=other[piece.drawn_hand] if piece.hand is Hand.PAIR else piece.drawn_hand,
        recipe=None,
    )


def scaled_piece(piece: Piece, factor: float) -> Piece:
    """Return a piece scaled with its lines and marks; foam thickness stays.

    Raises:
        InputError: the factor is not above zero.
    """
    if not 0.0 < factor < 1e6:
        raise InputError("scale", f"{factor} is not a usable factor", "a number above 0")
    # It is no longer what its numbers say.
    made = piece.moved_by(lambda points: points * factor, sound=True)
    return replace(made, recipe=None) if made.recipe is not None else made


def fold_edge(piece: Piece) -> FoldEdge | None:
    """Return where a half pattern is unfolded; None when no edge is straight and long enough.

    A fold line on the outline says so; else it is the longest straight edge.
    """
    for line in piece.lines:
        if line.kind is LineKind.FOLD and _lies_on(line, piece.shape):
            return FoldEdge(as_point(line.points[0]), as_point(line.points[-1]))
    edge = _longest_straight(piece.shape)
    shortest = SHORTEST_FOLD * piece.shape.outline_length
    return edge if edge.length >= shortest else None


def on_fold(piece: Piece) -> bool:
    """Return whether a piece is half a pattern: a fold line lies on its outline."""
    return any(k.kind is LineKind.FOLD and _lies_on(k, piece.shape) for k in piece.lines)


def unfolded(piece: Piece, edge: FoldEdge) -> Piece:
    """Return a half pattern and its mirror image as one piece; the fold is its centre line.

    Edges are found anew. Words stay on the drawn half.

    Raises:
        InputError: the piece lies on both sides of the edge's line, or the halves do not join.
    """
    reflect = _reflection(edge)
    half = piece.shape.polygon
    away = _side(piece.shape.outer, edge)
    low, high = float(away.min()), float(away.max())
    if min(-low, high) > STRAIGHT_WITHIN * 4:
        raise InputError(
            f"piece '{piece.name}'", "it lies on both sides of the fold", "half a pattern"
        )
    other = Polygon(reflect(piece.shape.outer), [reflect(h) for h in piece.shape.holes])
    # A hair over the fold, so that the halves overlap instead of touching in single points.
    whole = half.buffer(0.02, join_style="mitre").union(other.buffer(0.02, join_style="mitre"))
    whole = whole.buffer(-0.02, join_style="mitre")
    if not isinstance(whole, Polygon) or whole.is_empty:
        raise InputError(f"piece '{piece.name}'", "its halves do not join", "a straight fold edge")
    shape = Shape.from_polygon(simplified(whole, 0.005))
    kept = tuple(k for k in piece.lines if not (k.kind is LineKind.FOLD and _along(k, edge)))
    lines = [*kept, *(replace(k, points=reflect(k.points)) for k in kept)]
    lines.append(PieceLine(LineKind.CENTRE, np.array([edge.start, edge.stop])))
    marks = [*piece.match_marks]
    for x, y in reflect(np.array(piece.match_marks).reshape(-1, 2)).tolist():
        if not any(np.hypot(x - u, y - v) < STRAIGHT_WITHIN for u, v in marks):
            marks.append((x, y))
    move = np.array(shape.bounds[:2])
    made = replace(
        piece, shape=shape, lines=tuple(lines), match_marks=tuple(marks), edges=(), recipe=None
    )
    return made.moved_by(lambda points: points - move)


def same_shape(a: Shape, b: Shape, within: float = 0.3) -> bool:
    """Return whether two outlines are alike, wherever they lie on their page (not turned)."""
    if abs(a.width - b.width) > within or abs(a.height - b.height) > within:
        return False
    if len(a.holes) != len(b.holes) or abs(a.area - b.area) > within * a.outline_length:
        return False
    move = np.subtract(b.bounds[:2], a.bounds[:2])
    moved = Polygon(a.outer + move, [h + move for h in a.holes])
    return bool(moved.boundary.hausdorff_distance(b.polygon.boundary) <= within)


@lru_cache(maxsize=4096)
def _longest_straight(shape: Shape) -> FoldEdge:
    """Return the longest run of edges that nowhere strays from a straight line."""
    ring = shape.outer
    # From the lowest of the leftmost points, which is a true corner: simplifying keeps it.
    first = int(np.lexsort((ring[:, 1], ring[:, 0]))[0])
    ring = np.roll(ring, -first, axis=0)
    line = LineString(np.vstack((ring, ring[:1]))).simplify(STRAIGHT_WITHIN)
    corners = np.asarray(line.coords)
    k = int(np.hypot(*np.diff(corners, axis=0).T).argmax())
    return FoldEdge(as_point(corners[k]), as_point(corners[k + 1]))


def _side(points: Array, edge: FoldEdge) -> Array:
    """Return signed distances from the edge's line, positive to its left."""
    (x0, y0), (x1, y1) = edge.start, edge.stop
    dx, dy = x1 - x0, y1 - y0
    cross = dx * (points[:, 1] - y0) - dy * (points[:, 0] - x0)
    return np.asarray(cross / np.hypot(dx, dy))


def _reflection(edge: FoldEdge) -> Callable[[Array], Array]:
    start = np.array(edge.start)
    u = np.subtract(edge.stop, edge.start) / edge.length
    matrix = 2 * np.outer(u, u) - np.eye(2)

    def reflect(points: Array) -> Array:
        return np.asarray((points - start) @ matrix.T + start)

    return reflect


def _lies_on(line: PieceLine, shape: Shape) -> bool:
    fold = LineString(line.points)
    return bool(fold.length > 1 and shape.polygon.exterior.buffer(0.5).covers(fold))


def _along(line: PieceLine, edge: FoldEdge) -> bool:
    return bool(np.abs(_side(line.points, edge)).max() < 0.6)
