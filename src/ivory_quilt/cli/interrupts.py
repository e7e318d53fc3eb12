"""Ctrl-C is heard wherever it falls: while modules load and while kernels compile, too.

Python's own `KeyboardInterrupt` is not: compilers swallow it in a bare `except`, a C module that
is loading turns it into an `ImportError`, and a process in which one passed through compiled code
once is killed by the signal at its end, whatever status it returned.
"""

import signal
from collections.abc import Iterator
from contextlib import contextmanager
from threading import current_thread, main_thread

from ivory_quilt.core.errors import Stopped

AGAIN = 0.5  # seconds until the interrupt is raised once more, should somebody have swallowed it


class Interrupted(BaseException):
    """Somebody pressed Ctrl-C."""


@contextmanager
def ctrl_c_heard() -> Iterator[None]:
    """Turn Ctrl-C within into `Stopped`, unless the work hears it in its own way."""
    if current_thread() is not main_thread():  # signals reach the main thread alone
        yield
        return
    heard = False

    def hear(*_: object) -> None:
        nonlocal heard
        heard = True
        signal.setitimer(signal.ITIMER_REAL, AGAIN)
        raise Interrupted

    before = signal.signal(signal.SIGINT, hear), signal.signal(signal.SIGALRM, hear)
    try:
        yield
    except (Exception, Interrupted) as error:
        if not heard:
            raise
        raise Stopped("stopped before there was anything to keep") from error
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)
        signal.signal(signal.SIGINT, before[0])
        signal.signal(signal.SIGALRM, before[1])
