"""Slips: a figure with a dotted underline opens a paper slip with its reckoning."""

from collections.abc import Callable

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QGridLayout, QLabel, QWidget

from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.widgets.basics import column, label


class SlipFigure(QLabel):
    """A figure that explains itself when it is clicked, or on Return."""

    def __init__(self, role: str = "figure") -> None:
        """Make an empty figure in one of the theme's roles."""
        super().__init__()
        self.setProperty("role", role)
        self._reckon: Callable[[], Reckoning] | None = None
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_figure(self, text: str, reckon: Callable[[], Reckoning] | None) -> None:
        """Show `text`; `reckon` makes its reckoning when asked."""
        self.setText(text)
        self._reckon = reckon
        self.setToolTip("Click to see how this is worked out" if reckon else "")
        self.update()

    def open_slip(self) -> "Slip | None":
        """Open the slip below the figure."""
        if self._reckon is None:
            return None
        slip = Slip(self._reckon(), self)
        slip.show_near(self)
        return slip

    def mousePressEvent(self, _event: QMouseEvent) -> None:
        """Open the slip."""
        self.open_slip()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Open the slip on Return or Space."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.open_slip()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the figure with its dotted line, and the focus."""
        super().paintEvent(event)
        if self._reckon is None:
            return
        painter = QPainter(self)
        width = self.fontMetrics().horizontalAdvance(self.text())
        right = self.alignment() & Qt.AlignmentFlag.AlignRight
        x = self.width() - width if right else 0
        colour = self.palette().windowText().color()
        if self.hasFocus():
            colour = self.palette().highlight().color()
        pen = QPen(colour, 2 if self.hasFocus() else 1.4)
        pen.setDashPattern([1, 2])
        painter.setPen(pen)
        y = self.height() // 2 + self.fontMetrics().height() // 2 - 1
        painter.drawLine(x, y, x + width, y)


class Slip(QFrame):
    """A reckoning, line by line, with its source."""

    def __init__(self, reckoning: Reckoning, parent: QWidget | None = None) -> None:
        """Write the slip."""
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("Slip")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(6)
        for k, step in enumerate(reckoning.steps):
            grid.addWidget(label(step.text), k, 0, Qt.AlignmentFlag.AlignTop)
            formula = label(step.formula, "note", wrap=True)
            formula.setMaximumWidth(260)
            formula.setMinimumWidth(160)
            grid.addWidget(formula, k, 1)
            shown = step.value if isinstance(step.value, str) else show_number(step.value, 3)
            value = label(f"{shown} {step.unit}".strip(), "mono")
            value.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
            grid.addWidget(value, k, 2)
        notes = [label(n, "note", wrap=True) for n in reckoning.notes]
        source = label(f"Source: {reckoning.source}", "note", wrap=True)
        self.setLayout(column(grid, *notes, source, space=12, edge=16))

    def show_near(self, figure: QWidget) -> None:
        """Show the slip by `figure`, wholly on the screen."""
        self.adjustSize()
        at = figure.mapToGlobal(QPoint(0, figure.height() + 4))
        screen = figure.screen().availableGeometry()
        x = min(max(at.x(), screen.left() + 8), screen.right() - self.width() - 8)
        y = at.y()
        if y + self.height() > screen.bottom():
            y = figure.mapToGlobal(QPoint(0, 0)).y() - self.height() - 4
        self.move(x, max(screen.top() + 8, y))
        self.show()
