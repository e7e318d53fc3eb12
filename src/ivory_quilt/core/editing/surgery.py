"""Pieces cut open along a line: parted in two, a strip let in, a dart cut or closed.

A line is given by two points; it counts as if it ran on to both sides of the piece. What is drawn
on the piece is cut and moved with it.
"""

import math
from collections.abc import Callable

import numpy as np
from shapely import LineString, MultiPolygon, Polygon
from shapely import Point as ShapelyPoint
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Array, Point, Shape, polygons_of, simplified
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.edges import edge_at, edge_letter, edges_of, snapped
from ivory_quilt.core.pattern.piece import Edge, Label, Piece, PieceLine
from ivory_quilt.core.record import Struct, replace

LEAST_PART = 25.0  # mm²: a part smaller than this is no piece (our choice)
SHORTEST = 0.5  # mm: an edge's rest beside the line that is shorter is none (our choice)
HAIR = 1e-4  # mm


class CutLine(Struct, frozen=True):
    """A straight line across a piece, from `a` to `b`; its left side is the positive one."""

    a: Point
    b: Point

    def __post_init__(self) -> None:
        if math.hypot(self.b[0] - self.a[0], self.b[1] - self.a[1]) < 1.0:
            raise InputError("line", "its two ends lie on one place", "two places 1 mm apart")

    @property
    def direction(self) -> Array:
        """Unit vector along the line, (2,)."""
        d = np.subtract(self.b, self.a)
        return np.asarray(d / np.hypot(*d))

    @property
    def normal(self) -> Array:
        """Unit vector to its left, (2,)."""
        x, y = self.direction
        return np.array([-y, x])

    def side(self, points: Array) -> Array:
        """Return signed distances (n,) of points (n, 2), positive to the left."""
        return np.asarray((points - np.asarray(self.a)) @ self.normal)

    def half(self, sign: float, reach: float = 1e5) -> Polygon:
        """Return the half plane to one side, as far as `reach`, mm."""
        a, d, n = np.asarray(self.a), self.direction * reach, self.normal * reach * sign
        return Polygon([a - d, a + d, a + d + n, a - d + n])


def parted(piece: Piece, line: CutLine, second_id: str) -> tuple[Piece, Piece, Edge, Edge]:
    """Part a piece along a line into two that are glued together again.

    The part to the left keeps the piece's id; the other gets `second_id`. Edges that the line does
    not cross keep their names.

    Returns:
        (left part, right part, the cut's edge on the left part, the same on the right).

    Raises:
        InputError: the line does not part the piece in just two.
    """
    left, right = _half(piece, line, 1.0), _half(piece, line, -1.0)
    made = []
    for half, ident, number in ((left, piece.id, 1), (right, second_id, 2)):
        shape = Shape.from_polygon(half)
        names = {e.name for e in edges_of(piece)}
        fresh = next(n for n in _letters() if n not in names)
        part = replace(
            piece,
            id=ident,
            name=f"{piece.name} {number}",
            shape=shape,
            lines=_lines_in(piece.lines, half),
            match_marks=tuple(m for m in piece.match_marks if _in(half, m)),
            labels=tuple(k for k in piece.labels if _in(half, k.at)),
            edges=(),
            recipe=None,
        )
        edges, cut = _edges_of_part(piece, shape, line, fresh)
        made.append((replace(part, edges=edges), cut))
    (one, cut_one), (other, cut_other) = made
    return one, other, cut_one, cut_other


def _half(piece: Piece, line: CutLine, sign: float) -> Polygon:
    half = piece.shape.polygon.intersection(line.half(sign))
    found = [p for p in polygons_of(half) if p.area >= LEAST_PART]
    if len(found) != 1:
        problem = "does not cross it" if not found else "parts it in more than two"
        raise InputError(f"piece '{piece.name}'", f"the line {problem}", "a line across it")
    return found[0]


def _letters() -> list[str]:
    return [f"cut{k}" if k > 1 else "cut" for k in range(1, 40)]


