"""The head of the window: the project's name, and the tools that are at hand everywhere."""

from collections.abc import Mapping

from PySide6.QtCore import QSize
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QToolButton, QWidget

from ivory_quilt.desk.theme.icons import icon
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.widgets.basics import label, row

TOOLS = (
    ("undo", "undo"),
    ("redo", "redo"),
    ("import", "plus"),
    ("save", "save"),
    ("fit", "fit"),
    ("fold-card", "fold"),
    ("theme", "theme"),
    ("guide", "help"),
)
"""Commands that stand there, each with its sign."""


class Header(QWidget):
    """Name and tools, at the end of the menu bar."""

    def __init__(self, actions: Mapping[str, QAction]) -> None:
        """Offer `actions`, by their command's id."""
        super().__init__()
        self.setObjectName("Header")
        self.name = label("", "heading")
        self._tools: list[tuple[QToolButton, str]] = []
        tools = row(space=4)
        for ident, sign in TOOLS:
            tool = QToolButton()
            tool.setDefaultAction(actions[ident])
            tool.setIconSize(QSize(20, 20))
            tool.setAccessibleName(actions[ident].text())
            self._tools.append((tool, sign))
            tools.addWidget(tool)
        bar = row(self.name, tools, space=16)
        bar.setContentsMargins(16, 4, 12, 4)
        self.setLayout(bar)

    def set_look(self, look: Palette) -> None:
        """Take another theme."""
        for tool, sign in self._tools:
            action = tool.defaultAction()
            action.setIcon(icon(sign, look.ink, 20))
            action.setIconVisibleInMenu(False)
