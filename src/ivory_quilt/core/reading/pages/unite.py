"""What is drawn on joined pages, cut at the trim lines and united across them."""

import math
import re
from collections.abc import Sequence

import numpy as np
from shapely import LineString, MultiLineString, box
from shapely.ops import linemerge

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.joining import join_ends
from ivory_quilt.core.reading.pages.page import JoinedPages, Page, PageSide, moved_point
from ivory_quilt.core.record import replace

AT_TRIM = 0.35  # mm: what runs along a trim line as near as this is the line itself
RECURS_WITHIN = 0.3  # mm: what is at one place on every page is the page's own furniture
JOINS_WITHIN = (0.5, 2.5)  # mm between the ends of a line across a join, least and most


def united(pages: Sequence[Page], placed: JoinedPages) -> tuple[list[RawPath], list[RawText]]:
    """Return the paths and words of all joined pages, on one table, lines joined across pages.

    Each page gives what lies within its trim lines; what recurs on every page at one place (a
    frame, a check bar, a running foot) is left out.
    """
    furniture = _furniture(pages, placed)
    paths: list[RawPath] = []
    texts: list[RawText] = []
    for index, page in enumerate(pages):
        pose = placed.poses[index]
        if pose is None:
            continue
        cell = cell_of(index, page, placed)
        for path in page.paths:
            if _key(path) not in furniture:
                paths += [replace(p, points=pose.apply(p.points)) for p in _within(path, cell)]
        said = [t for t in page.texts if t.text.strip() and _text_key(t) not in furniture]
        x0, y0, x1, y1 = cell
        texts += [
            replace(t, at=moved_point(pose, t.at))
            for t in said
            if x0 <= t.at[0] <= x1 and y0 <= t.at[1] <= y1
        ]
    within = min(max(JOINS_WITHIN[0], 2.5 * placed.residual), JOINS_WITHIN[1])
    return join_ends(paths, within), texts


def cell_of(index: int, page: Page, placed: JoinedPages) -> tuple[float, float, float, float]:
    """Return the part of a page that it gives: up to its trim lines, mm on the page."""
    x0, y0, x1, y1 = -1.0, -1.0, page.width + 1, page.height + 1
    for join in placed.joins:
        for page_index, which, lower in ((join.first, 0, False), (join.second, 1, True)):
            if page_index != index:
                continue
            k = 0 if join.side is PageSide.RIGHT else 1
            trim = float(np.mean([pair[which][k] for pair in join.pairs]))
            if k == 0:
                x0, x1 = (trim, x1) if lower else (x0, trim)
            else:
                y0, y1 = (trim, y1) if lower else (y0, trim)
    return x0, y0, x1, y1


def _within(path: RawPath, cell: tuple[float, float, float, float]) -> list[RawPath]:
    """Return what of a path lies in a cell; lines along its border are its border."""
    x0, y0, x1, y1 = cell
    low, high = path.points.min(axis=0), path.points.max(axis=0)
    above = low[0] > x0 + AT_TRIM and low[1] > y0 + AT_TRIM
    if above and high[0] < x1 - AT_TRIM and high[1] < y1 - AT_TRIM:
        return [path]
    points = np.vstack((path.points, path.points[:1])) if path.closed else path.points
    inside = LineString(points).intersection(box(*cell))
    if isinstance(inside, MultiLineString):
        inside = linemerge(inside)
    made = []
    for line in getattr(inside, "geoms", [inside]):
        if isinstance(line, LineString) and line.length > 0.05:
            for run in _off_border(np.asarray(line.coords)[:, :2], cell):
                made.append(replace(path, points=run, closed=False))
    return made


def _off_border(points: Array, cell: tuple[float, float, float, float]) -> list[Array]:
    """Return a line in runs, without what lies along the cell's border."""
    on = np.zeros(len(points) - 1, dtype=bool)
    for k, at in ((0, cell[0]), (0, cell[2]), (1, cell[1]), (1, cell[3])):
        near = np.abs(points[:, k] - at) < AT_TRIM
        along = np.abs(np.diff(points[:, k])) < 0.05
        on |= near[:-1] & near[1:] & along
    runs: list[Array] = []
    start = 0
    for i in range(len(on) + 1):
        if i == len(on) or on[i]:
            if i > start:
                runs.append(points[start : i + 1])
            start = i + 1
    return runs


def _furniture(pages: Sequence[Page], placed: JoinedPages) -> set[object]:
    """Return the keys of paths and words that stand at one place on every joined page.

    A line that is cut off where pages join may do so by chance; only what lies wholly within a
    page's trim lines, or wholly beyond them, is the page's own. On two pages a half of something
    symmetrical may do so too: there only frames and what lies beyond count.
    """
    joined = [(k, p) for k, p in enumerate(pages) if placed.poses[k] is not None]
    if len(joined) < 2:
        return set()
    few = len(joined) == 2
    common: set[object] | None = None
    for index, page in joined:
        cell = cell_of(index, page, placed)
        keys: set[object] = {
            _key(p) for p in page.paths if _is_frame(p, page) or _clear(p, cell, beyond_only=few)
        }
        keys |= {_text_key(t) for t in page.texts}
        common = keys if common is None else common & keys
    return common or set()


def _clear(path: RawPath, cell: tuple[float, float, float, float], *, beyond_only: bool) -> bool:
    """Return whether a path lies wholly within or wholly beyond a page's trim lines."""
    low, high = np.array(cell[:2]), np.array(cell[2:])
    p0, p1 = path.points.min(axis=0), path.points.max(axis=0)
    inside = bool((p0 > low + AT_TRIM).all() and (p1 < high - AT_TRIM).all())
    outside = bool((p1 < low - AT_TRIM).any() or (p0 > high + AT_TRIM).any())
    return outside or (inside and not beyond_only)


def _is_frame(path: RawPath, page: Page) -> bool:
    if not path.closed or len(path.points) != 4:
        return False
    size = path.points.max(axis=0) - path.points.min(axis=0)
    steps = np.abs(np.roll(path.points, -1, axis=0) - path.points)
    level = bool((steps.min(axis=1) < 0.05).all())
    return level and size[0] * size[1] > 0.5 * page.width * page.height


def _key(path: RawPath) -> object:
    ends = path.points[[0, -1]].ravel() / RECURS_WITHIN
    box_ = np.concatenate((path.points.min(axis=0), path.points.max(axis=0))) / RECURS_WITHIN
    return (path.closed, len(path.points), *np.round(ends).tolist(), *np.round(box_).tolist())


def _text_key(text: RawText) -> object:
    return (re.sub(r"[\d]+|\b[A-Z]\d*\b", "#", text.text.strip()), math.floor(text.at[1] / 4))
