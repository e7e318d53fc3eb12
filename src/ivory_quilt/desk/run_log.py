"""What happened lately, for whoever mends a fault: which commands, never the maker's data.

A log file that rotates, the last commands for reports, and a file that the interpreter writes into
when compiled code fails; at the next start that is made a report.
"""

import contextlib
import faulthandler
import logging
import os
import platform
from collections import deque
from datetime import datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import IO

from ivory_quilt import __version__
from ivory_quilt.system.alive import runs

LARGEST = 200_000  # bytes of one log file
KEPT = 2  # older ones
MOST_COMMANDS = 30  # that a report tells of

log = logging.getLogger("ivory_quilt")


class RunLog:
    """The log of one run."""

    def __init__(self) -> None:
        """Remember commands; nothing is written yet."""
        self.commands: deque[str] = deque(maxlen=MOST_COMMANDS)
        self._handler: logging.Handler | None = None
        self._faults: IO[str] | None = None
        self._faults_at: Path | None = None

    def begin(self, file: Path, reports: Path) -> list[Path]:
        """Write to `file` from now on, faults into `reports`; return reports of earlier faults.

        Where nothing can be written, nothing is.
        """
        with contextlib.suppress(OSError):
            file.parent.mkdir(parents=True, exist_ok=True)
            handler = RotatingFileHandler(file, maxBytes=LARGEST, backupCount=KEPT, delay=False)
            handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(message)s"))
            log.addHandler(handler)
            log.setLevel(logging.INFO)
            log.propagate = False
            self._handler = handler
        log.info("begins: %s", about())
        found: list[Path] = []
        with contextlib.suppress(OSError):
            reports.mkdir(parents=True, exist_ok=True)
            found = _earlier_faults(reports)
            self._faults_at = reports / f"fault-{os.getpid()}.txt"
            self._faults = self._faults_at.open("w")
            self._faults.write(f"{about()}\n")
            self._faults.flush()
            faulthandler.enable(self._faults)
        return found

    def did(self, command: str) -> None:
        """A command was given, by its id."""
        self.commands.append(command)
        log.info("command: %s", command)

    def end(self) -> None:
        """The run ends well."""
        log.info("ends")
        if self._faults is not None and self._faults_at is not None:
            faulthandler.disable()
            self._faults.close()
            with contextlib.suppress(OSError):
                self._faults_at.unlink()
            self._faults = None
        if self._handler is not None:
            log.removeHandler(self._handler)
            self._handler.close()
            self._handler = None


def about() -> str:
    """Return version and machine in a line."""
    return f"Ivory Quilt {__version__}, Python {platform.python_version()}, {platform.platform()}"


def report_name() -> str:
    """Return the name of a report that is made now."""
    return f"report-{datetime.now():%Y-%m-%d-%H%M%S-%f}.txt"


def _earlier_faults(reports: Path) -> list[Path]:
    """Make reports of what runs that are gone wrote when they failed."""
    made = []
    for found in sorted(reports.glob("fault-*.txt")):
        with contextlib.suppress(OSError, ValueError):
            if runs(int(found.stem.removeprefix("fault-"))):
                continue
            if len(found.read_text(errors="replace").splitlines()) < 2:
                found.unlink()  # it was killed, and had nothing to say
                continue
            made.append(found.rename(reports / report_name()))
    return made
