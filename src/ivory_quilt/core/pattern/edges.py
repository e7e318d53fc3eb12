"""Edges: the stretches of an outline between its corners, each with a name.

Corners are found by angle: where the outline, looked at over a short reach to either side, turns
by more than a limit. The maker may set corners otherwise; then the piece keeps its edges itself.
"""

from functools import lru_cache

import numpy as np

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.geometry.outline import (
    Outline,
    along_line,
    line_length,
    locate_on_line,
    outline_of,
)
from ivory_quilt.core.geometry.shape import Array, Point, Shape, as_point
from ivory_quilt.core.pattern.piece import Edge, Piece
from ivory_quilt.core.record import replace

CORNER_ANGLE = 35.0  # degrees (default from practice, no source)
# How far to either side a corner is looked for: mm, least and most; between them a share of the
# outline (our choice, tried on drawings whose corners are known).
REACH = (1.5, 5.0)
REACH_SHARE = 0.012
FAR = 2.0  # times a bevel's width: so far a corner moves where two of them meet (our choice)
ON_EDGE = 4.0  # mm: a match mark this near the outline belongs to it (our choice)


def edges_of(piece: Piece) -> tuple[Edge, ...]:
    """Return a piece's edges, counter-clockwise: its own, or those found by angle."""
    return piece.edges or edges_by_angle(piece.shape)


def edges_moved(edges: tuple[Edge, ...], shape: Shape, width: float) -> tuple[Edge, ...]:
    """Return edges with their ends at the corners of an outline that runs beside theirs.

    Args:
        edges: of an outline.
        shape: that outline moved off itself here and there, by a bevel.
        width: of the widest bevel, mm; an end without a corner near stays.
    """
    if not width:
        return edges
    outline = outline_of(shape)
    corners = outline.places(corner_places(outline, CORNER_ANGLE / 2))
    if not len(corners):
        return edges
    moved: dict[Point, Point] = {}
    for end in dict.fromkeys(e.start for e in edges):
        away = np.hypot(*(corners - end).T)
        nearest = int(away.argmin())
        moved[end] = as_point(corners[nearest]) if away[nearest] <= FAR * width else end
    if len(set(moved.values())) < len(moved):
        return edges  # a corner is gone
    return tuple(replace(e, start=moved[e.start], stop=moved.get(e.stop, e.stop)) for e in edges)


def edge_of(piece: Piece, name: str) -> Edge:
    """Return one edge by its name.

    Raises:
        InputError: there is none.
    """
    known = edges_of(piece)
    for edge in known:
        if edge.name == name:
            return edge
    hint = nearest(name, [e.name for e in known])
    raise InputError(f"piece '{piece.name}'", f"it has no edge '{name}'{hint}", "an edge's name")


@lru_cache(maxsize=4096)
def edges_by_angle(shape: Shape, angle: float = CORNER_ANGLE) -> tuple[Edge, ...]:
    """Return the edges between corners that turn by more than `angle` degrees.

    The first begins at the lowest corner (of those, the leftmost); a round outline is one edge.
    """
    outline = outline_of(shape)
    corners = corner_places(outline, angle)
    if not len(corners):
        first = int(np.lexsort((shape.outer[:, 0], shape.outer[:, 1]))[0])
        corners = outline.vertices_at[first : first + 1]
    points = outline.places(corners)
    first = int(np.lexsort((np.round(points[:, 0], 3), np.round(points[:, 1], 3)))[0])
    return edges_between([as_point(p) for p in np.roll(points, -first, axis=0)])


def corner_places(outline: Outline, angle: float = CORNER_ANGLE) -> Array:
    """Return where corners lie, mm along the outline, in order.

    Args:
        outline: the ring, in any flattening of its curves.
        angle: least turn over the reach, degrees.
    """
    reach = min(max(REACH_SHARE * outline.length, REACH[0]), REACH[1], outline.length / 8)
    at = outline.vertices_at
    here = outline.places(at)
    before, after = here - outline.places(at - reach), outline.places(at + reach) - here
    cross = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    dot = (before * after).sum(axis=1)
    turn = np.degrees(np.abs(np.arctan2(cross, dot)))
    kept: list[int] = []
    for k in np.lexsort((at, -np.round(turn, 6))):
        if turn[k] < angle:
            break
        gap = np.abs(at[kept] - at[k])
        if not len(kept) or np.minimum(gap, outline.length - gap).min() > 1.2 * reach:
            kept.append(int(k))
    return np.sort(at[kept])


def edges_between(corners: list[Point], names: list[str] | None = None) -> tuple[Edge, ...]:
    """Return the edges from each corner to the next; named A, B, ... when no names are given."""
    names = names or [edge_letter(k) for k in range(len(corners))]
    following = corners[1:] + corners[:1]
    return tuple(Edge(n, a, b) for n, a, b in zip(names, corners, following, strict=True))


def edge_letter(k: int) -> str:
    """Return A, B, ..., Z, A2, B2, ..."""
    turn, letter = divmod(k, 26)
    return chr(65 + letter) + (str(turn + 1) if turn else "")


def edge_line(piece: Piece, edge: Edge) -> Array:
    """Return an edge as an open line (n, 2), from its start to its stop."""
    return _edge_line(piece.shape, edge)


@lru_cache(maxsize=8192)
def _edge_line(shape: Shape, edge: Edge) -> Array:
    outline = outline_of(shape)
    line = outline.stretch(outline.locate(edge.start)[0], outline.locate(edge.stop)[0])
    line.setflags(write=False)
    return line


def beside_middle(line: Array, away: float) -> Point:
    """Return the place `away` mm outside the middle of an edge's line; below 0 inside."""
    half = line_length(line) / 2
    before, here, after = along_line(line, np.array([half - 0.5, half, half + 0.5]))
    along = (after - before) / max(float(np.hypot(*(after - before))), 1e-9)
    return (float(here[0] + along[1] * away), float(here[1] - along[0] * away))


