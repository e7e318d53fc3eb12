"""A flat shape: one outline and its holes, in millimetres, y upwards.

Outlines are kept as straight-line rings. Whoever reads curves flattens them first (`curves`), to a
stated tolerance, so that every room after that works on the same exact polygon.
"""

import hashlib
import math
from collections.abc import Callable, Iterable, Sequence
from functools import cached_property, lru_cache, wraps
from typing import Concatenate, ParamSpec, TypeVar, cast

import numpy as np
import numpy.typing as npt
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

Array = npt.NDArray[np.float64]
Point = tuple[float, float]
P = ParamSpec("P")
R = TypeVar("R")
PROBLEM = "_problem"
"""Under which a shape remembers what is wrong with it, or that nothing is (`validity`)."""


def ring(points: Iterable[Sequence[float]], *, where: str = "outline") -> Array:
    """Make a closed ring: an (n, 2) read-only array, not repeated at its end, n ≥ 3.

    Neighbouring points that coincide are merged.

    Raises:
        InputError: fewer than three different points, or a coordinate that is not finite.
    """
    try:
        listed = points if isinstance(points, np.ndarray) else [tuple(p) for p in points]
        array = np.array(listed, dtype=np.float64)
    except (TypeError, ValueError):
        raise InputError(where, "it is not a list of points", "[[x, y], ...]") from None
    if array.ndim != 2 or array.shape[1:] != (2,):
        raise InputError(where, "it is not a list of points", "at least three [x, y]")
    if not np.abs(array).max(initial=0.0) <= 1e9:  # no number is neither
        raise InputError(where, "a coordinate is not a usable number", "finite millimetres")
    if len(array):
        keep = np.empty(len(array), dtype=bool)
        keep[0] = bool((array[0] != array[-1]).any())
        np.any(array[1:] != array[:-1], axis=1, out=keep[1:])
        if not keep.all():
            array = np.ascontiguousarray(array[keep])
    if len(array) < 3:
        raise InputError(where, "it has fewer than three different points", "three or more")
    array.setflags(write=False)
    return array


def signed_area(points: Array) -> float:
    """Return the ring's area in mm², positive when it runs counter-clockwise (shoelace)."""
    # Shifted to the first point, so that far-away coordinates do not cancel; with it at the
    # origin, the edges at both ends of the list add nothing.
    x, y = (points - points[0]).T
    return 0.5 * float(np.dot(x[:-1], y[1:]) - np.dot(y[:-1], x[1:]))


def ring_length(points: Array) -> float:
    """Return the length around a closed ring, in mm."""
    step = np.roll(points, -1, axis=0) - points
    return float(np.hypot(step[:, 0], step[:, 1]).sum())


class Pose(Struct, frozen=True):
    """Where a shape lies: mirrored first (x → −x), then turned, then moved.

    `rotation` is in degrees, counter-clockwise, about the shape's own origin.
    """

    x: float
    y: float
    rotation: float = 0.0
    mirrored: bool = False

    @property
    def matrix(self) -> tuple[float, float, float, float]:
        """The linear part (a, b, c, d) of x' = a·x + b·y, y' = c·x + d·y."""
        cos, sin = cos_sin(self.rotation)
        flip = -1.0 if self.mirrored else 1.0
        return (cos * flip, -sin, sin * flip, cos)

    def apply(self, points: Array) -> Array:
        """Return `points` (n, 2) where this pose puts them."""
        a, b, c, d = self.matrix
        x, y = points[:, 0], points[:, 1]
        made = np.empty((len(points), 2))
        made[:, 0] = a * x + b * y + self.x
        made[:, 1] = c * x + d * y + self.y
        return made

    def unapply(self, point: Point) -> Point:
        """Return the shape's own coordinates of a placed point."""
        a, b, c, d = self.matrix
        dx, dy = point[0] - self.x, point[1] - self.y
        det = a * d - b * c
        return ((d * dx - b * dy) / det, (a * dy - c * dx) / det)


def cos_sin(degrees: float) -> tuple[float, float]:
    """Return (cos, sin) of an angle in degrees, exact at quarter turns."""
    quarter, rest = divmod(degrees, 90.0)
    if rest == 0.0:
        return ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[int(quarter) % 4]
    angle = math.radians(degrees)
    return math.cos(angle), math.sin(angle)


