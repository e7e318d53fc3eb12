"""A picture laid beneath the piece that is drafted: where it lies, and how large."""

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Point, Pose, as_point
from ivory_quilt.core.reading.tracing.picture import Picture
from ivory_quilt.core.record import Struct, replace

MM_PER_INCH = 25.4
WIDE = 300.0  # mm that a picture lies wide while nobody has said
LEAST, MOST = 1e-3, 100.0  # mm per pixel


class Underlay(Struct, frozen=True, eq=False):
    """A picture in grey (h, w) on the table.

    Attributes:
        name: of its file.
        scale: mm per pixel.
        at: where its lower left corner lies, mm.
        turn: degrees counter-clockwise about that corner.
    """

    grey: Picture
    name: str
    scale: float
    at: Point = (0.0, 0.0)
    turn: float = 0.0

    @property
    def size(self) -> tuple[float, float]:
        """Width and height, mm."""
        high, wide = self.grey.shape
        return wide * self.scale, high * self.scale

    def pixels(self, points: Array) -> Array:
        """Return points (n, 2) in mm as pixels, y down."""
        flat = Pose(0.0, 0.0, -self.turn).apply(points - np.asarray(self.at)) / self.scale
        return np.column_stack((flat[:, 0] - 0.5, self.grey.shape[0] - flat[:, 1] - 0.5))

    def millimetres(self, pixels: Array) -> Array:
        """Return pixels (n, 2) as points in mm."""
        high = self.grey.shape[0]
        flat = np.column_stack((pixels[:, 0] + 0.5, high - pixels[:, 1] - 0.5)) * self.scale
        return Pose(self.at[0], self.at[1], self.turn).apply(flat)

    def moved(self, step: Point) -> "Underlay":
        """Return it moved by a step, mm."""
        return replace(self, at=(self.at[0] + step[0], self.at[1] + step[1]))

    def turned(self, degrees: float) -> "Underlay":
        """Return it turned to so many degrees, about its middle."""
        middle = self.middle
        made = replace(self, turn=(degrees + 180) % 360 - 180)
        return made.moved((middle[0] - made.middle[0], middle[1] - made.middle[1]))

    @property
    def middle(self) -> Point:
        """Where its middle lies."""
        wide, high = self.size
        pose = Pose(self.at[0], self.at[1], self.turn)
        return as_point(pose.apply(np.array([(wide / 2, high / 2)]))[0])

    def with_known(self, start: Point, stop: Point, real: float) -> "Underlay":
        """Return it as large as makes a line on it so long; the line's start stays.

        Raises:
            InputError: no line, or no length above 0.
        """
        seen = float(np.hypot(stop[0] - start[0], stop[1] - start[1]))
        if seen < 1e-3:
            raise InputError("known length", "no line is laid over it", "a line over the picture")
        if not real > 0:
            raise InputError("known length", f"{real:g} mm", "a length above 0")
        return self.scaled(real / seen, start)

    def scaled(self, factor: float, fixed: Point) -> "Underlay":
        """Return it larger by a factor about a place that stays.

        Raises:
            InputError: a pixel would be smaller than a thousandth of a millimetre, or huge.
        """
        scale = self.scale * factor
        if not LEAST <= scale <= MOST:
            raise InputError("picture", f"{scale:g} mm a pixel", f"{LEAST:g} to {MOST:g} mm")
        at = tuple(f + factor * (a - f) for a, f in zip(self.at, fixed, strict=True))
        return replace(self, scale=scale, at=(at[0], at[1]))


def laid(grey: Picture, name: str, dpi: float | None, middle: Point) -> Underlay:
    """Return a picture about a place: as large as its resolution says, else 300 mm wide."""
    scale = MM_PER_INCH / dpi if dpi else WIDE / grey.shape[1]
    made = Underlay(grey, name, scale)
    return made.moved((middle[0] - made.middle[0], middle[1] - made.middle[1]))
