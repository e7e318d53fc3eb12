"""Lines of words below each other that change often, painted by one widget.

A label for each would cost the window a millisecond or two: showing one lays its whole card out.
"""

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPointF, QSize
from PySide6.QtGui import QColor, QFont, QPainter, QPaintEvent, QTextLayout
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.record import Struct
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.theme.style import figures, words

LINE_BREAK = "\u2028"  # as a laid out text knows it
LEAST = 160  # px: narrower than any card
WIDTHS = 4  # that a layout asks about before it has settled
NOTE = 12  # px of a note's words
TONES = {"soft": "ink_soft"}  # the others are called as their colours are


class Line(Struct, frozen=True):
    """One line: its words, its role in the theme ("note", "mono", "") and its tone."""

    text: str
    role: str = ""
    tone: str = ""

    def font(self) -> QFont:
        """Return the font of its role."""
        if self.role == "mono":
            return figures()
        return words(NOTE) if self.role == "note" else words()

    def colour(self, look: Palette) -> QColor:
        """Return the colour of its tone, else of its role."""
        plain = "ink_soft" if self.role == "note" else "ink"
        return look.colour(TONES.get(self.tone, self.tone) or plain)


class _Placed(Struct, frozen=True):
    """A line broken to a width, and how far down it begins."""

    line: Line
    laid: QTextLayout
    top: float
    high: float


class LabelList(QWidget):
    """Lines below each other, each broken to the width that there is."""

    def __init__(self, space: int = 4) -> None:
        """Show nothing yet, `space` pixels between two lines."""
        super().__init__()
        self._space = space
        self._look: Palette = LIGHT
        self._shown: tuple[Line, ...] = ()
        self._placed: dict[int, tuple[_Placed, ...]] = {}  # by the width they are broken to
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.hide()

    @property
    def lines(self) -> tuple[Line, ...]:
        """What is shown."""
        return self._shown

    @property
    def look(self) -> Palette:
        """The colours of the words."""
        return self._look

    @look.setter
    def look(self, look: Palette) -> None:
        if look != self._look:
            self._look = look
            self.update()

    def show_lines(self, lines: Sequence[Line]) -> None:
        """Show other lines; the card around is laid out anew only where they need other room."""
        wanted = tuple(lines)
        if wanted == self._shown:
            return
        before = self.heightForWidth(self.width())
        self._shown = wanted
        self._placed.clear()
        self.setAccessibleName("\n".join(line.text for line in wanted))
        if self.heightForWidth(self.width()) != before:
            self.updateGeometry()
        if self.isHidden() == bool(wanted):
            self.setVisible(bool(wanted))
        self.update()

    def _place(self, width: int) -> tuple[_Placed, ...]:
        """Return the lines broken to a width, px."""
        if width in self._placed:
            return self._placed[width]
        placed, top = [], 0.0
        for line in self._shown:
            laid, high = _broken(line, width)
            placed.append(_Placed(line, laid, top, high))
            top += high + self._space
        if len(self._placed) >= WIDTHS:
            self._placed.clear()
        return self._placed.setdefault(width, tuple(placed))

    # What Qt asks

    def hasHeightForWidth(self) -> bool:
        """Say that it is higher where it is narrower."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Return how high the lines are when they are broken to a width."""
        placed = self._place(width)
        return round(placed[-1].top + placed[-1].high) if placed else 0

    def sizeHint(self) -> QSize:
        """As high as it is where words can just be read; a card stretches it."""
        return QSize(LEAST, self.heightForWidth(LEAST))

    def minimumSizeHint(self) -> QSize:
        """No narrower than words can be read."""
        return QSize(LEAST, 0)

    def changeEvent(self, event: QEvent) -> None:
        """Break the lines anew when the maker wants larger words."""
        super().changeEvent(event)
        if event.type() in (QEvent.Type.StyleChange, QEvent.Type.FontChange):
            self._placed.clear()
            self.updateGeometry()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Write the lines that are in sight."""
        painter = QPainter(self)
        seen = event.rect()
        for one in self._place(self.width()):
            if one.top <= seen.bottom() and one.top + one.high >= seen.top():
                painter.setPen(one.line.colour(self._look))
                one.laid.draw(painter, QPointF(0, one.top))


def _broken(line: Line, width: int) -> tuple[QTextLayout, float]:
    """Return a line broken to a width, px, and how high it is."""
    laid = QTextLayout(line.text.replace("\n", LINE_BREAK), line.font())
    laid.setCacheEnabled(True)
    laid.beginLayout()
    high = 0.0
    while (row := laid.createLine()).isValid():
        row.setLineWidth(width)
        row.setPosition(QPointF(0, high))
        high += row.height()
    laid.endLayout()
    return laid, high