def edge_length(piece: Piece, edge: Edge) -> float:
    """Return an edge's length, mm."""
    return line_length(edge_line(piece, edge))


def edge_at(piece: Piece, point: Point) -> tuple[Edge, float]:
    """Return the edge nearest to a place, and how far away it is, mm."""
    edges = edges_of(piece)
    away = [locate_on_line(edge_line(piece, e), point)[1] for e in edges]
    k = int(np.argmin(away))
    return edges[k], away[k]


def marks_on(piece: Piece, edge: Edge) -> tuple[tuple[float, Point], ...]:
    """Return (mm from the edge's start, mark) of the match marks on an edge, in order.

    A mark belongs to the edge that is nearest to it, when that is near enough.
    """
    line, found = edge_line(piece, edge), []
    for mark in piece.match_marks:
        at, away = locate_on_line(line, mark)
        if away <= ON_EDGE and edge_at(piece, mark)[0] == edge:
            found.append((at, mark))
    return tuple(sorted(found))


def mark_tick(shape: Shape, mark: Point, length: float = 6.0) -> tuple[Point, Point] | None:
    """Return the tick of a match mark: from the outline `length` mm into the foam.

    None for a mark that does not lie on the outline.
    """
    outline = outline_of(shape)
    at, away = outline.locate(mark)
    if away > ON_EDGE:
        return None
    before, after = outline.places(np.array([at - 0.5, at + 0.5]))
    along = (after - before) / max(float(np.hypot(*(after - before))), 1e-9)
    here = outline.place(at)
    return here, (here[0] - float(along[1]) * length, here[1] + float(along[0]) * length)


def with_corner(piece: Piece, point: Point) -> Piece:
    """Part the edge at a place on the outline in two; the piece then keeps its edges itself.

    The first half keeps the edge's name.

    Raises:
        InputError: there is a corner already.
    """
    outline = outline_of(piece.shape)
    at = outline.place(outline.locate(point)[0])
    edges = list(edges_of(piece))
    if any(_near(at, e.start) for e in edges):
        raise InputError(f"piece '{piece.name}'", "there is a corner already", "another place")
    cut = edge_at(piece, at)[0]
    k = edges.index(cut)
    taken = {e.name for e in edges}
    fresh = next(n for n in map(edge_letter, range(len(edges) + 1)) if n not in taken)
    edges[k : k + 1] = [Edge(cut.name, cut.start, at), Edge(fresh, at, cut.stop)]
    # Both halves go on with what was decided about the whole.
    build = piece.build.with_profile(fresh, piece.build.profile(cut.name))
    return replace(piece, edges=tuple(edges), build=build)


def without_corner(piece: Piece, point: Point) -> Piece:
    """Take out the corner nearest to a place: two edges become one, named like the first.

    Raises:
        InputError: it is the only corner.
    """
    edges = list(edges_of(piece))
    if len(edges) < 2:
        raise InputError(f"piece '{piece.name}'", "its only corner stays", "two corners or more")
    away = [np.hypot(e.start[0] - point[0], e.start[1] - point[1]) for e in edges]
    k = int(np.argmin(away))
    before, after = edges[k - 1], edges[k]
    joined = Edge(before.name, before.start, after.stop)
    kept = [joined if e is before else e for e in edges if e is not after]
    return replace(piece, edges=tuple(kept))


def named_edge(piece: Piece, old: str, new: str) -> Piece:
    """Give an edge another name; the piece then keeps its edges itself.

    Raises:
        InputError: no such edge, or the name is empty or taken.
    """
    edge = edge_of(piece, old)
    new = new.strip()
    if not new or any(e.name == new for e in edges_of(piece) if e != edge):
        raise InputError("edge", f"the name '{new}' is empty or taken", "a name of its own")
    edges = tuple(replace(e, name=new) if e == edge else e for e in edges_of(piece))
    return replace(piece, edges=edges, build=piece.build.renamed(edge.name, new))


def snapped(piece: Piece, old: Piece, reach: float = 1.0) -> Piece:
    """Return `piece` with its marks and edges laid on its outline again.

    For outlines that were changed by more than a move: marks that lay on the outline of `old`, and
    the ends of edges, go to the nearest place of the new outline; an end that was a corner goes to
    a corner within `reach`, mm, if there is one.
    """
    outline, was = outline_of(piece.shape), outline_of(old.shape)
    corners = outline.places(corner_places(outline))
    was_corners = was.places(corner_places(was))

    def onto(point: Point) -> Point:
        return outline.place(outline.locate(point)[0])

    def end(point: Point, before: Point) -> Point:
        if len(corners) and len(was_corners) and _away(was_corners, before).min() < 0.5:
            away = _away(corners, point)
            if away.min() <= reach:
                return as_point(corners[int(away.argmin())])
        return onto(point)

    marks = tuple(
        onto(new) if was.locate(before)[1] <= ON_EDGE else new
        for new, before in zip(piece.match_marks, old.match_marks, strict=True)
    )
    edges = [
        Edge(e.name, end(e.start, b.start), end(e.stop, b.stop))
        for e, b in zip(piece.edges, old.edges, strict=True)
    ]
    edges = [e for e in edges if len(edges) == 1 or not _near(e.start, e.stop)]
    return replace(piece, match_marks=marks, edges=tuple(edges))


def _away(points: Array, point: Point) -> Array:
    return np.asarray(np.hypot(*(points - np.asarray(point)).T))


def _near(a: Point, b: Point) -> bool:
    return bool(np.hypot(a[0] - b[0], a[1] - b[1]) < 0.5)
