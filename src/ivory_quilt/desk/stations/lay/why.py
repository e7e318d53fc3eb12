"""Why the layout is as it is, in the maker's words."""

from ivory_quilt.core.nesting.job import RollSpec
from ivory_quilt.core.nesting.leftover import Leftover, would_fit
from ivory_quilt.core.nesting.reasons import misfit, misfits, sheets_by_area
from ivory_quilt.core.plan.plan import FoamPlan, Plan
from ivory_quilt.core.stock.purchase import item_of
from ivory_quilt.core.units import counted, show_number, show_thickness

MOST_LINES = 4
MOST_FITS = 2  # parts named that would fit an empty place


def why(foam: FoamPlan, plan: Plan) -> list[str]:
    """Return what explains one foam's layout: misfits, bounds, what is left over and why."""
    if foam.result is None:
        return []
    lines = []
    for piece_id in dict.fromkeys(p for p, _ in foam.result.unplaced):
        lines.append(_left_over(foam, plan, piece_id))
    lines += _fewest(foam)
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
    return lines[:MOST_LINES]


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


def _fewest(foam: FoamPlan) -> list[str]:
    """Say how few sheets any layout could use, where several of one kind alone are used."""
    assert foam.result is not None
    kinds = {u.id for u in foam.result.stock}
    count = len(foam.result.stock)
    if count < 2 or len(kinds) != 1 or isinstance(foam.job.stock[next(iter(kinds))], RollSpec):
        return []
    bound = sheets_by_area(foam.job, next(iter(kinds)))
    if bound is None:
        return []
    need = show_number(bound.by_area, 1) if bound.by_area >= 0.1 else "less than 0.1"
    area = f"area alone needs {need}"
    if count == bound.least:
        return [f"No order can use fewer than {counted(count, 'sheet')}: {area}."]
    used = f"{counted(count, 'sheet')} {'is' if count == 1 else 'are'} used"
    return [f"{used}; {area}, so {bound.least} may or may not do."]


def _name(stock_id: str, plan: Plan) -> str:
    item, _ = item_of(stock_id, plan.stock)
    return item.name if item is not None else stock_id


def size_of(room: Leftover) -> str:
    """Return the size of an empty rectangle as makers say it."""
    return f"{room.width:.0f} × {room.height:.0f}"


def waste_lines(foam: FoamPlan, rooms: tuple[Leftover, ...]) -> list[str]:
    """Return where foam is left, and which parts would fit there once more."""
    if foam.result is None:
        return []
    lines = []
    for number, use in enumerate(foam.result.stock, 1):
        for room in rooms:
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
    return lines
