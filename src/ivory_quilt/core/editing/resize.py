"""Making a pattern larger or smaller otherwise than by one scale: stretched, or offset all around.

Foam thickness does not change with any of them.
"""

from functools import lru_cache

import numpy as np
from shapely import Polygon

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.edges import snapped
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace

MITRE = 3.0  # times the offset that a sharp corner may stand out before it is cut off


def stretched(piece: Piece, across: float, up: float) -> Piece:
    """Return a piece stretched along x and y by a factor each, with what is drawn on it.

    Raises:
        InputError: a factor is not within 0.1 and 10.
    """
    for name, factor in (("across", across), ("up", up)):
        if not 0.1 <= factor <= 10:
            raise InputError(f"stretch {name}", f"{100 * factor:.0f} %", "10 to 1000 %")
    factors = np.array([across, up])
    return replace(piece.moved_by(lambda points: points * factors), recipe=None)


@lru_cache(maxsize=4096)
def offset_shape(shape: Shape, by: float) -> Shape:
    """Return an outline `by` mm outside (below 0: inside) everywhere, corners kept sharp.

    Holes grow smaller as the outline grows larger: foam is added on both.

    Raises:
        InputError: nothing would be left, or it would fall apart.
    """
    if abs(by) < 1e-6:
        return shape
    grown = shape.polygon.buffer(by, join_style="mitre", mitre_limit=MITRE)
    if not isinstance(grown, Polygon) or grown.is_empty:
        problem = "nothing would be left" if grown.is_empty else "it would fall apart"
        raise InputError("offset", f"{by:g} mm: {problem}", "a smaller offset")
    made = Shape.from_polygon(grown)
    if problem := shape_problem(made):
        raise InputError("offset", problem, "a smaller offset")
    return made


def offset(piece: Piece, by: float) -> Piece:
    """Return a piece `by` mm larger (below 0: smaller) all around; holes keep their size.

    Lines and words stay where they are; match marks and edges go out with the outline.

    Raises:
        InputError: see `offset_shape`, or a hole would reach the edge.
    """
    outer = offset_shape(Shape.make(piece.shape.outer), by)
    shape = Shape.make(outer.outer, piece.shape.holes)
    if problem := shape_problem(shape):
        raise InputError(f"piece '{piece.name}'", problem, "a smaller offset")
    return snapped(replace(piece, shape=shape, recipe=None), piece, MITRE * abs(by) + 0.1)


def carried(piece: Piece, shape: Shape) -> Piece:
    """Return a piece with another outline, what is drawn on it carried along with its box."""
    (x0, y0, x1, y1), (u0, v0, u1, v1) = piece.shape.bounds, shape.bounds
    if not (piece.match_marks or piece.labels or piece.edges or piece.lines):
        return replace(piece, shape=shape)
    factors = np.array([(u1 - u0) / (x1 - x0), (v1 - v0) / (y1 - y0)])

    def move(points: Array) -> Array:
        return np.asarray((points - [x0, y0]) * factors + [u0, v0])

    return snapped(replace(piece.moved_by(move), shape=shape), piece)
