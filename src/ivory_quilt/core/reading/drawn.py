"""What is drawn in a file, as it stands there: paths and words."""

from dataclasses import dataclass

from ivory_quilt.core.geometry.shape import Array, Point


@dataclass(frozen=True)
class RawPath:
    """One path as drawn: points (n, 2) in mm, y upwards."""

    points: Array
    closed: bool
    layer: str = ""
    name: str = ""


@dataclass(frozen=True)
class RawText:
    """Words on a drawing, and where they stand (mm, y upwards)."""

    text: str
    at: Point
