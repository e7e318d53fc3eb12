"""Empty states: one picture, one sentence, one button."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget

from ivory_quilt.desk.theme.icons import pixmap
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import button, column, label, row


class EmptyState(QWidget):
    """Teaches what a station is for while there is nothing in it."""

    def __init__(self, sign: str, sentence: str, action: str, run: Callable[[], object]) -> None:
        """Show icon `sign`, a sentence, and a button that runs `run`."""
        super().__init__()
        self._sign = sign
        self._picture = QLabel()
        self._picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.sentence = label(sentence, wrap=True)
        self.sentence.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.sentence.setMaximumWidth(420)
        self.sentence.setMinimumWidth(320)
        self.button = button(action, run, "main")
        self.setLayout(
            column(
                None,
                self._picture,
                row(None, self.sentence, None),
                row(None, self.button, None),
                None,
                space=20,
            )
        )
        self.set_look(LIGHT)

    def set_look(self, palette: Palette) -> None:
        """Draw the picture in another theme."""
        self._picture.setPixmap(pixmap(self._sign, palette.thread, 96, self.devicePixelRatioF()))
