"""Why the layout is as it is, in the maker's words."""

from functools import lru_cache
from typing import TYPE_CHECKING

from ivory_quilt.core.nesting.job import RollSpec
from ivory_quilt.core.nesting.reasons import misfit, misfits, sheets_by_area
from ivory_quilt.core.plan import FoamPlan, Plan
from ivory_quilt.core.stock.purchase import item_of
from ivory_quilt.core.units import show_number, show_thickness

if TYPE_CHECKING:
    from ivory_quilt.core.nesting.leftovers import Leftover

MOST_LINES = 4
MOST_FITS = 2  # parts named that would fit an empty place


def why(foam: FoamPlan, plan: Plan) -> list[str]:
    """Return what explains one foam's layout: misfits, bounds, what is left over and why."""
    return list(_why(_Known(foam, plan))) if foam.result is not None else []


@lru_cache(maxsize=64)
def _why(known: "_Known") -> tuple[str, ...]:
    foam, plan = known.planned, known.plan
    assert foam.result is not None
    assert plan is not None
    lines = []
    for piece_id in dict.fromkeys(p for p, _ in foam.result.unplaced):
        lines.append(_left_over(foam, plan, piece_id))
    lines += _fewest(foam, plan)
    used = {u.id for u in foam.result.stock}
    told = set()
    for found in misfits(foam.job):
        if found.stock in used or found.stock in told:
            continue
        told.add(found.stock)
        by = max(found.too_long, found.too_wide)
        way = "long" if found.too_long >= found.too_wide else "wide"
        lines.append(
            f"{foam.part(found.piece).label} does not fit on {_name(found.stock, plan)}: "
            f"{show_number(by, 0)} mm too {way}."
        )
    return tuple(lines[:MOST_LINES])


def _left_over(foam: FoamPlan, plan: Plan, piece_id: str) -> str:
    spec = next(p for p in foam.job.pieces if p.id == piece_id)
    nearest = None
    for stock in foam.job.all_stock:
        found = misfit(spec, stock)
        if found is None:
            return f"{foam.part(piece_id).label}: all foam is taken; more is needed."
        if nearest is None or found.too_long + found.too_wide < nearest.too_long + nearest.too_wide:
            nearest = found
    if nearest is None:
        return f"{foam.part(piece_id).label}: the shop has no such foam."
    by = max(nearest.too_long, nearest.too_wide)
    return (
        f"{foam.part(piece_id).label} fits on nothing in the shop: {show_number(by, 0)} mm too "
        f"large for {_name(nearest.stock, plan)}. It needs a seam, or larger foam."
    )


def _fewest(foam: FoamPlan, plan: Plan) -> list[str]:
    """Say how few sheets any layout could use, where one kind of sheet is used alone."""
    assert foam.result is not None
    kinds = {u.id for u in foam.result.stock}
    if len(kinds) != 1 or isinstance(foam.job.stock[next(iter(kinds))], RollSpec):
        return []
    bound = sheets_by_area(foam.job, next(iter(kinds)))
    if bound is None:
        return []
    count = len(foam.result.stock)
    need = show_number(bound.by_area, 1) if bound.by_area >= 0.1 else "less than 0.1"
    area = f"area alone needs {need}"
    if count == bound.least:
        few = "1 sheet" if count == 1 else f"{count} sheets"
        return [f"No order of this sheet can use fewer than {few}: {area}."]
    return [f"{count} sheets are used; {area}, so {bound.least} may or may not do."]


def _name(stock_id: str, plan: Plan) -> str:
    item, _ = item_of(stock_id, plan.stock)
    return item.name if item is not None else stock_id


class _Known:
    """A foam's plan as a key of what was worked out from it: the same result, the same answer."""

    def __init__(self, planned: FoamPlan, plan: Plan | None = None) -> None:
        self.planned, self.plan = planned, plan

    def __hash__(self) -> int:
        return id(self.planned.result)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Known) and other.planned.result is self.planned.result


@lru_cache(maxsize=64)
def _leftovers(known: _Known) -> "tuple[Leftover, ...]":
    # Compiled code: loaded when there is a layout, not with the window.
    from ivory_quilt.core.nesting.leftovers import leftovers

    planned = known.planned
    assert planned.result is not None
    return leftovers(planned.job, planned.result.placements)


def left_on(foam: FoamPlan) -> "tuple[Leftover, ...]":
    """Return the empty rectangles of one foam's sheets."""
    return _leftovers(_Known(foam)) if foam.result is not None else ()


def size_of(room: "Leftover") -> str:
    """Return the size of an empty rectangle as makers say it."""
    return f"{room.width:.0f} × {room.height:.0f}"


def waste_lines(foam: FoamPlan, plan: Plan) -> list[str]:
    """Return where foam is left, and which parts would fit there once more."""
    return list(_waste_lines(_Known(foam, plan)))


@lru_cache(maxsize=64)
def _waste_lines(known: _Known) -> tuple[str, ...]:
    from ivory_quilt.core.nesting.leftovers import would_fit

    foam = known.planned
    assert foam.result is not None
    lines = []
    for number, use in enumerate(foam.result.stock, 1):
        for room in left_on(foam):
            if (room.sheet, room.copy) != (use.id, use.copy):
                continue
            fits: dict[str, int] = {}
            for piece, count in would_fit(foam.job, room):  # both hands of a part are one to name
                fits.setdefault(foam.part(piece).name, count)
            names = ", ".join(f"{n} × {name}" for name, n in list(fits.items())[:MOST_FITS])
            what = f"room for {names}" if names else "too small for any part of this foam"
            sheet = f"{show_thickness(foam.foam.thickness)} sheet {number}"
            lines.append(f"{sheet}: {size_of(room)} mm left, {what}")
            break  # the largest says enough
    return tuple(lines)
