"""Where the meshes of panels have their boundary points: as many on both sides of a seam.

A seam's sides are split at the corners and fold ends of both, then evenly in between.
"""

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import shapely

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import (
    Array,
    Assembly,
    FormPanel,
    FormSeam,
    Ints,
    SeamSide,
    edges_of_side,
    orientation,
    side_points,
)
from ivory_quilt.core.geometry.shape import Shape, signed_area
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.build import Face
from ivory_quilt.core.record import Struct, field

SHARP = math.radians(12.0)  # a corner that turns less is taken for a point of a curve
NEAR = 0.35  # of an edge's length: corners of both sides that are nearer are one
FINEST = 2.0  # triangles' edges are at most this share of a panel's width, as a square's side
PARALLEL = 0.05


class SampledSeam(Struct):
    """A seam's points on the panels' boundaries, in order from its start."""

    seam: FormSeam
    a: Ints
    b: Ints
    drawn: tuple[float, float]
    """The lengths of its sides as drawn, mm."""


class SampledPanel(Struct):
    """A panel's flat outline as it is meshed, counter-clockwise, outer face up.

    Attributes:
        corners: of the middle surface, mm, `(n, 2)`; corner k is the drawing's corner
            `numbers[k]`.
        steps: lengths along the outline of the boundary points, mm, ascending.
        edge: wished length of triangles' edges.
        folds: ends of the folds that cross it, each with the number of its fold.
    """

    panel: FormPanel
    corners: Array
    numbers: list[int]
    edge: float
    starts: Array
    length: float
    steps: list[float] = field(default_factory=list)
    folds: list[tuple[int, Array]] = field(default_factory=list)

    def place(self, steps: Array) -> Array:
        """Return the points at lengths along the outline, `(n, 2)`."""
        around = np.vstack([self.corners, self.corners[:1]])
        at = np.append(self.starts, self.length)
        steps = np.mod(steps, self.length)
        return np.column_stack(
            [np.interp(steps, at, around[:, 0]), np.interp(steps, at, around[:, 1])]
        )


def sampled(job: Assembly, edge: float) -> tuple[list[SampledPanel], list[SampledSeam]]:
    """Return the panels' boundaries and the seams' points on them.

    Raises:
        InputError: bevels that leave nothing of a panel's middle surface.
    """
    panels = [_panel(p, job, edge) for p in job.panels]
    spans = [
        (_span(panels[job.index[s.a.panel]], s.a), _span(panels[job.index[s.b.panel]], s.b))
        for s in job.seams
    ]
    for number, fold in enumerate(job.folds):
        _fold(panels[job.index[fold.panel]], number, job)
    fractions = [
        _shared(first, second, seam.marks)
        for (first, second), seam in zip(spans, job.seams, strict=True)
    ]
    _open_edges(panels, spans)
    for (first, second), found in zip(spans, fractions, strict=True):
        first.panel.steps += list(first.at(found[:, 0]))
        second.panel.steps += list(second.at(found[:, 1]))
    for panel in panels:
        panel.steps = _unique(panel.steps, panel.length)
    seams = [
        SampledSeam(
            seam,
            a.numbers(a.at(found[:, 0])),
            b.numbers(b.at(found[:, 1])),
            (_drawn_length(job, seam.a), _drawn_length(job, seam.b)),
        )
        for seam, (a, b), found in zip(job.seams, spans, fractions, strict=True)
    ]
    return panels, seams


def _drawn_length(job: Assembly, side: SeamSide) -> float:
    points = side_points(job.panels[job.index[side.panel]], side)
    return float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())


def _fold(panel: SampledPanel, number: int, job: Assembly) -> None:
    """Put the ends of a fold onto a panel's boundary.

    Raises:
        InputError: it lies beside the panel, or crosses another fold.
    """
    fold = job.folds[number]
    where = f"fold {number} of panel '{fold.panel}'"
    ends = _fold_ends(panel, fold.line)
    if not ends:
        raise InputError(where, "its line does not cross the panel", "a line over the panel")
    for start, stop in ends:
        spots = panel.place(np.array([start, stop]))
        line = shapely.LineString(spots)
        for other, theirs in panel.folds:
            if line.intersects(shapely.LineString(theirs)):
                problem = f"it meets fold {other} on the panel"
                raise InputError(where, problem, "folds that do not cross")
        panel.steps += [start, stop]
        panel.folds.append((number, spots))


