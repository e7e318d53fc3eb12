"""Form-up in the window: how long its thread is held up, and how often a dragged shape is new.

Runs in a process of its own, as the desk does: `python -m ivory_quilt.benchmarks.formup_window`.
"""

import itertools
import json
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

from ivory_quilt.benchmarks.report import Figure

GROUP = "shoulder-cap-crown"
BEAT = 2  # ms between two beats of the event loop: a longer gap is a pause
KINDS = (("clock", "longest pause by the clock"), ("work", "its own work at a stretch"))
WHEN = (
    ("drag", "while dragged", 16.0),
    ("find", "while mends are tried", 16.0),
    ("open", "as Form-up opens", None),
    ("suit", "as Suit opens", None),
)
FRAMES, EVERY = 60, 20  # moves of a hand, and ms between two


class Pause(NamedTuple):
    """The longest while in which no event was taken, ms."""

    clock: float
    """By the clock: with what other processes, and the machine's own stalls, take from it."""
    work: float
    """The longest that this thread itself worked at a stretch."""


def _now() -> tuple[float, float]:
    return time.perf_counter(), time.thread_time()


class Watched:
    """A window whose event loop is listened to while something is done."""

    def __init__(self, folder: Path) -> None:
        """Open the demo in Build."""
        from PySide6.QtCore import Qt, QTimer

        from ivory_quilt.desk.app import be_quick
        from ivory_quilt.desk.shots import demo_window, settle

        self.window = demo_window(folder)
        be_quick(self.window)
        settle(self.window)
        self._beats: list[tuple[float, float]] = []  # of the clock, of this thread's own work; s
        self._timer = QTimer()
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(lambda: self._beats.append(_now()))
        self._timer.start(BEAT)
        self.window.go("build")
        self.rest(1.0)

    def run(self, until: Callable[[], bool], seconds: float = 60.0) -> None:
        """Let the desk work until `until` holds."""
        from PySide6.QtCore import QEventLoop, QTimer

        loop, end = QEventLoop(), time.monotonic() + seconds

        def look() -> None:
            if until() or time.monotonic() > end:
                loop.quit()
            else:
                QTimer.singleShot(20, look)

        QTimer.singleShot(20, look)
        loop.exec()

    def rest(self, seconds: float) -> None:
        """Let the desk work for a time."""
        end = time.monotonic() + seconds
        self.run(lambda: time.monotonic() > end)

    def longest(self, act: Callable[[], object], until: Callable[[], bool]) -> Pause:
        """Return the longest pause from `act` until all is painted."""
        from PySide6.QtCore import QTimer

        self._beats[:] = [_now()]
        QTimer.singleShot(0, act)
        self.run(until)
        self.rest(0.6)
        between = list(itertools.pairwise(self._beats))
        return Pause(*(1000 * max(b[k] - a[k] for a, b in between) for k in (0, 1)))

    def dragged(self, move: Callable[[int], object], frames: list[float]) -> Pause:
        """Move FRAMES times; return the longest pause, and note when shapes came."""
        from PySide6.QtCore import QTimer

        count = 0

        def one() -> None:
            nonlocal count
            count += 1
            move(count)
            if count < FRAMES:
                QTimer.singleShot(EVERY, one)

        frames.clear()
        return self.longest(one, lambda: count == FRAMES)


def measure() -> dict[str, float]:
    """Return the figures of one run."""
    from ivory_quilt.core.formup.choices import FormerKind
    from ivory_quilt.engine.kernel_cache import use_kernel_cache

    use_kernel_cache()
    with tempfile.TemporaryDirectory() as folder:
        desk = Watched(Path(folder))
        station = desk.window.building
        form, mending, suit = station.form_up, station.mending, station.suit
        shapes: list[float] = []
        real = form.changed

        def noted() -> object:
            shapes.append(time.perf_counter())
            return real()

        form.changed = noted

        def still() -> bool:
            return form.shape is not None and not form.running

        station.open(GROUP)
        desk.rest(1.0)  # another piece in the form's view is not what is asked about
        pauses = {"open": desk.longest(lambda: station.act("build-form-up"), still)}
        form.press_on(FormerKind.BALL)
        desk.run(still)
        desk.rest(3.0)  # the bench is planned anew after an edit
        radius = form.choice.radius
        pauses["drag"] = desk.dragged(lambda k: form.drag_radius(radius + 0.2 * k), shapes)
        gaps = [1000 * (b - a) for a, b in itertools.pairwise(shapes)]
        frame = statistics.median(gaps)
        form.set_radius(radius)
        desk.run(still)
        desk.rest(3.0)
        pauses["find"] = desk.longest(mending.find, lambda: not mending.running)
        pauses["suit"] = desk.longest(
            lambda: station.act("build-suit"), lambda: suit.dressed is not None and not suit.running
        )
    figures = {f"{name} {kind}": v for name, p in pauses.items() for kind, v in p._asdict().items()}
    return {"frame": frame, **figures}


def bench_formup_window() -> list[Figure]:
    """Measure in fresh processes; medians of three."""
    runs = []
    for _ in range(3):
        done = subprocess.run(
            [sys.executable, "-m", "ivory_quilt.benchmarks.formup_window"],
            env={"QT_QPA_PLATFORM": "offscreen", **os.environ},
            capture_output=True,
            text=True,
            check=True,
        )
        runs.append(json.loads(done.stdout.splitlines()[-1]))

    def median(key: str) -> float:
        return float(statistics.median(run[key] for run in runs))

    return [
        Figure("formup window: a frame while a former is dragged", median("frame"), "ms", 50.0),
        *(
            Figure(f"formup window: {words}, {said}", median(f"{name} {kind}"), "ms", promised)
            for name, said, promised in WHEN
            for kind, words in KINDS
        ),
    ]


if __name__ == "__main__":
    sys.stdout.write(json.dumps(measure()) + "\n")
    sys.stdout.flush()
    os._exit(0)  # the window is not closed, nor its shop