class Shape(Struct, frozen=True, eq=False, dict=True):
    """An outline and its holes; immutable, compared by its points.

    Attributes:
        outer: ring of shape (n, 2), counter-clockwise.
        holes: rings, each clockwise, inside `outer`.
    """

    outer: Array
    holes: tuple[Array, ...] = ()

    @classmethod
    def make(
        cls,
        outer: Iterable[Sequence[float]],
        holes: Iterable[Iterable[Sequence[float]]] = (),
        *,
        where: str = "outline",
    ) -> "Shape":
        """Make a shape from point lists of either orientation.

        Raises:
            InputError: a ring is degenerate; crossing rings are `problem`'s business.
        """
        outside = _oriented(ring(outer, where=where), 1.0)
        inside = [
            _oriented(ring(h, where=f"{where}, hole {i + 1}"), -1.0) for i, h in enumerate(holes)
        ]
        return cls(outside, tuple(inside))

    @classmethod
    def from_polygon(cls, polygon: Polygon) -> "Shape":
        """Make a shape from a shapely polygon."""
        return cls.make(
            np.asarray(polygon.exterior.coords)[:-1, :2],
            [np.asarray(i.coords)[:-1, :2] for i in polygon.interiors],
        )

    @classmethod
    def from_ring_bytes(cls, *rings: bytes) -> "Shape":
        """Return the shape of such `ring_bytes`; its arrays, being over bytes, are read-only."""
        outer, *holes = [np.frombuffer(r).reshape(-1, 2) for r in rings]
        return cls(outer, tuple(holes))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Shape) and self.ring_bytes == other.ring_bytes

    def __ne__(self, other: object) -> bool:  # a Struct has its own, which knows no `__eq__`
        return not self == other

    def __hash__(self) -> int:
        return hash(self.ring_bytes)

    def __reduce__(self) -> tuple[Callable[..., "Shape"], tuple[bytes, ...]]:
        # Other processes get the points alone: what is worked out of them is worked out there.
        return Shape.from_ring_bytes, self.ring_bytes

    @cached_property
    def ring_bytes(self) -> tuple[bytes, ...]:
        """The points of its rings: what it is compared by and goes to other processes as."""
        return tuple(r.tobytes() for r in self.rings)

    @cached_property
    def found(self) -> dict[object, object]:
        """What was worked out of it (`once_a_shape`): kept as long as the shape is."""
        return {}

    @cached_property
    def content_key(self) -> bytes:
        """Sixteen bytes that tell its points from all others', the same in every process."""
        digest = hashlib.blake2b(digest_size=16)
        for points in self.ring_bytes:
            digest.update(len(points).to_bytes(8, "little"))
            digest.update(points)
        return digest.digest()

    @property
    def rings(self) -> tuple[Array, ...]:
        """The outline, then the holes."""
        return (self.outer, *self.holes)

    @cached_property
    def polygon(self) -> Polygon:
        """The same shape for the general geometry library."""
        return Polygon(self.outer, self.holes)

    @cached_property
    def area(self) -> float:
        """Area of the outline less its holes, mm²."""
        return sum(signed_area(r) for r in self.rings)

    @cached_property
    def outline_length(self) -> float:
        """Length of the outer outline, mm."""
        return ring_length(self.outer)

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """(x0, y0, x1, y1)."""
        low, high = self.outer.min(axis=0), self.outer.max(axis=0)
        return float(low[0]), float(low[1]), float(high[0]), float(high[1])

    @property
    def width(self) -> float:
        """Extent along x, mm."""
        return self.bounds[2] - self.bounds[0]

    @property
    def height(self) -> float:
        """Extent along y, mm."""
        return self.bounds[3] - self.bounds[1]

    @cached_property
    def centroid(self) -> Point:
        """Centre of area."""
        c = self.polygon.centroid
        return (float(c.x), float(c.y))

    @cached_property
    def label_point(self) -> Point:
        """A point well inside the foam, where a label can stand."""
        p = self.polygon.representative_point()
        c = self.polygon.centroid
        return self.centroid if self.polygon.contains(c) else (float(p.x), float(p.y))

    @cached_property
    def edges(self) -> Array:
        """All edges of all rings, (n, 4): x1, y1, x2, y2."""
        return np.vstack([np.hstack((r, np.concatenate((r[1:], r[:1])))) for r in self.rings])

    def placed(self, pose: Pose) -> "Shape":
        """Return the shape as `pose` puts it (orientation of the rings kept)."""
        return self.drawn_at([pose.apply(r) for r in self.rings])

    def drawn_at(self, rings: Sequence[Array]) -> "Shape":
        """Return the shape moved, turned, mirrored or scaled: `rings` are where its points went.

        Such a map keeps simple rings simple and turns all of them round or none, so that one is
        looked at; but for what comes out too small or too large, which is checked as at first.
        """
        area = signed_area(rings[0])
        if not 1e-3 <= abs(area) <= 1e12:
            return Shape.make(rings[0], rings[1:])
        turned = [_reversed(r) if area < 0 else r for r in rings]
        for points in turned:
            points.setflags(write=False)
        made = Shape(turned[0], tuple(turned[1:]))
        if self.__dict__.get(PROBLEM) == "":
            made.__dict__[PROBLEM] = ""
        return made

    def mirrored(self) -> "Shape":
        """Return the other hand: x → −x."""
        return self.placed(Pose(0.0, 0.0, 0.0, mirrored=True))

    def scaled(self, factor: float) -> "Shape":
        """Return the shape scaled about the origin; areas grow by factor².

        Raises:
            InputError: the factor is not above zero.
        """
        if not 0.0 < factor < 1e6:
            raise InputError("scale", f"{factor} is not a usable factor", "a number above 0")
        return Shape.make(self.outer * factor, [h * factor for h in self.holes])

    def stretched(self, across: float, up: float) -> "Shape":
        """Return the shape scaled about the origin by two factors, each above zero."""
        by = np.array([across, up])
        return Shape.make(self.outer * by, [h * by for h in self.holes])


