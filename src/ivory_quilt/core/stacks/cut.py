"""A cut: one thing that is cut for a piece, with all that was done to its outline and why."""

from typing import NamedTuple

from ivory_quilt.core.edges.profiles import Knife
from ivory_quilt.core.forming.book import BOOK, FoamBook
from ivory_quilt.core.forming.forms import reference_height
from ivory_quilt.core.forming.shaping import Change, Place
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.build import LayerSide, LayerSize
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct


class ClothStrip(Struct, frozen=True):
    """A strap or hinge strip that is cut from cloth for a piece.

    Attributes:
        words: what it is.
        length, width: as it is cut, mm.
        count: for all copies of the piece.
    """

    id: str
    words: str
    length: float
    width: float
    thickness: float
    material: str
    count: int


class CutContext(Struct, frozen=True):
    """What a piece's cuts depend on besides the piece.

    Attributes:
        books: what the shop knows of each material.
        knives: of the piece's edges that are not square; None: as the piece alone says.
        outlines: pieces that layers take their outline from, by id.
        base: what the piece is glued onto, or None.
        placed: pieces that are glued onto this one.
        ground: what the piece stands on with an edge, or None.
        standing: pieces that stand on this one.
        strips: of cloth that are cut for it.
    """

    books: tuple[tuple[str, FoamBook], ...] = ()
    knives: tuple[Knife, ...] | None = None
    outlines: tuple[Piece, ...] = ()
    base: Piece | None = None
    placed: tuple[Piece, ...] = ()
    ground: Piece | None = None
    standing: tuple[Piece, ...] = ()
    strips: tuple[ClothStrip, ...] = ()

    def book(self, material: str) -> FoamBook:
        """Return what is known of a material; default values for one that nobody described."""
        return next((b for m, b in self.books if m == material), BOOK)

    def outline(self, piece_id: str) -> Piece | None:
        """Return a piece that gives its outline to a layer, or None."""
        return next((p for p in self.outlines if p.id == piece_id), None)


ALONE = CutContext()


class Cut(Struct, frozen=True):
    """One thing to cut.

    Attributes:
        suffix: what its id has after the piece's; empty for the piece itself.
        what: in words: "layer 2, outer side"; empty for the piece itself.
        piece: as it is cut: the outline on the face that is marked, with what is drawn on it.
        outer: outline on the outer face.
        inner: outline on the inner face.
        footprint: what it covers on the table.
        knives: how the knife is held along its edges.
        changes: from the pattern's outline, each with its reckoning.
        place: on the form; None for what goes around it.
        other_hand: whether it lies on the inner side of a spine, so that its skin faces in.
        notes: what the bench must know.
        waist: of a blade, its outline where both bevels meet, and the height of that, mm.
    """

    suffix: str
    what: str
    piece: Piece
    outer: Shape
    inner: Shape
    footprint: Shape
    knives: tuple[Knife, ...] = ()
    changes: tuple[Change, ...] = ()
    place: Place | None = None
    other_hand: bool = False
    notes: tuple[str, ...] = ()
    waist: tuple[Shape, float] | None = None

    @property
    def name(self) -> str:
        """The piece's name, and what of it."""
        return f"{self.piece.name}: {self.what}" if self.what else self.piece.name

    @property
    def foam(self) -> Foam:
        """What it is cut from."""
        return Foam(self.piece.thickness, self.piece.material)

    @property
    def volume(self) -> float:
        """Of the finished layer, mm³: mean of both faces × thickness."""
        return (self.outer.area + self.inner.area) / 2 * self.piece.thickness


def stack_thickness(piece: Piece) -> float:
    """Return the thickness of a piece with all its layers, mm."""
    both = sum(k.thickness * (2 if k.side is LayerSide.BOTH else 1) for k in piece.build.layers)
    return piece.thickness + both


class KnifeRun(NamedTuple):
    """From where to where a bevel is cut, and where the pattern line is; above the inner face."""

    low: float
    high: float
    carrier: float

    @property
    def whole(self) -> float:
        """Thickness that the knife goes through, mm."""
        return self.high - self.low


def knife_run(piece: Piece) -> KnifeRun:
    """Return the run of a piece's bevels: through itself and the layers of its own outline.

    A layer of another size ends the run.
    """
    ends = []
    for side, first in ((LayerSide.INNER, 0.0), (LayerSide.OUTER, piece.thickness)):
        at = first
        for layer in piece.build.layers:
            if layer.side in (side, LayerSide.BOTH):
                if layer.size is not LayerSize.SAME:
                    break
                at += -layer.thickness if side is LayerSide.INNER else layer.thickness
        ends.append(at)
    form = piece.build.form
    # The body is below what is worn beneath; the pattern's line comes to the inner face.
    carrier = max(reference_height(form, piece.thickness), 0.0)
    return KnifeRun(ends[0], ends[1], carrier)


def outward(piece: Piece, index: int) -> float:
    """Return how far the outline of layer `index` lies outside the piece's, mm; below 0 inside."""
    layer = piece.build.layers[index]
    if layer.size is LayerSize.OVERSIZE:
        return layer.by
    if layer.size is LayerSize.INSET:
        return -layer.by
    if layer.size is not LayerSize.STEPPED:
        return 0.0
    beneath = [
        k
        for k, other in enumerate(piece.build.layers[:index])
        if layer.side in (other.side, LayerSide.BOTH) or other.side is LayerSide.BOTH
    ]
    return (outward(piece, beneath[-1]) if beneath else 0.0) - layer.by
