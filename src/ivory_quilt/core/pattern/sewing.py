"""How a piece of cloth is sewn: allowances of its edges, darts, how far it is stretched. Data."""

from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct, replace

USUAL_ALLOWANCE = 10.0  # mm; from memory, common practice, no source
USUAL_HEM = 20.0  # mm, the same


class EdgeFinish(StrEnum):
    """What becomes of a cloth's edge."""

    SEAM = "seam"
    HEM = "hem"
    FOLD = "on the fold"
    RAW = "raw"


class SewnEdge(Struct, frozen=True):
    """An edge that is not sewn with the usual allowance.

    Attributes:
        edge: its name.
        width: of what is turned over or sewn in, mm.
    """

    edge: str
    finish: EdgeFinish = EdgeFinish.HEM
    width: float = USUAL_HEM

    def __post_init__(self) -> None:
        if not 0 <= self.width <= 200:
            raise InputError(f"edge {self.edge}, allowance", f"{self.width:g} mm", "0 to 200 mm")


class SewnDart(Struct, frozen=True):
    """A wedge that is sewn shut and stays in the cloth.

    Attributes:
        edge: that it opens at.
        at: where its middle is along that edge, 0 to 1.
        width: at the edge, mm.
        depth: to its point, mm.
    """

    edge: str
    at: float = 0.5
    width: float = 20.0
    depth: float = 60.0

    def __post_init__(self) -> None:
        where = f"dart at edge {self.edge}"
        if not 0 < self.at < 1:
            raise InputError(f"{where}, at", f"{100 * self.at:g} %", "above 0, below 100 %")
        if not 0 < self.width <= 300:
            raise InputError(f"{where}, width", f"{self.width:g} mm", "above 0 to 300 mm")
        if not 0 < self.depth <= 1000:
            raise InputError(f"{where}, depth", f"{self.depth:g} mm", "above 0 to 1000 mm")


class Sewing(Struct, frozen=True):
    """How a piece is sewn; the pattern's outline is the line of stitches.

    Attributes:
        allowance: cloth outside the stitches, mm, where an edge says nothing else.
        along, across: by how much it is stretched when worn, along the grain and across it,
            percent; it is cut smaller by that.
    """

    allowance: float = USUAL_ALLOWANCE
    edges: tuple[SewnEdge, ...] = ()
    darts: tuple[SewnDart, ...] = ()
    along: float = 0.0
    across: float = 0.0

    def __post_init__(self) -> None:
        if not 0 <= self.allowance <= 100:
            raise InputError("seam allowance", f"{self.allowance:g} mm", "0 to 100 mm")
        for word, value in (("along", self.along), ("across", self.across)):
            if not 0 <= value <= 200:
                raise InputError(f"stretched {word}", f"{value:g} %", "0 to 200 %")

    def at(self, edge: str) -> SewnEdge:
        """Return what becomes of an edge."""
        usual = SewnEdge(edge, EdgeFinish.SEAM, self.allowance)
        return next((e for e in self.edges if e.edge == edge), usual)

    def outside(self, edge: str) -> float:
        """Return how much cloth is cut outside the stitches of an edge, mm."""
        made = self.at(edge)
        return 0.0 if made.finish in (EdgeFinish.FOLD, EdgeFinish.RAW) else made.width

    def with_edge(self, made: SewnEdge) -> "Sewing":
        """Return it with what becomes of one edge; the usual seam is not kept."""
        others = tuple(e for e in self.edges if e.edge != made.edge)
        usual = made.finish is EdgeFinish.SEAM and made.width == self.allowance
        return replace(self, edges=others if usual else (*others, made))

    def taken_by_darts(self, edge: str) -> float:
        """Return how much shorter darts make an edge, mm."""
        return sum(d.width for d in self.darts if d.edge == edge)

    def renamed(self, old: str, new: str) -> "Sewing":
        """Return it with an edge's name changed."""
        return replace(
            self,
            edges=tuple(replace(e, edge=new) if e.edge == old else e for e in self.edges),
            darts=tuple(replace(d, edge=new) if d.edge == old else d for d in self.darts),
        )
