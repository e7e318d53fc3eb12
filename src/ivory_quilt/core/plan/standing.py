"""Where a foam's layout stands: kept, offered, stale; what holds, and what answers a new job."""

from enum import StrEnum

from ivory_quilt.core.document.project import KeptLayout
from ivory_quilt.core.nesting.check import violations, violations_of
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement
from ivory_quilt.core.nesting.summary import summarise
from ivory_quilt.core.record import Struct, replace


class Standing(StrEnum):
    """Where a foam's layout stands."""

    KEPT = "kept"
    """The maker keeps it, and it is true."""
    PROPOSED = "proposed"
    """The engine offers it; not saved yet."""
    STALE = "stale"
    """The kept layout no longer fits the pieces or the stock, and there is no new one yet."""
    MISSING = "missing"
    """Nothing laid yet."""
    CUT = "cut"
    """Everything of it is cut."""
    NO_STOCK = "no stock"
    """The shop has no foam of this kind to lay on."""


class Proposal(Struct, frozen=True):
    """A layout that the engine made, and checked exactly, for one job."""

    job: LayJob
    result: LayResult


def with_pins(job: LayJob, pins: tuple[Placement, ...]) -> tuple[LayJob, int]:
    """Return the job with those pins that still hold, and how many do not.

    A pin is lost when its part, its sheet or its room is gone.
    """
    specs = {p.id: p for p in job.pieces}
    good: list[Placement] = []
    for pin in pins:
        known = pin.piece in specs and pin.sheet in job.stock
        if known and not violations(job, (*good, pin)):
            good.append(pin)
    pieces = tuple(replace(p, fixed=tuple(g for g in good if g.piece == p.id)) for p in job.pieces)
    return LayJob(pieces, job.sheets, job.rolls, job.gap), len(pins) - len(good)


def holds(job: LayJob, placements: tuple[Placement, ...], old: Proposal | None = None) -> bool:
    """Return whether placements keep every rule and leave no part out."""
    count = sum(p.quantity for p in job.pieces)
    return len(placements) == count and _true(job, placements, old)


def _true(job: LayJob, placements: tuple[Placement, ...], old: Proposal | None) -> bool:
    """Return whether placements keep every rule.

    Where they did for the plan before, on the same stock, only what changed is looked at again.
    """
    if (
        old is None
        or old.result.placements is not placements
        or old.job.all_stock != job.all_stock
        or old.job.gap != job.gap
    ):
        return not violations(job, placements)
    before = {p.id: p for p in old.job.pieces}
    now = {p.id for p in job.pieces}
    if any(p.piece not in now for p in placements):
        return False
    changed = {p.id for p in job.pieces if before.get(p.id) != p}
    if len(changed) > len(job.pieces) // 2 or any(p.fixed for p in job.pieces):
        return not violations(job, placements)
    return not any(
        p.piece in changed and violations_of(job, placements, i) for i, p in enumerate(placements)
    )


def answers(job: LayJob, result: LayResult, old: Proposal | None = None) -> bool:
    """Return whether a result speaks of every part of a job and keeps the rules.

    One made before a count was raised keeps them too, but says nothing of the new parts.
    """
    named = len(result.placements) + len(result.unplaced)
    if named != sum(p.quantity for p in job.pieces):
        return False
    known = {p.id for p in job.pieces}
    if any(piece not in known for piece, _ in result.unplaced):
        return False
    return _true(job, result.placements, old)


def standing_of(
    job: LayJob, kept: KeptLayout | None, proposal: Proposal | None, old: Proposal | None
) -> tuple[Standing, LayResult | None]:
    """Return where a foam's layout stands, and the layout; `old` is the one before."""
    if kept is not None and holds(job, kept.placements, old):
        return Standing.KEPT, summarise(job, kept.placements)
    if not job.stock:
        return Standing.NO_STOCK, None
    if proposal is not None:
        result = proposal.result
        if proposal.job is job or proposal.job == job:
            return Standing.PROPOSED, result
        if answers(job, result, old):
            return Standing.PROPOSED, summarise(job, result.placements)
    return (Standing.STALE if kept is not None else Standing.MISSING), None
