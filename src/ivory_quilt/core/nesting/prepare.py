"""Pieces and sheets made ready for the kernels: grown outlines, inscribed circles, regions.

The gap is kept by growing every piece by half of it and shrinking sheets by the margin less half
of it. Grown and simplified outlines always contain the true ones, so what the kernels find free
really is free.
"""

import math
from decimal import Decimal
from functools import cached_property, lru_cache

import numpy as np
import shapely
import shapely.affinity
from shapely import Polygon

from ivory_quilt.core.geometry.shape import Array, Shape, cos_sin, polygons_of, signed_area
from ivory_quilt.core.nesting.job import PieceSpec, RollSpec, SheetSpec
from ivory_quilt.core.nesting.kernels.distance import fill_circles, lies_along
from ivory_quilt.core.nesting.sizes import box_sizes
from ivory_quilt.core.record import Struct

MOST_CIRCLES = 16
CIRCLE_CELLS = 36  # of the grid that they are looked for on, along the longer side
SIMPLE_ENOUGH = 32  # vertices; outlines up to this are kept exactly when there is no gap
CORNERS_ENOUGH = 48  # of a grown outline, its round corners included
TOUCH = 0.002  # mm that parts are taken smaller all round: two that just touch do not overlap, and
# what rounding loses stays well within the 0.01 mm that are agreed
HAIR = 0.05  # mm
SMALLER = (0.7, 0.5, 0.25)  # of half the gap: a square corner allows 1/√2, a sharper one less
ROUND_SEGMENTS = 4  # chords per quarter circle in grown corners


class Prepared(Struct, frozen=True, dict=True):
    """A piece for the kernels, about its own centre.

    Attributes:
        edges: (e, 4); grown: the same as a polygon.
        centre: where the centre lies in the piece's coordinates.
        turns: (t, 2) cos and sin of the angles to try.
        orientations: (o, 3) cos, sin and flip, without those that look alike.
    """

    spec: PieceSpec
    edges: Array
    grown: Polygon
    centre: tuple[float, float]
    grown_area: float
    size: float
    turns: Array
    orientations: Array

    @cached_property
    def box_sizes(self) -> Array:
        """Width and height in every orientation, (o, 2); of a free piece, in many directions."""
        rotations = self.spec.rotations
        angles = rotations if rotations is not None else tuple(map(float, range(180)))
        if self.spec.mirror:  # flipped and turned, a shape is as large as turned back
            angles = (*angles, *(-a for a in angles))
        return box_sizes(self.edges[:, :2], angles)


class Region(Struct, frozen=True):
    """One sheet or roll as a place for grown pieces: their boxes stay within `rect`.

    `frame` holds what is not foam inside and around `rect`, as connected polygons (irregular
    sheets only); `flaws` what parts that show must not cover.
    """

    stock: SheetSpec | RollSpec
    copy: int
    rect: tuple[float, float, float, float]
    frame: tuple[Polygon, ...]
    area: float
    flaws: tuple[Polygon, ...] = ()

    @property
    def cost(self) -> Decimal:
        """Cost of taking it; a roll costs by length, so nothing yet."""
        return self.stock.cost if isinstance(self.stock, SheetSpec) else Decimal(0)

    @property
    def is_roll(self) -> bool:
        """Whether the length is open."""
        return isinstance(self.stock, RollSpec)


def ring_edges(points: Array) -> Array:
    """Return a closed ring (n, 2) as edges (n, 4)."""
    return np.hstack((points, np.roll(points, -1, axis=0)))


def polygon_edges(polygon: Polygon) -> Array:
    """Return all rings of a shapely polygon as edges."""
    rings = (polygon.exterior, *polygon.interiors)
    return np.vstack([ring_edges(np.asarray(r.coords)[:-1, :2]) for r in rings])


