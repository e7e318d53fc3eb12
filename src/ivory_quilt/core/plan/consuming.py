"""What a plan uses up: cement, coats and blades, by the areas and cuts that they go on."""

from collections.abc import Iterator

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import Seam
from ivory_quilt.core.pattern.surface import SurfaceKind
from ivory_quilt.core.plan.painting import coated_by_can
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.surfacing import total_of
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.consumables import ConsumableKind, UsedUp, used_up

CLAY_LEFT = 10.0  # percent of clay that stays on tools and hands or is cut away, from memory
SPRAYED_PAST = 25.0  # percent of paint and primer that goes astray, from memory


class Amounts(Struct, frozen=True):
    """What of a plan is glued, coated and cut.

    Attributes:
        seams: faces of edges that are glued to edges, both, mm².
        layers: faces of layers that are glued face to face, both, mm².
        outer: outer faces, mm².
        cuts: length of all cuts, mm.
        seam_length: length of all joints of edges, mm.
    """

    seams: float
    layers: float
    outer: float
    cuts: float
    seam_length: float = 0.0

    @property
    def glued(self) -> float:
        """All faces that cement goes on, mm²."""
        return self.seams + self.layers


def amounts_of(plan: Plan) -> Amounts:
    """Return what of a plan is glued, coated and cut; seams whose edge is gone are not."""
    parts = [(i, p) for i, mine in plan.parts.items() for p in mine]
    suits = plan.suit_count
    glued = [(i, p) for i, p in parts if not is_drawn(i, p) and not p.stitched]
    layers = sum(p.shape.area * p.count for _, p in glued)
    joints = tuple(j for j in glued_seams(plan.project) if not j.stitched)
    length = sum(j.length * j.count for j in joints)
    face = sum(j.length * min(j.one.thickness, j.other.thickness) * j.count for j in joints)
    return Amounts(
        2.0 * suits * face,
        2.0 * layers,
        sum(p.shape.area * p.count for i, p in parts if is_drawn(i, p)),
        sum(p.shape.polygon.length * p.count for _, p in parts),
        suits * length,
    )


def is_drawn(piece_id: str, part: Part) -> bool:
    """Return whether a part is the piece itself, not a layer or a cover of it."""
    return part.id.split("@")[0] in (piece_id, f"{piece_id}/left", f"{piece_id}/right")


class GluedSeam(Struct, frozen=True):
    """A seam of one suit whose edges are there: `length` mm, joined `count` times."""

    number: int
    seam: Seam
    one: Piece
    other: Piece
    length: float
    count: int

    @property
    def stitched(self) -> bool:
        """Whether both are cloth that is sewn: a needle joins them, no cement."""
        return self.one.build.sewing is not None and self.other.build.sewing is not None


def glued_seams(project: Project) -> Iterator[GluedSeam]:
    """Yield a project's seams with their pieces and lengths; those whose edge is gone are none."""
    for number, seam in enumerate(project.seams):
        try:
            one, other = project.piece(seam.first.piece), project.piece(seam.second.piece)
            length = line_length(edge_line(one, edge_of(one, seam.first.edge)))
        except InputError:
            continue
        count = max(one.cut_count, other.cut_count)
        if seam.onto_other_hand:
            count //= 2
        yield GluedSeam(number, seam, one, other, length, count)


def uses_of(plan: Plan, today: str) -> tuple[UsedUp, ...]:
    """Return how much of each of the shop's consumables a plan takes, on a day."""
    amounts = amounts_of(plan)
    found = []
    cans = [c for c in plan.stock.consumables if c.kind is ConsumableKind.PAINT]
    by_can = coated_by_can(plan.project, [c.name for c in cans], plan.suit_count)
    shares = {c.id: area for c, area in zip(cans, by_can, strict=True)}
    for what in plan.stock.consumables:
        if what.kind is ConsumableKind.CEMENT:
            amount, loss = amounts.glued, 0.0
        elif what.kind is ConsumableKind.BLADE:
            amount, loss = amounts.cuts, 0.0
        elif what.kind is ConsumableKind.FILLER:
            filled, _ = total_of(plan.project, SurfaceKind.FILL, plan.suit_count)
            amount, loss = amounts.seams / 2 + filled, 0.0
        elif what.kind is ConsumableKind.CLAY:
            # Its coverage is told for 1 mm: a volume in mm³ is that many mm² of it.
            _, amount = total_of(plan.project, SurfaceKind.CLAY, plan.suit_count)
            amount, loss = amount / what.coats, CLAY_LEFT
        elif what.kind is ConsumableKind.PAINT and plan.project.paint:
            # The coats are those of the regions: the can's usual number is taken out again.
            amount = shares[what.id] * 1e6 / what.coats
            loss = SPRAYED_PAST
        else:
            amount, loss = amounts.outer, SPRAYED_PAST
        if amount > 0:
            found.append(used_up(what, amount, today, loss))
    return tuple(found)
