"""A proven lower bound on what any layout of a job can cost.

Parts that keep a gap g are disjoint even when each is grown by g/2, and all lie in their sheet
grown by g/2 less its margin. So the grown areas must fit into the shrunk sheet areas: an integer
program over how many of each stock are used. Round joins are drawn with chords inside the true
arcs, which makes grown parts smaller and shrunk sheets larger than they are: the bound stays true.
"""

import math
from decimal import ROUND_DOWN, Decimal

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.nesting.job import LayJob, RollSpec, SheetSpec

CENT = Decimal("0.01")


def grown_area(shape: Shape, gap: float) -> float:
    """Return a lower estimate of the area that a part claims with half the gap around it."""
    return float(shape.polygon.buffer(gap / 2, quad_segs=4).area) if gap else shape.area


def usable_area(stock: SheetSpec, gap: float) -> float:
    """Return an upper estimate of the area that grown parts can share on one sheet."""
    return float(stock.shape.polygon.buffer(gap / 2 - stock.margin, quad_segs=16).area)


def area_demand(job: LayJob) -> float:
    """Return the grown area of all parts, mm²."""
    return sum(grown_area(p.shape, job.gap) * p.quantity for p in job.pieces if p.quantity)


def cost_bound(job: LayJob) -> Decimal:
    """Return a cost that no layout placing every piece can undercut (0 when nothing is known)."""
    need = area_demand(job)
    if need <= 0 or not job.stock:
        return Decimal(0)
    costs, areas, limits, whole = [], [], [], []
    for sheet in job.sheets:
        area = usable_area(sheet, job.gap)
        costs.append(float(sheet.cost))
        areas.append(area)
        enough = math.ceil(need / area) if area > 0 else 0
        limits.append(enough if sheet.quantity is None else min(sheet.quantity, enough))
        whole.append(1)
    for roll in job.rolls:
        area_per_mm, extra = _roll_area(roll, job.gap)
        need -= extra  # the grown parts may stand past both ends of the used length
        costs.append(float(roll.cost_per_mm))
        areas.append(area_per_mm)
        limits.append(roll.max_length)
        whole.append(0)
    if need <= 0:
        return Decimal(0)
    # A shade less than the demand, so that rounding never lifts the bound above the truth.
    demand = LinearConstraint(np.array([areas]), need * (1 - 1e-9), np.inf)
    answer = milp(
        np.array(costs),
        constraints=demand,
        bounds=Bounds(np.zeros(len(costs)), np.array(limits, dtype=float)),
        integrality=np.array(whole),
    )
    if answer.status == 2 or answer.x is None:  # the stock cannot hold the pieces at all
        return Decimal(0)
    proven = answer.mip_dual_bound if answer.mip_dual_bound is not None else answer.fun
    return Decimal(max(0.0, proven + 1e-7)).quantize(CENT, rounding=ROUND_DOWN)


def _roll_area(roll: RollSpec, gap: float) -> tuple[float, float]:
    """Return (usable area per mm of length, area past the ends), upper estimates."""
    across = max(0.0, roll.width - 2 * roll.margin + gap)
    return across, across * gap