@lru_cache(maxsize=1024)
def grow(shape: Shape, gap: float) -> Polygon:
    """Return a simple polygon that contains `shape` grown by half the gap (round corners).

    All but a hair: see `TOUCH`. Kept, for a maker lays the same pieces again and again.
    """
    polygon = shape.polygon
    size = math.hypot(shape.width, shape.height)
    vertices = sum(len(r) for r in shape.rings)
    reach = gap / 2 - TOUCH
    if vertices <= SIMPLE_ENOUGH:
        exact = _offset(polygon, reach) if gap else _shrunk(polygon, TOUCH)
        if len(exact.exterior.coords) <= CORNERS_ENOUGH:
            return exact
    # The many chords of round corners and curves are worth a little foam.
    slack = min(0.15, 0.001 * size) if vertices > SIMPLE_ENOUGH else 0.03
    grown = _offset(polygon, reach + slack)
    needed = polygon.buffer(reach)
    for share in (0.9, 0.6, 0.3):
        simple = grown.simplify(share * slack, preserve_topology=True)
        if isinstance(simple, Polygon) and simple.is_valid and simple.covers(needed):
            return simple
    return grown


def _shrunk(polygon: Polygon, by: float) -> Polygon:
    """Return a polygon with every edge moved inwards by `by`, and no corner by much more.

    The tip of a spike would move far, and the sheet's edge would no longer hold it.
    """
    polygon = shapely.geometry.polygon.orient(polygon)  # foam on the left of every edge
    rings = [
        _inset(np.asarray(r.coords)[:-1, :2], by) for r in (polygon.exterior, *polygon.interiors)
    ]
    smaller = Polygon(rings[0], rings[1:])
    return smaller if smaller.is_valid and not smaller.is_empty else polygon


def _inset(ring: Array, by: float) -> Array:
    along = np.roll(ring, -1, axis=0) - ring
    along /= np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-12)[:, None]
    inwards = np.column_stack((-along[:, 1], along[:, 0]))
    before = np.roll(inwards, 1, axis=0)
    step = (inwards + before) * by
    step /= np.maximum(1.0 + (inwards * before).sum(axis=1), 1e-9)[:, None]
    length = np.hypot(step[:, 0], step[:, 1])
    most = by * math.sqrt(2)
    step *= np.minimum(1.0, most / np.maximum(length, 1e-12))[:, None]
    return np.asarray(ring + step)


def _offset(polygon: Polygon, reach: float) -> Polygon:
    """Return a polygon that contains `polygon` grown by `reach`, exact along straight edges.

    Mitred edges are exact and corners too long; a round offset with a radius that makes up for its
    chords is exact nowhere and never short. Both contain the true offset, and so does what they
    share. The library may stretch a chord to one and a half times its nominal angle.
    """
    half_step = 0.75 * math.pi / (2 * ROUND_SEGMENTS)
    mitred = polygon.buffer(reach, join_style="mitre", mitre_limit=1000.0)
    rounded = polygon.buffer(reach / math.cos(half_step), quad_segs=ROUND_SEGMENTS)
    shared = mitred.intersection(rounded)
    return shared if isinstance(shared, Polygon) and shared.is_valid else rounded


def inscribed_circles(polygon: Polygon, most: int = MOST_CIRCLES) -> Array:
    """Return up to `most` circles (x, y, r) inside `polygon` that fill it well, largest first."""
    edges = polygon_edges(polygon)
    circles = np.empty((most, 3))
    made = fill_circles(edges, CIRCLE_CELLS, circles)
    if made == 0:  # thinner than the grid
        p = polygon.representative_point()
        return np.array([[p.x, p.y, float(polygon.boundary.distance(p))]])
    return circles[:made]


def prepare_piece(spec: PieceSpec, gap: float, smallest_hole: float = 0.0) -> Prepared:
    """Grow, simplify and centre one piece.

    Holes under `smallest_hole` mm² are filled: nothing that is to be laid fits into them.
    """
    grown = grow(_without_small_holes(spec.shape, smallest_hole), gap)
    x0, y0, x1, y1 = grown.bounds
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    edges = polygon_edges(grown) - np.array([cx, cy, cx, cy])
    angles = spec.rotations if spec.rotations is not None else free_angles(grown)
    turns = np.array([cos_sin(a) for a in angles])
    size = float(np.hypot(edges[:, 0], edges[:, 1]).max())
    return Prepared(
        spec,
        np.ascontiguousarray(edges),
        shapely.affinity.translate(grown, -cx, -cy),
        (cx, cy),
        float(grown.area),
        size,
        turns,
        different_orientations(edges, turns, mirror=spec.mirror, within=0.01 * size),
    )


