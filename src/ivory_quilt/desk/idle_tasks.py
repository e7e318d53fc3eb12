"""Long work of the window's own, done a little at a time between its events."""

import time
from collections.abc import Callable, Hashable, Iterator

from PySide6.QtCore import QObject, Signal

from ivory_quilt.desk.event_turns import Later

BREATH = 10  # ms after what is long by itself: what it asked to be painted comes first, and hands


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
