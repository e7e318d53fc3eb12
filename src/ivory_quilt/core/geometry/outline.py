"""Places along a closed outline, by the length from its first point: find, walk, cut out."""

from functools import cached_property, lru_cache

import numpy as np

from ivory_quilt.core.geometry.shape import Array, Point, Shape
from ivory_quilt.core.record import Struct

SAME_PLACE = 1e-6  # mm


class Outline(Struct, frozen=True, eq=False, dict=True):
    """A closed ring (n, 2), not repeated at its end, as something to walk along."""

    ring: Array

    @cached_property
    def _closed(self) -> Array:
        return np.vstack((self.ring, self.ring[:1]))

    @cached_property
    def _at(self) -> Array:
        """Length from the first point to each vertex, and once around."""
        return corners_along(self._closed)

    @cached_property
    def _stretches(self) -> tuple[Array, Array, Array, Array]:
        return _stretches_of(self._closed, np.diff(self._at))

    @property
    def length(self) -> float:
        """Length once around, mm."""
        return float(self._at[-1])

    @property
    def vertices_at(self) -> Array:
        """Where each vertex lies, mm from the first, (n,)."""
        return self._at[:-1]

    def locate(self, point: Point) -> tuple[float, float]:
        """Return (how far along the nearest place lies, how far away it is), mm."""
        k, along, away = _nearest_on(*self._stretches, point)
        return float(self._at[k] + along) % self.length, away

    def places(self, at: Array) -> Array:
        """Return the points (m, 2) at lengths `at` (m,), which may run past the end."""
        s = np.mod(at, self.length)
        x = np.interp(s, self._at, self._closed[:, 0])
        y = np.interp(s, self._at, self._closed[:, 1])
        return np.column_stack((x, y))

    def place(self, at: float) -> Point:
        """Return the point at one length."""
        x, y = self.places(np.array([at]))[0].tolist()
        return (x, y)

    def stretch(self, start: float, stop: float) -> Array:
        """Return the open line (m, 2) from one length on to another, once around at most."""
        span = (stop - start) % self.length
        if span < SAME_PLACE:
            span = self.length
        s = np.mod(self.vertices_at - start, self.length)
        order = np.argsort(s, kind="stable")
        order = order[(s[order] > SAME_PLACE) & (s[order] < span - SAME_PLACE)]
        return np.vstack((self.place(start), self.ring[order], self.place(start + span)))


@lru_cache(maxsize=64)
def outline_of(shape: Shape) -> Outline:
    """Return a shape's outline, the same for whoever asks again soon: its lengths are kept."""
    return Outline(shape.outer)


def line_length(points: Array) -> float:
    """Return the length of an open line (n, 2), mm."""
    return float(np.hypot(*np.diff(points, axis=0).T).sum())


def corners_along(points: Array) -> Array:
    """Return how far along an open line (n, 2) each of its corners lies, mm, (n,)."""
    return np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))))


def along_line(points: Array, at: Array) -> Array:
    """Return the points (m, 2) at lengths `at` (m,) from an open line's start."""
    far = corners_along(points)
    return np.column_stack((np.interp(at, far, points[:, 0]), np.interp(at, far, points[:, 1])))


def locate_on_line(points: Array, point: Point) -> tuple[float, float]:
    """Return (length from an open line's start to its place nearest to `point`, distance)."""
    length = np.hypot(*np.diff(points, axis=0).T)
    k, along, away = _nearest_on(*_stretches_of(points, length), point)
    return float(length[:k].sum() + along), away


def _stretches_of(points: Array, length: Array) -> tuple[Array, Array, Array, Array]:
    """Return starts (2, n), steps (2, n), lengths (n,) and their squares, of which none is zero."""
    across_up = np.ascontiguousarray(points.T)
    return across_up[:, :-1], np.diff(across_up), length, np.maximum(length**2, 1e-18)


def _nearest_on(
    starts: Array, steps: Array, length: Array, squared: Array, point: Point
) -> tuple[int, float, float]:
    """Return (which stretch is nearest to a point, how far along it, how far away), mm."""
    (x, y), (across, up), (p, q) = starts, steps, point
    share = np.minimum(np.maximum(((p - x) * across + (q - y) * up) / squared, 0.0), 1.0)
    away = np.hypot(x + share * across - p, y + share * up - q)
    k = int(away.argmin())
    return k, float(share[k] * length[k]), float(away[k])
