"""What each station wants of the maker: the marks on the rail, in a sentence each."""

from ivory_quilt.core.document.darts import strained
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.units import show_misfits


def wants(plan: Plan, *, offered: bool, waiting: bool) -> dict[str, str]:
    """Return a sentence for each station that wants something, by its id.

    Args:
        plan: as it stands.
        offered: whether a layout waits to be kept.
        waiting: whether a file that came in has something to look at.
    """
    found: dict[str, str] = {}
    if waiting:
        found["pattern"] = "an imported file needs a look"
    lost = sum(f.line.unplaced for f in plan.foams if f.line.laid)
    if lost:
        found["lay"] = show_misfits(lost)
    elif offered:
        found["lay"] = "a layout is offered: keep it or improve it"
    if plan.problems:
        names = [plan.project.piece(i).name for i in plan.problems]
        found["build"] = f"cannot be made as decided: {', '.join(names[:3])}"
    elif deep := strained(plan.project, {m.id: m.book for m in plan.stock.materials}):
        found["build"] = f"dished too deep for heat alone: {', '.join(p.name for p in deep[:3])}"
    if any(f.standing is Standing.NO_STOCK for f in plan.foams):
        found["buy"] = "some foam is not in the shop"
    return found
