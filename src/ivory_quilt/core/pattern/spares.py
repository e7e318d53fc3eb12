"""Spares: what is cut beyond what the suit takes, since hands and heat spoil some."""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.build import Build, FormKind, ProfileKind
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.record import Struct

HARD_FORMS = (FormKind.DISHED, FormKind.CONE)
HARD_EDGES = (ProfileKind.BLADE, ProfileKind.MEET, ProfileKind.LAP)


class SpareRule(Struct, frozen=True):
    """How many spares are cut where a piece does not say itself.

    Attributes:
        percent: of the parts alike, to the nearest whole: 5 % of 40 spikes are two, of 4 none.
        hard: one of each hand of what is hard to make.
    """

    percent: float = 0.0
    hard: bool = False

    def __post_init__(self) -> None:
        if not 0 <= self.percent <= 100:
            raise InputError("spares", f"{self.percent:g} %", "0 to 100 %")


NO_SPARES = SpareRule()


def is_hard(piece: Piece) -> bool:
    """Return whether a piece spoils easily: dished, coned, with mating bevels, blades or V cuts.

    Common practice, no source.
    """
    build: Build = piece.build
    return (
        build.form.kind in HARD_FORMS
        or any(e.profile.kind in HARD_EDGES for e in build.edges)
        or any(k.kind is LineKind.UNDERCUT for k in piece.lines)
    )


def spares_of(piece: Piece, count: int, rule: SpareRule) -> int:
    """Return how many spares are cut of `count` parts alike: the piece's own number, or the rule's.

    Of nothing there are no spares.
    """
    if not count:
        return 0
    if piece.spares is not None:
        return piece.spares
    by_share = int(count * rule.percent / 100 + 0.5)
    return max(by_share, int(rule.hard and is_hard(piece)))
