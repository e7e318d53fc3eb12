"""Keeps the engine's processes of this machine: hands out orders, hears, begins lost ones anew.

One thread does it all. An order goes on from the last layout that was told; one that costs the
third process is given up with a report, and the others go on.
"""

import contextlib
import os
import threading
import time
from collections import deque
from collections.abc import Callable
from functools import partial
from itertools import count
from multiprocessing.connection import Connection, wait

from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.nesting.job import LayResult
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.engine.messages import (
    EngineReady,
    Failed,
    FromEngine,
    LaidBetter,
    LayingEnded,
    LayingFor,
    Preparing,
    Refused,
    StopLaying,
    TookTooMuch,
)
from ivory_quilt.engine.orders import (
    Better,
    Ended,
    EngineFault,
    EngineState,
    Order,
    Tell,
    Working,
)
from ivory_quilt.engine.process import EngineLost, EngineProcess
from ivory_quilt.engine.questions import Answering, Questions, answer_in
from ivory_quilt.engine.queue import WorkQueue
from ivory_quilt.system.cores import cores, usual_workers

MEMORY = 2_000_000_000  # bytes that one process may take
MOST_LOSSES = 3  # processes that one order may cost
LEAST_LEFT = 0.05  # s: less is not worth going on for
GB = 1_000_000_000
BURIED_WITHIN = 10.0  # s
DEAF_AFTER = 5.0  # s in which a process must hear a stop


class _Work(Struct):
    """An order on its way."""

    order: Order
    tell: Tell
    spent: float = 0.0
    told: float = 0.0
    losses: int = 0
    best: LayResult | None = None
    stopped: bool = False
    interrupted: bool = False


