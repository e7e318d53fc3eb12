"""Templates on as little paper as may be: nested by the layout engine, taped only where they must.

What is larger than a page is nested first, on sheets that are taped of several pages, at the least
number of pages. What is left of those pages is paper like any other: everything else is nested into
it and onto whole pages, and lies on one page each. No page count can be less than the templates'
area by the page's.
"""

import math
from collections.abc import Callable, Iterable, Sequence
from decimal import Decimal

import shapely
from shapely import Polygon, box

from ivory_quilt.core.errors import Stopped
from ivory_quilt.core.geometry.shape import Pose, Shape, polygons_of, rectangle, simplified
from ivory_quilt.core.nesting.job import LayJob, LayResult, PieceSpec, RollSpec, SheetSpec
from ivory_quilt.core.record import Struct, replace

OVERLAP = 10.0  # mm shared by two neighbouring pages
APART = 3.0  # mm between templates: room for scissors (our choice)
MOST_TAPED = 6  # pages taped to one sheet on our own choice; a template may need more
TAPE = Decimal("0.02")  # pages that a join counts: of two layouts the one with fewer joins
SMALLEST = 300.0  # mm²: no template goes into less
ROUND = 0.5  # mm: corners of what is left are rounded so far

LayPaper = Callable[[LayJob], LayResult]
"""Lays a job of paper; with a number of steps it finds the same anywhere."""


class PaperFrame(Struct, frozen=True):
    """The usable part of a page or, with `endless`, of a roll that is so wide and goes on along x.

    `width` and `height` in mm; an endless one's width is the longest piece cut from it.
    """

    width: float
    height: float
    endless: bool = False


class PaperSpot(Struct, frozen=True):
    """Where a template lies on its sheet, mm from the usable part's lower left corner."""

    template: str
    pose: Pose


class TapedSheet(Struct, frozen=True):
    """Pages taped together, `columns` × `rows`; most often just one.

    Attributes:
        size: usable width and height of one page, mm.
        pages: (column, row) from the lower left of those that hold something.
        spots: what lies on them.
    """

    size: tuple[float, float]
    columns: int
    rows: int
    pages: tuple[tuple[int, int], ...]
    spots: tuple[PaperSpot, ...]

    def corner(self, column: int, row: int) -> tuple[float, float]:
        """Return a page's lower left corner on the sheet, mm."""
        return column * (self.size[0] - OVERLAP), row * (self.size[1] - OVERLAP)

    def window(self, column: int, row: int) -> Polygon:
        """Return the usable part of a page on the sheet."""
        x, y = self.corner(column, row)
        return box(x, y, x + self.size[0], y + self.size[1])


class PaperLayout(Struct, frozen=True):
    """All sheets; no layout takes fewer than `bound` pages (by area; of a roll, mm of length)."""

    sheets: tuple[TapedSheet, ...]
    bound: int

    @property
    def pages(self) -> int:
        """How many pages are printed."""
        return sum(len(s.pages) for s in self.sheets)


def lay_paper(
    templates: Sequence[tuple[str, Shape]], frame: PaperFrame, lay: LayPaper
) -> PaperLayout:
    """Return where templates lie.

    Args:
        templates: (id, all that must be on paper), mm.
        frame: of one page.
        lay: lays the jobs, two at most.

    Raises:
        Stopped: `lay` was stopped, and left something out.
    """
    area = sum(shape.area for _, shape in templates)
    if frame.endless:
        return PaperLayout(_rolled(templates, frame, lay), math.ceil(area / frame.height - 1e-9))
    large = [(i, s) for i, s in templates if not _fits(s, frame)]
    small = [(i, s) for i, s in templates if _fits(s, frame)]
    taped = _taped(large, frame, lay)
    return PaperLayout(
        _filled(taped, dict(templates), small, frame, lay),
        math.ceil(area / (frame.width * frame.height) - 1e-9),
    )


def grid_of(width: float, height: float, frame: PaperFrame) -> tuple[int, int]:
    """Return how many columns and rows of pages a rectangle takes."""
    columns = math.ceil((width - OVERLAP) / (frame.width - OVERLAP) - 1e-9)
    rows = math.ceil((height - OVERLAP) / (frame.height - OVERLAP) - 1e-9)
    return max(1, columns), max(1, rows)


def _fits(shape: Shape, frame: PaperFrame) -> bool:
    return any(
        across <= frame.width and up <= frame.height
        for across, up in ((shape.width, shape.height), (shape.height, shape.width))
    )


def _turns(shape: Shape) -> tuple[float, ...]:
    """Return quarter turns, and those that lay the least rectangle around a shape square."""
    ring = shapely.get_coordinates(shapely.minimum_rotated_rectangle(shape.polygon))
    (x0, y0), (x1, y1) = ring[0], ring[1]
    lean = round(math.degrees(math.atan2(y1 - y0, x1 - x0)) % 90.0, 3)
    quarters = [0.0, 90.0, 180.0, 270.0]
    if 0.5 < lean < 89.5:
        quarters += [round((q - lean) % 360.0, 3) for q in quarters]
    return tuple(sorted(set(quarters)))


def _specs(templates: Iterable[tuple[str, Shape]]) -> tuple[PieceSpec, ...]:
    return tuple(PieceSpec(i, s, 1, _turns(s)) for i, s in templates)


def _laid(job: LayJob, lay: LayPaper) -> LayResult:
    found = lay(job)
    if found.unplaced:
        raise Stopped("the templates are not all laid on paper")
    return found


