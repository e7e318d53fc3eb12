"""How templates are spread over pages: small ones share a page, large ones run over several.

Pages: A4 is 210 × 297 mm (ISO 216), US Letter 8.5 × 11 in = 215.9 × 279.4 mm (ANSI/ASME Y14.1,
size A), Tabloid 11 × 17 in (size B). A sheet of A0 has a square metre, sides as 1 : √2.
"""

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from shapely import box

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.pattern.piece import LineKind, Piece

PAGE_SIZE = {
    Paper.A4: (210.0, 297.0),
    Paper.LETTER: (215.9, 279.4),
    Paper.A3: (297.0, 420.0),
    Paper.TABLOID: (279.4, 431.8),
    Paper.A2: (420.0, 594.0),
    Paper.A1: (594.0, 841.0),
    Paper.A0: (841.0, 1189.0),
}
MARGIN = 10.0  # mm that printers leave white
FOOT = 16.0  # mm for the check bar and the page label
MOST_PAGES = 600  # of one template: more is a slip of the unit, or a piece to be parted
OVERLAP = 10.0  # mm shared by two neighbouring pages
BETWEEN = 8.0  # mm between templates that share a page
LABEL_ROOM = 6.0  # mm kept below a template for a label that does not fit inside


@dataclass(frozen=True)
class PageFrame:
    """The usable part of a page."""

    page: tuple[float, float]

    @property
    def width(self) -> float:
        """Usable width, mm."""
        return self.page[0] - 2 * MARGIN

    @property
    def height(self) -> float:
        """Usable height, mm."""
        return self.page[1] - 2 * MARGIN - FOOT

    @property
    def origin(self) -> tuple[float, float]:
        """Lower left corner of the usable part, mm from the page's."""
        return (MARGIN, MARGIN + FOOT)


@dataclass(frozen=True)
class Spot:
    """One template on a page: `pose` puts the piece on the usable part of the page (mm).

    A template may be turned a quarter where that saves paper; paper has no direction.
    """

    piece: Piece
    pose: Pose

    @cached_property
    def shape(self) -> Shape:
        """The outline on the page."""
        return self.piece.shape.placed(self.pose)


@dataclass(frozen=True)
class Tile:
    """Which part of a large template a page shows: column and row from lower left, of how many."""

    column: int
    row: int
    columns: int
    rows: int

    @property
    def name(self) -> str:
        """Label such as ``B2``: column letter, row number."""
        return f"{column_letter(self.column)}{self.row + 1}"


@dataclass(frozen=True)
class TemplatePage:
    """One page: several whole templates, or one tile of a large one."""

    spots: tuple[Spot, ...]
    tile: Tile | None = None


def column_letter(column: int) -> str:
    """Return A, B, ..., Z, AA, ..."""
    letters = ""
    column += 1
    while column:
        column, rest = divmod(column - 1, 26)
        letters = chr(65 + rest) + letters
    return letters


def frame_of(paper: Paper, correction: float = 1.0) -> PageFrame:
    """Return the usable part of a page, in mm as they are on a print enlarged by `correction`."""
    width, height = PAGE_SIZE[paper]
    return PageFrame((width / correction, height / correction))


def plan_pages(
    pieces: tuple[Piece, ...], paper: Paper, correction: float = 1.0
) -> list[TemplatePage]:
    """Spread templates over pages: those that fit share pages, in the pieces' order."""
    frame = frame_of(paper, correction)
    pages: list[TemplatePage] = []
    shelf = _Shelf(frame)
    for piece in pieces:
        room = _room(piece)
        turned = best_turn(room, frame)
        shape = room.placed(turned)
        if _fits(shape, frame):
            if not shelf.add(piece, turned, shape):
                pages += shelf.page()
                shelf = _Shelf(frame)
                shelf.add(piece, turned, shape)
        else:
            pages += _tiles(piece, turned, shape, frame)
    return pages + shelf.page()


