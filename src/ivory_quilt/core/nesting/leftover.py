"""What is left of a sheet, and what would fit there once more."""

import numpy as np

from ivory_quilt.core.nesting.job import LayJob
from ivory_quilt.core.nesting.sizes import box_sizes
from ivory_quilt.core.record import Struct


class Leftover(Struct, frozen=True):
    """An empty upright rectangle of a sheet, in the sheet's own coordinates, mm."""

    sheet: str
    copy: int
    x0: float
    y0: float
    x1: float
    y1: float

    @property
    def width(self) -> float:
        """Extent along x."""
        return self.x1 - self.x0

    @property
    def height(self) -> float:
        """Extent along y."""
        return self.y1 - self.y0

    @property
    def area(self) -> float:
        """Area, mm²."""
        return self.width * self.height


def would_fit(job: LayJob, room: Leftover) -> tuple[tuple[str, int], ...]:
    """Return (piece, how many side by side) for pieces that fit an empty rectangle, largest first.

    Counted in rows by their boxes, with the gap between: more may fit when they interlock.
    """
    found = []
    for piece in job.pieces:
        angles = piece.rotations or range(0, 180, 5)
        counts = (np.array((room.width, room.height)) + job.gap) / (
            box_sizes(piece.shape.outer, angles) + job.gap
        )
        most = int(np.floor(counts).prod(axis=1).max())
        if most:
            found.append((piece, most))
    found.sort(key=lambda f: -f[0].shape.area)
    return tuple((p.id, n) for p, n in found)
