"""What the maker decided about how a group of pieces is formed up: never what came of it."""

from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.record import Struct


class FormerKind(StrEnum):
    """What a group is pressed on."""

    NONE = "nothing"
    BALL = "ball"
    CYLINDER = "cylinder"
    WEARER = "wearer"
    BODY = "body"


class Worn(Struct, frozen=True):
    """Where a group is worn: on which part of the body.

    Attributes:
        height: of the group's middle along the part, a share from its low end.
        turn: which way its middle looks, degrees: 0 to the front, 90 to the wearer's left.
    """

    part: BodyPart
    height: float = 0.5
    turn: float = 0.0

    def __post_init__(self) -> None:
        if not -1 <= self.height <= 2:
            raise InputError("height on the body", f"{self.height:g}", "-1 to 2 of the part")
        if not -360 <= self.turn <= 360:
            raise InputError("turn on the body", f"{self.turn:g}°", "-360 to 360°")


class GroupForm(Struct, frozen=True):
    """How one group is formed up.

    Attributes:
        piece: id of a piece of the group.
        radius: of a ball or cylinder, mm.
        wearer: id of the wearer on whose body it is pressed; empty: the first.
        part: of the body that it is pressed on.
        body: file of a body from elsewhere, as it was opened.
        firmly: pressed down everywhere, not only where it lies near by itself.
        modulus: Young's modulus of its foam, MPa, where it was measured; 0: forces are not told.
        worn: where it stands on the figure; None: by its name.
    """

    piece: str
    former: FormerKind = FormerKind.NONE
    radius: float = 90.0
    wearer: str = ""
    part: BodyPart = BodyPart.HEAD
    body: str = ""
    firmly: bool = False
    modulus: float = 0.0
    worn: Worn | None = None

    def __post_init__(self) -> None:
        if not 5 <= self.radius <= 2000:
            raise InputError("radius", f"{self.radius:g} mm", "5 to 2000 mm")
        if self.modulus and not 0.01 <= self.modulus <= 1000:
            raise InputError("modulus", f"{self.modulus:g} MPa", "0.01 to 1000 MPa, or 0")
