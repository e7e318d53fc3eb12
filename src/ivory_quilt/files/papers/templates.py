"""Full-size templates as a PDF: what a maker cuts out and traces onto foam.

Every template says its name, hand, count, thickness and face; every page has a 100 mm check bar,
a label, and at its joins registration crosses that come to lie on those of the next page.
"""

import math

import numpy as np
from shapely import box
from shapely.affinity import translate

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.editing.reshape import on_fold
from ivory_quilt.core.editing.template import template_of
from ivory_quilt.core.geometry.shape import Array, Pose
from ivory_quilt.core.pattern.edges import mark_tick
from ivory_quilt.core.pattern.piece import FaceUp, Hand, LineKind, Piece, Turn
from ivory_quilt.core.units import counted, show_thickness
from ivory_quilt.files.papers.pen import BOLD, CUT, INK, MONO, SCORE, SOFT, THREAD, Pen
from ivory_quilt.files.papers.tiling import (
    FOOT,
    MARGIN,
    OVERLAP,
    PAGE_SIZE,
    PageFrame,
    Spot,
    TemplatePage,
    Tile,
    check_pages,
    frame_of,
    plan_pages,
)

CHECK_BAR = 100.0  # mm
_NAMES = {
    LineKind.SCORE: "score",
    LineKind.FOLD: "fold",
    LineKind.UNDERCUT: "undercut",
    LineKind.MARK: "mark",
    LineKind.CENTRE: "centre",
    LineKind.GRAIN: "direction",
    LineKind.OTHER: "other face",
}
_DASH: dict[LineKind, tuple[float, ...]] = {
    LineKind.SCORE: (3.0, 1.5),
    LineKind.FOLD: (6.0, 1.5, 1.0, 1.5),
    LineKind.UNDERCUT: (3.0, 1.0, 3.0, 1.0, 0.8, 1.0),
    LineKind.MARK: (1.0, 1.0),
    LineKind.CENTRE: (8.0, 1.5, 2.0, 1.5),
    LineKind.GRAIN: (),
    LineKind.OTHER: (0.6, 1.2),
}
NAMED_FROM = 25.0  # mm: shorter lines are not named


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
    words = [piece.name, cut, f"{thickness} {material} · {face}{turn}"]
    if on_fold(piece):
        words.append("half: trace, flip over the fold, trace again")
    return words


def template_pieces(project: Project, pieces: tuple[Piece, ...]) -> tuple[Piece, ...]:
    """Return what the templates of `pieces` show, by the project's rules."""
    return tuple(template_of(p, project.rule, half=project.halves) for p in pieces)


def templates_pdf(
    project: Project,
    pieces: tuple[Piece, ...],
    materials: dict[str, str],
    correction: float = 1.0,
) -> bytes:
    """Return a PDF of full-size templates for `pieces` on the project's paper.

    Args:
        project: its paper, tracing rule and halves count.
        pieces: what to print.
        materials: material ids to names.
        correction: the factor that makes the printer's prints true.

    Raises:
        InputError: a template that takes hundreds of pages.
    """
    frame = frame_of(project.paper, correction)
    page_size = frame.page
    printed = template_pieces(project, pieces)
    check_pages(printed, project.paper, correction)
    pages = plan_pages(printed, project.paper, correction)
    pen = Pen(PAGE_SIZE[project.paper], f"{project.name}: templates", correction)
    for number, page in enumerate(pages, 1):
        _page(pen, frame, page, project, number, len(pages), materials)
        pen.next_page()
    if not pages:
        pen.text((MARGIN, page_size[1] / 2), "No pieces to print.", 12)
        pen.next_page()
    return pen.finish()


