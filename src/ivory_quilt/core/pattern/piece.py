"""A piece: one flat pattern outline with its marks, and what the maker decided about it."""

import math
from collections.abc import Callable
from enum import StrEnum

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_path import CurvePath
from ivory_quilt.core.geometry.shape import Array, Point, Pose, Shape
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.build import PLAIN, Build
from ivory_quilt.core.record import Struct, replace


class Hand(StrEnum):
    """Which side of the body a piece is for. A pair is one left and its mirror, one right."""

    NONE = "none"
    LEFT = "left"
    RIGHT = "right"
    PAIR = "pair"


class FaceUp(StrEnum):
    """Which face of the foam is up when the outline lies as drawn.

    `EITHER` says that nobody will see: the piece may be flipped on the sheet.
    """

    EITHER = "either"
    SKIN = "skin"
    TEXTURED = "textured"


class Turn(StrEnum):
    """How a piece may be turned on a sheet."""

    FREE = "free"
    QUARTERS = "quarters"
    DIRECTION = "direction"


class Wanted(StrEnum):
    """Which pieces are laid when the foam does not take all: the first before the usual ones."""

    FIRST = "first"
    USUAL = "usual"
    LAST = "last"

    @property
    def worth(self) -> float:
        """How much more than its area a piece counts for."""
        return {Wanted.FIRST: 30.0, Wanted.USUAL: 1.0, Wanted.LAST: 0.03}[self]


TURN_ANGLES: dict[Turn, tuple[float, ...] | None] = {
    Turn.FREE: None,
    Turn.QUARTERS: (0.0, 90.0, 180.0, 270.0),
    # A sheet's direction is a line, not an arrow: end for end is the same direction.
    Turn.DIRECTION: (0.0, 180.0),
}


class LineKind(StrEnum):
    """What is done along a line inside a piece, or what it tells.

    `CENTRE` is the axis that the two halves of a piece mirror each other about; `GRAIN` an arrow
    along the direction that the foam or cloth must keep, from its tail to its head. A `SLIT` is cut
    through the foam from end to end of it. `OTHER` is the
    outline on the face that is down, where a bevel makes it differ; only parts have it.
    """

    SCORE = "score"
    SLIT = "slit"
    FOLD = "fold"
    UNDERCUT = "undercut"
    MARK = "mark"
    CENTRE = "centre"
    GRAIN = "grain"
    OTHER = "other face"


class Crease(Struct, frozen=True):
    """What is done along a line: a bend by heat (fold), a V groove (undercut), a part cut (score).

    Attributes:
        angle: by how much it folds, degrees; above 0 the outer face is on the outside of the bend.
            Of a groove that stays open (`folds` false), the angle between its walls.
        radius: of a bend, inside, mm.
        skin: of a groove, the foam left uncut, mm.
        front: whether it is cut into the outer face.
        folds: whether it is closed.
    """

    angle: float = 90.0
    radius: float = 0.0
    skin: float = 1.0
    front: bool = False
    folds: bool = True

    def __post_init__(self) -> None:
        if not -170 <= self.angle <= 170:
            raise InputError("fold", f"{self.angle:g}°", "-170 to 170°")
        if not 0 <= self.radius <= 1e4:
            raise InputError("bend radius", f"{self.radius:g} mm", "0 or more")
        if not 0 <= self.skin <= 100:
            raise InputError("skin", f"{self.skin:g} mm", "0 or more, less than the foam")


class PieceLine(Struct, frozen=True, eq=False):
    """An open line inside a piece: points (n, 2) in the piece's own coordinates.

    `crease` says what is done along it, where Build knows more than its kind. `name` is what other
    things call it by, so that they find it again among others; empty: its number.
    """

    kind: LineKind
    points: Array
    crease: Crease | None = None
    name: str = ""

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, PieceLine)
            and self.kind == other.kind
            and self.crease == other.crease
            and self.name == other.name
            and self.points.tobytes() == other.points.tobytes()
        )

    def __ne__(self, other: object) -> bool:  # a Struct has its own, which knows no `__eq__`
        return not self == other

    def __hash__(self) -> int:
        return hash((self.kind, self.points.tobytes(), self.crease, self.name))

    def placed(self, pose: Pose) -> "PieceLine":
        """Return the line where `pose` puts it."""
        return replace(self, points=pose.apply(self.points))


