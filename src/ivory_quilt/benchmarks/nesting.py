"""The layout engine beside the published state of the art, on jigsaws, discs, stock jobs, and fuzz.

Long: `./quilt bench nesting` takes about two hours with five seeds; IVORY_QUILT_SEEDS=1 a quarter.
"""

import os
import resource
import statistics
import time
from decimal import Decimal

import numpy as np

from ivory_quilt.benchmarks.library import library_length
from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.benchmarks.sets import (
    DISCS,
    JIGSAWS,
    STRIP_SETS,
    StripSet,
    disc_job,
    known_job,
    stock_job,
)
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.construct import construct, default_plan, first_layout
from ivory_quilt.core.nesting.engine import Limit, lay, warm_up
from ivory_quilt.core.nesting.job import LayJob, LayResult
from ivory_quilt.core.nesting.search import WALKERS
from ivory_quilt.core.nesting.summary import summarise
from ivory_quilt.core.nesting.world import World
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.record import Struct, field, replace
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import MATERIALS, demo_stock
from ivory_quilt.engine.kernel_cache import use_kernel_cache

TIMES = (10, 30, 60)
SEEDS = int(os.environ.get("IVORY_QUILT_SEEDS", "5"))


def timed(job: LayJob, seconds: float, seed: int = 1) -> LayResult:
    """Lay a job for some seconds and check the result."""
    result = lay(job, limit=Limit(seconds=seconds), clock=time.monotonic, seed=seed)
    assert violations(job, result.placements) == []
    return result


def bench_nesting() -> list[Figure]:
    """Measure everything that the engine promises."""
    use_kernel_cache()
    warm_up()
    return [*bench_strips(), *bench_jigsaws(), *bench_discs(), *bench_stock(), *bench_demo()]


def cpu_seconds() -> float:
    """Return the processor time that this process has used."""
    usage = resource.getrusage(resource.RUSAGE_SELF)
    return usage.ru_utime + usage.ru_stime


def _length_at(result: LayResult, seconds: float) -> float:
    return min(float(cost) for at, cost, _ in result.history if at <= seconds)


class _Runs(Struct):
    """What one set's runs came to so far: lengths by seconds, and processor time."""

    ours: dict[int, list[float]] = field(default_factory=lambda: {t: [] for t in TIMES})
    theirs: dict[int, list[float]] = field(default_factory=lambda: {t: [] for t in TIMES})
    cpu: list[float] = field(default_factory=list)
    library_cpu: list[float] = field(default_factory=list)

    def add(self, strip: StripSet, seed: int) -> None:
        """Run both engines with one seed."""
        # One run serves all times: the search does not know how long it may go on.
        began = cpu_seconds()
        result = timed(strip.job(), TIMES[-1], seed)
        self.cpu.append(cpu_seconds() - began)
        began = cpu_seconds()
        for seconds in TIMES:
            self.ours[seconds].append(_length_at(result, seconds))
            self.theirs[seconds].append(library_length(strip, seconds, seed, WALKERS)[0])
        self.library_cpu.append(cpu_seconds() - began)

    def ratio(self, seconds: int) -> float:
        """Return our median length over the library's."""
        return statistics.median(self.ours[seconds]) / statistics.median(self.theirs[seconds])


def bench_strips() -> list[Figure]:
    """Compare lengths of roll with the library's at equal wall seconds and threads.

    All sets with one seed, then with the next: whoever stops it has seen all sets.
    """
    runs = [_Runs() for _ in STRIP_SETS]
    for seed in range(1, SEEDS + 1):
        for strip, run in zip(STRIP_SETS, runs, strict=True):
            run.add(strip, seed)
            last = ", ".join(f"{t} s {run.ours[t][-1] / run.theirs[t][-1]:.4f}" for t in TIMES)
            print(f"  seed {seed}, {strip.name}: {last}", flush=True)
    figures = []
    for strip, run in zip(STRIP_SETS, runs, strict=True):
        for seconds in TIMES:
            what = f"{strip.name}, {seconds} s: length ÷ the library's"
            figures.append(Figure(what, run.ratio(seconds), "", 1.01))
        mine, theirs = statistics.mean(run.cpu), statistics.mean(run.library_cpu)
        figures.append(Figure(f"{strip.name}: CPU of one run to 60 s", mine, "s"))
        figures.append(Figure(f"{strip.name}: CPU of the library's three runs", theirs, "s"))
    for seconds in TIMES:
        median = statistics.median(run.ratio(seconds) for run in runs)
        figures.append(Figure(f"all sets, {seconds} s: median ratio", median, "", 0.99))
    return figures


