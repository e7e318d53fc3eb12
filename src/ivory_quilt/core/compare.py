"""Sizes of one pattern side by side: what each costs in foam and money before one is chosen."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ivory_quilt.core.nesting.engine import Limit, StopSwitch, lay
from ivory_quilt.core.plan import Proposal, derive
from ivory_quilt.core.project import Project, scale_pieces
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.core.stock.purchase import Ledger

SECONDS = 0.6  # of laying for each foam; the first layout comes sooner


@dataclass(frozen=True)
class SizeCost:
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
    clock: Callable[[], float],
    switch: StopSwitch | None = None,
    seconds: float = SECONDS,
) -> SizeCost:
    """Lay a project with some pieces scaled, and return what it takes.

    Raises:
        InputError: no such piece, or a scale that makes no sense.
    """
    sized = scale_pieces(project, ids, scale) if abs(scale - 1) > 1e-9 else project
    plan = derive(sized, stock)
    proposals = {}
    for foam in plan.unlaid:
        if switch is not None and switch.stopped:
            break
        found = lay(foam.job, limit=Limit(seconds=seconds), clock=clock, switch=switch)
        proposals[foam.foam] = Proposal(foam.job, found)
    return SizeCost(scale, derive(sized, stock, proposals, plan).ledger)
