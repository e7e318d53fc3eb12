"""One template on its page: outline, lines, marks with what they meet, edges, words, code."""

import math

import numpy as np
from shapely import box

from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.geometry.shape import Array, Pose
from ivory_quilt.core.pattern.edges import beside_middle, mark_tick
from ivory_quilt.core.pattern.piece import LineKind, PieceLine, Turn
from ivory_quilt.core.plan.cut_facts import line_words
from ivory_quilt.core.plan.templates import EdgeNote, Template, edge_words
from ivory_quilt.files.papers.code_square import QUIET, code_square
from ivory_quilt.files.papers.pen import BOLD, CUT, INK, SANS, SCORE, THREAD, Pen
from ivory_quilt.files.papers.template_face import (
    BAR,
    CODE,
    EDGE,
    LABEL,
    SAID_SIZE,
    TICK,
    Block,
    drawn_on,
    place_block,
    seen_part,
)
from ivory_quilt.files.papers.tiling import PageFrame, Spot

DASH: dict[LineKind, tuple[float, ...]] = {
    LineKind.SCORE: (3.0, 1.5),
    LineKind.SLIT: (),
    LineKind.FOLD: (6.0, 1.5, 1.0, 1.5),
    LineKind.UNDERCUT: (3.0, 1.0, 3.0, 1.0, 0.8, 1.0),
    LineKind.MARK: (1.0, 1.0),
    LineKind.CENTRE: (8.0, 1.5, 2.0, 1.5),
    LineKind.GRAIN: (),
    LineKind.OTHER: (0.6, 1.2),
}
NAMED_FROM = 25.0  # mm: shorter lines are not named
NOTED_FROM = 30.0  # mm: shorter edges only say their letter
ARROW = 40.0  # mm at most


def draw_template(pen: Pen, spot: Spot, frame: PageFrame) -> None:
    """Draw what a page shows of a template, and its words where there is room for them."""
    face, pose = spot.face, spot.pose
    template, piece = face.template, face.template.piece
    shift = np.array(frame.origin)
    if face.tag is not None:
        with pen.furniture():
            pen.colour(THREAD, 0.2, (1.0, 1.0))
            pen.polyline(face.tag.placed(pose).outer + shift, closed=True)
    pen.colour(CUT, 0.35)
    for ring in spot.shape.rings:
        pen.polyline(ring + shift, closed=True)
    for line in piece.lines:
        _line(pen, line, line.placed(pose).points + shift)
    _marks(pen, template, pose, shift)
    for note in template.edges:
        _edge(pen, note, pose, shift)
    placed = _words_place(spot, frame)
    if placed is not None:
        middle, angle = placed
        _block(pen, face.block, middle + shift, angle)
        arrow = any(k.kind is LineKind.GRAIN for k in piece.lines)
        if piece.turn is Turn.DIRECTION and not arrow:
            turn = math.radians(angle + 90.0)
            length = min(ARROW, 0.4 * min(spot.shape.width, spot.shape.height))
            upright = abs(math.sin(math.radians(pose.rotation - angle))) * length / 2
            far = face.block.height / 2 + 2.5 + upright
            away = far * np.array([math.cos(turn), math.sin(turn)])
            _arrow(pen, middle + shift - away, length, pose.rotation)


def _words_place(spot: Spot, frame: PageFrame) -> tuple[Array, float] | None:
    """Return where a template's words stand on the usable part of its page, and which way."""
    face, pose = spot.face, spot.pose
    usable = box(0.0, 0.0, frame.width, frame.height)
    # A tag that a join runs across is read once both pages are taped.
    here = face.tag is not None and usable.intersects(face.tag.placed(pose).polygon)
    if spot.whole or here:
        middle: Array = pose.apply(np.array([face.at]))[0]
        return middle, face.angle + pose.rotation
    if face.tag is not None:
        return None
    # Of a large one every page says what it is of, where it shows enough of it.
    seen = seen_part(face, pose, usable)
    if seen is None:
        return None
    inner = seen.representative_point()
    lines = [pose.apply(p) for p in drawn_on(face.template)]
    found = place_block(seen, face.block, lines, (inner.x, inner.y))
    return None if found is None else (np.array(found.at), found.angle)


