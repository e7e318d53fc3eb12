"""Each mutant in a process of its own, forked from one in which the libraries are loaded."""

import importlib.abc
import importlib.util
import os
import signal
import sys
import time
from collections.abc import Iterator
from enum import Enum

import pytest

from tests.mutation.mutants import Mutant

QUIET = ("-p", "no:cacheprovider", "-W", "ignore::pytest.PytestAssertRewriteWarning")
LONGEST = 60  # s for all tests of one mutant: one that hangs is found out


class Verdict(Enum):
    """What became of a mutant."""

    KILLED = "killed"
    SURVIVED = "survived"
    UNSEEN = "no test sees it"


class _Broken(importlib.abc.MetaPathFinder, importlib.abc.SourceLoader):
    """Loads one module with other source."""

    def __init__(self, mutant: Mutant) -> None:
        self.mutant = mutant

    def find_spec(self, name, path, target=None):
        if name != self.mutant.module:
            return None
        return importlib.util.spec_from_loader(name, self, origin=self.get_filename(name))

    def get_filename(self, name):
        return f"src/{name.replace('.', '/')}.py"

    def get_data(self, path):
        return self.mutant.source.encode()

    def get_source(self, name):
        return self.mutant.source


def load_libraries() -> None:
    """Import what every mutant's process needs, but nothing of ours."""
    for name in (
        "numpy",
        "scipy.spatial",
        "scipy.optimize",
        "scipy.stats",
        "shapely",
        "numba",
        "hypothesis.strategies",
        "cv2",
        "ezdxf",
        "reportlab.pdfgen.canvas",
        "msgspec",
        "pdfplumber",
        "jsonschema",
    ):
        importlib.import_module(name)


def run_all(jobs: list[tuple[Mutant, list[str]]], workers: int) -> Iterator[tuple[Mutant, Verdict]]:
    """Yield each mutant with what became of it, as they end."""
    waiting, running = list(reversed(jobs)), {}
    while waiting or running:
        while waiting and len(running) < workers:
            mutant, tests = waiting.pop()
            if not tests:
                yield mutant, Verdict.UNSEEN
                continue
            child = os.fork()
            if child == 0:
                _child(mutant, tests)
            running[child] = (mutant, time.monotonic())
        if not running:
            continue
        child, status = os.waitpid(-1, os.WNOHANG)
        if child:
            mutant, _ = running.pop(child)
            survived = os.WIFEXITED(status) and os.WEXITSTATUS(status) == 0
            yield mutant, Verdict.SURVIVED if survived else Verdict.KILLED
            continue
        for one, (_, began) in running.items():
            if time.monotonic() - began > LONGEST:
                os.kill(one, signal.SIGKILL)
        time.sleep(0.01)


def _child(mutant: Mutant, tests: list[str]) -> None:
    status = 1
    try:
        quiet = os.open(os.devnull, os.O_WRONLY)
        os.dup2(quiet, 1)
        os.dup2(quiet, 2)
        sys.meta_path.insert(0, _Broken(mutant))
        status = int(pytest.main(["-x", "-q", *QUIET, *tests]))
    finally:
        os._exit(status)
