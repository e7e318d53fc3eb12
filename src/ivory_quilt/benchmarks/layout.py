"""The layout engine without a window, on the demo's foams."""

import time

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.nesting.engine import Limit, lay, warm_up
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.units import show_thickness
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import MATERIALS, demo_stock
from ivory_quilt.engine.kernel_cache import use_kernel_cache

IMPROVE_SECONDS = 10.0


def bench_layout() -> list[Figure]:
    """Measure first layouts and what ten seconds of improving make of them."""
    use_kernel_cache()
    warm_up()
    plan = derive(demo_project(), ShopStock(demo_stock(), MATERIALS))
    figures, total = [], 0.0
    for foam in plan.foams:
        name = f"{show_thickness(foam.foam.thickness)}, {foam.line.parts} parts"
        began = time.perf_counter()
        first = lay(foam.job, limit=Limit(steps=0), clock=time.monotonic)
        took = time.perf_counter() - began
        total += took
        limit = Limit(seconds=IMPROVE_SECONDS)
        better = lay(foam.job, limit=limit, clock=time.monotonic, seed=1)
        figures += [
            Figure(f"{name}: first layout", took, "s"),
            Figure(f"{name}: first cost", float(first.cost), ""),
            Figure(f"{name}: cost after 10 s", float(better.cost), ""),
            Figure(f"{name}: proven bound", float(better.cost_bound), ""),
            Figure(f"{name}: foam used after 10 s", 100 * better.density, "%"),
        ]
    return [*figures, Figure("all foams: first layouts, one after another", total, "s", 2.0)]
