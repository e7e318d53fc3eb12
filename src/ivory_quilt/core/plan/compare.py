"""Choices side by side: what each costs in foam and money before one is made."""

from collections.abc import Callable, Sequence

from ivory_quilt.core.document.project import Project, scale_pieces
from ivory_quilt.core.document.thickness import in_way
from ivory_quilt.core.nesting.job import LayJob, LayResult
from ivory_quilt.core.plan.plan import Plan, derive
from ivory_quilt.core.plan.standing import Proposal
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stacks.thickness import ThicknessWay
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.stock.purchase import Ledger

LayForCost = Callable[[LayJob], LayResult]
"""Lays a job well enough to know about what it costs."""
# Minutes for a piece, common practice, no source: coat two faces and join; slice with a long blade.
GLUE_MINUTES, SLICE_MINUTES = 14.0, 10.0


def cost_of(
    project: Project,
    stock: ShopStock,
    lay: LayForCost,
    wanted: Callable[[], bool] = lambda: True,
    known: Plan | None = None,
) -> Ledger:
    """Lay what a project has not laid yet, and return what all of it takes.

    `known` is a plan whose unchanged foams are taken over. Once nobody `wanted` it any more the
    rest stays unlaid.
    """
    plan = derive(project, stock, known.proposals if known is not None else None, known)
    proposals = dict(known.proposals) if known is not None else {}
    for foam in plan.unlaid:
        if not wanted():
            break
        proposals[foam.foam] = Proposal(foam.job, lay(foam.job))
    return derive(project, stock, proposals, plan).ledger


class SizeCost(Struct, frozen=True):
    """One size and what it takes.

    Attributes:
        scale: factor on the present size.
        ledger: foam, waste and money of the whole project in that size.
    """

    scale: float
    ledger: Ledger


def cost_of_size(
    project: Project,
    ids: Sequence[str],
    scale: float,
    stock: ShopStock,
    lay: LayForCost,
    wanted: Callable[[], bool] = lambda: True,
) -> SizeCost:
    """Lay a project with some pieces scaled, and return what it takes.

    Raises:
        InputError: no such piece, or a scale that makes no sense.
    """
    sized = scale_pieces(project, ids, scale) if abs(scale - 1) > 1e-9 else project
    return SizeCost(scale, cost_of(sized, stock, lay, wanted))


class WayCost(Struct, frozen=True):
    """One way to a thickness, with what it takes.

    Attributes:
        ledger: of the whole project made that way; None when some foam finds no room.
        joins: glue faces of one piece.
        minutes: of gluing and slicing for all its copies, common practice.
        finish: what its faces are like.
    """

    way: ThicknessWay
    ledger: Ledger | None
    joins: int
    minutes: float
    finish: str


def cost_of_way(
    plan: Plan,
    piece_id: str,
    way: ThicknessWay,
    lay: LayForCost,
    wanted: Callable[[], bool] = lambda: True,
) -> WayCost:
    """Lay a project with one piece made another way.

    Raises:
        InputError: no such piece.
    """
    piece = plan.project.piece(piece_id)
    joins, copies = len(way.layers) - 1, piece.cut_count
    minutes = GLUE_MINUTES * joins * copies
    if way.split > 1:
        minutes += SLICE_MINUTES * -(-copies // way.split)
    finish = (
        "one rough face each: sand it, glue it down"
        if way.split > 1
        else "skin on both faces, the joint shows at the edge"
        if joins
        else "skin on both faces"
    )
    made = in_way(plan.project, piece_id, way)
    ledger = cost_of(made, plan.stock, lay, wanted, known=plan)
    whole = ledger if not ledger.unplaced and all(k.laid for k in ledger.lines) else None
    return WayCost(way, whole, joins, minutes, finish)
