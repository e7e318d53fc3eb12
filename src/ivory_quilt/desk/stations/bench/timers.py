"""The timers of the bench: several at once, kept on the disk before they show, told when due."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.schedule.step import BenchSteps
from ivory_quilt.core.schedule.timer import Moment, Timer, TimerStanding
from ivory_quilt.files.timers_file import load_timers, save_timers
from ivory_quilt.system.moment import moment

EVERY = 500  # ms: a second is shown right, and rung within half of one


class TimerBoard(QObject):
    """Starts, shows and ends timers; nothing shows that is not on the disk."""

    changed = Signal()
    rang = Signal(str, str)
    """A timer came to another standing: its title, and what is to be said."""

    def __init__(self) -> None:
        """Begin without a place: timers live as long as the window until `keep_in`."""
        super().__init__()
        self.now: Callable[[], Moment] = moment
        self.timers: tuple[Timer, ...] = ()
        self.problem = ""
        self._path: Path | None = None
        self._stood: dict[str, TimerStanding] = {}
        self._tick = QTimer(self)
        self._tick.setInterval(EVERY)
        self._tick.timeout.connect(self.look)

    def keep_in(self, path: Path) -> None:
        """Keep timers in a file, and go on with those that it holds."""
        self._path = path
        try:
            self.timers = load_timers(path)
        except InputError as error:
            self.problem = str(error)
            self._path = None  # what is damaged is not written over
        now = self.now()
        # What came while nobody looked is said at once; what only runs on is not.
        self._stood = dict.fromkeys((t.id for t in self.timers), TimerStanding.RUNNING)
        self._run()
        if any(t.standing(now) is not TimerStanding.RUNNING for t in self.timers):
            QTimer.singleShot(0, self.look)

    def start(
        self, ident: str, title: str, least: float, most: float = 0.0, step: str = ""
    ) -> None:
        """Start a timer of so many seconds, or start it again.

        Raises:
            InputError: a time that makes no sense, or the file cannot be written.
        """
        made = Timer(ident, title, least, self.now(), most, step)
        self._put((*(t for t in self.timers if t.id != ident), made))

    def stop(self, ident: str) -> None:
        """End a timer; unknown ids are ignored.

        Raises:
            InputError: the file cannot be written.
        """
        self._put(tuple(t for t in self.timers if t.id != ident))

    def _put(self, timers: tuple[Timer, ...]) -> None:
        if timers == self.timers:
            return
        if self._path is not None:
            save_timers(self._path, timers)
        self.timers = timers
        now = self.now()
        self._stood = {t.id: self._stood.get(t.id, t.standing(now)) for t in timers}
        self._run()
        self.changed.emit()

    def _run(self) -> None:
        if self.timers and not self._tick.isActive():
            self._tick.start()
        elif not self.timers:
            self._tick.stop()

    def follow_step(self, steps: BenchSteps, step: str, *, done: bool) -> None:
        """Start what a step that was done makes others wait for; end what it was awaited by."""
        if not done:
            for timer in self.timers:
                if timer.id.startswith(f"{step} → "):
                    self.stop(timer.id)
            return
        titles = {s.id: f"{s.kind.value}: {s.title}" for s in steps.steps}
        for timer in self.timers:
            if timer.step == step:
                self.stop(timer.id)
        waits: dict[tuple[int, int], list[str]] = {}
        for f in steps.follows:
            if f.after == step and (f.least or f.most) and f.task in titles:
                waits.setdefault((f.least, f.most or 0), []).append(f.task)
        for (least, most), tasks in waits.items():
            title = titles[tasks[0]] + (f" and {len(tasks) - 1} more" if len(tasks) > 1 else "")
            # A minute that was begun counts as whole: what is open is never told as longer.
            self.start(f"{step} → {tasks[0]}", title, 60.0 * least, 60.0 * most, tasks[0])

    def look(self) -> None:
        """See how all stand; say what changed."""
        now = self.now()
        for timer in self.timers:
            standing = timer.standing(now)
            before, self._stood[timer.id] = self._stood.get(timer.id), standing
            if standing is not before and standing is not TimerStanding.RUNNING:
                self.rang.emit(timer.title, SAID[standing])
        self.changed.emit()

    def close(self) -> None:
        """Stop looking: the desk closes; what runs is on the disk."""
        self._tick.stop()


SAID = {
    TimerStanding.READY: "ready",
    TimerStanding.CLOSING: "closes in a moment",
    TimerStanding.OVER: "too late: brush it again",
}
