"""Seams that the drawing suggests: edges of one length, of one shape, with marks that agree.

Two edges may match in two ways: they lie against each other flat, or they mirror each other, as
the two sides of a gore do and then close into a dome. Both are compared by the best rigid move of
one onto the other (orthogonal Procrustes in the plane, Schönemann 1966).
"""

from collections import Counter
from collections.abc import Iterable

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.geometry.outline import along_line, line_length
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.pattern.edges import edge_line, edge_of, edges_of, marks_on
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.seams import EASE, EdgeRef, Seam, SeamFit, seam_fit
from ivory_quilt.core.record import Struct, replace

# What makes two edges meet is our choice, tried on drawings whose seams are known.
SHORTEST = 15.0  # mm: shorter edges match anything
SAMPLES = 33
ALIKE = 0.02  # of the length, root mean square, that two shapes may differ by
STRAIGHT = 0.004  # of the length, root mean square, off a straight line
STRAIGHT_EASE = 0.003  # straight edges say nothing but their length, so it must be true
CLOSES = (0.5, 4.0)  # lengths that a tube's two ends lie apart
LEAST_END = 0.08  # of the outline that a tube's end is long
LEAST = 0.55  # score below which nothing is offered
MOST = 200


class SeamProposal(Struct, frozen=True):
    """A seam that is offered, how well it agrees, and why in words."""

    seam: Seam
    fit: SeamFit
    score: float
    reason: str


class _Side(Struct, frozen=True):
    piece: Piece
    ref: EdgeRef
    length: float
    line: npt.NDArray[np.complex128]
    straight: bool
    marks: int
    plain: bool = False
    """Whether all of the piece's edges are straight: such a piece closes into nothing by itself."""


def propose_seams(
    pieces: Iterable[Piece], known: Iterable[Seam] = (), ease: float = EASE
) -> tuple[SeamProposal, ...]:
    """Return seams that the pieces suggest, the surest first; no edge is offered twice.

    Edges that take part in a `known` seam are left out.
    """
    taken = {r for s in known for r in (s.first, s.second)}
    sides = [side for p in pieces if p.count > 0 for side in _sides(p) if side.ref not in taken]
    if len(sides) < 2:
        return ()
    found = []
    alike = _alike(sides, ease)
    # An ornament whose sides are all alike is not joined to itself.
    own = Counter(
        side for i, j, *_ in alike if sides[i].piece.id == sides[j].piece.id for side in (i, j)
    )
    for i, j, flat, mirror in alike:
        if sides[i].piece.id == sides[j].piece.id and own[i] + own[j] > 2:
            continue
        made = _proposal(sides[i], sides[j], flat, mirror, ease)
        if made is not None:
            found.append(made)
    found.sort(key=lambda p: (-round(p.score, 6), p.seam.first, p.seam.second))
    chosen: list[SeamProposal] = []
    used: set[EdgeRef] = set()
    for proposal in found:
        refs = {proposal.seam.first, proposal.seam.second}
        if not refs & used and len(chosen) < MOST:
            used |= refs
            chosen.append(proposal)
    return tuple(chosen)


def _sides(piece: Piece) -> list[_Side]:
    made = []
    for edge in edges_of(piece):
        line = edge_line(piece, edge)
        length = line_length(line)
        if length < SHORTEST or edge.start == edge.stop:
            continue
        points = along_line(line, np.linspace(0.0, length, SAMPLES))
        z = points[:, 0] + 1j * points[:, 1]
        z = z - z.mean()
        chord = (z[-1] - z[0]) / max(abs(z[-1] - z[0]), 1e-9)
        off = float(np.sqrt(np.mean((z * np.conj(chord)).imag ** 2)))
        marks = len(marks_on(piece, edge)) if piece.match_marks else 0
        ref = EdgeRef(piece.id, edge.name)
        made.append(_Side(piece, ref, length, z, off < STRAIGHT * length, marks))
    plain = all(s.straight for s in made) and len(made) == 4
    return [replace(s, plain=plain) for s in made]


