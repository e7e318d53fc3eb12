"""Rolled: bent about one axis all over, as a cuff or a ring."""

import math

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.bend_allowance import SOURCE
from ivory_quilt.core.forming.shaping import AxisFrame, Change, Place
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

FACET = math.radians(4.0)  # of a turn that a mesh shows as flat


class Roll(Struct, frozen=True):
    """A piece rolled about an axis.

    Attributes:
        extent: of the pattern across the axis, mm.
        angle: that it goes through, radians.
        inner: radius of the foam's inner face, mm.
        reference: radius of the face that the pattern was taken on, mm.
    """

    frame: AxisFrame
    extent: float
    angle: float
    inner: float
    reference: float
    longest: float = 0.0

    def radius(self, place: Place) -> float:
        """Return the radius of a layer's neutral line, mm.

        Raises:
            InputError: it would lie on the wrong side of the axis.
        """
        radius = self.inner + place.height
        if radius <= 0:
            raise InputError("form", "the layer is thicker than the bend is wide", "a wider bend")
        return radius

    def factor(self, place: Place) -> float:
        """Return flat length ÷ pattern length, across the axis."""
        return self.angle * self.radius(place) / self.extent

    def flat(self, points: Array, place: Place) -> Array:
        """Stretch the pattern across the axis."""
        return self.frame.out_of(self.frame.into(points) * [self.factor(place), 1.0])

    def space(self, points: Array, heights: Array, place: Place) -> Array:
        """Roll the flat layer up; its neutral line keeps its length."""
        local = self.frame.into(points)
        turn = local[:, 0] / self.radius(place)
        radius = self.inner + place.lift + heights
        across, out = radius * np.sin(turn), radius * np.cos(turn) - self.inner
        flat = self.frame.out_of(np.column_stack((across, local[:, 1])))
        return np.column_stack((flat, out))

    def cuts(self, _place: Place) -> tuple[tuple[AxisFrame, float], ...]:
        """It bends evenly."""
        return ()

    def changes(self, place: Place) -> tuple[Change, ...]:
        """Reckon the length on the layer's neutral line."""
        length = self.angle * self.radius(place)
        degrees = math.degrees(self.angle)
        more = length - self.extent
        reckoned = Reckoning(
            "wrap",
            {
                "angle": degrees,
                "inside_radius": self.inner,
                "thickness": place.thickness,
                "neutral_height": place.height,
            },
            {"length": length, "change": more},
            (
                Step(
                    "pattern across the axis",
                    f"on a radius of {self.reference:.2f} mm",
                    self.extent,
                    "mm",
                ),
                Step("goes through", "pattern ÷ its radius", degrees, "°"),
                Step(
                    "radius of the neutral line",
                    f"{self.inner:.2f} + {place.height:g}",
                    self.radius(place),
                    "mm",
                ),
                Step(
                    "length on it",
                    f"π ÷ 180 × {degrees:.2f}° × {self.radius(place):.2f}",
                    length,
                    "mm",
                ),
                Step("change", f"{length:.2f} − {self.extent:.2f}", more, "mm"),
            ),
            SOURCE,
        )
        text = f"wrap of {place.thickness:g} mm foam through {degrees:.0f}°"
        return (Change(text, more, reckoned),)

    def step(self, place: Place) -> tuple[float, float, AxisFrame]:
        """A few degrees across the axis; any length along it."""
        return max(self.radius(place) * FACET, 0.5), 0.0, self.frame
