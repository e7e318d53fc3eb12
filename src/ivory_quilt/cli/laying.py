"""`lay`: pieces on sheets."""

import argparse
import sys

from ivory_quilt.cli.engines import lay_orders, starts_of
from ivory_quilt.cli.shared import DONE, whole
from ivory_quilt.core.errors import InputError, Stopped
from ivory_quilt.core.nesting.job import LayResult
from ivory_quilt.core.units import parse_money, parse_scalar, show_misfits
from ivory_quilt.engine.orders import Order


def lay(options: argparse.Namespace) -> int:
    """Lay a job, and write the best layout."""
    from ivory_quilt.core.nesting.reasons import nothing_fits
    from ivory_quilt.files.atomic import write_atomic
    from ivory_quilt.files.lay_file import encode_fault, encode_result, load_job

    job = load_job(options.job)
    seed, starts = whole(options.seed, "--seed", 0), starts_of(options.starts)
    target = parse_money(options.target, where="--target") if options.target else None
    seconds = steps = None
    if options.iterations is not None:
        steps = whole(options.iterations, "--iterations", 0)
    else:
        seconds = parse_scalar(options.seconds or "10", where="--seconds")
        if seconds < 0:
            raise InputError("--seconds", options.seconds, "0 or more")
    orders = [Order(job, seconds, steps, seed + k, target) for k in range(starts)]

    def better(number: int, found: LayResult) -> None:
        if options.progress:
            t, cost, density = found.history[-1]
            which = f"seed {seed + number}  " if starts > 1 else ""
            print(f"{which}{t:8.2f} s  cost {cost:.2f}  density {density:.3f}", file=sys.stderr)

    results = lay_orders(orders, options.engine, better)
    result = results[0]
    if len(results) > 1:
        from ivory_quilt.core.nesting.best import best_of

        result = best_of(job, results)
    if job.pieces and not result.placements and result.stopped_by == "maker":
        raise Stopped("stopped before any layout was found")
    write_atomic(options.out, encode_result(result))
    if result.faults:
        report_at = options.out.with_suffix(".fault.json")
        write_atomic(report_at, encode_fault(job, result.seed, result.faults))
        print(f"a layout was refused by the exact check; see {report_at.name}", file=sys.stderr)
    if result.unplaced and not result.placements:
        print(f"nothing fits: {nothing_fits(job)}", file=sys.stderr)
    left = f", {show_misfits(len(result.unplaced), 'piece')}" if result.unplaced else ""
    print(
        f"cost {result.cost:.2f} (no layout under {result.cost_bound:.2f}), "
        f"density {result.density:.3f}{left}"
    )
    return DONE
