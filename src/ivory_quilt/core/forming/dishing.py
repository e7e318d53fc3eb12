"""How far foam dishes: strain over a cap, and whether heat alone, darts or gores will do.

A disc pressed into a cap keeps its area where it can: at an angle p from the pole its meridian
stretches by 1 ÷ cos(p ÷ 2) and its rings are squeezed by cos(p ÷ 2) (equal-area map of the sphere,
Lambert 1772). Darts let the blank be as long as the arc instead, and take up what the rim has too
much. Limits are common practice, no source.
"""

import math
from enum import StrEnum

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

WIDEST_DART = 0.07  # of the rim (from memory, no source)
# Of the rim that darts may take up; beyond, gores are cut (from memory, no source).
MOST_DARTED = 0.3
STEEPEST = math.radians(75)  # from the pole: beyond, gores are cut (from memory, no source)
MOST_GORES = 12  # our choice: more are narrower than a hand can glue


class Remedy(StrEnum):
    """What a bowl needs."""

    HEAT = "goes by heat"
    DARTS = "goes with darts"
    GORES = "needs gores"


class DishVerdict(Struct, frozen=True):
    """Whether a bowl goes.

    Attributes:
        strain: the largest by heat alone, a share.
        count: darts or gores.
        dart: width of each dart at the rim, mm.
        depth: of a dart from the rim, mm.
    """

    remedy: Remedy
    strain: float
    limit: float
    count: int
    dart: float
    depth: float
    reckoning: Reckoning

    @property
    def sentence(self) -> str:
        """It in words."""
        percent, limit = 100 * self.strain, 100 * self.limit
        worst = f"{percent:.1f} % at the rim, the foam gives {limit:g} %"
        if self.remedy is Remedy.HEAT:
            return f"Goes by heat: {worst}."
        if self.remedy is Remedy.DARTS:
            return f"Goes with {self.count} darts of {self.dart:.0f} mm: {worst}."
        return f"Needs {self.count} gores: {worst}."


def meridian_strain(turn: Array) -> Array:
    """Return the strain along the meridian at angles from the pole, radians."""
    return np.asarray(1 / np.cos(turn / 2) - 1)


def ring_strain(turn: Array) -> Array:
    """Return the strain around, below 0 where the foam is squeezed."""
    return np.asarray(np.cos(turn / 2) - 1)


def largest_strain(turn: Array) -> Array:
    """Return the larger of the two, without sign."""
    return np.maximum(meridian_strain(turn), -ring_strain(turn))


def gore_strain(angle: float, count: int) -> float:
    """Return how much the edges of a flat gore are longer than the meridian they become.

    Its half width at p is (π ÷ n) R sin p, so its edge is R ∫ √(1 + (π ÷ n)² cos² p) dp.
    """
    p = np.linspace(0.0, angle, 200)
    length = np.trapezoid(np.sqrt(1 + (math.pi / count) ** 2 * np.cos(p) ** 2), p)
    return float(length / angle - 1)


def dishing(radius: float, angle: float, limit: float) -> DishVerdict:
    """Judge a bowl.

    Args:
        radius: of the sphere on the neutral line, mm.
        angle: from pole to rim, radians.
        limit: strain that the foam takes by heat, a share.
    """
    strain = float(largest_strain(np.array([angle]))[0])
    degrees = math.degrees(angle)
    steps = [
        Step("from pole to rim", "seen from the sphere's middle", degrees, "°"),
        Step(
            "meridian stretches by",
            f"1 ÷ cos {degrees / 2:.2f}° − 1",
            100 * float(meridian_strain(np.array([angle]))[0]),
            "%",
        ),
        Step(
            "rim is squeezed by",
            f"1 − cos {degrees / 2:.2f}°",
            -100 * float(ring_strain(np.array([angle]))[0]),
            "%",
        ),
        Step("the foam gives", "book value or coupon", 100 * limit, "%"),
    ]
    arc, rim = radius * angle, 2 * math.pi * radius * math.sin(angle)
    around = 2 * math.pi * arc
    excess = max(0.0, around - rim / (1 - limit))
    remedy, count, dart, depth = Remedy.HEAT, 0, 0.0, 0.0
    if strain > limit:
        steps += [
            Step("rim of a blank as long as the arc", f"2π × {arc:.1f}", around, "mm"),
            Step("heat squeezes it to", f"less {100 * limit:g} %, {rim:.1f} are wanted", rim, "mm"),
            Step("left for darts", f"{around:.1f} − {rim:.1f} ÷ (1 − {limit:g})", excess, "mm"),
        ]
        if excess > MOST_DARTED * around or angle > STEEPEST:
            remedy = Remedy.GORES
            count = next(
                (n for n in range(3, MOST_GORES) if gore_strain(angle, n) <= limit), MOST_GORES
            )
            steps.append(
                Step(
                    "gores whose edges give no more than that",
                    f"edge ÷ meridian − 1 = {100 * gore_strain(angle, count):.1f} %",
                    count,
                )
            )
        else:
            remedy = Remedy.DARTS
            count = max(2, math.ceil(excess / (WIDEST_DART * around)))
            dart = max(excess, 2.0) / count
            depth = arc - radius * _where(limit, angle)
            steps.append(Step("darts", f"{excess:.1f} ÷ {count} mm each", count))
    reckoned = Reckoning(
        "dishing",
        {"sphere_radius": radius, "angle": degrees, "limit_percent": 100 * limit},
        {"strain_percent": 100 * strain, "remedy": remedy.value, "count": count},
        tuple(steps),
        "equal-area map of the sphere (Lambert 1772); limits are common practice, no source",
    )
    return DishVerdict(remedy, strain, limit, count, dart, depth, reckoned)


def _where(limit: float, angle: float) -> float:
    """Return the angle from the pole within which heat alone does, radians."""
    turns = np.linspace(0.0, angle, 400)
    good = turns[largest_strain(turns) <= limit]
    return float(good[-1]) if len(good) else 0.0
