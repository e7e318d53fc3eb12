"""Cloth as it is cut: smaller for its stretch, with allowances, notches, darts, on the fold."""

import math

import numpy as np
from shapely import LineString, Polygon, union_all

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.shaping import ALL_AROUND, AxisFrame, Change
from ivory_quilt.core.geometry.allowance import largest_filled, with_allowance
from ivory_quilt.core.geometry.outline import Outline, along_line, line_length
from ivory_quilt.core.geometry.shape import Array, Shape, polygons_of
from ivory_quilt.core.pattern.edges import edge_line, edges_of
from ivory_quilt.core.pattern.piece import Edge, LineKind, Piece, PieceLine, Turn
from ivory_quilt.core.pattern.sewing import EdgeFinish, Sewing, SewnDart
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import replace

COMMON = "common practice, no source"
STRAIGHT = 0.3  # mm that an edge on the fold may stray from a straight line


def sewn(piece: Piece, sewing: Sewing) -> tuple[Piece, tuple[Change, ...]]:
    """Return a piece of cloth as it is cut, with its stitches drawn on it, and what was done.

    The pattern's outline is the line of stitches. In this order: smaller for its stretch, notches
    and darts, allowances, unfolded. A straight hem's flap is the cloth beside it mirrored, so that
    it lies on that once it is turned up; a curved one's is as wide everywhere.

    Raises:
        InputError: an edge on the fold that is not straight, or a dart longer than the cloth.
    """
    changes: list[Change] = []
    if sewing.along or sewing.across:
        piece, changes = _smaller(piece, sewing)
    edges = edges_of(piece)
    drawn = list(_darts(piece, sewing))
    ring, widths = _stretches(piece, edges, sewing)
    hems = [e for e in edges if _turns_up(piece, e, sewing)]
    flat_hems = {e.name for e in hems}
    bare = np.concatenate(
        [np.full(len(edge_line(piece, e)) - 1, float(e.name not in flat_hems)) for e in edges]
    )
    cut = with_allowance(ring, widths * bare)
    flaps = [_flap(cut, edge_line(piece, e), sewing.outside(e.name)) for e in hems]
    if flaps:
        cut = largest_filled(union_all([cut, *flaps], grid_size=1e-6))
    closed = np.vstack((ring, ring[:1]))
    drawn.append(PieceLine(LineKind.MARK, closed))
    drawn += _notches(piece, ring, widths)
    shape = Shape.from_polygon(
        Polygon(cut.exterior, [Polygon(h).exterior for h in piece.shape.holes])
    )
    made = replace(
        piece,
        shape=shape,
        lines=(*piece.lines, *drawn),
        match_marks=(),
        edges=edges,
    )
    for edge in edges:
        if sewing.at(edge.name).finish is EdgeFinish.FOLD:
            made = _unfolded(made, edge_line(piece, edge), edge.name)
    changes.append(_told(piece, sewing, edges))
    # What is joined is the line of stitches: the cut's own edges are of no use to anyone.
    return replace(made, edges=()), tuple(changes)


def _smaller(piece: Piece, sewing: Sewing) -> tuple[Piece, list[Change]]:
    """Return a piece that comes out as large as the pattern once it is stretched."""
    direction = 0.0
    grain = next((k for k in piece.lines if k.kind is LineKind.GRAIN), None)
    if piece.turn is Turn.DIRECTION and grain is not None:
        way = grain.points[-1] - grain.points[0]
        direction = math.degrees(math.atan2(way[1], way[0]))
    frame = AxisFrame(piece.shape.centroid, direction)
    factors = np.array([1 / (1 + sewing.across / 100), 1 / (1 + sewing.along / 100)])
    made = piece.moved_by(lambda points: frame.out_of(frame.into(points) * factors))
    local = frame.into(piece.shape.outer)
    extent = np.ptp(local, axis=0).tolist()
    changes = []
    for word, percent, size in (
        ("along the grain", sewing.along, extent[1]),
        ("across the grain", sewing.across, extent[0]),
    ):
        if percent:
            cut = size / (1 + percent / 100)
            said = f"{size:.1f} ÷ (1 + {percent:g} ÷ 100)"
            reckoned = Reckoning(
                "stretch",
                {"size": size, "percent": percent},
                {"cut": cut},
                (Step(f"cut {word}", said, cut, "mm"),),
                "a cloth stretched by p percent is 1 + p/100 as long",
            )
            changes.append(Change(f"stretched by {percent:g} % {word}", cut - size, reckoned))
    return made, changes


