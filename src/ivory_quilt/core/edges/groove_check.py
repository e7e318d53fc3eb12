"""Grooves on a piece: what each takes out, and whether it weakens the foam too much.

Limits are common practice, no source: a skin of a quarter of the foam and at least 1 mm, walls no
nearer to the edge or to another groove than the foam is thick.
"""

import math
from collections.abc import Sequence

import numpy as np
from shapely import LineString, Polygon

from ivory_quilt.core.edges.grooves import undercut
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece, PieceLine
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

# The foam that must stay under a groove: mm, and of the thickness (from memory, no source).
LEAST_SKIN, SKIN_SHARE = 1.0, 0.25
SCORE_DEPTH = 0.5  # of the foam (common practice)
SHORTEST = 1.0  # mm of a line that runs close to an edge


class Groove(Struct, frozen=True):
    """What is cut along one line.

    Attributes:
        line: its place among the piece's lines.
        width: at the face that it is cut into, mm; 0 for a plain cut.
        depth: mm.
        wall: angle of each wall from square, degrees.
        front: whether it is cut into the outer face.
        problems: why it is doubtful, in words.
    """

    line: int
    width: float
    depth: float
    wall: float
    front: bool
    problems: tuple[str, ...]
    reckoning: Reckoning


def first_crease(kind: LineKind) -> Crease:
    """Return how a line is cut until the maker says otherwise: undercuts fold to a right angle."""
    return Crease(90.0 if kind is LineKind.UNDERCUT else 0.0)


def least_skin(thickness: float) -> float:
    """Return the foam that should stay under what is cut into it, mm."""
    return max(LEAST_SKIN, SKIN_SHARE * thickness)


def grooves_of(piece: Piece) -> tuple[Groove, ...]:
    """Return the grooves and scores of a piece's lines that say how they are cut."""
    made = []
    for k, line in enumerate(piece.lines):
        if line.crease is not None and line.kind in (LineKind.UNDERCUT, LineKind.SCORE):
            made.append(_groove(piece, k, line))
    return tuple(made)


def _groove(piece: Piece, index: int, line: PieceLine) -> Groove:
    crease, t = line.crease, piece.thickness
    assert crease is not None
    if line.kind is LineKind.SCORE:
        depth = SCORE_DEPTH * t
        reckoned = Reckoning(
            "score",
            {"thickness": t},
            {"depth": depth},
            (Step("half the foam", f"{SCORE_DEPTH:g} × {t:g}", depth, "mm"),),
            "common practice, no source: a score half through opens with heat",
            ("Heat opens it: keep the gun moving, mind the fumes, wear gloves.",),
        )
        return Groove(index, 0.0, depth, 0.0, crease.front, (), reckoned)
    problems: list[str] = []
    try:
        reckoned = undercut(abs(crease.angle), t, crease.skin)
        width, depth = reckoned.figure("width"), reckoned.figure("depth")
    except InputError as error:
        empty = Reckoning("undercut", {"thickness": t}, {"width": 0.0, "depth": 0.0}, (), "")
        return Groove(index, 0.0, 0.0, abs(crease.angle) / 2, crease.front, (str(error),), empty)
    least = least_skin(t)
    if crease.folds and crease.skin < least - 1e-9:
        problems.append(f"the skin of {crease.skin:g} mm may tear: leave {least:g} mm")
    problems += _too_near(piece, index, line, width)
    return Groove(
        index, width, depth, abs(crease.angle) / 2, crease.front, tuple(problems), reckoned
    )


def _too_near(piece: Piece, index: int, line: PieceLine, width: float) -> list[str]:
    """Return why a groove is too near to an edge or another groove."""
    found, t = [], piece.thickness
    run = LineString(line.points)
    strip = run.buffer(width / 2 + t, cap_style="flat")
    # The groove itself may run out over an edge that it meets squarely; along it, it may not.
    ends = run.boundary.buffer(width / 2 + 2 * t)
    rims = [Polygon(r).exterior for r in piece.shape.rings]
    along = sum(rim.intersection(strip).difference(ends).length for rim in rims)
    if along > SHORTEST:
        near = min(rim.difference(ends).distance(run) for rim in rims) - width / 2
        found.append(f"its wall is {max(near, 0.0):.1f} mm from the edge, the foam is {t:g} mm")
    for k, other in enumerate(piece.lines):
        if k == index or other.kind is not LineKind.UNDERCUT or other.crease is None:
            continue
        theirs = (
            2 * max(t - other.crease.skin, 0) * math.tan(math.radians(abs(other.crease.angle)) / 2)
        )
        away = run.distance(LineString(other.points)) - width / 2 - theirs / 2
        if away < t:
            words = (
                "crosses another groove"
                if away <= 0
                else (f"is {away:.1f} mm from another groove, the foam is {t:g} mm")
            )
            found.append(words)
    return found


def grooves_cross(lines: Sequence[PieceLine]) -> bool:
    """Return whether two fold lines or grooves that bend the piece cross each other."""
    runs = [
        LineString(np.asarray(k.points))
        for k in lines
        if k.crease is not None and k.crease.folds and k.kind in (LineKind.FOLD, LineKind.UNDERCUT)
    ]
    return any(a.crosses(b) for i, a in enumerate(runs) for b in runs[i + 1 :])
