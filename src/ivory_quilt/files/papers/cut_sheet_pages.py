"""Cut sheets as PDF: one page a sheet, parts numbered as they are cut, a list beside."""

from collections.abc import Mapping
from types import MappingProxyType

import numpy as np
from shapely import Polygon, box

from ivory_quilt.core.cutting.order import Going
from ivory_quilt.core.document.cutting import SheetKey
from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.geometry.shape import Array, Pose, Shape
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import LineKind
from ivory_quilt.core.plan.cut_facts import blade_word, later_passes
from ivory_quilt.core.plan.cutting import SheetRest, planned_rests
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.foam_stock import StockKind
from ivory_quilt.core.units import show_area, show_length, show_parts
from ivory_quilt.files.papers.cut_sheets import CutSheet, cut_sheets, each, part_label
from ivory_quilt.files.papers.pen import BOLD, CUT, INK, MONO, SCORE, SOFT, THREAD, Pen
from ivory_quilt.files.papers.tiling import sheet_page

MEASURED = 3  # parts of a sheet whose place is told in numbers
OFFCUT_LINE = (4.0, 1.2, 0.8, 1.2)
MARGIN, HEAD, LIST_WIDTH, LIST_HEIGHT = 12.0, 26.0, 66.0, 70.0
ORDER = "Numbered as they come free: scores and holes first, small before large, pairs together."
CAUTION = (
    "Cut away from yourself, with a fresh blade, on a mat; keep the other hand behind the edge."
)


NO_RESTS: Mapping[tuple[Foam, SheetKey], SheetRest] = MappingProxyType({})


def cut_sheets_pdf(
    sheets: list[CutSheet],
    paper: Paper,
    title: str,
    rests: Mapping[tuple[Foam, SheetKey], SheetRest] = NO_RESTS,
) -> bytes:
    """Return a PDF with one page a sheet: the layout to scale, and the list of what it holds.

    `rests`: what each leaves, with the labels that its offcuts get.
    """
    page = sheet_page(paper)
    pen = Pen(page, f"{title}: cut sheets")
    if not sheets:
        pen.text((20, page[1] / 2), "No layout yet: lay the pieces first.", 12)
        pen.next_page()
    for sheet in sheets:
        draw_cut_sheet(pen, page, sheet, title, rests.get(sheet.key))
        pen.next_page()
    return pen.finish()


def plan_cut_sheets_pdf(
    plan: Plan, going: Going = lambda: True, sheets: list[CutSheet] | None = None
) -> bytes:
    """Return the PDF of all cut sheets of a plan, with what each leaves.

    `sheets`: the plan's, where they are known already with their orders.

    Raises:
        Stopped: `going`, asked at each sheet, said no.
    """
    project = plan.project
    sheets = cut_sheets(plan) if sheets is None else sheets
    for sheet in each(sheets, going):
        _ = sheet.order  # takes longest, and is kept
    return cut_sheets_pdf(sheets, project.paper, project.name, planned_rests(plan))


class _Scene(Struct, frozen=True):
    """How a sheet lies on its page: turned or not, at a scale, its list beside or below."""

    turn: Pose
    scale: float
    origin: tuple[float, float]
    corner: tuple[float, float]
    beside: bool

    def on_page(self, points: Array) -> Array:
        """Return sheet coordinates on the page, mm."""
        at = (self.turn.apply(points) - self.corner) * self.scale + self.origin
        return np.asarray(at, dtype=np.float64)


def _scene(page: tuple[float, float], shape: Shape) -> _Scene:
    """Choose what shows the sheet largest."""
    width, height = page[0] - 2 * MARGIN, page[1] - 2 * MARGIN - HEAD
    best: tuple[float, float, bool] | None = None
    for rotation in (0.0, 90.0):
        across, up = shape.width, shape.height
        if rotation:
            across, up = up, across
        for beside in (False, True):
            room_x = width - (LIST_WIDTH if beside else 0)
            room_y = height - (0 if beside else LIST_HEIGHT) - 6
            scale = min(room_x / across, room_y / up, 1.0)
            if best is None or scale > best[0] * 1.001:
                best = (scale, rotation, beside)
    assert best is not None
    scale, rotation, beside = best
    turn = Pose(0.0, 0.0, rotation)
    placed = shape.placed(turn)
    origin = (MARGIN, page[1] - MARGIN - HEAD - placed.height * scale)
    return _Scene(turn, scale, origin, placed.bounds[:2], beside)


