"""The flat pieces of a group side by side, with their strain: where to mend them."""

from collections.abc import Callable
from functools import partial

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape
from ivory_quilt.core.formup.skin import MASKED, bands_of
from ivory_quilt.core.record import Struct
from ivory_quilt.core.rendering.scene import STRAIGHT, Scene, View
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.solid.view import rgb
from ivory_quilt.desk.stations.build.form_up.tones import band_colours
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.theme.style import words
from ivory_quilt.desk.work import Background

EDGE, BETWEEN, NAMES = 18.0, 14.0, 22.0


class _Sheet(Struct, frozen=True, eq=False):
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

    @property
    def pixels(self) -> tuple[int, int]:
        """The picture's own width and height."""
        return max(2, round(self.wide * self.ratio)), max(2, round(self.high * self.ratio))

    def same(self, other: "_Sheet | None") -> bool:
        """Whether another would be painted alike."""
        if other is None or self.panels is not other.panels:
            return False
        mine, its = ((s.names, s.front, s.wide, s.high, s.ratio, s.look) for s in (self, other))
        return mine == its


class _FlatDrawing(Struct, frozen=True, eq=False):
    """A sheet on its way: its triangles as a scene, and each panel's outline, pixels."""

    sheet: _Sheet
    scene: Scene
    rims: list[QPolygonF]


class FlatGroup(QWidget):
    """All panels of a formed group, flat, to one scale.

    Its thousands of triangles are painted by the engine, what is drawn over them on another thread.
    """

    picked = Signal(str)
    """A panel was clicked: its piece's id."""

    def __init__(self, engine: LayoutEngine, background: Callable[[], Background]) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(220, 180)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName("flat pieces of the group, with their strain")
        self.look: Palette = LIGHT
        self._engine, self._background = engine, background
        self._scene = engine.new_scene()
        self._shape: FormedShape | None = None
        self._names: tuple[tuple[str, str], ...] = ()
        self._front = ""
        self._places: list[QRectF] = []
        self._image: QImage | None = None
        self._shown: _Sheet | None = None
        self._busy = False

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
        """Have it painted, unless it is; the last picture stays until then.

        One at a time: the next is of what is wanted by then.
        """
        shape = self._shape
        if shape is None or not shape.panels:
            self._shown, self._image, self._places = None, None, []
            self.update()
            return
        if not self.isVisible() or self._busy:
            return
        ratio = self.devicePixelRatioF()
        sheet = _Sheet(
            shape.panels, self._names, self._front, self.width(), self.height(), ratio, self.look
        )
        if not sheet.same(self._shown):
            self._busy = True
            self._background()(partial(_drawn, sheet), self._have_drawn)

    def _have_drawn(self, drawn: _FlatDrawing | None, error: Exception | None) -> None:
        if drawn is None:
            raise error or AssertionError
        sheet, look = drawn.sheet, drawn.sheet.look
        wide, high = sheet.pixels
        tones = tuple(map(rgb, band_colours(look)))
        ground = rgb(look.colour("paper"))
        view = View(STRAIGHT, wide, high, tones, ground, ground=ground)
        self._engine.hold_scene(self._scene, drawn.scene)
        self._engine.paint(self._scene, view, partial(self._have_pixels, drawn))

    def _have_pixels(self, drawn: _FlatDrawing, pixels: bytes | None) -> None:
        if pixels is None:  # the engine cannot be had: what is asked for next may be answered
            self._busy = False
        else:
            self._background()(partial(_painted, drawn, pixels), partial(self._have, drawn))

    def _have(
        self,
        drawn: _FlatDrawing,
        found: tuple[QImage, list[QRectF]] | None,
        error: Exception | None,
    ) -> None:
        self._busy = False
        if found is None:
            raise error or AssertionError
        if self._shape is not None:
            self._shown, (self._image, self._places) = drawn.sheet, found
            self.update()
            self._ask()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Show what is painted by now."""
        painter = QPainter(self)
        if self._image is None or self._image.deviceIndependentSize() != self.size().toSizeF():
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


def _drawn(sheet: _Sheet) -> _FlatDrawing:
    """Return the panels' triangles in their bands, and outlines; any thread."""
    scale, corners = _laid_out(sheet)
    triangles, bands, rims = [], [], []
    for panel, corner in zip(sheet.panels, corners, strict=True):
        spots = (panel.flat - panel.flat.min(0)) * (scale, -scale) + (corner.x(), corner.y())
        triangles.append(spots[panel.triangles])
        bands.append(bands_of(panel))
        rims.append(QPolygonF([QPointF(x, y) for x, y in spots[: panel.boundary].tolist()]))
    every = np.concatenate(triangles) * sheet.ratio
    scene = Scene.flat(every, np.concatenate(bands), MASKED + 1, *sheet.pixels)
    return _FlatDrawing(sheet, scene, rims)


def _painted(drawn: _FlatDrawing, pixels: bytes) -> tuple[QImage, list[QRectF]]:
    """Return the panels with outlines and names over their triangles, and where; any thread."""
    sheet = drawn.sheet
    wide, high = sheet.pixels
    image = QImage(pixels, wide, high, 4 * wide, QImage.Format.Format_RGB32).copy()
    image.setDevicePixelRatio(sheet.ratio)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    places = []
    for rim, (ident, name) in zip(drawn.rims, sheet.names, strict=False):
        painter.setPen(QPen(sheet.look.colour("ink"), 2.4 if ident == sheet.front else 1.2))
        painter.drawPolygon(rim)
        places.append(rim.boundingRect())
        _write(painter, places[-1], name)
    painter.end()
    return image, places


def _write(painter: QPainter, place: QRectF, name: str) -> None:
    """Write a panel's name below it."""
    painter.setFont(words(12))
    box = QRectF(place.left(), place.bottom() + 3, max(place.width(), 60.0), NAMES)
    shown = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, round(box.width()))
    painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, shown)