def _edges_of_part(
    piece: Piece, shape: Shape, line: CutLine, fresh: str
) -> tuple[tuple[Edge, ...], Edge]:
    """Return a part's edges, with the cut among them, and the cut itself."""
    outline = Outline(shape.outer)
    on = np.abs(line.side(shape.outer)) < 1e-3
    # The cut runs from the last of the points on the line to the first after the gap between
    # neighbours that both lie on it; a straight cut through a simple outline has one such run.
    runs = [k for k in range(len(on)) if on[k] and on[(k + 1) % len(on)]]
    longest = max(
        runs, key=lambda k: float(np.hypot(*(shape.outer[(k + 1) % len(on)] - shape.outer[k])))
    )
    a, b = shape.outer[longest], shape.outer[(longest + 1) % len(on)]
    start, stop = (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))
    corners = {outline.locate(stop)[0]: "", outline.locate(start)[0]: fresh}
    for edge in edges_of(piece):
        at, away = outline.locate(edge.start)
        near = min(min(abs(at - k), outline.length - abs(at - k)) for k in corners)
        if away < 0.01 and near > SHORTEST:
            corners[at] = edge.name
    # The stretch after the cut belongs to the edge that the line crossed there.
    after = outline.locate(stop)[0]
    corners[after] = _name_there(piece, outline, after, set(corners.values()))
    order = sorted(corners)
    edges = tuple(
        Edge(corners[s], outline.place(s), outline.place(e))
        for s, e in zip(order, order[1:] + order[:1], strict=True)
    )
    return edges, next(e for e in edges if e.name == fresh)


def _name_there(piece: Piece, outline: Outline, at: float, taken: set[str]) -> str:
    name = edge_at(piece, outline.place(at + 0.5))[0].name
    if name not in taken:
        return name
    return next(n for n in map(edge_letter, range(60)) if n not in taken)


def with_strip(piece: Piece, line: CutLine, width: float) -> Piece:
    """Part a piece along a line and let a band in between: everything to the left moves away.

    Lines and outlines that cross the cut run straight through the band.

    Raises:
        InputError: the width is not above 0, or the line does not cross the piece.
    """
    if not 0 < width <= 2000:
        raise InputError("strip", f"{width:g} mm", "a width above 0")
    away = line.normal * width
    side = line.side(piece.shape.outer)
    if side.max() < HAIR or side.min() > -HAIR:
        raise InputError(f"piece '{piece.name}'", "the line does not cross it", "a line across it")

    def moved(points: Array) -> Array:
        return np.asarray(points + (line.side(points) > 0)[:, None] * away)

    shape = Shape.make(
        moved(_with_crossings(piece.shape.outer, line, closed=True)),
        [moved(_with_crossings(h, line, closed=True)) for h in piece.shape.holes],
    )
    return _grown(piece, shape, moved, line)


def _grown(piece: Piece, shape: Shape, moved: Callable[[Array], Array], line: CutLine) -> Piece:
    if problem := shape_problem(shape):
        raise InputError(f"piece '{piece.name}'", problem, "another line")
    lines = tuple(
        replace(k, points=moved(_with_crossings(k.points, line, closed=False))) for k in piece.lines
    )
    point = _point_mover(moved)
    edges = tuple(Edge(e.name, point(e.start), point(e.stop)) for e in piece.edges)
    labels = tuple(Label(k.text, point(k.at)) for k in piece.labels)
    marks = tuple(point(m) for m in piece.match_marks)
    made = replace(
        piece, shape=shape, lines=lines, labels=labels, match_marks=marks, edges=edges, recipe=None
    )
    return snapped(made, piece)


def _point_mover(moved: Callable[[Array], Array]) -> Callable[[Point], Point]:
    def point(p: Point) -> Point:
        x, y = moved(np.array([p]))[0].tolist()
        return (x, y)

    return point


