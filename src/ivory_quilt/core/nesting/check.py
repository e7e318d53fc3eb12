"""The exact check: is a layout true? It trusts nothing that the engine computed.

Everything is rebuilt from the job's original pieces and the reported poses, with a general
geometry library, and compared with the rules in the job. A layout that fails is never shown.
"""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from shapely import STRtree

from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement, RollSpec, SheetSpec

SLACK = 0.01  # mm; the agreed tolerance on gap and margin
ANGLE_SLACK = 1e-6  # degrees


@dataclass(frozen=True)
class Violation:
    """One broken rule, with the placements that break it (indices into the list given)."""

    rule: str
    message: str
    who: tuple[int, ...]


def violations(job: LayJob, placements: tuple[Placement, ...]) -> list[Violation]:
    """Return every rule that `placements` break; an empty list means the layout is true."""
    return [broken for step in check_steps(job, placements) for broken in step]


def check_steps(job: LayJob, placements: tuple[Placement, ...]) -> Iterator[list[Violation]]:
    """Check the same a little at a time, some microseconds each; whoever is told to stop may.

    Yields what each step found; all together is what `violations` returns.
    """
    pieces = {p.id: p for p in job.pieces}
    found = _identity(job, pieces, placements)
    yield found
    if found:
        return
    by_sheet: dict[tuple[str, int], list[int]] = defaultdict(list)
    shapes: list[Shape] = []
    for i, placement in enumerate(placements):
        shapes.append(pieces[placement.piece].shape.placed(placement.pose))
        by_sheet[placement.sheet, placement.sheet_copy].append(i)
        yield []
    for (sheet_id, _), members in by_sheet.items():
        stock = job.stock[sheet_id]
        yield from _inside(stock, placements, shapes, members)
        yield from _on_flaws(stock, pieces, placements, shapes, members)
        yield from _apart(job.gap, placements, shapes, members)


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
    for step in (
        *_inside(stock, (one,), [shape], [0]),
        *_on_flaws(stock, pieces, (one,), [shape], [0]),
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
            found.append(Violation("gap", text, (index, i)))
    return [Violation(v.rule, v.message, v.who if v.rule == "gap" else (index,)) for v in found]


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
            found.append(Violation("unknown", f"no piece '{p.piece}' or sheet '{p.sheet}'", (i,)))
            continue
        if not 0 <= p.copy < piece.quantity:
            found.append(Violation("count", f"copy {p.copy} of '{p.piece}'", (i,)))
        if (p.piece, p.copy) in seen:
            twin = seen[p.piece, p.copy]
            found.append(Violation("count", f"'{p.piece}' copy {p.copy} twice", (twin, i)))
        seen[p.piece, p.copy] = i
        limit = stock.quantity if isinstance(stock, SheetSpec) else 1
        if p.sheet_copy < 0 or (limit is not None and p.sheet_copy >= limit):
            found.append(Violation("stock", f"no copy {p.sheet_copy} of '{p.sheet}'", (i,)))
        fixed = any(f.copy == p.copy for f in piece.fixed)
        if not fixed and p.pose.mirrored and not piece.mirror:
            found.append(Violation("mirror", f"'{p.piece}' must not be flipped", (i,)))
        if not fixed and not angle_allowed(piece.rotations, p.pose.rotation):
            found.append(Violation("rotation", f"'{p.piece}' turned to {p.pose.rotation:g}°", (i,)))
    for piece in job.pieces:
        for fixed_at in piece.fixed:
            at = seen.get((piece.id, fixed_at.copy))
            if at is not None and placements[at] != fixed_at:
                found.append(Violation("pin", f"'{piece.id}' left its pin", (at,)))
    return found


def angle_allowed(rotations: tuple[float, ...] | None, angle: float) -> bool:
    """Return whether `angle` is among the allowed `rotations` (None: all are)."""
    if rotations is None:
        return True
    return any(abs((angle - r + 180.0) % 360.0 - 180.0) <= ANGLE_SLACK for r in rotations)


def _inside(
    stock: SheetSpec | RollSpec,
    placements: tuple[Placement, ...],
    shapes: list[Shape],
    members: list[int],
) -> Iterator[list[Violation]]:
    foam = stock.shape.polygon
    edge = foam.boundary
    roomy = foam.buffer(SLACK)
    for i in members:
        polygon, name = shapes[i].polygon, placements[i].piece
        if not roomy.covers(polygon):
            yield [Violation("outside", f"'{name}' leaves '{stock.id}'", (i,))]
        elif edge.distance(polygon) < stock.margin - SLACK:
            yield [Violation("margin", f"'{name}' is nearer than the margin", (i,))]
        else:
            yield []


def _on_flaws(
    stock: SheetSpec | RollSpec,
    pieces: dict[str, PieceSpec],
    placements: tuple[Placement, ...],
    shapes: list[Shape],
    members: list[int],
) -> Iterator[list[Violation]]:
    """Parts that show must not cover a marked flaw."""
    for flaw in stock.defects if isinstance(stock, SheetSpec) else ():
        for i in members:
            name = placements[i].piece
            if pieces[name].hidden or clash_depth(shapes[i].polygon, flaw.polygon, 0.0) <= 0.0:
                yield []
            else:
                text = f"'{name}' lies over a marked flaw of '{stock.id}'"
                yield [Violation("flaw", text, (i,))]


def _apart(
    gap: float, placements: tuple[Placement, ...], shapes: list[Shape], members: list[int]
) -> Iterator[list[Violation]]:
    polygons = [shapes[i].polygon for i in members]
    tree = STRtree(polygons)
    reach = max(gap, SLACK)
    for a, polygon in enumerate(polygons):
        found = []
        for b in sorted(tree.query(polygon, predicate="dwithin", distance=reach).tolist()):
            if a < b and clash_depth(polygon, polygons[b], gap) > 0.0:
                i, j = members[a], members[b]
                names = f"'{placements[i].piece}' and '{placements[j].piece}'"
                found.append(Violation("gap", f"{names} are nearer than {gap:g} mm", (i, j)))
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
