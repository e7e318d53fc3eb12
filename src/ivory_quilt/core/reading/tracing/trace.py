"""Ink outlines in a picture become outlines in mm: threshold, contours, the line's middle.

The picture is divided by its own background, so that uneven light does not matter. Contours are
taken at a grey level between ink and paper, to a fraction of a pixel (marching squares, Lorensen
and Cline 1987, by a general contouring library).
"""

import contourpy
import cv2
import numpy as np
from scipy.spatial import cKDTree
from shapely import LinearRing, LineString, Polygon, STRtree
from shapely import Point as ShapelyPoint
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import along_line, line_length
from ivory_quilt.core.geometry.shape import Array, polygons_of, ring_length, signed_area
from ivory_quilt.core.reading.drawn import RawPath
from ivory_quilt.core.reading.tracing.picture import SIMPLIFIED, Ink, Picture
from ivory_quilt.core.reading.tracing.sheet import PictureFrame
from ivory_quilt.core.record import Struct

SPECK = 12.0  # mm²: smaller blots are dirt
THICKEST_PEN = 4.0  # mm
LEAST_CONTRAST = 0.12  # of the paper's brightness, between ink and paper
DEEPEST_SHADE = 0.72  # of the light's fall that the local ground may lie below it
LEAST_INK = 60  # pixels
MOST_CONTOURS = 20_000
SHARP = 0.06  # mm: corners are put right where the two ways to the middle differ by more


class Traced(Struct, frozen=True):
    """What a picture holds.

    Attributes:
        paths: closed outlines, mm, y upwards; holes are outlines inside others.
        specks: how many blots were too small to be anything.
        strokes: middle lines (n, 2), mm, of ink that encloses nothing.
        level: the threshold used, as a share of the paper's brightness.
        pen: the lines' mean width, mm; 0 when only filled shapes were found.
    """

    paths: tuple[RawPath, ...]
    specks: int
    strokes: tuple[Array, ...]
    level: float
    pen: float


