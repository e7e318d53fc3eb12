"""Finding a piece's form: from what the maker said and the pattern's own extent."""

import math
from functools import lru_cache

import numpy as np
from shapely import LineString

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.bends import Bends, bends_of
from ivory_quilt.core.forming.cone import Cone
from ivory_quilt.core.forming.dome import Dome
from ivory_quilt.core.forming.roll import Roll
from ivory_quilt.core.forming.shaping import AxisFrame, Place, Plain, Shaping
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.geometry.solids import spherical_cap
from ivory_quilt.core.pattern.build import Face, Form, FormKind, Given
from ivory_quilt.core.pattern.piece import Piece

TURN = 2 * math.pi
NEARLY_FLAT = math.radians(0.5)  # a cone with less is a roll


def reference_height(form: Form, thickness: float) -> float:
    """Return how high the face that the pattern was taken on lies above the foam's inner face.

    The inner one is the body itself, below what is worn beneath.
    """
    return -form.beneath if form.face is Face.INNER else form.face.share * thickness


@lru_cache(maxsize=2048)
def shaping_of(piece: Piece) -> Shaping:
    """Return the form of a piece.

    Raises:
        InputError: a form that cannot be: it would go more than once around, or a cone too steep.
    """
    form = piece.build.form
    try:
        if form.kind is FormKind.ROLLED:
            return _roll(piece, form)
        if form.kind is FormKind.CONE:
            return _cone(piece, form)
        if form.kind is FormKind.DISHED:
            return _dome(piece, form)
    except InputError as error:
        raise InputError(
            f"piece '{piece.name}', {error.where}", error.problem, error.expected
        ) from None
    by_heat = form.kind is FormKind.BENT
    offset = reference_height(form, piece.thickness)
    bends = bends_of(
        piece.lines, piece.shape.centroid, piece.thickness, offset, form.beneath, by_heat=by_heat
    )
    return Bends(bends, piece.thickness) if bends else Plain()


def own_place(piece: Piece, neutral: float) -> Place:
    """Return the place of the piece itself on its form."""
    return Place(0.0, piece.thickness, neutral * piece.thickness)


def _framed(shape: Shape, axis: float) -> tuple[AxisFrame, float, float]:
    """Return the frame about the middle of a pattern's extent, and its extents."""
    frame = AxisFrame((0.0, 0.0), axis)
    local = frame.into(shape.outer)
    low, high = local.min(axis=0), local.max(axis=0)
    middle = frame.out_of(((low + high) / 2)[None])[0].tolist()
    return AxisFrame((middle[0], middle[1]), axis), float(high[0] - low[0]), float(high[1] - low[1])


def _roll(piece: Piece, form: Form) -> Roll:
    frame, extent, _ = _framed(piece.shape, form.axis)
    height = reference_height(form, piece.thickness)
    if form.given is Given.ANGLE:
        angle = math.radians(form.value)
        reference = extent / angle
        inner = reference - height
    else:
        body = form.value / TURN if form.given is Given.GIRTH else form.value
        inner = body + form.beneath
        reference = inner + height
        angle = TURN if form.given is Given.GIRTH else extent / max(reference, 1e-9)
    if inner < 0 or reference <= 0:
        raise InputError("form", f"no room inside: radius {inner:.1f} mm", "a wider bend")
    if angle > TURN * 1.0001:
        around = math.degrees(angle)
        raise InputError("form", f"it would go {around:.0f}° around", "360° at most: a wider bend")
    return Roll(frame, extent, angle, inner, reference)


def _cone(piece: Piece, form: Form) -> Cone | Roll:
    frame, extent, _ = _framed(piece.shape, form.axis)
    middle = _along_middle(piece.shape, frame)
    slant = middle[1] - middle[0]
    per = TURN if form.given is Given.GIRTH else 1.0
    low, high = form.value / per, form.second / per
    if slant <= 0 or abs(high - low) >= slant:
        raise InputError(
            "cone",
            f"radii differ by {abs(high - low):.0f} mm over a slant of {slant:.0f} mm",
            "a difference smaller than the slant",
        )
    half = math.asin((high - low) / slant)
    height = reference_height(form, piece.thickness)
    mean = (low + high) / 2 + (form.beneath + height) * math.cos(half)
    if abs(half) < NEARLY_FLAT:
        inner = (low + high) / 2 + form.beneath
        return Roll(frame, extent, extent / (inner + height), inner, inner + height)
    share = (0.0 - middle[0]) / slant
    at_origin = low + share * (high - low) + (form.beneath + height) * math.cos(half)
    apex = at_origin / math.sin(half)
    made = Cone(frame, apex, half, height, 0.0, mean)
    _, phi = made._polar(piece.shape.outer, apex)
    made = Cone(frame, apex, half, height, float(phi.max() - phi.min()), mean)
    if made.turn > TURN * 1.0001:
        around = math.degrees(made.turn)
        raise InputError("cone", f"it would go {around:.0f}° around", "360° at most: wider ends")
    return made


def _along_middle(shape: Shape, frame: AxisFrame) -> tuple[float, float]:
    """Return from where to where the piece reaches along its frame's axis, in its middle."""
    far = 2 * math.hypot(shape.width, shape.height)
    ends = frame.out_of(np.array([[0.0, -far], [0.0, far]]))
    met = shape.polygon.intersection(LineString(ends))
    points = np.vstack([np.asarray(g.coords) for g in getattr(met, "geoms", [met])])
    along = frame.into(points[:, :2])[:, 1]
    return float(along.min()), float(along.max())


def _dome(piece: Piece, form: Form) -> Dome:
    x, y = piece.shape.centroid
    frame = AxisFrame((x, y), form.axis)
    size = math.sqrt(Shape.make(piece.shape.outer).area / math.pi)
    height = reference_height(form, piece.thickness)
    if form.given is Given.HEIGHT:
        cap = spherical_cap(size, form.value)
        inner = cap.sphere_radius - height
        angle, reference = cap.angle, cap.sphere_radius
    else:
        inner = form.value + form.beneath
        reference = inner + height
        if size >= 2 * reference:
            raise InputError(
                "form",
                f"a sphere of {reference:.0f} mm is smaller than the pattern",
                "a larger radius",
            )
        angle = 2 * math.asin(size / (2 * reference))
    if inner < 0:
        raise InputError("form", f"no room inside: radius {inner:.1f} mm", "a shallower bowl")
    return Dome(frame, size, angle, inner, reference, form.given is Given.HEIGHT)


def in_other_words(form: Form, given: Given, shape: Shape) -> tuple[float, float]:
    """Return the numbers of a form given another way, near enough to begin with."""
    per = TURN if form.given is Given.GIRTH else 1.0
    radius, second = form.value / per, form.second / per
    scale = TURN if given is Given.GIRTH else 1.0
    if form.kind is FormKind.CONE:
        return round(radius * scale, 1), round(second * scale, 1)
    if form.kind is FormKind.DISHED:
        size = math.sqrt(shape.area / math.pi)
        if given is Given.HEIGHT:
            rise = form.value - math.sqrt(max(form.value**2 - size**2, 0.0))
            return round(max(rise, 1.0), 1), 0.0
        return round((size**2 + form.value**2) / (2 * form.value), 1), 0.0
    _, extent, _ = _framed(shape, form.axis)
    if form.given is Given.ANGLE:
        radius = extent / math.radians(form.value)
    if given is Given.ANGLE:
        return round(min(360.0, math.degrees(extent / radius)), 1), 0.0
    return round(radius * scale, 1), 0.0
