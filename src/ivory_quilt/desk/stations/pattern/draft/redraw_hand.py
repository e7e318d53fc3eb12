"""The hand that draws a stretch of an outline anew."""

import numpy as np
from PySide6.QtGui import QPainter, QPolygonF

from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.desk.canvas.paths import scene_point
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.stations.pattern.draft.outline_presenter import OutlinePresenter
from ivory_quilt.desk.stations.pattern.draft.picture_presenter import PicturePresenter
from ivory_quilt.desk.theme.palette import Palette

PULL = 1.5  # times the reach that a stroke is pulled to what a picture shows
FROM_EDGE = 2.0  # times the reach that a stroke may begin off the outline


class RedrawHand:
    """What the mouse does with the Redraw tool."""

    def __init__(self, presenter: OutlinePresenter, picture: PicturePresenter) -> None:
        """Work `presenter`, by what `picture` shows."""
        self._presenter, self._picture = presenter, picture
        self.stroke: list[Point] = []

    def press(self, hand: Point) -> None:
        """Begin a stroke."""
        self.stroke = [hand]

    def move(self, hand: Point) -> None:
        """Go on with it."""
        if self.stroke:
            self.stroke.append(hand)

    def release(self, reach: float) -> None:
        """Draw the outline anew along the stroke.

        Raises:
            InputError: it does not begin and end at the outline, or makes none.
        """
        stroke, self.stroke = self.stroke, []
        if len(stroke) > 1:
            line = self._picture.pulled(np.array(stroke), PULL * reach)
            self._presenter.redraw(line, self._picture.wobble, FROM_EDGE * reach)

    def let_go(self) -> bool:
        """Let go of the stroke; return whether there was one."""
        had, self.stroke = bool(self.stroke), []
        return had

    def paint(self, painter: QPainter, look: Palette) -> None:
        """Draw the stroke."""
        if len(self.stroke) > 1:
            painter.setPen(cosmetic(look.colour("iris"), 2.4))
            painter.drawPolyline(QPolygonF([scene_point(p) for p in self.stroke]))
