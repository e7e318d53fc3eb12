"""Hands come first, then painting, then what may wait."""

import time

import pytest
from PySide6.QtCore import QAbstractEventDispatcher, QCoreApplication, QEvent, QTimer
from PySide6.QtWidgets import QWidget

from ivory_quilt.desk.event_turns import ENOUGH, SHOWN, Later, PaintingWaits, Unhurried
from ivory_quilt.desk.idle_tasks import IdleTasks
from ivory_quilt.desk.work import at_once
from tests.desk.conftest import let_run


@pytest.fixture
def done():
    return []


def busy(seconds):
    """Work, as the clock of this thread has it: sleep is no work."""
    end = time.thread_time() + seconds
    while time.thread_time() < end:
        pass


def test_what_may_wait_gives_way_in_a_full_pass_and_comes_in_the_next(qapp):
    came = []
    passes = []
    loop = QAbstractEventDispatcher.instance()
    loop.awake.connect(lambda: passes.append(len(came)))

    def first():
        busy(3 * ENOUGH)
        came.append("first")

    laters = [Later(first, 5, qapp), Later(lambda: came.append("second"), 5, qapp)]
    turns = IdleTasks()
    turns.turned.connect(lambda: came.append("turn"))
    for later in laters:
        later.soon()
    time.sleep(0.02)  # both are due in one pass
    turns.add("a", iter([None]))
    assert let_run(lambda: {"first", "second", "turn"} <= set(came), 5)
    begun = [k for k, done in enumerate(passes) if done]
    after_first = came[: passes[begun[0]]]
    assert after_first.count("first") == 1
    assert "second" not in after_first[after_first.index("first") :]


def test_what_gives_way_again_and_again_is_done_in_the_end(qapp):
    came = []
    later = Later(lambda: came.append(True), 1, qapp)
    hog = QTimer()
    hog.timeout.connect(lambda: busy(2 * ENOUGH))
    hog.start(0)
    later.soon()
    assert later.isActive()
    assert let_run(lambda: came, 5)
    hog.stop()
    assert came == [True]
    later.soon()
    assert let_run(lambda: len(came) == 2, 5)


class Painted(QWidget):
    """A window that works on a word, and tells when it is painted."""

    def __init__(self, came):
        super().__init__()
        self.came = came
        PaintingWaits(self)

    def customEvent(self, _event):
        busy(ENOUGH / 2)  # what may wait would not give way to so little
        self.came.append("work")

    def paintEvent(self, _event):
        self.came.append("paint")


@pytest.fixture
def painted(qapp, done):
    window = Painted(done)
    window.show()
    let_run()
    done.clear()
    yield window
    window.close()
    window.deleteLater()


def work_and_paint(window):
    """Ask for work and for painting, both due in one pass of the event loop."""
    QCoreApplication.postEvent(window, QEvent(QEvent.Type.User))
    window.update()


def test_a_window_is_painted_after_hands_were_heard(painted, done):
    loop = QAbstractEventDispatcher.instance()
    loop.awake.connect(heard := lambda: done.append("hands"))
    work_and_paint(painted)
    assert let_run(lambda: "paint" in done, 5)
    loop.awake.disconnect(heard)
    assert [word for word in done if word != "hands"] == ["work", "paint"]
    assert "hands" in done[done.index("work") : done.index("paint")]


def test_a_window_is_painted_though_every_pass_is_full(painted, done):
    hog = QTimer()
    hog.timeout.connect(lambda: work_and_paint(painted))
    hog.start(0)
    assert let_run(lambda: done.count("paint") >= 3, 5)
    hog.stop()
    assert done.count("work") <= 8 * done.count("paint")


def test_what_may_wait_lets_a_painting_go_first(painted, done):
    later = Later(lambda: done.append("later"), 0, painted)
    for _ in range(3):
        done.clear()
        later.soon()
        painted.update()
        assert let_run(lambda: len(done) == 2, 5)
        assert done == ["paint", "later"]


def test_a_change_is_painted_once_however_often_it_was_asked_for(painted, done):
    for _ in range(5):
        painted.update()
    assert let_run(lambda: bool(done), 5)
    let_run()
    assert done == ["paint"]


def test_unhurried_work_begins_once_what_asked_for_it_is_shown(painted, done):
    unhurried = Unhurried(lambda: at_once, painted)
    began = time.monotonic()
    for name in ("one", "two"):
        unhurried.run(lambda n=name: n, lambda result, error: done.append((result, error)))
    painted.update()
    assert done == []
    assert let_run(lambda: len(done) == 3, 5)
    assert done == ["paint", ("one", None), ("two", None)]
    assert time.monotonic() - began >= 0.9 * SHOWN / 1000
