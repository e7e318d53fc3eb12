"""Long work off the interface thread, and the one gate back to it.

Two kinds: short jobs (`TaskRunner`: read a file, write a PDF), and the layout engine
(`LayoutEngine`: one thread that lays every foam that waits, then improves while the maker lets
it). Results come back as queued signals, so that whatever touches the document runs on the
interface thread.
"""

import os
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from queue import SimpleQueue
from typing import Any

from PySide6.QtCore import QObject, Qt, QTimer, Signal

from ivory_quilt.core.errors import QuiltError
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement, Progress
from ivory_quilt.core.pattern.part import Foam

TELL_EVERY = 0.05  # s between two progress signals
LONGEST_REST = 0.08  # s that the engine waits for the interface to draw
PATIENCE = 10  # how far the engine stands back where the interface wants the processor ("nice")
SHOW_EVERY = 0.4  # s between two better layouts; drawing them takes the maker's time too


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


@dataclass(frozen=True)
class LayTask:
    """One foam to lay: from scratch, or onward from `start`."""

    foam: Foam
    job: LayJob
    seconds: float
    seed: int = 1
    start: tuple[Placement, ...] = ()
    kept: bool = False
    """Whether the layout that it begins from is kept: a better one is an edit then."""
    only_asking: bool = False
    """Whether the job is not the maker's own, but a question: what would it be like?"""


class LayoutEngine(QObject):
    """The layout engine's thread. A new request replaces what is under way."""

    better = Signal(object, object)
    """(task, result): a better layout of one foam."""
    progress = Signal(object, float)
    """(task, seconds done, seconds in all)."""
    finished = Signal()
    """All requested work is done or stopped."""
    failed = Signal(object)
    """An exception that nobody expected."""
    ready = Signal()
    """The engine's kernels are loaded."""
    _sent = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        """Start the thread; the engine loads in the background."""
        super().__init__(parent)
        self._wake = threading.Condition()
        self._tasks: list[LayTask] = []
        self._switch: Any = None
        self._closing = False
        self._busy = False
        self._drawn = threading.Event()
        self._sent.connect(self._have_shown, Qt.ConnectionType.QueuedConnection)
        self.loaded = False
        self._thread = threading.Thread(target=self._run, name="lay-engine", daemon=True)
        self._thread.start()

    def request(self, tasks: list[LayTask]) -> None:
        """Lay `tasks` in this order, instead of whatever is under way."""
        with self._wake:
            self._halt()
            self._tasks = list(tasks)
            self._busy = bool(tasks)
            self._wake.notify()

    def stop(self) -> None:
        """Stop at once; what was found so far has been told."""
        with self._wake:
            self._tasks = []
            self._halt()

    @property
    def busy(self) -> bool:
        """Whether work is under way or waiting."""
        return self._busy

    def close(self) -> None:
        """Stop and end the thread."""
        with self._wake:
            self._closing = True
            self._tasks = []
            self._halt()
            self._wake.notify()
        self._thread.join(30)

    def _halt(self) -> None:
        if self._switch is not None:
            self._switch.stop()

    def _run(self) -> None:
        from ivory_quilt.core.nesting.engine import StopSwitch, warm_up

        # Threads that the engine starts are as patient as the one they come from.
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), PATIENCE)
        try:
            warm_up()
        except Exception as error:  # noqa: BLE001 - shown to the maker as a report
            if not self._closing:
                self.failed.emit(error)
            return
        if self._closing:  # a cold engine takes its time: nobody may be there to be told
            return
        self.loaded = True
        self.ready.emit()
        while True:
            with self._wake:
                if not self._tasks and self._busy and not self._closing:
                    self._busy = False
                    self.finished.emit()
                while not self._tasks and not self._closing:
                    self._wake.wait()
                if self._closing:
                    return
                task = self._tasks.pop(0)
                switch = self._switch = StopSwitch()
            try:
                self._lay(task, switch)
            except Exception as error:  # noqa: BLE001 - shown to the maker as a report
                self.failed.emit(error)
            finally:
                self._switch = None

    def _lay(self, task: LayTask, switch: Any) -> None:
        from ivory_quilt.core.nesting.engine import Limit, lay

        began = last = time.monotonic()
        shown = 0.0
        known: LayResult | None = None
        waiting: LayResult | None = None

        def report(progress: Progress) -> bool:
            nonlocal last, shown, known, waiting
            now = time.monotonic()
            if progress.better is not None and not switch.stopped:
                known = waiting = progress.better
            if waiting is not None and now - shown >= SHOW_EVERY:
                shown = now
                self._show(task, waiting)
                waiting = None
            if now - last >= TELL_EVERY:
                last = now
                self.progress.emit(task, now - began)
            # Nothing can be gained: the bound is met and a single part leaves no choice.
            alone = known is not None and len(known.placements) <= 1 and not known.unplaced
            return not switch.stopped and not alone

        limit = Limit(seconds=task.seconds) if task.seconds > 0 else Limit(steps=0)
        lay(
            task.job,
            limit=limit,
            clock=time.monotonic,
            seed=task.seed,
            report=report,
            switch=switch,
            start=task.start,
        )
        if waiting is not None:
            self._show(task, waiting)

    def _show(self, task: LayTask, result: LayResult) -> None:
        """Tell of a better layout, and rest for the moment in which it is drawn.

        Drawing calls Python for every part; were the engine to run Python code meanwhile, each of
        those calls would wait for its turn.
        """
        self._drawn.clear()
        self.better.emit(task, result)
        self._sent.emit()
        self._drawn.wait(LONGEST_REST)

    def _have_shown(self) -> None:
        # A timer's turn comes after what was posted before it, painting too.
        QTimer.singleShot(0, self._drawn.set)