def _with_crossings(points: Array, line: CutLine, *, closed: bool) -> Array:
    """Return points with two more wherever they cross the line: a hair before it and after.

    A point on the line counts to the side that the outline comes from, and once more to the side
    that it goes to, where that is another.
    """
    side = line.side(points)
    sign = np.where(np.abs(side) < HAIR, 0.0, np.sign(side))
    n = len(points)
    hair = line.normal * HAIR
    made: list[Array] = []
    for k in range(n):
        if sign[k] == 0:
            on = points[k] - side[k] * line.normal
            came, goes = (
                _next_sign(sign, k, -1, closed=closed),
                _next_sign(sign, k, 1, closed=closed),
            )
            made.append(on + hair * came)
            if goes != came:
                made.append(on + hair * goes)
            continue
        made.append(points[k])
        j = (k + 1) % n
        if (closed or k < n - 1) and sign[k] * sign[j] < 0:
            at = points[k] + (points[j] - points[k]) * side[k] / (side[k] - side[j])
            made += [at + hair * sign[k], at - hair * sign[k]]
    return np.array(made)


def _next_sign(sign: Array, k: int, step: int, *, closed: bool) -> float:
    """Return the first sign that is not 0 from a point on; 1 when there is none."""
    n = len(sign)
    for away in range(1, n):
        j = k + step * away
        if not closed and not 0 <= j < n:
            break
        if sign[j % n] != 0:
            return float(sign[j % n])
    return 1.0


def with_dart(piece: Piece, mouth: Point, apex: Point, width: float) -> tuple[Piece, Edge, Edge]:
    """Cut a dart: a V from the edge, `width` wide at the mouth, down to the apex.

    Returns:
        (the piece, and the two legs of the dart, which are glued together).

    Raises:
        InputError: the mouth is not on the outline, the apex not inside, or the V leaves it.
    """
    outline = Outline(piece.shape.outer)
    at, away = outline.locate(mouth)
    if away > 5.0 or not piece.shape.polygon.contains(ShapelyPoint(apex)):
        raise InputError(
            f"piece '{piece.name}'",
            "a dart runs from the edge inwards",
            "its mouth on the outline, its tip inside",
        )
    if not 0.2 <= width <= outline.length / 4:
        raise InputError("dart", f"{width:g} mm", "a width that the edge has room for")
    one, other = outline.place(at - width / 2), outline.place(at + width / 2)
    # A little past the outline, so that nothing is left standing in the mouth.
    beyond = [(p[0] + 0.5 * (p[0] - apex[0]), p[1] + 0.5 * (p[1] - apex[1])) for p in (one, other)]
    wedge = Polygon([apex, *beyond])
    rest = [p for p in polygons_of(piece.shape.polygon.difference(wedge)) if p.area >= LEAST_PART]
    if len(rest) != 1:
        raise InputError(f"piece '{piece.name}'", "the dart cuts it in two", "a shorter dart")
    shape = Shape.from_polygon(rest[0])
    lines = _lines_in(piece.lines, rest[0])
    marks = tuple(m for m in piece.match_marks if not wedge.contains(ShapelyPoint(m)))
    fresh = Outline(shape.outer)
    a, b, tip = (fresh.locate(p)[0] for p in (one, other, apex))
    kept = [(fresh.locate(e.start), e.name) for e in edges_of(piece)]
    taken = {name for _, name in kept}
    number = next(k for k in range(1, 60) if f"dart {k}a" not in taken)
    corners = {s: name for (s, off), name in kept if off < 0.05}
    corners |= {a: f"dart {number}a", tip: f"dart {number}b"}
    corners.setdefault(b, _name_there(piece, fresh, b, set(corners.values())))
    order = sorted(corners)
    edges = tuple(
        Edge(corners[s], fresh.place(s), fresh.place(e))
        for s, e in zip(order, order[1:] + order[:1], strict=True)
    )
    made = replace(piece, shape=shape, lines=lines, match_marks=marks, edges=edges, recipe=None)
    legs = {e.name: e for e in edges}
    return made, legs[f"dart {number}a"], legs[f"dart {number}b"]