def _panel(panel: FormPanel, job: Assembly, edge: float) -> SampledPanel:
    """Return a panel as it lies with its outer face up, counter-clockwise, bevels taken off."""
    points = np.array(panel.outline, dtype=float)
    if panel.mirrored:
        points[:, 0] = -points[:, 0]
    count = len(points)
    inwards = np.zeros(count)
    for seam in job.seams:
        for side in (seam.a, seam.b):
            if side.panel == panel.id and panel.face is not Face.MIDDLE and seam.turn:
                away = panel.thickness / 2 * math.tan(seam.turn / 2)
                inwards[edges_of_side(side, count)] = away if panel.face is Face.OUTER else -away
    numbers = list(range(count))
    if orientation(panel) < 0:
        numbers = numbers[::-1]
        points = points[::-1]
        inwards = np.roll(inwards[::-1], -1)
    if np.any(inwards):
        drawn, points = points, _offset(points, inwards)
        before, after = (np.roll(p, -1, 0) - p for p in (drawn, points))
        if (before * after).sum(1).min() <= 0 or shape_problem(Shape.make(points)):
            where = f"panel '{panel.id}', outline"
            raise InputError(where, "its bevels leave no middle surface", "a larger panel")
    steps = np.linalg.norm(np.roll(points, -1, 0) - points, axis=1)
    starts = np.concatenate([[0.0], np.cumsum(steps)])
    area = abs(signed_area(points))
    fine = min(edge, math.sqrt(area) / FINEST)
    return SampledPanel(panel, points, numbers, fine, starts[:-1], float(starts[-1]))


def _offset(points: Array, inwards: Array) -> Array:
    """Return a counter-clockwise outline with edge k, from corner k on, moved inwards."""
    ahead = np.roll(points, -1, 0) - points
    ahead /= np.linalg.norm(ahead, axis=1)[:, None]
    normal = np.column_stack([-ahead[:, 1], ahead[:, 0]])
    before, normal_before = np.roll(ahead, 1, 0), np.roll(normal, 1, 0)
    away, away_before = inwards, np.roll(inwards, 1)
    cross = before[:, 0] * ahead[:, 1] - before[:, 1] * ahead[:, 0]
    made = points + (normal * away[:, None] + normal_before * away_before[:, None]) / 2
    turning = np.abs(cross) > PARALLEL
    # Where the two moved lines cross.
    shift = normal_before * away_before[:, None]
    gap = normal * away[:, None] - shift
    along = (gap[:, 0] * ahead[:, 1] - gap[:, 1] * ahead[:, 0]) / np.where(turning, cross, 1.0)
    exact = points + shift + before * along[:, None]
    made[turning] = exact[turning]
    return made


class _Span(Struct):
    """A seam's side along the outline as it is meshed: from `start`, `length` mm, `way` 1 or -1."""

    panel: SampledPanel
    start: float
    length: float
    way: int
    corners: Array
    """Fractions of the sharp corners inside it."""
    edges: list[int]

    def at(self, fractions: Array) -> Array:
        """Return lengths along the outline at fractions of the side."""
        made: Array = np.mod(self.start + self.way * fractions * self.length, self.panel.length)
        return made

    def numbers(self, steps: Array) -> Ints:
        """Return the numbers of the boundary points at lengths along the outline."""
        known = np.append(self.panel.steps, self.panel.length)
        found = np.searchsorted(known, steps - 1e-6)
        made: Ints = np.mod(found, len(self.panel.steps)).astype(np.int64)
        return made


def _span(panel: SampledPanel, side: SeamSide) -> _Span:
    count = len(panel.corners)
    place = {number: k for k, number in enumerate(panel.numbers)}
    way = side.way * orientation(panel.panel)
    first, last = place[side.start], place[side.stop]
    edges = (last - first) * way % count or count
    visited = [(first + way * k) % count for k in range(edges + 1)]
    points = panel.corners[visited]
    lengths = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1))])
    ahead = np.diff(points, axis=0)
    turn = np.arctan2(
        ahead[:-1, 0] * ahead[1:, 1] - ahead[:-1, 1] * ahead[1:, 0],
        np.sum(ahead[:-1] * ahead[1:], axis=1),
    )
    sharp = np.flatnonzero(np.abs(turn) > SHARP) + 1
    taken = [(k if way > 0 else (k - 1) % count) for k in visited[:-1]]
    return _Span(
        panel,
        float(panel.starts[first]),
        float(lengths[-1]),
        way,
        lengths[sharp] / lengths[-1],
        taken,
    )


def _inside(span: _Span) -> list[float]:
    """Return the fractions of the points on a side that are there already: fold ends."""
    found = []
    for step in span.panel.steps:
        fraction = (step - span.start) * span.way % span.panel.length / span.length
        if 1e-9 < fraction < 1 - 1e-9:
            found.append(fraction)
    return found


