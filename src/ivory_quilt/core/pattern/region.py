"""Which place of a piece is meant: all of it, a strip along edges, a line or what it encloses."""

import re
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import parse_length, show_number

EXPECTED = "whole, edge A 12 mm, edges 8 mm, line 2 or line 2 10 mm"


class RegionKind(StrEnum):
    """What of a piece is meant."""

    WHOLE = "whole"
    EDGE = "edge"
    LINE = "line"


class FaceRegion(Struct, frozen=True):
    """A place of a piece.

    Attributes:
        of: the edge's name, empty for all edges; the line's name.
        width: of the strip along an edge or line, mm; 0 with a line: what it encloses.
    """

    on: RegionKind = RegionKind.WHOLE
    of: str = ""
    width: float = 0.0

    def __post_init__(self) -> None:
        if not 0 <= self.width <= 1000:
            raise InputError("region, width", f"{self.width:g} mm", "0 to 1000 mm")
        if self.on is RegionKind.LINE and not self.of:
            raise InputError("region, line", "no line", "which line")
        if self.on is RegionKind.EDGE and not self.width:
            raise InputError("region, width", "0 mm", "how wide the strip along the edge is")

    @property
    def words(self) -> str:
        """Where it is, as `typed_region` reads it."""
        wide = f" {show_number(self.width, 2)} mm" if self.width else ""
        if self.on is RegionKind.WHOLE:
            return "whole"
        if self.on is RegionKind.EDGE:
            return f"edge {self.of}{wide}" if self.of else f"edges{wide}"
        return f"line {self.of}{wide}"


WHOLE = FaceRegion()


def typed_region(text: str, where: str = "region") -> FaceRegion:
    """Return what a text means: whole, edge A 12 mm, edges 8 mm, line 2.

    A line alone is what it encloses; with a width, a stripe along it.

    Raises:
        InputError: it says none of these.
    """
    plain = " ".join(text.split())
    if plain.lower() in ("", "whole", "all"):
        return WHOLE
    found = re.fullmatch(
        r"(edges?|line)\s*(?:(?<=edge )(.+?)|(?<=line )(\d+))?(?:\s+([\d.,/ ]+\s*\S*))?",
        plain,
        re.I,
    )
    if found is None:
        raise InputError(where, f"'{text}'", EXPECTED)
    word, edge, line, wide = found.groups()
    width = parse_length(wide, where=where) if wide else 0.0
    if word.lower() == "line":
        if line is None:
            raise InputError(where, f"'{text}'", EXPECTED)
        return FaceRegion(RegionKind.LINE, line, width)
    if not width or (word.lower() == "edge" and not edge):
        raise InputError(where, f"'{text}'", EXPECTED)
    return FaceRegion(RegionKind.EDGE, edge or "", width)
