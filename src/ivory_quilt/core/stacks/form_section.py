"""The section across a form, with every layer on it; and pulling its end."""

import math
from collections.abc import Callable

import numpy as np
from shapely import LineString

from ivory_quilt.core.editing.resize import offset_shape
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.bends import Bends
from ivory_quilt.core.forming.flatten import laid_flat
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.forming.shaping import AxisFrame, Place, Plain, Shaping
from ivory_quilt.core.geometry.shape import Array, Point, Shape
from ivory_quilt.core.pattern.build import FormKind, Given
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import CutContext, outward
from ivory_quilt.core.stacks.layer_places import layer_places
from ivory_quilt.core.stacks.section import Band, Handle, HandleKind, Section

SAMPLES = 160
# How far a form is pulled at once (our choice).
AROUND = (5.0, 355.0)  # degrees
RISES = (0.02, 1.4)  # height of a bowl, times its pattern's radius
TIMES = (0.4, 2.5)  # a radius or girth, times what it was
FOLDS = (-150.0, 150.0)  # degrees
TRIED = 61  # values, before the nearest is made truer
WHOLE = 12.0  # mm or degrees: from here on a hand means whole ones (our choice)


def across(piece: Piece, shaping: Shaping) -> AxisFrame:
    """Return the frame that a form's section is cut across."""
    if isinstance(shaping, Bends):
        x, y = piece.shape.centroid
        return AxisFrame((x, y), shaping.bends[-1].frame.axis)
    if isinstance(shaping, Plain):
        x, y = piece.shape.centroid
        return AxisFrame((x, y), 90.0 if piece.shape.width >= piece.shape.height else 0.0)
    return shaping.step(Place(0.0, 1.0, 0.5))[2]


def _chord(shape: Shape, frame: AxisFrame) -> Array:
    """Return points along the longest stretch of foam across a frame's middle, (n, 2)."""
    far = 2 * math.hypot(shape.width, shape.height)
    line = LineString(frame.out_of(np.array([[-far, 0.0], [far, 0.0]])))
    met = line.intersection(Shape.make(shape.outer).polygon)
    parts = [g for g in getattr(met, "geoms", [met]) if g.length > 0]
    if not parts:
        x, y = shape.centroid
        parts = [LineString([(x - 1, y), (x + 1, y)])]
    ends = np.vstack([np.asarray(p.coords) for p in parts])[:, :2]
    along = frame.into(ends)[:, 0]
    steps = np.linspace(along.min(), along.max(), SAMPLES)
    return frame.out_of(np.column_stack((steps, np.zeros(SAMPLES))))


def form_section(piece: Piece, context: CutContext) -> Section:
    """Return the section across the form, with every layer that lies on it.

    Raises:
        InputError: a form that cannot be.
    """
    shaping = shaping_of(piece)
    frame = across(piece, shaping)
    bands = []
    for k, (index, _, place) in enumerate(layer_places(piece, context)):
        flat = laid_flat(_with_size(piece, index), shaping, place)
        local = AxisFrame(_moved(frame, shaping, place), frame.axis)
        points = _chord(flat.shape, local)
        if isinstance(shaping, Bends):
            points = _with_bends(points, shaping, place)

        def curve(height: float, points: Array = points, place: Place = place) -> Array:
            solid = shaping.space(points, np.full(len(points), height), place)
            return np.column_stack((frame.into(solid[:, :2])[:, 0], solid[:, 2]))

        low, high = curve(0.0), curve(place.thickness)
        neutral = None
        if not isinstance(shaping, Plain):
            neutral = curve(place.height - place.lift)
        name = "the piece" if index is None else f"layer {k}"
        bands.append(Band(np.vstack((low, high[::-1])), place.thickness, name, neutral))
    handles: tuple[Handle, ...] = ()
    if pullable(piece):
        tip = bands[0].outline[
            SAMPLES - 1 if not isinstance(shaping, Bends) else len(bands[0].outline) // 2 - 1
        ]
        handles = (Handle(HandleKind.FORM, (float(tip[0]), float(tip[1])), "pull to bend it"),)
    return Section(tuple(bands), handles, _body(piece, bands[0]))


def _with_size(piece: Piece, index: int | None) -> Piece:
    """Return the piece whose chord a layer has; insets are drawn where they are told apart."""
    by = outward(piece, index) if index is not None else 0.0
    if not by:
        return piece
    return replace(piece, shape=offset_shape(Shape.make(piece.shape.outer), by))


