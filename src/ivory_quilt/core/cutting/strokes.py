"""The cuts of a sheet, each with the stage in which it is made.

Stages are common practice, no source: what is scored first, while the sheet lies flat and whole;
then inner cut-outs, then small parts before large ones, so that foam is held as long as it is cut;
all of one blade's angle before the next, since setting a blade costs minutes.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from enum import IntEnum

import shapely

from ivory_quilt.core.geometry.shape import Array, Pose, Shape
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.pattern.piece import LineKind

BAND = 4.0  # times the area: parts that differ by less are as good to hold, from memory


class CutStep(IntEnum):
    """What is done to a part, in this order."""

    SCORE = 0
    """A line part of the way through."""
    UNDERCUT = 1
    """A V along a line."""
    INNER = 2
    """A hole."""
    OUTLINE = 3
    """All around: it comes free."""


STEPS = {LineKind.SCORE: CutStep.SCORE, LineKind.UNDERCUT: CutStep.UNDERCUT}


@dataclass(frozen=True, order=True)
class Stage:
    """When a cut is made: all of one stage before the next.

    Attributes:
        through: whether it goes through the foam; what does not comes first.
        outside: 0, less by one for each hole that the part lies in: what lies in a hole comes free
            before the hole does.
        step: what it does.
        setting: the blade's angle from a square cut, degrees, rounded; the steepest of the part.
        band: how large the part is, in steps of four times the area.
    """

    through: bool
    outside: int
    step: CutStep
    setting: int
    band: int


@dataclass(frozen=True, eq=False)
class Stroke:
    """One cut that a knife makes at once.

    Attributes:
        part: number of the part on the sheet.
        places: `(n, 2)` mm on the sheet; of a closed one the first is not repeated.
        closed: whether it goes all round, so that it may begin anywhere.
    """

    part: int
    stage: Stage
    places: Array
    closed: bool

    @property
    def length(self) -> float:
        """How long it is, mm."""
        line = shapely.LinearRing(self.places) if self.closed else shapely.LineString(self.places)
        return float(line.length)


def strokes_of(parts: Iterable[tuple[Part, Pose]], *, upright: bool = False) -> tuple[Stroke, ...]:
    """Return all cuts of a sheet, part by part.

    Args:
        parts: what lies on it, and where.
        upright: for a blade that stands upright, which goes around all that a part covers and
            leaves its bevels to a hand; else the knife goes in on the outline that faces up.
    """
    laid = [
        (part, pose, (part.shape if upright else part.marked or part.shape).placed(pose))
        for part, pose in parts
    ]
    holes = [_holes_of(shape) for _, _, shape in laid]
    made: list[Stroke] = []
    for number, (part, pose, shape) in enumerate(laid):
        spot = shapely.Point(shape.label_point)
        outside = -sum(
            any(hole.covers(spot) for hole in mine) for k, mine in enumerate(holes) if k != number
        )
        angles = () if upright else (abs(angle) for _, angle in part.knives)
        setting = round(max(angles, default=0.0))
        for line in part.lines:
            step = STEPS.get(line.kind)
            if step is not None:
                stage = Stage(through=False, outside=0, step=step, setting=0, band=0)
                made.append(Stroke(number, stage, line.placed(pose).points, closed=False))
        for ring in shape.rings[1:]:
            stage = Stage(through=True, outside=outside, step=CutStep.INNER, setting=0, band=0)
            made.append(Stroke(number, stage, ring, closed=True))
        stage = Stage(
            through=True,
            outside=outside,
            step=CutStep.OUTLINE,
            setting=setting,
            band=_band(shape.area),
        )
        made.append(Stroke(number, stage, shape.rings[0], closed=True))
    return tuple(made)


def _band(area: float) -> int:
    return math.floor(math.log(max(area, 1.0), BAND))


def _holes_of(shape: Shape) -> list[shapely.Polygon]:
    return [shapely.Polygon(ring) for ring in shape.rings[1:]]
