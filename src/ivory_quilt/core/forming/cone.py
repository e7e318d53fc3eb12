"""Cone: a flat ring sector bent about the axis of a cone frustum."""

import math

import numpy as np

from ivory_quilt.core.forming.bend_allowance import SOURCE
from ivory_quilt.core.forming.roll import FACET
from ivory_quilt.core.forming.shaping import AxisFrame, Change, Place
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct


class Cone(Struct, frozen=True):
    """A piece bent into a cone; radii grow along the frame's axis, or against it.

    A surface parallel to a cone, `d` outside it, is a cone of the same half angle α whose apex is
    d ÷ tan α further back on the slant; both develop to sectors of one angle (cone development).

    Attributes:
        low: slant distance from the apex to the frame's origin, mm; below 0 when radii shrink
            along the axis.
        half: half angle at the apex, radians, below 0 when radii shrink.
        reference: height of the face that the pattern was taken on, above the foam's inner face.
        sweep: angle that the pattern takes at the apex, radians.
        size: mean radius of the reference face over the piece, mm.
    """

    frame: AxisFrame
    low: float
    half: float
    reference: float
    sweep: float
    size: float
    longest: float = 4.0

    def _shift(self, place: Place) -> float:
        return (place.height - self.reference) / math.tan(self.half)

    def _polar(self, points: Array, apex: float) -> tuple[Array, Array]:
        """Return slant distance and angle about an apex `apex` mm below the origin."""
        local = self.frame.into(points)
        sign = 1.0 if self.low > 0 else -1.0
        u, v = local[:, 0], (local[:, 1] + apex) * sign
        return np.hypot(u, v), np.arctan2(u, v)

    def flat(self, points: Array, place: Place) -> Array:
        """Move points out along their generators to the layer's own sector."""
        rho, phi = self._polar(points, self.low)
        sign = 1.0 if self.low > 0 else -1.0
        rho = rho + sign * self._shift(place)
        # The generator through the middle stays where it is on the slant.
        along = sign * rho * np.cos(phi) - self.low - self._shift(place)
        return self.frame.out_of(np.column_stack((rho * np.sin(phi), along)))

    def space(self, points: Array, heights: Array, place: Place) -> Array:
        """Bend the sector into its cone."""
        sign = 1.0 if self.low > 0 else -1.0
        apex = self.low + self._shift(place)
        rho, phi = self._polar(points, apex)
        sin, cos = abs(math.sin(self.half)), math.cos(self.half)
        turn = phi / sin
        off = heights + place.lift - place.height
        radius = rho * sin + off * cos
        along = sign * (rho * cos - abs(apex) * cos - off * sin)
        flat = self.frame.out_of(np.column_stack((radius * np.sin(turn), along)))
        return np.column_stack((flat, radius * np.cos(turn) - self.size))

    def cuts(self, _place: Place) -> tuple[tuple[AxisFrame, float], ...]:
        """It bends evenly."""
        return ()

    @property
    def turn(self) -> float:
        """How far the piece goes around, radians."""
        return self.sweep / abs(math.sin(self.half))

    def changes(self, place: Place) -> tuple[Change, ...]:
        """Reckon the growth around the middle of the piece."""
        off, cos = place.height - self.reference, math.cos(self.half)
        more = self.turn * off * cos
        degrees = math.degrees(self.turn)
        reckoned = Reckoning(
            "cone",
            {
                "half_angle": math.degrees(self.half),
                "thickness": place.thickness,
                "neutral_height": place.height,
            },
            {"change": more, "slant_shift": self._shift(place)},
            (
                Step(
                    "half angle at the apex",
                    "asin(difference of radii ÷ slant)",
                    math.degrees(self.half),
                    "°",
                ),
                Step("goes around", f"{math.degrees(self.sweep):.2f}° ÷ |sin α|", degrees, "°"),
                Step(
                    "neutral line above the pattern's face",
                    f"{place.height:.2f} − {self.reference:.2f}",
                    off,
                    "mm",
                ),
                Step("sector moves out by", f"{off:.2f} ÷ tan α", self._shift(place), "mm"),
                Step("longer around", f"π ÷ 180 × {degrees:.1f}° × {off:.2f} × cos α", more, "mm"),
            ),
            f"development of a cone; {SOURCE}",
        )
        text = f"cone of {place.thickness:g} mm foam through {degrees:.0f}°"
        return (Change(text, more, reckoned),)

    def step(self, _place: Place) -> tuple[float, float, AxisFrame]:
        """A few degrees across the axis."""
        return max(abs(self.size) * FACET, 0.5), 30.0, self.frame
