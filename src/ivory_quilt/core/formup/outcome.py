"""A formed assembly as it is shown and written: plain arrays, panel by panel."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Bools, Ints


@dataclass(frozen=True)
class SeamOutcome:
    """How one seam came out.

    Attributes:
        gap: largest distance between its two sides, mm: they are welded.
        length_a, length_b: of its two sides before, as drawn, mm.
        angle: between the outer faces, through the foam, degrees; the mean along it.
        wedge: opening left, or foam in the way, where the bevels are for another angle, mm.
        pull: largest strain along it, of the side that is stretched or crushed most.
    """

    gap: float
    length_a: float
    length_b: float
    angle: float
    wedge: float
    pull: float


@dataclass(frozen=True)
class StrainSpread:
    """Signed principal strain of the middle surface: 1st, 50th and 99th percentile by area."""

    p01: float
    p50: float
    p99: float


@dataclass(frozen=True, eq=False)
class FormedPanel:
    """One panel as it stands.

    Attributes:
        flat: `(n, 2)` mm, outer face up; `places`, `(n, 3)`, the same on the middle surface.
        triangles: `(m, 3)`, counter-clockwise from outside.
        strains: `(m, 2)` principal strains, smaller first.
        masked: `(m,)` near a tip, where foam is no plate.
        boundary: how many of the points, the first, run along the outline.
    """

    id: str
    thickness: float
    flat: Array
    places: Array
    triangles: Ints
    strains: Array
    masked: Bools
    boundary: int

    @property
    def worst(self) -> Array:
        """The principal strain of each triangle that is larger, with its sign, `(m,)`."""
        low, high = self.strains.T
        found: Array = np.where(np.abs(low) > np.abs(high), low, high)
        return found

    @cached_property
    def at_points(self) -> Array:
        """The same at each point, the mean of its triangles, `(n,)`."""
        total, times = np.zeros(len(self.flat)), np.zeros(len(self.flat))
        for k in range(3):
            total += np.bincount(self.triangles[:, k], self.worst, len(total))
            times += np.bincount(self.triangles[:, k], minlength=len(times))
        found: Array = total / np.maximum(times, 1)
        return found


@dataclass(frozen=True, eq=False)
class FormedShape:
    """An assembly as it stands: mm, right-handed, outer faces outwards."""

    panels: tuple[FormedPanel, ...]
    seams: tuple[SeamOutcome, ...]
    strain: StrainSpread
    settled: bool
    problems: tuple[str, ...]

    @cached_property
    def size(self) -> tuple[float, float, float]:
        """Its extents along its own axes, the longest first, middle surface, mm."""
        places = np.vstack([p.places for p in self.panels])
        away = places - places.mean(0)
        axes = np.linalg.svd(away, full_matrices=False)[2]
        spans = sorted(np.ptp(away @ axes.T, axis=0).tolist(), reverse=True)
        return (spans[0], spans[1], spans[2])
