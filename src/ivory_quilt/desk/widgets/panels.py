"""Panels that lie over the desk: messages, history, a name, and calm words on errors."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLayout,
    QLineEdit,
    QListWidget,
    QWidget,
)

from ivory_quilt.desk.widgets.basics import button, column, label, row, set_tone

TOLD_FOR = 7000  # ms a message stays


class Message(QFrame):
    """One line of news above the ledger; goes by itself."""

    def __init__(self, parent: QWidget) -> None:
        """Lie over `parent`, hidden."""
        super().__init__(parent)
        self.setObjectName("Bar")
        self.text = label("", wrap=True)
        self.text.setMinimumHeight(24)
        self.tone = ""
        close = button("×", self.hide, "quiet", "Dismiss message")
        close.setFixedWidth(34)
        close.setAccessibleName("dismiss message")
        layout = QHBoxLayout()
        layout.setContentsMargins(16, 6, 6, 6)
        layout.addWidget(self.text, 1)
        layout.addWidget(close)
        self.setLayout(layout)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.hide)
        self.hide()

    def tell(self, text: str, tone: str = "") -> None:
        """Show a message in a tone."""
        self.tone = tone
        self.text.setText(text)
        self.text.setToolTip(text)
        set_tone(self.text, tone)
        set_tone(self, tone)
        self.adjustSize()
        self.place()
        self.show()
        self.raise_()
        self._timer.start(TOLD_FOR)

    def place(self) -> None:
        """Stand at the foot of the parent, in the middle."""
        parent = self.parentWidget()
        if parent is None:
            return
        wanted = self.text.fontMetrics().horizontalAdvance(self.text.text()) + 84
        width = min(max(wanted, 320), parent.width() - 32)
        self.setFixedWidth(width)
        self.setFixedHeight(self.heightForWidth(width))
        x = (parent.width() - width) // 2
        self.move(x, parent.height() - self.height() - 12)


class Panel(QFrame):
    """A sheet of paper over the desk; Escape puts it away."""

    def __init__(self, parent: QWidget, title: str, size: tuple[int, int]) -> None:
        """Lie in the middle of `parent`, hidden."""
        super().__init__(parent)
        self.setObjectName("Slip")
        self._wanted = size
        self.close_button = button("Close", self.put_away)
        self.head = label(title, "title")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        parent.installEventFilter(self)
        self.hide()

    def fill(self, *content: QWidget | QLayout | None) -> None:
        """Put the panel's content below its title."""
        self.setLayout(column(row(self.head, None, self.close_button), *content, space=12, edge=20))

    def open(self) -> None:
        """Show the panel."""
        self._place()
        self.show()
        self.raise_()
        self.setFocus()

    def put_away(self) -> None:
        """Hide the panel."""
        self.hide()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape puts it away."""
        if event.key() == Qt.Key.Key_Escape:
            self.put_away()
        else:
            super().keyPressEvent(event)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Stay in the middle when the window changes size."""
        if event.type() == QEvent.Type.Resize and self.isVisible():
            self._place()
        return super().eventFilter(watched, event)

    def _place(self) -> None:
        parent = self.parentWidget()
        assert parent is not None
        width = min(self._wanted[0], parent.width() - 40)
        height = min(self._wanted[1], parent.height() - 40)
        self.setGeometry(
            (parent.width() - width) // 2, (parent.height() - height) // 2, width, height
        )


class HistoryPanel(Panel):
    """All steps, newest first; going back to one takes back those after it."""

    def __init__(self, parent: QWidget, go_back: Callable[[int], None]) -> None:
        """Call `go_back(steps)` when the maker chooses."""
        super().__init__(parent, "History", (420, 480))
        self.list = QListWidget()
        self.list.setAccessibleName("steps, newest first")
        self._go_back = go_back
        back = button("Undo to here", self._back, "main")
        self.list.itemActivated.connect(lambda _: self._back())
        self.fill(self.list, row(back, None))

    def show_steps(self, steps: list[str]) -> None:
        """Show `steps`, oldest first, and open."""
        self.list.clear()
        self.list.addItems(list(reversed(steps)))
        self.list.setCurrentRow(0)
        self.open()
        self.list.setFocus()

    def _back(self) -> None:
        self.put_away()
        self._go_back(self.list.currentRow() + 1)


class NamePanel(Panel):
    """Asks for the project's name."""

    def __init__(self, parent: QWidget, take: Callable[[str], None]) -> None:
        """Call `take(name)` when the maker is done."""
        super().__init__(parent, "Project name", (420, 150))
        self.field = QLineEdit()
        self.field.setAccessibleName("project name")
        self._take = take
        self.field.returnPressed.connect(self._done)
        self.fill(row(self.field, button("Rename", self._done, "main")))

    def ask(self, name: str) -> None:
        """Show the present name and open."""
        self.field.setText(name)
        self.open()
        self.field.setFocus()
        self.field.selectAll()

    def _done(self) -> None:
        self.put_away()
        self._take(self.field.text())


class ErrorPanel(Panel):
    """Something unexpected: what happened, what is safe, what to do."""

    def __init__(self, parent: QWidget, save_copy: Callable[[], object]) -> None:
        """Offer `save_copy` to the maker."""
        super().__init__(parent, "Something unexpected happened", (560, 300))
        self.what = label("", wrap=True)
        self.where = label("", "note", wrap=True)
        self.where.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        safe = (
            "Your project is as it was before the last step, and the file on disk is untouched. "
            "Save a copy now, then go on; if it happens again, the report helps whoever mends it."
        )
        self.fill(
            self.what,
            label(safe, wrap=True),
            self.where,
            None,
            row(button("Save a copy …", save_copy, "main"), None),
        )

    def show_error(self, error: BaseException, report: str) -> None:
        """Show what happened and where the report lies."""
        self.what.setText(f"{type(error).__name__}: {error}")
        where = f"Report: {Path(report)}" if report else "The report could not be written."
        self.where.setText(where)
        self.open()

    def showEvent(self, event: QShowEvent) -> None:
        """Give the keyboard to the panel."""
        super().showEvent(event)
        self.setFocus()