def _room(piece: Piece) -> Shape:
    """Return what a template takes: its outline, or the box with its other face's too."""
    other = [k.points for k in piece.lines if k.kind is LineKind.OTHER]
    if not other:
        return piece.shape
    every = np.vstack([piece.shape.outer, *other])
    (x0, y0), (x1, y1) = every.min(axis=0).tolist(), every.max(axis=0).tolist()
    return Shape.make([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])


def best_turn(shape: Shape, frame: PageFrame) -> Pose:
    """Return upright, or a quarter turn where that takes fewer pages."""
    upright = _grid(shape.width, shape.height, frame)
    turned = _grid(shape.height, shape.width, frame)
    return Pose(0.0, 0.0, 90.0 if turned[0] * turned[1] < upright[0] * upright[1] else 0.0)


def _grid(width: float, height: float, frame: PageFrame) -> tuple[int, int]:
    if width <= frame.width and height + LABEL_ROOM <= frame.height:
        return 1, 1
    columns = math.ceil((width - OVERLAP) / (frame.width - OVERLAP) - 1e-9)
    rows = math.ceil((height - OVERLAP) / (frame.height - OVERLAP) - 1e-9)
    return max(1, columns), max(1, rows)


def _fits(shape: Shape, frame: PageFrame) -> bool:
    return shape.width <= frame.width and shape.height + LABEL_ROOM <= frame.height


class _Shelf:
    """Templates in rows, left to right, top to bottom."""

    def __init__(self, frame: PageFrame) -> None:
        self.frame = frame
        self.spots: list[Spot] = []
        self.x, self.top, self.row_height = 0.0, frame.height, 0.0

    def add(self, piece: Piece, turned: Pose, shape: Shape) -> bool:
        x0, y0, _, _ = shape.bounds
        width, height = shape.width, shape.height + LABEL_ROOM
        x, top, row = self.x, self.top, self.row_height
        if x > 0 and x + width > self.frame.width:
            x, top, row = 0.0, top - row - BETWEEN, 0.0
        if top - height < 0:
            return False
        pose = Pose(x - x0, top - shape.height - y0, turned.rotation)
        self.spots.append(Spot(piece, pose))
        self.x, self.top, self.row_height = x + width + BETWEEN, top, max(row, height)
        return True

    def page(self) -> list[TemplatePage]:
        return [TemplatePage(tuple(self.spots))] if self.spots else []


def _tiles(piece: Piece, turned: Pose, shape: Shape, frame: PageFrame) -> list[TemplatePage]:
    x0, y0, x1, y1 = shape.bounds
    step_x, step_y = frame.width - OVERLAP, frame.height - OVERLAP
    columns, rows = _grid(shape.width, shape.height, frame)
    # Centred, so that no page holds a sliver.
    left = x0 - (columns * step_x + OVERLAP - (x1 - x0)) / 2
    foot = y0 - (rows * step_y + OVERLAP - (y1 - y0)) / 2
    pages = []
    for row in range(rows):
        for column in range(columns):
            wx, wy = left + column * step_x, foot + row * step_y
            window = box(wx, wy, wx + frame.width, wy + frame.height)
            if shape.polygon.intersects(window):
                spot = Spot(piece, Pose(-wx, -wy, turned.rotation))
                pages.append(TemplatePage((spot,), Tile(column, row, columns, rows)))
                if len(pages) == MOST_PAGES:
                    return pages
    return pages


def check_pages(pieces: tuple[Piece, ...], paper: Paper, correction: float = 1.0) -> None:
    """Refuse templates that nobody would tape together.

    Raises:
        InputError: one takes more than `MOST_PAGES` pages.
    """
    frame = frame_of(paper, correction)
    for piece in pieces:
        room = _room(piece)
        shape = room.placed(best_turn(room, frame))
        columns, rows = _grid(shape.width, shape.height, frame)
        if columns * rows > MOST_PAGES:
            problem = f"its template takes {columns} × {rows} pages of {paper.value}"
            expected = f"at most {MOST_PAGES}: larger paper, or the piece parted"
            raise InputError(f"piece '{piece.name}'", problem, expected)
