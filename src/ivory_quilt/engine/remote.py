"""What a worker of a cluster does with one order: the same engine, told of through the scheduler.

Runs in Dask's worker processes, of which each needs this package and nothing of the desk.
"""

import time
from functools import cache

from ivory_quilt.core.nesting.job import LayJob, Progress
from ivory_quilt.engine.messages import (
    LaidBetter,
    LayingFor,
    SendShapes,
    StartLaying,
    decode_to_engine,
    encode,
    encode_result,
)
from ivory_quilt.engine.shape_book import ShapeBook

TELL_EVERY = 0.5  # s between two words, and two looks at whether it is still wanted


def packed(order: StartLaying, shapes: SendShapes) -> tuple[bytes, bytes]:
    """Return an order and all its shapes as they go to a worker."""
    return encode(shapes), encode(order)


def lay_remotely(shapes: bytes, order: bytes, topic: str) -> bytes:
    """Lay an order in a worker; returns the encoded result.

    Better layouts and the time are told under `topic`. It ends early once the scheduler's event of
    that name is set.
    """
    from distributed import Event, get_worker

    load_engine()
    from ivory_quilt.core.nesting.engine import StopSwitch
    from ivory_quilt.engine.searching import search

    job, wanted = unpacked(shapes, order)
    worker, stop = get_worker(), Event(topic)
    began = last = time.monotonic()
    switch = StopSwitch()

    def tell(message: LaidBetter | LayingFor) -> None:
        worker.log_event(topic, encode(message))

    def report(progress: Progress) -> bool:
        nonlocal last
        now = time.monotonic()
        if progress.better is not None:
            tell(LaidBetter(wanted.ticket, progress.better))
        if now - last >= TELL_EVERY:
            last = now
            tell(LayingFor(wanted.ticket, now - began))
            if stop.is_set():
                switch.stop()
        return not switch.stopped

    return encode_result(search(job, wanted, report, switch))


def unpacked(shapes: bytes, order: bytes) -> tuple[LayJob, StartLaying]:
    """Return the job and the order that were packed."""
    sent, wanted = decode_to_engine(shapes), decode_to_engine(order)
    assert isinstance(sent, SendShapes)
    assert isinstance(wanted, StartLaying)
    book = ShapeBook()
    book.learn(sent.shapes)
    return book.job(wanted.job), wanted


@cache
def load_engine() -> None:
    """Load the kernels, once for each worker; the first of a machine compiles them."""
    from ivory_quilt.engine.kernel_cache import use_kernel_cache

    use_kernel_cache()
    from ivory_quilt.core.nesting.engine import warm_up

    warm_up()
