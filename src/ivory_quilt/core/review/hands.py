"""Two hands cut alike, a hand without its other, a piece drawn twice."""

from ivory_quilt.core.document.project import (
    Project,
    change_piece,
    remove_pieces,
)
from ivory_quilt.core.editing.reshape import mirrored_piece, same_shape
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.review.finding import Finding


def hand_findings(pieces: list[Piece]) -> list[Finding]:
    """Two hands cut alike, and a hand without its other."""
    found = []
    lefts = [p for p in pieces if p.hand is Hand.LEFT]
    rights = [p for p in pieces if p.hand is Hand.RIGHT]
    partnered: set[str] = set()
    for left in lefts:
        for right in rights:
            if right.id in partnered or not _may_partner(left, right):
                continue
            if same_shape(mirrored_piece(left).shape, right.shape):
                partnered |= {left.id, right.id}
                break
            if same_shape(left.shape, right.shape):
                partnered |= {left.id, right.id}
                found.append(_alike(left, right))
                break
    for piece in (*lefts, *rights):
        if piece.id not in partnered:
            word = "right" if piece.hand is Hand.LEFT else "left"
            found.append(
                Finding(
                    "missing-hand",
                    f"'{piece.name}' is {piece.hand.value}, and no {word} one mirrors it",
                    (piece.id,),
                    "make it a pair",
                    lambda project, p=piece: change_piece(  # type: ignore[misc]
                        project, p.id, hand=Hand.PAIR, drawn_hand=p.hand
                    ),
                )
            )
    return found


def _may_partner(left: Piece, right: Piece) -> bool:
    return (left.material, left.thickness) == (right.material, right.thickness)


def _alike(left: Piece, right: Piece) -> Finding:
    def mend(project: Project) -> Project:
        turned = mirrored_piece(project.piece(right.id))
        return change_piece(
            project,
            right.id,
            shape=turned.shape,
            lines=turned.lines,
            match_marks=turned.match_marks,
            recipe=None,
        )

    return Finding(
        "hands-alike",
        f"'{left.name}' and '{right.name}' are two hands of one shape, not mirrored",
        (right.id, left.id),
        f"mirror '{right.name}'",
        mend,
    )


def duplicate_findings(pieces: list[Piece]) -> list[Finding]:
    """A piece that stands in the project twice, with one outline."""
    found = []
    seen: dict[tuple[object, ...], list[Piece]] = {}
    for piece in pieces:
        key = (
            piece.material,
            piece.thickness,
            piece.hand,
            piece.name.strip().lower(),
            round(piece.shape.area / 50),
        )
        for other in seen.get(key, ()):
            if same_shape(piece.shape, other.shape):
                found.append(_twice(other, piece))
                break
        seen.setdefault(key, []).append(piece)
    return found


def _twice(first: Piece, again: Piece) -> Finding:
    def mend(project: Project) -> Project:
        count = project.piece(first.id).count + project.piece(again.id).count
        return change_piece(remove_pieces(project, [again.id]), first.id, count=count)

    return Finding(
        "duplicate",
        f"'{again.name}' is in the project twice, with one outline",
        (again.id, first.id),
        f"keep one, cut {first.count + again.count} times",
        mend,
    )
