"""Long work of the window's own goes on between its events, and stops when it is told to."""

import time

import pytest

from ivory_quilt.desk.idle_tasks import IdleTasks
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
