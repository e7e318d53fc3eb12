"""Who the suit is made for, and in which size: one suit each, or several alike."""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

MOST_SUITS = 200  # of one member
SMALLEST, LARGEST = 0.2, 5.0


class Member(Struct, frozen=True):
    """One wearer's suit.

    Attributes:
        wearer: the wearer's id.
        count: how many suits alike, spares counted.
        scale: factor on the pieces as they are drawn.
        own: pieces with a factor of their own in place of it: (piece id, factor).
    """

    wearer: str
    count: int = 1
    scale: float = 1.0
    own: tuple[tuple[str, float], ...] = ()

    def __post_init__(self) -> None:
        if not 1 <= self.count <= MOST_SUITS:
            raise InputError("suits", f"{self.count}", f"1 to {MOST_SUITS}")
        for factor in (self.scale, *(f for _, f in self.own)):
            if not SMALLEST <= factor <= LARGEST:
                expected = f"{100 * SMALLEST:g} to {100 * LARGEST:g} %"
                raise InputError("size", f"{100 * factor:g} %", expected)
        ids = [piece for piece, _ in self.own]
        if len(set(ids)) != len(ids):
            raise InputError("size", "a piece has two sizes of its own", "one size a piece")

    @property
    def size(self) -> tuple[float, tuple[tuple[str, float], ...]]:
        """What suits that are cut alike share."""
        return self.scale, self.own

    def scale_of(self, piece_id: str) -> float:
        """Return the factor of one piece."""
        return dict(self.own).get(piece_id, self.scale)
