"""What the maker decided about the making of a piece: its form, edges and stack. Data only.

The arithmetic is in the rooms `forming`, `edges` and `stacks`. Lengths in mm, angles in degrees.
"""

from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.region import RegionKind
from ivory_quilt.core.pattern.sewing import Sewing
from ivory_quilt.core.pattern.surface import SurfaceWork
from ivory_quilt.core.record import Struct, replace


class Face(StrEnum):
    """A face of the foam on the body: the inner one, the middle, or the outer one that is seen."""

    INNER = "inner"
    MIDDLE = "middle"
    OUTER = "outer"

    @property
    def share(self) -> float:
        """Its place in the foam: 0 at the inner face, 1 at the outer one."""
        return {Face.INNER: 0.0, Face.MIDDLE: 0.5, Face.OUTER: 1.0}[self]


class FormKind(StrEnum):
    """How a piece is shaped. `BENT` bends it along its fold lines; `FREE` is shaped by eye."""

    FLAT = "flat"
    ROLLED = "rolled"
    CONE = "cone"
    BENT = "bent"
    DISHED = "dished"
    FREE = "free"


class Given(StrEnum):
    """What number a form is given by."""

    RADIUS = "radius"
    ANGLE = "angle"
    GIRTH = "girth"
    HEIGHT = "height"


class Form(Struct, frozen=True):
    """How a piece is shaped.

    Attributes:
        given: what `value` is. Rolled: the radius of what it goes around, the angle it goes
            through, or the girth that it closes around. Cone: the two radii or girths. Dished:
            the height over its outline as the rim, or the radius of the body that the pattern
            was laid flat from.
        value: the number; of a cone, at the low end of its axis.
        second: of a cone, the number at the high end.
        axis: direction of a roll's or cone's axis in the piece's plane, degrees.
        face: the face that the pattern was taken on; the inner one is the body itself.
        beneath: thickness of what is worn under the foam, mm.
    """

    kind: FormKind = FormKind.FLAT
    given: Given = Given.RADIUS
    value: float = 0.0
    second: float = 0.0
    axis: float = 90.0
    face: Face = Face.INNER
    beneath: float = 0.0

    def __post_init__(self) -> None:
        if not 0 <= self.beneath <= 200:
            raise InputError("worn beneath", f"{self.beneath:g} mm", "0 to 200 mm")
        shaped = self.kind in (FormKind.ROLLED, FormKind.CONE, FormKind.DISHED)
        if shaped and not 0 < self.value <= 1e5:
            raise InputError(self.given.value, f"{self.value:g}", "a value above 0")
        if self.kind is FormKind.CONE and not 0 < self.second <= 1e5:
            raise InputError(f"second {self.given.value}", f"{self.second:g}", "a value above 0")
        if self.given is Given.ANGLE and self.value > 360:
            raise InputError("angle", f"{self.value:g}°", "360° at most")

    @property
    def heated(self) -> bool:
        """Whether heat is used to a computed shape."""
        return self.kind not in (FormKind.FLAT, FormKind.FREE)


class ProfileKind(StrEnum):
    """How an edge is cut, seen from the outer face.

    `IN` leaves the outer face smaller than the inner one, `OUT` larger; `BLADE` bevels both faces
    to meet in the middle; `MEET` takes the angle from the seam and its neighbour.
    """

    SQUARE = "square"
    IN = "in"
    OUT = "out"
    BLADE = "blade"
    ROUND = "round"
    LAP = "lap"
    MEET = "meet"


class Profile(Struct, frozen=True):
    """An edge's profile.

    Attributes:
        angle: of a bevel, degrees from a square cut.
        width: of a blade the width of each bevel, of a round-over its radius, of a lap how far the
            inner half reaches beyond the outer one; mm.
    """

    kind: ProfileKind = ProfileKind.SQUARE
    angle: float = 45.0
    width: float = 0.0

    def __post_init__(self) -> None:
        if not 0 <= self.angle <= 80:
            raise InputError("bevel", f"{self.angle:g}°", "0 to 80° from a square cut")
        if not 0 <= self.width <= 200:
            raise InputError("width", f"{self.width:g} mm", "0 to 200 mm")
        if self.kind is ProfileKind.BLADE and self.width == 0:
            raise InputError("width", "0 mm", "the width of a blade's bevels")