def bench_jigsaws() -> list[Figure]:
    """Measure the slack of jigsaws with a known layout without waste, 30 s."""
    figures = []
    for puzzle in JIGSAWS:
        slack = statistics.median(
            float(timed(puzzle.job(), 30, seed).cost) / puzzle.length - 1
            for seed in range(1, SEEDS + 1)
        )
        figures.append(
            Figure(f"{puzzle.name}: slack in 30 s", 100 * slack, "%", 100 * puzzle.most_slack)
        )
    return figures


def bench_discs() -> list[Figure]:
    """Measure discs left out of a square 2 % over the best known, 10 s."""
    return [
        Figure(
            f"{n} discs in a square 2 % over the best known: left out",
            len(timed(disc_job(n, 0.02), 10).unplaced),
            "",
            0,
        )
        for n in DISCS
    ]


def bench_stock(seconds: float = 20.0) -> list[Figure]:
    """Measure jobs on several kinds of stock against first fit, the bound, and known cuttings."""
    figures, gaps, dearer, missed = [], [], 0, 0
    for seed in range(12):
        job = stock_job(seed)
        first = lay(job, limit=Limit(steps=0), clock=time.monotonic)
        better = timed(job, seconds)
        dearer += better.cost > first.cost or bool(better.unplaced)
        bound = better.cost_bound
        gaps.append(float(better.cost / bound - 1) if bound else float(better.cost > 0))
    for seed in range(8):
        job, cost = known_job(seed)
        missed += timed(job, 2 * seconds).cost > cost
    figures += [
        Figure("12 stock jobs: dearer than first fit", dearer, "", 0),
        Figure("12 stock jobs: median gap to the bound", 100 * statistics.median(gaps), "%", 8),
        Figure("8 jobs cut from known stock: used more", missed, "", 0),
    ]
    return figures


def demo_job(parts: int) -> LayJob:
    """Return the demo's foam of most parts, each as much more often as makes `parts` in all."""
    plan = derive(demo_project(), ShopStock(demo_stock(), MATERIALS))
    job = max(plan.foams, key=lambda f: f.line.parts).job
    count = sum(p.quantity for p in job.pieces)
    pieces, seen, laid = [], 0, 0
    for piece in job.pieces:
        seen += piece.quantity
        most = seen * parts // count
        if most > laid:
            pieces.append(replace(piece, quantity=most - laid, fixed=()))
        laid = most
    return replace(job, pieces=tuple(pieces))


def bench_demo() -> list[Figure]:
    """Measure first layouts of 90 and 400 parts, and the end against restarts."""
    figures = []
    for parts, most in ((90, 1.0), (400, 5.0)):
        job = demo_job(parts)
        began = time.perf_counter()
        lay(job, limit=Limit(steps=0), clock=time.monotonic)
        figures.append(
            Figure(
                f"demo foam, {parts} parts: first layout", time.perf_counter() - began, "s", most
            )
        )
    job = demo_job(90)
    better, restarts = timed(job, 15), _restarts(job, 60)
    figures.append(
        Figure("demo foam: 15 s ÷ 60 s of restarts", float(better.cost / restarts), "", 1)
    )
    return figures


def _restarts(job: LayJob, seconds: float) -> Decimal:
    """Return the best cost of the constructive method with restarts in random orders."""
    world, flags = World(job), np.zeros(2, dtype=np.int64)
    first_layout(world, flags)
    best = summarise(job, world.placements()).cost
    random = np.random.default_rng(1)
    plan = default_plan(world)
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        rank = np.argsort(np.arange(len(plan.order)) + random.normal(0, 8, len(plan.order)))
        construct(world, replace(plan, order=tuple(plan.order[k] for k in rank)), flags)
        found = summarise(job, world.placements())
        if not found.unplaced:
            best = min(best, found.cost)
    return best


def fuzz(count: int, first: int = 0) -> int:
    """Lay random jobs from number `first` on and check them exactly.

    Prints and counts what does not hold.
    """
    broken = 0
    for seed in range(first, first + count):
        random = np.random.default_rng(seed)
        job = stock_job(seed) if random.random() < 0.7 else known_job(seed)[0]
        result = lay(job, limit=Limit(steps=2), clock=lambda: 0.0, seed=seed)
        found = violations(job, result.placements)
        if found or result.faults:
            broken += 1
            print(f"job {seed}: {[v.message for v in found]} {result.faults}", flush=True)
        if seed % 100 == 99:
            print(f"{seed + 1 - first} jobs, {broken} broken", flush=True)
    return broken
