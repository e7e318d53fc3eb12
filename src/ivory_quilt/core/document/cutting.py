"""Edits when a sheet is cut, or turns out not to be."""

from collections import Counter

from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.spent_sheet import CutState, SpentSheet

SheetKey = tuple[str, int]
"""A sheet's id in its job, and which copy."""


def cut_sheet(project: Project, sheet: SpentSheet, key: SheetKey) -> Project:
    """Note that a sheet of a kept layout is cut; what lies on the others stays where it is.

    Raises:
        InputError: the foam has no kept layout with something on that sheet.
    """
    foam = sheet.item.foam
    kept = project.layout(foam)
    if kept is None or not any((p.sheet, p.sheet_copy) == key for p in kept.placements):
        raise InputError(sheet.item.name, "no kept layout lies on it", "a sheet of a kept layout")
    project = keep_layout(project, without_sheet(kept, key))
    return replace(project, spent=(*project.spent, sheet))


def uncut_sheet(project: Project, sheet_id: str) -> Project:
    """Take back that a sheet was cut; its parts must be laid again.

    Raises:
        InputError: there is no such sheet.
    """
    if all(s.id != sheet_id for s in project.spent):
        raise InputError(f"cut sheet '{sheet_id}'", "it is not in the project", "a cut sheet's id")
    return replace(project, spent=tuple(s for s in project.spent if s.id != sheet_id))


def without_sheet(kept: KeptLayout, key: SheetKey) -> KeptLayout:
    """Return a layout without what lies on one sheet; copies and sheets count from 0 on again."""
    left = [p for p in kept.placements if (p.sheet, p.sheet_copy) != key]
    seen: Counter[str] = Counter()
    made: list[Placement] = []
    pins = set()
    for old in sorted(left, key=lambda p: (p.piece, p.copy)):
        later = old.sheet == key[0] and old.sheet_copy > key[1]
        new = replace(
            old, copy=seen[old.piece], sheet_copy=old.sheet_copy - 1 if later else old.sheet_copy
        )
        seen[old.piece] += 1
        made.append(new)
        if (old.piece, old.copy) in kept.pins:
            pins.add((new.piece, new.copy))
    return replace(kept, placements=tuple(made), pins=frozenset(pins))


def spent_of(project: Project, foam: Foam) -> tuple[SpentSheet, ...]:
    """Return the cut sheets of one foam."""
    return tuple(s for s in project.spent if s.item.foam == foam)


def sheets_arrived(
    project: Project, foam: Foam, bought: str, owned: str, first: int, count: int
) -> Project:
    """Let kept layouts lie on sheets that have arrived instead of ones still to be bought.

    Args:
        project: whose kept layout of `foam` is meant.
        foam: of the sheets.
        bought: the id in a job of the sheets to buy.
        owned: the id of the same sheets on the shelf.
        first: the copy of the first one that has arrived.
        count: how many have arrived.
    """
    kept = project.layout(foam)
    if kept is None:
        return project
    waiting = sorted({p.sheet_copy for p in kept.placements if p.sheet == bought})
    here = {copy: first + k for k, copy in enumerate(waiting[:count])}
    rest = {copy: k for k, copy in enumerate(waiting[count:])}
    placements = tuple(
        p
        if p.sheet != bought
        else replace(p, sheet=owned, sheet_copy=here[p.sheet_copy])
        if p.sheet_copy in here
        else replace(p, sheet_copy=rest[p.sheet_copy])
        for p in kept.placements
    )
    return keep_layout(project, replace(kept, placements=placements))


def spoil_part(project: Project, piece_id: str) -> Project:
    """Say that a part of a piece that was cut is spoiled: it is asked for again.

    The one that was cut last is meant.

    Raises:
        InputError: none of the piece is cut, or all that are, are spoiled already.
    """
    for k in reversed(range(len(project.spent))):
        sheet = project.spent[k]
        for n, part in enumerate(sheet.parts):
            if part.made and is_of_piece(part.part, piece_id):
                spoiled = replace(part, state=CutState.SPOILED)
                parts = (*sheet.parts[:n], spoiled, *sheet.parts[n + 1 :])
                sheets = list(project.spent)
                sheets[k] = replace(sheet, parts=parts)
                return replace(project, spent=tuple(sheets))
    raise InputError(f"piece '{piece_id}'", "no whole part of it is cut", "a piece that is cut")


def is_of_piece(part_id: str, piece_id: str) -> bool:
    """Return whether a part's id is of a piece: the piece itself, a hand, a layer, a wearer's."""
    plain = part_id.split("@")[0]
    return plain == piece_id or plain.startswith((f"{piece_id}/", f"{piece_id}+"))
