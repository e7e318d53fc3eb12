"""Where two parts lie edge to edge, one cut makes both edges."""

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.ops import substring

from ivory_quilt.core.cutting.strokes import CutStep, Stroke
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.record import replace

TOUCH = 0.05  # mm between edges that are one to a knife
LEAST = 10.0  # mm: a shorter common stretch is not worth lifting the blade for
CRUMB = 0.2  # mm: what is left of a cut that is shorter is nothing


def share_cuts(strokes: Sequence[Stroke]) -> tuple[Stroke, ...]:
    """Return the strokes with what two outlines have in common cut once, square cuts only.

    The one that comes first keeps the common stretch and says whose edge it is as well; the other
    has what is left of it.
    """
    square = sorted(
        (k for k, s in enumerate(strokes) if _may_share(s)),
        key=lambda k: (strokes[k].stage, strokes[k].part),
    )
    if len(square) < 2:
        return tuple(strokes)
    lines = [_line(strokes[k]) for k in square]
    tree = shapely.STRtree(lines)
    made = {k: [s] for k, s in enumerate(strokes)}
    also: dict[int, list[int]] = {}
    for at, k in enumerate(square):
        near = tree.query(lines[at], predicate="dwithin", distance=TOUCH)
        earlier = [
            j
            for j in sorted(near.tolist())
            if j < at and strokes[square[j]].part != strokes[k].part
        ]
        common = []
        for j in earlier:
            shared = _common(lines[at], lines[j])
            if shared:
                common += shared
                also.setdefault(square[j], []).append(strokes[k].part)
        if common:
            rest = _without(lines[at], common)
            made[k] = [replace(strokes[k], places=line, closed=False) for line in rest]
    for k, others in also.items():
        made[k] = [replace(s, also=tuple(dict.fromkeys(others))) for s in made[k]]
    return tuple(s for k in range(len(strokes)) for s in made[k])


def _may_share(stroke: Stroke) -> bool:
    stage = stroke.stage
    return stage.step is CutStep.OUTLINE and stage.setting == 0


def _line(stroke: Stroke) -> shapely.LineString:
    places = stroke.places
    return shapely.LineString(np.vstack([places, places[:1]]) if stroke.closed else places)


def _common(line: shapely.LineString, other: shapely.LineString) -> list[shapely.LineString]:
    """Return the stretches of a line along which the other runs as well."""
    band = other.buffer(TOUCH, cap_style="flat", join_style="mitre")
    return [one for one in _merged(line.intersection(band)) if one.length >= LEAST]


def _without(line: shapely.LineString, taken: list[shapely.LineString]) -> list[Array]:
    """Return what is left of a line; it runs a little into what is taken, so that no bridge stays.

    A taken stretch goes around its corners as far as it touches: that is cut here.
    """
    cut = [substring(one, 2 * TOUCH, one.length - 2 * TOUCH) for one in taken]
    gone = shapely.union_all([one.buffer(TOUCH / 50, cap_style="flat") for one in cut])
    rest = _merged(line.difference(gone))
    return [shapely.get_coordinates(one) for one in rest if one.length >= CRUMB]


def _merged(found: shapely.Geometry) -> list[shapely.LineString]:
    """Return the lines of a geometry, each as long as it goes on."""
    lines = [g for g in shapely.get_parts(found) if isinstance(g, shapely.LineString)]
    if not lines:
        return []
    merged = shapely.line_merge(shapely.MultiLineString(lines))
    return [g for g in shapely.get_parts(merged) if isinstance(g, shapely.LineString)]
