"""What a knife plotter's carriage does so that the tip of its blade cuts a sheet's strokes.

A swivel blade trails: its tip lies `offset` behind the axis, against the way it goes, and a tip in
foam never moves sideways (the tractrix; Steinhaus, Mathematical Snapshots). So the axis runs ahead
of the tip along each straight stretch, and swings about the tip at each corner, which then stays.
"""

import math
from collections.abc import Sequence
from enum import StrEnum

import numpy as np

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.cutting.order import CuttingOrder
from ivory_quilt.core.cutting.strokes import CutStep
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.record import Struct

SAGITTA = 0.005  # mm: by how much the corners' arcs are flattened
SAME = 1e-6  # mm: places that are one
SET = (1.0, 0.0)
"""Which way the blade points before the first run: along the sheet. A hand turns it so."""


class PlotterTool(StrEnum):
    """What the carriage holds."""

    PEN = "pen"
    SCORE = "score"
    CUT = "cut"


TOOL_OF = {
    CutStep.SCORE: PlotterTool.SCORE,
    CutStep.UNDERCUT: PlotterTool.PEN,
    CutStep.INNER: PlotterTool.CUT,
    CutStep.OUTLINE: PlotterTool.CUT,
}
"""An upright blade cuts no V: where it goes is drawn, for a hand."""


class ToolRun(Struct, frozen=True, eq=False):
    """One way with the tool down.

    Attributes:
        tool: what is held.
        part: number of the part on the sheet, in the layout's order.
        tip: `(n, 2)` mm, what is to be cut or drawn.
        axis: `(m, 2)` mm, where the carriage goes for that.
    """

    tool: PlotterTool
    part: int
    tip: Array
    axis: Array


def knife_runs(
    order: CuttingOrder, plotter: KnifePlotter, marks: Sequence[tuple[int, Array]] = ()
) -> tuple[ToolRun, ...]:
    """Return all runs of a sheet: what is drawn, then scored, then cut, each in cutting order.

    Args:
        order: the sheet's strokes, upright (`strokes_of(..., upright=True)`).
        plotter: its blade; without a pen nothing is drawn.
        marks: (part, `(n, 2)` mm) more lines to draw.
    """
    planned = [
        (TOOL_OF[c.stroke.stage.step], c.stroke.part, c.places, c.stroke.closed) for c in order.cuts
    ]
    planned += [(PlotterTool.PEN, part, line, False) for part, line in marks]
    runs: list[ToolRun] = []
    heading = np.array(SET)
    for tool in PlotterTool:
        if tool is PlotterTool.PEN and not plotter.marks:
            continue
        for held, part, places, closed in planned:
            if held is not tool:
                continue
            tip = _without_stops(places)
            if len(tip) < 2:
                continue
            axis = tip
            if tool is not PlotterTool.PEN:
                if closed and tool is PlotterTool.CUT:
                    tip = _overcut(tip, plotter.overcut)
                axis, heading = axis_path(tip, plotter.offset, heading)
            runs.append(ToolRun(tool, part, tip, axis))
    return tuple(runs)


def axis_path(tip: Array, offset: float, heading: Array) -> tuple[Array, Array]:
    """Return where the blade's axis goes so that its tip runs so, and which way it then points.

    Args:
        tip: `(n, 2)` mm, n ≥ 2, no two neighbours in one place.
        offset: from the axis to the tip, mm.
        heading: `(2,)`, a unit vector: which way the blade points as it comes down.
    """
    steps = np.diff(tip, axis=0)
    ways = steps / np.linalg.norm(steps, axis=1)[:, None]
    if offset <= 0:
        return tip, ways[-1]
    found = [(tip[0] + offset * heading)[None]]
    before = heading
    for place, after, way in zip(tip[:-1], tip[1:], ways, strict=True):
        found.append(place + _swing(before, way, offset))
        found.append((after + offset * way)[None])
        before = way
    return _without_stops(np.vstack(found)), ways[-1]


def _swing(before: Array, after: Array, radius: float) -> Array:
    """Return an arc about the origin from one direction to another, the shorter way; mm."""
    turn = math.atan2(before[0] * after[1] - before[1] * after[0], float(before @ after))
    step = 2 * math.acos(max(0.0, 1 - SAGITTA / radius))
    many = max(1, math.ceil(abs(turn) / step))
    angles = math.atan2(before[1], before[0]) + turn * np.arange(1, many + 1) / many
    return radius * np.column_stack([np.cos(angles), np.sin(angles)])


def _overcut(tip: Array, length: float) -> Array:
    """Return a closed run that goes on past where it began, at most once around."""
    if length <= 0:
        return tip
    around = Outline(tip[:-1])
    more = around.stretch(0.0, min(length, around.length))
    return _without_stops(np.vstack([tip, more[1:]]))


def _without_stops(places: Array) -> Array:
    """Return a line without places that are the one before."""
    gaps = np.linalg.norm(np.diff(places, axis=0), axis=1)
    kept: Array = places[np.concatenate([[True], gaps > SAME])]
    return kept
