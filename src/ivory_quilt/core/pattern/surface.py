"""What is done to a piece's faces besides paint: lines, texture, clay, foil, hollows. Data."""

from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.region import WHOLE, FaceRegion, RegionKind
from ivory_quilt.core.record import Struct

FINEST, COARSEST = 3000, 24  # grits that paper is sold in


class WorkFace(StrEnum):
    """Which face is worked: the outer one that is seen, or the inner one on the body."""

    OUTER = "outer"
    INNER = "inner"


class SurfaceKind(StrEnum):
    """What is done. The first three are done along a line, all others to an area."""

    BURN = "burn"
    CARVE = "carve"
    DRAW = "draw"
    TEXTURE = "texture"
    ROUGHEN = "roughen"
    HOLLOW = "hollow out"
    SAND = "sand"
    CLAY = "clay"
    FILL = "fill"
    FOIL = "foil"
    CLOTH = "cloth"

    @property
    def along_line(self) -> bool:
        """Whether it is done along a line, not to an area."""
        return self in (SurfaceKind.BURN, SurfaceKind.CARVE, SurfaceKind.DRAW)

    @property
    def takes_off(self) -> bool:
        """Whether it leaves less foam where it is done."""
        return self in TAKEN_OFF

    @property
    def laid_on(self) -> bool:
        """Whether something that is cut to its outline is glued on."""
        return self in (SurfaceKind.FOIL, SurfaceKind.CLOTH)


def typed_grits(text: str) -> tuple[int, ...]:
    """Return the papers that a text says: 120, 220, 320.

    Raises:
        InputError: it says none.
    """
    words = text.replace(",", " ").split()
    if not all(w.isdigit() for w in words):
        raise InputError("grits", f"'{text}'", "such as 120, 220")
    return tuple(int(w) for w in words)


TAKEN_OFF = (
    SurfaceKind.BURN,
    SurfaceKind.CARVE,
    SurfaceKind.TEXTURE,
    SurfaceKind.HOLLOW,
    SurfaceKind.SAND,
)
MUST_BE_DEEP = (SurfaceKind.BURN, SurfaceKind.CARVE, SurfaceKind.HOLLOW, SurfaceKind.CLAY)


class SurfaceWork(Struct, frozen=True):
    """One thing that is done to a face.

    Attributes:
        region: where; of what is done along a line, that line and how wide.
        depth: what is taken off, of clay what is laid on, mm.
        grits: papers it is sanded with, the coarse ones first.
        material: of what is laid on; of a carved line, what is let into the groove, or empty.
        thickness: of that, mm.
        margin: by how much what is laid on is cut larger than its place, mm.
        note: in words: scales, wood grain.
    """

    kind: SurfaceKind
    region: FaceRegion = WHOLE
    face: WorkFace = WorkFace.OUTER
    depth: float = 0.0
    grits: tuple[int, ...] = ()
    material: str = ""
    thickness: float = 1.0
    margin: float = 0.0
    note: str = ""

    def __post_init__(self) -> None:
        where, kind = f"surface, {self.kind.value}", self.kind
        if not 0 <= self.depth <= 200:
            raise InputError(f"{where}, depth", f"{self.depth:g} mm", "0 to 200 mm")
        if kind in MUST_BE_DEEP and not self.depth:
            what = "how thick it is laid on" if kind is SurfaceKind.CLAY else "how deep it goes"
            raise InputError(f"{where}, depth", "0 mm", what)
        if kind.along_line and (self.region.on is not RegionKind.LINE or not self.region.width):
            raise InputError(
                f"{where}, where", self.region.words, "a line and its width: line 2 3 mm"
            )
        if not all(COARSEST <= g <= FINEST for g in self.grits):
            raise InputError(f"{where}, grits", f"{self.grits}", f"{COARSEST} to {FINEST}")
        if kind is SurfaceKind.SAND and not self.grits:
            raise InputError(f"{where}, grits", "none", "such as 120, 220")
        if kind.laid_on and not self.material:
            raise InputError(f"{where}, material", "none", "what is laid on")
        if not 0.05 <= self.thickness <= 50:
            raise InputError(f"{where}, thickness", f"{self.thickness:g} mm", "0.05 to 50 mm")
        if not 0 <= self.margin <= 200:
            raise InputError(f"{where}, margin", f"{self.margin:g} mm", "0 to 200 mm")

    @property
    def taken(self) -> float:
        """How much foam is gone where it is done, mm."""
        return self.depth if self.kind.takes_off else 0.0

    @property
    def words(self) -> str:
        """What is done, and how deep."""
        said = [self.kind.value]
        if self.note:
            said.append(self.note)
        if self.grits:
            said.append(", ".join(map(str, self.grits)))
        if self.depth:
            said.append(f"{self.depth:g} mm {'thick' if self.kind is SurfaceKind.CLAY else 'deep'}")
        if self.material:
            said.append(self.material)
        return " ".join(said)
