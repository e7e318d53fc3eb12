"""The exact check: is a layout true? It trusts nothing that the engine computed.

Everything is rebuilt from the job's original pieces and the reported poses, with a general
geometry library, and compared with the rules in the job. A layout that fails is never shown.
"""

from collections import defaultdict
from collections.abc import Iterator
from enum import StrEnum
from functools import lru_cache
from typing import Any

import numpy as np
import numpy.typing as npt
import shapely

from ivory_quilt.core.geometry.shape import Array, Pose, Shape
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec
from ivory_quilt.core.record import Struct

SLACK = 0.01  # mm; the agreed tolerance on gap and margin
ANGLE_SLACK = 1e-6  # degrees
STEP = 64  # pairs or parts that one step of the check looks at

Polygons = npt.NDArray[Any]
"""Polygons of the general geometry library, one a placement."""


class LayoutRule(StrEnum):
    """What every layout keeps."""

    UNKNOWN = "unknown"
    COUNT = "count"
    STOCK = "stock"
    MIRROR = "mirror"
    ROTATION = "rotation"
    PIN = "pin"
    OUTSIDE = "outside"
    MARGIN = "margin"
    FLAW = "flaw"
    GAP = "gap"


class Violation(Struct, frozen=True):
    """One broken rule, with the placements that break it (indices into the list given)."""

    rule: LayoutRule
    message: str
    who: tuple[int, ...]


def violations(job: LayJob, placements: tuple[Placement, ...]) -> list[Violation]:
    """Return every rule that `placements` break; an empty list means the layout is true."""
    return [broken for step in check_steps(job, placements) for broken in step]


def check_steps(job: LayJob, placements: tuple[Placement, ...]) -> Iterator[list[Violation]]:
    """Check the same a little at a time, a millisecond each; whoever is told to stop may.

    Yields what each step found; all together is what `violations` returns.
    """
    return GrowingCheck(job).more(placements)


class GrowingCheck:
    """The check of a layout that grows: what was looked at once is not looked at again."""

    def __init__(self, job: LayJob) -> None:
        """Begin with nothing laid."""
        self.job = job
        self.placements: tuple[Placement, ...] = ()
        self._pieces = {p.id: p for p in job.pieces}
        self._polygons: Polygons = np.empty(0, dtype=object)

    def more(self, added: tuple[Placement, ...]) -> Iterator[list[Violation]]:
        """Check further placements, among themselves and beside all before, a little at a time.

        `placements` are then those before and the added ones, in this order.
        """
        job, pieces, first = self.job, self._pieces, len(self.placements)
        self.placements = placements = (*self.placements, *added)
        polygons = np.append(self._polygons, np.empty(len(added), dtype=object))
        self._polygons = polygons
        found = _identity(job, pieces, placements)
        yield found
        if found:
            return
        by_piece: dict[str, list[int]] = defaultdict(list)
        by_sheet: dict[tuple[str, int], list[int]] = defaultdict(list)
        for i, placement in enumerate(placements):
            by_sheet[placement.sheet, placement.sheet_copy].append(i)
            if i >= first:
                by_piece[placement.piece].append(i)
        for piece_id, copies in by_piece.items():
            for some in _chunks(np.array(copies)):
                poses = [placements[i].pose for i in some]
                polygons[some] = _placed(pieces[piece_id].shape, poses)
                yield []
        for (sheet_id, _), listed in by_sheet.items():
            stock, members = job.stock[sheet_id], np.array(listed)
            fresh = members[members >= first]
            if len(fresh):
                yield from _inside(stock, placements, polygons, fresh)
                yield from _on_flaws(stock, pieces, placements, polygons, fresh)
                yield from _apart(job.gap, placements, polygons, members, first)


def _chunks(numbers: npt.NDArray[np.int64]) -> Iterator[npt.NDArray[np.int64]]:
    """Yield (n, …) numbers a step at a time."""
    for first in range(0, len(numbers), STEP):
        yield numbers[first : first + STEP]


