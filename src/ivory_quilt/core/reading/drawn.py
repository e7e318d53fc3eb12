"""What is drawn in a file, as it stands there: paths and words."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Point

FURTHEST = 1e5  # mm from the drawing's origin: 100 m


@dataclass(frozen=True)
class RawPath:
    """One path as drawn: points (n, 2) in mm, y upwards.

    Raises:
        InputError: a coordinate is no number, or lies beyond 100 m.
    """

    points: Array
    closed: bool
    layer: str = ""
    name: str = ""

    def __post_init__(self) -> None:
        if not np.abs(self.points).max(initial=0.0) <= FURTHEST:
            check_reach(self.points, f"outline '{self.name or self.layer}'".replace(" ''", ""))


def check_reach(coordinates: ArrayLike, where: str) -> None:
    """Refuse coordinates, in mm, that no drawing of a suit has.

    Raises:
        InputError: one is no number, or lies beyond 100 m.
    """
    most = float(np.abs(np.asarray(coordinates, dtype=np.float64)).max(initial=0.0))
    if most <= FURTHEST:
        return
    if math.isfinite(most):
        problem = f"a coordinate lies {most / 1000:.4g} m from the origin"
        raise InputError(where, problem, "coordinates within 100 m")
    raise InputError(where, "a coordinate is not a number", "numbers")


@dataclass(frozen=True)
class RawText:
    """Words on a drawing, and where they stand (mm, y upwards)."""

    text: str
    at: Point
