"""Start-up, memory, first layouts and the longest pause of the event loop, on the demo."""

import json
import os
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from pathlib import Path

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.demo.shop import fill_demo_shop
from ivory_quilt.shop.sqlite_store import SqliteStore

RUNS = 5

# Runs in a process of its own: what a maker waits for begins with the interpreter.
PROBE = """
import gc, json, os, sys, time
gc.disable()
began = float(os.environ["BENCH_BEGAN"])
from pathlib import Path
from ivory_quilt.shop.places import Places
from ivory_quilt.engine.kernel_cache import use_kernel_cache
use_kernel_cache()
from ivory_quilt.desk.app import be_quick, make_app, open_window
from ivory_quilt.desk.asking import Discarding
from ivory_quilt.demo.project import demo_project
from ivory_quilt.shop.sqlite_store import SqliteStore
from PySide6.QtCore import Qt, QTimer
app = make_app()
where = Places(Path(os.environ["BENCH_DIR"]) / "d", Path(os.environ["BENCH_DIR"]) / "c")
store = SqliteStore(where.store)  # filled before: a maker's shop is there
window, watch = open_window(where, store, demo_project())
be_quick(window)
window.documents.asking = Discarding(window)
window.go("lay")
window.show()
app.processEvents()
usable = time.time() - began
figures = {"usable": usable}
def now():
    return time.perf_counter(), time.thread_time()
beats, laid_at, ready_beat = [now()], [], []
def beat():
    beats.append(now())
    if not laid_at and not window.session.plan.unlaid:
        laid_at.append(time.time() - began)
def ready():
    figures["ready"] = time.time() - began
    ready_beat.append(time.perf_counter())
window.laying.engine.ready.connect(ready)
timer = QTimer()
timer.setTimerType(Qt.TimerType.PreciseTimer)
timer.timeout.connect(beat)
timer.start(2)
def done():
    gaps = [(b[0] - a[0], b[1] - a[1], a[0]) for a, b in zip(beats, beats[1:])]
    begun = ready_beat[0] if ready_beat else float("inf")
    laying = [g for g in gaps if g[2] > begun]
    figures["gap"] = max((g[0] for g in laying), default=float("nan"))
    figures["work"] = max((g[1] for g in laying), default=float("nan"))
    figures["load gap"] = max((g[0] for g in gaps if g[2] <= begun), default=float("nan"))
    figures["laid"] = laid_at[0] if laid_at else float("nan")
    import psutil
    figures["memory"] = psutil.Process().memory_info().rss / 1e6
    pids = window.laying.engine.service.pids
    figures["engine memory"] = max(psutil.Process(p).memory_info().rss for p in pids) / 1e6
    print(json.dumps(figures))
    window.close()
    app.quit()
seconds = float(os.environ['BENCH_WAIT'])
def look():
    # What is watched begins when the engine is ready; it may be compiling until then.
    if ready_beat and not window.laying.busy or time.time() - began > seconds:
        done()
    else:
        QTimer.singleShot(200, look)
QTimer.singleShot(1500, look)
app.exec()
"""


def measure_start(environment: dict[str, str], wait: float = 15.0) -> dict[str, float]:
    """Return the figures of one start of the demo in a fresh process, at most `wait` s long."""
    with tempfile.TemporaryDirectory() as folder:
        with closing(SqliteStore(Path(folder) / "d" / "shop.sqlite")) as store:
            fill_demo_shop(store)
        environment = {**environment, "BENCH_BEGAN": str(time.time())}
        done = subprocess.run(
            [sys.executable, "-c", PROBE],
            env={
                **os.environ,
                "QT_QPA_PLATFORM": os.environ.get("QT_QPA_PLATFORM", "offscreen"),
                "BENCH_DIR": folder,
                "BENCH_WAIT": str(wait),
                **environment,
            },
            capture_output=True,
            text=True,
            check=True,
            timeout=90 + 10 * wait,
        )
    return dict(json.loads(done.stdout.splitlines()[-1]))


def bench_desk() -> list[Figure]:
    """Measure the demo's start in fresh processes; medians of five."""
    runs = [measure_start({}) for _ in range(RUNS)]

    def median(key: str) -> float:
        return float(sorted(run[key] for run in runs)[len(runs) // 2])

    ready = median("ready")
    return [
        Figure("demo: from start to a usable window", median("usable"), "s", 1.2),
        Figure("demo: from start to the engine ready", ready, "s"),
        Figure("demo: from start to every foam laid", median("laid"), "s"),
        Figure("demo: first full layout, engine ready", median("laid") - ready, "s", 2.0),
        Figure(
            "demo: longest pause of the event loop while laying", 1000 * median("gap"), "ms", 16
        ),
        Figure("demo: its own work at a stretch meanwhile", 1000 * median("work"), "ms", 16),
        Figure("demo: longest pause while the engine loads", 1000 * median("load gap"), "ms", 16),
        Figure("demo: memory of the window", median("memory"), "MB", 190),
        Figure("demo: memory of one engine process", median("engine memory"), "MB", 300),
    ]
