"""What a solved shell tells of its seams: how they stand, what bevels leave, where they pull."""

import math

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Bools, Ints, Meeting
from ivory_quilt.core.formup.outcome import SeamOutcome
from ivory_quilt.core.formup.sampling import SampledSeam
from ivory_quilt.core.formup.shell import Shell, areas_of
from ivory_quilt.core.formup.solver import Energy
from ivory_quilt.core.record import Struct


class SeamReader(Struct, frozen=True):
    """Reads one seam after another from what is worked out once for all of them.

    Attributes:
        angles: over all edges, radians.
        rest: the edges' lengths at rest in the triangles at their two sides, mm, `(e, 2)`; 0 where
            there is none, or where it is masked.
        curved: each triangle's curvature (`measures.curvature`).
        areas: of triangles at rest, mm².
        heights: over their edges, mm, `(m, 3)`.
        mine: the triangles of each panel.
    """

    shell: Shell
    places: Array
    angles: Array
    rest: Array
    curved: Array
    areas: Array
    heights: Array
    mine: list[Ints]

    @classmethod
    def of(cls, energy: Energy, places: Array, masked: Bools, curved: Array) -> "SeamReader":
        """Return the reader of a shell whose vertices are at `places`."""
        shell = energy.stiffness.shell
        rest = np.zeros((len(shell.edges), 2))
        for k in range(3):
            side = np.where(shell.sides[:, k] > 0, 0, 1)
            rest[shell.edge_of[:, k], side] = np.where(masked, 0.0, shell.true[:, k])
        mine = [np.flatnonzero(shell.panel_of == k) for k in range(len(shell.meshes))]
        areas = areas_of(shell.lengths)
        heights = 2 * areas[:, None] / shell.lengths
        return cls(shell, places, energy.angles(places), rest, curved, areas, heights, mine)

    def outcome(self, sampled: SampledSeam, number: int) -> SeamOutcome:
        """Return how one seam came out."""
        seam, shell = sampled.seam, self.shell
        mine = shell.seam_edges[number]
        on_seam = np.zeros(len(shell.edges), dtype=bool)
        on_seam[mine] = True
        touching = on_seam[shell.edge_of]
        v = shell.edges[mine]
        real = np.linalg.norm(self.places[v[:, 0]] - self.places[v[:, 1]], axis=1)
        thick = float(np.mean(shell.thickness[touching.any(1)]))
        if seam.meet is Meeting.FREE:
            angle, stands = _free_angle(shell, mine, self.places), sum(seam.cut)
        else:
            off = self._kink(number, sampled, real, touching)
            angle = 180.0 - math.degrees(seam.turn + off)
            stands = math.radians(180.0 - angle)
        pull = 0.0
        for end in (0, 1):
            rest = self.rest[mine, end]
            at = rest > 0
            if at.any():
                strain = real[at] / rest[at] - 1
                worst = float(strain[np.argmax(np.abs(strain))])
                pull = worst if abs(worst) > abs(pull) else pull
        # Bevels of another angle than it stands at leave a wedge open, or foam in the way.
        wedge = 2 * thick * math.sin(min(abs(stands - sum(seam.cut)), math.pi) / 2)
        return SeamOutcome(0.0, *sampled.drawn, angle, wedge, pull)

    def _kink(self, number: int, sampled: SampledSeam, real: Array, touching: Bools) -> float:
        """Return by how much a seam turns more than its bevels say, radians, the mean along it.

        What the foam curves beside the seam goes on over it and is no kink: the curvature a little
        way off, times the width that an edge's angle stands for, half the heights of its two
        triangles.
        """
        shell = self.shell
        mine = shell.seam_edges[number]
        inner = shell.edges[mine, 3] >= 0
        if not inner.any():
            return 0.0
        turned = float(np.average(self.angles[mine][inner], weights=real[inner]))
        smooth = 0.0
        for side, name in ((sampled.a, sampled.seam.a.panel), (sampled.b, sampled.seam.b.panel)):
            panel = next(k for k, m in enumerate(shell.meshes) if m.panel.panel.id == name)
            smooth += self._smooth(panel, side, touching)
        return turned - sampled.seam.turn - smooth

    def _smooth(self, panel: int, side: Ints, touching: Bools) -> float:
        """Return what the foam of a panel would turn on its own over its side of a seam."""
        triangles = self.mine[panel]
        beside, across = self.shell.meshes[panel].strip(side)
        touched = touching[triangles]
        if not len(beside) or not touched.any():
            return 0.0
        x, y = across.T
        beside = triangles[beside]
        xx, xy, yy = self.curved[beside].T
        bent = xx * x**2 + 2 * xy * x * y + yy * y**2
        weights = self.areas[beside]
        high = self.heights[triangles][touched]
        return float(bent @ weights / weights.sum()) * float(high.mean()) / 2


def bevelled_rims(shell: Shell, sampled: list[SampledSeam]) -> list[Array]:
    """Return of each panel the tangent of the bevel of every stretch of its outline.

    Above 0 the outer face is larger; the stretch k runs from point k on, `(boundary,)`.
    """
    number = {m.panel.panel.id: k for k, m in enumerate(shell.meshes)}
    found = [np.zeros(m.boundary) for m in shell.meshes]
    for one in sampled:
        sides = ((one.a, one.seam.a), (one.b, one.seam.b))
        for (points, side), bevel in zip(sides, one.seam.cut, strict=True):
            rim = found[number[side.panel]]
            first, second = points[:-1], points[1:]
            forward = (first + 1) % len(rim) == second
            rim[np.where(forward, first, second)] = math.tan(bevel)
    return found


def _free_angle(shell: Shell, mine: Ints, places: Array) -> float:
    """Return the mean angle over a free seam, whose two sides are edges of their own."""
    users: dict[tuple[int, int], list[int]] = {}
    for e in mine.tolist():
        a, b = shell.edges[e, :2].tolist()
        users.setdefault((min(a, b), max(a, b)), []).append(e)
    turns, weights = [], []
    for pair in users.values():
        if len(pair) != 2:
            continue
        one, other = (shell.edges[e] for e in pair)
        start, stop = places[one[0]], places[one[1]]
        left, right = places[one[2]], places[other[2]]
        along = stop - start
        n, m = np.cross(along, left - start), np.cross(right - start, along)
        length = float(np.linalg.norm(along))
        turns.append(math.atan2(float(np.cross(n, m) @ along) / length, float(n @ m)))
        weights.append(length)
    return 180.0 - math.degrees(float(np.average(turns, weights=weights))) if turns else 180.0
