"""What is doubtful in a project's pieces, with the place and a mend; checked before foam is cut.

Rules are common practice, no source: a hole no nearer to the edge than the foam is thick, nothing
narrower than that, left and right mirrored and never alike, a name on everything.
"""

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

from shapely import Polygon

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.reshape import mirrored_piece, same_shape
from ivory_quilt.core.project import Project, change_piece, remove_pieces
from ivory_quilt.core.units import show_number, show_thickness

_NAMELESS = re.compile(r"^(piece|path|shape|outline)\s*\d*$", re.I)


@dataclass(frozen=True)
class Finding:
    """Something doubtful.

    Attributes:
        code: stable word for programs.
        message: one sentence.
        pieces: ids of the pieces it is about, the first of them the place to go to.
        mend: what would put it right, or an empty string.
        apply: does the mend.
    """

    code: str
    message: str
    pieces: tuple[str, ...]
    mend: str = ""
    apply: Callable[[Project], Project] | None = None

    @property
    def key(self) -> tuple[str, tuple[str, ...]]:
        """What makes it the same finding as an earlier one."""
        return (self.code, self.pieces)


def review(project: Project) -> tuple[Finding, ...]:
    """Return all findings, those that cost most foam first."""
    pieces = [p for p in project.pieces if p.count > 0]
    found = [*_hands(pieces), *_duplicates(pieces)]
    for piece in pieces:
        found += _thin(piece)
        found += _holes(piece)
        found += _name(piece)
    return tuple(found)


def _hands(pieces: list[Piece]) -> list[Finding]:
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
            project, right.id, shape=turned.shape, lines=turned.lines,
            match_marks=turned.match_marks, recipe=None,
        )  # fmt: skip

    return Finding(
        "hands-alike",
        f"'{left.name}' and '{right.name}' are two hands of one shape, not mirrored",
        (right.id, left.id),
        f"mirror '{right.name}'",
        mend,
    )


def _duplicates(pieces: list[Piece]) -> list[Finding]:
    found = []
    seen: dict[tuple[object, ...], list[Piece]] = {}
    for piece in pieces:
        key = (
            piece.material, piece.thickness, piece.hand, piece.name.strip().lower(),
            round(piece.shape.area / 50),
        )  # fmt: skip
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


def _thin(piece: Piece) -> list[Finding]:
    """Places narrower than the foam is thick, which tear or cannot be cut clean."""
    parts = _thick_parts(piece.shape, piece.thickness)
    if parts == 1:
        return []
    what = "has a neck" if parts else "is"
    foam = show_thickness(piece.thickness)
    text = f"'{piece.name}' {what} narrower than its foam is thick ({foam})"
    return [Finding("too-thin", text, (piece.id,))]


@lru_cache(maxsize=4096)
def _thick_parts(shape: Shape, thickness: float) -> int:
    """Return how many parts are left where everything narrower than the foam is taken away."""
    core = shape.polygon.buffer(-0.49 * thickness, quad_segs=4)
    return len([g for g in getattr(core, "geoms", [core]) if g.area > 1.0])


def _holes(piece: Piece) -> list[Finding]:
    nearest = _nearest_hole(piece.shape)
    if nearest >= piece.thickness:
        return []
    text = (
        f"a hole of '{piece.name}' is {show_number(nearest, 1)} mm from the edge, nearer than its "
        f"foam is thick ({show_thickness(piece.thickness)})"
    )
    return [Finding("hole-near-edge", text, (piece.id,))]


@lru_cache(maxsize=4096)
def _nearest_hole(shape: Shape) -> float:
    """Return the least distance of a hole from the edge, mm."""
    edge = Polygon(shape.outer).exterior
    return min((float(edge.distance(Polygon(h))) for h in shape.holes), default=math.inf)


def _name(piece: Piece) -> list[Finding]:
    if not _NAMELESS.match(piece.name.strip()):
        return []
    return [Finding("no-name", f"'{piece.name}' has no name of its own", (piece.id,))]
