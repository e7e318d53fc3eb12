"""The picture beneath the piece: painted, moved by hand, measured with a line."""

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QTransform

from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.desk.canvas.paths import scene_point
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.stations.pattern.draft.picture_presenter import PicturePresenter
from ivory_quilt.desk.stations.pattern.draft.underlay import Underlay
from ivory_quilt.desk.theme.palette import Palette

MOST_PIXELS = 4_000_000  # that are painted; more would be slow to draw and no plainer
SHOWN = 0.75  # how strongly it is painted


class PictureHand:
    """What the mouse does with the Picture tool."""

    def __init__(self, presenter: PicturePresenter) -> None:
        """Work `presenter`."""
        self._presenter = presenter
        self._held: tuple[Point, Underlay] | None = None
        self._laying = False
        self._image: tuple[object, QImage] | None = None

    def press(self, hand: Point, event: QMouseEvent) -> None:
        """Take hold of the picture, or begin a line over it."""
        p = self._presenter
        if p.underlay is None:
            return
        self._laying = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self._laying:
            p.known = (hand, hand)
        else:
            self._held = (hand, p.underlay)

    def move(self, hand: Point) -> None:
        """Move it along, or draw the line."""
        p = self._presenter
        if self._laying and p.known is not None:
            p.known = (p.known[0], hand)
        elif self._held is not None:
            start, was = self._held
            p.lay(was.moved((hand[0] - start[0], hand[1] - start[1])))

    def release(self) -> None:
        """Let go."""
        self._held, self._laying = None, False
        if self._presenter.known_length < 1.0:
            self._presenter.known = None

    def ground(self) -> QRectF:
        """Return the box that the picture takes in the scene."""
        under = self._presenter.underlay
        if under is None:
            return QRectF()
        high, wide = under.grey.shape
        x, y = under.millimetres(np.array([(0, 0), (wide, 0), (wide, high), (0, high)])).T
        return QRectF(x.min(), -y.max(), np.ptp(x), np.ptp(y))

    def paint_picture(self, painter: QPainter) -> None:
        """Paint the picture where it lies."""
        under = self._presenter.underlay
        if under is None:
            return
        if self._image is None or self._image[0] is not under.grey:
            self._image = under.grey, _image(under.grey)
        image = self._image[1]
        wide, high = under.size
        painter.save()
        painter.setOpacity(SHOWN)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        place = QTransform()
        place.translate(under.at[0], -under.at[1])
        place.rotate(-under.turn)
        place.translate(0, -high)
        place.scale(wide / image.width(), high / image.height())
        painter.setTransform(place, combine=True)
        painter.drawImage(0, 0, image)
        painter.restore()

    def paint(self, painter: QPainter, look: Palette) -> None:
        """Draw the line over something known."""
        known = self._presenter.known
        if known is not None:
            painter.setPen(cosmetic(look.colour("iris"), 2.4))
            painter.drawLine(scene_point(known[0]), scene_point(known[1]))


def _image(grey: np.ndarray) -> QImage:
    step = 1
    while grey.size / step**2 > MOST_PIXELS:
        step += 1
    plain = np.ascontiguousarray(grey[::step, ::step], dtype=np.uint8)
    high, wide = plain.shape
    return QImage(plain.tobytes(), wide, high, wide, QImage.Format.Format_Grayscale8).copy()