def _line(pen: Pen, line: PieceLine, points: Array) -> None:
    """Draw a line inside a piece, and say what it is where it is long enough."""
    pen.colour(CUT if line.kind is LineKind.SLIT else SCORE, 0.3, DASH[line.kind])
    pen.polyline(points, closed=False)
    (x0, y0), (x1, y1) = points[0], points[-1]
    angle = math.degrees(math.atan2(y1 - y0, x1 - x0))
    if line.kind is LineKind.GRAIN:
        pen.colour(SCORE, 0.35)
        for wing in (150.0, -150.0):
            turn = math.radians(angle + wing)
            pen.line(x1, y1, x1 + 4 * math.cos(turn), y1 + 4 * math.sin(turn))
    if math.hypot(x1 - x0, y1 - y0) < NAMED_FROM:
        return
    upside = abs(angle) > 90.0
    with pen.turned((3 * x0 + x1) / 4, (3 * y0 + y1) / 4, angle + 180.0 * upside):
        pen.colour(SCORE)
        pen.text((0.0, 0.8), line_words(line), 6.5, centred=True)


def _marks(pen: Pen, template: Template, pose: Pose, shift: Array) -> None:
    """Draw match marks as ticks into the foam with what they meet, and the maker's words."""
    piece, partners = template.piece, dict(template.partners)
    for mark in piece.match_marks:
        pen.colour(INK, 0.4)
        tick = mark_tick(piece.shape, mark, TICK)
        if tick is None:
            x, y = pose.apply(np.array([mark]))[0] + shift
            pen.line(x - 2, y, x + 2, y)
            pen.line(x, y - 2, x, y + 2)
            continue
        (xa, ya), (xb, yb) = pose.apply(np.array(tick)) + shift
        pen.line(xa, ya, xb, yb)
        if mark in partners:
            ends = np.array([xb - xa, yb - ya]) / TICK
            at = np.array([xb, yb]) + 1.6 * ends
            number = partners[mark][0].split()[0]
            pen.text((float(at[0]), float(at[1]) - 0.7), number, 5.5, centred=True)
    for label in piece.labels:
        x, y = pose.apply(np.array([label.at]))[0] + shift
        pen.colour(INK)
        pen.text((float(x), float(y) - 1), label.text, LABEL, centred=True)


def _edge(pen: Pen, note: EdgeNote, pose: Pose, shift: Array) -> None:
    """Say along an edge how it is cut and what it meets."""
    line = pose.apply(np.array(note.line)) + shift
    # Counter-clockwise, the foam is at the left.
    x, y = beside_middle(line, -3.2)
    ahead = np.array(beside_middle(line, -3.2)) - np.array(beside_middle(line, 0.0))
    inward = math.degrees(math.atan2(ahead[1], ahead[0]))
    along = inward - 90.0
    flipped = math.cos(math.radians(along)) < -1e-6
    with pen.turned(x, y, along + 180.0 * flipped):
        pen.colour(INK)
        text = edge_words(note) if line_length(line) >= NOTED_FROM else note.name
        down = -1.2 if not flipped else 0.0
        pen.text((0.0, down), text, SAID_SIZE, centred=True)


def _block(pen: Pen, block: Block, middle: Array, angle: float) -> None:
    """Write a template's words about a place, with the thickness as a bar and the code."""
    x, y = float(middle[0]), float(middle[1])
    with pen.turned(x, y, angle):
        left, top = -block.width / 2, block.height / 2
        if block.bar:
            with pen.furniture():
                pen.colour(INK, 0.2)
                pen.rectangle(left + EDGE, top - EDGE - block.bar, BAR, block.bar, fill=True)
        for line in block.lines:
            pen.colour(INK)
            font = BOLD if line.bold else SANS
            pen.text((left + block.words_at, top - line.down), line.text, line.size, font)
        for section in block.sections:
            low = top - section.at[1]
            outline = np.array(section.outline) + np.array([left + section.at[0], low])
            with pen.furniture():
                pen.colour(INK, 0.25)
                pen.polyline(outline, closed=True)
            words = (float(outline[:, 0].max()) + EDGE, low + 0.5)
            pen.text(words, section.text, SAID_SIZE)
        if block.code:
            dark = code_square(block.code)
            side = CODE * (len(dark) + 2 * QUIET)
            corner = (block.width / 2 - side + CODE * QUIET, side / 2 - CODE * QUIET)
            with pen.furniture():
                pen.modules(corner, CODE, dark)


def _arrow(pen: Pen, middle: Array, length: float, rotation: float) -> None:
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
    p = Pose(float(middle[0]), float(middle[1]), rotation).apply(points)
    for a, b in ((0, 1), (0, 2), (0, 3), (1, 4), (1, 5)):
        pen.line(*p[a], *p[b])
