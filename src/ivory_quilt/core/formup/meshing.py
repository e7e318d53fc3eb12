"""Triangles over a flat panel: its boundary points are given, the inside is filled evenly.

Delaunay triangles (Qhull, through SciPy) of the boundary and of a hexagonal lattice inside,
smoothed twice. Where a boundary segment or a fold is no edge of them, it is split and all is made
anew.
"""

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.spatial import Delaunay, cKDTree

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Array, Assembly, Bools, Ints
from ivory_quilt.core.formup.sampling import SampledPanel, SampledSeam, sampled

CLEAR = 0.72  # of an edge's length: the lattice stays that far from the boundary
ROUNDS = 12
FINER = (1.0, 0.7, 0.5)  # of an edge's length: what is tried where a panel is too narrow
SMOOTHINGS = 2
SLIVER = 1e-7  # of an edge's length squared: a triangle of less area is none


@dataclass
class PanelMesh:
    """A flat panel's triangles.

    Attributes:
        points: `(n, 2)` mm, the first `boundary` of them along its outline, counter-clockwise.
        triangles: `(m, 3)`, counter-clockwise.
        folds: of each fold across it: its number, and the points along it.
    """

    panel: SampledPanel
    points: Array
    triangles: Ints
    boundary: int
    folds: list[tuple[int, Ints]]


class TooNarrow(InputError):
    """A panel is too narrow for triangles of this size."""


def meshed_finely(job: Assembly, edge: float) -> tuple[list[PanelMesh], list[SampledSeam]]:
    """Return the meshes of all panels, finer where one is too narrow: beside a dart, say.

    Raises:
        InputError: see `meshed`.
    """
    for share in FINER:
        try:
            return meshed(job, edge * share)
        except TooNarrow:
            continue
    return meshed(job, edge * FINER[-1] ** 2)


def meshed(job: Assembly, edge: float) -> tuple[list[PanelMesh], list[SampledSeam]]:
    """Return the meshes of all panels, with as many points on both sides of each seam.

    Raises:
        TooNarrow: a panel so narrow that it cannot be meshed.
    """
    panels, seams = sampled(job, edge)
    ready: dict[int, PanelMesh] = {}
    for _ in range(ROUNDS):
        missing: dict[int, list[int]] = {}
        for k, panel in enumerate(panels):
            if k not in ready:
                made, lost = _mesh(panel, _closing(k, seams, job), _facing(k, seams, job))
                if made is not None:
                    ready[k] = made
                else:
                    missing[k] = lost
        if not missing:
            return [ready[k] for k in range(len(panels))], seams
        changed = _split(panels, seams, missing, job)
        for k in changed:
            ready.pop(k, None)
    name = panels[next(iter(missing))].panel.id
    problem = f"it is too narrow for triangles of {edge:g} mm"
    raise TooNarrow(f"panel '{name}'", problem, "a smaller edge")


def _split(
    panels: list[SampledPanel],
    seams: list[SampledSeam],
    missing: dict[int, list[int]],
    job: Assembly,
) -> set[int]:
    """Put a point into the middle of boundary segments, on both sides of their seams."""
    added: dict[int, list[float]] = {}
    changed: set[int] = set(missing)
    for k, segments in missing.items():
        for segment in segments:
            added.setdefault(k, []).append(_middle(panels[k], segment))
            for seam in seams:
                a, b = (job.index[s.panel] for s in (seam.seam.a, seam.seam.b))
                for mine, side, other, there in ((a, seam.a, b, seam.b), (b, seam.b, a, seam.a)):
                    if mine != k:
                        continue
                    for at in range(len(side) - 1):
                        if _segment(side, at, len(panels[k].steps)) == segment:
                            theirs = _segment(there, at, len(panels[other].steps))
                            added.setdefault(other, []).append(_middle(panels[other], theirs))
                            changed.add(other)
    _renumber(panels, seams, added, job)
    return changed


def _segment(side: Ints, at: int, count: int) -> int:
    """Return the boundary segment between two points of a side that follow each other."""
    first, second = int(side[at]), int(side[at + 1])
    return first if (first + 1) % count == second else second


