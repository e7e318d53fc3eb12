"""Orders: random projects beside the best single size, lengths, the demo's whole purchase."""

import math
import random
import statistics
import time
from decimal import Decimal

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.engine import Limit, lay, warm_up
from ivory_quilt.core.nesting.job import LayJob, LayResult, PieceSpec, Placement, SheetSpec
from ivory_quilt.core.plan.ordering import order_job
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.what_if import what_ifs
from ivory_quilt.core.stock.buy_job import BuyFoam, BuyJob
from ivory_quilt.core.stock.buying import Buying
from ivory_quilt.core.stock.catalogue import Offer, SoldSheet, Supplier
from ivory_quilt.core.stock.cutting_stock import cut_at_least_cost
from ivory_quilt.core.stock.lengths_job import BarStock, LengthDemand, LengthsJob
from ivory_quilt.core.stock.order_program import bill
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import fill_demo_shop
from ivory_quilt.engine.kernel_cache import use_kernel_cache
from ivory_quilt.shop.sqlite_store import SqliteStore

PROJECTS, SECONDS = 20, 10.0
SIZES = ((1000, 500), (1000, 1000), (600, 400), (500, 500), (2000, 1000), (610, 610), (1200, 800))


def run(
    job: LayJob, seconds: float, target: Decimal | None, start: tuple[Placement, ...]
) -> LayResult:
    """Lay a candidate in this process."""
    limit = Limit(seconds, None, target) if seconds > 0 else Limit(None, 0, target)
    return lay(job, limit=limit, clock=time.monotonic, start=start)


def bench_buying() -> list[Figure]:
    """Measure twenty random projects, sixty lengths, and the demo's plan with its what-ifs."""
    use_kernel_cache()
    warm_up()
    return [*_projects(), *_lengths(), *_demo()]


def _projects() -> list[Figure]:
    gaps, dearer, over = [], 0, 0
    for seed in range(PROJECTS):
        job = random_project(seed)
        result = Buying(job, run, time.monotonic).run(SECONDS)
        gaps.append(float((result.total - result.bound) / result.total) * 100)
        over += result.total < result.bound
        dearer += result.total > _best_single(job)
    return [
        Figure(
            f"{PROJECTS} projects, {SECONDS:g} s: median gap", statistics.median(gaps), "%", 3.0
        ),
        Figure("greatest gap", max(gaps), "%"),
        Figure("projects dearer than their best single sizes", dearer, "", 0),
        Figure("projects cheaper than their bound", over, "", 0),
    ]


def random_project(seed: int) -> BuyJob:
    """Return 20 to 120 parts of 1 to 3 foams, 3 to 6 sizes, 2 or 3 suppliers."""
    rng = random.Random(seed)
    suppliers = tuple(
        Supplier(
            name,
            shipping=Decimal(rng.randint(40, 90)) / 10,
            free_from=rng.choice((None, Decimal(60), Decimal(100))),
            minimum=Decimal(rng.choice((0, 20))),
            days=3,
        )
        for name in ("north", "south", "east")[: rng.randint(2, 3)]
    )
    count, foams = rng.randint(20, 120), []
    many = rng.randint(1, 3)
    for f in range(many):
        pieces: list[PieceSpec] = []
        left = count // many
        while left > 0:
            quantity = min(left, rng.choice((1, 2, 2, 4)))
            left -= quantity
            turns = rng.choice(((0.0, 90.0, 180.0, 270.0), (0.0, 180.0)))
            pieces.append(PieceSpec(f"p{len(pieces)}", _shape(rng), quantity, turns))
        offers = tuple(_offer(rng, f"f{f}o{k}", suppliers) for k in range(rng.randint(3, 6)))
        foams.append(BuyFoam(f"eva {f}", LayJob(tuple(pieces), gap=2.0), offers))
    return BuyJob(tuple(foams), suppliers)


def _shape(rng: random.Random) -> Shape:
    wide, high, kind = rng.uniform(40, 300), rng.uniform(30, 220), rng.random()
    if kind < 0.25:
        return rectangle(wide, high)
    if kind > 0.8:
        return Shape.make([(0, 0), (wide, 0), (wide / 2, high)])
    count = rng.randint(5, 14)
    return Shape.make(
        [
            (
                wide / 2 * math.cos(2 * math.pi * k / count) * (0.6 + 0.4 * rng.random()),
                high / 2 * math.sin(2 * math.pi * k / count) * (0.6 + 0.4 * rng.random()),
            )
            for k in range(count)
        ]
    )


