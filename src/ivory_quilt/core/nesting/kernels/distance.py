"""Distance to an outline, and the circles inside one that the search pushes shapes apart by."""

import math

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.geometry import point_inside
from ivory_quilt.core.nesting.kernels.tables import X1, X2, Y1, Y2


@njit(nogil=True, cache=True)
def boundary_distance(edges, x, y):
    """Return the distance from (x, y) to the nearest of the edges (n, 4)."""
    best = 1e300
    for k in range(len(edges)):
        ax, ay = edges[k, X1], edges[k, Y1]
        dx, dy = edges[k, X2] - ax, edges[k, Y2] - ay
        squared = dx * dx + dy * dy
        share = 0.0
        if squared > 0.0:
            share = min(1.0, max(0.0, ((x - ax) * dx + (y - ay) * dy) / squared))
        ex, ey = ax + share * dx - x, ay + share * dy - y
        best = min(best, ex * ex + ey * ey)
    return math.sqrt(best)


@njit(nogil=True, cache=True)
def lies_along(points, edges, within):
    """Return whether the first point of every row of `points` lies within a distance of an edge."""
    for k in range(len(points)):
        if boundary_distance(edges, points[k, 0], points[k, 1]) > within:
            return False
    return True


@njit(nogil=True, cache=True)
def fill_circles(edges, cells, out):
    """Write circles (x, y, r) inside the shape to `out`, largest first; return how many.

    Greedy on a grid of `cells` along the longer side: the point furthest from the boundary and
    from the circles so far is next. None when no grid point lies inside.
    """
    x0, y0 = edges[:, X1].min(), edges[:, Y1].min()
    x1, y1 = edges[:, X1].max(), edges[:, Y1].max()
    step = max(x1 - x0, y1 - y0) / cells
    columns, rows = int((x1 - x0) / step + 0.5), int((y1 - y0) / step + 0.5)
    grid = np.empty((columns * rows, 3))
    count = 0
    for j in range(rows):
        y = y0 + (j + 0.5) * step
        for i in range(columns):
            x = x0 + (i + 0.5) * step
            if point_inside(edges, 0, len(edges), x, y):
                grid[count, 0], grid[count, 1] = x, y
                grid[count, 2] = boundary_distance(edges, x, y)
                count += 1
    made = 0
    smallest = 0.0
    while made < len(out) and count > 0:
        k = 0
        for n in range(1, count):
            if grid[n, 2] > grid[k, 2]:
                k = n
        x, y, r = grid[k, 0], grid[k, 1], grid[k, 2]
        if made == 0:
            smallest = 0.08 * r
        elif r <= smallest:
            break
        out[made, 0], out[made, 1], out[made, 2] = x, y, r
        made += 1
        for n in range(count):
            away = math.hypot(grid[n, 0] - x, grid[n, 1] - y) - r
            grid[n, 2] = min(grid[n, 2], away)
    return made
