"""A real window on a store of its own, closed after each test."""

import gc
import time

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QEventLoop
from PySide6.QtWidgets import QFileDialog

from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import fill_demo_shop
from ivory_quilt.desk.app import open_window
from ivory_quilt.desk.asking import Unsaved
from ivory_quilt.desk.event_turns import Later
from ivory_quilt.desk.widgets.slip import Slip
from ivory_quilt.engine.service import EngineService
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore

STALLING = 3  # times as slow as usual
SHOWN_AFTER = 100  # ms: what waits longer, such as the quiet bench, is no view that lags


def let_run(until=lambda: False, seconds=0.05):
    """Let the event loop run until `until` holds or the time is over; return whether it holds.

    Waits of a second and more are for a machine that works: one that stalls has longer.
    """
    end = time.monotonic() + (seconds if seconds < 1 else STALLING * seconds)
    while time.monotonic() < end:
        QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 10)
        if until():
            return True
        time.sleep(0.002)
    return until()


@pytest.fixture(autouse=True)
def nobody_chooses(monkeypatch):
    """Close file dialogs unanswered: a test that wants a file says which."""
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: ("", ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a: ([], ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a: "")


@pytest.fixture(scope="session")
def engine_service():
    """One engine for all windows: each would begin a process of its own."""
    service = EngineService(workers=1)
    yield service
    service.close()


class Desk:
    """The window under test, with what tests ask of it most."""

    def __init__(self, folder, service, project=None, fill=True, size=(1280, 800)):
        self.where = Places(folder / "data", folder / "config")
        store = SqliteStore(self.where.store)
        if fill and not store.stock().items:
            fill_demo_shop(store)
        self.store = store
        self.window, self.watch = open_window(self.where, store, project, service=service)
        self.window.documents.asking.unsaved = lambda _: Unsaved.DISCARD
        self.window.laying.auto_seconds = 0.15
        if size:
            self.window.resize(*size)
        self.window.show()
        let_run()

    @property
    def session(self):
        return self.window.session

    @property
    def pattern(self):
        return self.window.stations["pattern"]

    @property
    def lay(self):
        return self.window.stations["lay"]

    @property
    def buy(self):
        return self.window.stations["buy"]

    @property
    def cut(self):
        return self.window.stations["cut"]

    def act(self, ident):
        """Do a command as its menu entry or key would, and wait for hands that were asked."""
        self.window.actions_by_id[ident].trigger()
        let_run()
        self.answered()

    def answered(self):
        """Wait until the engine has answered what hands asked, and that is shown."""
        assert let_run(lambda: not self.lay.work.hands.waiting and self.followed, 20), "no answer"
        let_run(seconds=0.01)

    @property
    def followed(self):
        """Whether what the window shows has caught up: views follow in turns of their own."""
        waiting = self.window.findChildren(Later)
        return not any(one.isActive() and one.interval() <= SHOWN_AFTER for one in waiting)

    def laid(self, seconds=60):
        """Wait until every foam is laid, and shown so."""
        assert let_run(lambda: not self.session.plan.unlaid and self.followed, seconds), (
            "not laid in time"
        )

    def rested(self, seconds=60):
        """Wait until the engine rests as well."""
        self.laid(seconds)
        assert let_run(lambda: not self.window.laying.busy and self.followed, seconds), (
            "still laying"
        )
        assert let_run(lambda: not self.lay.explaining.waiting, 20), "still explaining"

    def close(self):
        self.window.documents.asking.unsaved = lambda _: Unsaved.DISCARD
        self.window.close()
        self.watch.remove()
        let_run()
        self.window.deleteLater()
        self.store.close()
        let_run(seconds=0.01)
        # An event loop that only processes events never gets to deferred deletions.
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        gc.collect()


@pytest.fixture(scope="session", autouse=True)
def quick_collections():
    """What was imported stays: no collection between tests needs to look at it again."""
    gc.collect()
    gc.freeze()


@pytest.fixture
def make_desk(qapp, tmp_path, engine_service):
    made = []

    def make(project=None, fill=True, size=(1280, 800)):
        desk = Desk(tmp_path, engine_service, project, fill, size)
        made.append(desk)
        return desk

    yield make
    for desk in made:
        desk.close()
    for widget in qapp.topLevelWidgets():
        if isinstance(widget, Slip):
            widget.close()


@pytest.fixture
def empty_desk(make_desk):
    return make_desk()


@pytest.fixture
def demo_desk(make_desk):
    return make_desk(demo_project())
