"""The engine beside the window: hands while it searches, a first start, a hundred sudden ends."""

import os
import random
import signal
import tempfile
import time
from functools import partial
from pathlib import Path
from threading import Event

from PySide6.QtCore import QCoreApplication, QEventLoop

from ivory_quilt.benchmarks.desk import measure_start
from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.document.project import KeptLayout
from ivory_quilt.core.nesting.job import LayResult
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import MATERIALS, demo_stock, fill_demo_shop
from ivory_quilt.desk.app import make_app, open_window
from ivory_quilt.desk.asking import Discarding
from ivory_quilt.desk.window import DeskWindow
from ivory_quilt.engine.orders import Better, Order, Told
from ivory_quilt.engine.questions import Answer
from ivory_quilt.engine.service import EngineService
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore

KILLS = 100
HANDS = 200
ENDS = (signal.SIGKILL, signal.SIGSEGV, signal.SIGABRT)
PAUSE = 0.05  # s that the window may be kept waiting by an engine's end


def bench_engine() -> list[Figure]:
    """Measure the engine's process."""
    return [*_hands(), *_first_start(), *_kills(KILLS)]


def _hands() -> list[Figure]:
    """Return how long a part in the hand waits while a search runs on all cores."""
    from ivory_quilt.core.plan.plan import derive

    plan = derive(demo_project(), ShopStock(demo_stock(), MATERIALS))
    foam = max(plan.foams, key=lambda f: f.line.parts)
    service = EngineService(workers=1)
    first: list[LayResult] = []
    there = Event()

    def hear(told: Told) -> None:
        if isinstance(told, Better) and not first:
            first.append(told.result)
            there.set()

    service.lay(Order(foam.job, seconds=60.0), hear)
    there.wait(120)
    placements = first[0].placements
    taken = []
    for k in range(HANDS):
        index = k % len(placements)
        hand = service.take_up(foam.job, placements, index)
        answered = Event()

        def have(_answer: Answer, answered: Event = answered) -> None:
            answered.set()

        service.ask_hand(hand, "near", placements[index], have)
        answered.wait(10)  # taking the part up is not the question
        for _ in range(3):
            answered.clear()
            began = time.perf_counter()
            service.ask_hand(hand, "near", placements[index], have)
            answered.wait(10)
            taken.append(time.perf_counter() - began)
    service.close()
    taken.sort()
    middle = taken[len(taken) // 2]
    return [
        Figure("engine: a hand's answer while it searches, median", 1000 * middle, "ms", 8),
        Figure("engine: the same, 99 of 100", 1000 * taken[int(0.99 * len(taken))], "ms", 16.7),
    ]


def _first_start() -> list[Figure]:
    """Return when the window is usable with nothing compiled, and when the engine is ready."""
    with tempfile.TemporaryDirectory() as cache:
        run = measure_start({"NUMBA_CACHE_DIR": cache}, wait=150)
    return [
        Figure("engine: window usable, nothing compiled yet", run["usable"], "s", 2.0),
        Figure("engine: ready, nothing compiled yet", run["ready"], "s"),
        Figure("engine: longest pause while it compiles", 1000 * run["load gap"], "ms", 16),
    ]


def _kills(count: int) -> list[Figure]:
    """Return what an engine's sudden ends cost the window and the layouts."""
    make_app()
    with tempfile.TemporaryDirectory() as folder:
        where = Path(folder)
        store = SqliteStore(where / "shop.sqlite")
        fill_demo_shop(store)
        window, _ = open_window(Places(where / "d", where / "c"), store, demo_project())
        window.documents.asking = Discarding(window)
        window.show()
        window.go("lay")
        beats = Beats()
        beats.run(lambda: not window.session.plan.unlaid and not window.laying.busy, 180)
        calm = beats.longest
        beats.longest = 0.0
        window.session.keep_all()
        kept = window.session.project.layouts
        before = window.session.plan.ledger.cost
        lost = _kill_often(window, beats, count, kept)
        worst = beats.longest
        beats.run(lambda: not window.laying.busy, 120)
        whole = all(f.standing is Standing.KEPT for f in window.session.plan.foams)
        cost = window.session.plan.ledger.cost
        pids = window.laying.engine.service.pids
        window.close()
        left = sum(_runs(pid) for pid in pids)
    return [
        Figure(f"engine: {count} sudden ends, layouts lost", lost + (not whole), "", 0),
        Figure("engine: cost after them, against before", float(cost - before), "€", 0.0),
        Figure("engine: longest pause at a sudden end", 1000 * worst, "ms", 1000 * PAUSE),
        Figure("engine: longest pause without one", 1000 * calm, "ms"),
        Figure("engine: processes left behind", left, "", 0),
    ]


def _kill_often(
    window: DeskWindow, beats: "Beats", count: int, kept: tuple[KeptLayout, ...]
) -> int:
    """End the engine so often at random moments of runs; return how many layouts were lost."""
    chance = random.Random(7)
    service = window.laying.engine.service
    lost = 0
    for number in range(count):
        if not window.laying.busy:
            window.laying.improve(seconds=chance.uniform(0.8, 2.0))
        beats.run(lambda: False, chance.uniform(0.05, 1.2))
        pids = service.pids
        if pids:
            os.kill(pids[0], ENDS[number % len(ENDS)])
        beats.run(partial(_again, service, pids), 30)
        have = {k.foam for k in window.session.project.layouts}
        lost += sum(k.foam not in have for k in kept)
        if number % 2:  # an order that ends three processes is given up, as it should be
            window.laying.stop()
    return lost


def _again(service: EngineService, before: tuple[int, ...]) -> bool:
    return service.state.ready and service.pids != before


class Beats:
    """Lets the window run, and notes how long it was ever busy at one go."""

    def __init__(self) -> None:
        """Begin to listen."""
        self.longest = 0.0

    def run(self, until: object, seconds: float) -> None:
        """Let the event loop run until something holds, or the time is over."""
        end = time.monotonic() + seconds
        last = time.perf_counter()
        while time.monotonic() < end and not until():  # type: ignore[operator]
            QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 1)
            now = time.perf_counter()
            self.longest = max(self.longest, now - last)
            time.sleep(0.001)
            last = time.perf_counter()


def _runs(pid: int) -> bool:
    return Path(f"/proc/{pid}").exists()
