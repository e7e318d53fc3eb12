"""Whose turn it is on the window's own thread: hands first, then painting, then what may wait."""

import time
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import (
    QAbstractEventDispatcher,
    QCoreApplication,
    QEvent,
    QObject,
    QTimer,
)
from PySide6.QtWidgets import QWidget

from ivory_quilt.desk.work import Background

ENOUGH = 0.004  # s of work in one pass of the event loop: what may wait gives way to hands
LITTLE = 0.001  # s: after more than that painting gives way, which is long by itself
MOST_PASSES = 20  # that something gives way in a row
SHOWN = 30  # ms after which what was changed has been shown
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


class Unhurried:
    """Begins work on another thread once the window has shown what it is asked for.

    Both share one interpreter: begun at once, it would hold up the very turn that asked.
    """

    def __init__(self, background: Callable[[], Background], parent: QObject) -> None:
        """Begin work on what `background` returns by then."""
        self._background = background
        self._waiting: list[tuple[Callable[[], Any], Callable[[Any, Exception | None], None]]] = []
        self._later = Later(self._begin, SHOWN, parent)

    def run(self, work: Callable[[], Any], done: Callable[[Any, Exception | None], None]) -> None:
        """Run `work` elsewhere in a moment, then `done(result, error)` here."""
        self._waiting.append((work, done))
        self._later.soon()

    def _begin(self) -> None:
        waiting, self._waiting = self._waiting, []
        for work, done in waiting:
            self._background()(work, done)


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
