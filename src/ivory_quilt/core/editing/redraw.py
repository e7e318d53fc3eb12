"""A stretch of an outline drawn anew by a free stroke of the hand."""

import math
from itertools import pairwise

import numpy as np
import shapely
from shapely import LinearRing, LineString
from shapely import Point as ShapelyPoint

from ivory_quilt.core.editing.node_edits import PathEdit, inserted_node, tangents
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_fit import CORNER, end_tangent, fit_line
from ivory_quilt.core.geometry.curve_path import CurveNode, CurvePath
from ivory_quilt.core.geometry.outline import along_line, corners_along, line_length
from ivory_quilt.core.geometry.shape import Array, Point, as_point, signed_area

GOES_ON = math.radians(25.0)  # a stroke that leaves the outline by less goes on smoothly
SAMPLES = 40
SHARP = math.radians(50.0)  # a stroke that turns by more within its wobble has a corner there


def redrawn(path: CurvePath, stroke: Array, wobble: float, reach: float) -> PathEdit:
    """Return an outline with the stretch beside a stroke drawn as the stroke runs.

    The stroke begins and ends at the outline, or crosses it: what lies before the first and after
    the last crossing does not count. The stretch of the outline between that it runs nearer to
    goes. A stroke that comes back to where it began draws the whole outline anew.

    Args:
        path: the outline.
        stroke: points of the hand, (m, 2), mm.
        wobble: how far curves may be off the hand's points, mm: more makes fewer nodes.
        reach: how far from the outline a stroke may begin and end, mm.

    Raises:
        InputError: it is too short, or begins or ends elsewhere.
    """
    stroke = _plain(_trimmed(path, stroke, reach), wobble)
    long = line_length(stroke)
    if long < 2 * max(wobble, 0.5):
        raise InputError("stroke", "it is too short", "a stroke along the outline")
    if math.dist(stroke[0], stroke[-1]) <= reach and long > 4 * reach:
        return _whole(path, stroke, wobble)
    a, away_a = path.locate(as_point(stroke[0]))
    b, away_b = path.locate(as_point(stroke[-1]))
    for word, away in (("begins", away_a), ("ends", away_b)):
        if away > reach:
            raise InputError(
                "stroke", f"it {word} {away:.0f} mm off the outline", "both ends at the outline"
            )
    if _nearer_backwards(path, a, b, stroke):
        a, b, stroke = b, a, stroke[::-1]
    return _between(path, a, b, stroke, wobble, reach)


def _trimmed(path: CurvePath, stroke: Array, reach: float) -> Array:
    """Return a stroke from its first crossing of the outline to its last, where its ends are off.

    An end within reach of the outline stays; so does a stroke that crosses it less than twice.
    """
    far = corners_along(stroke)
    off = [path.locate(as_point(stroke[k]))[1] > reach for k in (0, -1)]
    closed = math.dist(stroke[0], stroke[-1]) <= reach
    if not any(off) or closed or far[-1] <= 0:
        return stroke
    line = LineString(stroke)
    met = line.intersection(LinearRing(path.ring()))
    points = shapely.get_coordinates(met)
    if not len(points):
        return stroke
    at = sorted(float(line.project(ShapelyPoint(p))) for p in points)
    first, last = at[0] if off[0] else 0.0, at[-1] if off[1] else float(far[-1])
    if last - first <= reach:
        return stroke
    inner = (far > first) & (far < last)
    ends = along_line(stroke, np.array([first, last]))
    return np.vstack((ends[:1], stroke[inner], ends[1:]))


def _plain(stroke: Array, wobble: float) -> Array:
    """Return a stroke without points that say nothing: nearer than half its wobble."""
    kept = [0]
    for k in range(1, len(stroke)):
        if math.dist(stroke[kept[-1]], stroke[k]) >= wobble / 2:
            kept.append(k)
    if kept[-1] != len(stroke) - 1 and len(kept) > 1:
        kept[-1] = len(stroke) - 1
    return np.asarray(stroke[kept], dtype=float)


def _nearer_backwards(path: CurvePath, a: float, b: float, stroke: Array) -> bool:
    """Whether a stroke runs beside the stretch from b on to a, not beside that from a to b."""
    n = len(path)
    at = np.linspace(0.0, 1.0, SAMPLES)
    far = corners_along(stroke)
    mine = along_line(stroke, at * far[-1])
    means = []
    for start, stop, line in ((a, b, mine), (b, a, mine[::-1])):
        span = (stop - start) % n
        there = np.array([path.place(start + s * span) for s in at.tolist()])
        means.append(float(np.hypot(*(there - line).T).mean()))
    return means[1] < means[0]


