"""Forty suits at once: deriving, laying, one edit, the window's memory, and two workers for one."""

import statistics
import tempfile
import time
from collections.abc import Mapping
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QEventLoop

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.document.project import change_piece
from ivory_quilt.core.editing.reshape import scaled_piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.shop import MATERIALS, demo_stock, fill_demo_shop
from ivory_quilt.demo.troupe import troupe_project
from ivory_quilt.desk.app import make_app, open_window
from ivory_quilt.desk.asking import Discarding
from ivory_quilt.desk.window import DeskWindow
from ivory_quilt.engine.orders import Ended, Order, Told
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore

DRAWN = ("shape", "lines", "labels", "match_marks", "edges")  # what another outline changes
LONGEST = 240.0  # s that the first layouts are waited for
CLUSTER_SECONDS = 30.0


def bench_troupe() -> list[Figure]:
    """Measure forty suits of the demo, some 4,400 parts."""
    project, stock = troupe_project(), ShopStock(demo_stock(), MATERIALS)
    began = time.perf_counter()
    plan = derive(project, stock)
    derived = time.perf_counter() - began
    figures = [
        Figure(f"forty suits: {plan.ledger.parts} parts derived", derived, "s", 4.0),
    ]
    # In a process of its own: what was derived here is no memory of the window's.
    with (
        tempfile.TemporaryDirectory() as folder,
        ProcessPoolExecutor(1, mp_context=get_context("spawn")) as apart,
    ):
        first, counts, shapes, memory = apart.submit(_in_window, Path(folder)).result()
    figures += [
        Figure("forty suits: first full layout", first, "s", 45.0),
        Figure(
            "forty suits: a count to the ledger, median of all pieces",
            1000 * statistics.median(counts),
            "ms",
            150,
        ),
        Figure(
            "forty suits: thickness or outline to the ledger, the same",
            1000 * statistics.median(shapes),
            "ms",
            150,
        ),
        Figure("forty suits: the slowest of those", 1000 * max(shapes), "ms"),
        Figure("forty suits: memory of the window", memory, "MB", 700),
    ]
    return figures


def _in_window(folder: Path) -> tuple[float, list[float], list[float], float]:
    """Return seconds to the first full layout, of edits of counts and of geometry, and MB."""
    import psutil

    project = troupe_project()
    make_app()
    store = SqliteStore(folder / "shop.sqlite")
    fill_demo_shop(store)
    window, _ = open_window(Places(folder / "d", folder / "c"), store)
    window.documents.asking = Discarding(window)
    window.laying.auto_seconds = 0.1
    window.show()
    _wait(lambda: window.laying.engine.loaded)
    window.go("lay")
    began = time.perf_counter()
    window.session.start(project)
    _wait(lambda: not window.session.plan.unlaid)
    first = time.perf_counter() - began
    _wait(lambda: not window.laying.busy)
    counts: list[float] = []
    shapes: list[float] = []
    for piece in project.pieces:
        larger = scaled_piece(piece, 1.01)
        for taken, decided in (
            (counts, {"count": piece.count + 1}),
            (shapes, {"thickness": piece.thickness + 1.0}),
            (shapes, {f: getattr(larger, f) for f in DRAWN}),
        ):
            taken.append(_edited(window, piece.id, decided))
            window.session.undo()
            window.laying.stop()
    memory = psutil.Process().memory_info().rss / 1e6
    window.close()
    return first, counts, shapes, memory


def _edited(window: DeskWindow, piece: str, decided: Mapping[str, object]) -> float:
    """Return how long one edit of a piece takes, seconds."""
    began = time.perf_counter()
    window.session.edit("edit", lambda p: change_piece(p, piece, **decided))
    return time.perf_counter() - began


def _wait(until: object) -> None:
    end = time.monotonic() + LONGEST
    while time.monotonic() < end and not until():  # type: ignore[operator]
        QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)
        time.sleep(0.005)


def bench_cluster() -> list[Figure]:
    """Measure a long improvement of forty suits with one worker, and with two."""
    project, stock = troupe_project(), ShopStock(demo_stock(), MATERIALS)
    plan = derive(project, stock)
    steps = {workers: _steps(plan.foams, workers) for workers in (1, 2)}
    return [
        Figure(f"cluster: iterations in {CLUSTER_SECONDS:.0f} s, one worker", steps[1], ""),
        Figure(f"cluster: iterations in {CLUSTER_SECONDS:.0f} s, two workers", steps[2], ""),
        Figure("cluster: two workers against one", steps[2] / max(1, steps[1]), "×"),
    ]


def _steps(foams: object, workers: int) -> int:
    """Return how many steps all foams together get on so many workers in the same time."""
    from distributed import LocalCluster

    from ivory_quilt.core.nesting.engine import Limit, lay
    from ivory_quilt.engine.cluster import ClusterEngine
    from ivory_quilt.engine.remote import load_engine

    starts = {
        f.foam: lay(f.job, limit=Limit(steps=0), clock=time.monotonic).placements
        for f in foams  # type: ignore[attr-defined]
        if f.foam.thickness in (8.0, 10.0, 1.0)
    }
    ends: list[Ended] = []
    with LocalCluster(
        n_workers=workers, threads_per_worker=1, processes=True, dashboard_address=":0"
    ) as cluster:
        engine = ClusterEngine(cluster.scheduler_address)
        engine._client.run(load_engine)

        def hear(told: Told) -> None:
            if isinstance(told, Ended):
                ends.append(told)

        orders = [
            Order(f.job, CLUSTER_SECONDS / 4, None, k, start=starts[f.foam])
            for k in range(8)
            for f in foams  # type: ignore[attr-defined]
            if f.foam in starts
        ]
        tickets = [engine.lay(order, hear) for order in orders]
        time.sleep(CLUSTER_SECONDS)
        done = list(ends)
        for ticket in tickets:
            engine.stop(ticket)
        engine.close()
    return sum(e.result.steps for e in done if e.result is not None)
