"""The cuts of a sheet, each with the stage in which it is made.

Stages are common practice, no source: what is scored first, while the sheet lies flat and whole;
then inner cut-outs, then small parts before large ones, so that foam is held as long as it is cut;
all of one blade's angle before the next, since setting a blade costs minutes.
"""

from enum import IntEnum

import shapely

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.piece import LineKind
from ivory_quilt.core.record import Struct


class CutStep(IntEnum):
    """What is done to a part, in this order."""

    SCORE = 0
    """A line part of the way through."""
    UNDERCUT = 1
    """A V along a line."""
    INNER = 2
    """A hole, or a slit."""
    OUTLINE = 3
    """All around: it comes free."""


STEPS = {
    LineKind.SCORE: CutStep.SCORE,
    LineKind.UNDERCUT: CutStep.UNDERCUT,
    LineKind.SLIT: CutStep.INNER,
}


class Stage(Struct, frozen=True, order=True):
    """When a cut is made: all of one stage before the next.

    Attributes:
        through: whether it goes through the foam; what does not comes first.
        outside: 0, less by one for each hole that the part lies in: what lies in a hole comes free
            before the hole does.
        step: what it does.
        setting: the blade's angle from a square cut, degrees, rounded.
        band: how large the part is, in steps of four times the area.
        freehand: whether no straight edge is laid along it: of one band, strips come first.
    """

    through: bool
    outside: int
    step: CutStep
    setting: int
    band: int
    freehand: bool = True


class Stroke(Struct, frozen=True, eq=False):
    """One cut that a knife makes at once.

    Attributes:
        part: number of the part on the sheet.
        places: `(n, 2)` mm on the sheet; of a closed one the first is not repeated.
        closed: whether it goes all round, so that it may begin anywhere.
        unit: strokes of one stage with the same number are made one right after the other; None:
            it is a unit of its own.
        also: other parts whose edge it is as well.
    """

    part: int
    stage: Stage
    places: Array
    closed: bool
    unit: int | None = None
    also: tuple[int, ...] = ()

    @property
    def length(self) -> float:
        """How long it is, mm."""
        line = shapely.LinearRing(self.places) if self.closed else shapely.LineString(self.places)
        return float(line.length)
