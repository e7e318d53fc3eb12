"""Lines that were drawn piece by piece, joined end to end into outlines."""

from collections.abc import Sequence

import numpy as np
from scipy.spatial import cKDTree

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reading.drawn import RawPath
from ivory_quilt.core.record import replace


def join_ends(paths: Sequence[RawPath], within: float) -> list[RawPath]:
    """Join open paths of one layer whose ends lie within a distance of each other, mm.

    Ends pair up nearest first, each at most once, so that a crossing of several lines joins what
    lies closest. A chain whose own ends meet becomes closed. Closed paths pass through.
    """
    joined: list[RawPath] = []
    by_layer: dict[str, list[RawPath]] = {}
    for path in paths:
        if path.closed or len(path.points) < 2:
            joined.append(path)
        else:
            by_layer.setdefault(path.layer, []).append(path)
    for members in by_layer.values():
        joined += _join(members, within)
    return joined


def _join(paths: list[RawPath], within: float) -> list[RawPath]:
    partner = _partners(paths, within)
    used = [False] * len(paths)
    made: list[RawPath] = []
    # Chains with a free end first, from that end; what is left are rings.
    free_first = sorted(range(2 * len(paths)), key=lambda e: (partner[e] >= 0, e))
    for end in free_first:
        if used[end // 2]:
            continue
        runs: list[Array] = []
        at, closed = end, False
        while not used[at // 2]:
            k = at // 2
            used[k] = True
            points = paths[k].points
            runs.append(points if at % 2 == 0 else points[::-1])
            following = partner[at ^ 1]
            if following < 0:
                break
            at = following
            closed = at == end
        made.append(_chain(paths[end // 2], runs, closed=closed))
    return made


def _chain(first: RawPath, runs: list[Array], *, closed: bool) -> RawPath:
    if len(runs) == 1 and not closed:
        return first
    points = [runs[0], *(run[1:] for run in runs[1:])]
    whole = np.vstack(points)
    if closed and len(whole) > 3:
        whole = whole[:-1]
    return replace(first, points=whole, closed=closed and len(whole) >= 3)


def _partners(paths: list[RawPath], within: float) -> list[int]:
    """Return each end's partner, −1 for none; end 2k is path k's first point, 2k + 1 its last."""
    ends = np.array([p for path in paths for p in (path.points[0], path.points[-1])])
    partner = [-1] * len(ends)
    if len(ends) < 2:
        return partner
    pairs = cKDTree(ends).query_pairs(within, output_type="ndarray")
    if len(pairs) == 0:
        return partner
    gap = np.hypot(*(ends[pairs[:, 0]] - ends[pairs[:, 1]]).T)
    # Ties in the order of drawing, so that the same file gives the same pieces.
    for k in np.lexsort((pairs[:, 1], pairs[:, 0], gap)):
        a, b = int(pairs[k, 0]), int(pairs[k, 1])
        if partner[a] < 0 and partner[b] < 0 and not _too_short(paths, a, b):
            partner[a], partner[b] = b, a
    return partner


def _too_short(paths: list[RawPath], a: int, b: int) -> bool:
    """Return whether two ends are those of one line that is no ring."""
    return a // 2 == b // 2 and len(paths[a // 2].points) < 4
