"""The flat piece that must be cut, so that heat and the form make of it what the pattern says."""

import math
from dataclasses import replace

import numpy as np

from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.shaping import AxisFrame, Change, Place, Plain, Shaping
from ivory_quilt.core.forming.shrink import shrink
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.pattern.piece import LineKind, Piece, Turn


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
    following = np.roll(points, -1, axis=0) if closed else points[1:]
    starts = points if closed else points[:-1]
    step = following - starts
    shares: list[list[float]] = [[0.0] for _ in starts]
    for frame, at in cuts:
        a = frame.into(starts)[:, 0] - at
        b = frame.into(following)[:, 0] - at
        for i in np.flatnonzero(a * b < 0).tolist():
            shares[i].append(float(a[i] / (a[i] - b[i])))
    if shaping.longest:
        length = np.hypot(step[:, 0], step[:, 1])
        for k, count in enumerate(np.ceil(length / shaping.longest).tolist()):
            shares[k] += [j / count for j in range(1, int(count))]
    made = [
        starts[k] + np.array(sorted(set(share)))[:, None] * step[k]
        for k, share in enumerate(shares)
    ]
    if not closed:
        made.append(points[-1:])
    return np.vstack(made)


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
    grown = piece.moved_by(lambda points: frame.out_of(frame.into(points) * factors))
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
