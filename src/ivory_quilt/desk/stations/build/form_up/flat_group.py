"""The flat pieces of a group side by side, with their strain: where to mend them."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape
from ivory_quilt.core.formup.skin import bands_of
from ivory_quilt.desk.stations.build.form_up.tones import band_colours
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.theme.style import words
from ivory_quilt.desk.work import Background

EDGE, BETWEEN, NAMES = 18.0, 14.0, 22.0


@dataclass(frozen=True, eq=False)
class _Sheet:
    """What is painted: all of it, on another thread.

    Attributes:
        panels: of the formed group.
        names: each one's (piece id, name); `front` is the id of the piece under work.
        wide, high: of the widget; `ratio` pixels for each of its own.
    """

    panels: tuple[FormedPanel, ...]
    names: tuple[tuple[str, str], ...]
    front: str
    wide: int
    high: int
    ratio: float
    look: Palette

    def same(self, other: "_Sheet | None") -> bool:
        """Whether another would be painted alike."""
        if other is None or self.panels is not other.panels:
            return False
        mine, its = ((s.names, s.front, s.wide, s.high, s.ratio, s.look) for s in (self, other))
        return mine == its


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
        self._asked: _Sheet | None = None

    def show_shape(
        self,
        shape: FormedShape | None,
        names: tuple[tuple[str, str], ...],
        front: str,
        look: Palette,
    ) -> None:
        """Show a shape's panels: each one's (piece id, name), and which piece is under work."""
        self.look, self._shape, self._names, self._front = look, shape, names, front
        self._ask()

    def resizeEvent(self, _event: object) -> None:
        """Paint anew."""
        self._ask()

    def showEvent(self, _event: object) -> None:
        """Paint what nobody saw."""
        self._ask()

    def _ask(self) -> None:
        """Have it painted, unless it is; the last picture stays until then."""
        shape = self._shape
        if shape is None or not shape.panels:
            self._asked, self._image, self._places = None, None, []
            self.update()
            return
        if not self.isVisible():
            return
        ratio = self.devicePixelRatioF()
        sheet = _Sheet(
            shape.panels, self._names, self._front, self.width(), self.height(), ratio, self.look
        )
        if not sheet.same(self._asked):
            self._asked = sheet
            self._background()(partial(_painted, sheet), partial(self._have, sheet))

    def _have(
        self,
        sheet: _Sheet,
        found: tuple[QImage, list[QRectF]] | None,
        error: Exception | None,
    ) -> None:
        if found is None:
            raise error or AssertionError
        if sheet is self._asked:
            self._image, self._places = found
            self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Show what is painted by now."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.look.colour("paper"))
        if self._image is not None:
            painter.drawImage(0, 0, self._image)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take up the piece that is clicked."""
        for place, (ident, _) in zip(self._places, self._names, strict=False):
            if place.contains(event.position()):
                self.picked.emit(ident)
                return


def _laid_out(sheet: _Sheet) -> tuple[float, list[QPointF]]:
    """Return the scale, and where each panel's lower left corner comes, in rows."""
    sizes = [np.ptp(p.flat, axis=0) for p in sheet.panels]
    wide, high = sheet.wide - 2 * EDGE, sheet.high - 2 * EDGE
    best: tuple[float, list[QPointF]] = (0.0, [QPointF(EDGE, EDGE)] * len(sizes))
    for columns in range(1, len(sizes) + 1):
        rows = [sizes[k : k + columns] for k in range(0, len(sizes), columns)]
        across = max(sum(float(s[0]) for s in r) for r in rows)
        up = sum(max(float(s[1]) for s in r) for r in rows)
        room_x = wide - BETWEEN * (columns - 1)
        room_y = high - (BETWEEN + NAMES) * len(rows)
        scale = min(room_x / max(across, 1e-6), room_y / max(up, 1e-6))
        if scale > best[0]:
            best = (scale, _places_in(rows, scale))
    return best


def _places_in(rows: list[list[np.ndarray]], scale: float) -> list[QPointF]:
    places, top = [], EDGE
    for one in rows:
        tall = max(float(s[1]) for s in one) * scale
        left = EDGE
        for size in one:
            places.append(QPointF(left, top + tall))
            left += float(size[0]) * scale + BETWEEN
        top += tall + NAMES + BETWEEN
    return places


def _painted(sheet: _Sheet) -> tuple[QImage, list[QRectF]]:
    """Return the panels in their bands' tones with outlines and names, and where; any thread."""
    ratio = sheet.ratio
    size = QSize(round(sheet.wide * ratio), round(sheet.high * ratio))
    image = QImage(size, QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    colours = band_colours(sheet.look)
    scale, corners = _laid_out(sheet)
    places = []
    for panel, corner, (ident, name) in zip(sheet.panels, corners, sheet.names, strict=False):
        spots = (panel.flat - panel.flat.min(0)) * (scale, -scale) + (corner.x(), corner.y())
        points = [QPointF(x, y) for x, y in spots.tolist()]
        bands = bands_of(panel)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, on=False)
        painter.setPen(Qt.PenStyle.NoPen)
        for band in np.unique(bands).tolist():
            painter.setBrush(colours[band])
            for i, j, k in panel.triangles[bands == band].tolist():
                painter.drawPolygon(QPolygonF([points[i], points[j], points[k]]))
        rim = QPolygonF(points[: panel.boundary])
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(sheet.look.colour("ink"), 2.4 if ident == sheet.front else 1.2))
        painter.drawPolygon(rim)
        place = rim.boundingRect()
        places.append(place)
        _write(painter, place, name)
    painter.end()
    return image, places


def _write(painter: QPainter, place: QRectF, name: str) -> None:
    """Write a panel's name below it."""
    painter.setFont(words(12))
    box = QRectF(place.left(), place.bottom() + 3, max(place.width(), 60.0), NAMES)
    shown = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, round(box.width()))
    painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)
