"""Runs a reader in a process of its own, with a limit of memory and of time.

A drawing from anywhere may be damaged, endless or hostile. Whatever a reader does with it there,
the window and the maker's work stay: the process is ended when it takes more than it may, or at
once when the maker no longer wants the file. One process serves reading after reading, as starting
costs more than most files.
"""

import pickle
import subprocess
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

from ivory_quilt.core.errors import InputError, QuiltError, Stopped
from ivory_quilt.core.reading.progress import ReadProgress, ReadReport, tell_nobody
from ivory_quilt.core.record import Struct
from ivory_quilt.system.child import spawn

MEMORY = 1_000_000_000  # bytes that a reader may take
SECONDS = 30.0
LOOK_EVERY = 0.05  # s between two looks at whether the maker still wants it
GB = 1_000_000_000
WORKER = "ivory_quilt.files.apart_worker"


class ReaderCrash(QuiltError):
    """A reader failed in a way that nobody foresaw; the text is its traceback."""


class Limits(Struct, frozen=True):
    """What a reading may take: bytes of memory and seconds."""

    memory: int = MEMORY
    seconds: float = SECONDS


USUAL = Limits()


class Apart:
    """A process for readers; made when it is first needed, anew when it was ended.

    For use by one thread at a time.
    """

    def __init__(self, limits: Limits = USUAL) -> None:
        """Read within `limits`."""
        self.limits = limits
        self._process: subprocess.Popen[bytes] | None = None
        self._pipe: Connection | None = None
        self._busy = False
        self.peak = 0
        """Most memory that the last reading took, bytes."""

    def __enter__(self) -> "Apart":
        """Use it in a ``with``."""
        return self

    def __exit__(self, *_: object) -> None:
        """End the process."""
        self.close()

    def start(self) -> None:
        """Start the process before it is needed."""
        if self._process is not None and self._process.poll() is None:
            return
        self.close()
        self._process, self._pipe = spawn(WORKER, self.limits.memory)

    def run(
        self,
        work: Callable[..., Any],
        *given: Any,
        what: str,
        report: ReadReport = tell_nobody,
    ) -> Any:
        """Return ``work(*given)``, done in the process.

        Args:
            work: a function or method of a module; one that takes `report` is given one.
            given: what it takes; goes through pickle, as does what it returns.
            what: the file's name, for messages.
            report: is told how far it is, and every moment in between; returns False to stop it.

        Raises:
            InputError: the reader refused the file, or it took more than the limits.
            Stopped: `report` said so.
            ReaderCrash: the reader failed.
        """
        self.start()
        assert self._pipe is not None
        try:
            self._pipe.send((work, given))
            return self._wait(what, report)
        except (EOFError, OSError, pickle.UnpicklingError):
            self.close()
            # The system ends what asks for more than it may have in many ways: an abort, a fault.
            raise self._too_large(what) from None
        except BaseException:
            if self._busy:
                self.close()
            raise

    def _wait(self, what: str, report: ReadReport) -> Any:
        assert self._pipe is not None
        began = time.monotonic()
        latest = ReadProgress(0, 0, "reading")
        self._busy = True
        while True:
            if self._pipe.poll(LOOK_EVERY):
                kind, said = self._pipe.recv()
                if kind == "progress":
                    latest = said
                else:
                    self._busy = False
                    return self._answer(kind, said, what)
            if not report(latest):
                raise Stopped(f"{what}: not read, as you stopped it")
            if time.monotonic() - began > self.limits.seconds:
                raise self._too_long(what)

    def _answer(self, kind: str, said: Any, what: str) -> Any:
        if kind == "done":
            self.peak, result = said
            return result
        if kind == "refused":
            raise InputError(*said)
        if kind == "stopped":
            raise QuiltError(said)
        if kind == "memory":
            self.close()
            raise self._too_large(what)
        raise ReaderCrash(said)

    def _too_long(self, what: str) -> InputError:
        limit = f"{self.limits.seconds:g} s"
        return InputError(what, f"reading it takes longer than {limit}", "a simpler file")

    def _too_large(self, what: str) -> InputError:
        limit = f"{self.limits.memory / GB:g} GB"
        return InputError(what, f"reading it takes more than {limit} of memory", "a simpler file")

    def close(self) -> None:
        """End the process at once."""
        self._busy = False
        process, self._process = self._process, None
        pipe, self._pipe = self._pipe, None
        if pipe is not None:
            pipe.close()
        if process is not None and process.poll() is None:
            process.kill()
            process.wait(5)
