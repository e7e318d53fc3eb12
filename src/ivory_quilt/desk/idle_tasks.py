"""Long work of the window's own, done a little at a time between its events."""

import time
from collections.abc import Callable, Hashable, Iterator

from PySide6.QtCore import (
    QAbstractEventDispatcher,
    QCoreApplication,
    QEvent,
    QObject,
    QTimer,
    Signal,
)
from PySide6.QtWidgets import QWidget

BREATH = 10  # ms after what is long by itself: what it asked to be painted comes first, and hands

ENOUGH = 0.004  # s of work in one pass of the event loop: what may wait gives way to hands
LITTLE = 0.001  # s: after more than that painting gives way, which is long by itself
MOST_PASSES = 20  # that something gives way in a row
UNPAINTED = 4  # passes at most: what hands see must not lag


class EventPass:
    """One pass of the event loop: what was due in it, from one look for events to the next."""

    unpainted = False
    """Whether a painting waits for its turn: what may wait lets it go first."""
    _began: float | None = None

    @classmethod
    def watch(cls) -> None:
        """Notice from now on when a pass begins."""
        loop = QAbstractEventDispatcher.instance()
        if cls._began is None and loop is not None:
            loop.aboutToBlock.connect(cls._begin)
            loop.awake.connect(cls._begin)
            cls._begin()

    @classmethod
    def worked(cls) -> float:
        """Return for how long was worked in this pass, s: hands have waited for that long."""
        return 0.0 if cls._began is None else time.thread_time() - cls._began

    @classmethod
    def painted(cls) -> None:
        """No painting waits any more: it is done, or its window is gone."""
        cls.unpainted = False

    @classmethod
    def _begin(cls) -> None:
        cls._began = time.thread_time()


class Later(QTimer):
    """Does something once, a moment after it was asked, however often it was asked meanwhile.

    Several of them take turns with hands and painting: in a pass of the event loop that has done
    enough already it waits for the next.
    """

    def __init__(self, what: Callable[[], object], moment: int, parent: QObject) -> None:
        """Do `what` `moment` milliseconds after `soon`."""
        super().__init__(parent)
        self._what, self._moment, self._passes = what, moment, 0
        self.setSingleShot(True)
        self.timeout.connect(self._due)
        EventPass.watch()

    def soon(self) -> None:
        """Do it in a moment; what waits already is not put off."""
        if not self.isActive():
            self.start(self._moment)

    def _due(self) -> None:
        wait = EventPass.unpainted or EventPass.worked() > ENOUGH
        if wait and self._passes < MOST_PASSES:
            self._passes += 1
            self.start(1)
            return
        self._passes = 0
        self._what()


class PaintingWaits(QObject):
    """Lets a window be painted in a pass of the event loop of its own.

    So hands come in between what changed the window and the painting of it, which is as long.
    """

    def __init__(self, window: QWidget) -> None:
        """Do so from now on with `window`, a window of its own, and all that is in it."""
        super().__init__(window)
        self._window, self._passes, self._due = window, 0, False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._paint)
        EventPass.watch()
        window.installEventFilter(self)
        window.destroyed.connect(EventPass.painted)

    def eventFilter(self, _window: QObject, event: QEvent) -> bool:
        """Hold back what asks for painting, until its turn."""
        if event.type() is not QEvent.Type.UpdateRequest or self._due:
            return False
        if not self._timer.isActive():
            EventPass.unpainted = True
            self._timer.start(0)
        return True

    def _paint(self) -> None:
        if EventPass.worked() > LITTLE and self._passes < UNPAINTED:
            self._passes += 1
            self._timer.start(1)
            return
        self._passes, self._due = 0, True
        EventPass.painted()
        QCoreApplication.sendEvent(self._window, QEvent(QEvent.Type.UpdateRequest))
        self._due = False


class IdleTasks(QObject):
    """Iterators that are run step by step, one after another, some steps in each turn.

    For what must happen in the interface's own thread, such as drawing, and may take longer than a
    hand would wait.
    """

    turned = Signal()
    """A turn is over."""

    def __init__(self, portion: float = 0.0, parent: QObject | None = None) -> None:
        """Take steps for `portion` seconds in a turn; with 0, one step."""
        super().__init__(parent)
        self._portion = portion
        self._waiting: dict[Hashable, Iterator[None]] = {}
        self._instead: Callable[[], None] | None = None
        self._timer = Later(self._turn, 0, self)

    @property
    def waiting(self) -> bool:
        """Whether anything is still to be done."""
        return bool(self._waiting) or self._instead is not None

    def add(self, key: Hashable, steps: Iterator[None]) -> None:
        """Run `steps` when what waits already is done; what waits under the same key is dropped."""
        self.drop(key)
        self._waiting[key] = steps
        self._timer.start(0)

    def drop(self, key: Hashable) -> None:
        """Run what waits under a key no further."""
        self._waiting.pop(key, None)

    def instead(self, what: Callable[[], None]) -> None:
        """Do something that is long by itself in the place of the next turn."""
        self._instead = what
        self._timer.start(0)

    def halt(self) -> None:
        """Drop all that waits."""
        self._waiting, self._instead = {}, None
        self._timer.stop()

    def finish(self) -> None:
        """Do at once all that waits."""
        while self._waiting or self._instead is not None:
            self._turn()

    def _turn(self) -> None:
        pause = 0
        if self._instead is not None:
            what, self._instead = self._instead, None
            what()
            pause = BREATH
        else:
            end = time.perf_counter() + self._portion
            self._step()
            while self._waiting and time.perf_counter() < end:
                self._step()
            self.turned.emit()
        if self._waiting or self._instead is not None:
            self._timer.start(pause)

    def _step(self) -> None:
        if not self._waiting:
            return
        key, steps = next(iter(self._waiting.items()))
        # A last step may put other steps under its own key: those stay.
        if next(steps, self) is self and self._waiting.get(key) is steps:
            self.drop(key)
