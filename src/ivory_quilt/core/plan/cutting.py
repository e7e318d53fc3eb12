"""From a layout to a sheet that is cut: its parts, and what goes back to the shelf."""

from collections.abc import Collection, Iterator, Sequence
from itertools import chain

from ivory_quilt.core.cutting.order import CuttingOrder
from ivory_quilt.core.document.cutting import SheetKey
from ivory_quilt.core.document.project import free_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.pattern.part import Foam, Part
from ivory_quilt.core.plan.plan import FoamPlan, Plan, UsedSheet, used_sheets
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.stock.remains import Remains, remains_of
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState, SpentSheet

LETTERS = "ABCDEFGHJKLMNPRSTUVWXYZ"  # none that reads as a number
PER_LETTER = 99
EDGE = 2.0  # mm along an offcut's edges that is not used, common practice, no source
ROLL_REST = 50.0  # mm: a shorter rest of a roll is no roll
AGAIN = "again"
"""A spoiled part's id in the job that lays it once more."""


def labels(taken: Collection[str]) -> Iterator[str]:
    """Yield short labels for stickers that are not taken: A1, A2, ... B1, ..."""
    for letter in LETTERS:
        for number in range(1, PER_LETTER + 1):
            if (label := f"{letter}{number}") not in taken:
                yield label
    for number in range(1, 10**6):
        yield free_name(f"Z{PER_LETTER + number}", taken)


def sheet_to_cut(
    plan: Plan,
    foam: FoamPlan,
    key: SheetKey,
    taken: Collection[str] = (),
    own: Sequence[str] = (),
) -> SpentSheet:
    """Return one sheet of a layout as it is once it is cut.

    Args:
        plan: with the shop that it was laid in.
        foam: whose layout it is.
        key: the sheet.
        taken: labels of offcuts that are in use beside those of the plan's shop and project.
        own: labels that its offcuts have on paper already, first.

    Raises:
        InputError: the layout does not lie on that sheet.
    """
    found = next((s for s in used_sheets(foam, plan.stock) if s.key == key), None)
    if found is None:
        raise InputError(key[0], "the layout does not lie on it", "a sheet in use")
    sheet = _all_cut(found, free_name("cut", {s.id for s in plan.project.spent}))
    return replace(sheet, left=_left(plan, sheet, remains_on(plan, found), taken, own))


def sheet_to_begin(sheet: SpentSheet, cuts: CuttingOrder) -> SpentSheet:
    """Return a sheet, as it is once it is cut, as it is when its first cut is about to be made."""
    settings: dict[int, list[int]] = {k: [] for k in cuts.freed}
    for number, setting in cuts.passes:
        settings[number].append(setting)
    now = {k: n for n, k in enumerate(cuts.freed)}
    parts = tuple(
        replace(sheet.parts[k], state=CutState.WAITING, settings=tuple(settings[k]) or (0,))
        for k in cuts.freed
    )
    order = [now[k] for k, _ in cuts.passes]
    order += [now[k] for k in cuts.freed if not settings[k]]  # free by its neighbours' cuts
    return replace(sheet, parts=parts, under_knife=True, order=tuple(order))


def _all_cut(sheet: UsedSheet, ident: str) -> SpentSheet:
    """Return a sheet of a layout with all its parts cut, and nothing left."""
    parts = tuple(
        CutPart(part.id, part.label, part.shape, p.pose)
        for part, p in zip(sheet.parts, sheet.placements, strict=True)
    )
    return SpentSheet(ident, sheet.item, sheet.owned, sheet.use.used_length, parts)


def remains_on(plan: Plan, sheet: UsedSheet) -> Remains:
    """Return what is left of one sheet of a layout; kept with the layout, as it takes a moment."""
    known = sheet.foam.remains
    if sheet.key not in known:
        item = sheet.item
        known[sheet.key] = remains_of(
            sheet.foam.job, sheet.placements, plan.stock.keep, item.shape, item.teeth
        )
    return known[sheet.key]


class SheetRest(Struct, frozen=True):
    """What one sheet of a layout leaves.

    Attributes:
        items: for the shelf, with their labels.
        places: (label, where it lies on the sheet) of each offcut.
    """

    items: tuple[StockItem, ...]
    places: tuple[tuple[str, Shape], ...]

    @property
    def labels(self) -> tuple[str, ...]:
        """All labels that are written: of offcuts, and of a roll's rest."""
        return tuple(i.id for i in self.items if i.kind is not StockKind.SCRAP)


