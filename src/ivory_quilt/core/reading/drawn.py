"""What is drawn in a file, as it stands there: paths and words."""

from dataclasses import dataclass

import numpy as np

from ivory_quilt.core.geometry.reach import FURTHEST, check_reach
from ivory_quilt.core.geometry.shape import Array, Point


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


@dataclass(frozen=True)
class RawText:
    """Words on a drawing, and where they stand (mm, y upwards)."""

    text: str
    at: Point