def different_orientations(edges: Array, turns: Array, *, mirror: bool, within: float) -> Array:
    """Return (cos, sin, flip) rows whose placed outlines differ by more than `within`.

    A symmetrical piece looks the same in several orientations; trying it once is enough.
    """
    kept: list[tuple[float, float, float]] = []
    seen: list[Array] = []
    for flip in (1.0, -1.0) if mirror else (1.0,):
        for c, s in turns:
            x, y = edges.reshape(-1, 2).T
            turned = np.column_stack((c * x * flip - s * y, s * x * flip + c * y)).reshape(-1, 4)
            if any(_look_alike(turned, other, within) for other in seen):
                continue
            seen.append(turned)
            kept.append((float(c), float(s), flip))
    return np.array(kept)


def _look_alike(a: Array, b: Array, within: float) -> bool:
    """Compare outlines, not vertex with vertex: a disc's corners fall elsewhere when turned."""
    if np.abs(a.max(axis=0) - b.max(axis=0)).max() > within:
        return False
    return bool(lies_along(a, b, within) and lies_along(b, a, within))


def _without_small_holes(shape: Shape, smallest: float) -> Shape:
    kept = tuple(h for h in shape.holes if abs(signed_area(h)) >= smallest)
    return shape if len(kept) == len(shape.holes) else Shape(shape.outer, kept)


def free_angles(polygon: Polygon) -> tuple[float, ...]:
    """Return angles worth trying first for a freely turning piece.

    Quarter turns, and those that lay the narrowest enclosing rectangle along the sheet.
    """
    box = shapely.get_coordinates(polygon.minimum_rotated_rectangle)
    dx, dy = box[1] - box[0]
    lean = -math.degrees(math.atan2(dy, dx)) % 90.0
    quarters = (0.0, 90.0, 180.0, 270.0)
    if min(lean, 90.0 - lean) < 0.5:
        return (*quarters, 45.0, 135.0, 225.0, 315.0)
    return (*quarters, *(lean + q for q in quarters))


def _smaller_flaw(flaw: Polygon, grown: float) -> list[Polygon]:
    """Return what parts grown by `grown` must keep off, so that the parts keep off the flaw.

    They need not keep the gap from it: it is taken smaller, by as much as leaves no place of it
    further than `grown` from what is left (corners and thin scratches would be lost otherwise).
    """
    if flaw.buffer(-HAIR).is_empty:
        # A scratch thinner than a hair would slip through between the engine's edges.
        flaw = flaw.buffer(HAIR)
    for share in SMALLER if grown else ():
        inner = flaw.buffer(-share * grown, join_style="mitre")
        if not inner.is_empty and inner.buffer(grown, quad_segs=32).covers(flaw):
            return polygons_of(inner)
    return [flaw]


def prepare_region(stock: SheetSpec | RollSpec, gap: float) -> Region | None:
    """Return where grown pieces may lie on a sheet or roll, or None when nothing is left of it."""
    shape = stock.shape
    defects = stock.defects if isinstance(stock, SheetSpec) else ()
    x0, y0, x1, y1 = shape.bounds
    # A flaw drawn far beyond the sheet: what is beyond matters to nobody, and costs precision.
    near = shapely.box(x0 - gap - 1, y0 - gap - 1, x1 + gap + 1, y1 + gap + 1)
    marked = [f for d in defects for f in polygons_of(d.polygon.intersection(near))]
    flaws = tuple(f for m in marked for f in _smaller_flaw(m, gap / 2))
    box_area = shape.width * shape.height
    if not shape.holes and abs(shape.area - box_area) <= 1e-9 * box_area:
        inset = stock.margin - gap / 2
        rect = (x0 + inset, y0 + inset, x1 - inset, y1 - inset)
        if rect[0] >= rect[2] or rect[1] >= rect[3]:
            return None
        area = (rect[2] - rect[0]) * (rect[3] - rect[1])
        return Region(stock, 0, rect, (), area, flaws)
    inset = max(stock.margin, gap / 2) - gap / 2
    room = shape.polygon.buffer(-inset, quad_segs=40) if inset else shape.polygon
    if room.is_empty:
        return None
    rect = room.bounds
    pad = 0.25 * max(rect[2] - rect[0], rect[3] - rect[1])
    outside = shapely.box(rect[0] - pad, rect[1] - pad, rect[2] + pad, rect[3] + pad)
    rest = outside.difference(room)
    frame = tuple(polygons_of(rest))
    return Region(stock, 0, rect, frame, float(room.area), flaws)
