"""The same orders on a real local cluster: equal results, stops, lost workers, clear words."""

import json
import os
import signal
from decimal import Decimal

import pytest

from ivory_quilt.cli import main
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.nesting.best import best_of
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.record import replace
from ivory_quilt.engine.cluster import ClusterEngine
from ivory_quilt.engine.orders import Better, Order, Working
from ivory_quilt.engine.service import EngineService
from ivory_quilt.files.lay_file import encode_job
from tests.engine.test_service import Ear, job, wait_for

distributed = pytest.importorskip("distributed")


@pytest.fixture(scope="module")
def cluster():
    """A scheduler and two workers, processes of their own."""
    with distributed.LocalCluster(
        n_workers=2, threads_per_worker=1, processes=True, dashboard_address=":0"
    ) as made:
        yield made


@pytest.fixture
def engine(cluster):
    made = ClusterEngine(cluster.scheduler_address)
    yield made
    made.close()


def six_jobs():
    """Sheets and rolls, holes, pins, free turning, groups, more parts than foam."""
    block = rectangle(80, 45)
    ring = PieceSpec("ring", rectangle(70, 70), 3, (0.0, 90.0))
    pin = Placement("b", 0, "s", 0, Pose(20.0, 20.0))
    sheets = (SheetSpec("s", rectangle(400, 250), None, Decimal(3), 2.0),)
    yield job(12)
    yield LayJob(
        (PieceSpec("b", block, 14, (0.0, 90.0)),), (), (RollSpec("r", 300, 9000, Decimal("0.1")),)
    )
    yield LayJob((PieceSpec("b", block, 6, None), ring), sheets, gap=2.0)
    yield LayJob((PieceSpec("b", block, 5, (0.0,), fixed=(pin,)), ring), sheets, gap=1.0)
    yield LayJob((PieceSpec("b", block, 4, (0.0,), group="g"), ring), sheets)
    yield LayJob((PieceSpec("b", block, 30, (0.0,)),), (SheetSpec("s", rectangle(400, 250), 1),))


def test_six_jobs_are_laid_alike_here_in_a_process_and_on_the_cluster(engine):
    local = EngineService(workers=1)
    try:
        for number, spec in enumerate(six_jobs()):
            here = lay(spec, limit=Limit(steps=2), clock=lambda: 0.0, seed=number)
            order = Order(spec, steps=2, seed=number)
            for found in (local.lay_now(order), engine.lay_now(order)):
                assert found.placements == here.placements, number
                assert (found.unplaced, found.cost) == (here.unplaced, here.cost)
    finally:
        local.close()


def test_a_run_on_the_cluster_is_told_of_and_stopped(engine):
    ear = Ear()
    ticket = engine.lay(Order(job(60, 900), seconds=120.0), ear)
    best = ear.layout()
    wait_for(lambda: any(isinstance(t, Working) for t in ear.heard))
    engine.stop(ticket)
    last = ear.end(20)
    assert last.problem is None
    assert last.result.cost <= best.cost
    assert violations(job(60, 900), last.result.placements) == []


def test_what_waits_is_taken_back_at_once(engine):
    busy = [Ear() for _ in range(2)]
    running = [engine.lay(Order(job(60, 900), seconds=120.0), ear) for ear in busy]
    for ear in busy:
        ear.layout()
    waiting = Ear()
    ticket = engine.lay(Order(job(60, 900), seconds=120.0), waiting)
    engine.stop(ticket)
    assert waiting.end(20).result is None
    for ticket, ear in zip(running, busy, strict=True):
        engine.stop(ticket)
        assert len(ear.end(20).result.placements) == 60


def test_what_makes_no_sense_is_refused_by_name(engine):
    at = Placement("b", 0, "s", 0, Pose(50.0, 50.0))
    twice = PieceSpec(
        "b", rectangle(80, 45), 2, fixed=(at, Placement("b", 1, "s", 0, Pose(60.0, 60.0)))
    )
    bad = LayJob((twice,), (SheetSpec("s", rectangle(400, 250)),))
    with pytest.raises(InputError, match="piece 'b', fixed"):
        engine.lay_now(Order(bad))


def test_a_worker_lost_in_the_middle_costs_its_time_and_nothing_else(engine, cluster):
    ear = Ear()
    engine.lay(Order(job(40), seconds=3.0, seed=5), ear)
    ear.layout()
    client = engine._client
    (address,) = [a for a, keys in client.processing().items() if keys]
    pid = client.run(os.getpid, workers=[address])[address]
    os.kill(pid, signal.SIGKILL)
    last = ear.end(90)
    assert last.problem is None
    assert len(last.result.placements) == 40
    assert sum(isinstance(t, Better) for t in ear.heard) >= 2
    wait_for(lambda: engine.state.workers == 2, 30)


def test_an_address_where_nobody_answers_is_refused_in_a_sentence(monkeypatch):
    monkeypatch.setattr("ivory_quilt.engine.cluster.CONNECT_WITHIN", 1.0)
    with pytest.raises(InputError, match=r"no scheduler answers at tcp://127\.0\.0\.1:1 "):
        ClusterEngine("tcp://127.0.0.1:1")
    with pytest.raises(InputError, match="engine"):
        ClusterEngine("gopher")


def test_the_command_line_lays_alike_with_and_without_the_cluster(cluster, tmp_path, capsys):
    path = tmp_path / "job.json"
    path.write_bytes(encode_job(job(12)))
    outs = []
    for extra in ([], ["--engine", cluster.scheduler_address]):
        out = tmp_path / f"r{len(outs)}.json"
        arguments = ["lay", path, "--iterations", "2", "--seed", "4", "--starts", "3", "--out", out]
        assert main([str(a) for a in (*arguments, *extra)]) == 0
        outs.append(json.loads(out.read_text()))
    for key in ("placements", "cost", "seed", "stopped_by"):
        assert outs[0][key] == outs[1][key]
    assert outs[0]["seed"] in (4, 5, 6)
    assert "2 workers at tcp://" in capsys.readouterr().err
    assert main(["lay", str(path), "--engine", "tcp://127.0.0.1:1", "--out", "r.json"]) == 2


def test_of_several_layouts_the_cheapest_with_the_largest_rest_is_kept():
    spec = job(3)
    many = [lay(spec, limit=Limit(steps=s), clock=lambda: 0.0, seed=s) for s in range(3)]
    assert best_of(spec, many).cost == min(r.cost for r in many)
    short = lay(job(3), limit=Limit(steps=0), clock=lambda: 0.0)
    missing = replace(short, unplaced=(("w", 2),), placements=short.placements[:2], cost=Decimal(0))
    assert best_of(spec, [missing, short]) is short
