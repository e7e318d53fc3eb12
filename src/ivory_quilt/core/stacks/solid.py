"""The formed piece in space: both faces and the cut edges of every layer, as triangles.

The flat faces are cut up wherever the form bends them, and every corner is put where the form puts
it, so that the solid is as true as the flat parts are.
"""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import numpy.typing as npt
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.forming.bends import Bends
from ivory_quilt.core.forming.flatten import finer, laid_flat
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.forming.shaping import AxisFrame, Place, Shaping
from ivory_quilt.core.geometry.shape import Array, Shape, polygons_of, ring_length
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.region_shapes import region_on
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stacks.cut import Cut, CutContext
from ivory_quilt.core.stacks.layering import cuts_of
from ivory_quilt.core.stacks.placing import on_base

FAR = 1e5
MOST_CELLS = 90  # along one side
WALL_STEP = 6.0  # mm between points of a cut edge on a curved form
SMOOTH = 0.75  # cosine: faces that turn more are not shaded as one
HAIR = 1e-4  # mm²: cells smaller than this are not shown
FOAM = -1  # what of a face is in no region
SPECK = 1e-6  # mm²: triangles that a groove has closed up

Ids = npt.NDArray[np.int32]


class Solid(Struct, frozen=True):
    """Triangles in space, mm, z outwards.

    Attributes:
        corners: (n, 3, 3), three corners each, seen from outside counter-clockwise.
        normals: (n, 3, 3), unit normals at the corners.
        layer: (n,), which layer each belongs to.
        thickness: of each layer, mm.
        outlines: closed lines in space (m, 3), the rims of both faces of each layer.
        toned: of each layer the number of the region that it is, `FOAM` for none; empty: all foam.
    """

    corners: Array
    normals: Array
    layer: Ids
    thickness: tuple[float, ...]
    outlines: tuple[Array, ...]
    toned: tuple[int, ...] = ()

    @property
    def middle(self) -> Array:
        """The middle of its box."""
        if not len(self.corners):
            return np.zeros(3)
        low, high = self.corners.min(axis=(0, 1)), self.corners.max(axis=(0, 1))
        return np.asarray((low + high) / 2)

    @property
    def reach(self) -> float:
        """Half the diagonal of its box, mm."""
        if not len(self.corners):
            return 1.0
        return float(np.linalg.norm(np.ptp(self.corners, axis=(0, 1))) / 2)


def solid_of(piece: Piece, context: CutContext, regions: tuple[FaceRegion, ...] = ()) -> Solid:
    """Return a piece with its layers, and what is glued onto it, in its form.

    Each of the `regions` of its outer face is a layer of its own, the later over the earlier; one
    that is all of it is its cut edges too.

    Raises:
        InputError: the piece cannot be made as decided.
    """
    # Heat takes back what was cut larger for it.
    cool = tuple((m, replace(b, shrink_along=0.0, shrink_across=0.0)) for m, b in context.books)
    context = replace(context, books=cool)
    base = context.base
    shaping = shaping_of(piece if base is None else base)
    faces: list[Array] = []
    smooth: list[Array] = []
    owner: list[Ids] = []
    thickness: list[float] = []
    rims: list[Array] = []
    toned: list[int] = []
    if base is not None:
        # It follows the form of what it is glued onto.
        cuts = [_on(base, piece, shaping, context)]
        own = 1
    else:
        cuts = [c for c in cuts_of(piece, context) if c.place is not None]
        own = len(cuts)
        cuts += [_on(piece, other, shaping, context) for other in context.placed]
    seen = max(cuts[:own], key=_top) if regions else None
    for cut in cuts:
        marked = _marked(cuts[0], cut, regions) if cut is seen else {}
        whole = (k for k, r in enumerate(regions) if r.on is RegionKind.WHOLE)
        around = max(whole, default=FOAM) if cut is seen else FOAM
        made = _layer(cut, shaping, marked, around)
        kinds = np.unique(np.concatenate([numbers for _, _, numbers in made[0]]))
        for shown, even, numbers in made[0]:
            kept = _size(shown) > SPECK
            triangles = shown[kept]
            faces.append(triangles)
            smooth.append(_normals(triangles, even=even))
            place = len(thickness) + np.searchsorted(kinds, numbers[kept])
            owner.append(place.astype(np.int32))
        rims += made[1]
        thickness += [cut.place.thickness if cut.place else 0.0] * len(kinds)
        toned += kinds.tolist()
    return Solid(
        np.concatenate(faces),
        np.concatenate(smooth),
        np.concatenate(owner),
        tuple(thickness),
        tuple(rims),
        tuple(toned),
    )


def _top(cut: Cut) -> float:
    """Return how high a cut's outer face lies over the form."""
    return cut.place.lift + cut.place.thickness if cut.place is not None else 0.0


def _marked(own: Cut, cut: Cut, regions: tuple[FaceRegion, ...]) -> dict[int, BaseGeometry]:
    """Return what each region is of a cut's outer face where no later one lies over it."""
    left: BaseGeometry = cut.outer.polygon
    found: dict[int, BaseGeometry] = {}
    face = replace(own.piece, shape=own.outer)
    for number in range(len(regions) - 1, -1, -1):
        place = region_on(face, regions[number])
        found[number] = place.intersection(left)
        left = left.difference(place)
    found[FOAM] = left
    return found


