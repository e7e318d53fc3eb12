"""A table with 400 parts of 200 vertices: frames, memory, and how soon the engine stops."""

import math
import statistics
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from decimal import Decimal
from pathlib import Path

import psutil
from PySide6.QtCore import QCoreApplication

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.nesting.engine import Limit, StopSwitch, lay
from ivory_quilt.core.nesting.job import LayJob
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.app import make_app, open_window
from ivory_quilt.desk.asking import Discarding
from ivory_quilt.desk.shots import settle
from ivory_quilt.desk.stations.lay.table import Table
from ivory_quilt.desk.stations.lay.view import LayStation
from ivory_quilt.desk.window import DeskWindow
from ivory_quilt.engine.kernel_cache import use_kernel_cache
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore

KINDS, EACH, VERTICES = 20, 20, 200
FOAM = Foam(6.0, "eva")
FRAMES = 40
SMOOTH = 1000 / 60  # ms
STOPS, SOONEST = 12, 0.4  # runs that are stopped, s after which the first is
DETAIL = 12.0  # px per mm: 2 mm are as wide as a fingertip


def lobed(seed: int) -> Shape:
    """Return an outline of 200 vertices with some lobes."""
    points = []
    for k in range(VERTICES):
        at = 2 * math.pi * k / VERTICES
        radius = 34 + 6 * math.sin((2 + seed % 4) * at + seed) + 3 * math.sin(9 * at)
        points.append((radius * (1 + 0.04 * seed) * math.cos(at), radius * math.sin(at)))
    return Shape.make(points)


def bench_table() -> list[Figure]:
    """Measure at 1280 × 800; medians, and the worst of 40 frames."""
    use_kernel_cache()
    make_app()
    with tempfile.TemporaryDirectory() as folder:
        where = Places(Path(folder) / "data", Path(folder) / "config")
        store = SqliteStore(where.store)
        window, watch = open_window(where, store, _project())
        window.session.put_stock(sheet("six", "sheet", FOAM, (1000.0, 500.0), price=Decimal(12)))
        window.documents.asking = Discarding(window)
        window.resize(1280, 800)
        window.go("lay")
        window.show()
        settle(window)
        station = window.stations["lay"]
        assert isinstance(station, LayStation)
        station.table.drawing.finish()
        figures = [*_frames(window, station.table), _stop(window.session.plan.foams[0].job)]
        memory = psutil.Process().memory_info().rss / 1e6
        figures.append(
            Figure("400 parts: memory with the window and the engine", memory, "MB", 500)
        )
        window.close()
        watch.remove()
        store.close()
    return figures


def _project() -> Project:
    pieces = [
        Piece(f"p{k}", f"plate {k}", lobed(k), thickness=6.0, count=EACH) for k in range(KINDS)
    ]
    return Project("many", tuple(pieces))


def _frames(window: DeskWindow, table: Table) -> list[Figure]:
    """Measure one frame after another while the table is panned and zoomed."""
    table.fit()
    views: list[tuple[str, Callable[[int], object]]] = [
        ("panning the overview", lambda k: _pan(table, 5 if k % 2 else -4)),
        ("zooming in from the overview", lambda _: table.zoom(1.06)),
        ("panning near by", lambda k: _pan(table, 5 if k % 2 else -4)),
    ]
    figures = []
    for name, move in views:
        figures += _figures(name, _taken(window, move))
    table.zoom(DETAIL / table.scale_now)
    figures += _figures("panning at a 2 mm detail", _taken(window, views[0][1]))
    return figures


def _taken(window: DeskWindow, move: Callable[[int], object]) -> list[float]:
    settle(window)  # until nothing else is waiting to be done
    found = []
    for k in range(FRAMES):
        began = time.perf_counter()
        move(k)
        QCoreApplication.processEvents()  # paints what the move asked for
        found.append(1000 * (time.perf_counter() - began))
    return found


def _figures(name: str, taken: list[float]) -> list[Figure]:
    what = f"400 parts: a frame, {name}"
    return [
        Figure(what, statistics.median(taken), "ms", SMOOTH),
        Figure(f"{what}, the worst", max(taken), "ms"),
    ]


def _pan(table: Table, by: int) -> None:
    bar = table.horizontalScrollBar()
    bar.setValue(bar.value() + by)


def _stop(job: LayJob) -> Figure:
    """Measure from a stop to the engine's return, the worst of some moments of a run."""
    worst = 0.0
    for k in range(STOPS):
        switch = StopSwitch()
        limit = Limit(seconds=60.0)
        with ThreadPoolExecutor(1) as pool:
            run = pool.submit(lay, job, limit=limit, clock=time.monotonic, seed=k, switch=switch)
            time.sleep(SOONEST + 0.37 * k)
            began = time.perf_counter()
            switch.stop()
            run.result()
            worst = max(worst, time.perf_counter() - began)
    return Figure(
        "400 parts: from a stop to the engine's return, the worst", 1000 * worst, "ms", 50
    )
