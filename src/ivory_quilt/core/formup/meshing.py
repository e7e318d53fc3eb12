"""Triangles over the flat panels of an assembly, with as many points on both sides of each seam.

Where a boundary segment or a fold is no edge of a panel's triangles, it is split and the panel is
made anew.
"""

from itertools import pairwise

import numpy as np
from scipy.spatial import cKDTree

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Array, Assembly, Ints
from ivory_quilt.core.formup.sampling import SampledPanel, SampledSeam, sampled
from ivory_quilt.core.formup.triangulating import Blank, triangulated
from ivory_quilt.core.record import Struct, field

ROUNDS = 12
BESIDE = (1.3, 3.0)  # of an edge's length from a seam: there the foam curves on its own
FINER = (1.0, 0.7, 0.5)  # of an edge's length: what is tried where a panel is too narrow


class PanelMesh(Struct):
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
    _strips: dict[bytes, tuple[Ints, Array]] = field(default_factory=dict)

    def strip(self, side: Ints) -> tuple[Ints, Array]:
        """Return the triangles that lie a little way off boundary points, and which way they do.

        Unit vectors on the flat panel, `(k, 2)`; remembered, as long as the mesh is.
        """
        key = side.tobytes()
        if key not in self._strips:
            line = self.points[side]
            line = np.vstack([line, (line[1:] + line[:-1]) / 2])
            middles = self.points[self.triangles].mean(1)
            found = cKDTree(line).query(middles)
            far, near = np.asarray(found[0]), np.asarray(found[1])
            edge = self.panel.edge
            beside = np.flatnonzero((far > BESIDE[0] * edge) & (far < BESIDE[1] * edge))
            self._strips[key] = beside, (middles[beside] - line[near[beside]]) / far[beside, None]
        return self._strips[key]


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


def _mesh(
    panel: SampledPanel, closing: list[int], facing: set[tuple[int, int]]
) -> tuple[PanelMesh | None, list[int]]:
    """Return a panel's triangles, or the boundary segments that are to be split."""
    outline = panel.place(np.asarray(panel.steps))
    blank = Blank(
        outline.tobytes(),
        panel.corners.tobytes(),
        tuple(ends.tobytes() for _, ends in panel.folds),
        panel.edge,
        tuple(closing),
        frozenset(facing),
    )
    made, lost = triangulated(blank)
    if made is None:
        return None, list(lost)
    points, triangles, lines = made
    folds = [(fold, line) for (fold, _), line in zip(panel.folds, lines, strict=True)]
    return PanelMesh(panel, points, triangles, len(outline), folds), []
