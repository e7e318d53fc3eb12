"""The quilt: where all used sheets and left-over parts lie beside each other on a table."""

from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.job import StockUse
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.plan.plan import FoamPlan, Plan, used_sheets
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.units import show_thickness

SHEET_SPACE = 60.0  # mm between sheets on the table
TITLE_SHARE = 0.055  # of the quilt's width: room for a title, which keeps its size on the screen
ROLL_REST = 160.0  # mm of uncut roll shown beyond the used length
TRAY = 26.0  # mm between parts that fit nowhere


class SheetSpot(Struct, frozen=True):
    """One used sheet on the table; `origin` is where its own (0, 0) lies, mm, y upwards."""

    foam: FoamPlan
    use: StockUse
    item: StockItem
    owned: bool
    shape: Shape
    rest: Shape | None
    origin: tuple[float, float]
    number: int

    @property
    def key(self) -> tuple[str, int]:
        """Sheet id and copy, as placements name it."""
        return (self.use.id, self.use.copy)

    @property
    def title(self) -> str:
        """Heading above the sheet."""
        thickness = show_thickness(self.foam.foam.thickness)
        name = self.item.name
        return name if name.startswith(thickness) else f"{thickness} {name}"

    @property
    def note(self) -> str:
        """Size and fill below the heading."""
        word = "shelf" if self.owned else "to buy"
        size = f"{self.shape.width:.0f} × {self.shape.height:.0f} mm"
        return f"{word} · {100 * self.use.density:.0f} % used · {size}"


class TraySpot(Struct, frozen=True):
    """A part that fits nowhere, beside its foam's sheets."""

    foam: FoamPlan
    part: Part
    copy: int
    origin: tuple[float, float]


class Quilt(Struct, frozen=True):
    """All sheets and left-over parts on the table."""

    sheets: tuple[SheetSpot, ...]
    tray: tuple[TraySpot, ...]


def quilt(plan: Plan, aspect: float = 1.45, title: float = TITLE_SHARE) -> Quilt:
    """Lay all used sheets out in rows, thin foam first, in about the window's proportions.

    `title` is the share of the width that the room above a sheet takes.
    """
    widths = [1200.0 * 1.25**k for k in range(14)]
    widest = max((_breadth(foam, plan) for foam in plan.foams), default=0.0)
    tried = [_quilt(plan, width, max(width, widest) * title) for width in widths]
    # The arrangement that can be shown largest.
    return min(tried, key=lambda t: max(t[1], t[2] * aspect))[0]


def _quilt(plan: Plan, limit: float, title: float) -> tuple[Quilt, float, float]:
    """Set sheets in rows no wider than `limit`, with `title` mm of room above each for its title.

    Returns (quilt, width, height).
    """
    flow = _Flow(limit, title)
    sheets: list[SheetSpot] = []
    tray: list[TraySpot] = []
    for foam in plan.foams:
        for one in used_sheets(foam, plan.stock):
            shape, rest = _used_shape(one.item, one.use)
            origin = flow.place(rest or shape, SHEET_SPACE)
            sheets.append(
                SheetSpot(foam, one.use, one.item, one.owned, shape, rest, origin, one.number)
            )
        for part_id, copy in foam.result.unplaced if foam.result is not None else ():
            part = foam.part(part_id)
            tray.append(TraySpot(foam, part, copy, flow.place(part.shape, TRAY)))
    return Quilt(tuple(sheets), tuple(tray)), flow.widest, flow.row - flow.y


def _breadth(foam: FoamPlan, plan: Plan) -> float:
    """Return the width of the widest thing of one foam that is shown."""
    if foam.result is None:
        return 0.0
    shown = [_used_shape(one.item, one.use) for one in used_sheets(foam, plan.stock)]
    widths = [(rest or shape).width for shape, rest in shown]
    widths += [foam.part(part).shape.width for part, _ in foam.result.unplaced]
    return max(widths, default=0.0)


class _Flow:
    """Places shapes left to right in rows, with room for a title above each."""

    def __init__(self, limit: float, title: float) -> None:
        self.limit, self.title = limit, title
        self.x, self.y, self.row, self.widest = 0.0, 0.0, 0.0, 0.0

    def place(self, shape: Shape, space: float) -> tuple[float, float]:
        """Return where the shape's own (0, 0) comes to lie."""
        x0, y0, x1, y1 = shape.bounds
        if self.x > 0 and self.x + x1 - x0 > self.limit:
            self.x, self.y, self.row = 0.0, self.y - self.row - self.title * 0.3, 0.0
        origin = (self.x - x0, self.y - self.title - y1)
        self.x += x1 - x0 + space
        self.row = max(self.row, y1 - y0 + self.title)
        self.widest = max(self.widest, self.x - space)
        return origin


def _used_shape(item: StockItem, use: StockUse) -> tuple[Shape, Shape | None]:
    if item.kind is not StockKind.ROLL or use.used_length is None:
        return item.shape, None
    shown = min(item.length, use.used_length + ROLL_REST)
    return rectangle(use.used_length, item.breadth), rectangle(shown, item.breadth)
