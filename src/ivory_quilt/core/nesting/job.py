"""A layout job and its result: the shapes that the command line, the desk and the engine share.

All lengths in mm, angles in degrees counter-clockwise, money as decimal.
"""

from collections.abc import Callable
from decimal import ROUND_HALF_UP, Decimal
from functools import cached_property

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.geometry.reach import FURTHEST, check_reach
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.record import Struct

CENT = Decimal("0.01")
LONGEST_ROLL = 1e6  # mm
DEAREST = Decimal(10**9)  # of one sheet, or of one mm of a roll
MOST_SHEETS = 100_000  # of one kind
MOST_ROTATIONS = 3600  # as free as free
LEAST_WORTH, MOST_WORTH = 0.001, 1000.0
SOUND = "_sound"
"""Under which a piece remembers that it was looked at: a troupe's edit has thousands."""


class SheetSpec(Struct, frozen=True):
    """A kind of sheet: `quantity` None means as many as needed; cost 0 is foam already owned.

    `defects` are marked flaws: parts that show must not cover them, hidden ones may.
    """

    id: str
    shape: Shape
    quantity: int | None = 1
    cost: Decimal = Decimal(0)
    margin: float = 0.0
    defects: tuple[Shape, ...] = ()


class RollSpec(Struct, frozen=True):
    """A roll: `width` across (y), at most `max_length` along (x), cost by the length used."""

    id: str
    width: float
    max_length: float
    cost_per_mm: Decimal = Decimal(0)
    margin: float = 0.0

    @property
    def shape(self) -> Shape:
        """The whole roll as a rectangle."""
        return rectangle(self.max_length, self.width)

    def length_for(self, reach: float) -> float:
        """Return what must be cut off for parts that reach so far along x."""
        return min(self.max_length, max(0.0, reach + self.margin))


class Placement(Struct, frozen=True):
    """One copy of a piece on one copy of a sheet or roll."""

    piece: str
    copy: int
    sheet: str
    sheet_copy: int
    pose: Pose


class PieceSpec(Struct, frozen=True, dict=True):
    """A piece to lay `quantity` times.

    `rotations` None means free. `fixed` keeps copies where they are. Pieces of one `group` should
    lie on one sheet, side by side. `hidden` pieces may lie over marked flaws. Where not all pieces
    find room, those of the most area × `worth` do.
    """

    id: str
    shape: Shape
    quantity: int = 1
    rotations: tuple[float, ...] | None = (0.0,)
    mirror: bool = False
    fixed: tuple[Placement, ...] = ()
    group: str | None = None
    hidden: bool = False
    worth: float = 1.0


class LayJob(Struct, frozen=True, dict=True):
    """Pieces to lay on stock, at the least cost, then with the largest useful leftover."""

    pieces: tuple[PieceSpec, ...]
    sheets: tuple[SheetSpec, ...] = ()
    rolls: tuple[RollSpec, ...] = ()
    gap: float = 0.0

    def __post_init__(self) -> None:
        check_job(self)

    @property
    def all_stock(self) -> tuple["SheetSpec | RollSpec", ...]:
        """Sheets, then rolls."""
        return (*self.sheets, *self.rolls)

    @cached_property
    def values(self) -> dict[str, float]:
        """What one copy of each piece counts for when not all fit: area × worth, by its id."""
        return {p.id: p.shape.area * p.worth for p in self.pieces}

    @cached_property
    def stock(self) -> dict[str, "SheetSpec | RollSpec"]:
        """All stock by id."""
        return {s.id: s for s in self.all_stock}


class StockUse(Struct, frozen=True):
    """One sheet or roll that a layout uses."""

    id: str
    copy: int
    used_length: float | None
    density: float


class LayResult(Struct, frozen=True):
    """What the engine found. `cost_bound`: no layout of this job can cost less (proven).

    `stopped_by`: "time", "iterations", "target", "bound" (nothing can cost less), "done" (nothing
    is left to try) or "maker".
    """

    placements: tuple[Placement, ...]
    unplaced: tuple[tuple[str, int], ...]
    stock: tuple[StockUse, ...]
    cost: Decimal
    cost_bound: Decimal
    density: float
    seed: int = 0
    seconds: float = 0.0
    stopped_by: str = "done"
    history: tuple[tuple[float, Decimal, float], ...] = ()
    steps: int = 0
    """How often the searchers met: with so many `--iterations` the same comes out again."""
    faults: tuple[str, ...] = ()
    """What the exact check refused, layouts that are not shown: bugs, to be reported."""


class Progress(Struct, frozen=True):
    """What a long run reports: `done` of `total` (total 0: open-ended), and what is under way."""

    done: int
    total: int
    what: str
    better: LayResult | None = None


