"""How far from its origin anything of a suit may lie; further is a slip of the unit, or damage."""

import math

import numpy as np
from numpy.typing import ArrayLike

from ivory_quilt.core.errors import InputError

FURTHEST = 1e5  # mm from the origin: 100 m


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
