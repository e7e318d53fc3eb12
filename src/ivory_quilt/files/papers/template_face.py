"""What stands on a template and where: a block of words with its thickness and its code.

The block stands on the foam where it fits, the larger the better; else on a tag beside the outline,
which is paper that the template takes as well.
"""

import math
from collections.abc import Iterator, Sequence
from functools import cached_property

import numpy as np
import shapely
from shapely import LineString, MultiLineString, MultiPoint, Polygon, box
from shapely.affinity import rotate, translate

from ivory_quilt.core.editing.reshape import on_fold
from ivory_quilt.core.geometry.discs import punches
from ivory_quilt.core.geometry.outline import along_line, line_length
from ivory_quilt.core.geometry.shape import Array, Point, Pose, Shape, as_point, polygons_of
from ivory_quilt.core.pattern.edges import beside_middle, mark_tick
from ivory_quilt.core.pattern.piece import LineKind, Turn
from ivory_quilt.core.plan.templates import Template, bevel_words, use_words
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import show_length, show_number
from ivory_quilt.files.papers.pen import BOLD, SANS, Pen

POINT = 25.4 / 72  # mm
LEADING = 1.25  # of the letters' size
EDGE = 0.8  # mm around the words
BAR = 6.0  # mm: the thickness bar's length
CODE = 0.5  # mm a module
CODE_MODULES = 21 + 2 * 4  # with its white margin
SIZES = ((10.0, 7.5), (8.0, 6.0))  # points: name, all else
TAG_SIZES = SIZES[-1]
TRIES = 12  # places each way that a block is tried at
SAID, SAID_WIDE = 5.0, 30.0  # mm: how deep and wide the words at an edge stand
LABEL = 8.0  # points: the maker's own words
SAID_SIZE = 6.0  # points
TICK = 6.0  # mm of a match mark
SECTION = 8.0  # mm of whole foam in a cross-section
MOST_BLADE = 20.0  # mm of a blade's bevel drawn there
NECK = 4.0  # mm: how wide a tag hangs on its outline


class WordLine(Struct, frozen=True):
    """One line of words: points, and how far below the block's top it stands, mm."""

    text: str
    size: float
    bold: bool
    down: float


class CrossSection(Struct, frozen=True):
    """A cross-section of the foam at an edge that is not square, outer face above.

    Attributes:
        text: which edges, and how they are cut.
        outline: `(n, 2)` mm, from its lower left corner.
        at: that corner, mm from the block's upper left, down.
    """

    text: str
    outline: tuple[Point, ...]
    at: Point


class Block(Struct, frozen=True):
    """Words in lines, the thickness as a bar before them, the code behind; mm."""

    lines: tuple[WordLine, ...]
    width: float
    height: float
    bar: float
    """The foam's thickness, mm; 0 without a bar."""
    code: str
    """Empty without a square."""
    sections: tuple["CrossSection", ...] = ()

    @property
    def words_at(self) -> float:
        """How far in the words begin."""
        return EDGE + (BAR + EDGE if self.bar else 0.0)


class TemplateFace(Struct, frozen=True, dict=True):
    """A template with its block in place, in the piece's own coordinates.

    Attributes:
        at: the block's middle.
        angle: which way its lines run, degrees.
        tag: the tag it stands on, or None where it stands on the foam.
    """

    template: Template
    block: Block
    at: Point
    angle: float
    tag: Shape | None = None

    @cached_property
    def occupied(self) -> Shape:
        """All that must be on paper: outline, what is drawn outside it, and the tag."""
        piece = self.template.piece
        parts = [piece.shape.polygon]
        other = [k.points for k in piece.lines if k.kind is LineKind.OTHER]
        if other:
            parts.append(box(*MultiPoint(np.vstack([piece.shape.outer, *other])).bounds))
        if self.tag is not None:
            parts += [self.tag.polygon, _neck(piece.shape.polygon, self.tag.polygon)]
        whole = shapely.union_all(parts)
        if isinstance(whole, Polygon):
            # Nothing is laid in the holes of a template: they are cut out.
            return Shape.from_polygon(Polygon(whole.exterior))
        return _hull(shapely.get_coordinates(whole))


def face_of(template: Template, materials: dict[str, str], made: str) -> TemplateFace:
    """Return a template with its block where it fits best.

    `made` says when it was made and of which version.
    """
    said = template_words(template, materials, made)
    shape = template.piece.shape
    across: TemplateFace | None = None
    for block in _blocks(template, said):
        place = place_block(shape.polygon, block, drawn_on(template), shape.label_point)
        if place is None:
            continue
        face = TemplateFace(template, block, place.at, place.angle)
        if place.clear:
            return face
        across = across or face
    if across is not None:
        return across
    block = _stacked(template, said, TAG_SIZES, code=True)
    drawn = [shape.outer, *(k.points for k in template.piece.lines if k.kind is LineKind.OTHER)]
    # The other face's outline may reach beyond this one's.
    around = shape.polygon if len(drawn) == 1 else _hull(np.vstack(drawn)).polygon
    at, angle, tag = _tag(around, block)
    return TemplateFace(template, block, at, angle, tag)


