"""What is being read, how far it is, and a way to stop it."""

from collections.abc import Callable

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QFrame, QHBoxLayout, QProgressBar, QWidget

from ivory_quilt.core.reading.progress import ReadProgress
from ivory_quilt.desk.widgets.basics import button, label, set_tone

SHOW_AFTER = 500  # ms: most files are read before anyone could look
FOOT = 64  # px above the parent's foot: messages stand below


class ReadingBar(QFrame):
    """One line above the messages, while a file is being read."""

    def __init__(self, parent: QWidget, cancel: Callable[[], None]) -> None:
        """Lie over `parent`, hidden; `cancel` stops the reading."""
        super().__init__(parent)
        self.setObjectName("Bar")
        set_tone(self, "")
        self.text = label("")
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedWidth(160)
        self.bar.setRange(0, 0)
        self.bar.setAccessibleName("reading")
        self.cancel = button("Cancel", cancel, tip="Stop reading this file")
        layout = QHBoxLayout()
        layout.setContentsMargins(16, 6, 8, 6)
        layout.setSpacing(16)
        layout.addWidget(self.text, 1)
        layout.addWidget(self.bar)
        layout.addWidget(self.cancel)
        self.setLayout(layout)
        self._name = ""
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._show)
        self.hide()

    def begin(self, name: str) -> None:
        """A file is being read."""
        self._name = name
        self.text.setText(f"Reading {name} …")
        if not self.isVisible():
            self._timer.start(SHOW_AFTER)

    def tell(self, progress: ReadProgress, seconds: float) -> None:
        """Show how far it is."""
        self.bar.setRange(0, progress.total)
        self.bar.setValue(progress.done)
        self.text.setText(f"Reading {self._name}: {progress.words} · {seconds:.0f} s")

    def end(self) -> None:
        """Nothing is being read."""
        self._timer.stop()
        self.hide()

    def _show(self) -> None:
        self.place()
        self.show()
        self.raise_()

    def place(self) -> None:
        """Stand near the foot of the parent, in the middle."""
        parent = self.parentWidget()
        if parent is None:
            return
        width = min(720, parent.width() - 32)
        self.setFixedWidth(width)
        self.adjustSize()
        self.move((parent.width() - width) // 2, parent.height() - self.height() - FOOT)
