"""Many mutated files of one kind, one after another in a process apart."""

import time
from typing import Any

from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.engine.kernel_cache import use_kernel_cache
from ivory_quilt.files.apart import Apart, Limits
from tests.fuzz.mutate import mutated
from tests.fuzz.subjects import SUBJECTS

SECONDS = 5.0  # that an ordinary file may take
LONGEST = 600  # characters of a sentence


def _read_again(apart: Apart, work: Any, data: bytes, name: str) -> bool:
    """Whether a second try of the same file ends in time: what hangs would hang again."""
    try:
        apart.run(work, data, name, what=name)
    except InputError as error:
        return "reading it takes" not in str(error)
    except QuiltError:
        return False
    return True


def faults(kind: str, count: int, first: int) -> tuple[list[str], dict[str, float]]:
    """Return what went wrong with mutated files number `first` on, and figures of the run."""
    use_kernel_cache()
    work, name, whole = SUBJECTS[kind]
    data = whole()
    found: list[str] = []
    longest, refused = 0.0, 0
    with Apart(Limits(seconds=60)) as apart:
        apart.run(work, data, name, what=name)  # a whole one is read, and the libraries are there
        apart.limits = Limits(seconds=SECONDS)
        for seed in range(first, first + count):
            began = time.monotonic()
            try:
                apart.run(work, mutated(data, seed), name, what=name)
            except InputError as error:
                refused += 1
                text = str(error)
                if "reading it takes" in text:
                    if _read_again(apart, work, mutated(data, seed), name):
                        continue  # the machine was held up, not the reading
                    found.append(f"{kind} {seed}: {text}")
                elif "\n" in text or len(text) > LONGEST or not text.isprintable():
                    found.append(f"{kind} {seed}: no plain sentence: {text!r}")
            except QuiltError as error:
                found.append(f"{kind} {seed}: {error}")
            longest = max(longest, time.monotonic() - began)
        peak = apart.peak / 1e6
    return found, {"refused": refused, "longest": longest, "peak": peak}
