"""The process that readers run in (see `apart`): takes readings from a pipe, one after another."""

import gc
import inspect
import time
import traceback
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.reading.progress import ReadProgress
from ivory_quilt.system.child import peak_memory, take_up_work

TELL_EVERY = 0.05  # s between two words on how far it is
Answer = tuple[str, Any]


def main() -> None:
    """Read until the pipe is closed."""
    pipe = take_up_work()
    while True:
        try:
            pipe.send(_next(pipe))
        except MemoryError:
            pipe.send(("memory", ""))
        except (EOFError, OSError):
            return
        gc.enable()
        gc.collect()


def _next(pipe: Connection) -> Answer:
    work, given = pipe.recv()
    last = 0.0

    def report(progress: ReadProgress) -> bool:
        nonlocal last
        now = time.monotonic()
        if now - last >= TELL_EVERY:
            last = now
            pipe.send(("progress", progress))
        return True

    return answer_of(work, given, report)


def answer_of(
    work: Callable[..., Any], given: tuple[Any, ...], report: Callable[[ReadProgress], bool]
) -> Answer:
    """Return how a reading ended, as it goes through the pipe."""
    gc.disable()  # what is read stays: looking at it again and again would take half the time
    try:
        takes = "report" in inspect.signature(work).parameters
        result = work(*given, report=report) if takes else work(*given)
    except InputError as error:
        return ("refused", (error.where, error.problem, error.expected))
    except QuiltError as error:
        return ("stopped", str(error))
    except RecursionError:
        return ("failed", traceback.format_exc(limit=-6))
    except MemoryError:
        return ("memory", "")
    except Exception as error:  # noqa: BLE001 - handed over, never swallowed
        if "bad_alloc" in str(error):  # a library's own word for no memory
            return ("memory", "")
        return ("failed", traceback.format_exc())
    return ("done", (peak_memory(), result))


if __name__ == "__main__":
    main()
