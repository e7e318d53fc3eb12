"""Edits while a sheet is cut: parts ticked, spoiled ones laid elsewhere, the sheet done."""

from dataclasses import replace

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
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

    Raises:
        InputError: no such sheet is being cut, or it has no such part.
    """
    sheet = sheet_under_knife(project, sheet_id)
    if not 0 <= number < len(sheet.parts):
        raise InputError(sheet.item.name, f"no part {number + 1}", f"1 to {len(sheet.parts)}")
    part = replace(sheet.parts[number], state=state, remark=remark.strip())
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
    parts = (*sheet.parts[:at], replace(part, state=CutState.WAITING), *sheet.parts[at:])
    return _put(project, replace(sheet, parts=parts, left=left))


def close_sheet(project: Project, sheet_id: str, left: tuple[StockItem, ...]) -> Project:
    """Say that a sheet is done: `left` of it goes to the shelf, uncut parts are laid anew.

    Raises:
        InputError: no such sheet is being cut, or nothing of it is.
    """
    sheet = sheet_under_knife(project, sheet_id)
    parts = tuple(p for p in sheet.parts if p.state is not CutState.WAITING)
    if not parts:
        raise InputError(sheet.item.name, "nothing of it is cut yet", "a part that is cut")
    return _put(project, replace(sheet, parts=parts, left=left, under_knife=False))


def _put(project: Project, sheet: SpentSheet) -> Project:
    return replace(project, spent=tuple(sheet if s.id == sheet.id else s for s in project.spent))
