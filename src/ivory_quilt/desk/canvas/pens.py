"""Pens that are as wide on the screen at any zoom, and outlines drawn with them."""

from functools import cache

from PySide6.QtCore import Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen

from ivory_quilt.core.pattern.piece import LineKind
from ivory_quilt.desk.theme.palette import Palette

HAIR = 1.0  # px: lines as thin as this are drawn several times faster; for views of many parts
_DASHES = {
    LineKind.SCORE: (6.0, 3.0),
    LineKind.SLIT: (),
    LineKind.FOLD: (10.0, 3.0, 2.0, 3.0),
    LineKind.UNDERCUT: (6.0, 2.0, 6.0, 2.0, 1.5, 2.0),
    LineKind.MARK: (1.5, 2.5),
    LineKind.CENTRE: (14.0, 3.0, 3.0, 3.0),
    LineKind.GRAIN: (),
    LineKind.OTHER: (2.0, 2.0),
}
_TOLD = (
    LineKind.MARK,
    LineKind.CENTRE,
    LineKind.GRAIN,
    LineKind.OTHER,
)  # nothing is cut along these


def line_pen(kind: LineKind, look: Palette, width: float = 1.4) -> QPen:
    """Return the pen of a line inside a piece; what is cut in part has the colour of scoring."""
    name = "ink_soft" if kind in _TOLD else "cut" if kind is LineKind.SLIT else "score"
    return cosmetic(look.colour(name), width, _DASHES[kind])


def cosmetic(colour: QColor, width: float, dashes: tuple[float, ...] = ()) -> QPen:
    """Return a pen of `width` px at any zoom; not to be changed."""
    return _cosmetic(colour.rgba(), width, dashes)


def draw_outline(painter: QPainter, path: QPainterPath, fill: QBrush | QColor, pen: QPen) -> None:
    """Fill a path and draw its outline, smooth, with a pen that covers the edge of the filling.

    What the pen covers need not be smooth as well: that would take twice as long.
    """
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, on=False)
    painter.fillPath(path, fill)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, on=True)
    painter.strokePath(path, pen)


@cache
def _cosmetic(rgba: int, width: float, dashes: tuple[float, ...]) -> QPen:
    pen = QPen(QColor.fromRgba(rgba), width)
    pen.setCosmetic(True)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if dashes:
        pen.setDashPattern([d / width for d in dashes])
    return pen
