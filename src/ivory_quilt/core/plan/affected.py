"""Which pieces an edit can have changed what is cut for: their own, and what hangs on them."""

from collections.abc import Iterator
from itertools import chain

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.pattern.build import LayerSize
from ivory_quilt.core.pattern.piece import Piece


def affected(before: Project, after: Project) -> frozenset[str] | None:
    """Return the ids of pieces whose cuts may be others, by two states of a project.

    What hangs on a piece are its base and what lies on it, layers with its outline, and what is
    glued to its edges. None: something that all pieces hang on has changed.
    """
    if (
        before.bench.seal is not after.bench.seal
        or before.rule != after.rule
        or before.spares != after.spares
        or before.seams != after.seams
    ):
        return None
    old, new = ({p.id: p for p in project.pieces} for project in (before, after))
    changed = {i for i in old.keys() | new.keys() if old.get(i) is not new.get(i)}
    found = set(changed)
    if changed:
        bonds = chain(_bonds(before), _bonds(after))
        found.update(other for one, other in bonds if one in changed)
    return frozenset(found)


def _bonds(project: Project) -> Iterator[tuple[str, str]]:
    """Yield (a piece, one whose cuts hang on it)."""
    for piece in project.pieces:
        for other in _bases(piece):
            yield other, piece.id
            yield piece.id, other
    for seam in project.seams:
        yield seam.first.piece, seam.second.piece
        yield seam.second.piece, seam.first.piece


def _bases(piece: Piece) -> Iterator[str]:
    """Yield the pieces that one lies on, or takes the outline of a layer from."""
    if piece.build.placing is not None:
        yield piece.build.placing.base
    for layer in piece.build.layers:
        if layer.size is LayerSize.PIECE:
            yield layer.other
