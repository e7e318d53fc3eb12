"""What is asked of an engine, wherever it works, and what it tells of it."""

import threading
from collections.abc import Callable
from decimal import Decimal
from typing import Protocol

from ivory_quilt.core.errors import QuiltError, Stopped
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement
from ivory_quilt.core.record import Struct
from ivory_quilt.engine.messages import JobMessage, StartLaying
from ivory_quilt.engine.queue import Rank


class Order(Struct, frozen=True):
    """One job to lay: for so many seconds, or so many steps, or until it costs no more than that.

    With neither seconds nor steps it ends with the first layout. `start` is a layout to go on from.
    """

    job: LayJob
    seconds: float | None = None
    steps: int | None = None
    seed: int = 0
    target: Decimal | None = None
    start: tuple[Placement, ...] = ()
    rank: Rank = Rank.FOAM

    def message(
        self,
        ticket: int,
        job: JobMessage,
        seconds: float | None,
        start: tuple[Placement, ...],
        threads: int,
    ) -> StartLaying:
        """Return the message that lets it be laid, for so many seconds from here on."""
        steps = 0 if self.seconds is None and self.steps is None else self.steps
        return StartLaying(ticket, job, self.seed, seconds, steps, self.target, start, threads)


class Better(Struct, frozen=True):
    """A better layout than those before."""

    result: LayResult


class Working(Struct, frozen=True):
    """The job has been laid for so many seconds."""

    seconds: float


class Ended(Struct, frozen=True):
    """Nothing more will be told: the best layout, None where there is none, and what went wrong."""

    result: LayResult | None
    problem: QuiltError | None = None


Told = Better | Working | Ended
Tell = Callable[[Told], object]
"""Called with what an engine tells of an order, on a thread of the engine's."""


class EngineFault(QuiltError):
    """The engine failed on a job in a way that nobody foresaw."""

    def __init__(self, message: str, report: str) -> None:
        """Say so in a sentence; `report` is what helps to mend it."""
        super().__init__(message)
        self.add_note(report)


class EngineState(Struct, frozen=True):
    """How an engine is.

    Attributes:
        ready: whether it can lay.
        share: of the work of preparing it that is done, while kernels are compiled.
        seconds: that preparing is thought to take still; 0 while nothing is compiled.
        losses: how many times a process of it was lost.
        workers: how many processes lay for it.
        problem: why there is none, where that is so.
    """

    ready: bool = False
    share: float = 0.0
    seconds: float = 0.0
    losses: int = 0
    workers: int = 1
    problem: str = ""


class LayBackend(Protocol):
    """Whatever lays orders: processes of this machine, or of others."""

    @property
    def state(self) -> EngineState:
        """How it is now."""

    def lay(self, order: Order, tell: Tell) -> int:
        """Take an order in; returns its ticket at once."""

    def stop(self, ticket: int) -> None:
        """Stop an order at once, or take it back; what was found has been told."""

    def lay_now(self, order: Order, wanted: Callable[[], bool] = lambda: True) -> LayResult:
        """Lay an order and wait for it, as long as it is wanted (see `wait_for`)."""

    def close(self) -> None:
        """End everything."""


def wait_for(
    layer: LayBackend, order: Order, wanted: Callable[[], bool], closed: Callable[[], bool]
) -> LayResult:
    """Lay an order with `layer` and wait for it; asks every moment whether it is still wanted.

    Raises:
        Stopped: it is wanted no more, and nothing was found.
        QuiltError: it cannot be laid.
    """
    ended = threading.Event()
    last: list[Ended] = []

    def hear(told: Told) -> None:
        if isinstance(told, Ended):
            last.append(told)
            ended.set()

    ticket = layer.lay(order, hear)
    stopped = False
    while not ended.wait(0.05):
        if closed():
            raise Stopped("The engine was closed.")
        if not stopped and not wanted():
            stopped = True
            layer.stop(ticket)
    if last[0].problem is not None:
        raise last[0].problem
    if last[0].result is None:
        raise Stopped("Stopped before there was any layout.")
    return last[0].result
