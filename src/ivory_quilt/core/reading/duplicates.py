"""Outlines that are drawn twice: equal ones, found by their boxes."""

import itertools
import math

import numpy as np

from ivory_quilt.core.geometry.shape import Shape

SAME_WITHIN = 0.05  # mm: two outlines nearer than this everywhere are one, drawn twice


class KnownOutlines:
    """Outlines that were met already."""

    def __init__(self) -> None:
        """Know none."""
        self._by_box: dict[tuple[int, ...], list[Shape]] = {}

    def add(self, shape: Shape) -> None:
        """Remember an outline."""
        self._by_box.setdefault(tuple(map(math.floor, shape.bounds)), []).append(shape)

    def hold(self, shape: Shape) -> bool:
        """Return whether an equal outline is known."""
        return any(_same(shape, s) for key in _keys(shape) for s in self._by_box.get(key, ()))


def _keys(shape: Shape) -> set[tuple[int, ...]]:
    """Return the keys under which an equal outline's box may be kept."""
    low = tuple([math.floor(side - SAME_WITHIN) for side in shape.bounds])
    high = tuple([math.floor(side + SAME_WITHIN) for side in shape.bounds])
    return {low} if low == high else set(itertools.product(*zip(low, high, strict=True)))


def _same(a: Shape, b: Shape) -> bool:
    if np.abs(np.subtract(a.bounds, b.bounds)).max() > SAME_WITHIN:
        return False
    if abs(a.area - b.area) > SAME_WITHIN * (a.outline_length + b.outline_length):
        return False
    return bool(a.polygon.exterior.hausdorff_distance(b.polygon.exterior) <= SAME_WITHIN)
