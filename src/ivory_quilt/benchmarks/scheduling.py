"""The bench: the demo's plan, a tick, forty suits, and random plans, checked independently."""

import random
import time
from collections.abc import Callable

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.plan import Plan, derive
from ivory_quilt.core.plan.standing import Proposal
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import USUAL_EVENINGS, BenchChoices, JoinSchool
from ivory_quilt.core.schedule.bench_schedule import bench_job
from ivory_quilt.core.schedule.check import broken_rules
from ivory_quilt.core.schedule.schedule_job import ScheduleJob
from ivory_quilt.core.schedule.solve import Effort, schedule, schedule_at_once
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import fill_demo_shop
from ivory_quilt.engine.kernel_cache import use_kernel_cache
from ivory_quilt.shop.sqlite_store import SqliteStore

PLANS, SUITS = 200, 40


def bench_scheduling() -> list[Figure]:
    """Measure what the bench promises."""
    from ivory_quilt.core.nesting.engine import Limit, lay, warm_up

    use_kernel_cache()
    warm_up()
    store = SqliteStore(None)
    fill_demo_shop(store)
    stock = store.stock()
    plan = derive(demo_project(), stock)
    offers = {
        f.foam: Proposal(f.job, lay(f.job, limit=Limit(steps=0), clock=time.monotonic))
        for f in plan.foams
    }
    plan = derive(demo_project(), stock, offers, plan)
    return [*_demo(plan), *_many(plan, stock), *_random(plan)]


def _seconds(work: Callable[[], object]) -> float:
    began = time.monotonic()
    work()
    return time.monotonic() - began


def _demo(plan: Plan) -> list[Figure]:
    choices = BenchChoices()

    def job(done: dict[str, int] | None = None) -> ScheduleJob:
        return bench_job(bench_steps(plan, choices), choices, 0, 0, done)

    first = _seconds(lambda: schedule_at_once(job()))
    again = _seconds(lambda: schedule_at_once(job({"templates": -1})))
    began = time.monotonic()
    found = schedule(job(), Effort(seconds=4.0), clock=time.monotonic)
    whole = time.monotonic() - began
    gap = 100 * (found.makespan - found.bound) / max(1, found.makespan)
    return [
        Figure("demo: first schedule", first, "s", 1.0),
        Figure("demo: planned anew after a tick", again, "s", 1.0),
        Figure("demo: improved", whole, "s", 5.0),
        Figure("demo: gap", gap, "%"),
    ]


def _many(plan: Plan, stock: ShopStock) -> list[Figure]:
    """Forty suits: every piece forty times, each with steps of its own; none laid."""
    project = plan.project
    pieces = tuple(
        replace(p, id=f"{p.id}-{n}") for n in range(SUITS) for p in project.pieces if p.count
    )
    many = Project("forty", pieces)
    whole = derive(many, stock)
    choices = BenchChoices(people=4)
    steps = bench_steps(whole, choices)
    job = bench_job(steps, choices, 0)
    began = time.monotonic()
    found = schedule(job, Effort(seconds=40.0), clock=time.monotonic)
    seconds = time.monotonic() - began
    gap = 100 * (found.makespan - found.bound) / max(1, found.makespan)
    return [
        Figure(f"{SUITS} suits: steps", len(steps.steps), ""),
        Figure(f"{SUITS} suits: planned", seconds, "s", 60.0),
        Figure(f"{SUITS} suits: gap", gap, "%"),
    ]


def _random(plan: Plan) -> list[Figure]:
    """Random evenings, people, schools and ticks, each schedule checked by plain comparisons."""
    broken = refused = 0
    for seed in range(PLANS):
        chance = random.Random(seed)
        evenings = tuple(e for e in USUAL_EVENINGS if chance.random() < 0.7) or USUAL_EVENINGS
        choices = BenchChoices(
            evenings=evenings,
            people=chance.randint(1, 3),
            join=chance.choice(list(JoinSchool)),
            paint=chance.randint(0, 4),
            filled=chance.random() < 0.5,
        )
        steps = bench_steps(plan, choices, {"foam": chance.choice((0, 4320))})
        done = {s.id: -1 for s in steps.steps[: chance.randint(0, 30)]}
        try:
            job = bench_job(steps, choices, chance.randrange(7), chance.randint(0, 3000), done)
        except InputError:
            refused += 1
            continue
        found = schedule_at_once(job)
        broken += found is None or bool(broken_rules(job, found.tasks))
    return [
        Figure(f"{PLANS} random plans: with a broken rule", broken, "", 0),
        Figure(f"{PLANS} random plans: refused", refused, "", 0),
    ]