class Label(Struct, frozen=True):
    """Words on a piece, standing on their middle point."""

    text: str
    at: Point


class Edge(Struct, frozen=True):
    """A named stretch of the outline, counter-clockwise from `start` to `stop`.

    Both lie on the outline; a round piece has one edge that stops where it starts.
    """

    name: str
    start: Point
    stop: Point


class CutSide(StrEnum):
    """Which side of the line that was drawn around a template the knife follows."""

    INSIDE = "inside"
    MIDDLE = "middle"
    OUTSIDE = "outside"


class TraceRule(Struct, frozen=True):
    """How a template gets onto the foam, and what is left standing for the trimming.

    Attributes:
        pen: width of the pen's line around the template, mm.
        side: where the knife goes on that line.
        trim: how far outside the pattern line a piece is cut that is trimmed after gluing, mm.
    """

    pen: float = 0.0
    side: CutSide = CutSide.INSIDE
    trim: float = 0.0

    def __post_init__(self) -> None:
        if not 0 <= self.pen <= 10:
            raise InputError("pen", f"{self.pen:g} mm", "0 to 10 mm")
        if not 0 <= self.trim <= 100:
            raise InputError("trimming", f"{self.trim:g} mm", "0 to 100 mm")

    @property
    def growth(self) -> float:
        """How far outside the template's edge the knife goes, mm.

        The pen's line lies outside the template, as wide as the pen (common practice, no source).
        """
        share = {CutSide.INSIDE: 0.0, CutSide.MIDDLE: 0.5, CutSide.OUTSIDE: 1.0}[self.side]
        return self.pen * share


PLAIN_RULE = TraceRule()


class Source(Struct, frozen=True):
    """Where a piece came from."""

    file: str = ""
    layer: str = ""
    page: int = 1


class Recipe(Struct, frozen=True):
    """The numbers that a piece was made from, as typed.

    `group` joins the pieces of one shape, `index` is the piece's place among them.
    """

    maker: str
    values: tuple[tuple[str, str], ...]
    group: str
    index: int = 0


