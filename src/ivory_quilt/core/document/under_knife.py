"""Edits while a sheet is cut: parts ticked, spoiled ones laid elsewhere, the sheet done."""

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import StockItem
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState, SpentSheet

WHOLE = "a sheet under the knife"


def sheet_under_knife(project: Project, sheet_id: str) -> SpentSheet:
    """Return a sheet that is being cut.

    Raises:
        InputError: there is none of that id.
    """
    for sheet in project.spent:
        if sheet.id == sheet_id and sheet.under_knife:
            return sheet
    raise InputError(f"cut sheet '{sheet_id}'", "it is not being cut", WHOLE)


def mark_part(
    project: Project, sheet_id: str, number: int, state: CutState, remark: str = ""
) -> Project:
    """Say how far one part of a sheet under the knife is.

    A part that waits and has more than one pass to go around it is cut when the last is made.

    Raises:
        InputError: no such sheet is being cut, or it has no such part.
    """
    sheet = sheet_under_knife(project, sheet_id)
    if not 0 <= number < len(sheet.parts):
        raise InputError(sheet.item.name, f"no part {number + 1}", f"1 to {len(sheet.parts)}")
    known = sheet.parts[number]
    passes = 0
    if state is CutState.CUT and known.waiting and not known.last_pass:
        state, passes = CutState.WAITING, known.passes + 1
    part = replace(known, state=state, remark=remark.strip(), passes=passes)
    return _put(
        project, replace(sheet, parts=(*sheet.parts[:number], part, *sheet.parts[number + 1 :]))
    )


def add_part(
    project: Project, sheet_id: str, part: CutPart, left: tuple[StockItem, ...]
) -> Project:
    """Put one more part on a sheet under the knife, to be cut next; `left` is what remains then.

    Raises:
        InputError: no such sheet is being cut.
    """
    sheet = sheet_under_knife(project, sheet_id)
    waiting = sheet.has(CutState.WAITING)
    at = waiting[0] if waiting else len(sheet.parts)
    parts = (*sheet.parts[:at], replace(part, state=CutState.WAITING, passes=0), *sheet.parts[at:])
    order = _with_passes(sheet, at, part.settings) if sheet.order else ()
    return _put(project, replace(sheet, parts=parts, left=left, order=order))


def _with_passes(sheet: SpentSheet, at: int, settings: tuple[int, ...]) -> tuple[int, ...]:
    """Return the order of passes with those of a part that comes in as number `at`.

    Its first pass is next; each other comes when the blade is set so anyway, or after all others.
    """
    angles = [sheet.parts[k].settings[n] for k, n in sheet.passes]
    order = [k + (k >= at) for k in sheet.order]
    ahead = sheet.to_make
    place = sheet.passes.index(ahead[0]) if ahead else len(order)
    for n, setting in enumerate(settings):
        if n:
            later = range(place, len(order))
            place = next((k for k in later if angles[k] > setting), len(order))
        order.insert(place, at)
        angles.insert(place, setting)
        place += 1
    return tuple(order)


def close_sheet(project: Project, sheet_id: str, left: tuple[StockItem, ...]) -> Project:
    """Say that a sheet is done: `left` of it goes to the shelf, uncut parts are laid anew.

    What is cut in part and not free is spoiled.


    Raises:
        InputError: no such sheet is being cut, or nothing of it is.
    """
    sheet = sheet_under_knife(project, sheet_id)
    parts = tuple(
        replace(p, state=CutState.SPOILED, passes=0) if p.waiting else p
        for p in sheet.parts
        if not p.waiting or p.passes
    )
    if not parts:
        raise InputError(sheet.item.name, "nothing of it is cut yet", "a part that is cut")
    return _put(project, replace(sheet, parts=parts, left=left, under_knife=False, order=()))


def _put(project: Project, sheet: SpentSheet) -> Project:
    return replace(project, spent=tuple(sheet if s.id == sheet.id else s for s in project.spent))