def _middle(panel: SampledPanel, segment: int) -> float:
    start = panel.steps[segment]
    stop = panel.steps[(segment + 1) % len(panel.steps)]
    return (start + ((stop - start) % panel.length or panel.length) / 2) % panel.length


def _renumber(
    panels: list[SampledPanel],
    seams: list[SampledSeam],
    added: dict[int, list[float]],
    job: Assembly,
) -> None:
    """Take points into the boundaries, and into the seams that they lie on."""
    places = {
        id(side): [panels[job.index[name]].steps[n] for n in side]
        for seam in seams
        for side, name in ((seam.a, seam.seam.a.panel), (seam.b, seam.seam.b.panel))
    }
    for k, new in added.items():
        panels[k].steps = sorted({*panels[k].steps, *new})
    for seam in seams:
        for name, side, mine in (("a", seam.a, seam.seam.a), ("b", seam.b, seam.seam.b)):
            k = job.index[mine.panel]
            panel = panels[k]
            steps = places[id(side)]
            way = mine.way * (1 if panel.numbers[0] < panel.numbers[-1] else -1)
            made = [steps[0]]
            for start, stop in pairwise(steps):
                span = (stop - start) * way % panel.length or panel.length
                inside = [(s - start) * way % panel.length for s in added.get(k, ())]
                made += [
                    (start + way * d) % panel.length
                    for d in sorted(set(inside))
                    if 1e-9 < d < span - 1e-9
                ]
                made.append(stop)
            known = {round(s, 6): n for n, s in enumerate(panel.steps)}
            numbers = [
                known[round(s, 6)] if round(s, 6) in known else _nearest(panel, s) for s in made
            ]
            setattr(seam, name, np.array(numbers, dtype=np.int64))


def _nearest(panel: SampledPanel, step: float) -> int:
    away = np.abs(np.asarray(panel.steps) - step)
    return int(np.argmin(np.minimum(away, panel.length - away)))


def _closing(number: int, seams: list[SampledSeam], job: Assembly) -> list[int]:
    """Return the boundary points at which two edges of one panel close onto each other."""
    found = []
    for seam in seams:
        if job.index[seam.seam.a.panel] == job.index[seam.seam.b.panel] == number:
            found += [int(seam.a[k]) for k in (0, -1) if seam.a[k] == seam.b[k]]
    return found


def _facing(number: int, seams: list[SampledSeam], job: Assembly) -> set[tuple[int, int]]:
    """Return the pairs of boundary points of one panel that a seam makes one."""
    found = set()
    for seam in seams:
        if job.index[seam.seam.a.panel] == job.index[seam.seam.b.panel] == number:
            pairs = zip(seam.a.tolist(), seam.b.tolist(), strict=True)
            found |= {(min(i, j), max(i, j)) for i, j in pairs if i != j}
    return found


def _opened(points: Array, triangles: Ints, facing: set[tuple[int, int]]) -> tuple[Array, Ints]:
    """Part edges in three that go right across to a point that becomes the same: tips of cones."""
    if not facing:
        return points, triangles
    made = triangles.tolist()
    spots = points.tolist()
    new: dict[tuple[int, int], tuple[int, int]] = {}
    k = 0
    while k < len(made):
        corners = made[k]
        for turn in range(3):
            i, j, far = (corners[(turn + n) % 3] for n in range(3))
            key = (min(i, j), max(i, j))
            if key not in facing:
                continue
            if key not in new:
                low, high = np.array(spots[key[0]]), np.array(spots[key[1]])
                new[key] = (len(spots), len(spots) + 1)
                spots += [((2 * low + high) / 3).tolist(), ((low + 2 * high) / 3).tolist()]
            first, second = new[key] if i == key[0] else new[key][::-1]
            made[k] = [i, first, far]
            made += [[first, second, far], [second, j, far]]
            break
        else:
            k += 1
    return np.array(spots), np.array(made, dtype=np.int64)


