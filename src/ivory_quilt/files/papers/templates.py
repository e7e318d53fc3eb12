"""Full-size templates as a PDF: what a maker cuts out and traces onto foam.

Every template says all that is to be known of it; every page has check bars both ways, a label,
where pages are taped a map of them, and at joins registration crosses that come to lie on those of
the next page.
"""

from ivory_quilt.core.cutting.paper_layout import OVERLAP
from ivory_quilt.core.plan.templates import use_words
from ivory_quilt.core.units import counted, show_number
from ivory_quilt.files.papers.pen import BOLD, INK, MONO, SOFT, THREAD, Pen
from ivory_quilt.files.papers.template_drawing import draw_template
from ivory_quilt.files.papers.tiling import (
    FOOT,
    MARGIN,
    PageFrame,
    TemplatePage,
    TemplatePapers,
    Tile,
)

CHECK_BAR = 100.0  # mm
SIDE_BAR = 50.0  # mm, upright
A4 = (210.0, 297.0)
LINE = 0.5  # mm: more than half the widest line
STRIP_LINE = 6.0  # mm from line to line in the list of strips


def templates_pdf(
    papers: TemplatePapers, title: str, materials: dict[str, str], correction: float = 1.0
) -> bytes:
    """Return a PDF of full-size templates.

    Args:
        papers: the pages.
        title: the project's name.
        materials: material ids to names.
        correction: the factor that makes the printer's prints true.
    """
    first = papers.pages[0].size if papers.pages else (A4[0] / correction, A4[1] / correction)
    pen = Pen(_true(first, correction), f"{title}: templates", correction)
    total = len(papers.pages)
    for number, page in enumerate(papers.pages, 1):
        pen.set_page(_true(page.size, correction))
        _page(pen, page, f"{title} · {papers.version} · {number} of {total}")
        pen.next_page()
    if papers.strips:
        _strips(pen, papers, title, materials, first)
    elif not papers.pages:
        pen.text((MARGIN, first[1] / 2), "No pieces to print.", 12)
        pen.next_page()
    return pen.finish()


def _true(size: tuple[float, float], correction: float) -> tuple[float, float]:
    return size[0] * correction, size[1] * correction


def _page(pen: Pen, page: TemplatePage, foot: str) -> None:
    frame = PageFrame(page.size)
    ox, oy = frame.origin
    # A line at the very edge keeps its whole width.
    pen.clip(ox - LINE, oy - LINE, frame.width + 2 * LINE, frame.height + 2 * LINE)
    for spot in page.spots:
        draw_template(pen, spot, frame)
    pen.unclip()
    if page.tile is not None:
        _joins(pen, frame, page.tile)
    _foot(pen, frame, page, foot)


def _joins(pen: Pen, frame: PageFrame, tile: Tile) -> None:
    """Draw the trim lines in the middle of each overlap, with crosses at quarters of them."""
    ox, oy = frame.origin
    w, h = frame.width, frame.height
    half = OVERLAP / 2
    there = set(tile.pages)
    column, row = tile.column, tile.row
    sides = [(ox + half, (column - 1, row)), (ox + w - half, (column + 1, row))]
    for x, beside in sides:
        if beside in there:
            pen.colour(THREAD, 0.2, (2.0, 2.0))
            pen.line(x, oy, x, oy + h)
            for share in (0.25, 0.75):
                _cross(pen, x, oy + share * h)
    sides = [(oy + half, (column, row - 1)), (oy + h - half, (column, row + 1))]
    for y, beside in sides:
        if beside in there:
            pen.colour(THREAD, 0.2, (2.0, 2.0))
            pen.line(ox, y, ox + w, y)
            for share in (0.25, 0.75):
                _cross(pen, ox + share * w, y)


def _cross(pen: Pen, x: float, y: float) -> None:
    pen.colour(INK, 0.25)
    pen.line(x - 4, y, x + 4, y)
    pen.line(x, y - 4, x, y + 4)


def _map(pen: Pen, tile: Tile, right: float, foot: float) -> float:
    """Draw which page of its sheet this is; return how wide that is, mm."""
    side = min(3.0, 12.0 / max(tile.columns, 0.75 * tile.rows))
    wide = tile.columns * side
    for column, row in tile.pages:
        x, y = right - wide + column * side, foot + row * side * 1.35
        here = (column, row) == (tile.column, tile.row)
        pen.colour(INK if here else SOFT, 0.2)
        pen.rectangle(x, y, side, side * 1.35, fill=here)
    return wide