def template_words(template: Template, materials: dict[str, str], made: str) -> list[str]:
    """Return the lines of words of a template: name first, what tells it from others last."""
    first, *others = template.uses
    piece = first.piece

    def material(ident: str) -> str:
        return materials.get(ident, ident)

    turn = " · arrow along the sheet" if piece.turn is Turn.DIRECTION else ""
    words = [f"{first.number} {piece.name}", use_words(first, material(piece.material)) + turn]
    around, _ = punches(piece.shape)
    if around is not None:
        words.append(f"a disc: punch {show_length(around, digits=1)}")
    for use in others:
        said = use_words(use, material(use.piece.material))
        words.append(f"also {use.number} {use.piece.name}: {said}")
    if on_fold(template.piece):
        words.append("half: trace, flip over the fold, trace again")
    whom = f"for {template.whom} · " if template.whom else ""
    scale = f"{show_number(100 * template.scale, 1)} %"
    return [*words, f"{whom}{scale} · {made}", template.code]


def _blocks(template: Template, said: list[str]) -> Iterator[Block]:
    """Yield blocks that say it, the best to read first."""
    for sizes in SIZES:
        yield _stacked(template, said, sizes, code=True)
    yield _stacked(template, said, TAG_SIZES, code=False)
    if template.profiles:
        return  # they take room that lines alone do not
    name, *rest = said
    half = (len(rest) + 1) // 2
    two = [name, " · ".join(rest[:half]), " · ".join(rest[half:])]
    yield _stacked(template, two, TAG_SIZES, code=False)
    yield _stacked(template, [" · ".join(said)], (6.0, 6.0), code=False)


def _stacked(
    template: Template, said: Sequence[str], sizes: tuple[float, float], *, code: bool
) -> Block:
    """Return words one line below the other."""
    lines, down, wide = [], EDGE, 0.0
    for k, text in enumerate(said):
        size, bold = (sizes[0], True) if k == 0 else (sizes[1], False)
        wide = max(wide, Pen.text_width(text, size, BOLD if bold else SANS))
        down += size * POINT * LEADING
        lines.append(WordLine(text, size, bold, down - 0.25 * size * POINT))
    side = CODE * CODE_MODULES if code else 0.0
    sections, down, wide = _sections(template, down, wide)
    bar = template.piece.thickness if len(said) > 1 else 0.0
    height = max(down + EDGE, side, bar + 2 * EDGE)
    width = EDGE + (BAR + EDGE if bar else 0.0) + wide + EDGE + side
    return Block(tuple(lines), width, height, bar, template.code if code else "", sections)


def _sections(
    template: Template, down: float, wide: float
) -> tuple[tuple[CrossSection, ...], float, float]:
    """Return cross-sections below `down` mm of a block, and how far down and wide it then is."""
    thickness, left = template.piece.thickness, EDGE
    found = []
    for names, angle, blade in template.profiles:
        text = f"{names}: {bevel_words(angle, blade)}"
        outline = edge_outline(thickness, angle, blade)
        found.append(CrossSection(text, outline, (left, down + EDGE + thickness)))
        left += max(p[0] for p in outline) + EDGE + Pen.text_width(text, SAID_SIZE) + 2 * EDGE
    if not found:
        return (), down, wide
    return tuple(found), down + EDGE + thickness, max(wide, left)


def edge_outline(thickness: float, angle: float, blade: float) -> tuple[Point, ...]:
    """Return the outline of a cross-section, its edge at the left."""
    if blade:
        back = min(blade, MOST_BLADE)
        far = back + SECTION
        return ((back, 0.0), (far, 0.0), (far, thickness), (back, thickness), (0.0, thickness / 2))
    run = thickness * math.tan(math.radians(angle))
    foot, top = max(run, 0.0), max(-run, 0.0)
    far = max(foot, top) + SECTION
    return ((foot, 0.0), (far, 0.0), (far, thickness), (top, thickness))


def drawn_on(template: Template) -> list[Array]:
    """Return what words keep clear of on a template: its lines, and what its edges say."""
    piece = template.piece
    lines = [k.points for k in piece.lines if k.kind is not LineKind.OTHER]
    for note in template.edges:
        line = np.array(note.line)
        half = min(line_length(line) / 2, SAID_WIDE / 2)
        middle = line_length(line) / 2
        ends = along_line(line, np.array([middle - half, middle + half]))
        inward = np.array(beside_middle(line, -SAID)) - beside_middle(line, 0.0)
        lines.append(ends + inward)
    ticks = (mark_tick(piece.shape, mark, TICK + SAID) for mark in piece.match_marks)
    lines += [np.array(tick) for tick in ticks if tick is not None]
    for label in piece.labels:
        (x, y), half = label.at, Pen.text_width(label.text, LABEL) / 2
        lines.append(np.array([(x - half, y), (x + half, y)]))
    return lines


class BlockPlace(Struct, frozen=True):
    """Where a block stands: its middle, which way it runs, and whether nothing is drawn there."""

    at: Point
    angle: float
    clear: bool


