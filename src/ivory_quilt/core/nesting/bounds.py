"""A proven lower bound on what any layout of a job can cost.

Parts that keep a gap g are disjoint even when each is grown by g/2, and all lie in their sheet
grown by g/2 less its margin. So the grown areas must fit into the shrunk sheet areas: an integer
program over how many of each stock are used, with pieces assigned only to stock that they may
fit, and with large pieces counted that cannot share a sheet (their inner discs cannot).
Round joins are drawn with chords inside the true arcs, which makes grown parts smaller and shrunk
sheets larger than they are: the bound stays true.
"""

import math
from decimal import ROUND_DOWN, Decimal

import numpy as np
import numpy.typing as npt
from shapely import get_coordinates, maximum_inscribed_circle

from ivory_quilt.core.geometry.shape import Array, Shape, once_a_shape
from ivory_quilt.core.nesting.job import CENT, LayJob, PieceSpec, RollSpec, SheetSpec, roll_cost
from ivory_quilt.core.nesting.sizes import allowed_sizes
from ivory_quilt.core.record import Struct

SAFE = 1e-3  # mm given away in every comparison of sizes, so that rounding proves nothing false
CLASSES = 6  # sizes of large pieces that are looked at
MOST_NODES = 1000  # of the solver's tree: what is proven by then holds (our choice)
MANY = 6  # discs on a sheet, from which on their count proves nothing


@once_a_shape
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


@once_a_shape
def least_width(shape: Shape) -> float:
    """Return the least extent of a shape over all directions (its width, by its convex hull)."""
    hull = get_coordinates(shape.polygon.convex_hull)
    step = np.diff(hull, axis=0)
    length = np.hypot(step[:, 0], step[:, 1])
    normals = np.column_stack((-step[:, 1], step[:, 0]))[length > 0] / length[length > 0, None]
    across = hull @ normals.T
    return float((across.max(axis=0) - across.min(axis=0)).min())


def least_length(piece: PieceSpec) -> float:
    """Return the least extent along x that a piece can lie with."""
    if piece.rotations is None:
        return least_width(piece.shape)
    return float(allowed_sizes(piece)[:, 0].min())


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
    """Return the bound by areas, by what fits where, and by pieces that cannot share."""
    needs = needs_of(job)
    if needs is None:
        return Decimal(0)
    proven = _least_cost(needs, len(job.sheets))
    if proven is None:  # the stock cannot hold the pieces at all
        return Decimal(0)
    return Decimal(max(0.0, proven + 1e-7)).quantize(CENT, rounding=ROUND_DOWN)


def _least_cost(needs: "Needs", whole: int) -> float | None:
    """Return what covers `needs` at least costs, the first `whole` of stock by the piece."""
    # The solver itself, which is there in no time: an edit may ask for a bound in the window.
    import highspy

    free = needs.width - len(needs.costs)
    model = highspy.HighsLp()
    model.num_col_, model.num_row_ = needs.width, len(needs.rows)
    model.col_cost_ = np.concatenate((needs.costs, np.zeros(free)))
    model.col_lower_ = np.zeros(needs.width)
    model.col_upper_ = np.concatenate((needs.limits, np.full(free, np.inf)))
    model.row_lower_, model.row_upper_ = needs.low, needs.high
    kind = highspy.HighsVarType
    model.integrality_ = [kind.kInteger] * whole + [kind.kContinuous] * (needs.width - whole)
    used = needs.rows != 0
    model.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
    model.a_matrix_.start_ = np.concatenate(([0], np.cumsum(used.sum(axis=1))))
    model.a_matrix_.index_ = np.nonzero(used)[1]
    model.a_matrix_.value_ = needs.rows[used]
    solver = highspy.Highs()
    solver.silent()
    solver.passModel(model)
    solver.setOptionValue("mip_max_nodes", MOST_NODES)
    solver.run()
    status, info = solver.getModelStatus(), solver.getInfo()
    ended = highspy.HighsModelStatus
    if whole and status in (ended.kOptimal, ended.kSolutionLimit):
        return float(info.mip_dual_bound)
    return float(info.objective_function_value) if status == ended.kOptimal else None


class Needs(Struct, frozen=True):
    """What numbers of stock must keep to so that all pieces can lie on it: low ≤ rows·x ≤ high.

    The first of x are how many of each stock (of a roll mm), in the job's order; then the grown
    area of each group of pieces laid on each.

    Attributes:
        costs: of one of each stock.
        limits: most of each stock.
    """

    rows: Array
    low: Array
    high: Array
    costs: Array
    limits: Array

    @property
    def width(self) -> int:
        """How many figures x has."""
        return int(self.rows.shape[1])


def needs_of(job: LayJob, fill: float = 1.0) -> Needs | None:
    """Return what the job's pieces need; None when nothing is known of a piece or the stock.

    With `fill` below 1 parts can take that share of the area only: no proof then, but likely.
    """
    laid = [p for p in job.pieces if p.quantity]
    if not laid or not job.stock:
        return None
    stock = job.all_stock
    areas, costs, limits, extra = _stock_figures(job)
    need = [grown_area(p.shape, job.gap) for p in laid]
    fits = np.array([[_may_fit(p, s) for s in stock] for p in laid])
    if not fits.any(axis=1).all():  # a piece that fits nowhere: nothing is known of the rest
        return None
    patterns: dict[tuple[bool, ...], float] = {}
    for row, piece, area in zip(fits, laid, need, strict=True):
        patterns[tuple(row)] = patterns.get(tuple(row), 0.0) + area * piece.quantity
    s, g = len(stock), len(patterns)
    rows, low, high = [], [], []
    for i, (pattern, area) in enumerate(patterns.items()):
        line = np.zeros(s + g * s)
        line[s + i * s : s + (i + 1) * s] = pattern
        rows.append(line)
        # A shade less than the demand, so that rounding never lifts the bound above the truth.
        low.append(area * (1 - 1e-9))
        high.append(np.inf)
    for k in range(s):
        line = np.zeros(s + g * s)
        line[k] = -areas[k] * fill
        line[s + k :: s] = 1.0
        rows.append(line)
        low.append(-np.inf)
        high.append(extra[k])
    for counts, demand in _cliques(job, laid, fits):
        rows.append(np.concatenate((counts, np.zeros(g * s))))
        low.append(demand)
        high.append(np.inf)
    return Needs(np.array(rows), np.array(low), np.array(high), costs, limits)