class EngineKeeper:
    """The engine's processes and their one thread; what is asked of them comes from any other."""

    def __init__(
        self,
        workers: int | None = None,
        memory: int = MEMORY,
        *,
        begin: bool = True,
    ) -> None:
        """Begin the first process; up to `workers` of them begin as there is work for them.

        Without `begin` that waits for the method of that name; what is asked until then is kept.
        """
        self.workers = usual_workers() if workers is None else max(1, workers)
        self.memory = memory
        self.state = EngineState(workers=self.workers)
        self._listeners: list[Callable[[EngineState], object]] = []
        self._numbers = count(1)
        self._processes: list[EngineProcess] = []
        self._works: dict[int, _Work] = {}
        self._queue = WorkQueue()
        self._questions = Questions(self._guarded)
        self._stops: dict[int, float] = {}
        self._failed_starts = 0
        self._last_words = ""
        self._commands: deque[Callable[[], None]] = deque()
        self._wake_reader, self._wake_writer = os.pipe()
        os.set_blocking(self._wake_writer, False)
        self._closing = False
        self._thread = threading.Thread(target=self._run, name="engine", daemon=True)
        self._begun = False
        if begin:
            self.begin()

    def begin(self) -> None:
        """Begin the first process, if that is not done yet."""
        if not self._begun and not self._closing:
            self._begun = True
            self._thread.start()

    # From any thread

    def listen(self, listener: Callable[[EngineState], object]) -> None:
        """Call `listener` whenever the engine's state changes, on the engine's thread."""
        self._listeners.append(listener)

    def forget(self, listener: Callable[[EngineState], object]) -> None:
        """Call a listener no more."""
        self._listeners.remove(listener)

    def resize(self, workers: int) -> None:
        """Let up to so many processes lay from now on; those too many end when they are free."""

        def change() -> None:
            self.workers = max(1, workers)
            self._say(workers=self.workers)

        self._do(change)

    def close(self) -> None:
        """End all processes."""
        self._closing = True
        self._wake()
        for process in list(self._processes):
            process.kill()
        if self._begun:
            self._thread.join(BURIED_WITHIN)

    @property
    def pids(self) -> tuple[int, ...]:
        """The numbers of its processes."""
        return tuple(p.pid for p in list(self._processes))

    def _do(self, command: Callable[[], None]) -> None:
        self._commands.append(command)
        self._wake()

    def _wake(self) -> None:
        with contextlib.suppress(OSError):  # awake enough, or closed
            os.write(self._wake_writer, b"x")

    # The engine's thread

    def _run(self) -> None:
        try:
            self._begin_process()
            while not self._closing:
                self._turn()
        finally:
            for process in self._processes:
                process.bury()
            os.close(self._wake_reader)

    def _turn(self) -> None:
        by_pipe = {p.pipe: p for p in self._processes}
        for found in wait([self._wake_reader, *by_pipe], self._patience()):
            if found == self._wake_reader:
                os.read(self._wake_reader, 4096)
            elif isinstance(found, Connection):
                self._hear_all(by_pipe[found])
        while self._commands:
            self._commands.popleft()()
        self._end_the_deaf()
        if not self._closing:
            self._hand_out()

    def _patience(self) -> float | None:
        """Return how long to wait for the next word: for ever, or until a stop must be heard."""
        if not self._stops:
            return None
        return max(0.0, min(self._stops.values()) - time.monotonic())

    def _end_the_deaf(self) -> None:
        """End processes that do not hear a stop; what was told of their orders stays."""
        now = time.monotonic()
        for ticket in [t for t, until in self._stops.items() if until <= now]:
            del self._stops[ticket]
            for process in self._processes:
                if process.ticket == ticket:
                    process.kill()

    def _say(self, **changes: object) -> None:
        self.state = replace(self.state, **changes)  # type: ignore[arg-type]
        for listener in list(self._listeners):
            listener(self.state)

    def _begin_process(self) -> None:
        self._processes.append(EngineProcess(self.memory))

    # Orders

    def _take(self, ticket: int, order: Order, tell: Tell) -> None:
        self._works[ticket] = _Work(order, tell)
        self._queue.add(ticket, order.rank)

    def _halt(self, ticket: int) -> None:
        work = self._works.get(ticket)
        if work is None:
            return
        work.stopped = True
        if self._queue.drop(ticket):
            self._finish(ticket, Ended(work.best))
            return
        self._stop_laying(ticket)

    def _stop_laying(self, ticket: int) -> None:
        for process in self._processes:
            if process.ticket == ticket:
                self._stops[ticket] = time.monotonic() + DEAF_AFTER
                self._guarded(process, lambda p: p.send(StopLaying(ticket)))
                return

    def _hand_out(self) -> None:
        """Give work to processes that are free, and take some from those that should give way."""
        if self.state.problem:
            for waiting in self._queue.waiting:
                self._queue.drop(waiting)
                self._finish(
                    waiting, Ended(None, EngineFault(self.state.problem, self._last_words))
                )
        self._let_go()
        free = [p for p in self._processes if p.free]
        while free and (ticket := self._queue.start()) is not None:
            process = free.pop(0)
            self._guarded(process, partial(self._begin, ticket=ticket))
        if self._queue.waiting and not free:
            starting = any(not p.ready for p in self._processes)
            if len(self._processes) < self.workers and not starting and self.state.ready:
                self._begin_process()
            elif not starting:
                self._interrupt()
        self._questions.put(self._processes, hopeless=bool(self.state.problem))

    def _let_go(self) -> None:
        """End processes that are too many; the first one has hands and scenes."""
        for process in self._processes[:0:-1]:
            if len(self._processes) > self.workers and process.free and not process.questions:
                self._processes.remove(process)
                process.bury()

    def _begin(self, process: EngineProcess, ticket: int) -> None:
        work = self._works[ticket]
        order = work.order
        busy = 1 + sum(p.ticket is not None for p in self._processes)
        seconds = order.seconds
        if seconds is not None and order.steps is None:
            seconds = max(0.0, seconds - work.spent)
        start = order.start
        if work.best is not None and not work.best.unplaced and order.steps is None:
            start = work.best.placements
        process.ticket = ticket
        work.interrupted = False
        threads = max(1, min(2, cores() // busy))
        process.send(order.message(ticket, process.wire(order.job), seconds, start, threads))

    def _interrupt(self) -> None:
        ticket = self._queue.to_interrupt()
        if ticket is None or self._works[ticket].interrupted:
            return
        self._works[ticket].interrupted = True
        self._stop_laying(ticket)

    def _finish(self, ticket: int, ended: Ended) -> None:
        self._queue.end(ticket)
        self._stops.pop(ticket, None)
        work = self._works.pop(ticket)
        work.tell(ended)

    def _again(self, ticket: int, work: _Work) -> None:
        """Let an order that was begun wait for its turn to go on, unless it is as good as done."""
        self._queue.end(ticket)
        self._stops.pop(ticket, None)
        work.spent += work.told
        work.told = 0.0
        left = work.order.seconds is None or work.order.seconds - work.spent > LEAST_LEFT
        if left or work.best is None:
            self._queue.add(ticket, work.order.rank, first=True)
        else:
            self._finish(ticket, Ended(work.best))

    # Hearing

    def _hear_all(self, process: EngineProcess) -> None:
        def hear(process: EngineProcess) -> None:
            while True:
                self._hear(process, process.receive())
                if not process.pipe.poll():
                    return

        self._guarded(process, hear)

    def _guarded(self, process: EngineProcess, work: Callable[[EngineProcess], object]) -> None:
        try:
            work(process)
        except EngineLost:
            if process in self._processes and not self._closing:
                self._lost(process)

    def _hear(self, process: EngineProcess, message: FromEngine) -> None:
        match message:
            case Preparing():
                if not self.state.ready:
                    self._say(share=message.share, seconds=message.seconds)
            case EngineReady():
                process.ready = True
                self._failed_starts = 0
                self._say(ready=True, share=1.0, seconds=0.0)
            case LaidBetter() | LayingFor() | LayingEnded():
                self._hear_of_work(process, message)
            case _ if isinstance(message, Answering):
                self._questions.answered(process, message.ticket, answer_in(message))
            case Refused():
                problem = InputError(message.where, message.problem, message.expected)
                self._wrong(process, message.ticket, problem)
            case Failed():
                text = "The layout engine failed on this foam."
                self._wrong(process, message.ticket, EngineFault(text, message.report))
            case TookTooMuch():
                limit = f"more than {self.memory / GB:g} GB of memory"
                self._wrong(process, message.ticket, QuiltError(f"Laying this takes {limit}."))

    def _hear_of_work(
        self, process: EngineProcess, message: LaidBetter | LayingFor | LayingEnded
    ) -> None:
        work = self._works.get(message.ticket)
        if work is None:
            return
        match message:
            case LaidBetter():
                work.best = message.result
                if not work.stopped:
                    work.tell(Better(message.result))
            case LayingFor():
                work.told = message.seconds
                if not work.stopped:
                    work.tell(Working(work.spent + message.seconds))
            case LayingEnded():
                process.ticket = None
                if work.interrupted and not work.stopped:
                    self._again(message.ticket, work)
                else:
                    self._finish(message.ticket, Ended(message.result or work.best))

    def _wrong(self, process: EngineProcess, ticket: int, problem: QuiltError) -> None:
        if ticket in self._works:
            process.ticket = None
            self._finish(ticket, Ended(self._works[ticket].best, problem))
        elif ticket in self._questions:
            self._questions.answered(process, ticket, None)
        elif not process.ready:
            process.kill()  # it cannot get ready; the pipe's end is heard next

    # Loss

    def _lost(self, process: EngineProcess) -> None:
        """Begin a process anew, and go on with what the lost one was at."""
        self._processes.remove(process)
        report = self._last_words = process.bury()
        if not process.ready:
            self._failed_starts += 1
        if self._failed_starts >= MOST_LOSSES:
            self._say(problem="The layout engine cannot be started.", losses=self.state.losses + 1)
        else:
            self._begin_process()
            ready = any(p.ready for p in self._processes)
            self._say(losses=self.state.losses + 1, ready=ready)
        self._questions.lost(process)
        ticket = process.ticket
        work = self._works.get(ticket) if ticket is not None else None
        if ticket is None or work is None:
            return
        work.losses += 1
        if work.stopped:
            self._finish(ticket, Ended(work.best))
        elif work.losses >= MOST_LOSSES:
            text = f"The layout engine was lost {work.losses} times on this foam."
            self._finish(ticket, Ended(work.best, EngineFault(text, report)))
        else:
            self._again(ticket, work)
