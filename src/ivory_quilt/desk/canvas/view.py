"""The drawing surface of every station: zoom to the pointer, pan, fit, rulers."""

import math

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QShowEvent,
    QTransform,
    QWheelEvent,
)
from PySide6.QtWidgets import QGraphicsScene, QGraphicsView, QWidget

from ivory_quilt.core.units import LengthUnit, show_number
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.theme.style import figures

RULER = 22  # px
NEAREST, FURTHEST = 40.0, 0.01  # px per mm


class Canvas(QGraphicsView):
    """A table of millimetres, y upwards (scene coordinates have y downwards)."""

    zoomed = Signal(float)
    double_clicked = Signal()
    reshaped = Signal()
    """The view's proportions changed: what is arranged to fill it may be arranged anew."""

    def __init__(self, parent: QWidget | None = None) -> None:
        """Make an empty table."""
        super().__init__(parent)
        self.setScene(QGraphicsScene(self))
        self.look: Palette = LIGHT
        self.unit = LengthUnit.MM
        self.upwards = False
        """Whether the upright ruler counts upwards, as what is drawn does."""
        self.ruler_word = ""
        """What rulers count, where it is no length."""
        self.exposed: list[QRectF] = []
        """Places of the scene that are being painted."""
        self._panning: QPointF | None = None
        self._space = False
        self._fitted = True
        self._aspect = 1e-3
        self.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.NoAnchor)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # Only what changed is painted; the rulers, which a scroll would smear, are seen to below.
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.BoundingRectViewportUpdate)
        # The table covers all of it; else nothing that is painted would be carried along.
        self.viewport().setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    # Looking

    def set_look(self, palette: Palette) -> None:
        """Take another theme."""
        self.look = palette
        self.setBackgroundBrush(palette.colour("paper"))
        self.viewport().update()

    @property
    def scale_now(self) -> float:
        """Pixels per millimetre."""
        return self.transform().m11()

    @property
    def aspect(self) -> float:
        """Width ÷ height of the view."""
        size = self.viewport().size()
        return min(max(size.width() / max(1, size.height()), 0.4), 4.0)

    def content(self) -> QRectF:
        """What `fit` shows; stations may narrow it."""
        return self.scene().itemsBoundingRect()

    def fit(self, rect: QRectF | None = None) -> None:
        """Show `rect`, or everything."""
        target = rect if rect is not None else self.content()
        if target.isEmpty():
            target = QRectF(-50, -150, 300, 200)
        self._fitted = rect is None
        edge = 24
        width = max(40, self.viewport().width() - RULER - 2 * edge)
        height = max(40, self.viewport().height() - RULER - 2 * edge)
        scale = min(width / target.width(), height / target.height())
        scale = min(max(scale, FURTHEST), NEAREST)
        self._look_at(target.center(), scale)

    def _look_at(self, centre: QPointF, scale: float) -> None:
        self.setTransform(QTransform.fromScale(scale, scale))
        # A scene rect far larger than the content lets every place be centred.
        reach = 4 * max(self.viewport().width(), self.viewport().height()) / scale + 20000
        self.setSceneRect(QRectF(centre.x() - reach, centre.y() - reach, 2 * reach, 2 * reach))
        shift = RULER / 2 / scale
        self.centerOn(centre.x() - shift, centre.y() - shift)
        self.zoomed.emit(scale)

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom about a point of the viewport, the middle by default."""
        scale = min(max(self.scale_now * factor, FURTHEST), NEAREST)
        middle = QPointF(self.viewport().rect().center())
        at = at if at is not None else middle
        fixed = self.mapToScene(at.toPoint())
        self._fitted = False
        self.setTransform(QTransform.fromScale(scale, scale))
        moved = self.mapToScene(at.toPoint())
        centre = self.mapToScene(middle.toPoint())
        self.centerOn(centre + fixed - moved)
        self.zoomed.emit(scale)

    def refit(self) -> None:
        """Fit again if nobody has zoomed since the last fit."""
        if self._fitted:
            self.fit()

    # Events

    def paintEvent(self, event: QPaintEvent) -> None:
        """Remember what is exposed: after a scroll it is some edges, whose common box is all."""
        places = list(event.region())  # type: ignore[call-overload]
        self.exposed = [QRectF(self.mapToScene(place).boundingRect()) for place in places]
        super().paintEvent(event)

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        """Carry along what is painted; rulers stay, and are painted anew where they were too."""
        super().scrollContentsBy(dx, dy)
        view = self.viewport()
        view.update(0, 0, view.width(), RULER + max(0, dy))
        view.update(0, 0, RULER + max(0, dx), view.height())

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Zoom to the pointer."""
        self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Start panning with the middle button, or with space held."""
        middle = event.button() == Qt.MouseButton.MiddleButton
        if middle or (self._space and event.button() == Qt.MouseButton.LeftButton):
            self._panning = event.position()
            self.viewport().setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Pan."""
        if self._panning is not None:
            delta = event.position() - self._panning
            self._panning = event.position()
            self._fitted = False
            centre = QPointF(self.viewport().rect().center()) - delta
            self.centerOn(self.mapToScene(centre.toPoint()))
            return
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Stop panning."""
        if self._panning is not None:
            self._panning = None
            self.viewport().unsetCursor()
            return
        super().mouseReleaseEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Tell of a double click on something."""
        super().mouseDoubleClickEvent(event)
        if self.itemAt(event.position().toPoint()) is not None:
            self.double_clicked.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space turns the pointer into a hand."""
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = True
            self.viewport().setCursor(Qt.CursorShape.OpenHandCursor)
            return
        super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        """Let go of the hand."""
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = False
            self.viewport().unsetCursor()
            return
        super().keyReleaseEvent(event)

    def leaveEvent(self, event: QEvent) -> None:
        """Space let go elsewhere must not stick."""
        self._space = False
        super().leaveEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Keep everything in view if it was."""
        super().resizeEvent(event)
        if abs(math.log(self.aspect / self._aspect)) > 0.12:
            self._aspect = self.aspect
            self.reshaped.emit()
        self.refit()

    def showEvent(self, event: QShowEvent) -> None:
        """Fit when first shown."""
        super().showEvent(event)
        self.refit()

    # Rulers

    def drawForeground(self, painter: QPainter, _rect: QRectF | object) -> None:
        """Draw the rulers over the table, in the maker's unit."""
        painter.save()
        painter.resetTransform()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, on=False)
        width, height = self.viewport().width(), self.viewport().height()
        painter.fillRect(0, 0, width, RULER, self.look.colour("linen"))
        painter.fillRect(0, 0, RULER, height, self.look.colour("linen"))
        painter.setFont(figures(12))
        step, unit = self._ruler_step(), self._ruler_unit()
        painter.setPen(QPen(self.look.colour("ink_soft"), 1))
        start = self.mapToScene(RULER, RULER)
        end = self.mapToScene(width, height)
        self._ticks(painter, start.x(), end.x(), step, unit, level=True)
        self._ticks(painter, start.y(), end.y(), step, unit, level=False)
        painter.fillRect(0, 0, RULER, RULER, self.look.colour("linen"))
        word = self.ruler_word or self.unit.word
        painter.drawText(QRectF(0, 0, RULER, RULER), Qt.AlignmentFlag.AlignCenter, word)
        painter.restore()

    def _ruler_unit(self) -> float:
        return 1.0 if self.ruler_word else self.unit.mm

    def _ruler_step(self) -> float:
        """Return the distance of labelled ticks in mm: 1, 2 or 5 of a unit's power of ten."""
        unit = self._ruler_unit()
        wanted = 70.0 / self.scale_now / unit
        power = 10.0 ** math.floor(math.log10(wanted))
        for factor in (1.0, 2.0, 5.0, 10.0):
            if wanted <= factor * power:
                return factor * power * unit
        return 10.0 * power * unit

    def _ticks(
        self, painter: QPainter, first: float, last: float, step: float, unit: float, *, level: bool
    ) -> None:
        origin = self.mapFromScene(QPointF(0, 0))
        for k in range(math.floor(first / step), math.ceil(last / step) + 1):
            value = k * step
            text = show_number((-value if self.upwards and not level else value) / unit, 2)
            at = round((origin.x() if level else origin.y()) + value * self.scale_now)
            if level:
                painter.drawLine(at, RULER - 6, at, RULER)
                painter.drawText(at + 3, RULER - 8, text)
            else:
                painter.drawLine(RULER - 6, at, RULER, at)
                painter.save()
                painter.translate(RULER - 8, at - 3)
                painter.rotate(-90)
                painter.drawText(0, 0, text)
                painter.restore()


def rehearse() -> None:
    """Paint a table once where nobody sees it.

    Qt makes enumerations and reads fonts when they are first used, for some 25 ms: better while
    the engine loads than when its first layouts come.
    """
    canvas = Canvas()
    canvas.grab()
    canvas.deleteLater()
