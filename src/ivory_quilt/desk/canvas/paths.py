"""From shapes in mm, y upwards, to painter paths in scene coordinates, y downwards."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainterPath, QPolygonF

from ivory_quilt.core.geometry.shape import Array, Shape


def _polygon(points: Array) -> QPolygonF:
    flipped = points * np.array([1.0, -1.0])
    return QPolygonF([QPointF(x, y) for x, y in flipped.tolist()])


def shape_path(shape: Shape) -> QPainterPath:
    """Return a shape's outline and holes as one path."""
    path = QPainterPath()
    for ring in shape.rings:
        path.addPolygon(_polygon(ring))
        path.closeSubpath()
    return path


def line_path(points: Array) -> QPainterPath:
    """Return an open line as a path."""
    path = QPainterPath()
    path.addPolygon(_polygon(points))
    return path


def shape_rect(shape: Shape) -> QRectF:
    """Return a shape's box in scene coordinates."""
    x0, y0, x1, y1 = shape.bounds
    return QRectF(x0, -y1, x1 - x0, y1 - y0)
