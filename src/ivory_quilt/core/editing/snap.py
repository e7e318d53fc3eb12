"""Where a hand-drawn point falls: onto corners, middles of edges, the outline, level or upright."""

import numpy as np

from ivory_quilt.core.geometry.outline import Outline, along_line, line_length
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.pattern.edges import edge_line, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct


class Snap(Struct, frozen=True):
    """Where a point falls, and why in a word; empty when it stays where the hand is.

    `stays` is the coordinate that a straight line keeps, 0 for x and 1 for y.
    """

    at: Point
    why: str = ""
    stays: int | None = None


def snap(piece: Piece, hand: Point, reach: float, start: Point | None = None) -> Snap:
    """Return where a point drawn at `hand` falls on a piece.

    Args:
        piece: the piece it is drawn on.
        hand: where the hand is, mm.
        reach: how far it is pulled, mm.
        start: the line's first point, when the second is drawn.
    """
    near = _nearest(_sharp(piece), hand, reach)
    if near is not None:
        return near
    outline = Outline(piece.shape.outer)
    at, away = outline.locate(hand)
    if start is not None and (straight := _straight(start, hand, reach)) is not None:
        # Level or upright, and onto the outline where that is near along the line.
        hit = _on_outline(outline, start, straight, reach)
        return hit or straight
    if away <= reach:
        return Snap(outline.place(at), "on the edge")
    return Snap(hand)


def _sharp(piece: Piece) -> list[Snap]:
    found = [Snap(e.start, f"corner of {e.name}") for e in edges_of(piece)]
    for edge in edges_of(piece):
        points = edge_line(piece, edge)
        x, y = along_line(points, np.array([line_length(points) / 2]))[0].tolist()
        found.append(Snap((x, y), f"middle of {edge.name}"))
    found += [Snap(mark, "match mark") for mark in piece.match_marks]
    for line in piece.lines:
        for x, y in (line.points[0].tolist(), line.points[-1].tolist()):
            found.append(Snap((x, y), "end of a line"))
    return found


def _nearest(found: list[Snap], hand: Point, reach: float) -> Snap | None:
    points = np.array([s.at for s in found])
    away = np.hypot(*(points - np.asarray(hand)).T)
    k = int(away.argmin())
    return found[k] if away[k] <= reach else None


def _straight(start: Point, hand: Point, reach: float) -> Snap | None:
    dx, dy = abs(hand[0] - start[0]), abs(hand[1] - start[1])
    if max(dx, dy) < 2 * reach:
        return None
    if dy <= reach:
        return Snap((hand[0], start[1]), "level", stays=1)
    return Snap((start[0], hand[1]), "upright", stays=0) if dx <= reach else None


def _on_outline(outline: Outline, start: Point, straight: Snap, reach: float) -> Snap | None:
    """Return where a level or upright line meets the outline near the hand."""
    k = straight.stays
    assert k is not None
    ring = np.vstack((outline.ring, outline.ring[:1]))
    value = start[k]
    a, b = ring[:-1], ring[1:]
    crosses = np.flatnonzero((a[:, k] - value) * (b[:, k] - value) <= 0)
    best: tuple[float, Point] | None = None
    for i in crosses:
        span = b[i, k] - a[i, k]
        share = 0.0 if abs(span) < 1e-9 else (value - a[i, k]) / span
        x, y = (a[i] + share * (b[i] - a[i])).tolist()
        away = abs((x, y)[1 - k] - straight.at[1 - k])
        if away <= reach and (best is None or away < best[0]):
            best = (away, (x, y))
    return Snap(best[1], f"{straight.why}, on the edge") if best else None
