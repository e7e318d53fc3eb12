"""Which tests see which line of the core, and how long each takes: measured in one run."""

import os
from collections import defaultdict
from pathlib import Path

import coverage
import msgspec
import pytest

from tests.mutation.running import QUIET

ROOT = Path(__file__).parents[2]
TESTS = ("tests/core", "tests/reference", "tests/files/test_made_papers.py")
SLOW = (
    "tests/core/nesting",
    "tests/reference/test_tracing.py",
    "tests/reference/test_packing.py",
    "tests/reference/test_bin_packing.py",
    "tests/reference/test_no_fit.py",
)  # none of ours


class Seen(msgspec.Struct):
    """What a run saw: for each module the tests of its lines, and each test's seconds."""

    lines: dict[str, dict[int, list[str]]]
    seconds: dict[str, float]

    def tests_of(self, module: str, line: int, *, constant: bool) -> list[str]:
        """Return the tests that see a line, quick ones first; of a constant all of its module."""
        rows = self.lines.get(module, {})
        names = {n for tests in rows.values() for n in tests} if constant else {*rows.get(line, ())}
        return sorted(names, key=lambda n: self.seconds.get(n, 1.0))


class _Clock:
    """Takes each test's time."""

    def __init__(self):
        self.seconds = defaultdict(float)

    def pytest_runtest_logreport(self, report):
        self.seconds[report.nodeid.partition("[")[0]] += report.duration


def measure(core: Path) -> Seen:
    """Run the tests of the core once and return what they saw."""
    clock = _Clock()
    run = coverage.Coverage(data_file=None, source=[str(core)])
    run.set_option("run:dynamic_context", "test_function")
    run.start()
    arguments = ["-q", *QUIET, *TESTS, *(f"--ignore={s}" for s in SLOW)]
    status = pytest.main(arguments, plugins=[clock])
    run.stop()
    if status != 0:
        raise SystemExit("mutate: the tests fail before anything is broken")
    data = run.get_data()
    lines: dict[str, dict[int, list[str]]] = {}
    for file in data.measured_files():
        name = ".".join(Path(file).relative_to(ROOT / "src").with_suffix("").parts)
        rows = data.contexts_by_lineno(file)
        lines[name] = {row: [_node(c) for c in contexts if c] for row, contexts in rows.items()}
    return Seen(lines, dict(clock.seconds))


def _node(context: str) -> str:
    module, _, test = context.rpartition(".")
    return f"{module.replace('.', os.sep)}.py::{test}"
