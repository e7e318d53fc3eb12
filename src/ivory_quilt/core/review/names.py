"""Pieces without a name of their own, or of one name."""

import re
from functools import partial

from ivory_quilt.core.document.project import (
    Project,
    change_piece,
)
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.review.finding import Finding

_NAMELESS = re.compile(r"^(piece|path|shape|outline)\s*\d*$", re.I)


def same_name_findings(pieces: list[Piece]) -> list[Finding]:
    """Several pieces of one name cannot be told apart on the bench."""
    named: dict[str, list[Piece]] = {}
    for piece in pieces:
        named.setdefault(piece.name.strip().casefold(), []).append(piece)
    found = []
    for same in named.values():
        hands = {p.hand for p in same}
        told = len(same) == 2 and hands == {Hand.LEFT, Hand.RIGHT}
        if len(same) > 1 and not told:
            text = f"{len(same)} pieces are called '{same[0].name}'"
            ids = tuple(p.id for p in same)
            found.append(
                Finding("same-name", text, ids, "number them", partial(_numbered, ids=ids))
            )
    return found


def _numbered(project: Project, ids: tuple[str, ...]) -> Project:
    for k, ident in enumerate(ids, 1):
        project = change_piece(project, ident, name=f"{project.piece(ident).name} {k}")
    return project


def no_name_findings(piece: Piece) -> list[Finding]:
    """A piece that was never given a name of its own."""
    if not _NAMELESS.match(piece.name.strip()):
        return []
    return [Finding("no-name", f"'{piece.name}' has no name of its own", (piece.id,))]