def _on(base: Piece, piece: Piece, shaping: Shaping, context: CutContext) -> Cut:
    """Return a piece as it lies on a base, flat in the base's coordinates."""
    lift = base.thickness
    height = lift + context.book(piece.material).neutral * piece.thickness
    place = Place(lift, piece.thickness, height)
    flat = laid_flat(on_base(piece, base), shaping, place)
    return Cut("", "", flat, flat.shape, flat.shape, flat.shape, place=place)


def _layer(
    cut: Cut, shaping: Shaping, marked: dict[int, BaseGeometry], around: int
) -> tuple[list[tuple[Array, bool, Ids]], list[Array]]:
    """Return (triangles, whether smooth, their regions' numbers) of a cut, and its rims."""
    place = cut.place
    assert place is not None
    t = place.thickness
    levels = [(cut.inner, 0.0), (cut.outer, t)]
    if cut.waist is not None:
        levels.insert(1, cut.waist)
    beneath = _triangles(cut.inner.polygon, shaping, place)[:, ::-1]
    shown = [
        (_triangles(polygon, shaping, place), number)
        for number, region in (marked or {FOAM: cut.outer.polygon}).items()
        for polygon in polygons_of(region)
        if polygon.area > HAIR
    ]
    above = np.concatenate([flat for flat, _ in shown])
    numbers = np.concatenate([np.full(len(flat), number, np.int32) for flat, number in shown])
    made: list[tuple[Array, bool, Ids]] = [
        (_raised(beneath, 0.0, shaping, place), True, np.full(len(beneath), FOAM, np.int32)),
        (_raised(above, t, shaping, place), True, numbers),
    ]
    rims = []
    for shape, height in levels:
        for ring in shape.rings:
            fine = _fine(ring, shaping, place)
            line = _raised(fine[:, None], height, shaping, place)[:, 0]
            rims.append(np.vstack((line, line[:1])))
    for (low, z0), (high, z1) in pairwise(levels):
        walls = _walls(low, high, z0, z1, shaping, place)
        made.append((walls, False, np.full(len(walls), around, np.int32)))
    return made, rims


def _raised(flat: Array, height: float | Array, shaping: Shaping, place: Place) -> Array:
    """Return corners (n, k, 2) in space, (n, k, 3)."""
    points = flat.reshape(-1, 2)
    heights = np.broadcast_to(np.asarray(height, dtype=np.float64), flat.shape[:2]).reshape(-1)
    return shaping.space(points, heights, place).reshape(*flat.shape[:2], 3)


def _lines(shaping: Shaping, place: Place) -> tuple[tuple[AxisFrame, float], ...]:
    return shaping.laid_cuts(place) if isinstance(shaping, Bends) else ()


def _triangles(polygon: Polygon, shaping: Shaping, place: Place) -> Array:
    """Return the flat face cut up for the form, (n, 3, 2), counter-clockwise."""
    across, along, frame = shaping.step(place)
    parts = np.array([polygon], dtype=object)
    if across or along:
        parts = _gridded(polygon, frame, across, along)
    for line, at in _lines(shaping, place):
        parts = _halved(parts, line, at)
    pieces = _cut_up(parts)
    pieces = pieces[shapely.area(pieces) > HAIR]
    rings = shapely.get_coordinates(shapely.orient_polygons(pieces)).reshape(-1, 4, 2)
    return np.asarray(rings[:, :3])


def _cut_up(parts: npt.NDArray[np.object_]) -> npt.NDArray[np.object_]:
    """Return triangles of polygons; slivers that the library stumbles over are taken singly."""
    try:
        return np.asarray(shapely.get_parts(shapely.constrained_delaunay_triangles(parts)))
    except shapely.errors.GEOSException:
        if len(parts) == 1:
            whole = parts[0]
            tried = shapely.get_parts(shapely.delaunay_triangles(whole))
            inside = [t for t in tried if whole.contains(t.representative_point())]
            return np.array(inside, dtype=object)
        half = len(parts) // 2
        return np.concatenate((_cut_up(parts[:half]), _cut_up(parts[half:])))


def _gridded(
    polygon: Polygon, frame: AxisFrame, across: float, along: float
) -> npt.NDArray[np.object_]:
    local = frame.into(np.asarray(polygon.exterior.coords)[:, :2])
    low, high = local.min(axis=0), local.max(axis=0)
    turned = Polygon(local, [frame.into(np.asarray(i.coords)[:, :2]) for i in polygon.interiors])
    steps = []
    for k, step in enumerate((across, along)):
        n = min(MOST_CELLS, max(1, int(np.ceil((high[k] - low[k]) / step)))) if step else 1
        steps.append(np.linspace(low[k] - 1e-6, high[k] + 1e-6, n + 1))
    x0, y0 = np.meshgrid(steps[0][:-1], steps[1][:-1])
    x1, y1 = np.meshgrid(steps[0][1:], steps[1][1:])
    cells = shapely.box(x0.ravel(), y0.ravel(), x1.ravel(), y1.ravel())
    shapely.prepare(turned)
    cells = cells[shapely.intersects(turned, cells)]
    parts = shapely.intersection(cells, turned)
    parts = _polygons(parts)
    return np.asarray(shapely.transform(parts, frame.out_of))


