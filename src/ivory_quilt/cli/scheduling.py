"""`schedule`: tasks with waits on calendars, to the earliest end."""

import argparse
import os
import signal
import time
from threading import Event

from ivory_quilt.cli.shared import DONE, our_output
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.units import counted, parse_scalar


def schedule_tasks(options: argparse.Namespace) -> int:
    """Schedule a job's tasks, and write when each begins and ends."""
    from ivory_quilt.core.schedule.solve import Effort, schedule
    from ivory_quilt.files.atomic import write_atomic
    from ivory_quilt.files.schedule_file import encode_schedule, load_schedule

    job = load_schedule(options.job)
    seconds = parse_scalar(options.seconds, where="--seconds")
    if seconds < 0:
        raise InputError("--seconds", options.seconds, "0 or more")
    stopped = Event()
    with our_output():
        signal.signal(signal.SIGINT, lambda *_: stopped.set())
        effort = Effort(seconds, max(1, os.cpu_count() or 1))
        result = schedule(job, effort, better=lambda _: not stopped.is_set(), clock=time.monotonic)
    write_atomic(options.out, encode_schedule(result))
    proof = "proven" if result.optimal else f"none can end before {result.bound}"
    late = f", {counted(result.late, 'minute')} late" if result.late else ""
    print(f"{counted(len(result.tasks), 'task')}, done after {result.makespan} min ({proof}){late}")
    return DONE