def _placed(shape: Shape, poses: list[Pose]) -> Polygons:
    """Return one piece's polygons where each pose puts it."""
    linear = np.array([p.matrix for p in poses]).reshape(-1, 2, 2)
    away = np.array([(p.x, p.y) for p in poses])

    def put(points: Array) -> Array:
        return np.asarray(points @ linear.transpose(0, 2, 1) + away[:, None, :])

    holes = [np.asarray(shapely.linearrings(put(h))) for h in shape.holes]
    outer = shapely.linearrings(put(shape.outer))
    return np.asarray(shapely.polygons(outer, np.stack(holes, axis=1) if holes else None))


def violations_of(job: LayJob, placements: tuple[Placement, ...], index: int) -> list[Violation]:
    """Return the rules that one placement breaks, with its neighbours on the same sheet only.

    For a part under the hand: quick enough to ask at every movement of the mouse.
    """
    one = placements[index]
    mates = [
        i
        for i, p in enumerate(placements)
        if i != index and (p.sheet, p.sheet_copy) == (one.sheet, one.sheet_copy)
    ]
    pieces = {p.id: p for p in job.pieces}
    found = _identity(job, pieces, (one,))
    if found:
        return found
    shape = pieces[one.piece].shape.placed(one.pose)
    stock = job.stock[one.sheet]
    alone, first = np.array([shape.polygon]), np.zeros(1, dtype=np.int64)
    for step in (
        *_inside(stock, (one,), alone, first),
        *_on_flaws(stock, pieces, (one,), alone, first),
    ):
        found += step
    for i in mates:
        other = placed_shape(pieces[placements[i].piece].shape, placements[i].pose)
        x0, y0, x1, y1 = shape.bounds
        u0, v0, u1, v1 = other.bounds
        reach = job.gap + SLACK
        if u0 - x1 > reach or x0 - u1 > reach or v0 - y1 > reach or y0 - v1 > reach:
            continue
        depth = clash_depth(shape.polygon, other.polygon, job.gap)
        if depth > 0.0:
            names = f"'{one.piece}' and '{placements[i].piece}'"
            text = f"{names} are nearer than {job.gap:g} mm"
            found.append(Violation(LayoutRule.GAP, text, (index, i)))
    return [
        Violation(v.rule, v.message, v.who if v.rule == LayoutRule.GAP else (index,)) for v in found
    ]


@lru_cache(maxsize=2048)
def placed_shape(shape: Shape, pose: Pose) -> Shape:
    """Return a placed shape, kept for the many questions asked while a hand moves another."""
    return shape.placed(pose)


def _identity(
    job: LayJob, pieces: dict[str, PieceSpec], placements: tuple[Placement, ...]
) -> list[Violation]:
    """Copies, quantities, rotations, mirror and pins."""
    found: list[Violation] = []
    seen: dict[tuple[str, int], int] = {}
    for i, p in enumerate(placements):
        piece, stock = pieces.get(p.piece), job.stock.get(p.sheet)
        if piece is None or stock is None:
            found.append(
                Violation(LayoutRule.UNKNOWN, f"no piece '{p.piece}' or sheet '{p.sheet}'", (i,))
            )
            continue
        if not 0 <= p.copy < piece.quantity:
            found.append(Violation(LayoutRule.COUNT, f"copy {p.copy} of '{p.piece}'", (i,)))
        if (p.piece, p.copy) in seen:
            twin = seen[p.piece, p.copy]
            found.append(Violation(LayoutRule.COUNT, f"'{p.piece}' copy {p.copy} twice", (twin, i)))
        seen[p.piece, p.copy] = i
        limit = stock.quantity if isinstance(stock, SheetSpec) else 1
        if p.sheet_copy < 0 or (limit is not None and p.sheet_copy >= limit):
            found.append(
                Violation(LayoutRule.STOCK, f"no copy {p.sheet_copy} of '{p.sheet}'", (i,))
            )
        fixed = any(f.copy == p.copy for f in piece.fixed)
        if not fixed and p.pose.mirrored and not piece.mirror:
            found.append(Violation(LayoutRule.MIRROR, f"'{p.piece}' must not be flipped", (i,)))
        if not fixed and not angle_allowed(piece.rotations, p.pose.rotation):
            found.append(
                Violation(LayoutRule.ROTATION, f"'{p.piece}' turned to {p.pose.rotation:g}°", (i,))
            )
    for piece in job.pieces:
        for fixed_at in piece.fixed:
            at = seen.get((piece.id, fixed_at.copy))
            if at is not None and placements[at] != fixed_at:
                found.append(Violation(LayoutRule.PIN, f"'{piece.id}' left its pin", (at,)))
    return found


