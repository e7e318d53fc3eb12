"""What is painted in which tone: on which pieces, how much of them, how often. Data only."""

from dataclasses import dataclass

from ivory_quilt.core.errors import InputError

MOST_COATS = 8
MOST_AREAS = 200


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
    """

    id: str
    tone: str
    where: str = ""
    pieces: tuple[str, ...] = ()
    share: float = 1.0
    coats: int = 2
    before_glue: bool = False

    def __post_init__(self) -> None:
        if not self.id.strip() or not self.tone.strip():
            raise InputError("paint", "a tone without a name", "a name such as deep green")
        where = f"paint '{self.tone}'"
        if not 0 < self.share <= 1:
            raise InputError(f"{where}, share", f"{100 * self.share:g} %", "above 0 to 100 %")
        if not 1 <= self.coats <= MOST_COATS:
            raise InputError(f"{where}, coats", f"{self.coats}", f"1 to {MOST_COATS}")

    def covers(self, piece: str) -> bool:
        """Return whether it is on a piece."""
        return not self.pieces or piece in self.pieces

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
