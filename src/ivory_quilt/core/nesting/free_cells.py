"""Free rectangles of a sheet on square cells, without a compiler: for the window itself.

`grid` does the same in compiled code, finer, for the engine.
"""

import math

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

Box = tuple[float, float, float, float]
NOTHING: Box = (0.0, 0.0, 0.0, 0.0)


class FreeCells:
    """A box cut into square cells; what is covered is marked, what is free is taken."""

    def __init__(self, box: Box, side: float) -> None:
        """Cut a box (x0, y0, x1, y1) into whole cells of `side` mm, all free."""
        self.x0, self.y0, x1, y1 = box
        self.side = side
        rows, columns = int((y1 - self.y0) / side + 1e-9), int((x1 - self.x0) / side + 1e-9)
        self.free = np.ones((max(rows, 0), max(columns, 0)), dtype=bool)

    def cover(self, box: Box) -> None:
        """Mark every cell that a box reaches into."""
        x0, y0, x1, y1 = box
        left, low = self._cell(x0 - self.x0), self._cell(y0 - self.y0)
        right = math.ceil((x1 - self.x0) / self.side - 1e-9)
        top = math.ceil((y1 - self.y0) / self.side - 1e-9)
        self.free[max(0, low) : max(0, top), max(0, left) : max(0, right)] = False

    def _cell(self, along: float) -> int:
        return math.floor(along / self.side + 1e-9)

    def keep_within(self, area: BaseGeometry) -> None:
        """Mark every cell that is not wholly in an area."""
        rows, columns = self.free.shape
        x, y = np.meshgrid(
            self.x0 + self.side * np.arange(columns), self.y0 + self.side * np.arange(rows)
        )
        shapely.prepare(area)
        self.free &= shapely.covers(area, shapely.box(x, y, x + self.side, y + self.side))

    def take(self) -> Box:
        """Return the largest free rectangle (x0, y0, x1, y1) and mark it; `NOTHING` for none.

        By the heights of free columns above each row, and a stack of those still open.
        """
        best, found = 0, (0, 0, 0, 0)
        above = np.vstack([self.free[1:], np.zeros((1, self.free.shape[1]), dtype=bool)])
        heights = np.zeros(self.free.shape[1] + 1, dtype=int)  # with a wall at the end
        for row, free in enumerate(self.free):
            heights[:-1] = np.where(free, heights[:-1] + 1, 0)
            if int(heights.max()) * self.free.shape[1] <= best:
                continue
            if not (free & ~above[row]).any():
                continue  # what ends here goes on in the next row
            open_ones: list[tuple[int, int]] = []  # (first column, height), rising
            for column, height in enumerate(heights.tolist()):
                first = column
                while open_ones and open_ones[-1][1] >= height:
                    first, high = open_ones.pop()
                    if high * (column - first) > best:
                        best, found = high * (column - first), (row, first, high, column - first)
                open_ones.append((first, height))
        if not best:
            return NOTHING
        row, first, high, wide = found
        self.free[row - high + 1 : row + 1, first : first + wide] = False
        x, y = self.x0 + first * self.side, self.y0 + (row - high + 1) * self.side
        return (x, y, x + wide * self.side, y + high * self.side)
