"""Finds what is left of the sheets in use: the large empty rectangles."""

import numpy as np
from shapely import Polygon

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.nesting.grid import Grid
from ivory_quilt.core.nesting.job import LayJob, Placement, RollSpec
from ivory_quilt.core.nesting.leftover import Leftover
from ivory_quilt.core.nesting.prepare import polygon_edges
from ivory_quilt.core.nesting.summary import used_stock

CELLS = 120  # along a sheet's longer side
LEAST = 0.03  # of a sheet's area: less is not worth a word
NARROW = 35.0  # mm: a strip narrower than this is none either
MOST = 3  # rectangles a sheet


def leftovers(job: LayJob, placements: tuple[Placement, ...]) -> tuple[Leftover, ...]:
    """Return the largest empty rectangles of every sheet in use, largest first on each.

    Found on a grid and never too large: no part, no hole and no edge of the sheet reaches in. What
    is left on a roll past the used length stays on the roll and is not named.
    """
    shapes = {p.id: p.shape for p in job.pieces}
    found: list[Leftover] = []
    for (sheet, copy), members in sorted(used_stock(placements).items()):
        stock = job.stock[sheet]
        placed = [shapes[m.piece].placed(m.pose) for m in members]
        x0, y0, x1, y1 = stock.shape.bounds
        if isinstance(stock, RollSpec):
            x1 = max(s.bounds[2] for s in placed)
        found += _rectangles(sheet, copy, stock.shape, placed, (x0, y0, x1, y1))
    return tuple(found)


def _rectangles(
    sheet: str,
    copy: int,
    foam: Shape,
    placed: list[Shape],
    box: tuple[float, float, float, float],
) -> list[Leftover]:
    x0, y0, x1, y1 = box
    grid = Grid(box, CELLS)
    for shape in placed:
        _cover(grid, shape.polygon)
    if foam.holes or abs(foam.area - foam.width * foam.height) > 1.0:
        outside = foam.polygon.envelope.buffer(2 * grid.cell).difference(foam.polygon)
        for part in getattr(outside, "geoms", [outside]):
            _cover(grid, part)
    found = []
    for _ in range(MOST):
        one = Leftover(sheet, copy, *grid.take())
        if one.area < LEAST * (x1 - x0) * (y1 - y0):
            break
        if min(one.width, one.height) >= NARROW:
            found.append(one)
    return found


def _cover(grid: Grid, polygon: Polygon) -> None:
    edges = np.ascontiguousarray(polygon_edges(polygon).T)
    grid.cover(edges, 0, edges.shape[1])
