"""`lengths`: shaped lengths from bars."""

import argparse

from ivory_quilt.cli.shared import DONE, our_output
from ivory_quilt.core.units import counted


def lengths(options: argparse.Namespace) -> int:
    """Cut lengths from bars at the least cost, and write how."""
    from ivory_quilt.core.stock.cutting_stock import cut_at_least_cost
    from ivory_quilt.files.atomic import write_atomic
    from ivory_quilt.files.lengths_file import encode_lengths, load_lengths

    job = load_lengths(options.job)
    with our_output():
        plan = cut_at_least_cost(job)
    write_atomic(options.out, encode_lengths(plan))
    bars = counted(sum(b.count for b in plan.bars), "bar")
    proof = "proven" if plan.optimal else f"none under {plan.bound:.2f}"
    print(f"cost {plan.cost:.2f} ({proof}), {bars}")
    return DONE
