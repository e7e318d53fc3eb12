"""From a layout that is kept to a sheet that is cut: its parts, and what goes back to the shelf."""

from collections.abc import Collection, Iterator
from dataclasses import replace

from ivory_quilt.core.document.cutting import SheetKey
from ivory_quilt.core.document.project import free_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.plan.plan import FoamPlan, Plan, used_sheets
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.stock.remains import Remains, remains_of
from ivory_quilt.core.stock.spent_sheet import CutPart, SpentSheet

LETTERS = "ABCDEFGHJKLMNPRSTUVWXYZ"  # none that reads as a number
PER_LETTER = 99
EDGE = 2.0  # mm along an offcut's edges that is not used, common practice, no source
ROLL_REST = 50.0  # mm: a shorter rest of a roll is no roll


def labels(taken: Collection[str]) -> Iterator[str]:
    """Yield short labels for stickers that are not taken: A1, A2, ... B1, ..."""
    for letter in LETTERS:
        for number in range(1, PER_LETTER + 1):
            if (label := f"{letter}{number}") not in taken:
                yield label
    for number in range(1, 10**6):
        yield free_name(f"Z{PER_LETTER + number}", taken)


def sheet_to_cut(
    plan: Plan, foam: FoamPlan, key: SheetKey, taken: Collection[str] = ()
) -> SpentSheet:
    """Return one sheet of a layout as it is once it is cut.

    Args:
        plan: with the shop that it was laid in.
        foam: whose layout it is.
        key: the sheet.
        taken: labels of offcuts that are in use beside those of the plan's shop and project.

    Raises:
        InputError: the layout does not lie on that sheet.
    """
    found = next((s for s in used_sheets(foam, plan.stock) if s.key == key), None)
    if found is None:
        raise InputError(key[0], "the layout does not lie on it", "a sheet in use")
    members = found.placements
    parts = tuple(
        CutPart(part.id, part.label, part.shape, p.pose)
        for part, p in zip(found.parts, members, strict=True)
    )
    item = found.item
    remains = remains_of(foam.job, members, plan.stock.keep, item.shape, item.teeth)
    known = {
        *taken,
        *(i.id for i in plan.stock.items),
        *(i.id for s in plan.project.spent for i in s.left),
    }
    ident = free_name("cut", {s.id for s in plan.project.spent})
    rest = item.length - (found.use.used_length or 0.0)
    if item.kind is not StockKind.ROLL or not found.owned or rest < ROLL_REST:
        rest = 0.0
    left = tuple(_items(item, remains, known, rest))
    return SpentSheet(ident, item, found.owned, found.use.used_length, parts, left)


def _items(
    item: StockItem, remains: Remains, taken: Collection[str], rest: float
) -> Iterator[StockItem]:
    """Yield what is left as stock, of the same foam, colour and make; `rest` mm of a roll."""
    plain = replace(
        item,
        owned=1,
        price=None,
        margin=EDGE,
        sides="",
        defects=(),
        supplier="",
        pack=1,
        available=None,
        steps=(),
        offered=False,
        place="",
    )
    fresh = labels(taken)
    if rest:
        label, shape = next(fresh), rectangle(rest, item.breadth)
        kind, name = StockKind.ROLL, f"rest of {item.name}, {label}"
        yield replace(plain, id=label, name=name, kind=kind, shape=shape, margin=item.margin)
    for shape in remains.offcuts:
        label, kind = next(fresh), StockKind.OFFCUT
        yield replace(plain, id=label, name=f"offcut {label}", kind=kind, shape=shape)
    heaps = (("scrap", remains.scraps, EDGE), ("edge strip", remains.strips, 0.0))
    for word, found, margin in heaps:
        for length, width, count in found:
            size = f"{length:g} × {width:g}"
            foam = f"{item.foam.material}-{item.foam.thickness:g}"
            yield replace(
                plain,
                id=f"{word.replace(' ', '-')}-{foam}-{length:g}x{width:g}",
                name=f"{word} {size}",
                kind=StockKind.SCRAP,
                shape=rectangle(length, width),
                owned=count,
                margin=margin,
            )