def once_a_shape(
    work: Callable[Concatenate[Shape, P], R],
) -> Callable[Concatenate[Shape, P], R]:
    """Return `work` done once for each shape and other arguments.

    Unlike a cache of so many calls it forgets nothing of what is there, and keeps nothing alive.
    """

    @wraps(work)
    def once(shape: Shape, /, *args: P.args, **kwargs: P.kwargs) -> R:
        key = (work, args, *kwargs.items())
        if key not in shape.found:
            shape.found[key] = work(shape, *args, **kwargs)
        return cast(R, shape.found[key])

    return once


def shapes_of(rings: Sequence[Array]) -> list[Shape]:
    """Return shapes without holes of rings that `ring` made; for many, quicker than one by one."""
    if not rings:
        return []
    each = np.repeat(np.arange(len(rings)), [len(r) for r in rings])
    outlines = np.asarray(shapely.linearrings(np.concatenate(rings), indices=each), dtype=object)
    turns = np.asarray(shapely.is_ccw(outlines)).tolist()
    polygons = np.asarray(shapely.polygons(outlines), dtype=object).tolist()
    shapes = []
    for points, left, polygon in zip(rings, turns, polygons, strict=True):
        made = Shape(points if left else _reversed(points))
        made.__dict__["polygon"] = polygon  # as the cached property would keep it
        shapes.append(made)
    return shapes


def as_point(place: Array) -> Point:
    """Return a place (2,) as a point."""
    return float(place[0]), float(place[1])


def simplified(polygon: Polygon, tolerance: float) -> Polygon:
    """Return a polygon with fewer corners, within `tolerance` mm; it never falls apart."""
    plain = polygon.simplify(tolerance)
    assert isinstance(plain, Polygon)
    return plain


def polygons_of(geometry: BaseGeometry) -> list[Polygon]:
    """Return all polygons of a geometry of any kind, however deep; empty ones are left out."""
    if isinstance(geometry, Polygon):
        return [] if geometry.is_empty else [geometry]
    return [p for g in getattr(geometry, "geoms", ()) for p in polygons_of(g)]


def longest_chord(edges: Array) -> tuple[float, float, float]:
    """Return (middle x, y, length) of a long level band of foam, for words to stand on.

    Tried at a few heights; those near the middle are preferred. `edges` is (n, 4), all rings.
    """
    low, high = float(edges[:, 1].min()), float(edges[:, 1].max())
    tall = BAND * (high - low)
    best, place = 0.0, (float(edges[:, 0].min() + edges[:, 0].max()) / 2, (low + high) / 2, 0.0)
    heights = [low + share * (high - low) + 1e-7 for share, _ in LIKED]
    rows = _foam_along(edges, [y + d for y in heights for d in (0.0, -tall, tall)])
    for k, (y, (_, liking)) in enumerate(zip(heights, LIKED, strict=True)):
        for left, right in rows[3 * k]:
            for row in rows[3 * k + 1 : 3 * k + 3]:
                shared = [(max(left, a), min(right, b)) for a, b in row]
                left, right = max(shared, key=lambda c: c[1] - c[0], default=(left, left))
            if (right - left) * liking > best:
                best = (right - left) * liking
                place = ((left + right) / 2, y, right - left)
    return place


LIKED = ((0.5, 1.0), (0.4, 0.95), (0.6, 0.95), (0.28, 0.8), (0.72, 0.8))
"""Shares of a shape's height at which words may stand, and how much each is liked."""
BAND = 0.13  # of a shape's height, above and below the line that words stand on


def _foam_along(edges: Array, heights: list[float]) -> list[list[tuple[float, float]]]:
    """Return the stretches of foam that each level line passes, from left to right."""
    y = np.array(heights)[:, None]
    x1, y1, x2, y2 = edges.T
    line, edge = np.nonzero((y1 > y) != (y2 > y))
    reach = (y[line, 0] - y1[edge]) / (y2[edge] - y1[edge])
    xs = (x1[edge] + reach * (x2[edge] - x1[edge])).tolist()
    found: list[list[float]] = [[] for _ in heights]
    for k, x in zip(line.tolist(), xs, strict=True):
        found[k].append(x)
    for row in found:
        row.sort()
    return [list(zip(row[::2], row[1::2], strict=True)) for row in found]


def _oriented(points: Array, sign: float) -> Array:
    if signed_area(points) * sign < 0:
        return _reversed(points)
    points.setflags(write=False)
    return points


def _reversed(points: Array) -> Array:
    points = np.ascontiguousarray(points[::-1])
    points.setflags(write=False)
    return points


@lru_cache(maxsize=256)
def rectangle(width: float, height: float) -> Shape:
    """Return the rectangle from (0, 0) to (width, height); the same object for the same size."""
    return Shape.make([(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)])
