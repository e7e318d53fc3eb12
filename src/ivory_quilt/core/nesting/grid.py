"""Empty places of a sheet, on a grid of square cells: never too large, a cell too small at most."""

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.kernels.raster import cover, largest_rectangle

Box = tuple[float, float, float, float]


class Grid:
    """A box cut into cells; what is covered is marked, what is left is looked for."""

    def __init__(self, box: Box, cells: int) -> None:
        """Cut a box (x0, y0, x1, y1) into cells, `cells` along its longer side.

        Whole cells only: the far edges cut none in two.
        """
        x0, y0, x1, y1 = box
        self.x0, self.y0 = x0, y0
        self.cell = max(x1 - x0, y1 - y0) / cells
        rows, columns = int((y1 - y0) / self.cell + 1e-9), int((x1 - x0) / self.cell + 1e-9)
        self._grid = np.zeros((max(rows, 1), max(columns, 1)), dtype=np.int8)
        self._found = np.zeros(4, dtype=np.int64)

    def cover(self, edges: Array, start: int, stop: int) -> None:
        """Mark every cell that a placed shape touches; its edges are edges[:, start:stop]."""
        cover(edges, start, stop, self.x0, self.y0, self.cell, self._grid)

    def largest(self) -> Box:
        """Return the largest empty rectangle of cells (x0, y0, x1, y1)."""
        largest_rectangle(self._grid, self._found)
        row, column, high, wide = (int(v) for v in self._found)
        x, y = self.x0 + column * self.cell, self.y0 + row * self.cell
        return x, y, x + wide * self.cell, y + high * self.cell

    def take(self) -> Box:
        """Return the largest empty rectangle and mark it, so that the next is another."""
        found = self.largest()
        row, column, high, wide = (int(v) for v in self._found)
        self._grid[row : row + high, column : column + wide] = 1
        return found
