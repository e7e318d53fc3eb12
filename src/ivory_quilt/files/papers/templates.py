"""Full-size templates as a PDF: what a maker cuts out and traces onto foam.

Every template says its name, hand, count, thickness and face; every page has a 100 mm check bar,
a label, and at its joins registration crosses that come to lie on those of the next page.
"""

from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.pattern.piece import FaceUp, Hand, LineKind, Piece, Turn
from ivory_quilt.core.project import Project
from ivory_quilt.core.units import show_thickness
from ivory_quilt.files.papers.pen import BOLD, CUT, INK, MONO, SCORE, SOFT, THREAD, Pen
from ivory_quilt.files.papers.tiling import (
    FOOT,
    MARGIN,
    OVERLAP,
    PAGE_SIZE,
    Frame,
    Spot,
    TemplatePage,
    Tile,
    plan_pages,
)

CHECK_BAR = 100.0  # mm
_DASH = {LineKind.SCORE: (3.0, 1.5), LineKind.FOLD: (6.0, 1.5, 1.0, 1.5), LineKind.MARK: (1.0, 1.0)}


def template_words(piece: Piece, material: str) -> list[str]:
    """Return the lines that a template says about its piece."""
    thickness = show_thickness(piece.thickness)
    if piece.hand is Hand.PAIR:
        other = "right" if piece.drawn_hand is Hand.LEFT else "left"
        cut = f"cut {piece.count} {piece.drawn_hand.value} as drawn, {piece.count} {other} flipped"
    else:
        hand = "" if piece.hand is Hand.NONE else f" {piece.hand.value}"
        cut = f"cut {piece.count}{hand}"
    face = {
        FaceUp.EITHER: "either face up",
        FaceUp.SKIN: "skin face up",
        FaceUp.TEXTURED: "textured face up",
    }[piece.face]
    turn = " · arrow along the sheet" if piece.turn is Turn.DIRECTION else ""
    return [piece.name, cut, f"{thickness} {material} · {face}{turn}"]


def templates_pdf(project: Project, pieces: tuple[Piece, ...], materials: dict[str, str]) -> bytes:
    """Return a PDF of full-size templates for `pieces` on the project's paper.

    `materials` maps material ids to names.
    """
    page_size = PAGE_SIZE[project.paper]
    frame = Frame(page_size)
    pages = plan_pages(pieces, project.paper)
    pen = Pen(page_size, f"{project.name}: templates")
    for number, page in enumerate(pages, 1):
        _page(pen, frame, page, project, number, len(pages), materials)
        pen.next_page()
    if not pages:
        pen.text((MARGIN, page_size[1] / 2), "No pieces to print.", 12)
        pen.next_page()
    return pen.finish()


def _page(
    pen: Pen,
    frame: Frame,
    page: TemplatePage,
    project: Project,
    number: int,
    of: int,
    materials: dict[str, str],
) -> None:
    ox, oy = frame.origin
    pen.clip(ox, oy, frame.width, frame.height)
    for spot in page.spots:
        _template(pen, (ox + spot.at[0], oy + spot.at[1]), spot, page.tile, frame, materials)
    pen.unclip()
    if page.tile is not None:
        _joins(pen, frame, page.tile)
    _foot(pen, frame, page, project, number, of)


def _template(
    pen: Pen,
    at: tuple[float, float],
    spot: Spot,
    tile: Tile | None,
    frame: Frame,
    materials: dict[str, str],
) -> None:
    piece, pose = spot.piece, Pose(*at)
    pen.colour(CUT, 0.35)
    pen.shape(piece.shape.placed(pose))
    for line in piece.lines:
        pen.colour(SCORE, 0.3, _DASH[line.kind])
        pen.polyline(line.placed(pose).points, closed=False)
    pen.colour(INK, 0.4)
    for x, y in piece.match_marks:
        pen.line(at[0] + x - 2, at[1] + y, at[0] + x + 2, at[1] + y)
        pen.line(at[0] + x, at[1] + y - 2, at[0] + x, at[1] + y + 2)
    words = template_words(piece, materials.get(piece.material, piece.material))
    lx, ly = piece.shape.label_point
    x, y = at[0] + lx, at[1] + ly
    inside = min(piece.shape.width, piece.shape.height) >= 30
    widest = max(pen.text_width(w, 8) for w in words)
    ox, oy = frame.origin
    if tile is not None:  # on every page of a large piece, the words stay on the page
        x = min(max(x, ox + widest / 2 + 12), ox + frame.width - widest / 2 - 12)
        y = min(max(y, oy + 24), oy + frame.height - 24)
    if inside and widest <= piece.shape.width * 0.92:
        _words(pen, x, y, words)
        if piece.turn is Turn.DIRECTION:
            _arrow(pen, x, y - 12, min(40.0, piece.shape.width * 0.4))
    else:
        x0, y0, _, _ = piece.shape.bounds
        pen.colour(INK)
        text = " · ".join(words)
        size = 6.0 if pen.text_width(text, 6.0) <= max(piece.shape.width, 60) else 4.5
        pen.text((at[0] + x0, at[1] + y0 - 3.2), text, size)


