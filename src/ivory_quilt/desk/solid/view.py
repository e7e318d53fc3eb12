"""The look at the formed piece: turned with the mouse or the arrow keys, nearer with the wheel."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.stacks.solid import Solid
from ivory_quilt.desk.solid.camera import Camera, Paint, Scene, warm_up
from ivory_quilt.desk.theme.palette import LIGHT, Palette, mix, tone
from ivory_quilt.desk.theme.style import words
from ivory_quilt.desk.work import Background, at_once

PER_PIXEL = 0.5  # degrees
REST = 160  # ms after the last turn, until the fine picture
FINE = 2  # times as fine while it rests
KEYS = {
    Qt.Key.Key_Left: (-10, 0),
    Qt.Key.Key_Right: (10, 0),
    Qt.Key.Key_Up: (0, -10),
    Qt.Key.Key_Down: (0, 10),
}


class SolidView(QWidget):
    """One solid that can be turned."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setAccessibleName("formed piece; arrow keys rotate it")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setToolTip("Drag to rotate, scroll to zoom, double-click to reset the view")
        self.camera = Camera()
        self.background: Background = at_once
        self.look: Palette = LIGHT
        self.words = ""
        self._scene: Scene | None = None
        self._ready = False
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

    def show_solid(self, solid: Solid | None, look: Palette, text: str = "") -> None:
        """Show a solid, or `text` where there is none."""
        self.look, self.words = look, text
        self._scene = None if solid is None or not len(solid.corners) else Scene(solid)
        if self._scene is not None and not self._ready:
            self.background(warm_up, self._loaded)
        self._turned()

    def set_look(self, look: Palette) -> None:
        """Take another theme."""
        if look is not self.look:
            self.look = look
            self._turned()

    @property
    def shows(self) -> bool:
        """Whether a solid is in sight."""
        return self._scene is not None and self._ready

    def picture(self, scale: int = 1) -> QImage | None:
        """Return the picture as it is now, `scale` times as fine as the widget."""
        if self._scene is None:
            return None
        ratio = self.devicePixelRatioF() * scale
        wide, high = (max(2, round(v * ratio)) for v in (self.width(), self.height()))
        return self._scene.picture(self.camera, wide, high, self._paint())

    def _paint(self) -> Paint:
        assert self._scene is not None
        paper = self.look.colour("paper")
        thick = self._scene.solid.thickness
        colours = [mix(paper, tone(t), 0.8 if self.look.dark else 0.75) for t in thick]
        line = self.look.colour("ink")
        if self.look.dark:
            line = QColor(self.look.paper)
        return Paint.of(colours, line)

    def _loaded(self, _result: object, error: Exception | None) -> None:
        if error is not None:
            raise error
        self._ready = True
        self._turned()

    def _turned(self) -> None:
        self._image, self._fine = None, False
        self._timer.start()
        self.update()

    def _rest(self) -> None:
        if self.shows and self.isVisible():
            self._image, self._fine = self.picture(FINE), True
            self.update()

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
        painter.fillRect(self.rect(), self.look.colour("paper"))
        if not self.shows:
            text = self.words or ("" if self._scene is None else "Loading …")
            painter.setPen(self.look.colour("ink_soft"))
            painter.setFont(words(14))
            box = QRectF(self.rect()).adjusted(24, 24, -24, -24)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, text)
            return
        if self._image is None:
            self._image = self.picture()
        if self._image is not None:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawImage(QRectF(self.rect()), self._image)
        if self.hasFocus():
            painter.setPen(self.look.colour("iris"))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
