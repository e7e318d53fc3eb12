"""Where along an outline the blade is set how: square, or at the angle of an edge's bevel."""

from collections.abc import Sequence

from ivory_quilt.core.geometry.outline import Outline, line_length
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.pattern.part import BevelledEdge
from ivory_quilt.core.record import Struct

LEAST = 1.0  # mm: a shorter stretch between two edges is cut with the one before it


class BladeRun(Struct, frozen=True, eq=False):
    """A stretch of an outline that is cut with one setting.

    Attributes:
        setting: the blade's angle from a square cut, degrees, rounded.
        places: `(n, 2)` mm along it; of a closed one the first is not repeated.
        closed: whether it is the whole outline.
    """

    setting: int
    places: Array
    closed: bool

    @property
    def length(self) -> float:
        """How long it is, mm."""
        return Outline(self.places).length if self.closed else line_length(self.places)


def setting_of(bevel: BevelledEdge) -> int:
    """Return how far from square the blade is set for an edge, degrees."""
    return round(abs(bevel.angle))


def settings_of(bevels: Sequence[BevelledEdge], shape: Shape) -> tuple[int, ...]:
    """Return how the blade is set for an outline, in the order in which that is done."""
    return tuple(sorted({run.setting for run in blade_runs(shape, bevels)}))


def blade_runs(shape: Shape, bevels: Sequence[BevelledEdge]) -> tuple[BladeRun, ...]:
    """Return an outline in stretches of one setting each, counter-clockwise."""
    outline = Outline(shape.outer)
    spans = _spans(outline, bevels)
    if len(spans) == 1:
        return (BladeRun(spans[0][2], shape.outer, closed=True),)
    return tuple(
        BladeRun(setting, outline.stretch(start, stop), closed=False)
        for start, stop, setting in spans
    )


def _spans(outline: Outline, bevels: Sequence[BevelledEdge]) -> list[tuple[float, float, int]]:
    """Return (from, to, setting) all the way around, neighbours unlike; mm along the outline."""
    length = outline.length
    set_here = sorted(
        (outline.locate(b.start)[0], outline.locate(b.stop)[0], setting_of(b))
        for b in bevels
        if setting_of(b)
    )
    if not set_here:
        return [(0.0, length, 0)]
    found: list[tuple[float, float, int]] = []
    for k, (start, stop, setting) in enumerate(set_here):
        end = stop if stop > start else stop + length
        after = set_here[k + 1][0] if k + 1 < len(set_here) else set_here[0][0] + length
        if after - end <= LEAST:
            found.append((start, after, setting))
        else:
            found += [(start, end, setting), (end, after, 0)]
    merged = [found[0]]
    for start, stop, setting in found[1:]:
        if setting == merged[-1][2]:
            merged[-1] = (merged[-1][0], stop, setting)
        else:
            merged.append((start, stop, setting))
    if len(merged) > 1 and merged[0][2] == merged[-1][2]:
        start, _, setting = merged.pop()
        merged[0] = (start, merged[0][1] + length, setting)
    return merged
