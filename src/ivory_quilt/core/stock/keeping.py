"""What is left of a sheet: worth keeping, or scrap.

Worth keeping is what one or two straight cuts across a sheet free, when it is large enough: so
makers cut an offcut off before they begin. Then what is left beside the parts, where it is as
large. The rest is scrap. What of it lies along each other is one L, which holds all that its
rectangles hold and what bends around the corner too; who has no room for it parts it.
"""

from collections.abc import Sequence

import shapely
from shapely import Polygon

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.free_cells import Box, FreeCells
from ivory_quilt.core.nesting.job import LayJob, Placement, RollSpec
from ivory_quilt.core.nesting.leftover import Leftover
from ivory_quilt.core.nesting.summary import used_stock
from ivory_quilt.core.record import Struct


class KeepRule(Struct, frozen=True):
    """What is put back on the shelf: at least so large a rectangle, with so long a side, in mm.

    The defaults are from memory, common practice, no source: about a hand's breadth and twice it.
    """

    least_side: float = 80.0
    least_area: float = 20_000.0
    joined: bool = True
    """Whether an L stays in one piece, or is parted into rectangles: makers do both."""

    def __post_init__(self) -> None:
        if not 0 < self.least_side <= 5000:
            raise InputError("smallest side kept", f"{self.least_side:g} mm", "above 0 mm to 5 m")
        if not 0 < self.least_area <= 25e6:
            raise InputError("smallest area kept", f"{self.least_area:g} mm²", "above 0 to 25 m²")

    def keeps(self, room: Leftover) -> bool:
        """Return whether a leftover is worth a place on the shelf."""
        return min(room.width, room.height) >= self.least_side and room.area >= self.least_area


USUAL_RULE = KeepRule()
HAIR = 1e-6  # mm
CELL = 20.0  # mm: finer takes longer, and this is asked for with every edit
MOST_BESIDE = 4


def kept_of(
    job: LayJob, placements: tuple[Placement, ...], rule: KeepRule = USUAL_RULE
) -> tuple[Leftover, ...]:
    """Return what is left of every sheet in use and is worth keeping.

    No two share foam. Of a sheet that is no rectangle nothing is counted: its offcuts are judged by
    eye. What is left on a roll past the used length stays on the roll.
    """
    shapes = {p.id: p.shape for p in job.pieces}
    found: list[Leftover] = []
    for (ident, copy), members in sorted(used_stock(placements).items()):
        stock = job.stock[ident]
        boxes = [_box(m.pose.apply(shapes[m.piece].outer)) for m in members]
        left, low = min(b[0] for b in boxes), min(b[1] for b in boxes)
        right, top = max(b[2] for b in boxes), max(b[3] for b in boxes)
        x0, y0, x1, y1 = stock.shape.bounds
        if isinstance(stock, RollSpec):
            x1 = right
        elif stock.shape.holes or abs(stock.shape.area - (x1 - x0) * (y1 - y0)) > 1.0:
            continue
        freed = _freed(ident, copy, (x0, y0, x1, y1), (left, low, right, top), rule)
        boxes += [(r.x0, r.y0, r.x1, r.y1) for r in freed]
        found += freed + _beside(ident, copy, (x0, y0, x1, y1), boxes, rule)
    return tuple(found)


def _box(points: Array) -> Box:
    (x0, y0), (x1, y1) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    return (x0, y0, x1, y1)


def _beside(ident: str, copy: int, sheet: Box, taken: list[Box], rule: KeepRule) -> list[Leftover]:
    """Return large upright rectangles that no box reaches into, to the nearest cell, never more."""
    cells = FreeCells(sheet, CELL)
    for box in taken:
        cells.cover(box)
    made: list[Leftover] = []
    while len(made) < MOST_BESIDE:
        box = cells.take()
        if not rule.keeps(Leftover(ident, copy, *box)):
            break
        box = _grown(box, sheet, taken)
        cells.cover(box)
        taken = [*taken, box]
        made.append(Leftover(ident, copy, *box))
    return made


def _grown(room: Box, sheet: Box, taken: list[Box]) -> Box:
    """Return a room as large as it may be: from cells to what stands around it."""
    x0, y0, x1, y1 = room
    beside = [b for b in taken if b[1] < y1 and b[3] > y0]
    x0 = max([sheet[0], *(b[2] for b in beside if b[2] <= x0 + HAIR)])
    x1 = min([sheet[2], *(b[0] for b in beside if b[0] >= x1 - HAIR)])
    over = [b for b in taken if b[0] < x1 and b[2] > x0]
    y0 = max([sheet[1], *(b[3] for b in over if b[3] <= y0 + HAIR)])
    y1 = min([sheet[3], *(b[1] for b in over if b[1] >= y1 - HAIR)])
    return x0, y0, x1, y1


def outlines_of(rooms: Sequence[Leftover], rule: KeepRule) -> list[Polygon]:
    """Return the outlines of what is kept of one sheet, an L in one piece if the rule says so.

    Rooms are one where they lie along each other for the smallest side that is kept, so that no
    neck is narrower; all around parts they are not joined: nobody cuts a hole for those.
    """
    boxes = [shapely.box(r.x0, r.y0, r.x1, r.y1) for r in rooms]
    if not rule.joined:
        return boxes
    made: list[Polygon] = []
    for box in boxes:
        whole = box
        for other in made[:]:
            both = shapely.union(whole, other).simplify(0.0)
            along = whole.intersection(other).length
            if along >= rule.least_side - HAIR and isinstance(both, Polygon) and not both.interiors:
                made.remove(other)
                whole = both
        made.append(whole)
    return sorted(made, key=lambda p: -p.area)


def _freed(
    ident: str,
    copy: int,
    sheet: tuple[float, float, float, float],
    parts: tuple[float, float, float, float],
    rule: KeepRule,
) -> list[Leftover]:
    """Return the larger strip beside the parts over the whole sheet, then one beside the rest."""
    made: list[Leftover] = []
    for _ in range(2):
        x0, y0, x1, y1 = sheet
        a, b, c, d = parts
        strips = (
            Leftover(ident, copy, c, y0, x1, y1),
            Leftover(ident, copy, x0, d, x1, y1),
            Leftover(ident, copy, x0, y0, a, y1),
            Leftover(ident, copy, x0, y0, x1, b),
        )
        best = max(strips, key=lambda s: (rule.keeps(s), s.area))
        if not rule.keeps(best):
            break
        made.append(best)
        rests = ((x0, y0, c, y1), (x0, y0, x1, d), (a, y0, x1, y1), (x0, b, x1, y1))
        sheet = rests[strips.index(best)]
    return made