def _mesh(
    panel: SampledPanel, closing: list[int], facing: set[tuple[int, int]]
) -> tuple[PanelMesh | None, list[int]]:
    """Return a panel's triangles, or the boundary segments that are to be split.

    `closing` are corners at which the panel closes onto itself, `facing` are boundary points, the
    smaller number first, that become one.
    """
    outline = panel.place(np.asarray(panel.steps))
    count = len(outline)
    held = [outline]
    folds: list[tuple[int, Ints]] = []
    total = count
    for fold, ends in panel.folds:
        long = float(np.linalg.norm(ends[1] - ends[0]))
        parts = max(1, math.ceil(long / panel.edge - 1e-6))
        inside = ends[0] + np.outer(np.arange(1, parts) / parts, ends[1] - ends[0])
        tips = [int(np.argmin(np.linalg.norm(outline - e, axis=1))) for e in ends]
        numbers = [tips[0], *range(total, total + len(inside)), tips[1]]
        folds.append((fold, np.array(numbers, dtype=np.int64)))
        held.append(inside)
        total += len(inside)
    for corner in closing:
        fan = _fan(outline, corner)
        held.append(fan)
        total += len(fan)
    fixed = np.vstack(held)
    sides = np.roll(panel.corners, -1, 0) - panel.corners
    # The longest, the first of those that are as long: the same however the panel is turned.
    longest = int(np.argmax(np.round(np.linalg.norm(sides, axis=1), 6)))
    filling = _lattice(outline, fixed, panel.edge, sides[longest])
    points = np.vstack([fixed, filling]) if len(filling) else fixed
    triangles = _triangles(points, outline, panel.edge)
    if len(filling):
        for _ in range(SMOOTHINGS):
            points = _smoothed(points, triangles, total)
        triangles = _triangles(points, outline, panel.edge)
    wanted = [(k, (k + 1) % count) for k in range(count)]
    wanted += [(int(a), int(b)) for _, n in folds for a, b in pairwise(n)]
    lost = np.flatnonzero(~np.isin(_codes(np.array(wanted)), _codes(_edges(triangles)))).tolist()
    if lost:
        beyond = [k for k in lost if k < count]
        if not beyond:  # a fold that is crossed by an edge: finer all round it
            beyond = [int(n[0]) for _, n in folds] + [(int(n[-1]) - 1) % count for _, n in folds]
        return None, beyond
    points, triangles = _without_ears(points, triangles, count)
    points, triangles = _opened(points, triangles, facing)
    used = np.unique(triangles)
    if not np.isin(np.arange(count), used).all():
        gone = int(np.setdiff1d(np.arange(count), used)[0])
        return None, [gone, (gone - 1) % count]
    keep = np.full(len(points), -1)
    keep[used] = np.arange(len(used))
    points, triangles = points[used], keep[triangles]
    return PanelMesh(panel, points, triangles, count, [(f, keep[n]) for f, n in folds]), []


def _edges(triangles: Ints) -> Ints:
    """Return the edges of triangles, `(3 m, 2)`."""
    return np.vstack([triangles[:, [k, (k + 1) % 3]] for k in range(3)])


def _codes(pairs: Ints) -> Ints:
    """Return one number for each pair of points, whichever comes first."""
    found: Ints = pairs.min(1) * (1 << 32) + pairs.max(1)
    return found


def _fan(outline: Array, corner: int) -> Array:
    """Return points around a corner that closes onto itself, so that no triangle closes with it."""
    at = outline[corner]
    ahead, back = outline[(corner + 1) % len(outline)] - at, outline[corner - 1] - at
    start = math.atan2(ahead[1], ahead[0])
    angle = (math.atan2(back[1], back[0]) - start) % (2 * math.pi)
    parts = max(4, math.ceil(angle / math.radians(60)))
    turns = start + angle * np.arange(1, parts) / parts
    radius = (np.linalg.norm(ahead) + np.linalg.norm(back)) / 2
    made: Array = at + radius * np.column_stack([np.cos(turns), np.sin(turns)])
    return made


