"""How templates are spread over pages, at true size, on as few as may be.

Pages: A4 is 210 × 297 mm (ISO 216), US Letter 8.5 × 11 in = 215.9 × 279.4 mm (ANSI/ASME Y14.1,
size A), Tabloid 11 × 17 in (size B). A sheet of A0 has a square metre, sides as 1 : √2. Rolls are
as wide as large printers take them: 24 and 36 in.
"""

import math
from collections.abc import Iterator, Sequence
from functools import cached_property

from ivory_quilt.core.cutting.paper_layout import (
    LayPaper,
    PaperFrame,
    PaperLayout,
    TapedSheet,
    grid_of,
    lay_paper,
)
from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import Template, templates_of, version_of
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.files.papers.template_face import TemplateFace, face_of

PAGE_SIZE = {
    Paper.A4: (210.0, 297.0),
    Paper.LETTER: (215.9, 279.4),
    Paper.A3: (297.0, 420.0),
    Paper.TABLOID: (279.4, 431.8),
    Paper.A2: (420.0, 594.0),
    Paper.A1: (594.0, 841.0),
    Paper.A0: (841.0, 1189.0),
}
ROLL_WIDTH = {Paper.ROLL_24: 609.6, Paper.ROLL_36: 914.4}
LONGEST = 4800.0  # mm of one page of a roll: a PDF page has 200 inches at most
MARGIN = 10.0  # mm that printers leave white
FOOT = 16.0  # mm for the check bar and the page label
HAIR = 0.02  # mm: the engine lays within a hundredth of an edge
MOST_PAGES = 600  # of one template: more is a slip of the unit, or a piece to be parted


class PageFrame(Struct, frozen=True):
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


class Spot(Struct, frozen=True, dict=True):
    """One template on a page: `pose` puts the piece on the usable part of the page (mm).

    `whole` says that all of it is on this page.
    """

    face: TemplateFace
    pose: Pose
    whole: bool

    @cached_property
    def shape(self) -> Shape:
        """The outline on the page."""
        return self.face.template.piece.shape.placed(self.pose)


class Tile(Struct, frozen=True):
    """Which page of a taped sheet this is.

    Attributes:
        sheet: number of the taped sheet, from 1.
        column: from the left, from 0.
        row: from below.
        columns: of the sheet.
        rows: of it.
        pages: (column, row) of the pages that the sheet has.
    """

    sheet: int
    column: int
    row: int
    columns: int
    rows: int
    pages: tuple[tuple[int, int], ...]

    @property
    def name(self) -> str:
        """Label such as ``2-B1``: sheet, column letter, row number."""
        return f"{self.sheet}-{column_letter(self.column)}{self.row + 1}"


class TemplatePage(Struct, frozen=True):
    """One page: whole templates, and parts of large ones where it is a tile of a taped sheet.

    `size` is the whole page's, mm.
    """

    size: tuple[float, float]
    spots: tuple[Spot, ...]
    tile: Tile | None = None


class TemplatePapers(Struct, frozen=True, eq=False):
    """All pages of templates.

    Attributes:
        pages: in the order in which they are printed.
        strips: what is told in numbers instead.
        bound: no layout takes fewer pages, by area (of a roll: mm of length).
        version: of all templates of the project.
        templates: those printed and those told in numbers.
    """

    pages: tuple[TemplatePage, ...]
    strips: tuple[Template, ...]
    bound: int
    version: str
    templates: tuple[Template, ...]


def column_letter(column: int) -> str:
    """Return A, B, ..., Z, AA, ..."""
    letters = ""
    column += 1
    while column:
        column, rest = divmod(column - 1, 26)
        letters = chr(65 + rest) + letters
    return letters


def sheet_page(paper: Paper) -> tuple[float, float]:
    """Return the page that overviews are drawn on: the paper's, or A4 where that is a roll, mm."""
    return PAGE_SIZE.get(paper, PAGE_SIZE[Paper.A4])


def frame_of(paper: Paper, correction: float = 1.0) -> PageFrame:
    """Return the usable part of a page, in mm as they are on a print enlarged by `correction`."""
    if paper in ROLL_WIDTH:
        return PageFrame((LONGEST / correction, ROLL_WIDTH[paper] / correction))
    width, height = PAGE_SIZE[paper]
    return PageFrame((width / correction, height / correction))


