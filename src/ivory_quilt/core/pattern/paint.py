"""What is painted in which tone: on which pieces, how much of them, how often. Data only."""

import re
from enum import StrEnum
from itertools import groupby

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.surface import WorkFace
from ivory_quilt.core.record import Struct, replace

MOST_COATS = 8
MOST_AREAS = 200
COLOUR = re.compile(r"#[0-9a-fA-F]{6}")


class CoatKind(StrEnum):
    """How a coat is laid on."""

    BRUSHED = "brushed"
    SPRAYED = "sprayed"
    SPONGED = "sponged"
    WASH = "wash"
    DRY_BRUSHED = "dry-brushed"
    GLAZE = "glaze"


class PaintArea(Struct, frozen=True):
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
        of: the edge's name, empty for all edges; the line's name.
        width: of the strip, mm; 0 with a line: what it encloses.
        mix: how the tone was mixed, in parts: 3 green, 1 black.
        left: what is left of the mix, ml.
        kinds: how each coat is laid on, in their order; empty: all are brushed.
        face: which face it is on; pictures show the outer one.
    """

    id: str
    tone: str
    where: str = ""
    pieces: tuple[str, ...] = ()
    share: float = 1.0
    coats: int = 2
    before_glue: bool = False
    colour: str = ""
    on: RegionKind = RegionKind.WHOLE
    of: str = ""
    width: float = 0.0
    mix: str = ""
    left: float = 0.0
    kinds: tuple[CoatKind, ...] = ()
    face: WorkFace = WorkFace.OUTER

    def __post_init__(self) -> None:
        if not self.id.strip() or not self.tone.strip():
            raise InputError("paint", "a tone without a name", "a name such as deep green")
        where = f"paint '{self.tone}'"
        if not 0 < self.share <= 1:
            raise InputError(f"{where}, share", f"{100 * self.share:g} %", "above 0 to 100 %")
        if not 1 <= self.coats <= MOST_COATS:
            raise InputError(f"{where}, coats", f"{self.coats}", f"1 to {MOST_COATS}")
        if self.kinds and len(self.kinds) != self.coats:
            told = f"{len(self.kinds)} kinds for {self.coats} coats"
            raise InputError(f"{where}, coats", told, "a kind for each coat, or none")
        if self.colour and not COLOUR.fullmatch(self.colour):
            raise InputError(f"{where}, colour", f"'{self.colour}'", "such as #2f5d3a")
        try:
            FaceRegion(self.on, self.of, self.width)
        except InputError as error:
            raise InputError(f"{where}, {error.where}", error.problem, error.expected) from None
        if not 0 <= self.left <= 100_000:
            raise InputError(f"{where}, left", f"{self.left:g} ml", "0 ml or more")

    @property
    def region(self) -> FaceRegion:
        """The place of each piece that it is on."""
        return FaceRegion(self.on, self.of, self.width)

    def at(self, region: FaceRegion) -> "PaintArea":
        """Return the tone on another place."""
        return replace(self, on=region.on, of=region.of, width=region.width)

    @property
    def coat_kinds(self) -> tuple[CoatKind, ...]:
        """How each coat is laid on."""
        return self.kinds or (CoatKind.BRUSHED,) * self.coats

    @property
    def coat_words(self) -> str:
        """Its coats as `typed_coats` reads them: 2, or 2 sprayed, 1 wash."""
        if not self.kinds:
            return str(self.coats)
        return ", ".join(f"{len(list(run))} {kind.value}" for kind, run in groupby(self.kinds))

    def covers(self, piece: str) -> bool:
        """Return whether it is on a piece."""
        return not self.pieces or piece in self.pieces

    @property
    def partial(self) -> bool:
        """Whether the rest of a piece is masked while it is painted."""
        return self.share < 1 or self.on is not RegionKind.WHOLE

    @property
    def shows(self) -> bool:
        """Whether a picture can show it: somebody said which colour, and where outside."""
        if self.face is WorkFace.INNER:
            return False
        return bool(self.colour) and (self.on is not RegionKind.WHOLE or self.share == 1)

    @property
    def title(self) -> str:
        """Its tone, and where it is."""
        inside = "inner face" if self.face is WorkFace.INNER else ""
        return ", ".join(word for word in (self.tone, self.where, inside) if word)


def typed_coats(area: PaintArea, text: str) -> PaintArea:
    """Return a tone in the coats that a text says: 2, or 2 sprayed, 1 wash.

    Raises:
        InputError: it says none.
    """
    kinds: list[CoatKind] = []
    words = {k.value: k for k in CoatKind} | {"dry brushed": CoatKind.DRY_BRUSHED}
    expected = f"2, or 2 sprayed, 1 wash: {', '.join(k.value for k in CoatKind)}"
    for part in text.split(","):
        found = re.fullmatch(r"\s*(\d{1,2})\s*(.*?)\s*", part)
        kind = words.get(found.group(2).lower() or "brushed") if found else None
        if found is None or kind is None or not 1 <= int(found.group(1)) <= MOST_COATS:
            raise InputError(f"paint '{area.tone}', coats", f"'{text}'", expected)
        kinds += [kind] * int(found.group(1))
    plain = all(k is CoatKind.BRUSHED for k in kinds)
    return replace(area, coats=len(kinds), kinds=() if plain else tuple(kinds))


def with_edge_renamed(
    areas: tuple[PaintArea, ...], piece: str, old: str, new: str
) -> tuple[PaintArea, ...]:
    """Return tones as they are once an edge of a piece has another name.

    One that is on that edge of other pieces too becomes two.
    """
    made: list[PaintArea] = []
    taken = {a.id for a in areas}
    for area in areas:
        if area.on is not RegionKind.EDGE or area.of != old or piece not in area.pieces:
            made.append(area)
            continue
        others = tuple(p for p in area.pieces if p != piece)
        ident = area.id
        if others:
            made.append(replace(area, pieces=others))
            ident = next(n for k in range(2, 10_000) if (n := f"{area.id}-{k}") not in taken)
            taken.add(ident)
        made.append(replace(area, id=ident, pieces=(piece,), of=new))
    return tuple(made)


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
