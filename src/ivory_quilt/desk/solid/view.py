"""The look at the formed piece: turned with the mouse or the arrow keys, nearer with the wheel."""

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.rendering.camera import Camera
from ivory_quilt.core.rendering.scene import Colour, Framing, Scene, View
from ivory_quilt.core.stacks.solid import FOAM, Solid
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.theme.palette import LIGHT, Palette, mix, tone
from ivory_quilt.desk.theme.style import words

PER_PIXEL = 0.5  # degrees
REST = 160  # ms after the last turn, until the fine picture
PREPARING = "The formed piece is shown as soon as the layout engine is ready."
FINE = 2  # times as fine while it rests
Colours = Callable[[Palette], tuple[QColor, ...]]
"""Says the colour of each layer of a solid, in a theme."""
KEYS = {
    Qt.Key.Key_Left: (-10, 0),
    Qt.Key.Key_Right: (10, 0),
    Qt.Key.Key_Up: (0, -10),
    Qt.Key.Key_Down: (0, 10),
}


class SolidView(QWidget):
    """One solid that can be turned."""

    def __init__(self, engine: LayoutEngine, scene: int | None = None) -> None:
        """Show nothing yet; `engine` paints, so that the window never waits for a picture.

        What it shows is the engine's `scene`, or one of its own.
        """
        super().__init__()
        self._engine = engine
        self.setAccessibleName("formed piece; arrow keys rotate it")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setToolTip("Drag to rotate, scroll to zoom, double-click to reset the view")
        self.camera = Camera()
        self.look: Palette = LIGHT
        self.words = ""
        self.scene = engine.new_scene() if scene is None else scene
        """The number of what it shows, at the engine."""
        self._framing: Framing | None = None
        self._lines: Array | None = None
        self._colours: Colours = lambda _: ()
        self._asked: View | None = None
        self._hand: QPointF | None = None
        self._image: QImage | None = None
        self._fine = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(REST)
        self._timer.timeout.connect(self._rest)

    def minimumSizeHint(self) -> QSize:
        """Room for a look."""
        return QSize(220, 180)

    def show_nothing(self, look: Palette, text: str = "") -> None:
        """Show `text` in place of a solid."""
        self._show(None, look, text, follows=False)

    def show_solid(self, solid: Solid, look: Palette, colours: Colours | None = None) -> None:
        """Show a solid: layers in the tones of their thickness, or those that `colours` says."""
        if not len(solid.corners):
            self.show_nothing(look)
            return
        scene = Scene.of(solid)
        self._engine.hold_scene(self.scene, scene)
        self._colours = colours or partial(foam_colours, solid)
        self._show(scene.framing, look, "", follows=False)

    def show_kept(
        self, framing: Framing, look: Palette, colours: Colours, *, follows: bool = False
    ) -> None:
        """Show what the engine was told to keep as `scene`, in the tones that `colours` says.

        One that `follows` the last takes its place once it is painted.
        """
        self._colours = colours
        self._show(framing, look, "", follows=follows)

    def _show(self, framing: Framing | None, look: Palette, text: str, *, follows: bool) -> None:
        self.look, self.words, self._framing = look, text, framing
        self._image, self._asked = (self._image if follows else None), None
        self._lines = None
        self._turned()

    def show_lines(self, lines: Array | None) -> None:
        """Show stretches of a line over the solid, `(n, 2, 3)` in its places."""
        if lines is not self._lines:
            self._lines = lines
            self.update()

    def set_look(self, look: Palette) -> None:
        """Take another theme."""
        if look is not self.look:
            self.look = look
            self._turned()

    @property
    def shows(self) -> bool:
        """Whether a solid is in sight."""
        return self._framing is not None and self._image is not None

    @property
    def rests(self) -> bool:
        """Whether the fine picture is there."""
        return self.shows and self._fine and self._asked is None

    def _waits(self) -> str:
        """Return what is said while there is no picture yet."""
        return "Loading …" if self._engine.loaded else PREPARING

    def _view(self, fine: int = 1) -> View:
        """Return how it is looked at now, painted `fine` times as finely as the widget."""
        ratio = self.devicePixelRatioF()
        wide, high = (max(2, round(v * ratio)) for v in (self.width(), self.height()))
        layers = tuple(map(rgb, self._colours(self.look)))
        line = QColor(self.look.paper) if self.look.dark else self.look.colour("ink")
        ground = rgb(self.look.colour("paper"))
        return View(self.camera, wide, high, layers, rgb(line), fine, ground)

    def _turned(self) -> None:
        self._fine = False
        self._timer.start()
        if self._framing is not None and self.isVisible() and self._asked is None:
            self._ask(self._view())
        self.update()

    def _ask(self, view: View) -> None:
        """Ask for a picture; one at a time, the next is of how it is seen by then."""
        self._asked = view
        self._engine.paint(self.scene, view, partial(self._have, view))

    def _have(self, view: View, pixels: bytes | None) -> None:
        if view is not self._asked:
            return  # of another solid
        self._asked = None
        if pixels is None or self._framing is None:
            return
        form = QImage.Format.Format_RGB32
        self._image = QImage(pixels, view.wide, view.high, 4 * view.wide, form).copy()
        self._fine = view == self._view(FINE)
        if not self._fine and view != self._view() and self.isVisible():
            self._ask(self._view())
        self.update()

    def _rest(self) -> None:
        if self._framing is None or not self.isVisible() or self._fine:
            return
        if self._asked is None:
            self._ask(self._view(FINE))
        else:
            self._timer.start()

    def showEvent(self, _event: object) -> None:
        """Paint what was not painted while nobody saw it."""
        self._turned()

    # Hands

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of it."""
        if event.button() == Qt.MouseButton.LeftButton:
            self._hand = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Turn it."""
        if self._hand is not None:
            way = event.position() - self._hand
            self._hand = event.position()
            self.camera = self.camera.turned(way.x() * PER_PIXEL, way.y() * PER_PIXEL)
            self._turned()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        """Let go."""
        self._hand = None
        self.setCursor(Qt.CursorShape.OpenHandCursor)

    def mouseDoubleClickEvent(self, _event: QMouseEvent) -> None:
        """Look as at first."""
        self.camera = Camera()
        self._turned()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Come nearer, or go further."""
        self.camera = self.camera.zoomed(1.0015 ** event.angleDelta().y())
        self._turned()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Turn with the arrows, + and - come nearer."""
        way = KEYS.get(Qt.Key(event.key()))
        if way is not None:
            self.camera = self.camera.turned(*way)
        elif event.text() in ("+", "-"):
            self.camera = self.camera.zoomed(1.2 if event.text() == "+" else 1 / 1.2)
        else:
            super().keyPressEvent(event)
            return
        self._turned()

    def resizeEvent(self, _event: object) -> None:
        """Paint anew."""
        self._turned()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the solid, or say why there is none."""
        painter = QPainter(self)
        if self._image is None or self._framing is None:
            painter.fillRect(self.rect(), self.look.colour("paper"))
            text = self.words or ("" if self._framing is None else self._waits())
            painter.setPen(self.look.colour("ink_soft"))
            painter.setFont(words(14))
            box = QRectF(self.rect()).adjusted(24, 24, -24, -24)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, text)
            return
        painter.drawImage(QRectF(self.rect()), self._image)
        self._draw_lines(painter)
        if self.hasFocus():
            painter.setPen(self.look.colour("iris"))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def _draw_lines(self, painter: QPainter) -> None:
        """Draw the lines over the solid, seen through it, dark on light so that they stand out."""
        if self._lines is None or self._framing is None or not len(self._lines):
            return
        places = self._lines.reshape(-1, 3)
        at = self._framing.seen(places, self.camera, self.width(), self.height())
        ends = [QPointF(x, y) for x, y in at.tolist()]
        stretches = [QLineF(a, b) for a, b in zip(ends[::2], ends[1::2], strict=True)]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for name, wide in (("paper", 4.5), ("iris", 2.2)):
            pen = QPen(self.look.colour(name), wide)
            pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(pen)
            painter.drawLines(stretches)


def foam_colours(solid: Solid, look: Palette) -> tuple[QColor, ...]:
    """Return the colour of each layer of a solid, by its thickness."""
    paper, share = look.colour("paper"), 0.8 if look.dark else 0.75
    return tuple(mix(paper, tone(t), share) for t in solid.thickness)


def painted_colours(solid: Solid, tones: tuple[str, ...], look: Palette) -> tuple[QColor, ...]:
    """Return the colour of each layer of a solid, of its regions the tone that each is in."""
    foam = foam_colours(solid, look)
    numbers = solid.toned or (FOAM,) * len(foam)
    return tuple(
        QColor(tones[n]) if n != FOAM else own for n, own in zip(numbers, foam, strict=True)
    )


def rgb(colour: QColor) -> Colour:
    """Return a colour as the engine takes it."""
    return colour.red(), colour.green(), colour.blue()
