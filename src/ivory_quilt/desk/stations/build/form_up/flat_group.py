"""The flat pieces of a group side by side, with their strain: where to mend them."""

from collections.abc import Callable
from functools import partial

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape
from ivory_quilt.core.formup.skin import bands_of
from ivory_quilt.desk.stations.build.form_up.tones import band_colours
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.theme.style import words
from ivory_quilt.desk.work import Background

EDGE, BETWEEN, NAMES = 18.0, 14.0, 22.0


class FlatGroup(QWidget):
    """All panels of a formed group, flat, to one scale."""

    picked = Signal(str)
    """A panel was clicked: its piece's id."""

    def __init__(self, background: Callable[[], Background]) -> None:
        """Show nothing yet; thousands of triangles are painted on `background`'s thread."""
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(220, 180)
        self.setAccessibleName("flat pieces of the group, with their strain")
        self.look: Palette = LIGHT
        self._background = background
        self._shape: FormedShape | None = None
        self._names: tuple[tuple[str, str], ...] = ()
        self._front = ""
        self._places: list[QRectF] = []
        self._image: QImage | None = None
        self._painted: tuple[object, ...] = ()
        self._asked: tuple[object, ...] = ()

    def show_shape(
        self,
        shape: FormedShape | None,
        names: tuple[tuple[str, str], ...],
        front: str,
        look: Palette,
    ) -> None:
        """Show a shape's panels: each one's (piece id, name), and which piece is under work."""
        self.look, self._shape, self._names, self._front = look, shape, names, front
        self.update()

    def _laid_out(self) -> tuple[float, list[QPointF]]:
        """Return the scale, and where each panel's lower left corner comes, in rows."""
        assert self._shape is not None
        sizes = [np.ptp(p.flat, axis=0) for p in self._shape.panels]
        wide, high = self.width() - 2 * EDGE, self.height() - 2 * EDGE
        best: tuple[float, list[QPointF]] = (0.0, [])
        for columns in range(1, len(sizes) + 1):
            rows = [sizes[k : k + columns] for k in range(0, len(sizes), columns)]
            across = max(sum(float(s[0]) for s in r) for r in rows)
            up = sum(max(float(s[1]) for s in r) for r in rows)
            room_x = wide - BETWEEN * (columns - 1)
            room_y = high - (BETWEEN + NAMES) * len(rows)
            scale = min(room_x / max(across, 1e-6), room_y / max(up, 1e-6))
            if scale > best[0]:
                best = (scale, self._places_in(rows, scale))
        return best

    def _places_in(self, rows: list[list[np.ndarray]], scale: float) -> list[QPointF]:
        places, top = [], EDGE
        for one in rows:
            tall = max(float(s[1]) for s in one) * scale
            left = EDGE
            for size in one:
                places.append(QPointF(left, top + tall))
                left += float(size[0]) * scale + BETWEEN
            top += tall + NAMES + BETWEEN
        return places

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint every panel's outline and name over the bands that are painted by now."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.look.colour("paper"))
        self._places = []
        shape = self._shape
        if shape is None or not shape.panels:
            return
        scale, corners = self._laid_out()
        ratio = self.devicePixelRatioF()
        wanted = (shape, self.size(), ratio, self.look)
        if wanted != self._painted and wanted != self._asked:
            self._asked = wanted
            size = (round(self.width() * ratio), round(self.height() * ratio))
            work = partial(_bands, shape, corners, scale * ratio, ratio, size, self.look)
            self._background()(work, partial(self._have, wanted))
        # The last picture stays until the next one is there, where the pieces lie as before.
        if self._image is not None and wanted[1:] == self._painted[1:]:
            painter.drawImage(QRectF(self.rect()), self._image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for panel, corner, (ident, name) in zip(shape.panels, corners, self._names, strict=False):
            self._outline(painter, panel, corner, scale, name, front=ident == self._front)

    def _have(self, wanted: tuple[object, ...], image: QImage | None, _: Exception | None) -> None:
        if wanted == self._asked and image is not None:
            self._image, self._painted = image, wanted
            self.update()

    def _outline(
        self,
        painter: QPainter,
        panel: FormedPanel,
        corner: QPointF,
        scale: float,
        name: str,
        *,
        front: bool,
    ) -> None:
        low = panel.flat.min(0)
        rim = (panel.flat[: panel.boundary] - low) * (scale, -scale) + (corner.x(), corner.y())
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self.look.colour("ink"), 2.4 if front else 1.2))
        painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in rim.tolist()]))
        wide = float(np.ptp(panel.flat[:, 0])) * scale
        high = float(np.ptp(panel.flat[:, 1])) * scale
        self._places.append(QRectF(corner.x(), corner.y() - high, wide, high))
        painter.setFont(words(12))
        box = QRectF(corner.x(), corner.y() + 3, max(wide, 60.0), NAMES)
        shown = painter.fontMetrics().elidedText(
            name, Qt.TextElideMode.ElideRight, round(box.width())
        )
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take up the piece that is clicked."""
        for place, (ident, _) in zip(self._places, self._names, strict=False):
            if place.contains(event.position()):
                self.picked.emit(ident)
                return


def _bands(
    shape: FormedShape,
    corners: list[QPointF],
    scale: float,
    ratio: float,
    size: tuple[int, int],
    look: Palette,
) -> QImage:
    """Return the panels' triangles in their bands' tones; any thread."""
    image = QImage(*size, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.setPen(Qt.PenStyle.NoPen)
    colours = band_colours(look)
    for panel, corner in zip(shape.panels, corners, strict=True):
        low = panel.flat.min(0)
        at = (corner.x() * ratio, corner.y() * ratio)
        spots = ((panel.flat - low) * (scale, -scale) + at).tolist()
        points = [QPointF(x, y) for x, y in spots]
        bands = bands_of(panel)
        for band in np.unique(bands).tolist():
            painter.setBrush(colours[band])
            for i, j, k in panel.triangles[bands == band].tolist():
                painter.drawPolygon(QPolygonF([points[i], points[j], points[k]]))
    painter.end()
    return image