def _moved(frame: AxisFrame, shaping: Shaping, place: Place) -> Point:
    x, y = shaping.flat(np.array([frame.origin]), place)[0].tolist()
    return (x, y)


def _with_bends(points: Array, shaping: Bends, place: Place) -> Array:
    """Put points on both sides of every bend of a section's line."""
    start, stop = points[0], points[-1]
    shares = set(np.linspace(0, 1, SAMPLES).tolist())
    for frame, at in shaping.laid_cuts(place):
        a, b = (float(frame.into(p[None])[0, 0]) - at for p in (start, stop))
        if a * b < 0:
            shares.add(a / (a - b))
    steps = np.array(sorted(shares))
    return np.asarray(start + steps[:, None] * (stop - start))


def _body(piece: Piece, own: Band) -> Array | None:
    """Return the line of what the piece lies on: below it by what is worn beneath."""
    form = piece.build.form
    if form.kind not in (FormKind.ROLLED, FormKind.CONE, FormKind.DISHED):
        return None
    inner = own.outline[:SAMPLES]
    along = np.gradient(inner, axis=0)
    length = np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)
    inward = np.column_stack((along[:, 1], -along[:, 0])) / length[:, None]
    return np.asarray(inner + inward * form.beneath)


def pullable(piece: Piece) -> bool:
    """Return whether a piece's form can be pulled in its section."""
    kind = piece.build.form.kind
    if kind is FormKind.BENT:
        return any(_bends_here(k.kind, k.crease) for k in piece.lines)
    return kind in (FormKind.ROLLED, FormKind.DISHED, FormKind.CONE)


def _bends_here(kind: LineKind, crease: Crease | None) -> bool:
    return crease is not None and crease.folds and kind in (LineKind.FOLD, LineKind.UNDERCUT)


def pulled_form(piece: Piece, context: CutContext, to: Point) -> Piece:
    """Return the piece with its form such that the end of its section comes near a place.

    The number that the form is given by is searched for; whole numbers are kept where they serve.
    """
    form = piece.build.form
    if form.kind is FormKind.BENT:
        return _pulled_bend(piece, context, to)
    if form.given is Given.ANGLE:
        (low, high), size = AROUND, 1.0
    elif form.given is Given.HEIGHT:
        (low, high), size = RISES, math.sqrt(piece.shape.area / math.pi)
    else:
        (low, high), size = TIMES, form.value

    def made(value: float) -> Piece:
        second = form.second * value / form.value if form.kind is FormKind.CONE else form.second
        shaped = replace(form, value=value, second=second)
        return replace(piece, build=replace(piece.build, form=shaped))

    return made(_nearest(piece, made, context, to, (low * size, high * size)))


def _pulled_bend(piece: Piece, context: CutContext, to: Point) -> Piece:
    index = next(k for k, line in enumerate(piece.lines) if _bends_here(line.kind, line.crease))
    line = piece.lines[index]
    assert line.crease is not None
    crease = line.crease

    def made(value: float) -> Piece:
        bent = replace(line, crease=replace(crease, angle=value))
        return piece.with_line(index, bent)

    return made(_nearest(piece, made, context, to, FOLDS))


def _tip(piece: Piece, end: Array, context: CutContext) -> Point:
    """Return where the end (1, 2) of a pattern's chord comes to in the section, inner face."""
    shaping = shaping_of(piece)
    place = layer_places(piece, context)[0][2]
    solid = shaping.space(shaping.flat(end, place), np.zeros(1), place)
    return float(across(piece, shaping).into(solid[:, :2])[0, 0]), float(solid[0, 2])


def _nearest(
    piece: Piece,
    made: Callable[[float], Piece],
    context: CutContext,
    to: Point,
    limits: tuple[float, float],
) -> float:
    """Return the value within limits whose section ends nearest to a place.

    The distance may have several low points: the range is tried first, then the best is made truer.
    """
    from scipy.optimize import minimize_scalar  # every start would pay for it

    tried = np.linspace(*limits, TRIED)
    shaping = shaping_of(made(float(tried[TRIED // 2])))
    end = _chord(piece.shape, across(piece, shaping))[-1:]

    def away(value: float) -> float:
        try:
            x, y = _tip(made(value), end, context)
        except InputError:
            return math.inf
        return math.hypot(x - to[0], y - to[1])

    near = int(np.argmin([away(value) for value in tried.tolist()]))
    bounds = (tried[max(near - 1, 0)], tried[min(near + 1, TRIED - 1)])
    best = float(minimize_scalar(away, bounds=bounds, method="bounded").x)
    return round(best) if abs(best) > WHOLE else round(best, 1)
