"""The engine on several machines: orders are tasks of a Dask cluster that somebody began.

Each order is one task with its own seed, so that a worker that is lost costs its task's time and
nothing else: the scheduler gives the task to another one.
"""

import contextlib
import threading
from collections.abc import Callable
from functools import partial
from itertools import count
from typing import Any
from uuid import uuid4

from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.nesting.job import LayResult
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.engine.messages import (
    LaidBetter,
    LayingFor,
    SendShapes,
    decode_from_engine,
    decode_result,
)
from ivory_quilt.engine.orders import (
    Better,
    Ended,
    EngineFault,
    EngineState,
    Order,
    Tell,
    Working,
    wait_for,
)
from ivory_quilt.engine.remote import lay_remotely, packed
from ivory_quilt.engine.shape_book import ShapeBook

CONNECT_WITHIN = 10.0  # s
LOOK_EVERY = 2.0  # s between two looks at how many workers there are
EXTRA = "pip install 'ivory-quilt[cluster]'"


class _Task(Struct):
    future: Any
    topic: str
    tell: Tell
    began: bool = False
    best: LayResult | None = None
    stopped: bool = False


class ClusterEngine:
    """A Dask cluster that lays orders. Methods return at once, but for connecting."""

    def __init__(self, address: str) -> None:
        """Connect to the scheduler at `address`, such as tcp://host:8786 or tls://host:8786.

        Certificates for tls are Dask's own configuration.

        Raises:
            InputError: nobody answers there, or the extra packages are missing.
        """
        try:
            from distributed import Client
        except ImportError:
            raise InputError("engine", "the packages for a cluster are missing", EXTRA) from None
        try:
            self._client = Client(
                address, timeout=CONNECT_WITHIN, set_as_default=False, heartbeat_interval=2000
            )
        except (OSError, ValueError, RuntimeError) as error:
            raise InputError(
                "engine", f"no scheduler answers at {address} ({_short(error)})", "tcp://host:8786"
            ) from None
        self.address = address
        self._numbers = count(1)
        self._tasks: dict[int, _Task] = {}
        self._lock = threading.Lock()
        self._closing = threading.Event()
        self.state = EngineState(ready=True, share=1.0, workers=self._workers())
        self._watch = threading.Thread(target=self._look, name="cluster", daemon=True)
        self._watch.start()

    def lay(self, order: Order, tell: Tell) -> int:
        """Take an order in; returns its ticket at once."""
        ticket = next(self._numbers)
        topic = f"ivory-quilt-{uuid4().hex}"
        book = ShapeBook()
        wire, shapes = book.wire(order.job)
        # A worker is a core; more of them are more workers.
        start = order.message(ticket, wire, order.seconds, order.start, threads=1)
        self._client.subscribe_topic(topic, partial(self._hear, ticket))
        future = self._client.submit(
            lay_remotely,
            *packed(start, SendShapes(shapes)),
            topic,
            key=topic,
            priority=-int(order.rank),  # Dask's larger ones come first
            pure=False,
        )
        with self._lock:
            self._tasks[ticket] = _Task(future, topic, tell)
        future.add_done_callback(partial(self._done, ticket))
        return ticket

    def stop(self, ticket: int) -> None:
        """Stop an order soon, or take it back; what was found has been told."""
        with self._lock:
            task = self._tasks.get(ticket)
            if task is None or task.stopped:
                return
            task.stopped = True
        threading.Thread(target=self._call_back, args=(task,), daemon=True).start()

    def lay_now(self, order: Order, wanted: Callable[[], bool] = lambda: True) -> LayResult:
        """Lay an order and wait for it (see `EngineService.lay_now`)."""
        return wait_for(self, order, wanted, self._closing.is_set)

    def close(self) -> None:
        """Take back what is not done, and leave the cluster as it is."""
        self._closing.set()
        with self._lock:
            tasks, self._tasks = self._tasks, {}
        for task in tasks.values():
            self._call_back(task)
        self._client.close(timeout=5)
        self._watch.join(5)

    # On threads of the client's

    def _call_back(self, task: _Task) -> None:
        """Let a running task see that it is wanted no more, and one that waits never begin.

        One that was not heard of yet is taken for one that waits: the scheduler does not know which
        of those that it gave to a worker run there and which wait.
        """
        from distributed import Event

        with contextlib.suppress(Exception):  # the scheduler may be gone as well
            if not task.began and task.future.status == "pending":
                self._client.cancel([task.future], force=True)
            Event(task.topic, client=self._client).set()

    def _hear(self, ticket: int, event: tuple[Any, bytes]) -> None:
        with self._lock:
            task = self._tasks.get(ticket)
        if task is None:
            return
        task.began = True
        message = decode_from_engine(event[1])
        if isinstance(message, LaidBetter):
            task.best = message.result
            if not task.stopped:
                task.tell(Better(message.result))
        elif isinstance(message, LayingFor) and not task.stopped:
            task.tell(Working(message.seconds))

    def _done(self, ticket: int, future: Any) -> None:
        with self._lock:
            task = self._tasks.pop(ticket, None)
        if task is None:
            return
        with contextlib.suppress(Exception):
            self._client.unsubscribe_topic(task.topic)
        task.tell(self._ended(task, future))

    @staticmethod
    def _ended(task: _Task, future: Any) -> Ended:
        if future.status == "finished":
            return Ended(decode_result(future.result()))
        if future.status == "cancelled":
            return Ended(task.best)
        error = future.exception()
        if isinstance(error, InputError):
            return Ended(task.best, error)
        if isinstance(error, MemoryError):
            return Ended(task.best, QuiltError("Laying this takes more memory than a worker has."))
        text = "The cluster failed on this foam."
        return Ended(task.best, EngineFault(text, f"{type(error).__name__}: {error}"))

    def _workers(self) -> int:
        return len(self._client.scheduler_info(n_workers=-1)["workers"])

    def _look(self) -> None:
        while not self._closing.wait(LOOK_EVERY):
            try:
                workers = self._workers()
            except Exception:  # noqa: BLE001 - whatever a scheduler that is gone raises
                workers = 0
            problem = "" if workers else f"No worker serves at {self.address}."
            self.state = replace(self.state, workers=workers, problem=problem)


def _short(error: Exception) -> str:
    return str(error).strip().splitlines()[0][:80] if str(error).strip() else type(error).__name__
