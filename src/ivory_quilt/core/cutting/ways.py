"""How cuts may be made: where each begins, and which are made one right after the other."""

from collections.abc import Sequence

import numpy as np

from ivory_quilt.core.cutting.strokes import Stroke
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.record import Struct

ENTRIES = 12  # places around an outline where a cut may begin


class Way(Struct, frozen=True, eq=False):
    """One way to make the cuts of a unit.

    Attributes:
        cuts: (number of the stroke, `(n, 2)` mm from where it begins) in order; a closed one comes
            back to where it began.
        between: how far it is from one to the next, mm.
    """

    cuts: tuple[tuple[int, Array], ...]
    between: float

    @property
    def begin(self) -> Array:
        """Where it is entered, mm."""
        place: Array = self.cuts[0][1][0]
        return place

    @property
    def end(self) -> Array:
        """Where it is left, mm."""
        place: Array = self.cuts[-1][1][-1]
        return place


def units_of(strokes: Sequence[Stroke]) -> list[tuple[int, ...]]:
    """Return the numbers of the strokes that are made one right after the other."""
    found: dict[object, list[int]] = {}
    for k, stroke in enumerate(strokes):
        key = (stroke.stage, stroke.unit) if stroke.unit is not None else k
        found.setdefault(key, []).append(k)
    return [tuple(members) for members in found.values()]


def unit_ways(strokes: Sequence[Stroke], members: Sequence[int]) -> list[Way]:
    """Return how a unit may be cut: begun anywhere, then on to what is nearest each time."""
    ways = {k: ways_of(strokes[k]) for k in members}
    return [_onward(k, way, ways) for k in members for way in ways[k]]


def _onward(first: int, way: Array, ways: dict[int, list[Array]]) -> Way:
    cuts, between = [(first, way)], 0.0
    left = {k: mine for k, mine in ways.items() if k != first}
    while left:
        here = cuts[-1][1][-1]
        gap, k, at = min(
            (float(np.hypot(*(mine[at][0] - here))), k, at)
            for k, mine in left.items()
            for at in range(len(mine))
        )
        cuts.append((k, left.pop(k)[at]))
        between += gap
    return Way(tuple(cuts), between)


def ways_of(stroke: Stroke) -> list[Array]:
    """Return how a stroke may be run: from several places around, or from either end."""
    if not stroke.closed:
        return [stroke.places, stroke.places[::-1]]
    outline = Outline(stroke.places)
    corners = outline.vertices_at % outline.length
    if len(corners) > ENTRIES:  # evenly around, each at the corner that is nearest
        even = np.arange(ENTRIES) * outline.length / ENTRIES
        gaps = np.abs(corners[None] - even[:, None])
        near = np.argmin(np.minimum(gaps, outline.length - gaps), axis=1)
        picked = sorted(set(near.tolist()))
    else:
        picked = list(range(len(stroke.places)))
    return [np.roll(stroke.places, -k, axis=0)[[*range(len(stroke.places)), 0]] for k in picked]
