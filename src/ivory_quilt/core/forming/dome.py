"""Dished: pressed hot into a bowl, as a cap of a sphere."""

import math

import numpy as np

from ivory_quilt.core.forming.shaping import ALL_AROUND, AxisFrame, Change, Place
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

FACET = math.radians(5.0)
AREA = "cap of a sphere and its disc of equal area (Archimedes, On the Sphere and Cylinder I.42)"


class Dome(Struct, frozen=True):
    """A piece dished into a spherical cap; area on the neutral line is kept.

    Attributes:
        radius: half the pattern's size: of a circle of its area, mm.
        angle: from the pole to the rim, radians.
        inner: sphere radius of the foam's inner face, mm.
        reference: sphere radius of the face that the pattern was taken on, mm.
        rim: whether the pattern is the rim seen from above, not laid flat from the body.
    """

    frame: AxisFrame
    radius: float
    angle: float
    inner: float
    reference: float
    rim: bool
    longest: float = 0.0

    def sphere(self, place: Place) -> float:
        """Return the sphere radius of a layer's neutral line, mm."""
        return self.inner + place.height

    def blank(self, place: Place) -> float:
        """Return the radius of the flat blank, mm: 2 R sin(φ ÷ 2)."""
        return 2 * self.sphere(place) * math.sin(self.angle / 2)

    def factor(self, place: Place) -> float:
        """Return flat size ÷ pattern size."""
        return self.blank(place) / self.radius

    def flat(self, points: Array, place: Place) -> Array:
        """Grow the pattern all around."""
        return self.frame.out_of(self.frame.into(points) * self.factor(place))

    def turn(self, points: Array, place: Place) -> Array:
        """Return the angle from the pole that places (n, 2) of the flat layer come to, (n,)."""
        away = np.hypot(*self.frame.into(points).T)
        return np.asarray(2 * np.arcsin(np.clip(away / (2 * self.sphere(place)), 0.0, 0.999)))

    def space(self, points: Array, heights: Array, place: Place) -> Array:
        """Dish the flat layer, each ring of it keeping its area."""
        local = self.frame.into(points)
        sphere = self.sphere(place)
        away = np.hypot(local[:, 0], local[:, 1])
        turn = 2 * np.arcsin(np.clip(away / (2 * sphere), 0.0, 1.0))
        radius = self.inner + place.lift + heights
        share = radius * np.sin(turn) / np.maximum(away, 1e-9)
        flat = self.frame.out_of(local * share[:, None])
        return np.column_stack((flat, radius * np.cos(turn) - self.inner))

    def cuts(self, _place: Place) -> tuple[tuple[AxisFrame, float], ...]:
        """It bends evenly."""
        return ()

    def changes(self, place: Place) -> tuple[Change, ...]:
        """Reckon the blank."""
        blank, more = self.blank(place), self.blank(place) - self.radius
        degrees = math.degrees(self.angle)
        source = "pattern as the rim" if self.rim else "pattern laid flat from the body"
        reckoned = Reckoning(
            "dish",
            {"sphere_radius": self.sphere(place), "angle": degrees},
            {"blank_radius": blank, "change": more},
            (
                Step(source, "circle of its area", self.radius, "mm"),
                Step(
                    "sphere of the neutral line",
                    f"{self.inner:.2f} + {place.height:g}",
                    self.sphere(place),
                    "mm",
                ),
                Step("pole to rim", "from the sphere's middle", degrees, "°"),
                Step(
                    "blank of equal area",
                    f"2 × {self.sphere(place):.2f} × sin {degrees / 2:.2f}°",
                    blank,
                    "mm",
                ),
                Step("change at the rim", f"{blank:.2f} − {self.radius:.2f}", more, "mm"),
            ),
            AREA,
        )
        text = f"dished {place.thickness:g} mm foam"
        return (Change(text, more, reckoned, ALL_AROUND),)

    def step(self, place: Place) -> tuple[float, float, AxisFrame]:
        """A few degrees both ways."""
        fine = max(self.sphere(place) * FACET, 1.0)
        return fine, fine, self.frame