SQUARE = Profile()


class LayerSize(StrEnum):
    """Where a layer's outline comes from."""

    SAME = "same"
    INSET = "inset"
    STEPPED = "stepped"
    OVERSIZE = "oversize"
    PIECE = "piece"


class LayerSide(StrEnum):
    """Which side of the piece a layer lies on."""

    OUTER = "outer"
    INNER = "inner"
    BOTH = "both"


class Layer(Struct, frozen=True):
    """A layer glued onto a piece.

    Attributes:
        size: `INSET` and `OVERSIZE` go by `by` mm from the piece, `STEPPED` inwards from the layer
            beneath; `PIECE` takes the outline of piece `other`.
        side: `BOTH` mirrors it about the piece as about a spine.
        together: cut with the layer beneath it, tacked to each other, so that edges agree.
        hidden: nobody sees its faces, so that it may be flipped on the sheet.
    """

    thickness: float
    material: str = "eva"
    size: LayerSize = LayerSize.SAME
    by: float = 0.0
    other: str = ""
    side: LayerSide = LayerSide.OUTER
    together: bool = False
    hidden: bool = False

    def __post_init__(self) -> None:
        if not 0.1 <= self.thickness <= 200:
            raise InputError("layer", f"{self.thickness:g} mm thick", "0.1 to 200 mm")
        if not 0 <= self.by <= 500:
            raise InputError("layer", f"smaller or larger by {self.by:g} mm", "0 to 500 mm")


class Wrap(Struct, frozen=True):
    """A strip glued around the edge of a piece or stack.

    Attributes:
        stretch: how much it is cut short, mm, so that it sits tight; 2 to 3 mm are usual (common
            practice, no source).
        spare: the other school: how much wider (in all) and longer it is cut, mm, to be trimmed
            flush once it is glued; then it is not stretched. 0: cut short.
        overhang: how far it stands past the stack, mm.
    """

    thickness: float = 2.0
    material: str = "eva"
    stretch: float = 2.5
    overhang: float = 0.0
    spare: float = 0.0

    def __post_init__(self) -> None:
        if not 0 <= self.spare <= 50:
            raise InputError("wrap", f"{self.spare:g} mm to spare", "0 to 50 mm")


class CoverKind(StrEnum):
    """What goes over a core.

    `SANDWICH`: two sheets pressed together around it; `CLOTH`: wrapped to the back; `SEWN`: a case
    of two panels and a strip around the edge.
    """

    SANDWICH = "sandwich"
    CLOTH = "cloth"
    SEWN = "sewn"


class Cover(Struct, frozen=True):
    """A cover over both faces of a piece or stack.

    Attributes:
        margin: what is pressed together all around, or turned over onto the back, mm; 10 mm is
            from memory, no source. Of a sewn case its seam allowance.
        ease: of a sewn case, how far it lies off the foam everywhere, mm.
    """

    kind: CoverKind = CoverKind.SANDWICH
    thickness: float = 1.0
    material: str = "thermoplastic"
    margin: float = 10.0
    ease: float = 0.0

    def __post_init__(self) -> None:
        if not 0.05 <= self.thickness <= 50:
            raise InputError("cover", f"{self.thickness:g} mm thick", "0.05 to 50 mm")
        if not 0 <= self.margin <= 500:
            raise InputError("cover, margin", f"{self.margin:g} mm", "0 to 500 mm")
        if not 0 <= self.ease <= 100:
            raise InputError("cover, ease", f"{self.ease:g} mm", "0 to 100 mm")


class TrimKind(StrEnum):
    """Shaped foam by the length."""

    ROUND = "round dowel"
    SQUARE = "square dowel"
    HALF = "half-round"
    BEVEL = "bevel strip"