def draw_cut_sheet(
    pen: Pen, page: tuple[float, float], sheet: CutSheet, title: str, rest: SheetRest | None
) -> None:
    """Draw one cut sheet over a page of so many mm; `rest` is what it leaves, if that is known."""
    scene = _scene(page, sheet.shape)
    numbers: dict[str, int] = {}
    counts: dict[str, int] = {}
    for part, _ in sheet.in_order:
        numbers.setdefault(part.label, len(numbers) + 1)
        counts[part.label] = counts.get(part.label, 0) + 1
    top = page[1] - MARGIN
    pen.colour(INK)
    pen.text((MARGIN, top - 6), sheet.title, 16, BOLD)
    size = f"{sheet.shape.width:.0f} × {sheet.shape.height:.0f} mm"
    pen.text((MARGIN, top - 12), f"{sheet.origin} · {size} · {sheet.face}", 9)
    left = 100 * (1.0 - sheet.use.density)
    words = f"{show_parts(len(sheet.parts))} · {left:.0f} % of the foam left over"
    pen.text((MARGIN, top - 17), f"{words} · drawn at 1 : {1 / scene.scale:.2g}", 9)
    cuts = sum(c.stroke.length for c in sheet.order.cuts) / 1000
    way = sheet.order.travel / 1000
    said = f"Cuts {cuts:.1f} m, {way:.1f} m between them; about {sheet.minutes:.0f} min."
    settings = dict.fromkeys(blade_word(setting) for _, setting in sheet.order.passes)
    if len(settings) > 1:
        said += f" Blade: {', '.join(settings)}."
    pen.text((MARGIN, top - 22), f"{ORDER} {said}", 8)
    pen.colour(THREAD, 0.4)
    for ring in sheet.shape.rings:
        pen.polyline(scene.on_page(ring), closed=True)
    for part, placement in sheet.parts:
        placed = part.line_up(placement.pose).placed(placement.pose)
        pen.colour(CUT, 0.3)
        for ring in placed.rings:
            pen.polyline(scene.on_page(ring), closed=True)
        for line in part.lines:
            told = line.kind is LineKind.OTHER
            pen.colour(*((SOFT, 0.15, (0.4, 0.7)) if told else (SCORE, 0.2, (1.2, 0.8))))
            pen.polyline(scene.on_page(line.placed(placement.pose).points), closed=False)
        text = part_label(part, placement, sheet.number_of(part, placement))
        _label(pen, scene, placed, text, numbers[part.label])
    _corner(pen, scene, sheet.shape)
    rows = [*_part_rows(sheet, numbers, counts)]
    if rest is not None:
        rows += _rest_rows(pen, scene, rest)
    _list(pen, page, scene, rows)
    pen.colour(SOFT)
    pen.text((MARGIN, MARGIN - 1), CAUTION, 7)
    area = show_area(sum(p.shape.area for p, _ in sheet.parts))
    pen.text(
        (page[0] - MARGIN, MARGIN - 1),
        f"{title} · parts {area}".removeprefix(" · "),
        7,
        MONO,
        right=True,
    )


def _part_rows(sheet: CutSheet, numbers: dict[str, int], counts: dict[str, int]) -> list["_Row"]:
    """Return what is cut; where the first ones lie, from the sheet's corner, to begin with."""
    notes = {
        part.label: [words for words in (later_passes(part), *part.notes) if words]
        for part, _ in sheet.parts
    }
    x0, y0, _, _ = sheet.shape.bounds
    first: set[str] = set()
    for part, placement in sheet.in_order:
        if part.label in first or len(first) == MEASURED:
            continue
        first.add(part.label)
        left, low, _, _ = part.line_up(placement.pose).placed(placement.pose).bounds
        across, up = show_length(left - x0, digits=0), show_length(low - y0, digits=0)
        one = "the first is" if counts[part.label] > 1 else "is"
        notes[part.label].insert(0, f"{one} {across} along, {up} up from 0")
    return [_Row(str(n), f"{counts[k]} × {k}", ", ".join(notes[k])) for k, n in numbers.items()]


def _corner(pen: Pen, scene: _Scene, shape: Shape) -> None:
    """Mark the corner that is measured from, and which way is along and up."""
    x0, y0, x1, y1 = shape.bounds
    size = min(x1 - x0, y1 - y0, 12.0 / scene.scale)
    at, along, up = scene.on_page(np.array([(x0, y0), (x0 + size, y0), (x0, y0 + size)]))
    pen.colour(INK, 0.6)
    pen.line(*at, *along)
    pen.line(*at, *up)
    away = 2 * at - (along + up) / 2
    away = at + (away - at) / np.linalg.norm(away - at) * 3.0
    pen.text((float(away[0]), float(away[1]) - 1.0), "0", 8, BOLD, centred=True)
    for end, word in ((along, "along"), (up, "up")):
        beside = (
            end
            + (away - at)
            - (end - at) * np.dot(away - at, end - at) / np.dot(end - at, end - at)
        )
        with pen.turned(float(beside[0]), float(beside[1]), 90.0 * (abs(end[0] - at[0]) < 1.0)):
            pen.text((0.0, 0.0), word, 6, centred=True)


