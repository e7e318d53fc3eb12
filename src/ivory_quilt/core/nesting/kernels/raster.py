"""What is left of a sheet: the largest empty upright rectangle, on a grid, never too large."""

import numpy as np
from numba import njit


@njit(nogil=True, cache=True)
def cover(edges, start, stop, x0, y0, cell, grid):
    """Mark every cell of `grid` (rows, columns) that a placed shape touches; edges are (4, e)."""
    rows, columns = grid.shape
    inside = np.zeros(columns, dtype=np.int64)
    low, high = 1e300, -1e300
    for k in range(start, stop):
        low, high = min(low, edges[1, k]), max(high, edges[1, k])
    for r in range(max(0, int((low - y0) / cell)), min(rows, int((high - y0) / cell) + 1)):
        bottom, top = y0 + r * cell, y0 + (r + 1) * cell
        middle = 0.5 * (bottom + top)
        inside[:] = 0
        for k in range(start, stop):
            ax, ay, bx, by = edges[0, k], edges[1, k], edges[2, k], edges[3, k]
            if max(ay, by) < bottom or min(ay, by) > top:
                continue
            # The stretch of the edge within this row.
            u, v = ax, bx
            if ay != by:
                s = min(1.0, max(0.0, (bottom - ay) / (by - ay)))
                t = min(1.0, max(0.0, (top - ay) / (by - ay)))
                u, v = ax + s * (bx - ax), ax + t * (bx - ax)
            first = max(0, int((min(u, v) - x0) / cell))
            last = min(columns - 1, int((max(u, v) - x0) / cell))
            for c in range(first, last + 1):
                grid[r, c] = 1
            if (ay > middle) != (by > middle):
                x = ax + (middle - ay) * (bx - ax) / (by - ay)
                c = int((x - x0) / cell + 0.5)
                if c < columns:
                    inside[max(0, c)] ^= 1
        state = 0
        for c in range(columns):
            state ^= inside[c]
            if state:
                grid[r, c] = 1


@njit(nogil=True, cache=True)
def largest_rectangle(grid, out):
    """Write (row, column, rows, columns) of the largest block of zeros to `out`."""
    rows, columns = grid.shape
    heights = np.zeros(columns + 1, dtype=np.int64)
    stack = np.zeros(columns + 2, dtype=np.int64)
    best = 0
    out[:] = 0
    for r in range(rows):
        for c in range(columns):
            heights[c] = heights[c] + 1 if grid[r, c] == 0 else 0
        depth = 0
        for c in range(columns + 1):
            while depth > 0 and heights[stack[depth - 1]] >= heights[c]:
                depth -= 1
                h = heights[stack[depth]]
                left = stack[depth - 1] + 1 if depth > 0 else 0
                if h * (c - left) > best:
                    best = h * (c - left)
                    out[0], out[1], out[2], out[3] = r - h + 1, left, h, c - left
            stack[depth] = c
            depth += 1
