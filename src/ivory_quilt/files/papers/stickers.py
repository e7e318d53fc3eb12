"""Stickers for parts and for offcuts, on sheets of labels: a name, what it is, and a square code.

The sheets are common ones: A4 with 3 × 8 labels of 70 × 37 mm, US Letter with 3 × 10 labels of
2 5/8 × 1 in (common practice, no source).
"""

from collections.abc import Sequence
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import shelf_code, templates_by_part
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.foam_stock import ShopStock, StockItem, StockKind
from ivory_quilt.core.units import show_thickness
from ivory_quilt.files.papers.code_square import QUIET, code_square
from ivory_quilt.files.papers.pen import BOLD, INK, SANS, Pen

EDGE = 3.0  # mm kept white on a label
SIDE = 0.45  # mm a module
NAME, WORDS, LEAST = 10.0, 7.5, 4.5  # points
LINE = 1.25 * 25.4 / 72  # mm of a line a point
LEFT_OVER = (StockKind.OFFCUT, StockKind.ROLL)


class StickerPaper(StrEnum):
    """A sheet of labels."""

    A4_24 = "A4, 24 labels"
    LETTER_30 = "US Letter, 30 labels"

    @property
    def grid(self) -> "StickerGrid":
        """Where its labels lie."""
        if self is StickerPaper.A4_24:
            return StickerGrid((210.0, 297.0), 3, 8, (70.0, 37.0), (0.0, 0.5), (0.0, 0.0))
        return StickerGrid((215.9, 279.4), 3, 10, (66.675, 25.4), (4.7625, 12.7), (3.175, 0.0))


class StickerGrid(Struct, frozen=True):
    """Labels on a sheet: columns and rows of `size`, the first at `corner` from the upper left."""

    page: tuple[float, float]
    columns: int
    rows: int
    size: tuple[float, float]
    corner: tuple[float, float]
    gap: tuple[float, float]

    @property
    def many(self) -> int:
        """How many labels a sheet has."""
        return self.columns * self.rows

    def place(self, number: int) -> tuple[float, float]:
        """Return the upper left corner of a label, row by row from 0, mm from the lower left."""
        row, column = divmod(number % self.many, self.columns)
        x = self.corner[0] + column * (self.size[0] + self.gap[0])
        y = self.page[1] - self.corner[1] - row * (self.size[1] + self.gap[1])
        return x, y


class Sticker(Struct, frozen=True):
    """What stands on one label."""

    title: str
    lines: tuple[str, ...]
    code: str


def part_stickers(plan: Plan) -> tuple[Sticker, ...]:
    """Return a sticker for each part that is cut, thin foam first."""
    templates = templates_by_part(plan)
    made = []
    for foam in plan.foams:
        thick = show_thickness(foam.foam.thickness)
        what = f"{thick} {plan.stock.material_name(foam.foam.material)}"
        for part in foam.parts:
            number, template = templates[part.id]
            for copy in range(part.cut_count):
                title = f"{number} {part.label}"
                lines = (part.number(copy), what, ", ".join(part.notes))
                made.append(Sticker(title, tuple(k for k in lines if k), template.code))
    return tuple(made)


def shelf_stickers(stock: ShopStock) -> tuple[Sticker, ...]:
    """Return a sticker for each offcut and rest of a roll on the shelf."""
    return tuple(_shelf_sticker(i, stock) for i in stock.items if i.owned and i.kind in LEFT_OVER)


def _shelf_sticker(item: StockItem, stock: ShopStock) -> Sticker:
    thick = show_thickness(item.foam.thickness)
    what = f"{thick} {stock.material_name(item.foam.material)}"
    return Sticker(item.name, (what, item.size_text), shelf_code(item.id))


def stickers_pdf(
    stickers: Sequence[Sticker], paper: StickerPaper, title: str, first: int = 1
) -> bytes:
    """Return stickers as a PDF; labels before the `first`, from 1, are used already.

    Raises:
        InputError: there are none, or a sheet has no such label.
    """
    grid = paper.grid
    if not stickers:
        raise InputError("stickers", "there is nothing to label", "parts, or offcuts on the shelf")
    if not 1 <= first <= grid.many:
        raise InputError("first label", f"{first}", f"1 to {grid.many}")
    pen = Pen(grid.page, f"{title}: stickers")
    for number, sticker in enumerate(stickers, first - 1):
        if number and number % grid.many == 0 and number > first - 1:
            pen.next_page()
        _sticker(pen, sticker, grid.place(number), grid.size)
    pen.next_page()
    return pen.finish()


def _sticker(
    pen: Pen, sticker: Sticker, corner: tuple[float, float], size: tuple[float, float]
) -> None:
    x, top = corner[0] + EDGE, corner[1] - EDGE
    room = size[0] - 2 * EDGE
    pen.colour(INK)
    if sticker.code:
        dark = code_square(sticker.code)
        side = SIDE * (len(dark) + 2 * QUIET)
        right = corner[0] + size[0] - EDGE - side
        pen.modules((right + SIDE * QUIET, top - SIDE * QUIET), SIDE, dark)
        room -= side
    pen.colour(INK)
    lines = [(NAME, BOLD, text) for text in pen.wrapped(sticker.title, room, NAME, BOLD)[:2]]
    lines += [(WORDS, SANS, text) for text in sticker.lines]
    if sticker.code:
        lines.append((WORDS, SANS, sticker.code))
    y, foot = top, corner[1] - size[1] + EDGE
    for points, font, text in lines:
        y -= points * LINE
        if y < foot - 0.5:
            return
        fitted = points
        while fitted > LEAST and pen.text_width(text, fitted, font) > room:
            fitted -= 0.5
        pen.text((x, y), text, fitted, font)
