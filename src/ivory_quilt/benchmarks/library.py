"""The published state of the art, as a general strip-packing library offers it: for comparing.

The library is a development dependency; nothing of the application uses it.
"""

import math
import time

from ivory_quilt.benchmarks.sets import StripSet


def library_length(strip: StripSet, seconds: int, seed: int, workers: int) -> tuple[float, float]:
    """Return (length of roll used in mm, wall seconds taken) by the library.

    It keeps the separation from the strip's edges as well, ours does not: its strip is that much
    wider, and its length counts that much less.
    """
    import spyrrow

    job = strip.job()
    items = [
        spyrrow.Item(
            p.id,
            [(float(x), float(y)) for x, y in p.shape.outer],
            demand=p.quantity,
            allowed_orientations=None if p.rotations is None else list(p.rotations),
        )
        for p in job.pieces
    ]
    gap = strip.gap
    instance = spyrrow.StripPackingInstance("set", strip.width + 2 * gap, items)
    config = spyrrow.StripPackingConfig(
        early_termination=False,
        total_computation_time=seconds,
        min_items_separation=gap or None,
        num_workers=workers,
        seed=seed,
    )
    began = time.perf_counter()
    solution = instance.solve(config)
    taken = time.perf_counter() - began
    assert math.isfinite(solution.width)
    return float(solution.width) - 2 * gap, taken