def _grids(large: Sequence[tuple[str, Shape]], frame: PaperFrame) -> list[tuple[int, int]]:
    """Return the sizes of taped sheets that are tried: small ones, and what templates need."""
    grids = {
        (c, r)
        for c in range(1, MOST_TAPED + 1)
        for r in range(1, MOST_TAPED + 1)
        if 1 < c * r <= MOST_TAPED
    }
    for _, shape in large:
        grids |= {
            grid_of(placed.width, placed.height, frame)
            for placed in (shape.placed(Pose(0.0, 0.0, turn)) for turn in _turns(shape))
        }
    return sorted(grids, key=lambda g: (g[0] * g[1], g))


def _taped(
    large: Sequence[tuple[str, Shape]], frame: PaperFrame, lay: LayPaper
) -> list[TapedSheet]:
    """Return sheets of several pages with all that is larger than one."""
    if not large:
        return []
    size = (frame.width, frame.height)
    sheets, grids = [], {}
    for columns, rows in _grids(large, frame):
        joins = columns * (rows - 1) + rows * (columns - 1)
        across = columns * (frame.width - OVERLAP) + OVERLAP
        up = rows * (frame.height - OVERLAP) + OVERLAP
        name = f"{columns}x{rows}"
        grids[name] = (columns, rows)
        cost = columns * rows + TAPE * joins
        sheets.append(SheetSpec(name, rectangle(across, up), None, cost))
    found = _laid(LayJob(_specs(large), tuple(sheets), (), APART), lay)
    shapes = dict(large)
    made = []
    for name, copy in dict.fromkeys((p.sheet, p.sheet_copy) for p in found.placements):
        columns, rows = grids[name]
        spots = tuple(
            PaperSpot(p.piece, p.pose)
            for p in found.placements
            if (p.sheet, p.sheet_copy) == (name, copy)
        )
        every = tuple((c, r) for r in range(rows) for c in range(columns))
        whole = TapedSheet(size, columns, rows, every, spots)
        placed = shapely.union_all([shapes[s.template].placed(s.pose).polygon for s in spots])
        used = tuple(p for p in every if placed.intersects(whole.window(*p)))
        made.append(replace(whole, pages=used))
    return made


def _filled(
    taped: Sequence[TapedSheet],
    shapes: dict[str, Shape],
    small: Sequence[tuple[str, Shape]],
    frame: PaperFrame,
    lay: LayPaper,
) -> tuple[TapedSheet, ...]:
    """Return the taped sheets with what else goes on their pages, then whole pages."""
    if not small:
        return tuple(taped)
    rooms: list[SheetSpec] = []
    home: dict[str, int] = {}
    for number, sheet in enumerate(taped):
        for free in _free(sheet, shapes):
            name = f"room {len(rooms)}"
            rooms.append(SheetSpec(name, free, 1, Decimal(0)))
            home[name] = number
    page = SheetSpec("page", rectangle(frame.width, frame.height), None, Decimal(1))
    found = _laid(LayJob(_specs(small), (*rooms, page), (), APART), lay)
    more: dict[int, list[PaperSpot]] = {}
    pages: dict[int, list[PaperSpot]] = {}
    for p in found.placements:
        lying, number = (more, home[p.sheet]) if p.sheet in home else (pages, p.sheet_copy)
        lying.setdefault(number, []).append(PaperSpot(p.piece, p.pose))
    filled = [replace(s, spots=(*s.spots, *more.get(k, ()))) for k, s in enumerate(taped)]
    size = (frame.width, frame.height)
    whole = [TapedSheet(size, 1, 1, ((0, 0),), tuple(spots)) for _, spots in sorted(pages.items())]
    return (*filled, *whole)


def _free(sheet: TapedSheet, shapes: dict[str, Shape]) -> list[Shape]:
    """Return what is left of each page of a taped sheet, up to where it is trimmed."""
    taken = shapely.union_all([shapes[s.template].placed(s.pose).polygon for s in sheet.spots])
    taken = taken.buffer(APART, join_style="mitre", mitre_limit=2.0)
    half = OVERLAP / 2
    width, height = sheet.size
    found: list[Shape] = []
    for column, row in sheet.pages:
        x, y = sheet.corner(column, row)
        page = box(
            x + half * (column > 0),
            y + half * (row > 0),
            x + width - half * (column < sheet.columns - 1),
            y + height - half * (row < sheet.rows - 1),
        )
        # Slivers and spikes take nothing; without them the engine is quicker.
        left = page.difference(taken).buffer(-APART).buffer(APART - ROUND)
        found += [
            Shape.from_polygon(simplified(part, ROUND / 2))
            for part in polygons_of(left)
            if part.area >= SMALLEST
        ]
    return found


def _rolled(
    templates: Sequence[tuple[str, Shape]], frame: PaperFrame, lay: LayPaper
) -> tuple[TapedSheet, ...]:
    """Return one long page of a roll, as long as it must be; more where one is not long enough."""
    left = list(templates)
    made: list[TapedSheet] = []
    while left:
        roll = RollSpec("roll", frame.height, frame.width, Decimal("0.01"))
        found = lay(LayJob(_specs(left), (), (roll,), APART))
        if not found.placements:
            raise Stopped("the templates are not all laid on the roll")
        (use,) = found.stock
        spots = tuple(PaperSpot(p.piece, p.pose) for p in found.placements)
        length = min(frame.width, math.ceil(use.used_length or frame.width))
        made.append(TapedSheet((length, frame.height), 1, 1, ((0, 0),), spots))
        here = {s.template for s in spots}
        left = [t for t in left if t[0] not in here]
    return tuple(made)