class Trim(Struct, frozen=True):
    """A shaped length along an edge.

    Attributes:
        size: its diameter or side, mm.
        halved: sliced lengthwise in two, so that one length serves twice.
        trenched: slotted along its length, to be pushed over the edge.
        sliced: of one that is halved, the share of its length that is, from the edge's start; one
            that is sliced in part serves one edge only.
        inside: it lies on the inner face.
    """

    edge: str
    kind: TrimKind = TrimKind.HALF
    size: float = 10.0
    halved: bool = False
    trenched: bool = False
    sliced: float = 1.0
    inside: bool = False

    def __post_init__(self) -> None:
        if not 0 < self.sliced <= 1:
            said = f"{100 * self.sliced:g} % of its length"
            raise InputError("shaped length, halved along", said, "above 0 to 100 %")

    @property
    def serves_two(self) -> bool:
        """Whether one length is sliced into two."""
        return self.halved and self.sliced == 1


class Placing(Struct, frozen=True):
    """Where a piece is glued onto a base, as shares of the base's box, and how it is turned.

    The middle of the piece's box comes there. Shares stay true when the base is scaled.

    `stands`: the name of its edge that it stands upright on, the middle of which comes there;
    empty: it lies flat and is bent with the base.
    """

    base: str
    across: float = 0.5
    up: float = 0.5
    turn: float = 0.0
    stands: str = ""


class EdgeProfile(Struct, frozen=True):
    """A profile of a named edge."""

    edge: str
    profile: Profile


class Build(Struct, frozen=True):
    """Everything decided about the making of one piece.

    Attributes:
        edges: edges that are not square.
        on_form: whether layers are glued on the form, each as long as its own place on it.
        split: how many are sliced from one thicker sheet; 1 for none.
        rod: diameter of a rod along the middle of a stack, mm; 0 for none.
        sealed: heat-sealed although it is not formed, so that it shrinks.
        works: what is done to its faces.
        sewing: of cloth, how it is sewn; None: its outline is cut as it is.
    """

    form: Form = Form()
    edges: tuple[EdgeProfile, ...] = ()
    layers: tuple[Layer, ...] = ()
    on_form: bool = True
    split: int = 1
    rod: float = 0.0
    wrap: Wrap | None = None
    cover: Cover | None = None
    trims: tuple[Trim, ...] = ()
    placing: Placing | None = None
    sealed: bool = False
    works: tuple[SurfaceWork, ...] = ()
    sewing: Sewing | None = None

    def __post_init__(self) -> None:
        if not 1 <= self.split <= 6:
            raise InputError("split", f"in {self.split}", "in 1 to 6")
        if not 0 <= self.rod <= 100:
            raise InputError("rod", f"{self.rod:g} mm", "0 to 100 mm")

    def profile(self, edge: str) -> Profile:
        """Return an edge's profile, square where none is said."""
        return next((e.profile for e in self.edges if e.edge == edge), SQUARE)

    def with_profile(self, edge: str, profile: Profile) -> "Build":
        """Return the build with another profile of one edge."""
        others = tuple(e for e in self.edges if e.edge != edge)
        kept = () if profile.kind is ProfileKind.SQUARE else (EdgeProfile(edge, profile),)
        return replace(self, edges=tuple(sorted((*others, *kept), key=lambda e: e.edge)))

    def renamed(self, old: str, new: str) -> "Build":
        """Return the build with an edge's name changed wherever it stands."""

        def name(edge: str) -> str:
            return new if edge == old else edge

        return replace(
            self,
            edges=tuple(replace(e, edge=name(e.edge)) for e in self.edges),
            trims=tuple(replace(t, edge=name(t.edge)) for t in self.trims),
            sewing=self.sewing.renamed(old, new) if self.sewing is not None else None,
            works=tuple(
                replace(w, region=replace(w.region, of=name(w.region.of)))
                if w.region.on is RegionKind.EDGE
                else w
                for w in self.works
            ),
        )

    def with_axis(self, axis: float) -> "Build":
        """Return the build with its form's axis turned; a line has no head, so 0 to 180°."""
        return replace(self, form=replace(self.form, axis=axis))


PLAIN = Build()