def _between(
    path: CurvePath, a: float, b: float, stroke: Array, wobble: float, reach: float
) -> PathEdit:
    """Draw the stretch from coordinate `a` on to `b` anew."""
    edit = PathEdit(path, path)
    edit, first = _node_at(edit, path.place(a), reach / 2)
    edit, last = _node_at(edit, path.place(b), reach / 2)
    edit, first = _node_at(edit, path.place(a), reach / 2)  # it may count otherwise now
    cut = edit.after
    n = len(cut)
    many = (last - first) % n or n
    start, stop = cut.node(first), cut.node(last)
    points = stroke.copy()
    points[0], points[-1] = start.at, stop.at
    came, goes = tangents(cut, first)[0], tangents(cut, last)[1]
    cubics = _through(points, wobble, came, goes)
    smooth_first, smooth_last = _alike(_leaves(cubics), came), _alike(_comes(cubics), goes)
    nodes = [CurveNode(start.at, start.before, cubics[0][1], smooth_first)]
    nodes += _inner(cubics)
    rest = [cut.node(last + j) for j in range(n - many + 1)]
    tail = CurveNode(stop.at, cubics[-1][2], stop.after, smooth_last)
    if many == n:  # the stroke goes all around from one node back to it
        nodes[0] = CurveNode(start.at, cubics[-1][2], cubics[0][1], smooth=False)
        made = CurvePath(tuple(nodes))
    else:
        made = CurvePath((*nodes, tail, *rest[1:-1]))
    gone = tuple(cut.node(first + j).at for j in range(1, many))
    was: tuple[float, ...] = (float(first), float(first + many), float(first + n))
    now: tuple[float, ...] = (0.0, float(len(cubics)), float(len(made)))
    if many == n:
        was, now = was[::2], now[::2]
    return edit.then(PathEdit(cut, made, was, now, gone))


def _node_at(edit: PathEdit, place: Point, reach: float) -> tuple[PathEdit, int]:
    """Return an edit after which there is a node at a place, and which; one near by serves."""
    path = edit.after
    away = [math.dist(n.at, place) for n in path.nodes]
    k = int(np.argmin(away))
    if away[k] <= max(reach, 1e-3):
        return edit, k
    made, k = inserted_node(path, path.locate(place)[0])
    return edit.then(made), k


def _through(points: Array, wobble: float, came: Point, goes: Point) -> list[tuple[Point, ...]]:
    """Return cubics along a stroke, smooth but where it has a corner."""
    corners = [0, *_corners(points, wobble), len(points) - 1]
    cubics: list[tuple[Point, ...]] = []
    for one, two in pairwise(corners):
        run = points[one : two + 1]
        start = _way(run, wobble)
        back = _way(run[::-1], wobble)
        stop = (-back[0], -back[1])
        if one == 0 and _turn(came, start) < GOES_ON:
            start = came
        if two == len(points) - 1 and _turn(stop, goes) < GOES_ON:
            stop = goes
        cubics += fit_line(run, start, stop, wobble)
    return cubics


def _corners(points: Array, wobble: float) -> list[int]:
    """Return which points of a stroke are corners, looked at over a few times its wobble."""
    far = corners_along(points)
    reach = 4 * wobble
    found: list[int] = []
    inner = np.flatnonzero((far > reach) & (far < far[-1] - reach))
    before = along_line(points, far[inner] - reach)
    after = along_line(points, far[inner] + reach)
    one, two = points[inner] - before, after - points[inner]
    turn = np.abs(np.arctan2(one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0], (one * two).sum(1)))
    for j in np.argsort(-turn, kind="stable").tolist():
        if turn[j] < SHARP:
            break
        k = int(inner[j])
        if all(abs(far[k] - far[other]) > 2 * reach for other in found):
            found.append(k)
    return sorted(found)


def _way(points: Array, wobble: float) -> Point:
    """Return the direction of a stroke at its first point, over a few times its wobble."""
    far = corners_along(points)
    many = max(2, int(np.searchsorted(far, 6 * wobble)))
    return end_tangent(points[:many])


def _turn(one: Point, two: Point) -> float:
    return abs(math.atan2(one[0] * two[1] - one[1] * two[0], one[0] * two[0] + one[1] * two[1]))


def _alike(one: Point, two: Point) -> bool:
    return _turn(one, two) < 1e-6


def _leaves(cubics: list[tuple[Point, ...]]) -> Point:
    a, b = cubics[0][0], cubics[0][1]
    return end_tangent(np.array([a, b if b != a else cubics[0][3]]))


def _comes(cubics: list[tuple[Point, ...]]) -> Point:
    c, d = cubics[-1][2], cubics[-1][3]
    return end_tangent(np.array([c if c != d else cubics[-1][0], d]))


def _inner(cubics: list[tuple[Point, ...]]) -> list[CurveNode]:
    """Return the nodes between cubics that follow each other."""
    made = []
    for one, two in pairwise(cubics):
        smooth = _alike(_comes([one]), _leaves([two]))
        made.append(CurveNode(one[3], one[2], two[1], smooth))
    return made


def _whole(path: CurvePath, stroke: Array, wobble: float) -> PathEdit:
    """Draw the whole outline anew; places keep their share of the way around."""
    closed = np.vstack((stroke[:-1], stroke[:1])) if len(stroke) > 3 else stroke
    if signed_area(closed[:-1]) * signed_area(path.ring()) < 0:
        closed = closed[::-1]
    start, back = _way(closed, wobble), _way(closed[::-1], wobble)
    stop = (-back[0], -back[1])
    smooth = _turn(stop, start) < CORNER
    if smooth:
        start = stop = end_tangent(np.array([closed[-2], closed[1]]))
    cubics = _through(closed, wobble, start, stop)
    first = CurveNode(cubics[0][0], cubics[-1][2], cubics[0][1], smooth)
    made = CurvePath((first, *_inner(cubics)))
    at = path.locate(cubics[0][0])[0]
    n = len(path)
    gone = tuple(node.at for node in path.nodes)
    return PathEdit(path, made, (at, at + n), (0.0, float(len(made))), gone)
