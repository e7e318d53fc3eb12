"""The one root of all errors that Ivory Quilt raises on purpose.

Each message says what is wrong, where, and what was expected, in one sentence that a maker can
act on.
"""

import difflib
from collections.abc import Iterable


class QuiltError(Exception):
    """Anything that Ivory Quilt refuses or cannot do, said in one clear sentence."""


class InputError(QuiltError, ValueError):
    """A value, a field or a file is not what was expected."""

    def __init__(self, where: str, problem: str, expected: str = "") -> None:
        self.where = where
        self.problem = problem
        self.expected = expected
        tail = f"; expected {expected}" if expected else ""
        # Names and texts of files get in here: whatever they hold, it stays one plain line.
        super().__init__(one_line(f"{where}: {problem}{tail}"))

    def __reduce__(self) -> tuple[type["InputError"], tuple[str, str, str]]:
        """Go from process to process as what it says."""
        return type(self), (self.where, self.problem, self.expected)


class Stopped(QuiltError):
    """The maker stopped the work before anything usable came of it."""


def one_line(text: str) -> str:
    """Return `text` as one line without control characters, as terminals and files may show it."""
    return " ".join(printable(text).split())


def printable(text: str) -> str:
    """Return `text` without control characters, its lines kept."""
    return "\n".join(
        "".join(c if c.isprintable() else " " for c in line) for line in text.split("\n")
    )


def nearest(name: str, known: Iterable[str]) -> str:
    """Return a "did you mean" clause for a misspelt `name`, or an empty string."""
    found = difflib.get_close_matches(name, list(known), n=1, cutoff=0.6)
    return f"; did you mean '{found[0]}'?" if found else ""
