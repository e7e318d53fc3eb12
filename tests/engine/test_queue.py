"""What is laid next, on its own."""

from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.engine.queue import Rank, WorkQueue


def queue_of(*ranks):
    queue = WorkQueue()
    for ticket, rank in enumerate(ranks, 1):
        queue.add(ticket, rank)
    return queue


def test_what_the_maker_looks_at_comes_first_and_long_improvement_last():
    queue = queue_of(Rank.IMPROVE, Rank.QUESTION, Rank.FOAM, Rank.IN_SIGHT, Rank.FOAM)
    assert [queue.start() for _ in range(6)] == [4, 3, 5, 2, 1, None]


def test_what_was_begun_goes_before_its_equals():
    queue = queue_of(Rank.FOAM, Rank.FOAM)
    queue.add(9, Rank.FOAM, first=True)
    assert queue.waiting == (9, 1, 2)


def test_dropping_one_leaves_the_rest():
    queue = queue_of(Rank.FOAM, Rank.FOAM, Rank.QUESTION)
    assert queue.drop(2)
    assert not queue.drop(2)
    assert queue.waiting == (1, 3)


def test_long_work_gives_way_to_what_is_more_urgent_and_first_layouts_never_do():
    queue = queue_of(Rank.IMPROVE)
    assert queue.start() == 1
    assert queue.to_interrupt() is None
    queue.add(2, Rank.IMPROVE)
    assert queue.to_interrupt() is None  # no more urgent than what runs
    queue.add(3, Rank.QUESTION)
    assert queue.to_interrupt() == 1
    queue.end(1)
    assert queue.start() == 3
    queue.add(4, Rank.IN_SIGHT)
    assert queue.to_interrupt() == 3
    queue.end(3)
    assert queue.start() == 4
    queue.add(5, Rank.IN_SIGHT)
    assert queue.to_interrupt() is None


@given(st.lists(st.sampled_from(list(Rank)), min_size=1, max_size=30), st.integers(1, 4))
def test_everything_runs_once_and_the_urgent_before_the_rest(ranks, places):
    queue = queue_of(*ranks)
    running, done = [], []
    while queue.at_work:
        while len(running) < places and (ticket := queue.start()) is not None:
            running.append(ticket)
        ended = running.pop(0)
        queue.end(ended)
        done.append(ended)
    assert sorted(done) == list(range(1, len(ranks) + 1))
    started = [ranks[t - 1] for t in done]
    assert started == sorted(started)
