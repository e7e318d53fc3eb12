"""Why a layout is as it is, in figures: what does not fit where, and what no layout can beat."""

import math

import numpy as np

from ivory_quilt.core.nesting.bounds import area_demand, usable_area
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, RollSpec, SheetSpec
from ivory_quilt.core.nesting.sizes import box_sizes
from ivory_quilt.core.record import Struct


class Misfit(Struct, frozen=True):
    """A piece that fits no way onto a kind of stock: by how much it is too long, and too wide."""

    piece: str
    stock: str
    too_long: float
    too_wide: float


class SheetBound(Struct, frozen=True):
    """No layout can use fewer sheets of one kind alone: the area asks for so many."""

    stock: str
    by_area: float

    @property
    def least(self) -> int:
        """Whole sheets."""
        return math.ceil(self.by_area - 1e-9)


def misfit(piece: PieceSpec, stock: SheetSpec | RollSpec) -> Misfit | None:
    """Return by how much a piece misses a stock's box less its margin, None when it may fit."""
    x0, y0, x1, y1 = stock.shape.bounds
    long, wide = x1 - x0 - 2 * stock.margin, y1 - y0 - 2 * stock.margin
    sizes = box_sizes(piece.shape.outer, piece.rotations or range(180))
    over = np.maximum(sizes - (long, wide), 0.0)
    k = int(over.sum(axis=1).argmin())
    # Long and wide are the piece's own, however it lies.
    along, across = over[k] if sizes[k, 0] >= sizes[k, 1] else over[k, ::-1]
    if along + across <= 1e-6:
        return None
    return Misfit(piece.id, stock.id, float(along), float(across))


def misfits(job: LayJob) -> tuple[Misfit, ...]:
    """Return, for every owned sheet that costs nothing, the pieces too large for it."""
    return tuple(
        found
        for stock in job.sheets
        if stock.cost == 0
        for piece in job.pieces
        if piece.quantity and (found := misfit(piece, stock)) is not None
    )


def nothing_fits(job: LayJob) -> str:
    """Return in a sentence why a job's layout holds no piece at all."""
    there = [s for s in job.all_stock if not isinstance(s, SheetSpec) or s.quantity != 0]
    if not there:
        return "there is no sheet and no roll to lay on"
    for piece in job.pieces:
        missed = [found for s in there if (found := misfit(piece, s)) is not None]
        if piece.quantity and len(missed) == len(there):
            near = min(missed, key=lambda m: m.too_long + m.too_wide)
            return (
                f"'{piece.id}' misses '{near.stock}', the nearest, by {near.too_long:.0f} mm in "
                f"length and {near.too_wide:.0f} mm in width"
            )
    return "no piece finds room between margins, holes and flaws"


def sheets_by_area(job: LayJob, stock_id: str) -> SheetBound | None:
    """Return how many sheets of one kind the area of all parts asks for, gap and margin counted."""
    stock = job.stock[stock_id]
    if isinstance(stock, RollSpec):
        return None
    room = usable_area(stock, job.gap)
    return SheetBound(stock_id, area_demand(job) / room) if room > 0 else None
