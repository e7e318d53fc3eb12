"""Edits of a piece's build from a card: done, or refused with a sentence."""

from collections.abc import Callable
from typing import TypeVar

from ivory_quilt.core.pattern.build import Build
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.widgets.basics import Complaint
from ivory_quilt.desk.widgets.fields import Taking

Change = Callable[[Build], Build]
T = TypeVar("T")


def put_at(items: tuple[T, ...], k: int, *new: T) -> tuple[T, ...]:
    """Return items with others in the place of one; none takes it away."""
    return (*items[:k], *new, *items[k + 1 :])


class Edits:
    """What a card and its lists change a build with."""

    def __init__(self, presenter: BuildPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` after every try."""
        self._p, self._changed = presenter, changed
        self.error = Complaint()

    def do(self, what: str, change: Change) -> bool:
        """Do an edit, or say why not; return whether it was done."""
        return self.read(what, lambda: change)

    def read(self, what: str, make: Callable[[], Change]) -> bool:
        """Do an edit whose number must be read first; return whether it was done."""
        return self.attempt(lambda: self._p.edit(what, make()))

    def attempt(self, work: Callable[[], object]) -> bool:
        """Do whatever else a card does to the piece; return whether it was done."""
        with Taking(self.error) as taken:
            work()
        self._changed()
        return bool(taken)
