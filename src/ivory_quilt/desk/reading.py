"""Readers in the window: one file after another in a process of its own, with progress and cancel.

Whatever a file is, the window stays alive, and a file that takes too long does not hold up those
behind it for longer than the limit, or than the maker wants.
"""

import threading
import time
from collections.abc import Callable
from queue import SimpleQueue
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal

from ivory_quilt.core.reading.progress import ReadProgress
from ivory_quilt.files.apart import Apart

TELL_EVERY = 0.1  # s between two progress signals
Done = Callable[[Any, Exception | None], None]


class ReadRunner(QObject):
    """Runs readers, each told of to its caller on the interface thread."""

    began = Signal(str)
    """A file is being read: its name."""
    progress = Signal(object, float)
    """How far it is, a `ReadProgress`, and the seconds it has taken."""
    ended = Signal()
    """Nothing is being read."""
    _done = Signal(object, object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        """Start the thread that waits on the process; the process comes with the first file."""
        super().__init__(parent)
        self._queue: SimpleQueue[tuple[Callable[..., Any], Done, str] | None] = SimpleQueue()
        self._stopped = threading.Event()
        self._closing = False
        self._done.connect(self._deliver, Qt.ConnectionType.QueuedConnection)
        self._thread = threading.Thread(target=self._run, name="reading", daemon=True)
        self._thread.start()

    def run(self, work: Callable[..., Any], done: Done, what: str = "the file") -> None:
        """Run `work` in the process, then ``done(result, error)`` here.

        `work` is a function or method of a module, or a partial of one, with what it needs; it goes
        through pickle, as does what it returns.
        """
        self._queue.put((work, done, what))

    def cancel(self) -> None:
        """Stop what is being read, at once."""
        self._stopped.set()

    def close(self) -> None:
        """Stop, and end the thread and the process."""
        self._closing = True
        self._stopped.set()
        self._queue.put(None)
        self._thread.join(10)

    def _run(self) -> None:
        with Apart() as apart:
            while (errand := self._queue.get()) is not None and not self._closing:
                work, done, what = errand
                self._stopped.clear()
                if self._closing:
                    return
                self.began.emit(what)
                try:
                    self._done.emit(done, apart.run(work, what=what, report=self._reporter()), None)
                except Exception as error:  # noqa: BLE001 - handed over, never swallowed
                    if not self._closing:
                        self._done.emit(done, None, error)
                if self._queue.empty():
                    self.ended.emit()

    def _reporter(self) -> Callable[[ReadProgress], bool]:
        began = last = time.monotonic()

        def report(progress: ReadProgress) -> bool:
            nonlocal last
            now = time.monotonic()
            if now - last >= TELL_EVERY:
                last = now
                self.progress.emit(progress, now - began)
            return not self._stopped.is_set()

        return report

    @staticmethod
    def _deliver(done: Done, result: Any, error: Exception | None) -> None:
        done(result, error)
