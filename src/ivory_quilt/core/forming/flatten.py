"""The flat piece that must be cut, so that heat and the form make of it what the pattern says."""

import math

import numpy as np

from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.shaping import AxisFrame, Change, Place, Plain, Shaping
from ivory_quilt.core.forming.shrink import shrink
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.pattern.piece import LineKind, Piece, Turn
from ivory_quilt.core.record import replace


def laid_flat(piece: Piece, shaping: Shaping, place: Place) -> Piece:
    """Return a layer of a formed piece laid flat, before heat has shrunk it.

    `place` is the layer's place on the form. Outline, lines, marks and edges go along.

    Raises:
        InputError: the layer has no room on the form.
    """
    if isinstance(shaping, Plain):
        return piece
    cuts = shaping.cuts(place)
    if cuts or shaping.longest:
        shape = Shape.make(
            finer(piece.shape.outer, shaping, cuts, closed=True),
            [finer(h, shaping, cuts, closed=True) for h in piece.shape.holes],
        )
        lines = tuple(
            replace(k, points=finer(k.points, shaping, cuts, closed=False)) for k in piece.lines
        )
        piece = replace(piece, shape=shape, lines=lines)
    return piece.moved_by(lambda points: shaping.flat(points, place))


def finer(
    points: Array, shaping: Shaping, cuts: tuple[tuple[AxisFrame, float], ...], *, closed: bool
) -> Array:
    """Return a ring or line with points wherever the form may bend it."""
    following = np.concatenate((points[1:], points[:1])) if closed else points[1:]
    starts = points if closed else points[:-1]
    step = following - starts
    edges = [np.arange(len(starts))]
    shares = [np.zeros(len(starts))]
    for frame, at in cuts:
        a = frame.into(starts)[:, 0] - at
        b = frame.into(following)[:, 0] - at
        crossed = np.flatnonzero(a * b < 0)
        edges.append(crossed)
        shares.append(a[crossed] / (a[crossed] - b[crossed]))
    if shaping.longest:
        counts = np.ceil(np.hypot(step[:, 0], step[:, 1]) / shaping.longest).astype(np.intp)
        more = np.maximum(counts - 1, 0)
        each = np.repeat(np.arange(len(starts)), more)
        edges.append(each)
        nth = np.arange(1, len(each) + 1) - np.repeat(np.cumsum(more) - more, more)
        shares.append(nth / counts[each])
    edge, share = np.concatenate(edges), np.concatenate(shares)
    order = np.lexsort((share, edge))
    edge, share = edge[order], share[order]
    new = np.ones(len(edge), dtype=bool)
    new[1:] = (edge[1:] != edge[:-1]) | (share[1:] != share[:-1])
    edge, share = edge[new], share[new]
    made = starts[edge] + share[:, None] * step[edge]
    return made if closed else np.concatenate((made, points[-1:]))


def before_heat(piece: Piece, book: FoamBook) -> tuple[Piece, tuple[Change, ...]]:
    """Return a piece as it must be cut so that it is right once heat has shrunk it.

    A piece that keeps the sheet's direction shrinks along and across it by their own shares; one
    that may be turned by the mean of both.
    """
    along, across = book.shrink_along, book.shrink_across
    if not along and not across:
        return piece, ()
    direction = 0.0
    if piece.turn is Turn.DIRECTION:
        grain = next((k for k in piece.lines if k.kind is LineKind.GRAIN), None)
        if grain is not None:
            direction = math.degrees(math.atan2(*(grain.points[-1] - grain.points[0])[::-1]))
    else:
        along = across = (along + across) / 2
    x, y = piece.shape.centroid
    frame = AxisFrame((x, y), direction)
    factors = np.array([1 / (1 - across / 100), 1 / (1 - along / 100)])
    grown = piece.moved_by(lambda points: frame.out_of(frame.into(points) * factors), sound=True)
    local = frame.into(piece.shape.outer)
    extent = (local.max(axis=0) - local.min(axis=0)).tolist()
    made = []
    for percent, length, way in ((along, extent[1], "along"), (across, extent[0], "across")):
        if percent:
            reckoned = shrink(round(length, 3), percent)
            more = reckoned.figure("cut_length") - length
            text = f"heat shrinks it by {percent:g} % {way} the sheet"
            made.append(Change(text, more, reckoned))
    return grown, tuple(made)