def _alike(sides: list[_Side], ease: float) -> list[tuple[int, int, float, float]]:
    """Return (i, j, flat, mirror) of edges near in length, shapes' distances in shares of it."""
    length = np.array([s.length for s in sides])
    lines = np.array([s.line for s in sides])
    power = np.mean(np.abs(lines) ** 2, axis=1)
    found = []
    order = np.argsort(length, kind="stable")
    for n, i in enumerate(order.tolist()):
        last = np.searchsorted(length[order], length[i] * (1 + ease), side="right")
        rest = order[n + 1 : last]
        if not len(rest):
            continue
        back = lines[rest][:, ::-1]
        # The least distance of two centred lines over all turns: |a|² + |b|² − 2 |Σ a* b|.
        flat = np.abs(np.mean(np.conj(lines[i]) * back, axis=1))
        mirror = np.abs(np.mean(lines[i] * back, axis=1))
        for j, near, other in zip(rest.tolist(), flat.tolist(), mirror.tolist(), strict=True):
            total, mean = power[i] + power[j], (length[i] + length[j]) / 2
            a = float(np.sqrt(max(total - 2 * near, 0.0))) / mean
            b = float(np.sqrt(max(total - 2 * other, 0.0))) / mean
            if min(a, b) <= ALIKE:
                found.append((*sorted((i, j)), a, b))
    return found


def _proposal(
    one: _Side, other: _Side, flat: float, mirror: float, ease: float
) -> SeamProposal | None:
    hands = {one.piece.hand, other.piece.hand}
    if hands == {Hand.LEFT, Hand.RIGHT}:
        return None
    same = one.piece.id == other.piece.id
    straight = one.straight and other.straight
    if same and not _may_close(one, other):
        return None
    share = abs(one.length - other.length) / min(one.length, other.length)
    if straight and share > STRAIGHT_EASE:
        return None
    first, second = sorted((one.ref, other.ref))
    a, b = (one, other) if first == one.ref else (other, one)
    seam = Seam(first, second)
    fit = seam_fit(a.piece, b.piece, seam, ease)
    score = 0.9 - 0.3 * share / ease - 0.3 * min(flat, mirror) / ALIKE
    marked = bool(one.marks or other.marks)
    score += 0.25 * (marked and fit.marks_meet) - 0.3 * (marked and not fit.marks_meet)
    score -= 0.3 * straight
    foam = (a.piece.thickness, a.piece.material) == (b.piece.thickness, b.piece.material)
    score -= 0.15 * (not foam)
    kin = _kin(a.piece, b.piece)
    score += 0.2 * kin - 0.2 * (not kin)
    score -= 0.3 * (same and one.plain)
    if score < LEAST:
        return None
    words = ["equally long" if share < 0.002 else f"lengths within {100 * share:.1f} %"]
    if straight:
        words.append("both straight")
    else:
        words.append("lie against each other" if flat <= mirror else "mirror each other, as gores")
    if marked and fit.marks_meet:
        words.append("marks meet")
    return SeamProposal(seam, fit, float(score), ", ".join(words))


def _may_close(one: _Side, other: _Side) -> bool:
    """Return whether a piece may be joined to itself there: a dart, a gore, a tube's two ends.

    The ends of a tube lie apart by no more than a few times their length and no less than half.
    """
    a, b = edge_of(one.piece, one.ref.edge), edge_of(one.piece, other.ref.edge)
    for first, second in ((a, b), (b, a)):
        if first.stop == second.start:
            gore = one.piece.count > 1 and not one.straight  # its copies meet each other
            return gore or _is_notch(first.start, first.stop, second.stop)
    (ax, ay), (bx, by) = (np.add(e.start, e.stop) / 2 for e in (a, b))
    if min(one.length, other.length) < LEAST_END * one.piece.shape.outline_length:
        return False
    apart = float(np.hypot(ax - bx, ay - by)) / max(one.length, other.length)
    return CLOSES[0] <= apart <= CLOSES[1]


def _is_notch(start: Point, tip: Point, stop: Point) -> bool:
    """Return whether the outline turns inwards at a tip, walked counter-clockwise."""
    ax, ay = np.subtract(tip, start)
    bx, by = np.subtract(stop, tip)
    return bool(ax * by - ay * bx < 0)


def _kin(a: Piece, b: Piece) -> bool:
    """Return whether two pieces' names begin alike, or they are one piece."""
    return a.id == b.id or a.name.split()[0].casefold() == b.name.split()[0].casefold()
