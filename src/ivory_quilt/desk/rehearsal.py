"""What Qt does once for all is done while nobody waits: not when hands come."""

from collections.abc import Iterator

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget
from shiboken6 import isValid

from ivory_quilt.desk.canvas.view import rehearse
from ivory_quilt.desk.idle_tasks import IdleTasks

PORTION = 0.004  # seconds of a turn


def rehearse_window(window: QWidget) -> None:
    """Paint a table where nobody sees it, and style all of a window before it is first shown."""
    rehearse()
    tasks = IdleTasks(PORTION, window)
    tasks.add("polish", _polished(window))


def _polished(window: QWidget) -> Iterator[None]:
    """Style one widget after another: at first sight of a station it would be all at once."""
    direct = Qt.FindChildOption.FindDirectChildrenOnly
    waiting = [window]  # found one after another too: all of them at once would be a pause
    while waiting:
        widget = waiting.pop()
        if isValid(widget):  # a list that was filled anew meanwhile let its rows go
            widget.ensurePolished()
            waiting += widget.findChildren(QWidget, options=direct)
        yield
