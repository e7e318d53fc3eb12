"""Small helpers that every station uses: labelled text, rows, stitched lines, buttons."""

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QShowEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLayout,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)


def label(text: str = "", role: str = "", tone: str = "", *, wrap: bool = False) -> QLabel:
    """Return a label in one of the theme's roles ("note", "title", "figure", ...)."""
    made = QLabel(text)
    made.setTextFormat(Qt.TextFormat.PlainText)
    if role:
        made.setProperty("role", role)
    set_tone(made, tone)
    made.setWordWrap(wrap)
    return made


class Complaint(QLabel):
    """What is wrong with a field, below it; takes no room while nothing is."""

    def __init__(self) -> None:
        """Say nothing yet."""
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setProperty("role", "note")
        self.setProperty("tone", "cut")
        self.setWordWrap(True)
        self.hide()

    def setText(self, text: str) -> None:
        """Say what is wrong, or nothing."""
        super().setText(text)
        self.setVisible(bool(text))


def set_tone(widget: QWidget, tone: str) -> None:
    """Give a widget a tone ("cut", "good", "heat", "soft" or "") and restyle it."""
    if widget.property("tone") != tone:
        widget.setProperty("tone", tone)
        if widget.testAttribute(
            Qt.WidgetAttribute.WA_WState_Polished
        ):  # not styled before: it will be
            widget.style().unpolish(widget)
            widget.style().polish(widget)


def button(text: str, run: Callable[[], object], kind: str = "", tip: str = "") -> QPushButton:
    """Return a button; `kind` is "main", "quiet" or ""."""
    made = QPushButton(text)
    if kind:
        made.setProperty("kind", kind)
    if tip:
        made.setToolTip(tip)
    made.clicked.connect(lambda: run())
    return made


def counter(least: int, most: int, name: str) -> QSpinBox:
    """Return a field for a whole number, which tells of its value once it is typed in full."""
    made = QSpinBox()
    made.setRange(least, most)
    made.setKeyboardTracking(False)
    made.setAccessibleName(name)
    made.lineEdit().setTextMargins(6, 0, 0, 0)
    return made


def narrow(box: QComboBox) -> None:
    """Let a box be narrower than its longest words; the card is no wider than a hand."""
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    box.setMinimumContentsLength(8)


class ValueBox(QComboBox):
    """A box of a few values, each with its word; Qt itself hands some kinds of values back changed.

    Only the maker's own choosing is told.
    """

    def __init__(
        self, name: str, values: Sequence[tuple[Any, str]], take: Callable[[Any], object]
    ) -> None:
        """Call `take` with the value that is chosen."""
        super().__init__()
        self.setAccessibleName(name)
        self._values = [v for v, _ in values]
        for value, word in values:
            self.addItem(word, value)
        self.activated.connect(lambda k: take(self._values[k]))

    @property
    def value(self) -> Any:
        """The value in front."""
        return self._values[self.currentIndex()]

    def show_value(self, value: object) -> None:
        """Bring a value to the front."""
        self.setCurrentIndex(self._values.index(value))


def choices(
    options: Sequence[tuple[Any, str]], run: Callable[[Any], object], chosen: object = None
) -> ValueBox:
    """Return a narrow box of (value, words); `run` gets the value that is picked.

    It shows `chosen`, or the first when that is None.
    """
    box = ValueBox("", options, run)
    narrow(box)
    if chosen is not None:
        box.show_value(chosen)
    return box


def filled_later(name: str, run: Callable[[int], None]) -> QComboBox:
    """Return a box whose entries come and go; `run` gets the place of the one that is picked."""
    box = QComboBox()
    narrow(box)
    box.setAccessibleName(name)
    box.activated.connect(run)
    return box


def fill_box(box: QComboBox, known: list[tuple[str, str]], chosen: str) -> None:
    """Offer (words, id) in a box, and show the one that is chosen, else the first.

    It is filled anew only where something changed, so that an open list stays.
    """
    shown = [(box.itemText(k), box.itemData(k)) for k in range(box.count())]
    if shown != known:
        box.clear()
        for text, ident in known:
            box.addItem(text, ident)
    idents = [i for _, i in known]
    box.setCurrentIndex(idents.index(chosen) if chosen in idents else 0)


def column(*items: QWidget | QLayout | None, space: int = 8, edge: int = 0) -> QVBoxLayout:
    """Return a column of widgets and layouts; None is a stretch."""
    layout = QVBoxLayout()
    _fill(layout, items, space, edge)
    return layout


def row(*items: QWidget | QLayout | None, space: int = 8, edge: int = 0) -> QHBoxLayout:
    """Return a row of widgets and layouts; None is a stretch."""
    layout = QHBoxLayout()
    _fill(layout, items, space, edge)
    return layout


def _fill(
    layout: QVBoxLayout | QHBoxLayout,
    items: tuple[QWidget | QLayout | None, ...],
    space: int,
    edge: int,
) -> None:
    layout.setSpacing(space)
    layout.setContentsMargins(edge, edge, edge, edge)
    for item in items:
        if item is None:
            layout.addStretch(1)
        elif isinstance(item, QWidget):
            layout.addWidget(item)
        else:
            layout.addLayout(item)


def clear(layout: QLayout) -> None:
    """Take everything out of a layout and let it go."""
    while (item := layout.takeAt(0)) is not None:
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.setParent(None)
            widget.deleteLater()
        elif inner is not None:
            clear(inner)


class _Scrolled(QScrollArea):
    """Scrolls its content once it is seen: Qt lays that out at once, and styles all of it."""

    def __init__(self, content: QWidget) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._content = content
        content.setParent(self)

    def showEvent(self, event: QShowEvent) -> None:
        """Take the content in."""
        if self.widget() is None:
            self.setWidget(self._content)
        super().showEvent(event)


def scrolled(content: QWidget) -> QScrollArea:
    """Return `content` in a scroll area that only scrolls up and down."""
    return _Scrolled(content)


class Stitch(QWidget):
    """A stitched line between areas: dashes of 4 on, 3 off."""

    def __init__(self, *, upright: bool = False) -> None:
        """Make a level line, or an upright one."""
        super().__init__()
        self._upright = upright
        policy = QSizePolicy.Policy
        if upright:
            self.setSizePolicy(policy.Fixed, policy.Expanding)
        else:
            self.setSizePolicy(policy.Expanding, policy.Fixed)

    def sizeHint(self) -> QSize:
        """Two pixels thick."""
        return QSize(2, 16) if self._upright else QSize(16, 2)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Draw the stitches in the theme's thread."""
        painter = QPainter(self)
        draw_stitches(painter, self.rect(), self.palette().mid().color(), upright=self._upright)


def draw_stitches(painter: QPainter, rect: QRect, colour: QColor, *, upright: bool) -> None:
    """Draw one stitched line along the middle of `rect`."""
    pen = QPen(colour, 1.6)
    pen.setDashPattern([4 / 1.6, 3 / 1.6])
    painter.setPen(pen)
    middle = rect.center()
    if upright:
        painter.drawLine(middle.x(), rect.top(), middle.x(), rect.bottom())
    else:
        painter.drawLine(rect.left(), middle.y(), rect.right(), middle.y())
