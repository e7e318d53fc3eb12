"""Where commands lay: in this process, or on a cluster of machines."""

import signal
import sys
import time
from collections.abc import Callable, Sequence
from threading import Event
from typing import Any

from ivory_quilt.cli.shared import our_output, whole
from ivory_quilt.core.errors import Stopped
from ivory_quilt.core.nesting.job import LayJob, LayResult, Progress, Report
from ivory_quilt.core.units import counted
from ivory_quilt.engine.orders import Better, Ended, Order, Told

OnBetter = Callable[[int, LayResult], object]
"""Called with the number of an order and a better layout of it."""
MOST_STARTS = 1000


def add_engine_options(command: Any) -> None:
    """Let a command say where it lays."""
    command.add_argument(
        "--engine",
        metavar="ADDRESS",
        help="lay on the cluster of this scheduler, e.g. tcp://host:8786 (docs/cluster.md)",
    )
    command.add_argument(
        "--starts",
        default="1",
        metavar="N",
        help="lay with N seeds, the given one and those after it, and keep the best",
    )


def starts_of(text: str) -> int:
    """Return how many seeds are tried.

    Raises:
        InputError: no whole number of 1 or more.
    """
    return min(whole(text, "--starts", 1), MOST_STARTS)


def first_layout(job: LayJob) -> LayResult:
    """Return the first layout of a job, made in this process: what papers take."""
    from ivory_quilt.core.nesting.engine import Limit, lay

    return lay(job, limit=Limit(steps=0), clock=time.monotonic)


def lay_orders(
    orders: Sequence[Order], address: str | None, better: OnBetter = lambda _, __: None
) -> list[LayResult]:
    """Lay orders and return their results in the same order; Ctrl+C stops with what was found.

    `better` is called with an order's number and each better layout.

    Raises:
        InputError: an order makes no sense, or nobody answers at `address`.
        QuiltError: an order cannot be laid.
    """
    if address is None:
        return _here(orders, better)
    return _there(orders, address, better)


def _here(orders: Sequence[Order], better: OnBetter) -> list[LayResult]:
    from ivory_quilt.core.nesting.engine import Limit, StopSwitch, lay, warm_up

    stopped = False
    switch = StopSwitch()

    def stop(*_: object) -> None:
        nonlocal stopped
        stopped = True
        switch.stop()

    def report_of(number: int) -> Report:
        def report(progress: Progress) -> bool:
            if progress.better is not None:
                better(number, progress.better)
            return True

        return report

    found: list[LayResult] = []
    with our_output():
        warm_up()  # compiling must not eat the maker's seconds
        signal.signal(signal.SIGINT, stop)
        for number, order in enumerate(orders):
            if stopped and found:
                break
            switch = StopSwitch() if not stopped else switch
            found.append(
                lay(
                    order.job,
                    limit=Limit(order.seconds, order.steps, order.target),
                    clock=time.monotonic,
                    seed=order.seed,
                    report=report_of(number),
                    switch=switch,
                    start=order.start,
                )
            )
    return found


def _there(orders: Sequence[Order], address: str, better: OnBetter) -> list[LayResult]:
    from ivory_quilt.engine.cluster import ClusterEngine

    engine = ClusterEngine(address)
    ends: dict[int, Ended] = {}
    all_ended, stopping = Event(), Event()

    def hear(number: int, told: Told) -> None:
        if isinstance(told, Better):
            better(number, told.result)
        elif isinstance(told, Ended):
            ends[number] = told
            if len(ends) == len(orders):
                all_ended.set()

    try:
        print(f"{counted(engine.state.workers, 'worker')} at {address}", file=sys.stderr)
        signal.signal(signal.SIGINT, lambda *_: stopping.set())
        tickets = [
            engine.lay(order, lambda told, n=number: hear(n, told))  # type: ignore[misc]
            for number, order in enumerate(orders)
        ]
        while orders and not all_ended.wait(0.1):
            if stopping.is_set():
                stopping.clear()
                for ticket in tickets:
                    engine.stop(ticket)
    finally:
        engine.close()
    found = []
    for number in range(len(orders)):
        if (problem := ends[number].problem) is not None:
            raise problem
        if (result := ends[number].result) is None:
            raise Stopped("stopped before any layout was found")
        found.append(result)
    return found
