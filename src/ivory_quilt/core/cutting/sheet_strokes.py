"""From parts on a sheet to the strokes that cut them."""

import math
from collections import defaultdict
from collections.abc import Iterable, Sequence

import numpy as np
import shapely

from ivory_quilt.core.cutting.blade_runs import blade_runs
from ivory_quilt.core.cutting.common_cuts import share_cuts
from ivory_quilt.core.cutting.strokes import STEPS, CutStep, Stage, Stroke
from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.record import replace

BAND = 4.0  # times the area: parts that differ by less are as good to hold, from memory
SLENDER, FULL = 4.0, 0.9  # times as long as wide, and a share of that rectangle: a strip


def strokes_of(parts: Iterable[tuple[Part, Pose]], *, upright: bool = False) -> tuple[Stroke, ...]:
    """Return all cuts of a sheet, part by part.

    Args:
        parts: what lies on it, and where.
        upright: for a blade that stands upright, which goes around all that a part covers, leaves
            its bevels to a hand, and does not care which parts are a pair; else the knife goes in
            on the outline that faces up.
    """
    laid = [(part, pose, part.shape if upright else part.line_up(pose)) for part, pose in parts]
    placed = [shape.placed(pose) for _, pose, shape in laid]
    holes = [_holes_of(shape) for shape in placed]
    units = [None] * len(laid) if upright else _units([part for part, _, _ in laid])
    made: list[Stroke] = []
    for number, (part, pose, shape) in enumerate(laid):
        spot = shapely.Point(placed[number].label_point)
        outside = -sum(
            any(hole.covers(spot) for hole in mine) for k, mine in enumerate(holes) if k != number
        )
        for line in part.lines:
            step = STEPS.get(line.kind)
            if step is not None:
                through = step is CutStep.INNER
                round_it = outside if through else 0
                stage = Stage(through=through, outside=round_it, step=step, setting=0, band=0)
                made.append(Stroke(number, stage, line.placed(pose).points, closed=False))
        for ring in placed[number].rings[1:]:
            stage = Stage(through=True, outside=outside, step=CutStep.INNER, setting=0, band=0)
            made.append(Stroke(number, stage, ring, closed=True))
        around = Stage(
            through=True,
            outside=outside,
            step=CutStep.OUTLINE,
            setting=0,
            band=_band(shape.area),
            freehand=not is_strip(shape),
        )
        for run in blade_runs(shape, () if upright else part.bevels_up(pose)):
            stage = replace(around, setting=run.setting)
            places = placed[number].outer if run.closed else pose.apply(run.places)
            made.append(Stroke(number, stage, places, run.closed, units[number]))
    return share_cuts(made)


def is_strip(shape: Shape) -> bool:
    """Return whether a straight edge is best laid along it: long, narrow, with straight sides."""
    around = shapely.minimum_rotated_rectangle(shape.polygon)
    if not isinstance(around, shapely.Polygon):
        return False
    sides = np.linalg.norm(np.diff(shapely.get_coordinates(around)[:3], axis=0), axis=1)
    slender = bool(sides.max() >= SLENDER * sides.min())
    return slender and shape.polygon.area >= FULL * around.area


def _units(parts: Sequence[Part]) -> list[int | None]:
    """Return for each part the number of what it is cut together with.

    The first left one and the first right one of a pair, the second ones, and so on; layers that
    are tacked together and cut two at once.
    """
    copies: dict[str, int] = defaultdict(int)
    known: dict[tuple[str, int], int] = {}
    found: list[int | None] = []
    for part in parts:
        whole = part.id.replace(f"/{part.hand.value}", "", 1)
        if part.together:
            whole = f"{part.together} {part.wearer}"
        key = (whole, copies[part.id])
        copies[part.id] += 1
        found.append(known.setdefault(key, len(known)))
    return found


def _band(area: float) -> int:
    return math.floor(math.log(max(area, 1.0), BAND))


def _holes_of(shape: Shape) -> list[shapely.Polygon]:
    return [shapely.Polygon(ring) for ring in shape.rings[1:]]