def _lattice(outline: Array, fixed: Array, edge: float, along: Array) -> Array:
    """Return a hexagonal lattice inside an outline, rows along a way, clear of fixed points."""
    ahead = np.roll(outline, -1, 0) - outline
    turn = math.atan2(along[1], along[0])
    c, s = math.cos(turn), math.sin(turn)
    frame = np.array([[c, -s], [s, c]])
    turned = outline @ frame
    low, high = turned.min(0), turned.max(0)
    rows = max(1, round((high[1] - low[1]) / (edge * math.sqrt(3) / 2)))
    columns = max(1, round((high[0] - low[0]) / edge))
    across, up = (high - low) / (columns, rows)
    x, y = np.meshgrid(np.arange(columns + 2), np.arange(1, rows))
    spots = np.column_stack(
        [(low[0] + (x - 0.5 * (y % 2)) * across).ravel(), (low[1] + y * up).ravel()]
    )
    if not len(spots):
        return np.empty((0, 2))
    spots = spots @ frame.T
    spots = spots[_inside(spots, outline)]
    if not len(spots):
        return np.empty((0, 2))
    # Away from points as well as from the segments between them, whose length may be an edge.
    halves = outline + ahead / 2
    near, _ = cKDTree(np.vstack([fixed, halves])).query(spots)
    found: Array = spots[near > CLEAR * edge]
    return found


def _inside(spots: Array, outline: Array) -> Bools:
    """Return which points are inside an outline, by the even-odd rule."""
    x, y = spots[:, 0][:, None], spots[:, 1][:, None]
    x0, y0 = outline[:, 0], outline[:, 1]
    x1, y1 = np.roll(x0, -1), np.roll(y0, -1)
    crosses = (y0 > y) != (y1 > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = x0 + (y - y0) * (x1 - x0) / (y1 - y0)
    inside: Bools = (np.sum(crosses & (at > x), axis=1) % 2).astype(bool)
    return inside


def _triangles(points: Array, outline: Array, edge: float) -> Ints:
    """Return the Delaunay triangles inside an outline, counter-clockwise, no slivers."""
    made = Delaunay(points).simplices.astype(np.int64)
    p, q, r = (points[made[:, k]] for k in range(3))
    twice = (q[:, 0] - p[:, 0]) * (r[:, 1] - p[:, 1]) - (q[:, 1] - p[:, 1]) * (r[:, 0] - p[:, 0])
    made[twice < 0] = made[twice < 0][:, [0, 2, 1]]
    kept = (np.abs(twice) > SLIVER * edge**2) & _inside((p + q + r) / 3, outline)
    found: Ints = made[kept]
    return found


def _smoothed(points: Array, triangles: Ints, fixed: int) -> Array:
    """Return points moved to the middle of their neighbours, but for the first `fixed`."""
    one = np.concatenate([triangles[:, k] for k in (0, 1, 2, 1, 2, 0)])
    other = np.concatenate([triangles[:, k] for k in (1, 2, 0, 0, 1, 2)])
    count = np.bincount(one, minlength=len(points))
    made = points.copy()
    for axis in (0, 1):
        total = np.bincount(one, weights=points[other, axis], minlength=len(points))
        made[fixed:, axis] = total[fixed:] / np.maximum(count[fixed:], 1)
    return made


def _without_ears(points: Array, triangles: Ints, count: int) -> tuple[Array, Ints]:
    """Split triangles with two edges on the boundary, which two panels would close to nothing."""
    on = np.stack(
        [_on_boundary(triangles[:, k], triangles[:, (k + 1) % 3], count) for k in range(3)],
        axis=1,
    )
    ears = np.flatnonzero(on.sum(1) >= 2)
    if not len(ears):
        return points, triangles
    middles = points[triangles[ears]].mean(1)
    new = len(points) + np.arange(len(ears))
    a, b, c = triangles[ears].T
    fresh = np.vstack(
        [np.column_stack([a, b, new]), np.column_stack([b, c, new]), np.column_stack([c, a, new])]
    )
    return np.vstack([points, middles]), np.vstack([np.delete(triangles, ears, 0), fresh])


def _on_boundary(start: Ints, stop: Ints, count: int) -> Bools:
    made: Bools = (start < count) & (stop < count) & ((start + 1) % count == stop)
    return made
