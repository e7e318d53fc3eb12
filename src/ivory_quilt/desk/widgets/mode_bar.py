"""A bar of places within a station, one button each."""

from collections.abc import Callable, Collection, Sequence
from functools import partial
from typing import Any

from PySide6.QtWidgets import QButtonGroup, QPushButton, QWidget

from ivory_quilt.desk.widgets.basics import button, row


class ModeBar(QWidget):
    """One button a place; the one in front is marked."""

    def __init__(self, modes: Sequence[tuple[Any, str, str]], go: Callable[[Any], None]) -> None:
        """Show (value, word, tooltip) of each place; call `go` with the value that is chosen."""
        super().__init__()
        group = QButtonGroup(self)
        self.buttons: dict[Any, QPushButton] = {}
        for mode, title, tip in modes:
            made = button(title, partial(go, mode), tip=tip)
            made.setCheckable(True)
            group.addButton(made)
            self.buttons[mode] = made
        layout = row(*self.buttons.values(), None, space=6)
        layout.setContentsMargins(12, 6, 12, 6)
        self.setLayout(layout)

    def show_mode(self, mode: object, there: Collection[object]) -> None:
        """Mark the place in front; hide those not `there`, and the bar when there is only one."""
        self.buttons[mode].setChecked(True)
        for value, made in self.buttons.items():
            made.setVisible(value in there)
        self.setVisible(len(there) > 1)
