"""The Pattern station's places: the board, the bench, the seam map, and the bar between them."""

from collections.abc import Callable
from enum import StrEnum
from functools import partial

from PySide6.QtWidgets import QButtonGroup, QPushButton, QWidget

from ivory_quilt.desk.widgets.basics import button, label, row


class Mode(StrEnum):
    """Where the maker works."""

    BOARD = "board"
    BENCH = "bench"
    SEAMS = "seams"
    PAGES = "pages"


MODES = (
    (Mode.BOARD, "Board", "All pieces at one scale (Ctrl+Shift+B)"),
    (Mode.BENCH, "Bench", "One piece, to draw on and to cut open (Ctrl+E)"),
    (Mode.SEAMS, "Seams", "Which edges are glued together (Ctrl+J)"),
    (Mode.PAGES, "Pages", "Pages of a pattern on their way in, joined by their marks"),
)


class ModeBar(QWidget):
    """One button a place."""

    def __init__(self, go: Callable[[Mode], None]) -> None:
        """Call `go` with the place that is chosen."""
        super().__init__()
        group = QButtonGroup(self)
        self.buttons: dict[Mode, QPushButton] = {}
        for mode, title, tip in MODES:
            made = button(title, partial(go, mode), tip=tip)
            made.setCheckable(True)
            group.addButton(made)
            self.buttons[mode] = made
        self.note = label("", "note")
        layout = row(*self.buttons.values(), self.note, None, space=6)
        layout.setContentsMargins(12, 6, 12, 6)
        self.setLayout(layout)

    def show_mode(self, mode: Mode, *, pieces: bool, pages: bool) -> None:
        """Mark the place that is in front; places with nothing in them are hidden."""
        self.buttons[mode].setChecked(True)
        self.buttons[Mode.BENCH].setVisible(pieces)
        self.buttons[Mode.SEAMS].setVisible(pieces)
        self.buttons[Mode.PAGES].setVisible(pages)
        self.setVisible(pieces or pages)
