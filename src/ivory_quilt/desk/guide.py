"""The maker's guide inside the application: docs/guide.md by chapters, searched by word."""

import re
from functools import cache
from importlib.resources import files

from ivory_quilt.core.record import Struct


class Chapter(Struct, frozen=True):
    """One chapter: its title without the key in brackets, and its text as Markdown."""

    title: str
    text: str

    def count(self, words: str) -> int:
        """Return how often words stand in it, in any case."""
        return len(re.findall(re.escape(words), f"{self.title}\n{self.text}", re.IGNORECASE))


@cache
def chapters() -> tuple[Chapter, ...]:
    """Return the guide's chapters in their order; what stands before the first is one as well."""
    text = files("ivory_quilt.data").joinpath("guide.md").read_text(encoding="utf-8")
    begin, *parts = re.split(r"(?m)^## ", text)
    heading, _, body = begin.partition("\n")
    found = [Chapter(heading.removeprefix("# "), body.strip())]
    for part in parts:
        title, _, body = part.partition("\n")
        found.append(Chapter(title.partition(" (")[0].strip(), body.strip()))
    return tuple(found)


def found_in(words: str) -> tuple[Chapter, ...]:
    """Return the chapters that hold the words; all of them for none."""
    return tuple(c for c in chapters() if not words or c.count(words))