def _words(pen: Pen, x: float, y: float, words: list[str]) -> None:
    pen.colour(INK)
    pen.text((x, y + 2), words[0], 10, BOLD, centred=True)
    for k, word in enumerate(words[1:]):
        pen.text((x, y - 2.5 - 3.8 * k), word, 8, centred=True)


def _arrow(pen: Pen, x: float, y: float, length: float) -> None:
    pen.colour(INK, 0.35)
    a, b = x - length / 2, x + length / 2
    pen.line(a, y, b, y)
    for tip, way in ((a, 1), (b, -1)):
        pen.line(tip, y, tip + 2.5 * way, y + 1.2)
        pen.line(tip, y, tip + 2.5 * way, y - 1.2)


def _joins(pen: Pen, frame: Frame, tile: Tile) -> None:
    """Draw the trim lines in the middle of each overlap, with crosses at thirds of them."""
    ox, oy = frame.origin
    w, h = frame.width, frame.height
    half = OVERLAP / 2
    vertical = [ox + half] * (tile.column > 0) + [ox + w - half] * (tile.column < tile.columns - 1)
    level = [oy + half] * (tile.row > 0) + [oy + h - half] * (tile.row < tile.rows - 1)
    for x in vertical:
        pen.colour(THREAD, 0.2, (2.0, 2.0))
        pen.line(x, oy, x, oy + h)
        for share in (0.25, 0.75):
            _cross(pen, x, oy + share * h)
    for y in level:
        pen.colour(THREAD, 0.2, (2.0, 2.0))
        pen.line(ox, y, ox + w, y)
        for share in (0.25, 0.75):
            _cross(pen, ox + share * w, y)


def _cross(pen: Pen, x: float, y: float) -> None:
    pen.colour(INK, 0.25)
    pen.line(x - 4, y, x + 4, y)
    pen.line(x, y - 4, x, y + 4)


def _foot(
    pen: Pen, frame: Frame, page: TemplatePage, project: Project, number: int, of: int
) -> None:
    y = MARGIN + 4
    pen.colour(INK, 0.3)
    pen.line(MARGIN, y, MARGIN + CHECK_BAR, y)
    for k in range(11):
        tick = 2.5 if k % 5 == 0 else 1.5
        pen.line(MARGIN + 10 * k, y, MARGIN + 10 * k, y + tick)
    pen.colour(SOFT)
    pen.text((MARGIN, y - 3.6), "0", 7, MONO)
    pen.text((MARGIN + CHECK_BAR, y - 3.6), "100 mm: measure before you cut", 7, right=True)
    right = frame.page[0] - MARGIN
    pen.colour(INK)
    if page.tile is not None:
        name = page.spots[0].piece.name
        tile = page.tile
        pen.text((right, y + 4.5), f"{name}: page {tile.name}", 9, BOLD, right=True)
        where = f"column {tile.column + 1} of {tile.columns}, row {tile.row + 1} of {tile.rows}"
        pen.text((right, y + 0.8), where, 7, right=True)
    else:
        many = f"{len(page.spots)} template" + ("s" if len(page.spots) > 1 else "")
        pen.text((right, y + 4.5), many, 9, BOLD, right=True)
        pen.text((right, y + 0.8), "whole on this page", 7, right=True)
    pen.colour(SOFT)
    pen.text((right, y - 3.6), f"{project.name} · {number} of {of}", 7, right=True)
    pen.colour(THREAD, 0.25, (1.2, 0.9))
    pen.line(MARGIN, MARGIN + FOOT - 2, right, MARGIN + FOOT - 2)


__all__ = ["CHECK_BAR", "template_words", "templates_pdf"]
