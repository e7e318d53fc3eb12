"""Which piece costs what: each bought sheet's price is shared by the area of what lies on it."""

from collections.abc import Mapping
from decimal import ROUND_DOWN, Decimal

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.nesting.job import CENT
from ivory_quilt.core.pattern.linking import leaders
from ivory_quilt.core.plan.plan import Plan, used_sheets
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.foam_stock import StockKind
from ivory_quilt.core.stock.purchase import line_cost


class PieceGroup(Struct, frozen=True):
    """Pieces that seams, bases or one shape's numbers hold together; the largest one names it."""

    name: str
    pieces: tuple[str, ...]


class GroupCost(Struct, frozen=True):
    """What a group of pieces takes: money for foam to buy, and area of its parts, mm²."""

    group: PieceGroup
    cost: Decimal
    area: float


def piece_groups(project: Project) -> tuple[PieceGroup, ...]:
    """Return the groups of a project's pieces, in the order of their first pieces."""
    links = [(seam.first.piece, seam.second.piece) for seam in project.seams]
    shapes: dict[str, str] = {}
    for piece in project.pieces:
        if piece.build.placing is not None:
            links.append((piece.build.placing.base, piece.id))
        if piece.recipe is not None:
            links.append((shapes.setdefault(piece.recipe.group, piece.id), piece.id))
    leader = leaders((p.id for p in project.pieces), links)
    members: dict[str, list[str]] = {}
    for piece in project.pieces:
        if piece.count:
            members.setdefault(leader[piece.id], []).append(piece.id)
    made = []
    for ids in members.values():
        largest = max(ids, key=lambda i: project.piece(i).shape.area)
        more = f" and {len(ids) - 1} more" if len(ids) > 1 else ""
        made.append(PieceGroup(f"{project.piece(largest).name}{more}", tuple(ids)))
    return tuple(made)


def piece_costs(plan: Plan) -> Mapping[str, tuple[Decimal, float]]:
    """Return what each piece's foam to buy costs, and the area of its parts, by the piece's id.

    To the cent; all together cost what the ledger says.
    """
    costs: dict[str, Decimal] = {}
    areas: dict[str, float] = {}
    for foam in plan.foams:
        for sheet in used_sheets(foam, plan.stock):
            here: dict[str, float] = {}
            for part in sheet.parts:
                here[part.piece_id] = here.get(part.piece_id, 0.0) + part.shape.area
            amount = (sheet.use.used_length or 0.0) if sheet.item.kind is StockKind.ROLL else 1.0
            cost = line_cost(sheet.item, owned=sheet.owned, amount=amount)
            for piece, share in shared(cost, here).items():
                costs[piece] = costs.get(piece, Decimal(0)) + share
                areas[piece] = areas.get(piece, 0.0) + here[piece]
    return {i: (costs[i], areas[i]) for i in costs}


def shared(amount: Decimal, weights: Mapping[str, float]) -> dict[str, Decimal]:
    """Share an amount by weights, to the cent, so that the shares add up to it exactly.

    What rounding down leaves goes to the largest remainders (Hamilton's method).
    """
    total = sum(weights.values())
    if not weights or total <= 0:
        return {}
    exact = {k: amount * Decimal(repr(w / total)) for k, w in weights.items()}
    found = {k: v.quantize(CENT, ROUND_DOWN) for k, v in exact.items()}
    cents = int((amount - sum(found.values(), Decimal(0))) / CENT)
    for k in sorted(exact, key=lambda k: (found[k] - exact[k], k))[:cents]:
        found[k] += CENT
    largest = max(weights, key=lambda k: weights[k])
    found[largest] += amount - sum(found.values(), Decimal(0))
    return found


def group_costs(plan: Plan) -> tuple[GroupCost, ...]:
    """Return what each group of pieces takes, the dearest first, then the largest."""
    each = piece_costs(plan)
    nothing = (Decimal(0), 0.0)
    made = [
        GroupCost(
            group,
            sum((each.get(i, nothing)[0] for i in group.pieces), Decimal(0)),
            sum(each.get(i, nothing)[1] for i in group.pieces),
        )
        for group in piece_groups(plan.project)
    ]
    return tuple(sorted(made, key=lambda g: (-g.cost, -g.area)))
