"""Card gauges of a plan's formed pieces, as templates that are printed like the others."""

from collections.abc import Collection

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import FaceUp, Piece
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import Template, TemplateUse, piece_numbers
from ivory_quilt.core.stacks.gauges import EVERY, Gauge, gauges_of

CARD = "card"
CARD_THICKNESS = 1.0  # mm, from memory: stiff card that keeps its edge


def gauge_templates(
    plan: Plan, wanted: Collection[str] | None = None, every: float = EVERY
) -> tuple[Template, ...]:
    """Return the cards of all formed pieces, or of those `wanted`, every so many mm.

    Raises:
        InputError: none of them is formed, or a distance that makes no sense.
    """
    numbers = piece_numbers(plan)
    made = []
    for piece in plan.project.pieces:
        if not piece.count or (wanted is not None and piece.id not in wanted):
            continue
        known = plan.made.get(piece.id)
        if known is None or known.problem:
            continue
        for k, gauge in enumerate(gauges_of(piece, known.context, every), 1):
            card = _card(piece, gauge, k)
            made.append(Template((TemplateUse(numbers[piece.id], card),), card))
    if not made:
        raise InputError("gauges", "none of the pieces is bent, rolled or dished", "a formed piece")
    return tuple(made)


def _card(piece: Piece, gauge: Gauge, number: int) -> Piece:
    return Piece(
        f"{piece.id} gauge {number}",
        f"{piece.name}, gauge: inside, {gauge.words}",
        gauge.shape,
        thickness=CARD_THICKNESS,
        material=CARD,
        face=FaceUp.EITHER,
    )
