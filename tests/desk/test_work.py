"""Threads: tasks come back in order, the engine stops within moments, nothing is left running."""

import os
import time
from decimal import Decimal

import pytest

from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, SheetSpec
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.desk.work import PATIENCE, LayoutEngine, LayTask, TaskRunner
from tests.desk.conftest import let_run

EVA6 = Foam(6.0, "eva")


def job(count=14):
    wedge = Shape.make([(0, 0), (90, 0), (30, 60)])
    return LayJob(
        (PieceSpec("w", wedge, count, None, True),),
        (SheetSpec("s", rectangle(400, 250), None, Decimal(3), 2.0),),
        gap=1.0,
    )


@pytest.fixture
def tasks(qapp):
    made = TaskRunner()
    yield made
    made.close()


@pytest.fixture
def engine(qapp):
    made = LayoutEngine()
    yield made
    made.close()


def test_errands_come_back_in_order_with_their_errors(tasks):
    seen = []
    for k in range(5):
        tasks.run(lambda k=k: 10 // (k - 2), lambda r, e: seen.append((r, type(e))))
    assert let_run(lambda: len(seen) == 5, 5)
    assert [r for r, _ in seen] == [-5, -10, None, 10, 5]
    assert seen[2][1] is ZeroDivisionError


def test_the_bench_tells_of_better_layouts_and_of_the_end(engine):
    better, progress, ends = [], [], []
    engine.better.connect(lambda task, result: better.append((task, result)))
    engine.progress.connect(lambda *a: progress.append(a))
    engine.finished.connect(lambda: ends.append(1))
    tasks = [LayTask(EVA6, job(), 0.0), LayTask(EVA6, job(5), 0.6)]
    engine.request(tasks)
    assert engine.busy
    assert let_run(lambda: bool(ends), 60)
    assert not engine.busy
    assert {id(t) for t, _ in better} == {id(t) for t in tasks}
    assert progress
    for task, result in better:
        assert violations(task.job, result.placements) == []


def test_a_stop_is_heard_within_moments(engine):
    ends, better = [], []
    engine.finished.connect(lambda: ends.append(time.monotonic()))
    engine.better.connect(lambda task, result: better.append(result))
    engine.request([LayTask(EVA6, job(40), 60.0)])
    assert let_run(lambda: bool(better), 60)
    began = time.monotonic()
    engine.stop()
    assert let_run(lambda: bool(ends), 5)
    assert ends[0] - began < 1.0
    assert len(better[-1].placements) == 40


def test_a_new_request_replaces_the_old(engine):
    seen = []
    engine.better.connect(lambda task, result: seen.append(task))
    ends = []
    engine.finished.connect(lambda: ends.append(1))
    engine.request([LayTask(EVA6, job(40), 60.0)])
    second = LayTask(EVA6, job(3), 0.0)
    engine.request([second])
    assert let_run(lambda: bool(ends), 60)
    assert seen[-1] is second


def test_an_engine_error_is_told_and_the_bench_goes_on(engine):
    errors, ends = [], []
    engine.failed.connect(errors.append)
    engine.finished.connect(lambda: ends.append(1))
    engine.request([LayTask(EVA6, None, 0.0), LayTask(EVA6, job(2), 0.0)])
    assert let_run(lambda: bool(ends), 60)
    assert len(errors) == 1


def test_going_on_from_a_layout_starts_with_it(engine):
    found = []
    engine.better.connect(lambda task, result: found.append(result))
    ends = []
    engine.finished.connect(lambda: ends.append(1))
    engine.request([LayTask(EVA6, job(), 0.0)])
    assert let_run(lambda: bool(ends), 60)
    start = found[-1].placements
    ends.clear()
    engine.request([LayTask(EVA6, job(), 0.0, 2, start)])
    assert let_run(lambda: bool(ends), 60)
    assert found[-1].placements == start


def test_the_engine_stands_back_for_the_interface(engine):
    assert let_run(lambda: engine.loaded, 60)
    assert os.getpriority(os.PRIO_PROCESS, engine._thread.native_id) == PATIENCE
    assert os.getpriority(os.PRIO_PROCESS, os.getpid()) < PATIENCE
