"""The desk's end of the engine: what it asks for, and what it is told on its own thread."""

import os
import signal
import time
from decimal import Decimal
from functools import partial

import psutil
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, SheetSpec
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.demo.project import demo_project
from ivory_quilt.desk.layout_engine import LayoutEngine, LayTask
from ivory_quilt.engine.queue import Rank
from ivory_quilt.engine.service import EngineService
from tests.desk.conftest import Desk, let_run

EVA6 = Foam(6.0, "eva")


def job(count=14):
    wedge = Shape.make([(0, 0), (90, 0), (30, 60)])
    return LayJob(
        (PieceSpec("w", wedge, count, None, True),),
        (SheetSpec("s", rectangle(400, 250), None, Decimal(3), 2.0),),
        gap=1.0,
    )


@pytest.fixture
def engine(qapp, engine_service):
    made = LayoutEngine(engine_service)
    yield made
    made.close()


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


def test_a_job_that_makes_no_sense_is_told_and_the_others_go_on(engine):
    failed, ends = [], []
    engine.failed.connect(lambda task, error: failed.append((task, error)))
    engine.finished.connect(lambda: ends.append(1))
    wedge = job().pieces[0].shape
    there = Placement("w", 0, "s", 0, Pose(50.0, 50.0))
    pinned = PieceSpec("w", wedge, 2, fixed=(there, Placement("w", 1, "s", 0, there.pose)))
    bad = LayTask(EVA6, LayJob((pinned,), job().sheets), 0.0)
    engine.request([bad, LayTask(EVA6, job(2), 0.0)])
    assert let_run(lambda: bool(ends), 60)
    ((task, error),) = failed
    assert task is bad
    assert isinstance(error, InputError)
    assert "piece 'w', fixed" in str(error)


def test_a_question_is_beside_the_request_and_outlives_the_next(engine):
    told, ends = [], []
    engine.better.connect(lambda task, result: told.append(task))
    engine.finished.connect(lambda: ends.append(1))
    asked = LayTask(EVA6, job(3), 0.2, only_asking=True, rank=Rank.QUESTION)
    engine.request([LayTask(EVA6, job(40), 60.0, rank=Rank.IMPROVE)])
    engine.add([asked])
    last = LayTask(EVA6, job(4), 0.0)
    engine.request([last])
    assert let_run(lambda: bool(ends), 60)
    assert asked in told
    assert last in told


def test_one_foam_is_stopped_and_the_rest_goes_on(engine):
    other = Foam(4.0, "eva")
    told, ends = [], []
    engine.better.connect(lambda task, result: told.append(task.foam))
    engine.finished.connect(lambda: ends.append(1))
    engine.request([LayTask(EVA6, job(40), 60.0), LayTask(other, job(3), 0.0)])
    engine.stop_foam(EVA6)
    assert let_run(lambda: bool(ends), 60)
    assert told[-1] == other


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


def test_sudden_ends_of_the_engine_cost_no_layout(qapp, tmp_path, capsys):
    """A few of the hundred that `./quilt bench engine` makes, on an engine of the window's own."""
    service = EngineService(workers=1)
    desk = Desk(tmp_path, service, demo_project())
    try:
        desk.rested(120)
        session, laying = desk.session, desk.window.laying
        session.keep_all()
        cost, kept = session.plan.ledger.cost, session.project.layouts
        for how in (signal.SIGKILL, signal.SIGSEGV):
            laying.improve(seconds=1.0)
            let_run(seconds=0.4)
            before = service.pids
            os.kill(before[0], how)
            assert let_run(partial(begun_anew, service, before), 60)
            assert {k.foam for k in session.project.layouts} == {k.foam for k in kept}
        assert let_run(lambda: not laying.busy, 120)
        assert session.plan.ledger.cost <= cost
        assert all(f.standing is Standing.KEPT for f in session.plan.foams)
        assert service.state.losses == 2
        assert "started again" in desk.window.message.text.text()
        pids = service.pids
    finally:
        desk.close()
        service.close()
    assert not any(psutil.pid_exists(p) for p in pids)


def begun_anew(service, before):
    return service.state.ready and service.pids != before
