"""Unexpected errors: a calm panel with a way to save, and a report file; never a silent trace."""

import sys
import threading
import traceback
from collections.abc import Callable, Iterable
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QObject, Qt, Signal

from ivory_quilt.desk.run_log import RunLog, about, log, report_name


class ErrorWatch(QObject):
    """Catches what nobody caught, on every thread, writes a report and tells the window."""

    caught = Signal(object, str)
    _arrived = Signal(object)

    def __init__(self, reports: Path, run: RunLog, parent: QObject | None = None) -> None:
        """Write reports into the folder `reports`; `run` knows the last commands."""
        super().__init__(parent)
        self._reports, self._run = reports, run
        self._before: tuple[Callable[..., object], Callable[..., object]] | None = None
        self._arrived.connect(self.take, Qt.ConnectionType.QueuedConnection)

    def did(self, command: str) -> None:
        """A command was given, by its id."""
        self._run.did(command)

    def install(self) -> None:
        """Take over Python's hooks for uncaught errors."""
        self._before = (sys.excepthook, threading.excepthook)
        sys.excepthook = self._on_main
        threading.excepthook = self._on_thread

    def remove(self) -> None:
        """Give the hooks back."""
        if self._before is not None:
            sys.excepthook, threading.excepthook = self._before
            self._before = None

    def _on_main(
        self, kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        self._arrived.emit(error)

    def _on_thread(self, arguments: threading.ExceptHookArgs) -> None:
        if arguments.exc_value is not None and not issubclass(arguments.exc_type, SystemExit):
            self._arrived.emit(arguments.exc_value)

    def take(self, error: BaseException) -> None:
        """Write a report of `error` and tell whoever listens."""
        self.caught.emit(error, str(self.keep(error) or ""))

    def keep(self, error: BaseException) -> Path | None:
        """Write a report of `error`; return where, or None when that cannot be done."""
        log.error("unexpected: %s", type(error).__name__)
        text = report_text(error, self._run.commands)
        sys.stderr.write(text)
        try:
            self._reports.mkdir(parents=True, exist_ok=True)
            path = self._reports / report_name()
            path.write_text(text)
        except OSError:
            return None
        return path


def report_text(error: BaseException, commands: Iterable[str] = ()) -> str:
    """Return what a developer needs to know; nothing of the project is in it."""
    trace = "".join(traceback.format_exception(error))
    return f"{about()}\nlast commands: {', '.join(commands) or 'none'}\n{trace}"
