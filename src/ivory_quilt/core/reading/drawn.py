"""What is drawn in a file, as it stands there: paths and words."""

import numpy as np

from ivory_quilt.core.geometry.reach import FURTHEST, check_reach
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.record import Struct


class RawPath(Struct, frozen=True):
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


class RawText(Struct, frozen=True):
    """Words on a drawing, and where they stand (mm, y upwards)."""

    text: str
    at: Point