def place_block(
    room: Polygon, block: Block, drawn: Sequence[Array], liked: Point
) -> BlockPlace | None:
    """Return where a block fits into a room, near `liked`; None: nowhere.

    It is kept clear of what is `drawn` there, where that can be.
    """
    kept = MultiLineString([LineString(p) for p in drawn])
    found: BlockPlace | None = None
    for angle in (0.0, 90.0, *_lean(room)):
        # In a room turned the other way the block stands level.
        turned = rotate(room, -angle, origin=(0, 0))
        places = _places(turned, block, Pose(0.0, 0.0, -angle).apply(np.array([liked]))[0])
        if not len(places):
            continue
        half = np.array([block.width, block.height]) / 2
        boxes = np.asarray(shapely.box(*(places - half).T, *(places + half).T))
        shapely.prepare(turned)
        fit = np.flatnonzero(shapely.covers(turned, boxes))
        if not len(fit):
            continue
        free = fit[~shapely.intersects(rotate(kept, -angle, origin=(0, 0)), boxes[fit])]
        best = int(free[0] if len(free) else fit[0])
        at = as_point(Pose(0.0, 0.0, angle).apply(places[best][None])[0])
        if len(free):
            return BlockPlace(at, angle, clear=True)
        found = found or BlockPlace(at, angle, clear=False)
    return found


def _lean(room: Polygon) -> tuple[float, ...]:
    """Return the way along the least rectangle around a room, where that is not square."""
    ring = shapely.get_coordinates(shapely.minimum_rotated_rectangle(room))
    if len(ring) < 4:
        return ()
    steps = np.diff(ring[:3], axis=0)
    dx, dy = steps[int(np.argmax(np.linalg.norm(steps, axis=1)))]
    angle = math.degrees(math.atan2(dy, dx))
    angle = (angle + 90.0) % 180.0 - 90.0  # read from left to right
    return (angle,) if min(abs(angle), 90.0 - abs(angle)) > 1.0 else ()


def _places(room: Polygon, block: Block, liked: Array) -> Array:
    """Return places for a block's middle, (n, 2), the liked one first, then the nearest to it."""
    x0, y0, x1, y1 = room.bounds
    wide, high = block.width / 2, block.height / 2
    if x1 - x0 < 2 * wide or y1 - y0 < 2 * high:
        return np.zeros((0, 2))
    xs, ys = np.linspace(x0 + wide, x1 - wide, TRIES), np.linspace(y0 + high, y1 - high, TRIES)
    grid = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
    order = np.argsort(np.hypot(*(grid - liked).T), kind="stable")
    return np.vstack([liked[None], grid[order]])


def _rectangle(block: Block, at: Point, angle: float) -> Polygon:
    flat = box(-block.width / 2, -block.height / 2, block.width / 2, block.height / 2)
    return translate(rotate(flat, angle, origin=(0, 0)), *at)


def _tag(outline: Polygon, block: Block) -> tuple[Point, float, Shape]:
    """Return a tag that touches the outline where both together take the least paper."""
    best: tuple[float, Point, float, Polygon] | None = None
    for angle in (0.0, 90.0):
        for side in range(4):
            for share in (0.0, 0.5, 1.0):
                here = _beside(outline, _rectangle(block, (0.0, 0.0), angle), side, share)
                paper = outline.union(here).convex_hull.area
                if best is None or paper < best[0] - 1e-6:
                    middle = here.centroid
                    best = (paper, (middle.x, middle.y), angle, here)
    assert best is not None
    _, at, angle, tag = best
    return at, angle, Shape.from_polygon(tag)


def _beside(outline: Polygon, tag: Polygon, side: int, share: float) -> Polygon:
    """Return a tag pushed against one side of an outline: below, above, left, right."""
    # Turned so that the side is below, pushed up, and turned back.
    turn = (0.0, 180.0, 90.0, -90.0)[side]
    shape, piece = rotate(outline, turn, origin=(0, 0)), rotate(tag, turn, origin=(0, 0))
    x0, _, x1, _ = shape.bounds
    w0, _, w1, top = piece.bounds
    room = (x1 - x0) - (w1 - w0)
    left = x0 + share * room
    strip = shape.intersection(box(left, shape.bounds[1], left + w1 - w0, shape.bounds[3]))
    lowest = strip.bounds[1] if not strip.is_empty else shape.bounds[1]
    moved = translate(piece, left - w0, lowest - top)
    return rotate(moved, -turn, origin=(0, 0))


def _neck(outline: Polygon, tag: Polygon) -> Polygon:
    """Return what joins a tag to the outline that it touches."""
    a, b = shapely.shortest_line(tag, outline).coords
    middle = shapely.LineString([a, b]) if a != b else shapely.Point(a)
    return middle.buffer(NECK / 2)


def _hull(points: Array) -> Shape:
    return Shape.make(
        shapely.get_coordinates(shapely.convex_hull(shapely.multipoints(points)))[:-1]
    )


def seen_part(face: TemplateFace, pose: Pose, window: Polygon) -> Polygon | None:
    """Return the largest part of a placed template that a page shows, or None."""
    placed = face.template.piece.shape.placed(pose).polygon
    parts = polygons_of(placed.intersection(window))
    return max(parts, key=lambda p: p.area, default=None)
