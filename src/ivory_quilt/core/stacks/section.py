"""Cross-sections at true scale: what they are made of.

Points are (x, y) in mm, y outwards, away from the body.
"""

from dataclasses import dataclass

from ivory_quilt.core.geometry.shape import Array, Point


@dataclass(frozen=True)
class Band:
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


@dataclass(frozen=True)
class Handle:
    """A place of a section that can be pulled.

    Attributes:
        name: what is pulled: "form", "edge", "inset 2", "thickness 1".
        words: what pulling it changes.
    """

    name: str
    at: Point
    words: str


@dataclass(frozen=True)
class Section:
    """A cross-section.

    Attributes:
        body: what it lies on, a line (n, 2), or None.
        measures: figures to write beside it: (place, words).
    """

    bands: tuple[Band, ...]
    handles: tuple[Handle, ...] = ()
    body: Array | None = None
    measures: tuple[tuple[Point, str], ...] = ()
