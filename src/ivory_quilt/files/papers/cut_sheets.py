"""Cut sheets: each foam sheet with its parts, as SVG at true size (mm) and as a PDF overview."""

import contextlib
import re
from collections.abc import Iterator
from functools import cached_property
from pathlib import Path

from ivory_quilt.core.cutting.order import CuttingOrder, Going, cutting_order
from ivory_quilt.core.cutting.sheet_strokes import strokes_of
from ivory_quilt.core.document.cutting import SheetKey
from ivory_quilt.core.errors import Stopped
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.job import Placement, StockUse
from ivory_quilt.core.pattern.part import Foam, Part
from ivory_quilt.core.pattern.piece import LineKind
from ivory_quilt.core.plan.effort import cutting_minutes
from ivory_quilt.core.plan.plan import FoamPlan, Plan, used_sheets
from ivory_quilt.core.reading.naming import STOCK_LAYER
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.units import show_parts, show_thickness
from ivory_quilt.files.svg_write import SvgDrawing, SvgLayer

_KIND_WORD = {
    StockKind.SHEET: "sheet",
    StockKind.TILE: "tile",
    StockKind.ROLL: "roll",
    StockKind.OFFCUT: "offcut",
    StockKind.SCRAP: "scrap piece",
}


class CutSheet(Struct, frozen=True, dict=True):
    """One foam sheet (or the used length of a roll) with what is cut from it.

    `parts`: (part, placement) in the order of the layout.
    """

    number: int
    foam: FoamPlan
    item: StockItem
    owned: bool
    use: StockUse
    shape: Shape
    parts: tuple[tuple[Part, Placement], ...]
    material: str
    face: str = ""
    """Which face is up, in words."""
    minutes: float = 0.0
    """How long hands take to trace and cut what lies on it."""

    @property
    def key(self) -> tuple[Foam, SheetKey]:
        """By what the plan knows it."""
        return (self.foam.foam, (self.use.id, self.use.copy))

    @cached_property
    def order(self) -> CuttingOrder:
        """All cuts of the sheet in the order in which they are best made."""
        return cutting_order(strokes_of((part, one.pose) for part, one in self.parts))

    @property
    def in_order(self) -> list[tuple[Part, Placement]]:
        """The parts in the order in which they come free."""
        return [self.parts[k] for k in self.order.freed]

    @property
    def title(self) -> str:
        """Such as "6 mm EVA foam: sheet 2"."""
        thickness = show_thickness(self.foam.foam.thickness)
        return f"{thickness} {self.material}: {_KIND_WORD[self.item.kind]} {self.number}"

    @property
    def origin(self) -> str:
        """Where the sheet comes from."""
        return f"{self.item.name} ({'from the shelf' if self.owned else 'to buy'})"

    def number_of(self, part: Part, placement: Placement) -> str:
        """Return which of how many a part here is: "2 of 3", "spare", or empty."""
        return self.foam.number(part, placement.copy)

    @property
    def file_stem(self) -> str:
        """A file name without its ending, plain and unique among the sheets of a plan."""
        thickness = f"{self.foam.foam.thickness:g}".replace(".", "_")
        words = re.sub(r"[^a-z0-9]+", "-", self.item.id.lower()).strip("-")
        material = re.sub(r"[^a-z0-9]+", "-", self.foam.foam.material.lower()).strip("-")
        return f"cut-{thickness}mm-{material}-{self.number:02d}-{words}"


_STEM = re.compile(r"cut-[\d_]+mm-[a-z0-9-]*-\d{2,}-[a-z0-9-]*")


def clear_old_sheets(folder: Path, sheets: list[CutSheet], ending: str = ".svg") -> None:
    """Remove cut sheets from a folder that are not among `sheets`: an earlier plan's."""
    present = {s.file_stem for s in sheets}
    with contextlib.suppress(OSError):
        for found in folder.glob(f"cut-*{ending}"):
            if _STEM.fullmatch(found.stem) and found.stem not in present:
                found.unlink()