def planned_rests(
    plan: Plan, taken: Collection[str] = ()
) -> dict[tuple[Foam, SheetKey], SheetRest]:
    """Return what each sheet of all layouts leaves, no label twice, in whatever order they are cut.

    `taken` are labels in use beside those of the plan's shop and project.
    """
    found: dict[tuple[Foam, SheetKey], SheetRest] = {}
    used = set(taken)
    for foam in plan.foams:
        for sheet in used_sheets(foam, plan.stock):
            remains = remains_on(plan, sheet)
            items = _left(plan, _all_cut(sheet, ""), remains, used)
            labels_here = [i.id for i in items if i.kind is StockKind.OFFCUT]
            rest = SheetRest(items, tuple(zip(labels_here, remains.places, strict=True)))
            used |= set(rest.labels)
            found[foam.foam, sheet.key] = rest
    return found


def left_of(plan: Plan, sheet: SpentSheet, taken: Collection[str] = ()) -> tuple[StockItem, ...]:
    """Return what goes to the shelf of a sheet as it was really cut.

    Foam of spoiled parts is gone, that of parts which were not cut is not. Labels stay as far as
    there are as many offcuts as were expected.

    Args:
        plan: with the shop and the gap.
        sheet: under the knife.
        taken: labels of offcuts that are in use elsewhere.
    """
    cut = [k for k, part in enumerate(sheet.parts) if not part.waiting or part.passes]
    if not cut:
        return ()
    job, placed = job_of_sheet(sheet, plan.project.gap)
    members = tuple(placed[k] for k in cut)
    item = sheet.item
    remains = remains_of(job, members, plan.stock.keep, item.shape, item.teeth)
    own = [i.id for i in sheet.left if i.kind is not StockKind.SCRAP]
    return _left(plan, sheet, remains, taken, own)


def job_of_sheet(
    sheet: SpentSheet, gap: float, more: tuple[PieceSpec, ...] = ()
) -> tuple[LayJob, tuple[Placement, ...]]:
    """Return a job of one sheet with each of its parts held where it is, and where that is.

    `more` are laid between them. A part's id in the job is its number on the sheet.
    """
    item = sheet.item
    placed = tuple(
        Placement(str(k), 0, item.id, 0, part.pose) for k, part in enumerate(sheet.parts)
    )
    held = tuple(
        PieceSpec(p.piece, part.shape, 1, None, mirror=True, fixed=(p,), hidden=True)
        for p, part in zip(placed, sheet.parts, strict=True)
    )
    if item.kind is StockKind.ROLL:
        reach = item.length if sheet.used_length is None else sheet.used_length
        rolls = (RollSpec(item.id, item.breadth, reach, margin=item.margin),)
        return LayJob((*held, *more), (), rolls, gap), placed
    shape, margin = item.laid_on
    flaws = item.defects if sheet.owned else ()
    sheets = (SheetSpec(item.id, shape, 1, margin=margin, defects=flaws),)
    return LayJob((*held, *more), sheets, (), gap), placed


def room_job(plan: Plan, sheet: SpentSheet, number: int) -> LayJob:
    """Return the job to lay a spoiled part once more on what is left of its own sheet.

    Raises:
        InputError: the part is not in the plan any more.
    """
    part = part_of(plan, sheet, sheet.parts[number])
    if part is None:
        raise InputError(sheet.parts[number].label, "it is not in the plan", "a part of the plan")
    alike = plan.stock.material(sheet.item.foam.material).both_faces_alike
    again = PieceSpec(
        AGAIN, part.shape, 1, part.rotations, part.may_flip or alike, hidden=part.may_flip
    )
    job, _ = job_of_sheet(sheet, plan.project.gap, (again,))
    return job


def part_of(plan: Plan, sheet: SpentSheet, one: CutPart) -> Part | None:
    """Return what a part on a sheet is in the plan; None where the plan has changed since."""
    foam = plan.foam(sheet.item.foam)
    found = next((p for p in foam.parts if p.id == one.part), None) if foam is not None else None
    return found if found is not None and one.is_still(found.shape) else None


def _left(
    plan: Plan,
    sheet: SpentSheet,
    remains: Remains,
    taken: Collection[str],
    own: Sequence[str] = (),
) -> tuple[StockItem, ...]:
    """Return what is left as stock, with labels: `own` first, then ones that nothing else has."""
    item = sheet.item
    known = {
        *taken,
        *(i.id for i in plan.stock.items),
        *(i.id for s in plan.project.spent if s.id != sheet.id for i in s.left),
    }
    rest = item.length - (sheet.used_length or 0.0)
    if item.kind is not StockKind.ROLL or not sheet.owned or rest < ROLL_REST:
        rest = 0.0
    fresh = chain(own, labels({*known, *own}))
    return tuple(_items(item, remains, fresh, rest))


def _items(
    item: StockItem, remains: Remains, fresh: Iterator[str], rest: float
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
