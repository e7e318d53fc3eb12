"""What is painted in which tone: on which pieces, how much of them, how often. Data only."""

import re
from dataclasses import dataclass
from enum import StrEnum

from ivory_quilt.core.errors import InputError

MOST_COATS = 8
MOST_AREAS = 200
COLOUR = re.compile(r"#[0-9a-fA-F]{6}")


class PaintOn(StrEnum):
    """What of a piece a tone is on."""

    WHOLE = "whole"
    EDGE = "edge"
    LINE = "line"


@dataclass(frozen=True)
class PaintArea:
    """One region in one tone.

    Attributes:
        tone: as the maker calls it: "deep green".
        where: on the pieces, in words: "rims"; empty for all of them.
        pieces: ids of what it is on; empty for the whole suit.
        share: of their outer faces that it covers, 0 to 1.
        coats: of it.
        before_glue: whether it is painted before its piece is glued to others.
        colour: as the screen shows it, "#rrggbb"; empty: nobody said.
        on: all of each piece, a strip along an edge, or a line and what it encloses.
        of: the edge's name, empty for all edges; the line's number.
        width: of the strip, mm; 0 with a line: what it encloses.
        mix: how the tone was mixed, in parts: 3 green, 1 black.
        left: what is left of the mix, ml.
    """

    id: str
    tone: str
    where: str = ""
    pieces: tuple[str, ...] = ()
    share: float = 1.0
    coats: int = 2
    before_glue: bool = False
    colour: str = ""
    on: PaintOn = PaintOn.WHOLE
    of: str = ""
    width: float = 0.0
    mix: str = ""
    left: float = 0.0

    def __post_init__(self) -> None:
        if not self.id.strip() or not self.tone.strip():
            raise InputError("paint", "a tone without a name", "a name such as deep green")
        where = f"paint '{self.tone}'"
        if not 0 < self.share <= 1:
            raise InputError(f"{where}, share", f"{100 * self.share:g} %", "above 0 to 100 %")
        if not 1 <= self.coats <= MOST_COATS:
            raise InputError(f"{where}, coats", f"{self.coats}", f"1 to {MOST_COATS}")
        if self.colour and not COLOUR.fullmatch(self.colour):
            raise InputError(f"{where}, colour", f"'{self.colour}'", "such as #2f5d3a")
        if not 0 <= self.width <= 1000:
            raise InputError(f"{where}, width", f"{self.width:g} mm", "0 to 1000 mm")
        if self.on is PaintOn.LINE and not self.of.isdigit():
            raise InputError(f"{where}, line", f"'{self.of}'", "a line's number")
        if self.on is PaintOn.EDGE and not self.width:
            raise InputError(f"{where}, width", "0 mm", "how wide the strip along the edge is")
        if not 0 <= self.left <= 100_000:
            raise InputError(f"{where}, left", f"{self.left:g} ml", "0 ml or more")

    def covers(self, piece: str) -> bool:
        """Return whether it is on a piece."""
        return not self.pieces or piece in self.pieces

    @property
    def partial(self) -> bool:
        """Whether the rest of a piece is masked while it is painted."""
        return self.share < 1 or self.on is not PaintOn.WHOLE

    @property
    def title(self) -> str:
        """Its tone, and where it is."""
        return f"{self.tone}, {self.where}" if self.where else self.tone


def check_paint(areas: tuple[PaintArea, ...]) -> None:
    """Refuse regions that make no sense together.

    Raises:
        InputError: too many, or an id is used twice.
    """
    if len(areas) > MOST_AREAS:
        raise InputError("paint", f"{len(areas)} regions", f"at most {MOST_AREAS}")
    ids = [a.id for a in areas]
    if len(set(ids)) != len(ids):
        raise InputError("paint", "an id is used twice", "different ids")
