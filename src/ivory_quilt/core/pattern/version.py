"""Versions of pieces that are kept: round 1 in card, round 2 wider. Data only."""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct

MOST_VERSIONS = 400


class PieceVersion(Struct, frozen=True):
    """Pieces as they once were, under a name.

    Attributes:
        name: as the maker says: round 1, wider at the hip.
        when: ISO date on which it was kept; empty: nobody knows.
        note: what was found with it: too tight at the wrist.
    """

    id: str
    name: str
    pieces: tuple[Piece, ...]
    when: str = ""
    note: str = ""

    def __post_init__(self) -> None:
        if not self.id or not self.name.strip():
            raise InputError("version", "it has no name", "a name such as round 1")
        ids = [p.id for p in self.pieces]
        if not ids or len(set(ids)) != len(ids):
            raise InputError(f"version '{self.name}'", "no pieces, or one twice", "each piece once")

    def piece(self, piece_id: str) -> Piece | None:
        """Return a piece as it was, None where it is not in this version."""
        return next((p for p in self.pieces if p.id == piece_id), None)
