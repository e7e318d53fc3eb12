"""`buy`: the cheapest order that is proven to fit."""

import argparse
import signal
import sys
import time
from decimal import Decimal
from threading import Event

from ivory_quilt.cli.shared import DONE, our_output
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement
from ivory_quilt.core.units import parse_scalar, show_misfits


def buy(options: argparse.Namespace) -> int:
    """Find an order, and write it with the layouts that prove it."""
    from ivory_quilt.core.nesting.engine import Limit, StopSwitch, lay, warm_up
    from ivory_quilt.core.stock.buying import Buying
    from ivory_quilt.files.atomic import write_atomic
    from ivory_quilt.files.buy_file import encode_buy, load_buy

    job = load_buy(options.job)
    seconds = parse_scalar(options.seconds, where="--seconds")
    if seconds < 0:
        raise InputError("--seconds", options.seconds, "0 or more")
    switch, stopped = StopSwitch(), Event()

    def stop(*_: object) -> None:
        stopped.set()
        switch.stop()

    def run(
        job: LayJob, seconds: float, target: Decimal | None, start: tuple[Placement, ...]
    ) -> LayResult:
        nonlocal switch
        switch = StopSwitch()  # each layout has its own: one that has ended stops no other
        limit = Limit(seconds, None, target)
        return lay(job, limit=limit, clock=time.monotonic, switch=switch, start=start)

    with our_output():
        warm_up()  # compiling must not eat the maker's seconds
        signal.signal(signal.SIGINT, stop)
        buying = Buying(job, run, time.monotonic, going=lambda: not stopped.is_set())
        result = buying.run(seconds)
    write_atomic(options.out, encode_buy(result))
    if result.unplaced:
        print(f"{show_misfits(result.unplaced, 'piece')} on anything sold", file=sys.stderr)
    print(
        f"total {result.total:.2f} (nothing under {result.bound:.2f} can fit), "
        f"shipping {result.shipping:.2f}"
    )
    return DONE
