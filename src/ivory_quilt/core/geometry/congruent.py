"""Whether one outline can be laid on another, turned or turned over."""

from collections.abc import Iterator

import numpy as np

from ivory_quilt.core.geometry.rigid import rigid_fit
from ivory_quilt.core.geometry.shape import Array, Pose, Shape, ring_length

SAME = 0.05  # mm: closer than anybody cuts (our choice)


def ways_onto(one: Shape, other: Shape, within: float = SAME) -> Iterator[Pose]:
    """Yield poses that lay `one` on `other`, corner on corner; turned over only at last.

    Outlines must have as many corners.
    """
    counts = [len(r) for r in one.rings]
    if counts != [len(r) for r in other.rings]:
        return
    if abs(one.area - other.area) > within * max(ring_length(one.outer), 1.0):
        return
    for mirrored in (False, True):
        for pose in _corners_on_corners(one.outer, other.outer, within, mirrored=mirrored):
            if len(counts) == 1 or _holes_too(one, other, pose, within):
                yield pose


def _corners_on_corners(
    ring: Array, onto: Array, within: float, *, mirrored: bool
) -> Iterator[Pose]:
    # Turned over, a ring runs the other way round.
    points = ring[::-1] * [-1.0, 1.0] if mirrored else ring
    around = np.linalg.norm(points - np.roll(points, -1, axis=0), axis=1)
    target = np.linalg.norm(onto - np.roll(onto, -1, axis=0), axis=1)
    for shift in range(len(points)):
        if np.abs(np.roll(around, -shift) - target).max() > 2 * within:
            continue
        rolled = np.roll(points, -shift, axis=0)
        pose, _ = rigid_fit(rolled, onto)
        if np.linalg.norm(pose.apply(rolled) - onto, axis=1).max() <= within:
            yield Pose(pose.x, pose.y, pose.rotation, mirrored)


def _holes_too(one: Shape, other: Shape, pose: Pose, within: float) -> bool:
    # Overlaying two outlines that all but coincide can go wrong; distances cannot.
    moved = one.placed(pose).polygon.boundary
    return bool(moved.hausdorff_distance(other.polygon.boundary) <= within)
