"""What tests ask of making: the parts of one piece alone."""

from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.pattern.piece import Piece, TraceRule
from ivory_quilt.core.stacks.cut import ALONE, CutContext
from ivory_quilt.core.stacks.layering import cuts_of
from ivory_quilt.core.stacks.parts import parts_from


def parts_of(
    piece: Piece, rule: TraceRule | None = None, context: CutContext = ALONE
) -> tuple[Part, ...]:
    """Derive the parts that are cut for `piece`; `rule` is the project's."""
    return parts_from(piece, cuts_of(piece, context), piece.rule or rule or TraceRule())