class Piece(Struct, frozen=True):
    """One pattern piece.

    Attributes:
        id: unique in the project, never shown large.
        shape: true-size outline, mm.
        material: id of the foam's material.
        thickness: mm.
        count: how many; of a pair, how many pairs.
        hand: which hand; `PAIR` gives one of each per count.
        drawn_hand: of a pair, the hand that the outline shows.
        edges: named stretches of the outline; empty when its corners are found by angle.
        rule: how it is traced and trimmed, where that differs from the project's rule.
        build: how it is formed, edged and stacked.
        wanted: whether it comes first or last when the foam does not take everything.
        spares: how many more of each hand are cut; None: by the project's rule.
        curves: outline and holes as they were drawn, one path a ring; where one no longer runs
            along its ring it says nothing.
    """

    id: str
    name: str
    shape: Shape
    material: str = "eva"
    thickness: float = 6.0
    count: int = 1
    hand: Hand = Hand.NONE
    drawn_hand: Hand = Hand.LEFT
    face: FaceUp = FaceUp.SKIN
    turn: Turn = Turn.QUARTERS
    lines: tuple[PieceLine, ...] = ()
    match_marks: tuple[Point, ...] = ()
    source: Source = Source()
    recipe: Recipe | None = None
    labels: tuple[Label, ...] = ()
    edges: tuple[Edge, ...] = ()
    rule: TraceRule | None = None
    build: Build = PLAIN
    wanted: Wanted = Wanted.USUAL
    spares: int | None = None
    curves: tuple[CurvePath, ...] = ()

    def __post_init__(self) -> None:
        where = f"piece '{self.name}'"
        if not self.id or not self.name.strip():
            raise InputError(where, "it has no name", "a name")
        if not 0.1 <= self.thickness <= 200.0:
            raise InputError(where, f"thickness {self.thickness:g} mm", "0.1 to 200 mm")
        if not 0 <= self.count <= 2000:
            raise InputError(where, f"count {self.count}", "0 to 2000")
        if self.spares is not None and not 0 <= self.spares <= 2000:
            raise InputError(where, f"spares {self.spares}", "0 to 2000")
        if self.drawn_hand not in (Hand.LEFT, Hand.RIGHT):
            raise InputError(where, f"drawn hand '{self.drawn_hand}'", "left or right")
        if problem := shape_problem(self.shape):
            raise InputError(where, problem, "a simple outline")

    @property
    def cut_count(self) -> int:
        """How many parts are cut for this piece."""
        return self.count * (2 if self.hand is Hand.PAIR else 1)

    def with_line(self, index: int, line: PieceLine) -> "Piece":
        """Return the piece with another line in the place of one."""
        return replace(self, lines=(*self.lines[:index], line, *self.lines[index + 1 :]))

    def moved_by(
        self, move: Callable[[Array], Array], *, flips: bool = False, sound: bool = False
    ) -> "Piece":
        """Return the piece with everything drawn on it where `move` puts it.

        Args:
            move: takes points (n, 2) and returns as many; must keep outlines simple.
            flips: whether it mirrors, so that edges run the other way.
            sound: whether a simple outline certainly stays one: it is not looked at again.
        """

        places = [
            *self.match_marks,
            *(k.at for k in self.labels),
            *(p for e in self.edges for p in (e.start, e.stop)),
        ]
        build, shaped = self.build, self.build is not PLAIN
        if shaped:
            turn = math.radians(build.form.axis)
            x, y = self.shape.centroid
            places += [(x, y), (x + math.cos(turn), y + math.sin(turn))]
        # All at once: for the few points of most things a call costs more than its points.
        drawn = [*self.shape.rings, *(k.points for k in self.lines)]
        if places:
            drawn.append(np.array(places))
        ends = np.cumsum([len(points) for points in drawn])
        parts = np.split(move(np.concatenate(drawn)), ends[:-1])
        moved = iter(parts.pop().tolist() if places else ())
        lines = parts[len(self.shape.rings) :]

        def point() -> Point:
            x, y = next(moved)
            return (x, y)

        def edge(e: Edge) -> Edge:
            start, stop = point(), point()
            return Edge(e.name, stop, start) if flips else Edge(e.name, start, stop)

        marks = tuple(point() for _ in self.match_marks)
        labels = tuple(replace(k, at=point()) for k in self.labels)
        edges = tuple(edge(e) for e in self.edges)
        if shaped:
            (x0, y0), (x1, y1) = point(), point()
            axis = round(math.degrees(math.atan2(y1 - y0, x1 - x0)), 9) % 180.0
            # A cone has a low end and a high one.
            if build.form.second and (x1 - x0) * math.cos(turn) + (y1 - y0) * math.sin(turn) < 0:
                axis -= 180.0
            build = build.with_axis(axis)
        rings = parts[: len(self.shape.rings)]
        shape = self.shape.drawn_at(rings) if sound else Shape.make(rings[0], rings[1:])
        curves = tuple(c.moved_by(move) for c in self.curves)
        return replace(
            self,
            curves=tuple(c.turned_round() for c in curves) if flips else curves,
            build=build,
            shape=shape,
            lines=tuple(replace(k, points=at) for k, at in zip(self.lines, lines, strict=True)),
            match_marks=marks,
            labels=labels,
            edges=edges[::-1] if flips else edges,
        )
