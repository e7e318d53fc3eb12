"""Fitting a set of pieces to a body by one scale, solved from one key dimension.

Scaling changes outlines, marks and lengths alike; foam thickness stays, so what depends on it is
added here and never scaled.
"""

import math
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.measure.wearer import Measure, MeasureKind, spot
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

SOURCE = "similar figures (Euclid VI.4); length of the neutral line: bend allowance"


class KeyOf(StrEnum):
    """Which dimension of the key piece meets the body."""

    WIDTH = "width"
    HEIGHT = "height"
    OUTLINE = "outline"


class Fit(Struct, frozen=True):
    """How a pattern meets a body.

    Attributes:
        measure: what it must fit.
        now: the key dimension of one piece as it is, mm.
        around: how many such pieces make up the measure together.
        ease: room to move, mm, on the measure.
        beneath: thickness of everything worn beneath, mm.
        thickness: of the pattern's own foam; counts where it goes around.
        neutral: its neutral line's depth as a share of thickness.
    """

    measure: Measure
    now: float
    around: int = 1
    ease: float = 0.0
    beneath: float = 0.0
    thickness: float = 0.0
    neutral: float = 0.5

    @property
    def needed(self) -> float:
        """What all key dimensions together must come to, mm."""
        base = self.measure.value + self.ease
        if spot(self.measure.spot).kind is MeasureKind.GIRTH:
            return base + 2 * math.pi * (self.beneath + self.neutral * self.thickness)
        return base + 2 * self.beneath

    @property
    def scale(self) -> float:
        """The factor for the whole set."""
        return self.needed / (self.now * self.around)

    @property
    def uncertainty(self) -> float:
        """The scale's uncertainty, either way, from the measure's."""
        return self.measure.uncertainty / (self.now * self.around)

    def check(self) -> None:
        """Refuse what makes no sense.

        Raises:
            InputError: naming the value.
        """
        above_zero("key dimension", self.now)
        within("how many go around", self.around, 1, 48)
        within("beneath", self.beneath, 0, 200)
        within("foam thickness", self.thickness, 0, 200)
        within("neutral", self.neutral, 0, 1)
        above_zero("measure with ease", self.measure.value + self.ease)
        if not 0.1 <= self.scale <= 10:
            raise InputError("scale", f"{100 * self.scale:.0f} %", "10 to 1000 %: look at the key")

    def reckon(self) -> Reckoning:
        """Explain the scale.

        Raises:
            InputError: see `check`.
        """
        self.check()
        place = spot(self.measure.spot)
        value, total = self.measure.value, self.now * self.around
        if place.kind is MeasureKind.GIRTH:
            add = f"2π × ({self.beneath:g} + {self.neutral:g} × {self.thickness:g})"
            text = "what goes around is longer by foam and padding"
        else:
            add, text = f"2 × {self.beneath:g}", "what is worn beneath adds at both ends"
        steps = (
            Step(
                f"{place.title.lower()} with ease",
                f"{value:g} + {self.ease:g}",
                value + self.ease,
                "mm",
            ),
            Step(text, add, self.needed - value - self.ease, "mm"),
            Step("needed", "Σ", self.needed, "mm"),
            Step("the pattern has", f"{self.around} × {self.now:g}", total, "mm"),
            Step("scale", f"{self.needed:.2f} ÷ {total:.2f}", 100 * self.scale, "%"),
            Step(
                "give or take",
                f"{self.measure.uncertainty:g} ÷ {total:.2f}",
                100 * self.uncertainty,
                "%",
            ),
        )
        return Reckoning(
            "fit",
            {
                "measure": value,
                "now": self.now,
                "around": self.around,
                "ease": self.ease,
                "beneath": self.beneath,
                "thickness": self.thickness,
            },
            {"scale": self.scale, "needed": self.needed},
            steps,
            SOURCE,
            ("Foam thickness does not scale: bevels and wraps are worked out after.",),
        )


def key_length(shape: Shape, of: KeyOf) -> float:
    """Return a key dimension of an outline, mm."""
    if of is KeyOf.WIDTH:
        return shape.width
    return shape.height if of is KeyOf.HEIGHT else shape.outline_length
