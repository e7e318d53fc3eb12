"""Lays one order in the process that it came to."""

import time

from ivory_quilt.core.nesting.engine import Limit, StopSwitch, lay
from ivory_quilt.core.nesting.job import LayJob, LayResult, Report
from ivory_quilt.engine.messages import StartLaying


def search(job: LayJob, order: StartLaying, report: Report, switch: StopSwitch) -> LayResult:
    """Lay the job of an order as it says; see `lay`.

    Raises:
        InputError: fixed pieces clash with each other or their sheets.
    """
    return lay(
        job,
        limit=Limit(order.seconds, order.steps, order.target),
        clock=time.monotonic,
        seed=order.seed,
        report=report,
        switch=switch,
        start=order.start,
        threads=order.threads,
    )
