"""Forty suits at once: deriving, laying, one edit, the window's memory, and two workers for one."""

import statistics
import tempfile
import time
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QEventLoop

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.document.project import Project, change_piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.shop import MATERIALS, demo_stock, fill_demo_shop
from ivory_quilt.demo.troupe import troupe_project
from ivory_quilt.desk.app import make_app, open_window
from ivory_quilt.desk.asking import Discarding
from ivory_quilt.engine.orders import Ended, Order, Told
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore

EDITED = ("wing-case", "shin-cuff", "collar-front", "wing-rib", "thigh-plate")
LONGEST = 240.0  # s that the first layouts are waited for
CLUSTER_SECONDS = 30.0


def bench_troupe() -> list[Figure]:
    """Measure forty suits of the demo, some 4,400 parts."""
    import psutil

    project, stock = troupe_project(), ShopStock(demo_stock(), MATERIALS)
    began = time.perf_counter()
    plan = derive(project, stock)
    derived = time.perf_counter() - began
    figures = [
        Figure(f"forty suits: {plan.ledger.parts} parts derived", derived, "s", 4.0),
    ]
    with tempfile.TemporaryDirectory() as folder:
        first, edits = _in_window(project, Path(folder))
        memory = psutil.Process().memory_info().rss / 1e6
    figures += [
        Figure("forty suits: first full layout", first, "s", 45.0),
        Figure("forty suits: one edit to the ledger", 1000 * edits, "ms", 150),
        Figure("forty suits: memory of the window", memory, "MB", 700),
    ]
    return figures


def _in_window(project: Project, folder: Path) -> tuple[float, float]:
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
    taken = []
    for piece in EDITED:
        count = window.session.project.piece(piece).count
        began = time.perf_counter()
        window.session.edit("edit", lambda p, i=piece, n=count: change_piece(p, i, count=n + 1))  # type: ignore[misc]
        taken.append(time.perf_counter() - began)
        window.laying.stop()
    window.close()
    return first, statistics.median(taken)


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
