"""What several commands share: exit status, whole numbers, an output of our own."""

import ctypes
import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager

from ivory_quilt.core.errors import InputError

DONE, WRONG, NOTHING = 0, 2, 3


@contextmanager
def our_output() -> Iterator[None]:
    """Send what libraries write themselves among the messages: the output is read by programs.

    The integer program's library says a line of its own in rare cases, past Python's output.
    """
    sys.stdout.flush()
    ours = os.dup(1)
    os.dup2(2, 1)
    try:
        yield
    finally:
        ctypes.CDLL(None).fflush(None)
        os.dup2(ours, 1)
        os.close(ours)


def whole(text: str, where: str, least: int) -> int:
    """Return a whole number.

    Raises:
        InputError: it is none, or below `least`.
    """
    try:
        value = int(text)
    except ValueError:
        value = least - 1
    if value < least:
        raise InputError(where, f"'{text}'", f"a whole number, {least} or more")
    return value
