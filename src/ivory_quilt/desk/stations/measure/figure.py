"""The body figure, drawn for this application: where each measure is taken."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QTransform
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.measure.wearer import MeasureKind, spot
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.theme.palette import LIGHT, Palette

ROOM = QRectF(-64, -6, 128, 246)
REACH = 5.0  # figure units around a line in which it is grasped

# The right half of the outline from the neck to the crotch, in figure units, y downwards.
_HALF = (
    (5, 30),
    (6, 36),
    (16, 39),
    (27, 43),
    (32, 53),
    (34, 66),
    (38, 82),
    (42, 98),
    (44, 110),
    (48, 122),
    (44, 129),
    (39, 121),
    (36, 110),
    (32, 96),
    (28, 80),
    (24, 62),
    (21, 74),
    (17, 91),
    (21, 104),
    (24, 116),
    (22, 140),
    (17, 164),
    (19, 182),
    (13, 204),
    (11, 214),
    (17, 225),
    (4, 226),
    (4, 213),
    (5, 186),
    (4, 166),
    (2, 140),
    (0, 124),
)

# From where to where each measure runs.
LINES: dict[str, tuple[float, float, float, float]] = {
    "height": (-56, 1, -56, 226),
    "head": (-12, 12, 12, 12),
    "head-height": (17, 1, 17, 31),
    "neck": (-7, 34, 7, 34),
    "shoulders": (-28, 41, 28, 41),
    "chest": (-22, 60, 22, 60),
    "waist": (-18, 90, 18, 90),
    "hip": (-25, 112, 25, 112),
    "torso": (-8, 37, -8, 90),
    "upper-arm": (24, 60, 35, 56),
    "elbow": (27, 81, 39, 78),
    "forearm": (31, 95, 43, 92),
    "wrist": (35, 111, 46, 108),
    "forearm-hand": (46, 80, 56, 126),
    "arm": (-35, 44, -50, 110),
    "thigh": (1, 136, 23, 136),
    "knee": (3, 165, 18, 165),
    "calf": (4, 183, 20, 183),
    "ankle": (3, 211, 13, 211),
    "knee-height": (30, 165, 30, 226),
    "leg": (-3, 124, -3, 226),
    "shoe": (2, 232, 18, 232),
}


def body() -> QPainterPath:
    """Return the figure's outline: a head, and the two halves of a body."""
    path = QPainterPath()
    path.addEllipse(QPointF(0, 16), 11, 15)
    points = [QPointF(x, y) for x, y in _HALF]
    points += [QPointF(-x, y) for x, y in reversed(_HALF)]
    whole = QPainterPath((points[-1] + points[0]) / 2)
    for k, point in enumerate(points):
        whole.quadTo(point, (point + points[(k + 1) % len(points)]) / 2)
    whole.closeSubpath()
    return path.united(whole)


class BodyFigure(QWidget):
    """The figure with its lines; a line that is clicked is chosen."""

    chosen = Signal(str)

    def __init__(self) -> None:
        """Show the figure with nothing measured."""
        super().__init__()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(220, 380)
        self.setAccessibleName("body figure with the measures")
        self.look: Palette = LIGHT
        self.spot = ""
        self.measured: frozenset[str] = frozenset()
        self._body = body()

    def sizeHint(self) -> QSize:
        """Tall, as a body is."""
        return QSize(300, 580)

    def show_state(self, look: Palette, spot_id: str, measured: frozenset[str]) -> None:
        """Show which measures are taken and which one is in hand."""
        self.look, self.spot, self.measured = look, spot_id, measured
        self.update()

    def _move(self) -> QTransform:
        scale = min(self.width() / ROOM.width(), self.height() / ROOM.height())
        middle = QRectF(self.rect()).center()
        return QTransform(
            scale,
            0,
            0,
            scale,
            middle.x() - ROOM.center().x() * scale,
            middle.y() - ROOM.center().y() * scale,
        )

    def place_of(self, spot_id: str) -> QPointF:
        """Return where the middle of a measure's line is, in the widget."""
        x0, y0, x1, y1 = LINES[spot_id]
        return self._move().map(QPointF((x0 + x1) / 2, (y0 + y1) / 2))

    def spot_at(self, place: QPointF) -> str:
        """Return the measure whose line is nearest, or an empty string when none is near."""
        back, _ = self._move().inverted()
        here = back.map(place)
        near = [s for s in LINES if _distance(here, *LINES[s]) <= REACH]
        # Where lines cross, the shorter one is harder to reach elsewhere.
        return min(near, key=lambda s: (round(_distance(here, *LINES[s])), _long(s)), default="")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose the measure that is clicked."""
        if found := self.spot_at(event.position()):
            self.chosen.emit(found)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the body, then the lines: dashed where nothing is measured yet."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        move = self._move()
        painter.setPen(cosmetic(self.look.colour("ink_soft"), 1.4))
        painter.setBrush(self.look.colour("linen"))
        painter.drawPath(move.map(self._body))
        for ident, line in LINES.items():
            self._paint_line(painter, move, ident, line)

    def _paint_line(
        self, painter: QPainter, move: QTransform, ident: str, line: tuple[float, ...]
    ) -> None:
        x0, y0, x1, y1 = line
        known, held = ident in self.measured, ident == self.spot
        colour = self.look.colour("iris" if held else "ink" if known else "ink_soft")
        pen: QPen = cosmetic(colour, 3.0 if held else 1.8 if known else 1.2)
        if not known and not held:
            pen = cosmetic(colour, 1.2, (4, 3))
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        start, stop = move.map(QPointF(x0, y0)), move.map(QPointF(x1, y1))
        if spot(ident).kind is MeasureKind.GIRTH:
            # The front of a tape around the body hangs a little.
            path = QPainterPath(start)
            path.quadTo((start + stop) / 2 + QPointF(0, 8), stop)
            painter.drawPath(path)
            return
        painter.drawLine(start, stop)
        along = stop - start
        length = max(1e-6, (along.x() ** 2 + along.y() ** 2) ** 0.5)
        across = QPointF(-along.y(), along.x()) * (5 / length)
        for end in (start, stop):
            painter.drawLine(end - across, end + across)


def _long(spot_id: str) -> float:
    x0, y0, x1, y1 = LINES[spot_id]
    return float(((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5)


def _distance(p: QPointF, x0: float, y0: float, x1: float, y1: float) -> float:
    dx, dy = x1 - x0, y1 - y0
    share = ((p.x() - x0) * dx + (p.y() - y0) * dy) / (dx * dx + dy * dy)
    share = min(1.0, max(0.0, share))
    return float(((p.x() - x0 - share * dx) ** 2 + (p.y() - y0 - share * dy) ** 2) ** 0.5)