def even_light(grey: Picture, mm_per_pixel: float) -> Array:
    """Return the picture as shares of the paper's brightness at each place, ink near 0."""
    step = max(1, round(1.2 / mm_per_pixel))
    small = cv2.resize(
        grey,
        (max(2, grey.shape[1] // step), max(2, grey.shape[0] // step)),
        interpolation=cv2.INTER_AREA,
    )
    # The brightest tone around bridges every line thinner than the window; then smooth.
    around = cv2.dilate(small, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (9, 9)))
    ground = cv2.medianBlur(around, 21 if min(around.shape) > 21 else 3)
    ground = cv2.GaussianBlur(ground.astype(np.float32), (0, 0), 6)
    # Large dark areas are no paper in shade: nowhere is the ground far below the light's own fall.
    ground = np.maximum(ground, DEEPEST_SHADE * _fall_of_light(small))
    ground = cv2.resize(ground, (grey.shape[1], grey.shape[0]), interpolation=cv2.INTER_LINEAR)
    np.maximum(ground, 1.0, out=ground)
    np.divide(grey, ground, out=ground)
    return np.asarray(ground)  # single precision: a large scan would take a gigabyte otherwise


def _fall_of_light(small: cv2.typing.MatLike) -> Array:
    """Return the paper's brightness as a smooth surface of second order, from its bright places."""
    height, width = small.shape
    y, x = np.mgrid[-1 : 1 : height * 1j, -1 : 1 : width * 1j]
    terms = np.column_stack([t.ravel() for t in (x * 0 + 1, x, y, x * x, x * y, y * y)])
    values = small.ravel().astype(np.float64)
    bright = values >= np.percentile(values, 75)
    surface = np.full(len(values), float(values[bright].mean()))
    for _ in range(4):
        fit, *_ = np.linalg.lstsq(terms[bright], values[bright], rcond=None)
        surface = terms @ fit
        bright = values > 0.85 * surface
        if bright.sum() < 100:
            break
    return np.asarray(surface.reshape(small.shape), dtype=np.float32)


def ink_level(even: Array) -> float:
    """Return the level between ink and paper: half-way between their typical tones.

    Ink may cover next to nothing of a sheet, so it is looked for well below the paper's noise.

    Raises:
        InputError: there is no ink to be told from the paper.
    """
    sample = even[::2, ::2]
    counts, edges = np.histogram(sample, bins=150, range=(0.7, 1.3))
    at = int(counts.argmax())
    paper = float(edges[at] + edges[at + 1]) / 2
    near = sample[np.abs(sample - paper) < 0.2]
    spread = 1.4826 * float(np.median(np.abs(near - paper))) if len(near) else 0.0
    dark = even[even < paper - max(LEAST_CONTRAST * paper, 6 * spread)]
    if len(dark) < LEAST_INK:
        raise InputError("picture", "no ink can be told from the paper", "dark lines on paper")
    return (float(np.percentile(dark, 15)) + paper) / 2


def trace(
    grey: Picture, frame: PictureFrame, *, ink: Ink = Ink.MIDDLE, level: float | None = None
) -> Traced:
    """Trace a grey picture.

    Args:
        grey: (h, w), 8 bits.
        frame: how its pixels become mm.
        ink: which side of a drawn line is the outline; of filled shapes it is their edge.
        level: threshold as a share of the paper's brightness; found by itself when not given.

    Raises:
        InputError: no ink is found, or so much texture that it is no drawing.
    """
    even = even_light(grey, frame.mm_per_pixel)
    level = ink_level(even) if level is None else level
    blur = max(0.6, 0.1 / frame.mm_per_pixel)
    even = np.asarray(cv2.GaussianBlur(even, (0, 0), blur))
    even = np.asarray(cv2.copyMakeBorder(even, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=1.0))
    lines = contourpy.contour_generator(z=even).lines(level)
    del even
    if len(lines) > MOST_CONTOURS:
        raise InputError("picture", f"{len(lines)} blots", "dark lines on clean paper")
    rings = []
    specks = 0
    for line in lines:
        if len(line) < 8:
            specks += 1
            continue
        ring = frame.to_mm(np.asarray(line[:-1]) - 1.0)
        if abs(signed_area(ring)) < SPECK:
            specks += 1
        else:
            rings.append(ring)
    return _sorted(rings, ink, specks, level)


def _sorted(rings: list[Array], ink: Ink, specks: int, level: float) -> Traced:
    """Pair the two sides of every drawn line; what has one side only is a filled shape."""
    polygons = [Polygon(r).buffer(0) for r in rings]
    parents = _parents(polygons, rings)
    children: dict[int | None, list[int]] = {}
    for k, parent in enumerate(parents):
        children.setdefault(parent, []).append(k)
    paths: list[RawPath] = []
    strokes: list[Array] = []
    widths: list[float] = []

    def outer(k: int, depth: int) -> None:
        """Handle the outer edge of ink: a drawn ring, a filled shape, or a stroke."""
        inside = children.get(k, [])
        lone = max(inside, key=lambda c: polygons[c].area, default=None)
        pen = _pen(rings[k], [rings[c] for c in inside])
        if lone is not None and pen <= THICKEST_PEN:
            widths.append(pen)
            for c in inside:
                # One line may enclose several fields, as a window's frame does.
                hole = depth % 2 == 1
                edge = _outline(rings[k], rings[c], ink, hole=hole, alone=len(inside) == 1)
                paths.append(_path(edge))
                for deeper in children.get(c, []):
                    outer(deeper, depth + 1)
        elif lone is None and _is_stroke(rings[k]):
            strokes.append(_middle_line(rings[k]))
        else:
            paths.append(_path(rings[k]))
            for c in inside:
                paths.append(_path(rings[c]))
                for deeper in children.get(c, []):
                    outer(deeper, depth)

    for k in children.get(None, []):
        outer(k, 0)
    pen = float(np.mean(widths)) if widths else 0.0
    return Traced(tuple(paths), specks, tuple(strokes), level, pen)


def _parents(polygons: list[Polygon], rings: list[Array]) -> list[int | None]:
    parents: list[int | None] = [None] * len(polygons)
    if not polygons:
        return parents
    tree = STRtree(polygons)
    points = [ShapelyPoint(r[0]) for r in rings]
    inner, outer = tree.query(points, predicate="within")
    for i, j in zip(inner.tolist(), outer.tolist(), strict=True):
        if i == j or polygons[j].area <= polygons[i].area:
            continue
        best = parents[i]
        if best is None or polygons[j].area < polygons[best].area:
            parents[i] = j
    return parents


def _pen(outside: Array, inside: list[Array]) -> float:
    """Return the mean width of the ink between an outer edge and the inner ones."""
    ink = abs(signed_area(outside)) - sum(abs(signed_area(r)) for r in inside)
    length = ring_length(outside) + sum(ring_length(r) for r in inside)
    return 2 * ink / length


def _is_stroke(ring: Array) -> bool:
    """Return whether ink without an inner edge is a line: thin for its length."""
    return 2 * abs(signed_area(ring)) / ring_length(ring) < THICKEST_PEN


def _middle_line(ring: Array) -> Array:
    """Return the line along the middle of a stroke's edge: its two sides' mean, end to end.

    The ends are the two places of the edge that lie farthest apart.
    """
    pairs = np.hypot(*(ring[:, None] - ring[None]).transpose(2, 0, 1)) if len(ring) < 900 else None
    if pairs is None:
        step = len(ring) // 450
        return _middle_line(ring[::step])
    i, j = sorted(int(v) for v in np.unravel_index(int(pairs.argmax()), pairs.shape))
    there, back = ring[i : j + 1], np.vstack((ring[j:], ring[: i + 1]))[::-1]
    n = max(2, min(len(there), len(back)))
    sides = []
    for side in (there, back):
        sides.append(along_line(side, np.linspace(0.0, line_length(side), n)))
    middle = LineString((sides[0] + sides[1]) / 2).simplify(SIMPLIFIED)
    return np.asarray(middle.coords)


def _outline(outside: Array, inside: Array, ink: Ink, *, hole: bool, alone: bool) -> Array:
    """Return the wanted side of a drawn line; a hole's piece lies on its other side."""
    if ink is Ink.MIDDLE:
        return _middle(outside, inside) if alone else inside
    wants_outer = (ink is Ink.OUTSIDE) != hole
    return outside if wants_outer and alone else inside


def _middle(outside: Array, inside: Array) -> Array:
    """Return the line half-way between the two edges of ink.

    Along the line: each point of the outer edge and the nearest place on the inner one. At corners
    a pen leaves one edge sharp and the other round; there the outer edge moved in by half the pen
    is true where the outline turns outwards, and the inner edge moved out where it turns inwards.
    """
    dense = _dense(inside)
    _, nearest = cKDTree(dense).query(outside)
    middle = (outside + dense[nearest]) / 2
    keep = np.hypot(*(middle - np.roll(middle, 1, axis=0)).T) > 1e-9
    rough = Polygon(middle[keep]).buffer(0)
    half = _pen(outside, [inside]) / 2
    from_outside = Polygon(outside).buffer(-half)
    from_inside = Polygon(inside).buffer(half)
    made: BaseGeometry = rough
    for sliver in polygons_of(from_outside.difference(from_inside)):
        if sliver.area < SHARP * half or sliver.area > (8 * half) ** 2:
            continue
        outer_side = sliver.intersection(from_outside.boundary)
        inner_side = sliver.intersection(from_inside.boundary)
        if outer_side.is_empty or inner_side.is_empty:
            continue
        beyond = outer_side.hausdorff_distance(inner_side)
        if beyond < SHARP:
            continue
        out = max((inner_side.distance(ShapelyPoint(p)) for p in _places(outer_side)), default=0.0)
        back = max((outer_side.distance(ShapelyPoint(p)) for p in _places(inner_side)), default=0.0)
        made = made.union(sliver) if out > back else made.difference(sliver)
    whole = max(polygons_of(made), key=lambda p: p.area, default=None)
    ring = whole if whole is not None and whole.area > 0.5 * rough.area else rough
    outline = max(polygons_of(ring), key=lambda p: p.area)
    return np.asarray(outline.exterior.coords)[:-1]


def _places(geometry: BaseGeometry) -> list[tuple[float, ...]]:
    if hasattr(geometry, "geoms"):
        return [p for g in geometry.geoms for p in _places(g)]
    return list(geometry.coords)


def _dense(ring: Array) -> Array:
    """Return a ring with every edge divided in four, for finding the nearest place on it."""
    shares = np.array([0.0, 0.25, 0.5, 0.75])[:, None, None]
    step = np.roll(ring, -1, axis=0) - ring
    return np.asarray((ring[None] + shares * step[None]).transpose(1, 0, 2).reshape(-1, 2))


def _path(ring: Array) -> RawPath:
    """Smooth a little along the line, then simplify within the stated tolerance."""
    smooth = (np.roll(ring, 1, axis=0) + 2 * ring + np.roll(ring, -1, axis=0)) / 4
    line = LineString(np.vstack((smooth, smooth[:1])))
    simple = np.asarray(line.simplify(SIMPLIFIED, preserve_topology=True).coords)[:-1]
    if len(simple) < 3 or not LinearRing(simple).is_simple:
        simple = smooth
    return RawPath(simple, closed=True)