def _page(
    pen: Pen,
    frame: PageFrame,
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
    pen: Pen, spot: Spot, tile: Tile | None, frame: PageFrame, materials: dict[str, str]
) -> None:
    piece, pose, (ox, oy) = spot.piece, spot.pose, frame.origin
    shift = np.array([ox, oy])
    pen.colour(CUT, 0.35)
    for ring in spot.shape.rings:
        pen.polyline(ring + shift, closed=True)
    for line in piece.lines:
        _line(pen, line.kind, line.placed(pose).points + shift)
    _marks(pen, piece, pose, shift)
    words = template_words(piece, materials.get(piece.material, piece.material))
    place = _words_place(spot, words, tile, frame)
    if place is not None:
        (x, y), angle = place
        with pen.turned(x, y, angle):
            _words(pen, 0.0, 0.0, words)
        arrow = any(k.kind is LineKind.GRAIN for k in piece.lines)
        if piece.turn is Turn.DIRECTION and not arrow:
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


def _line(pen: Pen, kind: LineKind, points: Array) -> None:
    """Draw a line inside a piece, and name it where it is long enough."""
    pen.colour(SCORE, 0.3, _DASH[kind])
    pen.polyline(points, closed=False)
    (x0, y0), (x1, y1) = points[0], points[-1]
    angle = math.degrees(math.atan2(y1 - y0, x1 - x0))
    if kind is LineKind.GRAIN:
        pen.colour(SCORE, 0.35)
        for wing in (150.0, -150.0):
            turn = math.radians(angle + wing)
            pen.line(x1, y1, x1 + 4 * math.cos(turn), y1 + 4 * math.sin(turn))
    if math.hypot(x1 - x0, y1 - y0) < NAMED_FROM:
        return
    upside = abs(angle) > 90.0
    with pen.turned((3 * x0 + x1) / 4, (3 * y0 + y1) / 4, angle + 180.0 * upside):
        pen.colour(SCORE)
        pen.text((0.0, 0.8), _NAMES[kind], 6.5, centred=True)


def _marks(pen: Pen, piece: Piece, pose: Pose, shift: Array) -> None:
    """Draw match marks as ticks into the foam, and the maker's words."""
    pen.colour(INK, 0.4)
    for mark in piece.match_marks:
        tick = mark_tick(piece.shape, mark)
        if tick is not None:
            (xa, ya), (xb, yb) = pose.apply(np.array(tick)) + shift
            pen.line(xa, ya, xb, yb)
            continue
        x, y = pose.apply(np.array([mark]))[0] + shift
        pen.line(x - 2, y, x + 2, y)
        pen.line(x, y - 2, x, y + 2)
    for label in piece.labels:
        x, y = pose.apply(np.array([label.at]))[0] + shift
        pen.text((float(x), float(y) - 1), label.text, 8, centred=True)


def _words_place(
    spot: Spot, words: list[str], tile: Tile | None, frame: PageFrame
) -> tuple[tuple[float, float], float] | None:
    """Return where the words fit inside the foam on this page, and their angle; None: nowhere."""
    ox, oy = frame.origin
    half = max(Pen.text_width(w, 8) for w in words) / 2 + 1.5
    up, down = 6.0, 1.4 + 3.8 * (len(words) - 1)
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
        [
            (-half, 0),
            (half, 0),
            (-half + 2.5, 1.2),
            (-half + 2.5, -1.2),
            (half - 2.5, 1.2),
            (half - 2.5, -1.2),
        ]
    )
    p = Pose(x, y, rotation).apply(points)
    for a, b in ((0, 1), (0, 2), (0, 3), (1, 4), (1, 5)):
        pen.line(*p[a], *p[b])


def _joins(pen: Pen, frame: PageFrame, tile: Tile) -> None:
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
    pen: Pen, frame: PageFrame, page: TemplatePage, project: Project, number: int, of: int
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
        many = counted(len(page.spots), "template")
        pen.text((right, y + 4.5), many, 9, BOLD, right=True)
        pen.text((right, y + 0.8), "whole on this page", 7, right=True)
    pen.colour(SOFT)
    pen.text((right, y - 3.6), f"{project.name} · {number} of {of}", 7, right=True)
    pen.colour(THREAD, 0.25, (1.2, 0.9))
    pen.line(MARGIN, MARGIN + FOOT - 2, right, MARGIN + FOOT - 2)


__all__ = ["CHECK_BAR", "template_pieces", "template_words", "templates_pdf"]