def _halved(parts: npt.NDArray[np.object_], frame: AxisFrame, at: float) -> npt.NDArray[np.object_]:
    """Cut every part along a line."""
    sides = []
    for low, high in ((-FAR, at), (at, FAR)):
        corners = np.array([[low, -FAR], [high, -FAR], [high, FAR], [low, FAR]])
        sides.append(shapely.intersection(parts, Polygon(frame.out_of(corners))))
    return _polygons(np.concatenate(sides))


def _polygons(parts: npt.NDArray[np.object_]) -> npt.NDArray[np.object_]:
    single = shapely.get_parts(shapely.get_parts(parts))
    keep = (shapely.get_type_id(single) == 3) & (shapely.area(single) > HAIR)
    return np.asarray(single[keep])


def _fine(ring: Array, shaping: Shaping, place: Place) -> Array:
    """Return a ring of a flat face with points wherever the form bends it."""
    across, along, _ = shaping.step(place)
    lines = _lines(shaping, place)
    made = finer(ring, shaping, lines, closed=True) if lines or shaping.longest else ring
    step = min((s for s in (across, along) if s), default=0.0)
    if not step:
        return made
    following = np.roll(made, -1, axis=0)
    n = np.ceil(np.hypot(*(following - made).T) / min(max(step, 1.0), WALL_STEP)).astype(int)
    n = np.maximum(n, 1)
    runs = zip(made, following, n, strict=True)
    return np.vstack([a + (np.arange(k) / k)[:, None] * (b - a) for a, b, k in runs])


def _walls(low: Shape, high: Shape, z0: float, z1: float, shaping: Shaping, place: Place) -> Array:
    """Return the cut edge between two levels, as triangles in space."""
    made = []
    for k, ring in enumerate(high.rings):
        if low is high:
            top = foot = _fine(ring, shaping, place)
        elif k >= len(low.rings):
            continue
        else:
            below = _nearest_ring(ring, low.rings)
            # The longer rim leads, so that its corners are met and those of the other are too.
            if ring_length(ring) >= ring_length(below):
                top = _fine(ring, shaping, place)
                foot = _nearest(top, below)
            else:
                foot = _fine(below, shaping, place)
                top = _nearest(foot, ring)
        a = _raised(foot[:, None], z0, shaping, place)[:, 0]
        b = _raised(top[:, None], z1, shaping, place)[:, 0]
        a2, b2 = np.roll(a, -1, axis=0), np.roll(b, -1, axis=0)
        made.append(np.stack((a, a2, b2), axis=1))
        made.append(np.stack((a, b2, b), axis=1))
    return np.concatenate(made)


def _nearest_ring(points: Array, rings: Sequence[Array]) -> Array:
    probe = shapely.Point(points[0])
    return min(rings, key=lambda r: float(shapely.LinearRing(r).distance(probe)))


def _nearest(points: Array, ring: Array) -> Array:
    """Return for each point the nearest place of a ring."""
    line = shapely.LinearRing(ring)
    at = shapely.line_locate_point(line, shapely.points(points))
    return np.asarray(shapely.get_coordinates(shapely.line_interpolate_point(line, at)))


def _size(corners: Array) -> Array:
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return np.asarray(np.linalg.norm(flat, axis=1))


def _normals(corners: Array, *, even: bool) -> Array:
    """Return unit normals at all corners; those of an even face are shared where it is smooth.

    A corner shares with the triangles that meet there and turn from its own by less than a crease.
    """
    flat = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    length = np.linalg.norm(flat, axis=1)
    unit = flat / np.maximum(length, 1e-12)[:, None]
    if not even:
        return np.repeat(unit[:, None], 3, axis=1)
    keys = np.round(corners.reshape(-1, 3), 3)
    _, which, met = np.unique(keys, axis=0, return_inverse=True, return_counts=True)
    which = which.ravel()
    order = np.argsort(which, kind="stable")
    # Every pair of corners that lie in one place: the first of each, and all it meets.
    counts = met[which[order]]
    starts = np.repeat((np.cumsum(met) - met)[which[order]], counts)
    step = np.arange(len(starts)) - np.repeat(np.cumsum(counts) - counts, counts)
    mine, theirs = np.repeat(order, counts), order[starts + step]
    smooth = (unit[mine // 3] * unit[theirs // 3]).sum(axis=1) > SMOOTH
    total = np.zeros((len(which), 3))
    np.add.at(total, mine[smooth], flat[theirs[smooth] // 3])
    shared = total / np.maximum(np.linalg.norm(total, axis=1), 1e-12)[:, None]
    return np.asarray(shared.reshape(-1, 3, 3))
