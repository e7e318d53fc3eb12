"""A proven lower bound on what any layout of a job can cost.

Parts that keep a gap g are disjoint even when each is grown by g/2, and all lie in their sheet
grown by g/2 less its margin. So the grown areas must fit into the shrunk sheet areas: an integer
program over how many of each stock are used. Round joins are drawn with chords inside the true
arcs, which makes grown parts smaller and shrunk sheets larger than they are: the bound stays true.
"""

import math
from decimal import ROUND_DOWN, Decimal

import numpy as np

from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.nesting.job import CENT, LayJob, PieceSpec, RollSpec, SheetSpec, roll_cost


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
    """Return a cost that no layout placing every piece can undercut (0 when nothing is known).

    The greater of two bounds: by areas, and by the piece that is dearest to place alone.
    """
    return max(area_bound(job), dearest_piece_bound(job))


def least_width(shape: Shape) -> float:
    """Return the least extent of a shape over all directions (its width, by its convex hull)."""
    hull = np.asarray(shape.polygon.convex_hull.exterior.coords)
    step = np.diff(hull, axis=0)
    length = np.hypot(step[:, 0], step[:, 1])
    normals = np.column_stack((-step[:, 1], step[:, 0]))[length > 0] / length[length > 0, None]
    across = hull @ normals.T
    return float((across.max(axis=0) - across.min(axis=0)).min())


def least_length(piece: PieceSpec) -> float:
    """Return the least extent along x that a piece can lie with."""
    if piece.rotations is None:
        return least_width(piece.shape)
    lengths = []
    for mirrored in (False, True) if piece.mirror else (False,):
        for rotation in piece.rotations:
            lengths.append(piece.shape.placed(Pose(0.0, 0.0, rotation, mirrored)).width)
    return min(lengths)


def dearest_piece_bound(job: LayJob) -> Decimal:
    """Return the most that any single piece costs at least: its cheapest sheet or roll length."""
    bound = Decimal(0)
    for piece in job.pieces:
        if not piece.quantity or piece.fixed:
            continue
        length = least_length(piece)
        costs = [s.cost for s in job.sheets if s.quantity is None or s.quantity > 0]
        for roll in job.rolls:
            # Rounded as the price of a length is, which never turns the order of two lengths.
            least = max(0.0, length + 2 * roll.margin - 1e-6)
            costs.append(roll_cost(roll.cost_per_mm, least))
        bound = max(bound, min(costs, default=Decimal(0)))
    return bound


def area_bound(job: LayJob) -> Decimal:
    """Return the bound by areas; see the module's text."""
    # Half a second to load, and only ever needed off the interface thread.
    from scipy.optimize import Bounds, LinearConstraint, milp

    need = area_demand(job)
    if need <= 0 or not job.stock:
        return Decimal(0)
    costs: list[float] = []
    areas: list[float] = []
    limits: list[float] = []
    whole: list[int] = []
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