Report = Callable[[Progress], bool]
"""Called now and then by long work; returns False to stop it."""


def keep_going(_: Progress) -> bool:
    """A report that never stops the work."""
    return True


def check_job(job: LayJob) -> None:
    """Refuse a job that makes no sense.

    Raises:
        InputError: naming the piece or sheet and what was expected.
    """
    if not 0 <= job.gap < 1000:
        raise InputError("gap", f"{job.gap:g}", "0 to 1000 mm")
    seen: set[str] = set()
    for stock in job.all_stock:
        where = f"sheet '{stock.id}'" if isinstance(stock, SheetSpec) else f"roll '{stock.id}'"
        _fresh(stock.id, seen, where)
        _check_stock(stock, where)
    seen = set()
    for piece in job.pieces:
        _fresh(piece.id, seen, f"piece '{piece.id}'")
        if piece.fixed or SOUND not in piece.__dict__:
            _check_piece(piece, job)
            piece.__dict__[SOUND] = True


def _fresh(name: str, seen: set[str], where: str) -> None:
    if name in seen:
        raise InputError(where, "the id is used twice", "different ids")
    seen.add(name)


def _check_stock(stock: SheetSpec | RollSpec, where: str) -> None:
    if isinstance(stock, SheetSpec):
        if stock.quantity is not None and not 0 <= stock.quantity <= MOST_SHEETS:
            raise InputError(
                f"{where}, quantity", f"{stock.quantity}", f"0 to {MOST_SHEETS}, or null"
            )
        cost = stock.cost
    else:
        for name, value, most in (
            ("width", stock.width, FURTHEST),
            ("max_length", stock.max_length, LONGEST_ROLL),
        ):
            if not 0 < value <= most:
                expected = f"above 0 and at most {most / 1000:g} m"
                raise InputError(f"{where}, {name}", f"{value:g} mm", expected)
        cost = stock.cost_per_mm
    if not cost.is_finite() or not 0 <= cost <= DEAREST:
        raise InputError(f"{where}, cost", f"{cost}"[:40], f"0 to {DEAREST}")
    if not 0 <= stock.margin < 1e5:
        raise InputError(f"{where}, margin", f"{stock.margin:g}", "0 or more")
    if isinstance(stock, SheetSpec):
        check_reach(stock.shape.bounds, f"{where}, outline")
    if problem := shape_problem(stock.shape):
        raise InputError(f"{where}, outline", problem, "a simple polygon")
    for defect in stock.defects if isinstance(stock, SheetSpec) else ():
        if problem := shape_problem(defect):
            raise InputError(f"{where}, defects", problem, "simple polygons")


def _check_piece(piece: PieceSpec, job: LayJob) -> None:
    where = f"piece '{piece.id}'"
    if not 0 <= piece.quantity <= 5000:
        raise InputError(f"{where}, quantity", f"{piece.quantity}", "0 to 5000")
    if piece.rotations is not None:
        if not 0 < len(piece.rotations) <= MOST_ROTATIONS:
            many = f"{len(piece.rotations)} angles"
            raise InputError(
                f"{where}, rotations", many, f"1 to {MOST_ROTATIONS} angles, or 'free'"
            )
        for angle in piece.rotations:
            if not abs(angle) <= 360_000:
                raise InputError(f"{where}, rotations", f"{angle:g}", "angles in degrees")
    if not LEAST_WORTH <= piece.worth <= MOST_WORTH:
        expected = f"{LEAST_WORTH:g} to {MOST_WORTH:g}"
        raise InputError(f"{where}, worth", f"{piece.worth:g}", expected)
    check_reach(piece.shape.bounds, f"{where}, outline")
    if problem := shape_problem(piece.shape):
        raise InputError(f"{where}, outline", problem, "a simple polygon with its holes inside")
    if len(piece.fixed) > piece.quantity:
        raise InputError(f"{where}, fixed", "more fixed copies than the quantity", "at most that")
    for fixed in piece.fixed:
        pose = fixed.pose
        near = abs(pose.x) <= FURTHEST and abs(pose.y) <= FURTHEST
        if not (near and abs(pose.rotation) <= 3.6e5):
            raise InputError(f"{where}, fixed", "a number that is no place", "a place within 100 m")
        if fixed.sheet not in job.stock:
            hint = nearest(fixed.sheet, job.stock)
            raise InputError(f"{where}, fixed", f"no sheet '{fixed.sheet}'{hint}", "a sheet's id")


def roll_cost(cost_per_mm: Decimal, length: float) -> Decimal:
    """Return the cost of a length cut off a roll, to the cent."""
    return (cost_per_mm * Decimal(repr(round(length, 6)))).quantize(CENT, rounding=ROUND_HALF_UP)
