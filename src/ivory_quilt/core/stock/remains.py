"""What a sheet leaves behind when its parts are cut: offcuts, scrap pieces, edge strips."""

from collections import Counter

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.free_cells import FreeCells
from ivory_quilt.core.nesting.job import LayJob, Placement, RollSpec
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.keeping import KeepRule, kept_of, outlines_of

CELLS = 160  # along a sheet's longer side, to look for scrap pieces in
SCRAP_SIDE, SCRAP_AREA = 25.0, 2500.0  # mm, mm²: less is thrown away; from memory, no source
STEP = 10.0  # mm that scrap pieces are rounded down to, so that alike ones lie in one heap
MOST_SCRAPS = 16  # a sheet
SOLID = 0.5  # of a tile's edge strip, the rest is its teeth; from memory, no source
ROUGH = 0.5  # mm that a true outline is taken in, since knives are no mills

LEAST_STRIP = 5.0  # mm: a narrower one is of no use
Size = tuple[float, float]
Heap = tuple[float, float, int]
Teeth = tuple[float, float, float, float]


class Remains(Struct, frozen=True):
    """What is left of one sheet.

    Attributes:
        offcuts: worth a place of their own, (0, 0) at the lower left of each, mm.
        places: the same offcuts as they lie on the sheet.
        scraps: (length, width, how many) of smaller upright pieces, rounded down.
        strips: the same of a tile's edge strips, without the teeth.
    """

    offcuts: tuple[Shape, ...] = ()
    places: tuple[Shape, ...] = ()
    scraps: tuple[Heap, ...] = ()
    strips: tuple[Heap, ...] = ()


def remains_of(
    job: LayJob, members: tuple[Placement, ...], rule: KeepRule, whole: Shape, teeth: Teeth
) -> Remains:
    """Return what is left of the one sheet that all of `members` lie on.

    Args:
        job: that they are laid in.
        members: one or more placements, all on one copy of one sheet or roll.
        rule: which offcuts are worth a place.
        whole: the sheet as it lay on the shelf.
        teeth: depth of a tile's interlocking edge on the left, below, right and above, mm: it is
            cut off first; all 0 for none.
    """
    stock = job.stock[members[0].sheet]
    shapes = {p.id: p.shape for p in job.pieces}
    placed = [shapes[m.piece].placed(m.pose).polygon for m in members]
    foam = whole.polygon
    if isinstance(stock, RollSpec):
        reach = stock.length_for(max(p.bounds[2] for p in placed))
        foam = rectangle(reach, stock.width).polygon
    strips, foam = _without_teeth(foam, teeth)
    covered = shapely.union_all(placed)
    box = shapely.box(*foam.bounds)
    if foam.area >= box.area - 1.0:
        rooms = outlines_of(kept_of(job, members, rule), rule)
        offcuts = [p for r in rooms for p in _polygons(r.intersection(foam))]
    else:
        offcuts = _as_left(foam, covered, job.gap, rule)
    free = foam.difference(shapely.union_all([covered, *offcuts]))
    whole_ones = [o for o in offcuts if o.area > 1]
    large, small = _between(foam, free, rule)
    found = [*whole_ones, *large]
    places = tuple(_shape(o) for o in found)
    return Remains(tuple(_from_corner(o) for o in found), places, small, strips)


def _without_teeth(foam: Polygon, teeth: Teeth) -> tuple[tuple[Heap, ...], Polygon]:
    """Return the strips that a tile's edges make, without their teeth, and the rest of it."""
    if not any(teeth):
        return (), foam
    x0, y0, x1, y1 = foam.bounds
    left, below, right, above = teeth
    found: Counter[Size] = Counter()
    for depth, length in zip(teeth, (y1 - y0, x1 - x0) * 2, strict=True):
        if depth * SOLID >= LEAST_STRIP:
            found[_down(length), depth * SOLID] += 1
    inner = shapely.box(x0 + left, y0 + below, x1 - right, y1 - above)
    rest = max(_polygons(foam.intersection(inner)), key=lambda p: p.area)
    strips = tuple((a, b, n) for (a, b), n in sorted(found.items()))
    return strips, rest


def _as_left(foam: Polygon, covered: BaseGeometry, gap: float, rule: KeepRule) -> list[Polygon]:
    """Return what is left of a sheet that is no rectangle, in its true outline.

    Without necks narrower than the smallest side that is kept.
    """
    free = foam.difference(covered.buffer(gap / 2))
    half = rule.least_side / 2
    wide = free.buffer(-half).buffer(half * 0.999).intersection(free)
    taken_in = wide.buffer(-ROUGH).simplify(ROUGH / 2)
    parts = [p for p in getattr(taken_in, "geoms", [taken_in]) if isinstance(p, Polygon)]
    return sorted((p for p in parts if p.area >= rule.least_area), key=lambda p: -p.area)


def _between(
    foam: Polygon, free: BaseGeometry, rule: KeepRule
) -> tuple[list[Polygon], tuple[Heap, ...]]:
    """Return the upright rectangles left between parts: those worth a place, and scrap pieces."""
    x0, y0, x1, y1 = foam.bounds
    cells = FreeCells(foam.bounds, max(x1 - x0, y1 - y0) / CELLS)
    cells.keep_within(free)
    large: list[Polygon] = []
    found: Counter[Size] = Counter()
    for _ in range(MOST_SCRAPS):
        x0, y0, x1, y1 = cells.take()
        wide, high = x1 - x0, y1 - y0
        short, long = sorted((wide, high))
        if short >= rule.least_side and short * long >= rule.least_area:
            large.append(shapely.box(x0, y0, x1, y1))
            continue
        size = (_down(long), _down(short))
        if short < SCRAP_SIDE or size[0] * size[1] < SCRAP_AREA:
            break
        found[size] += 1
    return large, tuple((a, b, n) for (a, b), n in sorted(found.items(), reverse=True))


def _polygons(thing: BaseGeometry) -> list[Polygon]:
    return [p for p in getattr(thing, "geoms", [thing]) if isinstance(p, Polygon) and p.area > 0]


def _down(length: float) -> float:
    return STEP * int(length / STEP + 1e-9)


def _from_corner(polygon: Polygon) -> Shape:
    x0, y0, _, _ = polygon.bounds
    return _shape(shapely.transform(polygon, lambda points: points - (x0, y0)))


def _shape(polygon: Polygon) -> Shape:
    holes = [np.asarray(h.coords)[:-1] for h in polygon.interiors]
    return Shape.make(np.asarray(polygon.exterior.coords)[:-1], holes, where="offcut")
