"""The rail: the stations in the order of work, each with its sign, its word and a mark."""

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.desk.theme.icons import pixmap
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.theme.style import words
from ivory_quilt.desk.widgets.basics import column

WIDE, HIGH, LEAST = 84, 76, 50  # px: a gloved hand hits it; a low window leaves less
SIGN, SMALL_SIGN, WORD = 28, 22, 20  # px


class RailKey(QWidget):
    """One station on the rail."""

    pressed = Signal()

    def __init__(self, sign: str, text: str, shortcut: str) -> None:
        """Show icon `sign` above `text`."""
        super().__init__()
        self._sign, self._text = sign, text
        self._look: Palette = LIGHT
        self.current = False
        self.wants = ""
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)
        self.setMaximumHeight(HIGH)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"{text} station")
        self._tip = f"{text} ({shortcut})"
        self.setToolTip(self._tip)

    def show_state(self, palette: Palette, *, current: bool, wants: str) -> None:
        """Show whether this station is open, and what in it wants the maker (or "")."""
        shown = (self._look, self.current, self.wants)
        if shown == (palette, current, wants):
            return
        self._look, self.current, self.wants = palette, current, wants
        self.setToolTip(f"{self._tip}\n{wants}" if wants else self._tip)
        self.setAccessibleDescription(wants)
        self.update()

    def sizeHint(self) -> QSize:
        """Return a target that a gloved hand hits."""
        return QSize(WIDE, HIGH)

    def minimumSizeHint(self) -> QSize:
        """Return the least that shows sign and word."""
        return QSize(WIDE, LEAST)

    def mousePressEvent(self, _event: QMouseEvent) -> None:
        """Open the station."""
        self.pressed.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Open the station on Return or Space."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.pressed.emit()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the sign, the word, the mark and the focus."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look = self._look
        box = QRectF(self.rect()).adjusted(6, 4, -6, -4)
        colour = look.ink
        if self.current:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(look.colour("ink"))
            painter.drawRoundedRect(box, 6, 6)
            colour = look.paper
        if self.hasFocus():
            painter.setPen(QPen(look.colour("iris"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box, 6, 6)
        size = SIGN if self.height() >= HIGH - 4 else SMALL_SIGN
        top = (self.height() - size - WORD - 2) / 2
        sign = pixmap(self._sign, colour, size, self.devicePixelRatioF())
        painter.drawPixmap(round((self.width() - size) / 2), round(top), sign)
        painter.setPen(look.colour("paper") if self.current else look.colour("ink"))
        painter.setFont(words(13, strong=self.current))
        text = QRectF(0, top + size + 2, self.width(), WORD)
        painter.drawText(text, Qt.AlignmentFlag.AlignCenter, self._text)
        if self.wants:
            painter.setPen(QPen(look.colour("linen"), 2))
            painter.setBrush(look.colour("heat"))
            painter.drawEllipse(QRectF(self.width() - 25, 9, 12, 12))


class Rail(QWidget):
    """All stations, one under the other."""

    chosen = Signal(str)

    def __init__(self, stations: list[tuple[str, str, str]]) -> None:
        """Make the rail of (id, word, shortcut); the icon has the station's id as its name."""
        super().__init__()
        self.setObjectName("Rail")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.keys: dict[str, RailKey] = {}
        for ident, word, shortcut in stations:
            key = RailKey(ident, word, shortcut)
            key.pressed.connect(lambda i=ident: self.chosen.emit(i))
            self.keys[ident] = key
        layout = column(*self.keys.values(), None, space=2)
        layout.setContentsMargins(0, 8, 0, 8)
        self.setLayout(layout)

    def show_state(self, palette: Palette, current: str, wants: dict[str, str]) -> None:
        """Show which station is open and which want the maker."""
        for ident, key in self.keys.items():
            key.show_state(palette, current=ident == current, wants=wants.get(ident, ""))
