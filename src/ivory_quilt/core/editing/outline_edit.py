"""A piece whose outline is edited as curves: what lies on the outline goes with it.

Spans that no edit touched keep their points to the last bit; edges keep their names wherever they
are, match marks and the ends of lines their place on them.
"""

import math
from collections.abc import Callable, Collection
from functools import lru_cache

import numpy as np
import shapely

from ivory_quilt.core.editing.node_edits import PathEdit
from ivory_quilt.core.editing.symmetry import ALIKE, ON_AXIS, Axis, symmetrised
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_fit import fitted
from ivory_quilt.core.geometry.curve_path import CurvePath, flattened
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Array, Point, Shape, signed_area
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.edges import (
    corner_places,
    edge_letter,
    edges_by_angle,
    edges_of,
    snapped,
)
from ivory_quilt.core.pattern.piece import Edge, Piece, PieceLine
from ivory_quilt.core.record import Struct, replace

ON_OUTLINE = 0.6  # mm: a mark or a line's end this near goes with the outline
STALE = 0.2  # mm that curves may lie off the outline before they are fitted anew
SAME = 0.5  # mm: two corners nearer than that are one

Control = tuple[Point, Point, Point, Point]


def curves_of(piece: Piece) -> tuple[CurvePath, ...]:
    """Return a piece's outline and holes as curves: as drawn last, or fitted where that is gone."""
    known = piece.curves if len(piece.curves) == len(piece.shape.rings) else ()
    return tuple(
        known[k] if known and _slices(known[k], ring) is not None else fitted(ring)
        for k, ring in enumerate(piece.shape.rings)
    )


@lru_cache(maxsize=8)
def _known_spans(shape: Shape, ring: int, path: CurvePath) -> dict[Control, Array] | None:
    """Return `_slices` of a shape's ring; kept, since a hand that drags asks at every move."""
    return _slices(path, shape.rings[ring])


