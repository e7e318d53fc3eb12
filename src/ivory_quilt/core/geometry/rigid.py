"""The rigid move that lays points on others best (Kabsch 1976, in the plane)."""

import math

import numpy as np

from ivory_quilt.core.geometry.shape import Array, Pose


def rigid_fit(points: Array, onto: Array, *, turned: bool = True) -> tuple[Pose, float]:
    """Return the pose that lays `points` (n, 2) on `onto` (n, 2), and how far they stay off, mm.

    The distance is root mean square. Without `turned` the points are only moved.
    """
    ca, cb = points.mean(axis=0), onto.mean(axis=0)
    u, v = points - ca, onto - cb
    angle = 0.0
    if turned and len(points) > 1:
        across = float((u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]).sum())
        angle = math.degrees(math.atan2(across, float((u * v).sum())))
    x, y = cb - Pose(0.0, 0.0, angle).apply(ca[None])[0]
    pose = Pose(float(x), float(y), angle)
    off = float(np.sqrt(((pose.apply(points) - onto) ** 2).sum(axis=1).mean()))
    return pose, off
