"""What a plotter cut, against what it was to cut."""

from collections.abc import Sequence

import numpy as np
import shapely

from ivory_quilt.core.cutting.knife_runs import ToolRun
from ivory_quilt.core.geometry.shape import Array

EVERY = 1.0  # mm: places compared beside all corners


def farthest_off(wanted: Sequence[ToolRun], cut: Sequence[Array]) -> float:
    """Return how far what was cut and what was wanted are apart at most, mm.

    Both ways: no place that was cut is further from what its run was to cut, and none that was to
    be cut is further from a cut (Hausdorff's distance, run by run).

    Raises:
        ValueError: there are not as many cuts as runs.
    """
    off = 0.0
    for run, made in zip(wanted, cut, strict=True):
        off = max(off, _away(run.tip, made), _away(made, run.tip))
    return off


def _away(line: Array, other: Array) -> float:
    """Return how far a line's places are from another line at most, mm."""
    places = shapely.points(
        shapely.get_coordinates(shapely.segmentize(shapely.linestrings(line), EVERY))
    )
    pairs = np.stack([other[:-1], other[1:]], axis=1)
    stretches = np.asarray(shapely.linestrings(pairs))
    near = shapely.STRtree(stretches).query_nearest(places, return_distance=True, all_matches=False)
    return float(np.max(near[1]))