def _slices(path: CurvePath, ring: Array) -> dict[Control, Array] | None:
    """Return the points of a ring along each span of a path; None where it is not its path."""
    places = {(round(x, 4), round(y, 4)): k for k, (x, y) in enumerate(ring.tolist())}
    found = [places.get((round(n.at[0], 4), round(n.at[1], 4)), -1) for n in path.nodes]
    steps = [(b - a) % len(ring) for a, b in zip(found, found[1:] + found[:1], strict=True)]
    if min(found) < 0 or sum(steps) != len(ring):
        return None
    made: dict[Control, Array] = {}
    for k, (start, many) in enumerate(zip(found, steps, strict=True)):
        points = ring[np.arange(start, start + many + 1) % len(ring)]
        control = path.control(k)
        middle = points[len(points) // 2]
        line = Outline(flattened(control)) if len(points) > 2 else None
        if line is not None and line.locate((float(middle[0]), float(middle[1])))[1] > STALE:
            return None
        made[control] = points
    return made


def ring_of(path: CurvePath, known: dict[Control, Array] | None) -> Array:
    """Return a path made straight, (n, 2); spans that are `known` keep their points."""
    spans = []
    for k in range(len(path)):
        control = path.control(k)
        kept = known.get(control) if known else None
        spans.append((flattened(control) if kept is None else kept)[:-1])
    return np.vstack(spans)


def refitted(piece: Piece, within: float) -> Piece:
    """Return a piece drawn with as few nodes as keep its points within a distance, mm.

    Raises:
        InputError: the distance makes no sense, or an outline would cross itself.
    """
    if not 0.01 <= within <= 20:
        raise InputError("within", f"{within:g} mm", "0.01 to 20 mm")
    paths = tuple(fitted(ring, within) for ring in piece.shape.rings)
    shape = Shape.make(paths[0].ring(), [p.ring() for p in paths[1:]])
    if problem := shape_problem(shape):
        raise InputError(f"piece '{piece.name}'", problem, "a smaller distance")
    kept = replace(piece, edges=edges_of(piece))
    made = replace(kept, shape=shape, curves=paths, recipe=None)
    return snapped(made, kept, 4 * within + 0.1)


def without_holes(piece: Piece, rings: Collection[int]) -> Piece:
    """Return a piece without some of its holes, numbered from 1."""
    kept = [k for k in range(len(piece.shape.rings)) if k not in rings or k == 0]
    curves = curves_of(piece)
    shape = Shape.make(piece.shape.outer, [piece.shape.rings[k] for k in kept[1:]])
    return replace(piece, shape=shape, curves=tuple(curves[k] for k in kept), recipe=None)


class OutlineEdit(Struct, frozen=True):
    """An edit of one ring of a piece.

    Attributes:
        ring: 0 for the outline, k for hole k − 1.
        edit: what happened to its path.
        axis: where the other side follows as its mirror image, else None.
        kept: on which side of the axis the hand was, +1 its left or −1.
        whole: the path with both sides; that of `edit` where there is no axis.
        twin: of a hole beside the axis, which ring is its mirror image, and its path then.
    """

    ring: int
    edit: PathEdit
    whole: CurvePath
    axis: Axis | None = None
    kept: float = 1.0
    twin: tuple[int, CurvePath] | None = None

    @property
    def gone(self) -> tuple[Point, ...]:
        """Where nodes were taken out, on both sides."""
        if self.axis is None:
            return self.edit.gone
        return (*self.edit.gone, *(self.axis.reflected(p) for p in self.edit.gone))

    def carried(self, point: Point) -> Point:
        """Return where a place on the old outline is on the new one."""
        axis = self.axis
        other = axis is not None and axis.side(point) * self.kept < -1e-6
        if axis is not None and other:
            point = axis.reflected(point)
        at, _ = self.edit.before.locate(point)
        made = self.edit.after.place(self.edit.carried(at))
        return axis.reflected(made) if axis is not None and other else made

    def node_now(self, k: int) -> int | None:
        """Return which node of the whole path node `k` of the old one is; None where it is gone."""
        if self.axis is None and not self.edit.was:
            return k
        at = self.carried(self.edit.before.node(k).at)
        away = [math.dist(n.at, at) for n in self.whole.nodes]
        near = int(np.argmin(away))
        return near if away[near] <= 2 * ON_AXIS else None


def on_both_sides(piece: Piece, ring: int, edit: PathEdit, axis: Axis, hand: Point) -> OutlineEdit:
    """Return an edit of one side of a centre line as an edit of both.

    Args:
        piece: whose outline or hole it is.
        ring: which one.
        edit: what the hand did.
        axis: the centre line.
        hand: a place of the outline on the side that the hand works at.

    Raises:
        InputError: the outline does not cross the line just twice, or a hole beside it has no twin.
    """
    kept = 1.0 if axis.side(hand) >= 0 else -1.0
    away = axis.sides(edit.before.ring())
    if ring == 0 or away.min() * away.max() < 0:
        return OutlineEdit(ring, edit, symmetrised(edit.after, axis, kept), axis, kept)
    image = Shape.make(axis.mirror_image(piece.shape.rings[ring]))
    for k, other in enumerate(piece.shape.rings):
        if k not in (0, ring) and same_place(image, Shape.make(other)):
            path = edit.after.moved_by(axis.mirror_image).turned_round()
            return OutlineEdit(ring, edit, edit.after, axis, kept, (k, path))
    raise InputError("hole", "there is none like it on the other side", "a hole with its twin")


def same_place(a: Shape, b: Shape) -> bool:
    """Return whether two outlines lie in one place and are alike."""
    if any(abs(p - q) > ALIKE for p, q in zip(a.bounds, b.bounds, strict=True)):
        return False
    return bool(a.polygon.boundary.hausdorff_distance(b.polygon.boundary) <= 2 * ALIKE)


def edited_shape(piece: Piece, change: OutlineEdit) -> Shape:
    """Return the shape that an edit gives; it may cross itself (`shape_problem`).

    Raises:
        InputError: the outline would be turned inside out.
    """
    rings = list(piece.shape.rings)
    old = rings[change.ring]
    known = _known_spans(piece.shape, change.ring, change.edit.before)
    axis = change.axis
    if known is not None and axis is not None:  # both sides to the last bit alike
        known = dict(known)
        for (a, b, c, d), points in tuple(known.items()):
            image = axis.reflected(d), axis.reflected(c), axis.reflected(b), axis.reflected(a)
            known[image] = axis.mirror_image(points)[::-1]
    fresh = ring_of(change.whole, known)
    if signed_area(fresh) * signed_area(old) <= 0:
        raise InputError(f"piece '{piece.name}'", "it would be turned inside out", "a smaller move")
    rings[change.ring] = fresh
    if change.twin is not None and axis is not None:
        rings[change.twin[0]] = axis.mirror_image(fresh)[::-1]
    return Shape.make(rings[0], rings[1:])


def edited_outline(piece: Piece, change: OutlineEdit) -> Piece:
    """Return a piece with its outline edited.

    Raises:
        InputError: the outline would cross itself or a hole, or be turned inside out.
    """
    shape = edited_shape(piece, change)
    if problem := shape_problem(shape):
        raise InputError(f"piece '{piece.name}'", problem, "an outline that crosses nothing")
    curves = list(curves_of(piece))
    curves[change.ring] = change.whole
    if change.twin is not None:
        curves[change.twin[0]] = change.twin[1]
    made = replace(piece, shape=shape, curves=tuple(curves), recipe=None)
    if change.ring:
        return made
    was = Outline(piece.shape.outer)

    def follow(point: Point) -> Point:
        return change.carried(point) if was.locate(point)[1] <= ON_OUTLINE else point

    marks = tuple(follow(m) for m in piece.match_marks)
    lines = tuple(_with_ends(line, follow) for line in piece.lines)
    made = replace(made, match_marks=marks, lines=lines)
    return _with_edges(made, piece, change)


def _with_ends(line: PieceLine, follow: Callable[[Point], Point]) -> PieceLine:
    ends = [(float(x), float(y)) for x, y in line.points[[0, -1]]]
    moved = [follow(p) for p in ends]
    if moved == ends:
        return line
    points = line.points.copy()
    points[0], points[-1] = moved
    return replace(line, points=points)


def _with_edges(made: Piece, old: Piece, change: OutlineEdit) -> Piece:
    """Return a piece with the edges of `old` where they are now, and one more at each new corner.

    The end of an edge whose node is gone goes too: the two edges become one, named like the first.
    """
    outline, was = Outline(made.shape.outer), edges_of(old)
    gone = change.gone
    ends: list[tuple[float, str]] = []
    for edge in was:
        lost = any(math.dist(edge.start, p) < SAME for p in gone)
        if not lost or len(was) == 1:
            ends.append((outline.locate(change.carried(edge.start))[0], edge.name))
    corners = [e.start for e in edges_by_angle(made.shape)]
    known = [e.start for e in edges_by_angle(old.shape)]
    if _is_round(made.shape):
        corners = []  # an edge ends somewhere, but at no corner
    if not ends or (corners and len(was) == 1 and _is_round(old.shape)):
        first = corners.pop(0) if corners else change.carried(was[0].start)
        ends = [(outline.locate(first)[0], was[0].name)]
    taken = {name for _, name in ends}
    fresh: dict[str, str] = {}
    places = [outline.place(at) for at, _ in ends]
    stood = [change.carried(p) for p in known] if not _is_round(old.shape) else []
    for corner in corners:
        near = min(math.dist(corner, p) for p in places)
        if near > SAME and all(math.dist(corner, p) > SAME for p in stood):
            at = outline.locate(corner)[0]
            cut = max((e for e in ends if e[0] <= at), default=max(ends))[1]
            name = next(n for n in map(edge_letter, range(len(taken) + 1)) if n not in taken)
            taken.add(name)
            fresh[name] = cut
            ends.append((at, name))
            places.append(corner)
    ends.sort()
    edges = tuple(
        Edge(name, outline.place(at), outline.place(nxt))
        for (at, name), (nxt, _) in zip(ends, ends[1:] + ends[:1], strict=True)
    )
    names = [e.name for e in edges]
    first_name = next((e.name for e in was if e.name in names), names[0])
    k = names.index(first_name)
    edges = edges[k:] + edges[:k]
    build = made.build
    for name, of in fresh.items():  # both halves go on with what was decided about the whole
        build = build.with_profile(name, build.profile(of))
    return replace(made, edges=edges, build=build)


def _is_round(shape: Shape) -> bool:
    """Whether an outline has no corner."""
    return not len(corner_places(Outline(shape.outer)))


def lost_and_found(before: Piece, after: Piece) -> str:
    """Return what an edit did to a piece's edges and to what lies on it, in a sentence or two.

    Empty where everything went with the outline.
    """
    was, now = [e.name for e in edges_of(before)], [e.name for e in edges_of(after)]
    told = []
    gone: dict[str, list[str]] = {}
    for k, name in enumerate(was):
        if name not in now:
            kept = next((n for n in [*was[:k][::-1], *was[k:][::-1]] if n in now), now[0])
            gone.setdefault(kept, []).append(name)
    for kept, names in gone.items():
        word = f"Edge {names[0]} is" if len(names) == 1 else f"Edges {', '.join(names)} are"
        told.append(f"{word} gone, {kept} runs on over {'it' if len(names) == 1 else 'them'}.")
    fresh = [n for n in now if n not in was]
    if fresh:
        word = "A new corner begins edge" if len(fresh) == 1 else "New corners begin edges"
        told.append(f"{word} {', '.join(fresh)}.")
    outside = _outside(after) - _outside(before)
    if outside:
        told.append(f"Outside the foam now: {', '.join(sorted(outside))}.")
    return " ".join(told)


def _outside(piece: Piece) -> set[str]:
    """Return what is drawn outside the foam, in words."""
    foam = piece.shape.polygon.buffer(ON_OUTLINE)
    shapely.prepare(foam)
    found = {f"the text “{k.text}”" for k in piece.labels if not shapely.intersects_xy(foam, *k.at)}
    for k, line in enumerate(piece.lines):
        if not bool(shapely.covers(foam, shapely.linestrings(line.points))):
            found.add(f"{line.kind.value} line {k + 1}")
    return found