def angle_allowed(rotations: tuple[float, ...] | None, angle: float) -> bool:
    """Return whether `angle` is among the allowed `rotations` (None: all are)."""
    if rotations is None:
        return True
    return any(abs((angle - r + 180.0) % 360.0 - 180.0) <= ANGLE_SLACK for r in rotations)


def _inside(
    stock: SheetSpec | RollSpec,
    placements: tuple[Placement, ...],
    polygons: Polygons,
    members: npt.NDArray[np.int64],
) -> Iterator[list[Violation]]:
    foam = stock.shape.polygon
    edge = foam.boundary
    roomy = foam.buffer(SLACK)
    shapely.prepare((roomy, edge))
    for some in _chunks(members):
        found = []
        out = ~shapely.covers(roomy, polygons[some])
        near = shapely.dwithin(edge, polygons[some], stock.margin - SLACK)
        for i, leaves in zip(some[out | near].tolist(), out[out | near].tolist(), strict=True):
            name = placements[i].piece
            if leaves:
                found.append(Violation(LayoutRule.OUTSIDE, f"'{name}' leaves '{stock.id}'", (i,)))
            elif stock.margin > SLACK:
                found.append(
                    Violation(LayoutRule.MARGIN, f"'{name}' is nearer than the margin", (i,))
                )
        yield found


def _on_flaws(
    stock: SheetSpec | RollSpec,
    pieces: dict[str, PieceSpec],
    placements: tuple[Placement, ...],
    polygons: Polygons,
    members: npt.NDArray[np.int64],
) -> Iterator[list[Violation]]:
    """Parts that show must not cover a marked flaw."""
    for flaw in stock.defects if isinstance(stock, SheetSpec) else ():
        for i in members.tolist():
            name = placements[i].piece
            if pieces[name].hidden or clash_depth(polygons[i], flaw.polygon, 0.0) <= 0.0:
                yield []
            else:
                text = f"'{name}' lies over a marked flaw of '{stock.id}'"
                yield [Violation(LayoutRule.FLAW, text, (i,))]


def _apart(
    gap: float,
    placements: tuple[Placement, ...],
    polygons: Polygons,
    members: npt.NDArray[np.int64],
    first: int,
) -> Iterator[list[Violation]]:
    """Parts must keep the gap; pairs of those before number `first` are known to."""
    own = polygons[members]
    # What `clash_depth` calls a clash lies within this: a gap that is kept to the slack is none.
    reach = max(gap - SLACK, 0.0)
    x0, y0, x1, y1 = shapely.bounds(own).T
    boxes = shapely.box(x0 - reach, y0 - reach, x1 + reach, y1 + reach)
    pairs = shapely.STRtree(own).query(boxes).T
    pairs = pairs[(pairs[:, 0] < pairs[:, 1]) & (members[pairs[:, 1]] >= first)]
    shapely.prepare(own)
    for some in _chunks(pairs):
        found = []
        near = shapely.dwithin(own[some[:, 0]], own[some[:, 1]], reach)
        for a, b in some[near].tolist():
            if clash_depth(own[a], own[b], gap) > 0.0:
                i, j = int(members[a]), int(members[b])
                names = f"'{placements[i].piece}' and '{placements[j].piece}'"
                found.append(
                    Violation(LayoutRule.GAP, f"{names} are nearer than {gap:g} mm", (i, j))
                )
        yield found


def clash_depth(a: object, b: object, gap: float) -> float:
    """Return by how much two placed polygons break the gap, 0 when they keep it.

    Where they overlap, the depth is the gap plus the square root of the overlap's area, a measure
    only. Touching or overlapping by less than the agreed slack is no clash at gap 0.
    """
    distance = a.distance(b)  # type: ignore[attr-defined]
    if distance > 0.0:
        short = gap - distance
        return float(short) if short > SLACK else 0.0
    # An overlap thinner than the slack vanishes when one side is shrunk by it.
    if gap <= SLACK and not a.buffer(-SLACK).intersects(b):  # type: ignore[attr-defined]
        return 0.0
    return float(gap + a.intersection(b).area ** 0.5 + 1e-9)  # type: ignore[attr-defined]
