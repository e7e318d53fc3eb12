"""Whether the two edges of a seam mate: their bevels close the angle, their faces are as long."""

import math
from collections.abc import Mapping, Sequence

from ivory_quilt.core.edges.bevels import butt
from ivory_quilt.core.edges.profiles import knives_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Joint, Seam
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

CLOSES_WITHIN = 1.0  # degrees; common practice, no source: nobody holds a knife truer
FACE_WITHIN = 0.5  # mm that two mated faces may differ in width (from memory, no source)


class Mate(Struct, frozen=True):
    """How the cut faces of a seam come together.

    Attributes:
        first: bevel of the first edge, degrees from square.
        second: bevel of the second edge.
        faces: widths of the two cut faces, mm.
        gap: degrees that the bevels miss the seam's angle by; above 0 they gape.
        butt: whether the first edge stands on the other's face.
        dihedral: of the seam.
    """

    first: float
    second: float
    faces: tuple[float, float]
    gap: float
    butt: bool
    dihedral: float

    @property
    def closes(self) -> bool:
        """Whether the bevels close the angle."""
        return abs(self.gap) <= CLOSES_WITHIN

    @property
    def flush(self) -> bool:
        """Whether both cut faces are equally wide, or one stands on a face."""
        return self.butt or abs(self.faces[0] - self.faces[1]) <= FACE_WITHIN

    @property
    def good(self) -> bool:
        """Whether the edges mate."""
        return self.closes and self.flush

    @property
    def sentence(self) -> str:
        """The verdict in words."""
        if not self.closes:
            word = "gape" if self.gap > 0 else "leave no room"
            return f"bevels {word} by {abs(self.gap):.0f}° at {self.dihedral:g}°"
        if not self.flush:
            a, b = self.faces
            return f"cut faces of {a:.1f} and {b:.1f} mm leave a step"
        return "edges mate"

    def reckon(self) -> Reckoning:
        """Explain it."""
        whole = 180.0 - self.dihedral
        steps = [
            Step("bevels must come to", f"180 − {self.dihedral:g}", whole, "°"),
            Step("first edge", "from a square cut", self.first, "°"),
            Step("first edge", "blade from the table", 90 - abs(self.first), "°"),
            Step("second edge", "from a square cut", self.second, "°"),
            Step("second edge", "blade from the table", 90 - abs(self.second), "°"),
            Step("left open", f"{whole:g} − ({self.first:.2f} + {self.second:.2f})", self.gap, "°"),
            Step("first cut face", "thickness ÷ cos bevel", self.faces[0], "mm"),
            Step("second cut face", "thickness ÷ cos bevel", self.faces[1], "mm"),
        ]
        return Reckoning(
            "mating",
            {"dihedral": self.dihedral},
            {"gap": self.gap, "faces": self.faces},
            tuple(steps),
            "a joint's two bevels and its dihedral make half a turn (plane geometry)",
            ("Cut away from yourself with a fresh blade.",) if self.first or self.second else (),
        )


def mate_of(seam: Seam, pieces: Mapping[str, Piece], seams: Sequence[Seam] = ()) -> Mate | None:
    """Return how a seam's edges mate; None when one is gone.

    Raises:
        InputError: a bevel that no blade can cut.
    """
    first, second = pieces.get(seam.first.piece), pieces.get(seam.second.piece)
    if first is None or second is None:
        return None
    a = _angle(first, seam.first, seams or (seam,), pieces)
    b = _angle(second, seam.second, seams or (seam,), pieces)
    stands = seam.joint is Joint.BUTT and not seam.onto_other_hand
    wanted = butt(seam.dihedral) if stands else 180.0 - seam.dihedral
    faces = tuple(p.thickness / math.cos(math.radians(k)) for p, k in ((first, a), (second, b)))
    gap = wanted - a - (0.0 if stands else b)
    return Mate(a, b, (faces[0], faces[1]), gap, stands, seam.dihedral)


def _angle(piece: Piece, ref: EdgeRef, seams: Sequence[Seam], pieces: Mapping[str, Piece]) -> float:
    knives = knives_of(piece, seams, pieces)
    return next((k.angle for k in knives if k.edge == ref.edge), 0.0)
