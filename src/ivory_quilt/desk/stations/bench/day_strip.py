"""One evening as a strip: steps along its hours, one row a pair of hands."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.schedule.bench_schedule import DAY, PlacedStep
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.desk.theme.palette import Palette, mix
from ivory_quilt.desk.theme.style import figures, pixels, words

HIGH, GAP = 26, 3
COLOURS = {
    StepKind.CUT: "cut",
    StepKind.BEVEL: "cut",
    StepKind.CARVE: "cut",
    StepKind.BURN: "heat",
    StepKind.TEXTURE: "heat",
    StepKind.FORM: "heat",
    StepKind.COAT: "score",
    StepKind.JOIN: "score",
    StepKind.PRIME: "good",
    StepKind.PAINT: "good",
    StepKind.SEAL: "good",
}
"""Colour by what is in the hand: knife, heat, cement, brush; each block has its word as well."""


class DayStrip(QWidget):
    """The steps of one day to the scale of its hours."""

    def __init__(self, placed: tuple[PlacedStep, ...], look: Palette) -> None:
        """Show `placed`, all of one day."""
        super().__init__()
        self._look = look
        self._rows = _rows(placed)
        self._first = min((p.start % DAY for p in placed), default=0) // 60 * 60
        last = max(((p.end - 1) % DAY for p in placed), default=60)
        self._last = max(self._first + 120, -(-(last + 1) // 60) * 60)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        told = "; ".join(f"{clock(p.start)} {p.step.kind.value} {p.step.title}" for p in placed)
        self.setAccessibleName(told)

    def sizeHint(self) -> QSize:
        """A row a pair of hands, and the hours."""
        return QSize(400, len(self._rows) * (pixels(HIGH) + GAP) + pixels(18))

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint hours and steps."""
        painter = QPainter(self)
        look, high = self._look, float(pixels(HIGH))
        span = self._last - self._first
        bottom = len(self._rows) * (high + GAP)

        def at(minute: int) -> float:
            return (self.width() - 2.0) * (minute - self._first) / span

        painter.setFont(figures(12))
        for hour in range(self._first, self._last + 1, 60):
            painter.setPen(QPen(look.colour("thread"), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(at(hour), 0), QPointF(at(hour), bottom))
            painter.setPen(look.colour("ink_soft"))
            where = QRectF(at(hour) + 2, bottom, 60, pixels(16))
            if hour < self._last:
                painter.drawText(where, Qt.AlignmentFlag.AlignLeft, f"{hour // 60:02d}:00")
        painter.setFont(words(12))
        for r, row in enumerate(self._rows):
            for one in row:
                self._block(
                    painter,
                    one,
                    r * (high + GAP),
                    high,
                    (at(one.start % DAY), at((one.end - 1) % DAY + 1)),
                )

    def _block(
        self,
        painter: QPainter,
        one: PlacedStep,
        y: float,
        high: float,
        across: tuple[float, float],
    ) -> None:
        look = self._look
        colour = look.colour(COLOURS.get(one.step.kind, "ink_soft"))
        box = QRectF(across[0], y, max(2.0, across[1] - across[0]), high)
        painter.setBrush(mix(look.colour("paper"), colour, 0.28))
        painter.setPen(QPen(colour, 2.0 if one.slack == 0 else 1.0))
        painter.drawRect(box)
        if box.width() > 34:
            painter.setPen(look.colour("ink"))
            inside = box.adjusted(4, 0, -2, 0)
            text = f"{one.step.kind.value} {one.step.title}"
            shown = painter.fontMetrics().elidedText(
                text, Qt.TextElideMode.ElideRight, int(inside.width())
            )
            painter.drawText(inside, Qt.AlignmentFlag.AlignVCenter, shown)


def _rows(placed: tuple[PlacedStep, ...]) -> list[list[PlacedStep]]:
    """Return steps in rows of which none overlap."""
    rows: list[list[PlacedStep]] = []
    for one in placed:
        row = next((r for r in rows if r[-1].end <= one.start), None)
        if row is None:
            rows.append([one])
        else:
            row.append(one)
    return rows


def clock(minutes: int) -> str:
    """Return the time of the day of a moment: 18:30."""
    return f"{minutes % DAY // 60:02d}:{minutes % 60:02d}"
