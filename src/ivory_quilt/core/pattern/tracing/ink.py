"""Which side of a drawn line is meant; kept apart, so that naming it loads no picture library."""

from enum import StrEnum


class Ink(StrEnum):
    """Which side of a drawn line is the outline, seen from the piece: its foam lies inside."""

    INSIDE = "inside"
    MIDDLE = "middle"
    OUTSIDE = "outside"
