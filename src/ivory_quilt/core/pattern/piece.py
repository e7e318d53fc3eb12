"""A piece: one flat pattern outline with its marks, and what the maker decided about it."""

from dataclasses import dataclass
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Point, Pose, Shape
from ivory_quilt.core.geometry.validity import shape_problem


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


TURN_ANGLES: dict[Turn, tuple[float, ...] | None] = {
    Turn.FREE: None,
    Turn.QUARTERS: (0.0, 90.0, 180.0, 270.0),
    # A sheet's direction is a line, not an arrow: end for end is the same direction.
    Turn.DIRECTION: (0.0, 180.0),
}


class LineKind(StrEnum):
    """What is done along a line inside a piece."""

    SCORE = "score"
    FOLD = "fold"
    MARK = "mark"


@dataclass(frozen=True, eq=False)
class PieceLine:
    """An open line inside a piece: points (n, 2) in the piece's own coordinates."""

    kind: LineKind
    points: Array

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, PieceLine)
            and self.kind == other.kind
            and self.points.tobytes() == other.points.tobytes()
        )

    def __hash__(self) -> int:
        return hash((self.kind, self.points.tobytes()))

    def placed(self, pose: Pose) -> "PieceLine":
        """Return the line where `pose` puts it."""
        return PieceLine(self.kind, pose.apply(self.points))


@dataclass(frozen=True)
class Source:
    """Where a piece came from."""

    file: str = ""
    layer: str = ""
    page: int = 1


@dataclass(frozen=True)
class Recipe:
    """The numbers that a piece was made from, as typed.

    `group` joins the pieces of one shape, `index` is the piece's place among them.
    """

    maker: str
    values: tuple[tuple[str, str], ...]
    group: str
    index: int = 0


@dataclass(frozen=True)
class Piece:
    """One pattern piece.

    Attributes:
        id: unique in the project, never shown large.
        shape: true-size outline, mm.
        material: id of the foam's material.
        thickness: mm.
        count: how many; of a pair, how many pairs.
        hand: which hand; `PAIR` gives one of each per count.
        drawn_hand: of a pair, the hand that the outline shows.
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

    def __post_init__(self) -> None:
        where = f"piece '{self.name}'"
        if not self.id or not self.name.strip():
            raise InputError(where, "it has no name", "a name")
        if not 0.1 <= self.thickness <= 200.0:
            raise InputError(where, f"thickness {self.thickness:g} mm", "0.1 to 200 mm")
        if not 0 <= self.count <= 2000:
            raise InputError(where, f"count {self.count}", "0 to 2000")
        if self.drawn_hand not in (Hand.LEFT, Hand.RIGHT):
            raise InputError(where, f"drawn hand '{self.drawn_hand}'", "left or right")
        if problem := shape_problem(self.shape):
            raise InputError(where, problem, "a simple outline")

    @property
    def cut_count(self) -> int:
        """How many parts are cut for this piece."""
        return self.count * (2 if self.hand is Hand.PAIR else 1)
