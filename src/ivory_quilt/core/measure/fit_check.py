"""Checks before anything permanent: do plates overlap far enough, do knees pass, do boots go on?

Plain geometry; how much more is wanted than none is common practice, no source.
"""

import math
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

SPARE_OVERLAP = 10.0  # mm that must stay covered at the end of the move
SPARE_CLEARANCE = 15.0  # mm between two knees in passing
SPARE_OPENING = 10.0  # mm of girth more than what goes through


class FitKind(StrEnum):
    """What is checked."""

    OVERLAP = "plates that move"
    CLEARANCE = "knees pass each other"
    OPENING = "what must go through an opening"
    TRIED = "tried on"


FIELDS = {
    FitKind.OVERLAP: ("overlap mm", "distance to the joint mm", "bend °"),
    FitKind.CLEARANCE: ("between the legs mm", "foam on the one mm", "foam on the other mm"),
    FitKind.OPENING: ("opening's girth mm", "girth that goes through mm"),
    FitKind.TRIED: (),
}
"""What the maker measures for each."""


class FitResult(StrEnum):
    """How a check came out."""

    OPEN = "not tried"
    PASSED = "passed"
    FAILED = "failed"


class FitCheck(Struct, frozen=True):
    """One check: its figures as measured, and what came of trying it on.

    Attributes:
        values: by `FIELDS` of its kind, mm or degrees.
        tried: what the maker found on the body; the figures alone say what should be.
    """

    id: str
    kind: FitKind
    title: str
    values: tuple[float, ...] = ()
    tried: FitResult = FitResult.OPEN
    note: str = ""

    def __post_init__(self) -> None:
        where = f"check '{self.title}'"
        if not self.title.strip():
            raise InputError("check", "it has no name", "what is checked")
        if len(self.values) != len(FIELDS[self.kind]):
            expected = ", ".join(FIELDS[self.kind]) or "no figures"
            raise InputError(where, f"{len(self.values)} figures", expected)
        for name, value in zip(FIELDS[self.kind], self.values, strict=True):
            if not (math.isfinite(value) and 0 <= value <= 5000):
                raise InputError(f"{where}, {name}", f"{value:g}", "0 to 5000")

    @property
    def result(self) -> FitResult:
        """What was found when it was tried, or else what its figures say."""
        if self.tried is not FitResult.OPEN or self.kind is FitKind.TRIED:
            return self.tried
        enough = self.reckoning.figure("spare") >= self.reckoning.figure("wanted")
        return FitResult.PASSED if enough else FitResult.FAILED

    @property
    def reckoning(self) -> Reckoning:
        """What is left to spare, mm, and what is wanted; of one that is only tried, nothing."""
        if self.kind is FitKind.OVERLAP:
            return overlap_left(*self.values)
        if self.kind is FitKind.CLEARANCE:
            return clearance(*self.values)
        if self.kind is FitKind.OPENING:
            return opening(*self.values)
        return Reckoning(self.kind.value, {}, {"spare": 0.0, "wanted": 0.0})


def overlap_left(overlap: float, radius: float, bend: float) -> Reckoning:
    """Return what two plates still overlap when a joint at `radius` mm has bent by `bend` degrees.

    The outer plate travels along an arc: radius × angle.
    """
    travel = radius * math.radians(bend)
    left = overlap - travel
    steps = (
        Step("travel = distance × bend", f"{radius:g} × {bend:g}° × π ÷ 180", travel, "mm"),
        Step("left = overlap − travel", f"{overlap:g} − {travel:.1f}", left, "mm"),
    )
    results = {"spare": left, "wanted": SPARE_OVERLAP, "travel": travel}
    return Reckoning(FitKind.OVERLAP.value, {}, results, steps, "length of an arc")


def clearance(between: float, one: float, other: float) -> Reckoning:
    """Return what is left between two legs in passing, with foam on both."""
    left = between - one - other
    step = Step("left = between − foam", f"{between:g} − {one:g} − {other:g}", left, "mm")
    results = {"spare": left, "wanted": SPARE_CLEARANCE}
    return Reckoning(FitKind.CLEARANCE.value, {}, results, (step,), "a difference")


def opening(girth: float, through: float) -> Reckoning:
    """Return by how much an opening's girth is larger than that of what goes through."""
    left = girth - through
    step = Step("spare = opening − what goes through", f"{girth:g} − {through:g}", left, "mm")
    results = {"spare": left, "wanted": SPARE_OPENING}
    return Reckoning(FitKind.OPENING.value, {}, results, (step,), "a difference")
