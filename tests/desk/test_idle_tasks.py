"""Long work of the window's own goes on between its events, and stops when it is told to."""

import time

import pytest
from PySide6.QtCore import QAbstractEventDispatcher, QCoreApplication, QEvent, QTimer
from PySide6.QtWidgets import QWidget

from ivory_quilt.desk.idle_tasks import ENOUGH, IdleTasks, Later, PaintingWaits
from tests.desk.conftest import let_run


@pytest.fixture
def done():
    return []


def steps(done, name, count):
    for k in range(count):
        done.append((name, k))
        yield


def test_one_step_is_taken_in_a_turn_and_one_thing_is_done_after_the_other(qapp, done):
    turns = IdleTasks()
    at_turn = []
    turns.turned.connect(lambda: at_turn.append(len(done)))
    turns.add("a", steps(done, "a", 2))
    turns.add("b", steps(done, "b", 1))
    assert done == []
    assert let_run(lambda: len(at_turn) == 5, 5)
    assert done == [("a", 0), ("a", 1), ("b", 0)]
    assert at_turn == [1, 2, 2, 3, 3]  # to find that nothing is left takes a turn as well


def test_a_turn_takes_as_many_steps_as_fit_its_portion(qapp, done):
    turns = IdleTasks(portion=0.03)
    at_turn = []
    turns.turned.connect(lambda: at_turn.append(len(done)))

    def slow():
        for k in range(12):
            time.sleep(0.01)
            done.append(k)
            yield

    turns.add("slow", slow())
    assert let_run(lambda: len(done) == 12, 5)
    assert 1 < at_turn[0] <= 4
    assert len(at_turn) >= 3


def test_the_same_thing_asked_for_again_is_begun_anew(qapp, done):
    turns = IdleTasks()
    turns.add("a", steps(done, "old", 5))

    def after_two():
        if done[-1] == ("old", 1):
            turns.add("a", steps(done, "new", 2))

    turns.turned.connect(after_two)
    assert let_run(lambda: done[-1:] == [("new", 1)], 5)
    assert done == [("old", 0), ("old", 1), ("new", 0), ("new", 1)]


def test_what_is_long_by_itself_has_the_next_turn_alone(qapp, done):
    turns = IdleTasks(portion=10.0)
    turns.add("a", steps(done, "a", 2))
    turns.instead(lambda: done.append("instead"))
    at_turn = []
    turns.turned.connect(lambda: at_turn.append(list(done)))
    assert let_run(lambda: bool(at_turn), 5)
    assert done == ["instead", ("a", 0), ("a", 1)]
    assert len(at_turn) == 1


def test_dropped_and_halted_work_goes_no_further(qapp, done):
    turns = IdleTasks()
    turns.add("a", steps(done, "a", 3))
    turns.add("b", steps(done, "b", 3))
    turns.drop("a")
    turns.drop("never asked for")

    def after_one():
        turns.instead(lambda: done.append("instead"))
        turns.halt()

    turns.turned.connect(after_one)
    assert not let_run(lambda: len(done) > 1, 0.1)
    turns.finish()
    assert done == [("b", 0)]


def test_a_last_step_may_ask_for_more_of_the_same(qapp, done):
    turns = IdleTasks()

    def once_more():
        done.append("first")
        turns.add("a", steps(done, "again", 1))
        yield from ()

    turns.add("a", once_more())
    turns.finish()
    assert done == ["first", ("again", 0)]


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
