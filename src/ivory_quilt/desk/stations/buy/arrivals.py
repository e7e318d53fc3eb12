"""When things arrive against when they are needed: a line of days, one row each."""

from collections.abc import Callable
from datetime import date, timedelta

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.pattern.thing import ThingStanding
from ivory_quilt.core.record import Struct
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.theme.style import figures, pixels, words

NAME, HIGH, SPACE, DOT = 190, 18, 8, 5.0
LEAST_DAYS = 7


class Arrival(Struct, frozen=True):
    """Something on its way: the day it is here, and the day it is needed by; either may be open."""

    name: str
    arrives: date | None
    needed: date | None

    @property
    def late(self) -> bool:
        """Whether it comes after it is needed."""
        return bool(self.arrives and self.needed and self.arrives > self.needed)


def arrivals_of(
    project: Project, suppliers: tuple[tuple[str, int], ...], today: date
) -> tuple[Arrival, ...]:
    """Return what is on its way or still to be bought.

    Args:
        project: whose things are meant.
        suppliers: (name, days) of those that the order buys from: foam ordered today.
        today: the present day.
    """
    made = [Arrival(f"foam: {name}", today + timedelta(days=n), None) for name, n in suppliers]
    made += [
        Arrival(
            t.name,
            date.fromisoformat(t.arrives) if t.arrives else None,
            date.fromisoformat(t.needed) if t.needed else None,
        )
        for t in project.things
        if t.standing is not ThingStanding.ON_HAND and (t.arrives or t.needed)
    ]
    return tuple(sorted(made, key=lambda a: (not a.late, a.arrives or a.needed or today)))


class ArrivalLine(QWidget):
    """Dots for arrivals, flags for days of need, and a bar between them: red when it is late."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.shown: tuple[Arrival, ...] = ()
        self.today = date.min
        self.look: Palette = LIGHT
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_arrivals(self, shown: tuple[Arrival, ...], today: date, look: Palette) -> None:
        """Draw these from today on."""
        self.shown, self.today, self.look = shown, today, look
        self.setAccessibleName("; ".join(_told(a) for a in shown))
        self.setVisible(bool(shown))
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        """A line each, and one for the days."""
        return QSize(NAME + 400, (len(self.shown) + 1) * (pixels(HIGH) + SPACE))

    def _span(self) -> tuple[date, int]:
        days = [d for a in self.shown for d in (a.arrives, a.needed) if d is not None]
        first = min([self.today, *days])
        return first, max(LEAST_DAYS, (max([self.today, *days]) - first).days)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the rows."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        first, span = self._span()
        high = float(pixels(HIGH))
        left, room = float(NAME + SPACE), max(80.0, self.width() - NAME - 120.0)

        def at(day: date) -> float:
            return left + room * (day - first).days / span

        bottom = len(self.shown) * (high + SPACE)
        painter.setPen(QPen(self.look.colour("thread"), 1, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(at(self.today), 0), QPointF(at(self.today), bottom))
        painter.setFont(figures(12))
        painter.setPen(self.look.colour("ink_soft"))
        last = first + timedelta(days=span)
        for day, text in ((self.today, "today"), (last, f"{last:%d %b}")):
            middle = Qt.AlignmentFlag.AlignHCenter
            painter.drawText(QRectF(at(day) - 40, bottom + 2, 80, high), middle, text)
        for k, one in enumerate(self.shown):
            self._row(painter, one, k * (high + SPACE), high, at)

    def _row(
        self, painter: QPainter, one: Arrival, y: float, high: float, at: Callable[[date], float]
    ) -> None:
        colour = self.look.colour("cut" if one.late else "good")
        painter.setFont(words(13))
        painter.setPen(self.look.colour("ink"))
        name = painter.fontMetrics().elidedText(one.name, Qt.TextElideMode.ElideRight, NAME - 4)
        painter.drawText(QRectF(0, y, NAME, high), Qt.AlignmentFlag.AlignVCenter, name)
        middle = y + high / 2
        if one.arrives and one.needed:
            style = Qt.PenStyle.SolidLine if one.late else Qt.PenStyle.DotLine
            painter.setPen(QPen(colour, 2, style))
            painter.drawLine(QPointF(at(one.arrives), middle), QPointF(at(one.needed), middle))
        painter.setPen(QPen(self.look.colour("ink"), 1.4))
        if one.needed:
            x = at(one.needed)
            painter.drawLine(QPointF(x, y + 1), QPointF(x, y + high - 1))
        if one.arrives:
            painter.setBrush(colour if one.needed else self.look.colour("ink_soft"))
            painter.drawEllipse(QPointF(at(one.arrives), middle), DOT, DOT)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        if one.late and one.arrives and one.needed:
            painter.setFont(figures(12))
            painter.setPen(colour)
            days = (one.arrives - one.needed).days
            where = QRectF(at(one.arrives) + DOT + 4, y, 90, high)
            painter.drawText(where, Qt.AlignmentFlag.AlignVCenter, f"{days} d late")


def _told(one: Arrival) -> str:
    words = [one.name]
    if one.arrives:
        words.append(f"arrives {one.arrives.isoformat()}")
    if one.needed:
        words.append(f"needed {one.needed.isoformat()}")
    return ", ".join(words)