def _offer(rng: random.Random, ident: str, suppliers: tuple[Supplier, ...]) -> Offer:
    size = rng.choice(SIZES)
    base = size[0] * size[1] / 1e6 * rng.uniform(16, 24)
    pack = rng.choice((1, 1, 1, 4))
    steps = [(1, Decimal(round(base * pack * 100)) / 100)]
    if rng.random() < 0.6:
        steps.append((rng.choice((3, 5)), Decimal(round(base * pack * 90)) / 100))
    available = rng.choice((None, None, 40))
    goods = SoldSheet(rectangle(*size), 5.0)
    return Offer(ident, rng.choice(suppliers).id, goods, tuple(steps), pack, available)


def _best_single(job: BuyJob) -> Decimal:
    """Return what the best of one size a foam costs, each laid constructively, bought as it is."""
    packs: dict[str, int] = {}
    for foam in job.foams:
        found = []
        for offer in foam.laid_offers:
            assert isinstance(offer.goods, SoldSheet)
            sheet = SheetSpec(offer.id, offer.goods.shape, None, Decimal(1), offer.goods.margin)
            laid = run(LayJob(foam.job.pieces, (sheet,), gap=2.0), 0.0, None, ())
            count = -(-len(laid.stock) // offer.pack)
            if not laid.unplaced and count <= offer.most_packs:
                found.append((offer.cost(count), offer.id, count))
        if not found:
            return Decimal(10**9)
        _, ident, count = min(found)
        packs[ident] = count
    offers = job.offers
    goods, shipping = bill(packs, offers, job.suppliers)
    for supplier in job.suppliers:
        mine = sum(offers[i].cost(n) for i, n in packs.items() if offers[i].supplier == supplier.id)
        if 0 < mine < supplier.minimum:  # that order would not be taken
            return Decimal(10**9)
    return goods + shipping


def _lengths() -> list[Figure]:
    times, open_ones = [], 0
    for seed in range(12):
        rng = random.Random(seed)
        bars = tuple(
            BarStock(
                f"b{k}",
                float(length := rng.choice((1000, 1200, 1500, 1800, 2000, 2500, 3000))),
                None if k == 0 else rng.choice((None, 3, 10)),
                Decimal(round(length * rng.uniform(0.08, 0.12))) / 100,
            )
            for k in range(6)
        )
        demands = tuple(
            LengthDemand(f"d{k}", float(rng.randint(50, 900)), rng.randint(1, 8)) for k in range(60)
        )
        began = time.perf_counter()
        plan = cut_at_least_cost(LengthsJob(bars, demands, rng.choice((0.0, 1.0, 2.0))))
        times.append(time.perf_counter() - began)
        open_ones += not plan.optimal
    return [
        Figure("60 lengths from 6 bars, median of 12", statistics.median(times), "s", 2.0),
        Figure("the slowest of them", max(times), "s"),
        Figure("of them not proven", open_ones, "", 0),
    ]


def _demo() -> list[Figure]:
    store = SqliteStore(None)
    fill_demo_shop(store)
    plan = derive(demo_project(), store.stock())
    store.close()
    first: list[float] = []
    buying = Buying(
        order_job(plan), run, time.monotonic, better=lambda found: first.append(found.seconds)
    )
    result = buying.run(12.0)
    began = time.perf_counter()
    ways = what_ifs(plan)
    for way in ways[:8]:
        other = derive(way.project(plan.project), way.stock(plan.stock), None, plan)
        Buying(order_job(other), run, time.monotonic, earlier=buying).run(1.6)
    took = time.perf_counter() - began
    return [
        Figure("the demo's order: first answer", first[0], "s", 2.0),
        Figure("the demo's order: done", result.seconds, "s", 15.0),
        Figure("the demo's order: total", float(result.total), ""),
        Figure("the demo's order: proven bound", float(result.bound), ""),
        Figure("eight what-ifs, one after another", took, "s", 20.0),
    ]
