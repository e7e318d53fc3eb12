"""What every form does: lay the formed piece flat, and put the flat piece back into its form.

A form is found once for a piece (`core.forming.forms`). Every layer of it has its own place on
the form: how far its inner face lies above the piece's own, how thick it is, and where its neutral
line runs.
"""

from functools import cached_property
from typing import Protocol

import numpy as np

from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.record import Struct


class Place(Struct, frozen=True):
    """A layer's place on a form. Heights are above the piece's own inner face, mm.

    Attributes:
        lift: of the layer's inner face, below 0 on the inner side.
        thickness: of the layer.
        height: of the line along which its length is that of the flat foam: its own neutral line,
            or that of the whole stack when layers are glued before they are bent.
    """

    lift: float
    thickness: float
    height: float


class AxisFrame(Struct, frozen=True, dict=True):
    """Directions in a piece's plane: across an axis, and along it; `origin` is the middle."""

    origin: Point
    axis: float

    @cached_property
    def along(self) -> Array:
        """Unit vector along the axis."""
        turn = np.radians(self.axis)
        return np.array([np.cos(turn), np.sin(turn)])

    @cached_property
    def across(self) -> Array:
        """Unit vector across it, to its right."""
        x, y = self.along
        return np.array([y, -x])

    def into(self, points: Array) -> Array:
        """Return points (n, 2) as (across, along)."""
        x, y = (points - self.origin).T
        turned = [x * u + y * v for u, v in (self.across.tolist(), self.along.tolist())]
        return np.array(turned).T

    def out_of(self, local: Array) -> Array:
        """Return (across, along) as points of the piece."""
        return np.asarray(self.origin + local[:, :1] * self.across + local[:, 1:] * self.along)


ALL_AROUND = "all around"  # where a change of the whole outline is


class Change(Struct, frozen=True):
    """A change of the outline from the pattern's, with its reckoning.

    Attributes:
        why: what for.
        amount: by how much, mm.
        where: "all around", or between which faces; empty for a length.
    """

    why: str
    amount: float
    reckoning: Reckoning
    where: str = ""

    @property
    def figure(self) -> str:
        """By how much, and where."""
        return f"{signed(self.amount)} {self.where}".rstrip()

    @property
    def text(self) -> str:
        """The whole change in words."""
        return f"{self.figure}: {self.why}"


class Shaping(Protocol):
    """A form of one piece."""

    @property
    def longest(self) -> float:
        """Longest straight stretch of an outline that may be mapped as one, mm; 0 for any."""

    def flat(self, points: Array, place: Place) -> Array:
        """Return where points (n, 2) of the pattern lie on a flat layer at `place`."""

    def space(self, points: Array, heights: Array, place: Place) -> Array:
        """Return where points (n, 2) of the flat layer are once formed, (n, 3).

        `heights` (n,) are above the layer's inner face; z points outwards.
        """

    def cuts(self, place: Place) -> tuple[tuple[AxisFrame, float], ...]:
        """Return (frame, across) of lines at which outlines must have points."""

    def changes(self, place: Place) -> tuple[Change, ...]:
        """Return what the form does to the outline at `place`."""

    def step(self, place: Place) -> tuple[float, float, AxisFrame]:
        """Return how fine a mesh must be across and along a frame, mm; 0 for any."""


class Plain:
    """No form: what is cut is what is worn."""

    longest = 0.0

    def flat(self, points: Array, _place: Place) -> Array:
        """Return the points as they are."""
        return points

    def space(self, points: Array, heights: Array, place: Place) -> Array:
        """Return the points at their heights."""
        return np.column_stack((points, heights + place.lift))

    def cuts(self, _place: Place) -> tuple[tuple[AxisFrame, float], ...]:
        """Nothing bends."""
        return ()

    def changes(self, _place: Place) -> tuple[Change, ...]:
        """Nothing changes."""
        return ()

    def step(self, _place: Place) -> tuple[float, float, AxisFrame]:
        """Any mesh will do."""
        return 0.0, 0.0, AxisFrame((0.0, 0.0), 90.0)


def signed(amount: float) -> str:
    """Return a length with its sign, as makers read it."""
    return f"{'+' if amount >= 0 else '−'}{abs(amount):.1f} mm"
