"""All keyboard shortcuts on one page, made from the one list of commands."""

from collections.abc import Sequence
from typing import NamedTuple

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QWidget

from ivory_quilt.desk.widgets.basics import column, label, scrolled
from ivory_quilt.desk.widgets.panels import Panel

LEFT = ("Project", "Edit")  # menus of the left column
HANDS = (
    "On every table: the wheel zooms to the pointer; the middle button, or space and the left "
    "button, moves the table; F zooms to fit.",
    "On Lay: drag a part to move it, also to another sheet of the same foam. While you hold it, R "
    "rotates it, X flips it, Esc puts it back. A clash shows in red and is never accepted.",
    "A figure with a dotted line explains itself when you click it.",
)
ROW = 24  # px: the least height at which no letter is cut


class Shortcut(NamedTuple):
    """A command as the page shows it."""

    menu: str
    keys: str
    title: str
    tip: str


class KeysPanel(Panel):
    """The page of shortcuts."""

    def __init__(
        self, parent: QWidget, shortcuts: Sequence[Shortcut], menus: Sequence[str]
    ) -> None:
        """Keep what will be on the page."""
        super().__init__(parent, "Keyboard shortcuts", (900, 620))
        self._shortcuts, self._menus = shortcuts, menus
        self._written = False

    def open(self) -> None:
        """Show the page; it is written when somebody first wants to read it."""
        if not self._written:
            self._written = True
            self._write(self._shortcuts, self._menus)
        super().open()

    def _write(self, shortcuts: Sequence[Shortcut], menus: Sequence[str]) -> None:
        columns = QHBoxLayout()
        columns.setSpacing(40)
        left, right = column(space=6), column(space=6)
        for menu in menus:
            target = left if menu in LEFT else right
            target.addWidget(label(menu, "heading"))
            grid = QGridLayout()
            grid.setHorizontalSpacing(16)
            grid.setVerticalSpacing(4)
            for k, one in enumerate(s for s in shortcuts if s.menu == menu):
                grid.setRowMinimumHeight(k, ROW)
                grid.addWidget(label(one.keys, "mono"), k, 0)
                name = label(one.title)
                name.setToolTip(one.tip)
                grid.addWidget(name, k, 1)
            grid.setColumnMinimumWidth(0, 120)
            grid.setColumnStretch(1, 1)
            target.addLayout(grid)
            target.addSpacing(8)
        for text in HANDS:
            left.addWidget(label(text, "note", wrap=True))
        left.addStretch(1)
        right.addStretch(1)
        columns.addLayout(left)
        columns.addLayout(right)
        page = QWidget()
        page.setLayout(columns)
        self.fill(scrolled(page))
