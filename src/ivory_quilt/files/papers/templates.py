"""Full-size templates as a PDF: what a maker cuts out and traces onto foam.

Every template says its name, hand, count, thickness and face; every page has a 100 mm check bar,
a label, and at its joins registration crosses that come to lie on those of the next page.
"""

import numpy as np
from shapely import box
from shapely.affinity import translate

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
        _template(pen, spot, page.tile, frame, materials)
    pen.unclip()
    if page.tile is not None:
        _joins(pen, frame, page.tile)
    _foot(pen, frame, page, project, number, of)


def _template(
    pen: Pen, spot: Spot, tile: Tile | None, frame: Frame, materials: dict[str, str]
) -> None:
    piece, pose, (ox, oy) = spot.piece, spot.pose, frame.origin
    shift = np.array([ox, oy])
    pen.colour(CUT, 0.35)
    for ring in spot.shape.rings:
        pen.polyline(ring + shift, closed=True)
    for line in piece.lines:
        pen.colour(SCORE, 0.3, _DASH[line.kind])
        pen.polyline(line.placed(pose).points + shift, closed=False)
    pen.colour(INK, 0.4)
    for mark in piece.match_marks:
        x, y = pose.apply(np.array([mark]))[0] + shift
        pen.line(x - 2, y, x + 2, y)
        pen.line(x, y - 2, x, y + 2)
    words = template_words(piece, materials.get(piece.material, piece.material))
    place = _words_place(spot, words, tile, frame)
    if place is not None:
        (x, y), angle = place
        with pen.turned(x, y, angle):
            _words(pen, 0.0, 0.0, words)
        if piece.turn is Turn.DIRECTION:
            dx, dy = (0.0, -12.0) if angle == 0 else (12.0, 0.0)
            room = min(spot.shape.width, spot.shape.height)
            _arrow(pen, x + dx, y + dy, min(40.0, room * 0.4), pose.rotation)
        return
    x0, y0, _, _ = spot.shape.bounds
    pen.colour(INK)
    text = " · ".join(words)
    size = 6.0 if pen.text_width(text, 6.0) <= max(spot.shape.width, 60) else 4.5
    room = ox + frame.width - pen.text_width(text, size)
    pen.text((min(max(x0 + ox, ox), room), max(y0 + oy - 3.2, oy + 1)), text, size)


def _words_place(
    spot: Spot, words: list[str], tile: Tile | None, frame: Frame
) -> tuple[tuple[float, float], float] | None:
    """Return where the words fit inside the foam on this page, and their angle; None: nowhere."""
    ox, oy = frame.origin
    half = max(Pen.text_width(w, 8) for w in words) / 2 + 1.5
    up, down = 6.0, 9.0
    outline = translate(spot.shape.polygon, ox, oy)
    page = box(ox, oy, ox + frame.width, oy + frame.height)
    seen = outline.intersection(page) if tile is not None else outline
    if seen.is_empty:
        return None
    inner = seen.representative_point()
    spots = [(inner.x, inner.y), (seen.centroid.x, seen.centroid.y)]
    if tile is None:
        spots.insert(0, (spot.shape.label_point[0] + ox, spot.shape.label_point[1] + oy))
    for x, y in spots:
        if seen.covers(box(x - half, y - down, x + half, y + up)):
            return (x, y), 0.0
    for x, y in spots:
        if seen.covers(box(x - up, y - half, x + down, y + half)):
            return (x, y), 90.0
    return None


def _words(pen: Pen, x: float, y: float, words: list[str]) -> None:
    pen.colour(INK)
    pen.text((x, y + 2), words[0], 10, BOLD, centred=True)
    for k, word in enumerate(words[1:]):
        pen.text((x, y - 2.5 - 3.8 * k), word, 8, centred=True)


def _arrow(pen: Pen, x: float, y: float, length: float, rotation: float) -> None:
    """Draw the sheet's direction, turned with the template."""
    pen.colour(INK, 0.35)
    half = length / 2
    points = np.array(
        [(-half, 0), (half, 0), (-half + 2.5, 1.2), (-half + 2.5, -1.2), (half - 2.5, 1.2),
         (half - 2.5, -1.2)]
    )  # fmt: skip
    p = Pose(x, y, rotation).apply(points)
    for a, b in ((0, 1), (0, 2), (0, 3), (1, 4), (1, 5)):
        pen.line(*p[a], *p[b])


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