def _bars(pen: Pen, frame: PageFrame) -> None:
    """Draw a bar along the foot and one up the left margin, to be measured before cutting."""
    y = MARGIN + 4
    pen.colour(INK, 0.3)
    pen.line(MARGIN, y, MARGIN + CHECK_BAR, y)
    for k in range(11):
        tick = 2.5 if k % 5 == 0 else 1.5
        pen.line(MARGIN + 10 * k, y, MARGIN + 10 * k, y + tick)
    pen.colour(SOFT)
    pen.text((MARGIN, y - 3.6), "0", 7, MONO)
    pen.text((MARGIN + CHECK_BAR, y - 3.6), "100 mm: measure before you cut", 7, right=True)
    # Upright, above the foot: printers stretch the two ways differently.
    x = frame.page[0] - MARGIN + 0.6
    foot = MARGIN + FOOT
    pen.colour(INK, 0.3)
    pen.line(x, foot, x, foot + SIDE_BAR)
    for k in range(6):
        pen.line(x, foot + 10 * k, x + (2.0 if k % 5 == 0 else 1.2), foot + 10 * k)
    with pen.turned(x + 4.0, foot + SIDE_BAR / 2, 90.0):
        pen.colour(SOFT)
        pen.text((0.0, 0.0), "50 mm", 7, centred=True)


def _foot(pen: Pen, frame: PageFrame, page: TemplatePage, foot: str) -> None:
    _bars(pen, frame)
    y, right, tile = MARGIN + 4, frame.page[0] - MARGIN, page.tile
    words_right = right
    if tile is not None:
        with pen.furniture():
            words_right -= _map(pen, tile, right, y - 3.6) + 3.0
    pen.colour(INK)
    if tile is not None:
        pen.text((words_right, y + 4.5), f"page {tile.name}", 9, BOLD, right=True)
        where = f"column {tile.column + 1} of {tile.columns}, row {tile.row + 1} of {tile.rows}"
        pen.text((words_right, y + 0.8), f"tape sheet {tile.sheet}: {where}", 7, right=True)
    else:
        many = counted(len(page.spots), "template")
        pen.text((words_right, y + 4.5), many, 9, BOLD, right=True)
        pen.text((words_right, y + 0.8), "whole on this page", 7, right=True)
    pen.colour(SOFT)
    pen.text((words_right, y - 3.6), foot, 7, right=True)
    pen.colour(THREAD, 0.25, (1.2, 0.9))
    pen.line(MARGIN, MARGIN + FOOT - 2, right, MARGIN + FOOT - 2)


def _strips(
    pen: Pen,
    papers: TemplatePapers,
    title: str,
    materials: dict[str, str],
    size: tuple[float, float],
) -> None:
    """List straight strips, which a rule and numbers give as well as a template."""
    size = size if size[0] < 1000 else A4  # of a roll a plain page is enough
    top = size[1] - MARGIN - 8.0
    room = max(1, int((top - 10.0 - MARGIN - FOOT) / (2 * STRIP_LINE)))
    for first in range(0, len(papers.strips), room):
        pen.set_page(size)
        pen.colour(INK)
        pen.text((MARGIN, top), "Straight strips: cut by numbers", 14, BOLD)
        y = top - 10.0
        for template in papers.strips[first : first + room]:
            shape = template.piece.shape
            long, wide = max(shape.width, shape.height), min(shape.width, shape.height)
            pen.colour(INK)
            name = " and ".join(f"{u.number} {u.piece.name}" for u in template.uses)
            pen.text((MARGIN, y), name, 9, BOLD)
            numbers = f"{show_number(long, 1)} × {show_number(wide, 1)} mm"
            pen.text((size[0] - MARGIN, y), numbers, 10, MONO, right=True)
            said = "; ".join(
                use_words(u, materials.get(u.piece.material, u.piece.material))
                for u in template.uses
            )
            whom = f" · for {template.whom}" if template.whom else ""
            pen.text((MARGIN, y - 4.2), f"{said}{whom} · {template.code}", 7)
            pen.colour(THREAD, 0.25, (1.2, 0.9))
            pen.line(MARGIN, y - 6.4, size[0] - MARGIN, y - 6.4)
            y -= 2 * STRIP_LINE
        pen.colour(SOFT)
        pen.text((MARGIN, MARGIN), f"{title} · {papers.version}", 7)
        pen.next_page()


__all__ = ["CHECK_BAR", "templates_pdf"]
