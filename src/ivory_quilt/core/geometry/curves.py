"""Curves made straight, with a stated tolerance: no point of the curve lies further away.

Sources: the second-difference bound for Bézier flattening (the chord error of n equal parameter
steps of a degree-d Bézier is at most d(d−1)/8 · M / n², M = largest second difference of its
control points; Wang 1984, given in textbooks on computer-aided geometric design) and the sagitta
of a circular arc, s = r(1 − cos(θ/2)).
"""

import math

import numpy as np

from ivory_quilt.core.geometry.shape import Array, Point

TOLERANCE = 0.01  # mm; what is saved and cut is never coarser
MOST_STEPS = 4096


def bezier_steps(control: Array, tolerance: float) -> int:
    """Return how many equal parameter steps keep a Bézier within `tolerance` of its chords."""
    degree = len(control) - 1
    if degree < 2:
        return 1
    second = control[2:] - 2 * control[1:-1] + control[:-2]
    largest = float(np.hypot(second[:, 0], second[:, 1]).max())
    steps = math.ceil(math.sqrt(degree * (degree - 1) * largest / (8 * tolerance)))
    return min(max(steps, 1), MOST_STEPS)


def flatten_bezier(control: Array, tolerance: float = TOLERANCE) -> Array:
    """Return points (m, 2) along a quadratic or cubic Bézier, without its first point.

    `control` is (3, 2) or (4, 2), in mm.
    """
    n = bezier_steps(control, tolerance)
    t = np.linspace(0.0, 1.0, n + 1)[1:, None]
    u = 1.0 - t
    if len(control) == 3:
        points = u * u * control[0] + 2 * u * t * control[1] + t * t * control[2]
    else:
        points = (
            u**3 * control[0]
            + 3 * u * u * t * control[1]
            + 3 * u * t * t * control[2]
            + t**3 * control[3]
        )
    points[-1] = control[-1]
    return np.asarray(points, dtype=np.float64)


def arc_steps(radius: float, sweep: float, tolerance: float) -> int:
    """Return how many chords keep an arc of `sweep` radians within `tolerance`."""
    if radius <= tolerance:
        return max(1, math.ceil(abs(sweep) / (math.pi / 2)))
    largest = 2 * math.acos(max(-1.0, 1.0 - tolerance / radius))
    return min(max(1, math.ceil(abs(sweep) / largest)), MOST_STEPS)


def circle(center: Point, radius: float, tolerance: float = TOLERANCE) -> Array:
    """Return a circle as a ring (n, 2) whose vertices lie on it; n is a multiple of four."""
    n = 4 * math.ceil(arc_steps(radius, 2 * math.pi, tolerance) / 4)
    angle = np.arange(n) * (2 * math.pi / n)
    return np.column_stack((center[0] + radius * np.cos(angle), center[1] + radius * np.sin(angle)))
