"""How far a reader is; the same shape for every kind of file."""

from collections.abc import Callable

from ivory_quilt.core.record import Struct


class ReadProgress(Struct, frozen=True):
    """`done` of `total` (0: unknown) of what is under way."""

    done: int
    total: int
    what: str

    @property
    def words(self) -> str:
        """How far it is, in a few words."""
        return f"{self.what}, {self.done} of {self.total}" if self.total else self.what


ReadReport = Callable[[ReadProgress], bool]
"""Is told now and then how far a reader is."""


def tell_nobody(_: ReadProgress) -> bool:
    """Nobody asks how far it is."""
    return True
