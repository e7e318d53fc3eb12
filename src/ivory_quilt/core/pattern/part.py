"""Parts: what is really cut. One part per hand of a piece, as it lies with the skin face up."""

import math
from dataclasses import dataclass

from ivory_quilt.core.geometry.shape import Point, Pose, Shape
from ivory_quilt.core.pattern.piece import (
    TURN_ANGLES,
    FaceUp,
    Hand,
    LineKind,
    Piece,
    PieceLine,
    TraceRule,
    Turn,
)
from ivory_quilt.core.pattern.resize import offset_shape

_MIRROR = Pose(0.0, 0.0, 0.0, True)


@dataclass(frozen=True, order=True)
class Foam:
    """A material in one thickness: what a part is cut from and a sheet is made of."""

    thickness: float
    material: str


@dataclass(frozen=True)
class Part:
    """One cut part, `count` times.

    Attributes:
        id: the piece's id, with "/left" or "/right" for one hand of a pair.
        shape: the outline as cut, sheet lying skin face up.
        mirrored: whether `shape` is the piece's outline mirrored.
        may_flip: whether a flipped part is as good (nobody sees the face).
    """

    id: str
    piece_id: str
    name: str
    hand: Hand
    foam: Foam
    shape: Shape
    lines: tuple[PieceLine, ...]
    match_marks: tuple[Point, ...]
    count: int
    mirrored: bool
    may_flip: bool
    turn: Turn

    @property
    def label(self) -> str:
        """Name with the hand: "shin cuff · left"."""
        return self.name if self.hand is Hand.NONE else f"{self.name} · {self.hand.value}"

    @property
    def rotations(self) -> tuple[float, ...] | None:
        """Allowed angles in degrees, None when free.

        A piece that keeps the sheet's direction lies so that its direction arrow, where it has
        one, points along the sheet's length; else it lies as drawn. End for end is the same.
        """
        if self.turn is Turn.DIRECTION:
            grain = next((k for k in self.lines if k.kind is LineKind.GRAIN), None)
            if grain is not None:
                (x0, y0), (x1, y1) = grain.points[0].tolist(), grain.points[-1].tolist()
                angle = round(-math.degrees(math.atan2(y1 - y0, x1 - x0)), 9) % 360.0
                return tuple(sorted((angle, (angle + 180.0) % 360.0)))
        return TURN_ANGLES[self.turn]


def parts_of(piece: Piece, rule: TraceRule | None = None) -> tuple[Part, ...]:
    """Derive the parts that are cut for `piece`.

    `rule` is the project's, for pieces without one of their own: a piece that is trimmed after
    gluing is cut so much larger all around.

    Sheets lie skin face up. A piece drawn with the textured face up is therefore cut mirrored, and
    so is the undrawn hand of a pair; both together cancel out.
    """
    if piece.count == 0:
        return ()
    rule = piece.rule or rule or TraceRule()
    as_cut = offset_shape(piece.shape, rule.trim) if rule.trim else piece.shape
    face_flip = piece.face is FaceUp.TEXTURED
    hands: list[tuple[str, Hand, bool]]
    if piece.hand is Hand.PAIR:
        hands = [
            (f"{piece.id}/{hand.value}", hand, hand is not piece.drawn_hand)
            for hand in (Hand.LEFT, Hand.RIGHT)
        ]
    else:
        hands = [(piece.id, piece.hand, False)]
    parts = []
    for part_id, hand, other_hand in hands:
        mirrored = face_flip != other_hand
        shape, lines, marks = as_cut, piece.lines, piece.match_marks
        if mirrored:
            shape = shape.mirrored()
            lines = tuple(line.placed(_MIRROR) for line in lines)
            marks = tuple((-x, y) for x, y in marks)
        parts.append(
            Part(
                id=part_id,
                piece_id=piece.id,
                name=piece.name,
                hand=hand,
                foam=Foam(piece.thickness, piece.material),
                shape=shape,
                lines=lines,
                match_marks=marks,
                count=piece.count,
                mirrored=mirrored,
                may_flip=piece.face is FaceUp.EITHER,
                turn=piece.turn,
            )
        )
    return tuple(parts)