def cut_sheets(plan: Plan) -> list[CutSheet]:
    """Return the cut sheets of every layout in the plan, thin foam first."""
    sheets = []
    for foam in plan.foams:
        for one in used_sheets(foam, plan.stock):
            item, use = one.item, one.use
            parts = tuple(zip(one.parts, one.placements, strict=True))
            shape = item.shape
            if use.used_length is not None:
                shape = rectangle(use.used_length, item.breadth)
            material = plan.stock.material_name(foam.foam.material)
            alike = plan.stock.material(foam.foam.material).both_faces_alike
            face = "either face up" if alike else "skin face up"
            sheets.append(
                CutSheet(
                    one.number,
                    foam,
                    item,
                    one.owned,
                    use,
                    shape,
                    parts,
                    material,
                    face,
                    cutting_minutes(one.parts, plan.stock.rates),
                )
            )
    return sheets


def cut_sheet_svg(sheet: CutSheet) -> bytes:
    """Return one cut sheet as SVG: one user unit is one mm, cut and score on layers of their own.

    The part outlines are those of the layout, to the last digit.
    """
    x0, _, _, y1 = sheet.shape.bounds
    svg = SvgDrawing(sheet.shape.width, sheet.shape.height, x0, y1)
    svg.describe(sheet.title, f"{sheet.origin}; {show_parts(len(sheet.parts))}")
    foam = svg.layer(STOCK_LAYER, fill="none", stroke="#8a7f66", stroke_width="0.5")
    foam.path(svg.outline(sheet.shape))
    cut = svg.layer("cut", fill="none", stroke="#a3243b", stroke_width="0.3")
    _line_layer(svg, "score")
    for part, placement in sheet.in_order:
        # The knife follows the outline on the face that is up; a bevel's run-out is drawn beside.
        placed = part.line_up(placement.pose).placed(placement.pose)
        cut.path(svg.outline(placed), id=f"{part.id}-{placement.copy + 1}")
        for line in part.lines:
            name = _LINE_LAYER.get(line.kind, "marks")
            layer = cut if name == "cut" else _line_layer(svg, name)
            layer.path(svg.line(line.placed(placement.pose).points))
    style = {"fill": "#26212b", "text-anchor": "middle", "font-family": "sans-serif"}
    labels = svg.layer("labels", **style)
    for part, placement in sheet.parts:
        placed = part.line_up(placement.pose).placed(placement.pose)
        lx, ly = placed.label_point
        size = min(8.0, max(3.0, min(placed.width, placed.height) / 6))
        text = part_label(part, placement, sheet.number_of(part, placement))
        labels.text(f"{lx - x0:.2f}", f"{y1 - ly:.2f}", f"{size:.1f}", text)
    return svg.to_bytes()


# Nothing is cut along centre lines, arrows and marks: a plotter must not find them among scores.
_LINE_LAYER = {
    LineKind.SCORE: "score",
    LineKind.SLIT: "cut",
    LineKind.FOLD: "fold",
    LineKind.UNDERCUT: "undercut",
    LineKind.OTHER: "other face",
}


def _line_layer(svg: SvgDrawing, name: str) -> SvgLayer:
    colour = "#5c5463" if name == "marks" else "#235a8c"
    return svg.layer(name, fill="none", stroke=colour, stroke_width="0.3", stroke_dasharray="3 1.5")


def part_label(part: Part, placement: Placement, number: str) -> str:
    """Return what stands on a part: name, hand, and its `number` ("2 of 3", "spare" or empty)."""
    text = part.label
    bevels = sorted({round(abs(e.angle)) for e in part.bevels})
    if bevels:
        text += f" (bevel {', '.join(f'{b}°' for b in bevels)})"
    if number:
        text += f" {number.replace(' of ', '/')}"
    if placement.pose.mirrored:
        text += " (flipped)"
    return text


def each(sheets: list[CutSheet], going: Going) -> Iterator[CutSheet]:
    """Yield sheets one after the other, as long as it is `going`.

    Raises:
        Stopped: it is not.
    """
    for sheet in sheets:
        if not going():
            raise Stopped("Stopped: nothing is written.")
        yield sheet