def _rest_rows(pen: Pen, scene: _Scene, rest: SheetRest) -> list["_Row"]:
    """Draw where offcuts are cut off, with their labels; return them for the list."""
    sizes = {i.id: i.size_text for i in rest.items}
    rows = []
    for label, shape in rest.places:
        pen.colour(INK, 0.3, OFFCUT_LINE)
        pen.polyline(scene.on_page(shape.outer), closed=True)
        x, y = scene.on_page(np.array([shape.label_point]))[0]
        pen.colour(INK)
        pen.text((x, y), label, 10, BOLD, centred=True)
        rows.append(_Row(label, f"offcut, {sizes[label]}", "goes to the shelf with this label"))
    rows += [
        _Row(i.id, f"rest of the roll, {i.size_text}", "goes to the shelf with this label")
        for i in rest.items
        if i.kind is StockKind.ROLL
    ]
    return rows


def _label(pen: Pen, scene: _Scene, placed: Shape, text: str, number: int) -> None:
    """Write the part's number, and its name where that fits inside the outline."""
    x, y = scene.on_page(np.array([placed.label_point]))[0]
    outline = Polygon(scene.on_page(placed.outer))
    pen.colour(INK)
    for size in (7.0, 6.0, 5.0):
        w = pen.text_width(text, size)
        if outline.covers(box(x - w / 2, y - 3.4, x + w / 2, y + 3.2)):
            pen.text((x, y + 0.4), str(number), 8, BOLD, centred=True)
            pen.text((x, y - 2.8), text, size, centred=True)
            return
    size = 8.0 if outline.area > 60 else 5.5
    pen.text((x, y - size * 0.12), str(number), size, BOLD, centred=True)


class _Row(Struct, frozen=True):
    """One line of the list: its number or label, how many of what, what the bench must know."""

    number: str
    text: str
    note: str


LINE, NOTE_LINE = 4.6, 3.2  # mm from line to line
NAME_SIZE, NOTE_SIZE, LEAST_SIZE = 8.0, 6.0, 4.5  # points


def _list(pen: Pen, page: tuple[float, float], scene: _Scene, rows: list[_Row]) -> None:
    """Write what is cut from the sheet, with boxes to tick."""
    if scene.beside:
        left, top = page[0] - MARGIN - LIST_WIDTH + 6, page[1] - MARGIN - HEAD - 3
        width, room = LIST_WIDTH - 6, top - MARGIN - 6
    else:
        left, top = MARGIN, scene.origin[1] - 8
        width, room = page[0] - 2 * MARGIN, top - MARGIN - 6
    pen.colour(INK)
    pen.text((left, top), "Cut from this sheet", 9, BOLD)
    most = max(1, -(-len(rows) // max(1, int((room - 4) / LINE))))
    for columns in range(most, most + 3):  # notes take lines of their own: perhaps a column more
        notes = [pen.wrapped(r.note, width / columns - 11, NOTE_SIZE) for r in rows]
        places = _flowed([LINE + NOTE_LINE * len(n) for n in notes], room - 2)
        if places[-1][0] < columns:
            break
    for row, note, (column, down) in zip(rows, notes, places, strict=True):
        x, y = left + column * width / columns, top - 6 - down
        pen.colour(INK, 0.25)
        pen.rectangle(x, y - 0.4, 2.6, 2.6, fill=False)
        pen.text((x + 8, y), row.number, NAME_SIZE, BOLD, right=True)
        size = NAME_SIZE
        while size > LEAST_SIZE and pen.text_width(row.text, size) > width / columns - 11:
            size -= 0.5
        pen.text((x + 10, y), row.text, size)
        for k, words in enumerate(note, 1):
            pen.text((x + 10, y - NOTE_LINE * k), words, NOTE_SIZE)


def _flowed(heights: list[float], room: float) -> list[tuple[int, float]]:
    """Return in which column each row comes, and how far down, mm."""
    places, column, down = [], 0, 0.0
    for height in heights:
        if down and down + height > room:
            column, down = column + 1, 0.0
        places.append((column, down))
        down += height
    return places
