"""One engine process seen from outside: begun, spoken to, ended."""

import signal
import subprocess
import tempfile
from typing import IO

import msgspec

from ivory_quilt.core.nesting.job import LayJob
from ivory_quilt.engine.messages import (
    ForgetShapes,
    FromEngine,
    JobMessage,
    SendShapes,
    ToEngine,
    decode_from_engine,
    encode,
)
from ivory_quilt.engine.shape_book import ShapeBook
from ivory_quilt.system.child import spawn

WORKER = "ivory_quilt.engine.worker"
MOST_SHAPES = 100_000_000  # bytes of shapes that one process keeps
TAIL = 6000  # characters of its last words that go into a report


class EngineLost(Exception):
    """The process is gone."""


class EngineProcess:
    """A process that lays one job at a time and answers questions meanwhile."""

    def __init__(self, memory: int) -> None:
        """Begin one that may take `memory` bytes; it says when it is ready."""
        self._errors: IO[bytes] = tempfile.TemporaryFile()  # noqa: SIM115 - closed with the process
        self._process, self.pipe = spawn(WORKER, memory, errors=self._errors)
        self._shapes = ShapeBook()
        self.ready = False
        self.ticket: int | None = None
        """What it lays."""
        self.questions: set[int] = set()
        """What it was asked and has not answered yet."""

    @property
    def pid(self) -> int:
        """The process's number."""
        return self._process.pid

    @property
    def free(self) -> bool:
        """Whether it can lay another job."""
        return self.ready and self.ticket is None

    def wire(self, job: LayJob) -> JobMessage:
        """Return a job as this process knows it, once it was sent the shapes that are new to it.

        Raises:
            EngineLost: it is gone.
        """
        if self._shapes.size > MOST_SHAPES and self.ticket is None and not self.questions:
            self._shapes.clear()
            self.send(ForgetShapes())
        wire, new = self._shapes.wire(job)
        if new:
            self.send(SendShapes(new))
        return wire

    def send(self, message: ToEngine) -> None:
        """Send a message.

        Raises:
            EngineLost: it is gone.
        """
        try:
            self.pipe.send_bytes(encode(message))
        except OSError:
            raise EngineLost from None

    def receive(self) -> FromEngine:
        """Return the next message; waits for one.

        Raises:
            EngineLost: it is gone, or says what makes no sense.
        """
        try:
            return decode_from_engine(self.pipe.recv_bytes())
        except (EOFError, OSError, msgspec.MsgspecError):
            raise EngineLost from None

    def bury(self) -> str:
        """End the process if need be; return how it ended, with its last words."""
        self.kill()
        self.pipe.close()
        try:
            code = self._process.wait(5)
        except subprocess.TimeoutExpired:
            code = None
        with self._errors as errors:
            errors.seek(0)
            said = errors.read().decode(errors="replace")[-TAIL:]
        if code is not None and code < 0:
            how = f"ended by {signal.Signals(-code).name}"
        else:
            how = f"ended with status {code}"
        return f"engine process {how}\n{said}".rstrip() + "\n"

    def kill(self) -> None:
        """End the process at once; safe from any thread."""
        if self._process.poll() is None:
            self._process.kill()
