"""A bell and a notice when a timer is due, wherever the maker looks."""

import shutil
import subprocess
from importlib.resources import as_file, files

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication, QSystemTrayIcon, QWidget

PLAYERS = ("pw-play", "paplay", "aplay")
"""What plays a sound file on usual desktops; without any, the system's own beep must do."""
NOTICE = 15_000  # ms that a notice stays


class Bell(QObject):
    """Rings for a window; silent where that is wished."""

    def __init__(self, window: QWidget) -> None:
        """Ring for `window`, which asks for attention."""
        super().__init__(window)
        self._window = window
        self._tray: QSystemTrayIcon | None = None
        self.silent = False
        self.rung: list[str] = []
        """What was said since the window came, for those who ask later."""

    def ring(self, title: str, said: str) -> None:
        """Sound, show a notice, and let the window ask for attention."""
        self.rung.append(f"{title}: {said}")
        QApplication.alert(self._window)
        if not self.silent:
            self._sound()
        if QSystemTrayIcon.isSystemTrayAvailable():
            if self._tray is None:
                self._tray = QSystemTrayIcon(self._window.windowIcon(), self)
                self._tray.show()
            self._tray.showMessage("Ivory Quilt", f"{title}: {said}", msecs=NOTICE)

    def _sound(self) -> None:
        player = next((p for p in map(shutil.which, PLAYERS) if p), None)
        if player is None:
            QApplication.beep()
            return
        quiet = subprocess.DEVNULL
        with as_file(files("ivory_quilt.data").joinpath("bell.wav")) as path:
            subprocess.Popen([player, str(path)], stdin=quiet, stdout=quiet, stderr=quiet)
