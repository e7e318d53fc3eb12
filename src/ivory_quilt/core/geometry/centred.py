"""Poses about a shape's centre of area: where it lies, and the pose that puts it somewhere."""

import numpy as np

from ivory_quilt.core.geometry.shape import Point, Pose, Shape
from ivory_quilt.core.record import replace


def centre_of(shape: Shape, pose: Pose) -> Point:
    """Return where the centre of area of a placed shape lies."""
    x, y = pose.apply(np.array([shape.centroid]))[0]
    return float(x), float(y)


def at_centre(shape: Shape, pose: Pose, centre: Point) -> Pose:
    """Return the pose moved so that the shape's centre of area lies at `centre`."""
    x, y = centre_of(shape, pose)
    return replace(pose, x=pose.x + centre[0] - x, y=pose.y + centre[1] - y)


def about_centre(shape: Shape, pose: Pose, rotation: float, *, mirrored: bool) -> Pose:
    """Return the pose with another angle and hand, the centre of area kept in place."""
    return at_centre(shape, Pose(0.0, 0.0, rotation, mirrored), centre_of(shape, pose))
