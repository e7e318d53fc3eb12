"""Short work off the interface thread, and the gate back to it.

Results come back as queued signals, so that whatever touches the document runs on the interface
thread. Laying is the engine's, in a process of its own (`layout_engine`).
"""

import threading
from collections.abc import Callable
from queue import SimpleQueue
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal

from ivory_quilt.core.errors import QuiltError

Background = Callable[[Callable[[], Any], Callable[[Any, Exception | None], None]], None]
"""Runs work on another thread, then tells of its result, or of its error: `TaskRunner.run`."""


def at_once(work: Callable[[], Any], done: Callable[[Any, Exception | None], None]) -> None:
    """Work here and now; the window puts its own thread in this place."""
    try:
        result = work()
    except QuiltError as error:
        done(None, error)
    else:
        done(result, None)


class TaskRunner(QObject):
    """Runs functions one after another on a thread of its own."""

    _done = Signal(object, object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        """Start the thread."""
        super().__init__(parent)
        self._queue: SimpleQueue[tuple[Callable[[], Any], Callable[..., None]] | None]
        self._queue = SimpleQueue()
        self._done.connect(self._deliver, Qt.ConnectionType.QueuedConnection)
        self._thread = threading.Thread(target=self._run, name="tasks", daemon=True)
        self._thread.start()

    def run(self, work: Callable[[], Any], done: Callable[[Any, Exception | None], None]) -> None:
        """Run `work` elsewhere, then `done(result, error)` here."""
        self._queue.put((work, done))

    def close(self) -> None:
        """Finish what runs and end the thread."""
        self._queue.put(None)
        self._thread.join(10)

    def _run(self) -> None:
        while (errand := self._queue.get()) is not None:
            work, done = errand
            try:
                self._done.emit(done, work(), None)
            except Exception as error:  # noqa: BLE001 - handed over, never swallowed
                self._done.emit(done, None, error)

    @staticmethod
    def _deliver(done: Callable[..., None], result: Any, error: Exception | None) -> None:
        done(result, error)
