"""Ways to make a pattern meet a measure, and what each does to its seams.

One scale for the whole set keeps every seam. Where only one direction must change, or a pattern is
nearly right, makers stretch it, offset it all around, or let in a strip (common practice, no
source). Foam thickness does not change; bevels and wraps are worked out after.
"""

from collections.abc import Sequence
from enum import StrEnum

from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.document.seam_book import SeamChange, seam_changes
from ivory_quilt.core.editing.reshape import scaled_piece
from ivory_quilt.core.editing.resize import offset, stretched
from ivory_quilt.core.editing.surgery import CutLine, with_strip
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.fit import Fit, KeyOf, key_length
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import show_number

WITHIN = 0.01  # mm that the key dimension is met to


class SizeMethod(StrEnum):
    """How a pattern is made larger or smaller."""

    SCALE = "scale"
    STRETCH = "stretch"
    OFFSET = "offset"
    STRIP = "strip"


class Sized(Struct, frozen=True):
    """A project sized in one way.

    Attributes:
        amount: percent for a scale or stretch, mm for an offset or strip.
        words: what is done, in words.
        seams: what it does to seams.
    """

    project: Project
    way: SizeMethod
    amount: float
    words: str
    seams: tuple[SeamChange, ...]

    def seam_words(self) -> str:
        """Return what becomes of the seams, in a sentence."""
        if not self.seams:
            return "No seam changes its length."
        lost = [s for s in self.seams if s.after is None or s.after.verdict != s.before.verdict]
        many = len(self.seams)
        if not lost:
            count = "The seam" if many == 1 else f"All {many} seams"
            return f"{count} changed in length still fit{'s' if many == 1 else ''} as before."
        return f"{len(lost)} of {many} changed seams fit otherwise: {lost[0].sentence}."


def sized(
    project: Project, ids: Sequence[str], key_id: str, key: KeyOf, fit: Fit, way: SizeMethod
) -> Sized:
    """Return a project whose key piece meets a fit, sized in one way.

    Args:
        project: the project.
        ids: the pieces that are sized together; a strip is let into the key piece alone.
        key_id: the key piece.
        key: which of its dimensions meets the body.
        fit: what that must come to.
        way: how.

    Raises:
        InputError: the way does not serve this dimension, or the numbers make no sense.
    """
    fit.check()
    wanted = fit.needed / fit.around
    piece = project.piece(key_id)
    if way is SizeMethod.SCALE:
        factor = fit.scale
        made = [scaled_piece(project.piece(i), factor) for i in ids]
        amount, words = 100 * factor, f"scaled to {show_number(100 * factor, 1)} %"
    elif way is SizeMethod.STRETCH:
        across, up = _stretch(key, fit.scale)
        made = [stretched(project.piece(i), across, up) for i in ids]
        direction = "across" if key is KeyOf.WIDTH else "upwards"
        amount = 100 * fit.scale
        words = f"stretched {direction} to {show_number(amount, 1)} %"
    elif way is SizeMethod.OFFSET:
        amount = _offset_for(piece, key, wanted)
        made = [offset(project.piece(i), amount) for i in ids]
        side = "outside" if amount >= 0 else "inside"
        words = f"{show_number(abs(amount), 1)} mm {side} the line all around"
    else:
        amount = wanted - key_length(piece.shape, key)
        made = [with_strip(piece, across_middle(piece, key), amount)] if amount > 0 else []
        if not made:
            raise InputError("strip", "the piece is large enough already", "a smaller piece")
        words = f"a strip of {show_number(amount, 1)} mm let into {piece.name}"
    after = put_pieces(project, made)
    return Sized(after, way, amount, words, seam_changes(project, after))


def _stretch(key: KeyOf, factor: float) -> tuple[float, float]:
    if key is KeyOf.OUTLINE:
        raise InputError("stretch", "an outline has no direction", "width or height as key")
    return (factor, 1.0) if key is KeyOf.WIDTH else (1.0, factor)


def _offset_for(piece: Piece, key: KeyOf, wanted: float) -> float:
    """Return the offset that brings a key dimension to a length, by regula falsi steps."""
    low, low_at = 0.0, key_length(piece.shape, key)
    guess = (wanted - low_at) / (2.0 if key is not KeyOf.OUTLINE else 6.3)
    for _ in range(40):
        at = key_length(offset(piece, guess).shape, key) if guess else low_at
        if abs(at - wanted) < WITHIN:
            return guess
        slope = (at - low_at) / (guess - low) if abs(guess - low) > 1e-9 else 2.0
        low, low_at = guess, at
        guess += (wanted - at) / (slope if abs(slope) > 0.1 else 2.0)
    return guess


def across_middle(piece: Piece, key: KeyOf) -> CutLine:
    """Return the line through a piece's middle that a strip widens its key dimension at.

    Raises:
        InputError: the outline is the key, which has no direction.
    """
    x0, y0, x1, y1 = piece.shape.bounds
    if key is KeyOf.OUTLINE:
        raise InputError("strip", "an outline has no direction", "width or height as key")
    if key is KeyOf.WIDTH:
        x = (x0 + x1) / 2
        return CutLine((x, y0 - 1), (x, y1 + 1))
    y = (y0 + y1) / 2
    return CutLine((x1 + 1, y), (x0 - 1, y))


def size_choices(fit: Fit, step: float) -> tuple[float, float, float]:
    """Return three scales to compare: a step smaller than the fit, the fit, a step larger."""
    return (fit.scale * (1 - step), fit.scale, fit.scale * (1 + step))