def _stretches(piece: Piece, edges: tuple[Edge, ...], sewing: Sewing) -> tuple[Array, Array]:
    """Return the outline with a point wherever an edge ends, and each stretch's allowance."""
    rings, widths = [], []
    for edge in edges:
        line = edge_line(piece, edge)
        rings.append(line[:-1])
        widths.append(np.full(len(line) - 1, sewing.outside(edge.name)))
    return np.vstack(rings), np.concatenate(widths)


def _turns_up(piece: Piece, edge: Edge, sewing: Sewing) -> bool:
    """Whether an edge is a hem that is straight, so that its flap can lie on the cloth."""
    made = sewing.at(edge.name)
    if made.finish is not EdgeFinish.HEM or not made.width:
        return False
    line = edge_line(piece, edge)
    _, _, left = _frame(line)
    return bool(np.abs((line - line[0]) @ left).max() <= STRAIGHT)


def _frame(line: Array) -> tuple[Array, Array, Array]:
    """Return an edge's start, its direction, and the way into the cloth."""
    start, stop = line[0], line[-1]
    along = (stop - start) / max(float(np.hypot(*(stop - start))), 1e-9)
    # Outlines run counter-clockwise: the cloth lies at the left of its edges.
    return start, along, np.array([-along[1], along[0]])


def _flap(cut: Polygon, line: Array, width: float) -> Polygon:
    """Return a hem's flap: the cloth beside the fold, mirrored, so that it covers just that.

    Allowances of the edges beside it are folded up with it.
    """
    start, along, left = _frame(line)
    far = 4 * (cut.length + width)
    a, b = start - far * along, start + far * along
    strip = Polygon([a, b, b + width * left, a + width * left])
    beside = cut.intersection(strip)
    middle = LineString(line).buffer(1e-3)
    near = max(polygons_of(beside), key=lambda g: float(g.intersection(middle).area))
    return Polygon(_mirrored(np.asarray(near.exterior.coords)[:, :2], start, left))


def _mirrored(points: Array, start: Array, left: Array) -> Array:
    return np.asarray(points - 2 * ((points - start) @ left)[:, None] * left)


def _notches(piece: Piece, ring: Array, widths: Array) -> list[PieceLine]:
    """Return a tick from each match mark out to the edge of the cloth."""
    outline, made = Outline(ring), []
    starts = outline.vertices_at
    for mark in piece.match_marks:
        at, _ = outline.locate(mark)
        wide = float(widths[max(0, int(np.searchsorted(starts, at, side="right")) - 1)])
        if wide:
            before, after = outline.places(np.array([at - 0.5, at + 0.5]))
            along = (after - before) / max(float(np.hypot(*(after - before))), 1e-9)
            here = np.asarray(outline.place(at))
            out = here + wide * np.array([along[1], -along[0]])
            made.append(PieceLine(LineKind.MARK, np.array([here, out])))
    return made


def _darts(piece: Piece, sewing: Sewing) -> list[PieceLine]:
    """Return both legs of every dart whose edge is there.

    Raises:
        InputError: its point lies off the cloth, or it is wider than its edge.
    """
    known = {e.name: e for e in edges_of(piece)}
    made = []
    for dart in sewing.darts:
        if dart.edge in known:
            made.append(PieceLine(LineKind.MARK, _legs(piece, known[dart.edge], dart)))
    return made


