"""Parts: what is really cut, per layer and hand of a piece, as it lies with the skin face up."""

import math
from functools import cached_property

from ivory_quilt.core.geometry.curved import curved_length
from ivory_quilt.core.geometry.shape import Point, Pose, Shape
from ivory_quilt.core.pattern.piece import TURN_ANGLES, Hand, LineKind, PieceLine, Turn, Wanted
from ivory_quilt.core.record import Struct, replace


class Foam(Struct, frozen=True, order=True):
    """A material in one thickness: what a part is cut from and a sheet is made of."""

    thickness: float
    material: str


class BevelledEdge(Struct, frozen=True):
    """An edge that is not cut square.

    Attributes:
        name: its letter.
        angle: of the bevel from a square cut, degrees, above 0 with the face up larger.
        start: where it begins on the outline that faces up, counter-clockwise.
        stop: where it ends; the whole outline is one edge where that is where it begins.
    """

    name: str
    angle: float
    start: Point
    stop: Point

    def mirrored(self) -> "BevelledEdge":
        """Return it as it is on the outline mirrored at the upright axis, run the same way."""
        (ax, ay), (bx, by) = self.stop, self.start
        return replace(self, start=(-ax, ay), stop=(-bx, by))


class Part(Struct, frozen=True, dict=True):
    """One cut part, `count` times, and `spares` more.

    Attributes:
        id: the piece's id, with "/left" or "/right" for one hand of a pair.
        shape: what it covers on the table, sheet lying skin face up.
        mirrored: whether `shape` is the piece's outline mirrored.
        may_flip: whether a flipped part is as good (nobody sees the face).
        marked: the outline on the face that is up, where the knife goes in; None: `shape`.
        far: the outline on the other face, where that differs: the one that is up if it is laid
            the other way round.
        bevels: its edges that are not square, on the outline that is up.
        far_bevels: the same on the other face, as they are cut from there.
        volume: of the finished part, mm³.
        notes: what the bench must know.
        wearer: whose it is, in a troupe; empty else.
        spares: how many more are cut than the suit takes.
        wanted: whether it comes first or last when the foam does not take everything.
        together: parts of one name here should lie side by side on one sheet (cut two at a
            time), or empty.
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
    marked: Shape | None = None
    far: Shape | None = None
    bevels: tuple[BevelledEdge, ...] = ()
    far_bevels: tuple[BevelledEdge, ...] = ()
    volume: float = 0.0
    notes: tuple[str, ...] = ()
    together: str = ""
    wearer: str = ""
    spares: int = 0
    wanted: Wanted = Wanted.USUAL

    @cached_property
    def curved(self) -> float:
        """How much of its outlines is curved, mm."""
        return curved_length(self.shape)

    def line_up(self, pose: Pose) -> Shape:
        """Return where the knife goes in where it lies so: the outline on the face that is up."""
        up = self.far if pose.mirrored else self.marked
        return up or self.shape

    def bevels_up(self, pose: Pose) -> tuple[BevelledEdge, ...]:
        """Return the edges that are not square where it lies so, as a knife from above cuts them.

        Seen from its other face what leaned out leans in.
        """
        return self.far_bevels if pose.mirrored else self.bevels

    @property
    def stitched(self) -> bool:
        """Whether it is of a sewn case, or a strap: no cement holds it."""
        return "+sewn" in self.id or "+strap" in self.id

    @property
    def cut_count(self) -> int:
        """How many are cut: what the suit takes, and spares."""
        return self.count + self.spares

    def number(self, copy: int) -> str:
        """Return which of how many a copy is, "2 of 6" or "spare"; empty for the only one."""
        if copy >= self.count:
            return "spare"
        return f"{copy + 1} of {self.count}" if self.count > 1 else ""

    @property
    def label(self) -> str:
        """Name with the hand and, in a troupe, the wearer: "shin cuff · left · Mika"."""
        hand = "" if self.hand is Hand.NONE else self.hand.value
        return " · ".join(word for word in (self.name, hand, self.wearer) if word)

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
