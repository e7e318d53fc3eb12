"""`formup`: panels, seams, folds and bends solved into their shape."""

import argparse
import signal
import time
from threading import Event

from ivory_quilt.cli.shared import DONE, our_output
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.units import counted, parse_scalar


def form_up(options: argparse.Namespace) -> int:
    """Solve an assembly into its shape, and write it."""
    from ivory_quilt.engine.kernel_cache import use_kernel_cache

    use_kernel_cache()
    from ivory_quilt.core.formup.form import form
    from ivory_quilt.files.atomic import write_atomic
    from ivory_quilt.files.body_file import write_formed
    from ivory_quilt.files.formup_file import encode_formup, load_formup

    job = load_formup(options.job)
    seconds = parse_scalar(options.seconds, where="--seconds")
    if seconds <= 0:
        raise InputError("--seconds", options.seconds, "above 0")
    stopped, end = Event(), time.monotonic() + seconds
    with our_output():
        signal.signal(signal.SIGINT, lambda *_: stopped.set())
        formed = form(job, going=lambda: not stopped.is_set() and time.monotonic() < end)
    write_atomic(options.out, encode_formup(formed.shape))
    for path in options.body or ():
        write_formed(formed.shape, path)
    spread = formed.strain
    for problem in formed.problems:
        print(problem)
    triangles = len(formed.shell.triangles)
    print(
        f"{counted(len(job.panels), 'panel')}, {counted(triangles, 'triangle')}; strain "
        f"{100 * spread.p01:.2f} to {100 * spread.p99:.2f} % (1st to 99th percentile)"
    )
    return DONE