def _legs(piece: Piece, edge: Edge, dart: SewnDart) -> Array:
    where = f"piece '{piece.name}', dart at edge {dart.edge}"
    line = edge_line(piece, edge)
    length = line_length(line)
    low, high = dart.at * length - dart.width / 2, dart.at * length + dart.width / 2
    if low < 0 or high > length:
        raise InputError(where, f"{dart.width:g} mm wide", f"room on an edge of {length:.0f} mm")
    left, right = along_line(line, np.array([low, high]))
    way = right - left
    inward = np.array([-way[1], way[0]]) / max(float(np.hypot(*way)), 1e-9)
    point = (left + right) / 2 + dart.depth * inward
    if not piece.shape.polygon.covers(Polygon([left, right, point]).buffer(-0.1)):
        raise InputError(where, f"{dart.depth:g} mm deep: it leaves the cloth", "a shallower dart")
    return np.array([left, point, right])


def _unfolded(piece: Piece, line: Array, name: str) -> Piece:
    """Return a piece and its mirror image about an edge as one; what is across the fold is cut.

    Raises:
        InputError: the edge is not straight, or the cloth lies on both sides of it.
    """
    start, along, left = _frame(line)
    where = f"piece '{piece.name}', edge {name} on the fold"
    if np.abs((line - start) @ left).max() > STRAIGHT:
        raise InputError(where, "it is not straight", "a straight edge")
    far = 4 * (piece.shape.width + piece.shape.height)
    a, b = start - far * along, start + far * along
    half_plane = Polygon([a, b, b + far * left, a + far * left])

    def reflect(points: Array) -> Array:
        return _mirrored(points, start, left)

    kept = piece.shape.polygon.intersection(half_plane)
    if not isinstance(kept, Polygon) or kept.is_empty:
        raise InputError(where, "it would fall apart", "cloth on one side of the fold")
    other = Polygon(reflect(np.asarray(kept.exterior.coords)[:, :2]))
    whole = kept.buffer(1e-6, join_style="mitre").union(other.buffer(1e-6, join_style="mitre"))
    if not isinstance(whole, Polygon):
        raise InputError(where, "its halves do not join", "a straight edge")
    lines = [*piece.lines, *(replace(k, points=reflect(k.points)) for k in piece.lines)]
    lines.append(PieceLine(LineKind.CENTRE, np.array([line[0], line[-1]])))
    holes = [*piece.shape.holes, *(reflect(h) for h in piece.shape.holes)]
    shape = Shape.make(np.asarray(whole.exterior.coords)[:-1, :2], holes)
    return replace(piece, shape=shape, lines=tuple(lines))


def _told(piece: Piece, sewing: Sewing, edges: tuple[Edge, ...]) -> Change:
    steps = []
    for edge in edges:
        made = sewing.at(edge.name)
        width = sewing.outside(edge.name)
        steps.append(Step(f"edge {edge.name}, {made.finish.value}", "outside it", width, "mm"))
        if taken := sewing.taken_by_darts(edge.name):
            length = line_length(edge_line(piece, edge))
            said = f"{length:.1f} − {taken:g} of darts"
            steps.append(Step(f"edge {edge.name} sews to", said, length - taken, "mm"))
    reckoned = Reckoning(
        "seam allowance",
        {"allowance": sewing.allowance},
        {"allowance": sewing.allowance},
        tuple(steps),
        COMMON,
        ("Cut on the outer line, stitch on the inner one.",),
    )
    return Change("for seams and hems", sewing.allowance, reckoned, ALL_AROUND)


def sewing_metres(piece: Piece) -> float:
    """Return how much is stitched on one piece by itself, m: hems and darts."""
    sewing = piece.build.sewing
    if sewing is None:
        return 0.0
    known = {e.name: e for e in edges_of(piece)}
    hems = sum(
        line_length(edge_line(piece, known[e.edge]))
        for e in sewing.edges
        if e.edge in known and e.finish is EdgeFinish.HEM
    )
    darts = sum(math.hypot(d.width / 2, d.depth) for d in sewing.darts if d.edge in known)
    return (hems + darts) / 1000