def plan_pages(
    templates: Sequence[Template],
    paper: Paper,
    lay: LayPaper,
    *,
    materials: dict[str, str] | None = None,
    day: str = "",
    correction: float = 1.0,
    strips: bool = False,
    version: str = "",
) -> TemplatePapers:
    """Return the pages of templates.

    Args:
        templates: what is printed, in the project's order.
        paper: what on.
        lay: lays a job of paper (`paper_layout`).
        materials: ids to names.
        day: on which it is made, in words; empty where nobody says.
        correction: the factor that makes the printer's prints true.
        strips: whether plain straight strips are told in numbers.
        version: of the project's templates; empty: of these.

    Raises:
        InputError: a template that takes hundreds of pages.
        Stopped: `lay` was stopped.
    """
    told = tuple(t for t in templates if strips and t.is_strip)
    drawn = [t for t in templates if not (strips and t.is_strip)]
    version = version or version_of(templates)
    made = " · ".join(word for word in (day, f"version {version}") if word)
    faces = [face_of(t, materials or {}, made) for t in drawn]
    frame = frame_of(paper, correction)
    usable = PaperFrame(frame.width, frame.height, paper in ROLL_WIDTH)
    _check_size(faces, usable, paper)
    by_id = {str(k): face for k, face in enumerate(faces)}
    layout = lay_paper([(i, f.occupied) for i, f in by_id.items()], usable, lay)
    pages = tuple(_pages(layout, by_id, frame))
    return TemplatePapers(pages, told, layout.bound, version, tuple(templates))


def papers_of(
    plan: Plan,
    lay: LayPaper,
    day: str = "",
    *,
    wanted: frozenset[str] | None = None,
    wearer: str = "",
    correction: float = 1.0,
    strips: bool = True,
) -> TemplatePapers:
    """Return the pages of a plan's templates, on the project's paper; see `plan_pages`.

    Args:
        plan: all that is cut.
        lay: lays a job of paper.
        day: on which it is made, in words.
        wanted: ids of the pieces that are wanted; None: all.
        wearer: the id of the one wearer they are for; empty: all.
        correction: the factor that makes the printer's prints true.
        strips: whether plain straight strips are told in numbers.

    Raises:
        InputError: a template that takes hundreds of pages.
    """
    every = templates_of(plan)
    chosen = every if wanted is None and not wearer else templates_of(plan, wanted, wearer)
    return plan_pages(
        chosen,
        plan.project.paper,
        lay,
        materials=material_names(plan),
        day=day,
        correction=correction,
        strips=strips,
        version=version_of(every),
    )


def material_names(plan: Plan) -> dict[str, str]:
    """Return what the shop calls its materials, by id."""
    return {m.id: m.name for m in plan.stock.materials}


def _pages(
    layout: PaperLayout, faces: dict[str, TemplateFace], frame: PageFrame
) -> Iterator[TemplatePage]:
    # Sheets come in the order of the first template that lies on them.
    sheets = sorted(layout.sheets, key=lambda s: min(int(p.template) for p in s.spots))
    for number, sheet in enumerate(sheets, 1):
        for column, row in sheet.pages:
            spots = tuple(_spots(sheet, column, row, faces))
            if len(sheet.pages) == 1 and sheet.columns == sheet.rows == 1:
                size = (sheet.size[0] + 2 * MARGIN, frame.page[1])
                yield TemplatePage(size, spots)
            else:
                tile = Tile(number, column, row, sheet.columns, sheet.rows, sheet.pages)
                yield TemplatePage(frame.page, spots, tile)


def _spots(
    sheet: TapedSheet, column: int, row: int, faces: dict[str, TemplateFace]
) -> Iterator[Spot]:
    x, y = sheet.corner(column, row)
    for spot in sheet.spots:
        face = faces[spot.template]
        placed = face.occupied.placed(spot.pose).polygon
        # What is whole on a page is on no other, though their edges overlap.
        whole = (p for p in sheet.pages if sheet.window(*p).buffer(HAIR).covers(placed))
        home = next(whole, None)
        if home == (column, row) or (home is None and placed.intersects(sheet.window(column, row))):
            pose = replace(spot.pose, x=spot.pose.x - x, y=spot.pose.y - y)
            yield Spot(face, pose, whole=home is not None)


def _check_size(faces: Sequence[TemplateFace], frame: PaperFrame, paper: Paper) -> None:
    """Refuse templates that nobody would tape together."""
    for face in faces:
        shape, name = face.occupied, face.template.piece.name
        if frame.endless:
            long, wide = max(shape.width, shape.height), min(shape.width, shape.height)
            if wide > frame.height or long > frame.width:
                room = f"{frame.width:.0f} × {frame.height:.0f} mm"
                problem = f"its template of {long:.0f} × {wide:.0f} mm is larger than the roll"
                raise InputError(f"piece '{name}'", problem, f"at most {room}, or the piece parted")
            continue
        columns, rows = min(
            grid_of(shape.width, shape.height, frame),
            grid_of(shape.height, shape.width, frame),
            key=math.prod,
        )
        if columns * rows > MOST_PAGES:
            problem = f"its template takes {columns} × {rows} pages of {paper.value}"
            expected = f"at most {MOST_PAGES}: larger paper, or the piece parted"
            raise InputError(f"piece '{name}'", problem, expected)
