"""What a plan uses up: cement, coats and blades, by the areas and cuts that they go on."""

from dataclasses import dataclass

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.stock.consumables import ConsumableKind, UsedUp, used_up

SPRAYED_PAST = 25.0  # percent of paint and primer that goes astray, from memory


@dataclass(frozen=True)
class Amounts:
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
    suits = max(1, sum(s.count if s.member is not None else 1 for s in plan.suits))
    layers = sum(p.shape.area * p.count for i, p in parts if not _drawn(i, p))
    length, face = _seams(plan)
    return Amounts(
        2.0 * suits * face,
        2.0 * layers,
        sum(p.shape.area * p.count for i, p in parts if _drawn(i, p)),
        sum(p.shape.polygon.length * p.count for _, p in parts),
        suits * length,
    )


def _drawn(piece_id: str, part: Part) -> bool:
    """Return whether a part is the piece itself, not a layer or a cover of it."""
    return part.id.split("@")[0] in (piece_id, f"{piece_id}/left", f"{piece_id}/right")


def _seams(plan: Plan) -> tuple[float, float]:
    """Return length (mm) and face (mm²) of the seams in one suit, one side of each."""
    along, total = 0.0, 0.0
    for seam in plan.project.seams:
        try:
            one = plan.project.piece(seam.first.piece)
            other = plan.project.piece(seam.second.piece)
            length = line_length(edge_line(one, edge_of(one, seam.first.edge)))
        except InputError:
            continue
        joints = max(one.cut_count, other.cut_count)
        if seam.onto_other_hand:
            joints //= 2
        along += length * joints
        total += length * min(one.thickness, other.thickness) * joints
    return along, total


def uses_of(plan: Plan, today: str) -> tuple[UsedUp, ...]:
    """Return how much of each of the shop's consumables a plan takes, on a day."""
    amounts = amounts_of(plan)
    found = []
    for what in plan.stock.consumables:
        if what.kind is ConsumableKind.CEMENT:
            amount, loss = amounts.glued, 0.0
        elif what.kind is ConsumableKind.BLADE:
            amount, loss = amounts.cuts, 0.0
        elif what.kind is ConsumableKind.FILLER:
            amount, loss = amounts.seams / 2, 0.0
        else:
            amount, loss = amounts.outer, SPRAYED_PAST
        if amount > 0:
            found.append(used_up(what, amount, today, loss))
    return tuple(found)
