"""Developing: laying a bent strip flat without stretching it."""

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array


def develop_strip(left: Array, right: Array) -> tuple[Array, Array]:
    """Lay the strip between two curves in space flat, triangle by triangle.

    `left` and `right` are (m, 3): opposite points along the two edges, m ≥ 2. Every edge of every
    triangle keeps its length, so that the seams of neighbouring strips, developed from the same
    curve, agree exactly. Source: triangulation, the general method of sheet development.

    Returns:
        The two edges in the plane, (m, 2) each; left[0] lies at the origin, right[0] on +x.

    Raises:
        InputError: the curves differ in length or a triangle has no area.
    """
    if left.shape != right.shape or left.ndim != 2 or left.shape[1] != 3 or len(left) < 2:
        raise InputError("strip", "its edges do not correspond", "two (m, 3) curves")
    flat_left, flat_right = np.zeros((len(left), 2)), np.zeros((len(left), 2))
    flat_right[0] = (_distance(left[0], right[0]), 0.0)
    for k in range(1, len(left)):
        # Up the left side over the diagonal, then up the right side.
        flat_left[k] = _third(
            flat_left[k - 1],
            flat_right[k - 1],
            _distance(left[k - 1], left[k]),
            _distance(right[k - 1], left[k]),
        )
        flat_right[k] = _third(
            flat_left[k],
            flat_right[k - 1],
            _distance(left[k], right[k]),
            _distance(right[k - 1], right[k]),
        )
    return flat_left, flat_right


def _distance(a: Array, b: Array) -> float:
    return float(np.linalg.norm(a - b))


def _third(a: Array, b: Array, from_a: float, from_b: float) -> Array:
    """Return the point at given distances from `a` and `b`, to the left of a → b."""
    base = float(np.hypot(*(b - a)))
    if base < 1e-9:
        if abs(from_a - from_b) > 1e-6:
            raise InputError("strip", "a triangle does not close", "a true surface")
        return np.asarray(a + np.array([0.0, from_a]))
    along = (base * base + from_a * from_a - from_b * from_b) / (2 * base)
    off = np.sqrt(max(0.0, from_a * from_a - along * along))
    ahead = (b - a) / base
    return np.asarray(a + along * ahead + off * np.array([-ahead[1], ahead[0]]))
