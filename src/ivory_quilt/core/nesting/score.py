"""Which of two layouts is better: told from the search's own arrays, many times a second."""

from decimal import Decimal
from typing import NamedTuple

import numpy as np

from ivory_quilt.core.nesting.beside import apart
from ivory_quilt.core.nesting.field import OverlapField
from ivory_quilt.core.nesting.grid import Grid
from ivory_quilt.core.nesting.world import UNPLACED

CELLS = 60  # of the grid on which a leftover is measured, along the longer side


class Score(NamedTuple):
    """Smaller is better, compared in this order.

    Attributes:
        unplaced: grown area × worth left over, mm².
        cost: of all sheets and roll lengths used.
        split: how many sheets more than one each the groups lie on.
        apart: into how many lots more than one on each sheet the groups are parted.
        foam: area of the stock used, owned or bought, mm² (less means a larger reserve).
        leftover: minus the area of the largest empty rectangle on a sheet used, mm².
    """

    unplaced: float
    cost: Decimal
    split: int
    apart: int
    foam: float
    leftover: float


def score_of(field: OverlapField) -> Score:
    """Return the score of the places that `field` holds, which must not overlap."""
    loose, cost, foam = field.world.bill(field.placed.where, field.extent)
    sheets = [r for r in field.used() if not field.world.regions[r].is_roll]
    leftover = max((_leftover_area(field, r) for r in sheets), default=0.0)
    scattered = apart(field.world, field.placed.poses, field.placed.where)
    return Score(loose, cost, _split(field), scattered, round(foam, 2), -round(leftover))


def empty_rectangle(field: OverlapField, region: int) -> tuple[float, float, float, float]:
    """Return x0, y0, x1, y1 of a large empty rectangle on a sheet; nothing lies nearer than a cell.

    Measured on a grid, so never too large: at most a cell too small on every side.
    """
    placed = field.placed
    grid = Grid(field.world.regions[region].rect, CELLS)
    for i in np.flatnonzero(placed.where == region):
        if not placed.ghost[i]:
            grid.cover(placed.edges, placed.start[i], placed.stop[i])
    return grid.largest()


def _leftover_area(field: OverlapField, region: int) -> float:
    x0, y0, x1, y1 = empty_rectangle(field, region)
    return (x1 - x0) * (y1 - y0)


def _split(field: OverlapField) -> int:
    where = field.placed.where
    return sum(
        max(len({int(where[i]) for i in members} - {UNPLACED}) - 1, 0)
        for members in field.world.groups.values()
    )
