"""Where a part that stands on a curved base meets it: the line to scribe and trim its foot to.

The part is plane. It stands upright on the base's outer face at its place, and its plane cuts that
face in a curve; the curve is found point by point outwards from the middle (Newton's method on the
formed base, derivatives by differences). The foot's ends stay, what lies between is trimmed.
"""

import numpy as np
import shapely

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.forming.shaping import Place, Plain, Shaping
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.piece import Label, LineKind, Piece, PieceLine
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.layer_places import layer_places

STEPS = 24  # places to either side of the middle
TURNS = 12  # of Newton's method, before a place counts as out of reach
NEAR = 1e-4  # mm: a place that is found
DIFFERENCE = 0.05  # mm, for derivatives
AROUND = np.array([(0.0, 0.0), (DIFFERENCE, 0.0), (0.0, DIFFERENCE)])
FLAT = 0.2  # mm: a base that curves less needs no line
DEEP = 25.0  # mm that a card reaches above its curve
WORDS_OFF = 6.0  # mm that words keep from the line


class FootContact(Struct, frozen=True, eq=False):
    """A foot's meeting with its base.

    Attributes:
        foot: `(2, 2)` mm on the standing piece, from its edge's start to its stop.
        along: `(n,)` mm from the foot's middle.
        height: `(n,)` mm above the lowest place of the foot: what is trimmed off there.
        on_base: `(n, 2)` mm, the same places on the base's pattern.
    """

    foot: Array
    along: Array
    height: Array
    on_base: Array

    @property
    def line(self) -> Array:
        """The line to trim to, `(n, 2)` mm on the standing piece."""
        way = self.foot[1] - self.foot[0]
        way = way / np.linalg.norm(way)
        inward = np.array([-way[1], way[0]])  # outlines run counter-clockwise
        middle = self.foot.mean(axis=0)
        found: Array = middle + self.along[:, None] * way + self.height[:, None] * inward
        return found

    @property
    def card(self) -> Shape:
        """A card whose lower edge is the line: it sits on the base, and is traced on the foot."""
        curve = np.column_stack((self.along, self.height))
        top = float(self.height.max()) + DEEP
        corners = [(self.along[-1], top), (self.along[0], top)]
        return Shape.make(np.vstack((curve, corners)), where="contact card")


def contact_of(piece: Piece, ground: Piece, context: CutContext) -> FootContact:
    """Return how a standing piece meets what it stands on.

    Raises:
        InputError: it has no such edge, or the base has a form that cannot be.
    """
    placing = piece.build.placing
    assert placing is not None
    edge = edge_line(piece, edge_of(piece, placing.stands))
    foot = edge[[0, -1]]
    half = float(np.linalg.norm(foot[1] - foot[0])) / 2
    x0, y0, x1, y1 = ground.shape.bounds
    at = np.array([x0 + placing.across * (x1 - x0), y0 + placing.up * (y1 - y0)])
    turn = np.radians(placing.turn)
    way = np.array([np.cos(turn), np.sin(turn)])
    shaping = shaping_of(ground)
    if isinstance(shaping, Plain):
        along = np.array([-half, half])
        return FootContact(foot, along, np.zeros(2), at + along[:, None] * way)
    places = (p for _, _, p in layer_places(ground, context))
    face = _OuterFace(shaping, max(places, key=lambda p: p.lift + p.thickness), at, way)
    there = ground.shape.polygon.buffer(1e-6)
    sides = [_outwards(face, at, sign * way, sign, half, there) for sign in (-1.0, 1.0)]
    pattern = np.vstack((sides[0][::-1], at, sides[1]))
    local = face.local(pattern)
    height = local[:, 2] - local[:, 2].min()
    return FootContact(foot, local[:, 0], height, pattern)


class _OuterFace:
    """The base's outer face about a place: (along the foot, across it, outwards), mm."""

    def __init__(self, shaping: Shaping, place: Place, at: Array, way: Array) -> None:
        self._shaping, self._place = shaping, place
        side = np.array([-way[1], way[0]])
        steps = DIFFERENCE * np.array([(0.0, 0.0), way, -way, side, -side])
        here, there, back, left, right = self._solid(at + steps)
        along, across = there - back, left - right
        out = np.cross(along, across)
        out /= np.linalg.norm(out)
        along /= np.linalg.norm(along)
        self._origin = here
        self._axes = np.column_stack((along, np.cross(out, along), out))

    def _solid(self, pattern: Array) -> Array:
        flat = self._shaping.flat(pattern, self._place)
        return self._shaping.space(flat, np.full(len(flat), self._place.thickness), self._place)

    def local(self, pattern: Array) -> Array:
        """Return where places (n, 2) of the pattern lie, (n, 3)."""
        found: Array = (self._solid(pattern) - self._origin) @ self._axes
        return found

    def place_at(self, along: float, start: Array) -> Array | None:
        """Return the place of the pattern that lies so far along in the foot's plane, or None."""
        here = start
        for _ in range(TURNS):
            now, by_x, by_y = self.local(here + AROUND)[:, :2]
            off = now - (along, 0.0)
            if np.abs(off).max() < NEAR:
                return here
            slope = np.column_stack((by_x - now, by_y - now)) / DIFFERENCE
            if abs(np.linalg.det(slope)) < 0.05:
                return None  # so steep that the foot reaches no farther
            here = here - np.linalg.solve(slope, off)
        return None


def _outwards(
    face: _OuterFace, at: Array, way: Array, sign: float, half: float, there: shapely.Polygon
) -> Array:
    """Return places (n, 2) of the pattern from the middle on to the foot's end, or the base's."""
    found: list[Array] = []
    before, step = at, half / STEPS * way
    for k in range(1, STEPS + 1):
        place = face.place_at(sign * half * k / STEPS, before + step)
        if place is None or not there.covers(shapely.Point(place)):
            break
        found.append(place)
        before, step = place, place - before
    return np.array(found).reshape(-1, 2)


def with_contact(piece: Piece, ground: Piece, context: CutContext) -> Piece:
    """Return a standing piece with the line to trim its foot to; none on a flat base.

    Raises:
        InputError: it has no such edge, it is formed itself, or the base has a form that cannot be.
    """
    if piece.build.form.kind is not FormKind.FLAT:
        raise InputError(
            f"piece '{piece.name}'", "it is formed and stands on an edge", "a flat one that stands"
        )
    contact = contact_of(piece, ground, context)
    if float(np.ptp(contact.height)) < FLAT:
        return piece
    line = contact.line
    middle = line[len(line) // 2]
    inward = contact.line.mean(axis=0) - contact.foot.mean(axis=0)
    inward = inward / max(float(np.linalg.norm(inward)), 1e-9)
    x, y = (middle + WORDS_OFF * inward).tolist()
    label = Label(f"trim to the line: stands on {ground.name}", (x, y))
    lines = (*piece.lines, PieceLine(LineKind.MARK, line))
    return replace(piece, lines=lines, labels=(*piece.labels, label))


def standing_on(base: Piece, context: CutContext) -> Piece:
    """Return a base with the lines on which other pieces stand, as marks.

    A piece that cannot stand there has no line; it says why itself.
    """
    lines, labels = list(base.lines), list(base.labels)
    for piece in context.standing:
        try:
            contact = contact_of(piece, base, context)
        except InputError:
            continue
        places = contact.on_base
        lines.append(PieceLine(LineKind.MARK, places))
        x, y = places[len(places) // 2].tolist()
        labels.append(Label(f"{piece.name} stands here", (x, y + WORDS_OFF)))
    return replace(base, lines=tuple(lines), labels=tuple(labels)) if context.standing else base
