"""A formed assembly as it is shown and written: plain arrays, panel by panel."""

from functools import cached_property

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Bools, Ints
from ivory_quilt.core.formup.surface import rigid_fit
from ivory_quilt.core.record import Struct, field

SMOOTHINGS = 2  # rounds over the neighbours


class SeamOutcome(Struct, frozen=True):
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

    def tension(self, thickness: float, modulus: float) -> float:
        """Return the force along it where it pulls most, N/cm: E t ε (Hooke, in one direction).

        Above 0 it is stretched. `thickness` mm, `modulus` MPa.
        """
        return 10 * modulus * thickness * self.pull


class StrainSpread(Struct, frozen=True):
    """Signed principal strain of a surface: 1st, 50th and 99th percentile by area."""

    p01: float
    p50: float
    p99: float


class FormedPanel(Struct, frozen=True, eq=False, dict=True):
    """One panel as it stands.

    Attributes:
        flat: `(n, 2)` mm, outer face up; `places`, `(n, 3)`, the same on the middle surface.
        triangles: `(m, 3)`, counter-clockwise from outside.
        strains: `(m, 2)` principal strains, smaller first.
        masked: `(m,)` near a tip, where foam is no plate.
        boundary: how many of the points, the first, run along the outline.
        rim: `(boundary,)` tangent of the bevel of each stretch of the outline, from its point on;
            above 0 the outer face is larger. May be empty: all square.
        laid: `(n, 2)`: where `flat` would lie if the panel were cut as it stands; may be empty.
    """

    id: str
    thickness: float
    flat: Array
    places: Array
    triangles: Ints
    strains: Array
    masked: Bools
    boundary: int
    laid: Array = field(default_factory=lambda: np.empty((0, 2)))
    rim: Array = field(default_factory=lambda: np.empty(0))

    @property
    def worst(self) -> Array:
        """The principal strain of each triangle that is larger, with its sign, `(m,)`."""
        low, high = self.strains.T
        found: Array = np.where(np.abs(low) > np.abs(high), low, high)
        return found

    @cached_property
    def at_points(self) -> Array:
        """The same at each point, the mean of its triangles, `(n,)`."""
        return self._spread(np.where(self.masked, 0.0, self.worst))

    def _spread(self, values: Array) -> Array:
        """Return the mean of the triangles at each point, `(n,)`."""
        total, times = np.zeros(len(self.flat)), np.zeros(len(self.flat))
        for k in range(3):
            total += np.bincount(self.triangles[:, k], values, len(total))
            times += np.bincount(self.triangles[:, k], minlength=len(times))
        found: Array = total / np.maximum(times, 1)
        return found

    @cached_property
    def smooth(self) -> Array:
        """The strain at each point, evened out over its neighbours: one triangle counts little."""
        found = self.at_points
        for _ in range(SMOOTHINGS):
            found = self._spread(found[self.triangles].mean(1))
        return found


def seat_of(flat: Array, places: Array) -> tuple[tuple[float, ...], ...]:
    """Return how a panel lies in space, as a whole: four rows of three, a turn and a shift.

    A flat point (x, y, 0) comes to x, y, 0 times the turn, and the shift.
    """
    plane = np.column_stack([flat, np.zeros(len(flat))])
    rows = np.vstack(rigid_fit(plane, places))
    return tuple(tuple(row) for row in rows.tolist())


class WorstPlace(Struct, frozen=True):
    """Where a shape strains most: the panel's number, one of its points, and the strain there."""

    panel: int
    point: int
    strain: float


class FormedShape(Struct, frozen=True, eq=False, dict=True):
    """An assembly as it stands: mm, right-handed, outer faces outwards.

    Attributes:
        off: how far it stands off its former, mm, but for the last hundredth; None without one.
        outer, inner: strain of the faces; None of a shape from elsewhere.
    """

    panels: tuple[FormedPanel, ...]
    seams: tuple[SeamOutcome, ...]
    strain: StrainSpread
    settled: bool
    problems: tuple[str, ...]
    off: float | None = None
    outer: StrainSpread | None = None
    inner: StrainSpread | None = None

    @cached_property
    def worst(self) -> WorstPlace:
        """Where it strains most, evened out over neighbours."""
        found = WorstPlace(0, 0, 0.0)
        for number, panel in enumerate(self.panels):
            at = int(np.argmax(np.abs(panel.smooth)))
            if abs(panel.smooth[at]) > abs(found.strain):
                found = WorstPlace(number, at, float(panel.smooth[at]))
        return found

    @cached_property
    def size(self) -> tuple[float, float, float]:
        """Its extents along its own axes, the longest first, middle surface, mm."""
        places = np.vstack([p.places for p in self.panels])
        # Axes by area, as of a thin sheet: how evenly it is meshed says nothing.
        corners = np.vstack([p.places[p.triangles] for p in self.panels])
        spots = corners.mean(1)
        across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        areas = np.linalg.norm(across, axis=1)
        away = spots - np.average(spots, axis=0, weights=areas)
        axes = np.linalg.eigh((away * areas[:, None]).T @ away)[1]
        spans = sorted(np.ptp(places @ axes, axis=0).tolist(), reverse=True)
        return (spans[0], spans[1], spans[2])
