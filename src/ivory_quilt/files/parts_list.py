"""The parts list: every kind of part that is cut, a row each, as CSV or ODS."""

from collections.abc import Iterator
from decimal import Decimal
from pathlib import Path

from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import templates_by_part
from ivory_quilt.files.papers.cut_sheets import cut_sheets
from ivory_quilt.files.table_write import Cell, harmless, write_table

HEADS = (
    "number",
    "part",
    "hand",
    "for",
    "material",
    "thickness mm",
    "count",
    "spares",
    "area cm2",
    "width mm",
    "height mm",
    "outline mm",
    "bevels",
    "sheets",
    "notes",
    "template",
)


def write_parts_list(plan: Plan, path: Path) -> None:
    """Write the parts list in the format that the file's name asks for: .csv or .ods.

    Raises:
        InputError: another kind of name, or the place cannot be written.
    """
    write_table(path, "Parts", [HEADS, *part_rows(plan)])


def part_rows(plan: Plan) -> Iterator[tuple[Cell, ...]]:
    """Yield the rows of the list, thin foam first, without its head."""
    templates = templates_by_part(plan)
    sheets: dict[str, dict[str, None]] = {}
    for sheet in cut_sheets(plan):
        for part, _ in sheet.parts:
            sheets.setdefault(part.id, {})[sheet.title] = None
    for foam in plan.foams:
        for part in foam.parts:
            number, template = templates[part.id]
            shape = part.shape
            yield (
                number,
                harmless(part.name),
                part.hand.value,
                harmless(part.wearer),
                harmless(plan.stock.material_name(part.foam.material)),
                _number(part.foam.thickness, 2),
                Decimal(part.count),
                Decimal(part.spares),
                _number(shape.area / 100, 1),
                _number(shape.width, 1),
                _number(shape.height, 1),
                _number(shape.outline_length, 1),
                harmless(", ".join(f"{e.name} {e.angle:g}°" for e in part.bevels)),
                harmless("; ".join(sheets.get(part.id, ()))),
                harmless("; ".join(part.notes)),
                template.code,
            )


def _number(value: float, digits: int) -> Decimal:
    return Decimal(f"{value:.{digits}f}")
