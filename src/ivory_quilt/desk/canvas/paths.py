"""From shapes in mm, y upwards, to painter paths in scene coordinates, y downwards.

A path is made once a shape and then only moved by the painter's own transforms: layouts change
many times a second while the engine improves them, outlines do not.
"""

from collections.abc import Iterable
from functools import lru_cache

import numpy as np
from PySide6.QtCore import QByteArray, QDataStream, QPointF, QRectF
from PySide6.QtGui import QPainterPath, QPolygonF, QTransform
from shapely import LineString, Polygon

from ivory_quilt.core.geometry.shape import Array, Point, Pose, Shape, longest_chord
from ivory_quilt.core.pattern.piece import PieceLine


def scene_point(point: Point) -> QPointF:
    """Return a point in mm, y upwards, as a point of the scene."""
    return QPointF(point[0], -point[1])


MANY, THINNED = 40, 0.05  # points, mm
PLAIN_POINTS = 24


def _polygon(points: Array) -> QPolygonF:
    """Return points as Qt reads them from a stream: ten times as fast as one by one."""
    flipped = points * np.array([1.0, -1.0])
    data = len(points).to_bytes(4, "big") + flipped.astype(">f8").tobytes()
    stream = QDataStream(QByteArray(data))
    polygon = QPolygonF()
    stream >> polygon
    return polygon


@lru_cache(maxsize=4096)
def shape_path(shape: Shape) -> QPainterPath:
    """Return a shape's outline and holes as one path, for the eye alone; not to be changed.

    Outlines with many points are thinned by a twentieth of a millimetre, which no screen shows.
    """
    if sum(len(r) for r in shape.rings) > MANY:
        return polygon_path(_thinned(shape))
    return _rings_path(shape.rings)


@lru_cache(maxsize=4096)
def _thinned(shape: Shape) -> Polygon:
    return _simpler(shape.polygon, THINNED)


def _simpler(polygon: Polygon, by: float) -> Polygon:
    """Return a polygon in fewer corners, or itself where that would part it."""
    # Outlines that come to cross themselves by as little are no harm to the eye.
    plain = polygon.simplify(by, preserve_topology=False)
    return plain if isinstance(plain, Polygon) and not plain.is_empty else polygon


@lru_cache(maxsize=4096)
def plain_paths(shape: Shape, by: tuple[float, ...]) -> tuple[QPainterPath, ...]:
    """Return a shape's path in fewer and fewer corners, for views of many parts.

    Each is off by `by` mm at most, which rise. Each is made of the one before it: that is quicker.
    Not to be changed.
    """
    if len(shape.outer) <= PLAIN_POINTS:
        return (shape_path(shape),) * len(by)
    polygon, off, found = _thinned(shape), THINNED, []
    for most in by:
        polygon, off = _simpler(polygon, most - off), most
        found.append(polygon_path(polygon))
    return tuple(found)


def polygon_path(polygon: Polygon) -> QPainterPath:
    """Return the path of a polygon of the general geometry library."""
    rings = (polygon.exterior, *polygon.interiors)
    return _rings_path(np.asarray(r.coords)[:-1, :2] for r in rings)


def _rings_path(rings: Iterable[Array]) -> QPainterPath:
    path = QPainterPath()
    for ring in rings:
        path.addPolygon(_polygon(ring))
        path.closeSubpath()
    return path


@lru_cache(maxsize=4096)
def line_path(line: PieceLine) -> QPainterPath:
    """Return an open line as a path, thinned as outlines are; not to be changed."""
    return run_path(line.points)


def run_path(points: Array) -> QPainterPath:
    """Return an open line (n, 2) as a path, thinned as outlines are."""
    if len(points) > MANY:
        points = np.asarray(LineString(points).simplify(THINNED).coords)
    path = QPainterPath()
    path.addPolygon(_polygon(points))
    return path


def pose_transform(pose: Pose) -> QTransform:
    """Return a pose as a transform of scene coordinates."""
    a, b, c, d = pose.matrix
    return QTransform(a, -c, -b, d, pose.x, -pose.y)


def placed_path(shape: Shape, pose: Pose) -> QPainterPath:
    """Return a shape's path where `pose` puts it."""
    return pose_transform(pose).map(shape_path(shape))


def label_place(shape: Shape, pose: Pose) -> tuple[QPointF, float]:
    """Return where a placed shape's label stands in the scene, and the room there, mm."""
    x, y, room = _turned_chord(shape, pose.rotation, mirrored=pose.mirrored)
    return QPointF(x + pose.x, -(y + pose.y)), room


@lru_cache(maxsize=8192)
def _turned_chord(shape: Shape, rotation: float, *, mirrored: bool) -> tuple[float, float, float]:
    turned = Pose(0.0, 0.0, rotation, mirrored)
    edges = shape.edges
    return longest_chord(np.hstack((turned.apply(edges[:, :2]), turned.apply(edges[:, 2:]))))


def shape_rect(shape: Shape) -> QRectF:
    """Return a shape's box in scene coordinates."""
    x0, y0, x1, y1 = shape.bounds
    return QRectF(x0, -y1, x1 - x0, y1 - y0)
