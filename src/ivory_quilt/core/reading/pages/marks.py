"""Registration marks among the strokes of a vector page: crosses, corner ticks, diamonds.

Their shapes are common practice, no source: a cross of two equal strokes, an L of two, a square
stood on its corner or half of one at the page's edge.
"""

import math
from collections.abc import Iterable, Sequence

import numpy as np
from scipy.spatial import cKDTree

from ivory_quilt.core.geometry.shape import Array, as_point
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.pages.page import MarkKind, Page, RegMark
from ivory_quilt.core.record import replace

SIZE = (2.0, 32.0)  # mm of a stroke or side
EXACT = 0.15  # mm that strokes of one mark may miss each other
SQUARE = math.cos(math.radians(87))  # |cos| between strokes that stand square
LABEL_WITHIN = 12.0  # mm: words this near a mark name it
ONE = 0.05  # mm: marks nearer than this are one, drawn twice


def find_marks(page: Page) -> Page:
    """Return the page with its registration marks found and taken out of the paths."""
    strokes, again = _strokes(page.paths)
    found: list[RegMark] = []
    used: set[int] = set()
    for i, j, mark in (*_crosses(strokes), *_ticks(strokes)):
        if i not in used and j not in used:
            found.append(mark)
            used |= {i, j}
    for k, path in enumerate(page.paths):
        drawn = None if k in used else (_bent_tick(path) or _diamond(_ringed(path)))
        if drawn is not None:
            found.append(drawn)
            used.add(k)
    used |= {k for k, first in again.items() if first in used}
    used |= {k for k, p in enumerate(page.paths) if k not in used and _rings_a_mark(p, found)}
    paths = tuple(p for k, p in enumerate(page.paths) if k not in used)
    marks = tuple(_labelled(m, page.texts) for m in _single(found))
    return replace(page, paths=paths, marks=marks)


def _strokes(paths: Sequence[RawPath]) -> tuple[list[tuple[int, Array]], dict[int, int]]:
    """Return the strokes that may be a mark's, and which of the others lie on which of those.

    Thousands drawn at one place would make millions of pairs.
    """
    found, again = [], {}
    seen: dict[tuple[int, ...], int] = {}
    for k, path in enumerate(paths):
        if _is_stroke(path):
            ends = np.round(path.points[np.lexsort(path.points.T)] / ONE).astype(int)
            first = seen.setdefault(tuple(ends.ravel().tolist()), k)
            if first == k:
                found.append((k, path.points))
            else:
                again[k] = first
    return found, again


def _is_stroke(path: RawPath) -> bool:
    if path.closed or len(path.points) != 2:
        return False
    return SIZE[0] <= float(np.hypot(*(path.points[1] - path.points[0]))) <= SIZE[1]


def _unit(stroke: Array) -> Array:
    d = stroke[1] - stroke[0]
    return np.asarray(d / np.hypot(*d))


def _crosses(strokes: list[tuple[int, Array]]) -> list[tuple[int, int, RegMark]]:
    """Two equal strokes that cross in their middles at right angles."""
    if len(strokes) < 2:
        return []
    middles = np.array([s.mean(axis=0) for _, s in strokes])
    found = []
    for a, b in sorted(cKDTree(middles).query_pairs(EXACT)):
        (i, one), (j, other) = strokes[a], strokes[b]
        lengths = [float(np.hypot(*(s[1] - s[0]))) for s in (one, other)]
        alike = abs(lengths[0] - lengths[1]) <= 0.35 * max(lengths)
        if alike and abs(float(_unit(one) @ _unit(other))) < SQUARE:
            at = (middles[a] + middles[b]) / 2
            found.append((i, j, RegMark(MarkKind.CROSS, as_point(at), max(lengths))))
    return found