def _stock_figures(job: LayJob) -> tuple[Array, Array, Array, Array]:
    """Return (area of one, cost of one, most of each, area past the ends); of rolls, per mm."""
    need = area_demand(job)
    areas: list[float] = []
    costs: list[float] = []
    limits: list[float] = []
    extra: list[float] = []
    most_pieces = sum(p.quantity for p in job.pieces)
    for sheet in job.sheets:
        areas.append(usable_area(sheet, job.gap))
        costs.append(float(sheet.cost))
        enough = max(math.ceil(need / areas[-1]) if areas[-1] > 0 else 0, most_pieces)
        limits.append(enough if sheet.quantity is None else min(sheet.quantity, enough))
        extra.append(0.0)
    for roll in job.rolls:
        area, ends = _roll_area(roll, job.gap)
        areas.append(area)
        costs.append(float(roll.cost_per_mm))
        limits.append(roll.max_length)
        extra.append(ends)
    return np.array(areas), np.array(costs), np.array(limits, dtype=float), np.array(extra)


def _may_fit(piece: PieceSpec, stock: SheetSpec | RollSpec) -> bool:
    """Return False only if a piece can be shown not to fit: too large, or too wide."""
    for fixed in piece.fixed:
        if fixed.sheet == stock.id:
            return True
    x0, y0, x1, y1 = stock.shape.bounds
    inset = 2 * stock.margin
    wide, high = x1 - x0 - inset + SAFE, y1 - y0 - inset + SAFE
    if piece.shape.area > stock.shape.area + SAFE or wide <= 0 or high <= 0:
        return False
    if piece.rotations is None:
        return least_width(piece.shape) <= min(wide, high)
    return bool((allowed_sizes(piece) <= (wide, high)).all(axis=1).any())


@once_a_shape
def inner_radius(shape: Shape, gap: float) -> float:
    """Return the radius of a disc within a shape grown by half the gap, a lower bound."""
    circle = maximum_inscribed_circle(shape.polygon)
    return float(circle.length) + gap / 2


def _large_radius(shape: Shape, job: LayJob) -> float:
    """Return a shape's inner radius where it can matter, else 0.

    No disc in it is larger than its box allows; where any sheet holds very many of those, nothing
    follows from it.
    """
    most = min(shape.width, shape.height) / 2 + job.gap / 2
    if any(_holds(s, most, job.gap) >= MANY for s in job.sheets):
        return 0.0
    return inner_radius(shape, job.gap)


def _cliques(
    job: LayJob, laid: list[PieceSpec], fits: npt.NDArray[np.bool_]
) -> list[tuple[Array, float]]:
    """Return constraints (how many large pieces one of each stock holds, how many there are).

    Two discs of radius r and s fit into a rectangle w × h only if their centres, which stay in the
    rectangle less r or s all round, can be r + s apart. Pieces whose inner discs cannot share any
    sheet lie on one each. Rolls are as long as it takes, so a job with rolls has no such pieces.
    """
    if job.rolls or not job.sheets:
        return []
    radii = [_large_radius(p.shape, job) for p in laid]
    found = []
    for least in sorted({round(r, 6) for r in radii}, reverse=True)[:CLASSES]:
        if least <= 0:
            break
        members = [k for k, r in enumerate(radii) if r >= least - 1e-6]
        counts = np.array([float(_holds(s, least - 1e-6, job.gap)) for s in job.sheets])
        counts *= fits[members][:, : len(job.sheets)].any(axis=0)
        if counts.max(initial=0.0) >= MANY:
            break
        found.append((counts, float(sum(laid[k].quantity for k in members))))
    return found


def _holds(sheet: SheetSpec, r: float, gap: float) -> int:
    """Return an upper bound on how many discs of radius r one sheet holds: 0, 1, 2, 3 or `MANY`.

    By the box of the sheet less its margin: no disc if it is narrower than one; one, if the centres
    of two cannot be 2r apart; in a strip lower than that makes room for a second row, as many as
    stand side by side.
    """
    x0, y0, x1, y1 = sheet.shape.bounds
    inset = sheet.margin - gap / 2
    wide, high = x1 - x0 - 2 * inset - 2 * r + SAFE, y1 - y0 - 2 * inset - 2 * r + SAFE
    if wide < 0 or high < 0:
        return 0
    # Centres lie in a box wide × high and 2r apart from each other.
    if math.hypot(wide, high) < 2 * r:
        return 1
    # In a box lower than r·√3 three centres cannot come nearer along than in a zigzag: each step
    # along is at least √(4r² − high²).
    low, long = sorted((wide, high))
    if low < math.sqrt(3) * r:
        step = math.sqrt(4 * r * r - low * low)
        return min(MANY, 1 + int(long / step + 1e-9))
    return MANY


def _roll_area(roll: RollSpec, gap: float) -> tuple[float, float]:
    """Return (usable area per mm of length, area past the ends), upper estimates."""
    across = max(0.0, roll.width - 2 * roll.margin + gap)
    return across, across * gap