def taken_in(piece: Piece, mouth: Point, hinge: Point, width: float) -> Piece:
    """Take `width` out at one edge: a wedge is folded away about a hinge on the far side.

    Everything left of the way from the mouth to the hinge turns about the hinge until the wedge is
    closed; the piece stays one, its far edge keeps its length.

    Raises:
        InputError: mouth or hinge is not on the outline, or the halves would overlap.
    """
    outline = Outline(piece.shape.outer)
    (at, away), (end, off) = outline.locate(mouth), outline.locate(hinge)
    if max(away, off) > 5.0:
        raise InputError(
            f"piece '{piece.name}'",
            "the line does not run from edge to edge",
            "both ends on the outline",
        )
    pivot = np.array(outline.place(end))
    one, other = outline.place(at - width / 2), outline.place(at + width / 2)
    ways = [np.subtract(p, pivot) for p in (one, other)]
    angle = math.atan2(
        ways[0][0] * ways[1][1] - ways[0][1] * ways[1][0], float(np.dot(ways[0], ways[1]))
    )
    if not 0.2 <= width <= outline.length / 4 or abs(angle) > math.radians(60):
        raise InputError("take in", f"{width:g} mm", "a width that the edge has room for")
    # Walking the outline counter-clockwise, the foam before the mouth lies left of mouth to hinge.
    still = CutLine(other, outline.place(end))
    swing = CutLine(one, outline.place(end))
    turn = _turn(pivot, angle)
    left = piece.shape.polygon.intersection(swing.half(1.0))
    right = piece.shape.polygon.intersection(still.half(-1.0))
    swung = _map_polygon(left, turn)
    whole = swung.buffer(0.01, join_style="mitre").union(right.buffer(0.01, join_style="mitre"))
    closed = whole.buffer(-0.01, join_style="mitre")
    found = [p for p in polygons_of(closed) if p.area >= LEAST_PART]
    expected = left.area + right.area
    if len(found) != 1 or abs(found[0].area - expected) > 0.02 * expected:
        raise InputError(f"piece '{piece.name}'", "its halves do not close", "another line")
    shape = Shape.from_polygon(simplified(found[0], 0.003))

    def moved(points: Array) -> Array:
        out = swing.side(points) > 0
        return np.asarray(np.where(out[:, None], turn(points), points))

    lines = [replace(k, points=turn(k.points)) for k in _lines_in(piece.lines, left)]
    lines += _lines_in(piece.lines, right)
    point = _point_mover(moved)
    made = replace(
        piece,
        shape=shape,
        lines=tuple(lines),
        match_marks=tuple(point(m) for m in piece.match_marks),
        labels=tuple(Label(k.text, point(k.at)) for k in piece.labels),
        edges=tuple(Edge(e.name, point(e.start), point(e.stop)) for e in piece.edges),
        recipe=None,
    )
    return snapped(made, piece)


def _turn(pivot: Array, angle: float) -> Callable[[Array], Array]:
    cos, sin = math.cos(angle), math.sin(angle)
    matrix = np.array([[cos, sin], [-sin, cos]])

    def turn(points: Array) -> Array:
        return np.asarray((points - pivot) @ matrix + pivot)

    return turn


def _map_polygon(geometry: BaseGeometry, move: Callable[[Array], Array]) -> MultiPolygon:
    return MultiPolygon(
        [
            Polygon(
                move(np.asarray(p.exterior.coords)),
                [move(np.asarray(h.coords)) for h in p.interiors],
            )
            for p in polygons_of(geometry)
        ]
    )


def _lines_in(lines: tuple[PieceLine, ...], half: BaseGeometry) -> tuple[PieceLine, ...]:
    """Return what of some lines lies in a region."""
    room = half.buffer(0.005)
    made = []
    for line in lines:
        inside = LineString(line.points).intersection(room)
        for part in getattr(inside, "geoms", [inside]):
            if isinstance(part, LineString) and part.length > 0.5:
                made.append(replace(line, points=np.asarray(part.coords)[:, :2]))
    return tuple(made)


def _in(half: Polygon, point: Point) -> bool:
    return bool(half.distance(ShapelyPoint(point)) < 0.05)
