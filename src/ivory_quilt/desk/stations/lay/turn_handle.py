"""The handle by which the one chosen part is turned: where it stands, and how it looks."""

from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QGraphicsItem, QGraphicsView

from ivory_quilt.desk.theme.palette import Palette

HANDLE = 12.0  # px: its size


def handle_of(view: QGraphicsView, item: QGraphicsItem) -> QPointF:
    """Return where the handle of a part is, in the view."""
    box = item.mapToScene(item.boundingRect()).boundingRect()
    top = view.mapFromScene(QPointF(box.center().x(), box.top()))
    return QPointF(top.x(), top.y() - HANDLE * 2)


def draw_handle(painter: QPainter, at: QPointF, look: Palette) -> None:
    """Draw a handle at a place of the view, with its stem down to the part."""
    painter.save()
    painter.resetTransform()
    painter.setPen(QPen(look.colour("iris"), 2))
    painter.setBrush(look.colour("paper"))
    painter.drawLine(at, at + QPointF(0, HANDLE * 2))
    painter.drawEllipse(at, HANDLE / 2 + 2, HANDLE / 2 + 2)
    painter.restore()


def at_handle(place: QPointF, handle: QPointF | None) -> bool:
    """Whether a hand at a place of the view takes hold of a handle."""
    return handle is not None and (place - handle).manhattanLength() < HANDLE * 2
