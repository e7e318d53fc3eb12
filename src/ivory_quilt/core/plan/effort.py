"""Hands-on time at the bench, by what is cut, formed, glued and coated.

Rates are from memory, common practice, no source: what a bench really takes corrects them. Waiting
is not counted: it is the schedule's.
"""

from dataclasses import dataclass

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.consuming import amounts_of
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.stock.consumables import ConsumableKind

COATINGS = (ConsumableKind.PRIMER, ConsumableKind.PAINT, ConsumableKind.SEALER)


@dataclass(frozen=True)
class Rates:
    """Minutes that hands take.

    Attributes:
        trace: a part, to trace and mark it.
        cut: a metre of square cut.
        bevel: a metre of bevelled cut more.
        form: a part that is rolled, coned, bent or shaped by eye.
        dish: a part that is dished.
        seam: a metre of seam, both edges brushed and joined.
        laminate: a square metre of glued faces.
        coat: a square metre of one coat.
    """

    trace: float = 1.0
    cut: float = 3.0
    bevel: float = 4.0
    form: float = 6.0
    dish: float = 12.0
    seam: float = 8.0
    laminate: float = 25.0
    coat: float = 20.0


USUAL_RATES = Rates()


def bench_minutes(plan: Plan, rates: Rates = USUAL_RATES) -> Reckoning:
    """Return the hands-on minutes of a plan with their reckoning; figure "minutes"."""
    parts = [p for mine in plan.parts.values() for p in mine]
    count = sum(p.cut_count for p in parts)
    cuts = sum(p.shape.polygon.length * p.cut_count for p in parts) / 1000
    bevels = (
        sum(
            bevelled_length(plan.made[i].piece, p) * p.cut_count
            for i, mine in plan.parts.items()
            for p in mine
        )
        / 1000
    )
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
    lines = (
        ("trace and mark", count, rates.trace, "parts"),
        ("cut", cuts, rates.cut, "m"),
        ("bevel", bevels, rates.bevel, "m"),
        ("form", formed, rates.form, "parts"),
        ("dish", dished, rates.dish, "parts"),
        ("join seams", amounts.seam_length / 1000, rates.seam, "m"),
        ("laminate", amounts.layers / 1e6, rates.laminate, "m²"),
        ("prime and paint", outer * coats, rates.coat, "m²"),
    )
    steps = [
        Step(what, f"{amount:.1f} {unit} × {rate:g} min", amount * rate, "min")
        for what, amount, rate, unit in lines
        if amount > 0
    ]
    total = sum(amount * rate for _, amount, rate, _ in lines)
    steps.append(Step("in all", "Σ", total, "min"))
    source = "rates from memory, common practice, no source"
    return Reckoning("bench time", {}, {"minutes": total}, tuple(steps), source)


def bevelled_length(piece: Piece, part: Part) -> float:
    """Return the length of a part's bevelled edges, mm; one whose edge is gone counts none."""
    total = 0.0
    for name, _ in part.knives:
        try:
            total += line_length(edge_line(piece, edge_of(piece, name)))
        except InputError:
            continue
    return total
