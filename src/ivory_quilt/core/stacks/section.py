"""Cross-sections at true scale: what they are made of.

Points are (x, y) in mm, y outwards, away from the body.
"""

from enum import StrEnum

from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.record import Struct


class Band(Struct, frozen=True):
    """A strip of foam in a section.

    Attributes:
        outline: closed, (n, 2).
        thickness: of the foam.
        name: of the layer, or of the neighbour.
        neutral: the neutral line (m, 2), or None.
        other: whether it is a neighbour and not the piece itself.
    """

    outline: Array
    thickness: float
    name: str
    neutral: Array | None = None
    other: bool = False


class HandleKind(StrEnum):
    """What can be pulled in a section."""

    FORM = "form"
    EDGE = "edge"
    GROOVE_WALL = "groove wall"
    GROOVE_FOOT = "groove foot"
    INSET = "inset"


class Handle(Struct, frozen=True):
    """A place of a section that can be pulled.

    Attributes:
        kind: what is pulled.
        words: what pulling it changes.
        number: of the layer that it is the end of, from 1; 0 for none.
    """

    kind: HandleKind
    at: Point
    words: str
    number: int = 0

    def same(self, other: "Handle | None") -> bool:
        """Return whether another handle, of an earlier look perhaps, pulls the same thing."""
        return other is not None and (self.kind, self.number) == (other.kind, other.number)


class Section(Struct, frozen=True):
    """A cross-section.

    Attributes:
        body: what it lies on, a line (n, 2), or None.
        measures: figures to write beside it: (place, words).
    """

    bands: tuple[Band, ...]
    handles: tuple[Handle, ...] = ()
    body: Array | None = None
    measures: tuple[tuple[Point, str], ...] = ()