def _shared(a: _Span, b: _Span, marks: Sequence[tuple[float, float]] = ()) -> Array:
    """Return the fractions of a seam's points on its two sides, `(n, 2)`.

    Match marks meet first; then corners of both that lie near each other, in between.
    """
    edge = min(a.panel.edge, b.panel.edge)
    mine, theirs = sorted([*a.corners, *_inside(a)]), sorted([*b.corners, *_inside(b)])
    near = NEAR * edge / max(a.length, b.length)
    breaks: list[tuple[float, float]] = [(0.0, 0.0), *marks, (1.0, 1.0)]
    at_a, at_b = [f for f, _ in breaks], [g for _, g in breaks]
    free = list(theirs)
    for f in mine:
        lands = float(np.interp(f, at_a, at_b))
        close = [g for g in free if abs(g - lands) < near]
        g = min(close, key=lambda g, at=lands: abs(g - at)) if close else lands  # type: ignore[misc]
        if close:
            free.remove(g)
        breaks.append((f, g))
    breaks += [(float(np.interp(g, at_b, at_a)), g) for g in free]
    breaks.sort()
    made = [breaks[0]]
    for (f0, g0), (f1, g1) in pairwise(breaks):
        if f1 - f0 < 1e-9 or g1 - g0 < 1e-9:
            continue
        long = max((f1 - f0) * a.length, (g1 - g0) * b.length)
        parts = max(1, math.ceil(long / edge - 1e-6))
        for k in range(1, parts + 1):
            made.append((f0 + (f1 - f0) * k / parts, g0 + (g1 - g0) * k / parts))
    if made[-1] != (1.0, 1.0):
        made[-1] = (1.0, 1.0)
    return np.array(made)


def _open_edges(panels: list[SampledPanel], spans: list[tuple[_Span, _Span]]) -> None:
    """Put points onto the edges that no seam joins."""
    joined: dict[int, set[int]] = {id(p): set() for p in panels}
    for a, b in spans:
        joined[id(a.panel)].update(a.edges)
        joined[id(b.panel)].update(b.edges)
    for panel in panels:
        count = len(panel.corners)
        steps = list(panel.steps)
        ahead = np.roll(panel.corners, -1, 0) - panel.corners
        back = np.roll(ahead, 1, 0)
        turn = np.arctan2(
            back[:, 0] * ahead[:, 1] - back[:, 1] * ahead[:, 0], np.sum(back * ahead, axis=1)
        )
        free = [k for k in range(count) if k not in joined[id(panel)]]
        breaks = list(steps)
        for k in free:
            before, after = k, (k + 1) % count
            if abs(turn[before]) > SHARP or (k - 1) % count not in free:
                breaks.append(float(panel.starts[before]))
            if abs(turn[after]) > SHARP or after not in free:
                breaks.append(float(panel.starts[after]))
        if len(free) == count and not breaks:
            breaks.append(0.0)
        breaks = _unique(breaks, panel.length)
        open_at = np.append(panel.starts, panel.length)
        for k, start in enumerate(breaks):
            stop = breaks[(k + 1) % len(breaks)]
            long = (stop - start) % panel.length or panel.length
            middle = (start + long / 2) % panel.length
            edge = int(np.searchsorted(open_at, middle, side="right")) - 1
            panel.steps.append(start)
            if edge % count in free:
                parts = max(1, math.ceil(long / panel.edge - 1e-6))
                if len(breaks) == 1:
                    parts = max(parts, 6)
                panel.steps += [(start + long * j / parts) % panel.length for j in range(parts)]


def _unique(steps: list[float], length: float) -> list[float]:
    """Return lengths along an outline in order, equal ones once."""
    made: list[float] = []
    for step in sorted(s % length for s in steps):
        if not made or step - made[-1] > 1e-6:
            made.append(step)
    while len(made) > 1 and made[-1] > length - 1e-6:
        made.pop()
    if made and made[0] < 1e-6:
        made[0] = 0.0
    return made


def _fold_ends(
    panel: SampledPanel, line: tuple[tuple[float, float], tuple[float, float]]
) -> list[tuple[float, float]]:
    """Return where a fold's line goes into the panel and out, as lengths along the outline."""
    start, stop = (np.array(p, dtype=float) for p in line)
    if panel.panel.mirrored:
        start[0], stop[0] = -start[0], -stop[0]
    along = stop - start
    side = along[0] * (panel.corners[:, 1] - start[1]) - along[1] * (panel.corners[:, 0] - start[0])
    side[np.abs(side) < 1e-9 * np.linalg.norm(along)] = 0.0
    after = np.roll(side, -1)
    found: list[tuple[float, float]] = []
    lengths = np.append(panel.starts[1:], panel.length) - panel.starts
    for k in range(len(side)):
        if side[k] == 0.0:
            step = float(panel.starts[k])
        elif side[k] * after[k] < 0:
            step = float(panel.starts[k] + lengths[k] * side[k] / (side[k] - after[k]))
        else:
            continue
        place = panel.place(np.array([step]))[0]
        found.append((float(np.dot(place - start, along)), step))
    found.sort()
    polygon = Shape.make(panel.corners).polygon
    ends = []
    for (t0, a), (t1, b) in pairwise(found):
        middle = start + along * (t0 + t1) / 2 / float(np.dot(along, along))
        if t1 - t0 > 1e-9 and polygon.contains(shapely.Point(*middle)):
            ends.append((a, b))
    return ends
