"""How much room a shape takes as it is turned: the boxes about it."""

from collections.abc import Iterable

import numpy as np

from ivory_quilt.core.geometry.shape import Array, Shape, cos_sin, once_a_shape
from ivory_quilt.core.nesting.job import PieceSpec


def box_sizes(points: Array, angles: Iterable[float]) -> Array:
    """Return width and height (k, 2) of points (n, 2) turned by each of k angles, in degrees."""
    turns = np.array([cos_sin(a) for a in angles])
    x = np.outer(turns[:, 0], points[:, 0]) - np.outer(turns[:, 1], points[:, 1])
    y = np.outer(turns[:, 1], points[:, 0]) + np.outer(turns[:, 0], points[:, 1])
    return np.column_stack((np.ptp(x, axis=1), np.ptp(y, axis=1)))


def allowed_sizes(piece: PieceSpec) -> Array:
    """Return the box sizes of a piece at its allowed angles, and flipped where that is allowed."""
    return _turned_sizes(piece.shape, tuple(piece.rotations or ()), mirror=piece.mirror)


@once_a_shape
def _turned_sizes(shape: Shape, angles: tuple[float, ...], *, mirror: bool) -> Array:
    # A flipped shape turned by an angle is as large as the shape turned back by it.
    back = tuple(-a for a in angles) if mirror else ()
    return box_sizes(shape.outer, (*angles, *back))
