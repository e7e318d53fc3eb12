"""What is printed for a piece: its outline as traced and trimmed, whole or half on the fold."""

from functools import lru_cache

import numpy as np

from ivory_quilt.core.editing.resize import offset_shape
from ivory_quilt.core.editing.surgery import CutLine, parted
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import LineKind, Piece, PieceLine, TraceRule
from ivory_quilt.core.record import replace

ALIKE = 0.5  # mm that the two halves may differ by (a pencil line; from memory, no source)
ON_LINE = 1e-3  # mm
LEAST_CENTRE = 10.0  # mm of a centre line that halves a template (our choice)


@lru_cache(maxsize=2048)
def template_of(piece: Piece, rule: TraceRule, *, half: bool = False) -> Piece:
    """Return what a template shows of a piece.

    The outline is the one to be cut (with what is trimmed later), less what the pen adds around
    the template and the knife leaves of it. With `half`, a piece whose two halves mirror each
    other about its centre line becomes the half left of it, with a fold line in its place.
    """
    rule = piece.rule or rule
    shape = offset_shape(piece.shape, rule.trim) if rule.trim else piece.shape
    if rule.growth:
        try:
            shape = offset_shape(shape, -rule.growth)
        except InputError:
            shape = piece.shape  # too slender to be printed smaller: the pen stays outside
    made = replace(piece, shape=shape, edges=())
    if half and (centre := centre_of(piece)) is not None:
        made = _halved(made, centre)
    return made


def centre_of(piece: Piece) -> CutLine | None:
    """Return a piece's centre line when its halves mirror each other about it, else None."""
    for line in piece.lines:
        if line.kind is not LineKind.CENTRE:
            continue
        (x0, y0), (x1, y1) = line.points[0].tolist(), line.points[-1].tolist()
        if np.hypot(x1 - x0, y1 - y0) < LEAST_CENTRE:
            continue
        centre = CutLine((x0, y0), (x1, y1))
        if _mirrors(piece, centre):
            return centre
    return None


def _mirrors(piece: Piece, centre: CutLine) -> bool:
    def reflect(points: np.ndarray) -> np.ndarray:
        away = centre.side(points)
        return np.asarray(points - 2 * away[:, None] * centre.normal)

    other = piece.moved_by(reflect, flips=True).shape.polygon
    return bool(other.boundary.hausdorff_distance(piece.shape.polygon.boundary) <= ALIKE)


def _halved(piece: Piece, centre: CutLine) -> Piece:
    try:
        half, _, _, _ = parted(piece, centre, "other")
    except InputError:
        return piece
    outer = half.shape.outer
    following = np.roll(outer, -1, axis=0)
    on = (np.abs(centre.side(outer)) < ON_LINE) & (np.abs(centre.side(following)) < ON_LINE)
    # A hole on the centre line leaves more than one stretch of fold.
    folds = [
        PieceLine(LineKind.FOLD, np.array([a, b]))
        for a, b in zip(outer[on], following[on], strict=True)
        if np.hypot(*(b - a)) > 1
    ]
    lines = tuple(k for k in half.lines if k.kind is not LineKind.CENTRE)
    return replace(half, id=piece.id, name=piece.name, lines=(*lines, *folds), edges=())
