"""The window's actions and menus, made from the one list of commands."""

from collections.abc import Callable

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QMainWindow, QMenu

from ivory_quilt.desk.commands.command import Command, Desk
from ivory_quilt.desk.commands.menus import COMMANDS, MENUS

ALSO = {"redo": ("Ctrl+Y", "Ctrl+Shift+Z"), "zoom-in": ("Ctrl++", "Ctrl+=")}
"""Commands that go by more than one key."""


class Menus:
    """Actions by their command's id, and menus by name."""

    def __init__(
        self,
        window: QMainWindow,
        desk: Desk,
        fill_recent: Callable[[QMenu], None],
        did: Callable[[str], None],
    ) -> None:
        """Put actions and menus into `window`; commands work on `desk`, and `did` notes them."""
        self._desk, self._did = desk, did
        self.actions: dict[str, QAction] = {}
        for command in COMMANDS:
            action = QAction(command.title, window)
            action.setShortcut(QKeySequence(command.keys))
            action.setToolTip(f"{command.tip} ({command.keys})")
            action.setStatusTip(command.tip)
            action.triggered.connect(lambda _=False, c=command: self._run(c))
            window.addAction(action)
            self.actions[command.id] = action
        for ident, keys in ALSO.items():
            self.actions[ident].setShortcuts([QKeySequence(k) for k in keys])
        self.menus: dict[str, QMenu] = {}
        for name in MENUS:
            menu = QMenu(name, window)
            menu.setToolTipsVisible(True)
            for command in COMMANDS:
                if command.menu == name:
                    menu.addAction(self.actions[command.id])
            window.menuBar().addMenu(menu)
            menu.aboutToShow.connect(self.refresh)
            self.menus[name] = menu
        self.recent = QMenu("Open recent", window)
        self.recent.aboutToShow.connect(lambda: fill_recent(self.recent))
        self.menus["Project"].insertMenu(self.actions["import"], self.recent)

    def _run(self, command: Command) -> None:
        self._did(command.id)
        command.run(self._desk)

    def refresh(self) -> None:
        """Show which commands make sense now, and what undo and redo would do."""
        for command in COMMANDS:
            self.actions[command.id].setEnabled(command.enabled(self._desk))
        session = self._desk.session
        for ident, word, label in (
            ("undo", "Undo", session.undo_label),
            ("redo", "Redo", session.redo_label),
        ):
            self.actions[ident].setText(f"{word}: {label}" if label else word)
