"""What was kept last: both ends of the pipe forget the same of it."""

from typing import Generic, TypeVar

T = TypeVar("T")


class LastFew(Generic[T]):
    """Things by their numbers, as many as there is room for; the one put in first goes first."""

    def __init__(self, most: int) -> None:
        """Keep at most so many."""
        self._most = most
        self._kept: dict[int, T] = {}

    def put(self, number: int, what: T) -> None:
        """Put something in, in the place of what has its number, as the last."""
        self._kept.pop(number, None)
        while len(self._kept) >= self._most:
            del self._kept[next(iter(self._kept))]
        self._kept[number] = what

    def get(self, number: int) -> T | None:
        """Return what has a number, or None."""
        return self._kept.get(number)

    def items(self) -> list[tuple[int, T]]:
        """Return all that is kept with its numbers, what goes first before."""
        return list(self._kept.items())
