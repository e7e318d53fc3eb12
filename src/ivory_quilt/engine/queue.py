"""What is laid next: what the maker looks at, then other foams, questions, and long improvement."""

from enum import IntEnum

from ivory_quilt.core.record import Struct


class Rank(IntEnum):
    """How urgent work is; the least first."""

    IN_SIGHT = 0
    """Of the foam that the maker looks at."""
    FOAM = 1
    """A layout that another foam waits for."""
    QUESTION = 2
    """A what-if, a size, a comparison."""
    IMPROVE = 3
    """A longer search for a layout that is there already."""


class _Waiting(Struct, frozen=True):
    ticket: int
    rank: Rank
    order: int


class WorkQueue:
    """Tickets that wait and tickets that run, and which of them should.

    Of one rank, what came first goes first.
    """

    def __init__(self) -> None:
        """Nothing waits."""
        self._waiting: list[_Waiting] = []
        self._running: dict[int, Rank] = {}
        self._count = 0

    def add(self, ticket: int, rank: Rank, *, first: bool = False) -> None:
        """Let a ticket wait; `first`: before all others of its rank, as it had begun already."""
        self._count += 1
        self._waiting.append(_Waiting(ticket, rank, -self._count if first else self._count))
        self._waiting.sort(key=lambda w: (w.rank, w.order))

    def drop(self, ticket: int) -> bool:
        """Take out a ticket that waits; False when it does not."""
        before = len(self._waiting)
        self._waiting = [w for w in self._waiting if w.ticket != ticket]
        return len(self._waiting) < before

    def start(self) -> int | None:
        """Return the ticket that is to run now, as there is a place for it; None: none waits."""
        if not self._waiting:
            return None
        first = self._waiting.pop(0)
        self._running[first.ticket] = first.rank
        return first.ticket

    def end(self, ticket: int) -> None:
        """A ticket runs no longer."""
        self._running.pop(ticket, None)

    def to_interrupt(self) -> int | None:
        """Return a running ticket that should give way to one that waits, all places being taken.

        Only long improvement and questions do: a first layout is a matter of moments.
        """
        if not self._waiting or not self._running:
            return None
        ticket, rank = max(self._running.items(), key=lambda r: (r[1], r[0]))
        gives_way = rank >= Rank.QUESTION and self._waiting[0].rank < rank
        return ticket if gives_way else None

    @property
    def waiting(self) -> tuple[int, ...]:
        """The tickets that wait, in the order in which they will run."""
        return tuple(w.ticket for w in self._waiting)

    @property
    def at_work(self) -> int:
        """How many tickets wait or run."""
        return len(self._waiting) + len(self._running)
