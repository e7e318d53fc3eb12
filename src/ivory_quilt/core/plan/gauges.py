"""Card gauges of a plan's formed pieces, as templates that are printed like the others."""

from collections.abc import Collection

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.piece import FaceUp, Piece
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import Template, TemplateUse, piece_numbers
from ivory_quilt.core.stacks.contact import contact_of
from ivory_quilt.core.stacks.gauges import EVERY, gauges_of

CARD = "card"
CARD_THICKNESS = 1.0  # mm, from memory: stiff card that keeps its edge


def gauge_templates(
    plan: Plan, wanted: Collection[str] | None = None, every: float = EVERY
) -> tuple[Template, ...]:
    """Return the cards of all formed pieces, or of those `wanted`, every so many mm.

    What stands on a formed piece has a card of the line that its foot is trimmed to.

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
        cards = [
            _card(piece, k, f"inside, {gauge.words}", gauge.shape)
            for k, gauge in enumerate(gauges_of(piece, known.context, every), 1)
        ]
        ground = known.context.ground
        if ground is not None and ground.build.form.kind is not FormKind.FLAT:
            contact = contact_of(piece, ground, known.context)
            cards.append(_card(piece, 1, f"foot on {ground.name}", contact.card))
        made += [Template((TemplateUse(numbers[piece.id], card),), card) for card in cards]
    if not made:
        raise InputError("gauges", "none of the pieces is bent, rolled or dished", "a formed piece")
    return tuple(made)


def _card(piece: Piece, number: int, words: str, shape: Shape) -> Piece:
    return Piece(
        f"{piece.id} gauge {number}",
        f"{piece.name}, gauge: {words}",
        shape,
        thickness=CARD_THICKNESS,
        material=CARD,
        face=FaceUp.EITHER,
    )