def _ticks(strokes: list[tuple[int, Array]]) -> list[tuple[int, int, RegMark]]:
    """Two strokes of about one length that meet at their ends at right angles."""
    if len(strokes) < 2:
        return []
    ends = np.vstack([s for _, s in strokes])
    found = []
    for a, b in sorted(cKDTree(ends).query_pairs(EXACT)):
        (i, one), (j, other) = strokes[a // 2], strokes[b // 2]
        if i == j or not _is_tick(one, other):
            continue
        size = float(np.hypot(*(one[1] - one[0])))
        found.append((i, j, RegMark(MarkKind.CORNER, as_point((ends[a] + ends[b]) / 2), size)))
    return found


def _is_tick(one: Array, other: Array) -> bool:
    lengths = [float(np.hypot(*(s[1] - s[0]))) for s in (one, other)]
    if abs(lengths[0] - lengths[1]) > 0.35 * max(lengths):
        return False
    axis = max(abs(float(v)) for v in _unit(one))
    return axis > 0.995 and abs(float(_unit(one) @ _unit(other))) < SQUARE


def _bent_tick(path: RawPath) -> RegMark | None:
    """An L drawn in one stroke."""
    if path.closed or len(path.points) != 3:
        return None
    one, other = path.points[:2], path.points[1:]
    if not all(SIZE[0] <= float(np.hypot(*(s[1] - s[0]))) <= SIZE[1] for s in (one, other)):
        return None
    if not _is_tick(one, other):
        return None
    return RegMark(MarkKind.CORNER, as_point(path.points[1]), float(np.hypot(*(one[1] - one[0]))))


def _ringed(path: RawPath) -> RawPath:
    """Return a path that was drawn back to its beginning as a closed one."""
    back = not path.closed and len(path.points) > 3
    if back and float(np.hypot(*(path.points[0] - path.points[-1]))) < EXACT:
        return replace(path, points=path.points[:-1], closed=True)
    return path


def _diamond(path: RawPath) -> RegMark | None:
    """A square on its corner, or half of one: then the middle of its long side counts."""
    points = path.points
    if not path.closed or len(points) not in (3, 4):
        return None
    sides = np.roll(points, -1, axis=0) - points
    lengths = np.hypot(*sides.T)
    if lengths.max() > SIZE[1] or lengths.min() < SIZE[0]:
        return None
    if len(points) == 4:
        slanted = np.abs(np.abs(sides[:, 0]) - np.abs(sides[:, 1])).max() < 0.12 * lengths.max()
        if not slanted or lengths.max() - lengths.min() > 0.05 * lengths.max():
            return None
        return RegMark(MarkKind.DIAMOND, as_point(points.mean(axis=0)), float(lengths.mean()))
    k = int(lengths.argmax())
    long, rest = sides[k], np.delete(lengths, k)
    level = min(abs(long[0]), abs(long[1])) < 0.02 * lengths[k]
    right = abs(lengths[k] ** 2 - (rest**2).sum()) < 0.06 * lengths[k] ** 2
    if not level or not right or abs(rest[0] - rest[1]) > 0.05 * rest.max():
        return None
    middle = (points[k] + points[(k + 1) % 3]) / 2
    return RegMark(MarkKind.DIAMOND, as_point(middle), float(rest.mean()))


def _rings_a_mark(path: RawPath, marks: list[RegMark]) -> bool:
    """Return whether a closed path is the ring around a mark."""
    if not path.closed or len(path.points) < 8:
        return False
    middle = path.points.mean(axis=0)
    reach = np.hypot(*(path.points - middle).T)
    if reach.max() > SIZE[1] / 2 or reach.max() - reach.min() > 0.1 * reach.max():
        return False
    return any(math.dist(m.at, middle) < 2 * EXACT for m in marks)


def _single(marks: list[RegMark]) -> list[RegMark]:
    """Return marks without those drawn twice."""
    kept: list[RegMark] = []
    for mark in marks:
        if not any(math.dist(mark.at, k.at) < ONE for k in kept):
            kept.append(mark)
    return kept


def _labelled(mark: RegMark, texts: Iterable[RawText]) -> RegMark:
    near = [(math.dist(t.at, mark.at), t.text.strip()) for t in texts if len(t.text.strip()) <= 4]
    best = min(near, default=None)
    return replace(mark, label=best[1]) if best and best[0] <= LABEL_WITHIN else mark
