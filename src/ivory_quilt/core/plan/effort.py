"""Hands-on time at the bench, by what is cut, formed, glued and coated.

Rates are the shop's: from memory until what a bench really takes corrects them. Waiting is not
counted: it is the schedule's.
"""

from collections.abc import Iterable

from ivory_quilt.core.cutting.blade_runs import blade_runs
from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.plan.consuming import amounts_of
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.stock.consumables import ConsumableKind
from ivory_quilt.core.stock.work_rates import Rates

FLAT = Pose(0.0, 0.0)  # as it lies with its own face up
COATINGS = (ConsumableKind.PRIMER, ConsumableKind.PAINT, ConsumableKind.SEALER)


def bench_minutes(plan: Plan, rates: Rates | None = None) -> Reckoning:
    """Return the hands-on minutes of a plan with their reckoning; figure "minutes".

    By the shop's rates, unless others are given.
    """
    rates = rates or plan.stock.rates
    parts = [p for mine in plan.parts.values() for p in mine]
    count = sum(p.cut_count for p in parts)
    cuts = sum(p.shape.polygon.length * p.cut_count for p in parts) / 1000
    curves = sum(p.curved * p.cut_count for p in parts) / 1000
    bevels = sum(bevelled_length(p) * p.cut_count for p in parts) / 1000
    forms = {i: m.piece.build.form.kind for i, m in plan.made.items()}
    formed = sum(
        p.count
        for i, mine in plan.parts.items()
        for p in mine
        if forms[i] not in (FormKind.FLAT, FormKind.DISHED)
    )
    dished = sum(
        p.count for i, mine in plan.parts.items() for p in mine if forms[i] is FormKind.DISHED
    )
    amounts = amounts_of(plan)
    outer = amounts.outer / 1e6
    coats = sum(c.coats for c in plan.stock.consumables if c.kind in COATINGS)
    pace = rates.pace
    cutting = pace(StepKind.CUT) * rates.cut_again
    lines = (
        ("trace and mark", count, rates.trace * cutting, "parts"),
        ("cut", cuts, rates.cut * cutting, "m"),
        ("of that curved", curves, rates.curve * cutting, "m"),
        ("bevel", bevels, rates.bevel * pace(StepKind.BEVEL), "m"),
        ("form", formed, rates.form * pace(StepKind.FORM), "parts"),
        ("dish", dished, rates.dish * pace(StepKind.FORM), "parts"),
        ("join seams", amounts.seam_length / 1000, rates.seam * pace(StepKind.JOIN), "m"),
        ("laminate", amounts.layers / 1e6, rates.laminate * pace(StepKind.JOIN), "m²"),
        ("prime and paint", outer * coats, rates.coat * pace(StepKind.PAINT), "m²"),
    )
    steps = [
        Step(what, f"{amount:.1f} {unit} × {rate:g} min", amount * rate, "min")
        for what, amount, rate, unit in lines
        if amount > 0
    ]
    total = sum(amount * rate for _, amount, rate, _ in lines)
    steps.append(Step("in all", "Σ", total, "min"))
    learned = ", corrected by the journal" if rates.paces else ""
    source = f"rates from memory, common practice, no source{learned}"
    return Reckoning("bench time", {}, {"minutes": total}, tuple(steps), source)


def part_minutes(part: Part, rates: Rates) -> float:
    """Return how long hands take to trace and cut one copy of a part, by plain rates."""
    around, curved = part.shape.polygon.length / 1000, part.curved / 1000
    return rates.trace + around * rates.cut + curved * rates.curve


def cutting_minutes(parts: Iterable[Part], rates: Rates) -> float:
    """Return how long hands take to trace and cut parts with their bevels, each once.

    As the journal knows them.
    """
    found = list(parts)
    square = sum(part_minutes(p, rates) for p in found) * rates.pace(StepKind.CUT)
    bevels = sum(bevelled_length(p) for p in found) / 1000 * rates.bevel
    return square + bevels * rates.pace(StepKind.BEVEL)


def pass_minutes(part: Part, setting: int, rates: Rates, *, first: bool, last: bool) -> float:
    """Return how long hands take for one pass around a part, by plain rates.

    What a bevel takes more comes with its own pass; all else with the first.

    Args:
        part: that is cut.
        setting: of the blade, degrees.
        rates: of the hands.
        first: whether it is the first pass.
        last: whether it is the last as well.
    """
    runs = blade_runs(part.line_up(FLAT), part.bevels_up(FLAT))
    here = [r for r in runs if r.setting and (r.setting == setting or (first and last))]
    bevels = sum(r.length for r in here) / 1000 * rates.bevel
    return bevels + (part_minutes(part, rates) if first else 0.0)


def bevelled_length(part: Part) -> float:
    """Return the length of a part's bevelled edges, mm."""
    if not part.bevels:
        return 0.0
    runs = blade_runs(part.line_up(FLAT), part.bevels_up(FLAT))
    return sum(run.length for run in runs if run.setting)
