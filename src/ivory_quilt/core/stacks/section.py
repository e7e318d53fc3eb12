"""Cross-sections at true scale: through the form, an edge, and the stack; and pulling them.

Points are (x, y) in mm, y outwards, away from the body.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from shapely import LineString

from ivory_quilt.core.edges.groove_check import SCORE_DEPTH
from ivory_quilt.core.edges.profiles import Knife
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.bends import Bends
from ivory_quilt.core.forming.flatten import laid_flat
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.forming.shaping import Frame, Place, Plain, Shaping
from ivory_quilt.core.geometry.shape import Array, Point, Shape
from ivory_quilt.core.pattern.build import FormKind, Given, Layer, LayerSize, Profile, ProfileKind
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece
from ivory_quilt.core.pattern.resize import offset_shape
from ivory_quilt.core.stacks.cut import Cut, Setting, knife_run, outward
from ivory_quilt.core.stacks.cutting import layer_places

SAMPLES = 160
SCORE_KERF = 0.3  # mm to either side of a cut that is drawn
SHOWN_FOAM = 34.0  # mm of foam that an edge's section shows


@dataclass(frozen=True)
class Band:
    """A strip of foam in a section.

    Attributes:
        outline: closed, (n, 2).
        thickness: of the foam.
        name: of the layer, or of the neighbour.
        neutral: the neutral line (m, 2), or None.
        other: whether it is a neighbour and not the piece itself.
    """

    outline: Array
    thickness: float
    name: str
    neutral: Array | None = None
    other: bool = False


@dataclass(frozen=True)
class Handle:
    """A place of a section that can be pulled.

    Attributes:
        name: what is pulled: "form", "edge", "inset 2", "thickness 1".
        words: what pulling it changes.
    """

    name: str
    at: Point
    words: str


@dataclass(frozen=True)
class Section:
    """A cross-section.

    Attributes:
        body: what it lies on, a line (n, 2), or None.
        measures: figures to write beside it: (place, words).
    """

    bands: tuple[Band, ...]
    handles: tuple[Handle, ...] = ()
    body: Array | None = None
    measures: tuple[tuple[Point, str], ...] = ()


# Through the form


def _across(piece: Piece, shaping: Shaping) -> Frame:
    """Return the frame that a form's section is cut across."""
    if isinstance(shaping, Bends):
        x, y = piece.shape.centroid
        return Frame((x, y), shaping.bends[-1].frame.axis)
    if isinstance(shaping, Plain):
        x, y = piece.shape.centroid
        return Frame((x, y), 90.0 if piece.shape.width >= piece.shape.height else 0.0)
    return shaping.step(Place(0.0, 1.0, 0.5))[2]


def _chord(shape: Shape, frame: Frame) -> Array:
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


def form_section(piece: Piece, setting: Setting) -> Section:
    """Return the section across the form, with every layer that lies on it.

    Raises:
        InputError: a form that cannot be.
    """
    shaping = shaping_of(piece)
    frame = _across(piece, shaping)
    bands = []
    for k, (layer, _, place) in enumerate(layer_places(piece, setting)):
        flat = laid_flat(_with_size(piece, layer), shaping, place)
        local = Frame(_moved(frame, shaping, place), frame.axis)
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
        name = "the piece" if layer is None else f"layer {k}"
        bands.append(Band(np.vstack((low, high[::-1])), place.thickness, name, neutral))
    handles: tuple[Handle, ...] = ()
    if pullable(piece):
        tip = bands[0].outline[SAMPLES - 1 if not isinstance(shaping, Bends) else
                               len(bands[0].outline) // 2 - 1]  # fmt: skip
        handles = (Handle("form", (float(tip[0]), float(tip[1])), "pull to bend it"),)
    return Section(tuple(bands), handles, _body(piece, bands[0]))


def _with_size(piece: Piece, layer: Layer | None) -> Piece:
    """Return the piece whose chord a layer has; insets are drawn where they are told apart."""
    by = outward(piece, layer) if layer is not None else 0.0
    if not by:
        return piece
    return replace(piece, shape=offset_shape(Shape.make(piece.shape.outer), by))


def _moved(frame: Frame, shaping: Shaping, place: Place) -> Point:
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


def pulled_form(piece: Piece, setting: Setting, to: Point) -> Piece:
    """Return the piece with its form such that the end of its section comes near a place.

    The number that the form is given by is searched for; whole numbers are kept where they serve.
    """
    form = piece.build.form
    if form.kind is FormKind.BENT:
        return _pulled_bend(piece, setting, to)
    if form.given is Given.ANGLE:
        tried = np.linspace(5, 355, 71)
    elif form.given is Given.HEIGHT:
        size = math.sqrt(piece.shape.area / math.pi)
        tried = np.linspace(0.02, 1.4, 60) * size
    else:
        tried = form.value * np.geomspace(0.4, 2.5, 60)

    def made(value: float) -> Piece:
        second = form.second * value / form.value if form.kind is FormKind.CONE else form.second
        shaped = replace(form, value=value, second=second)
        return replace(piece, build=replace(piece.build, form=shaped))

    return made(_nearest(piece, made, setting, to, tried))


def _pulled_bend(piece: Piece, setting: Setting, to: Point) -> Piece:
    index = next(k for k, line in enumerate(piece.lines) if _bends_here(line.kind, line.crease))
    line = piece.lines[index]
    assert line.crease is not None
    crease = line.crease

    def made(value: float) -> Piece:
        bent = replace(line, crease=replace(crease, angle=value))
        return replace(piece, lines=(*piece.lines[:index], bent, *piece.lines[index + 1 :]))

    return made(_nearest(piece, made, setting, to, np.linspace(-150, 150, 61)))


def _tip(piece: Piece, end: Array, setting: Setting) -> Point:
    """Return where the end (1, 2) of a pattern's chord comes to in the section, inner face."""
    shaping = shaping_of(piece)
    place = layer_places(piece, setting)[0][2]
    solid = shaping.space(shaping.flat(end, place), np.zeros(1), place)
    return float(_across(piece, shaping).into(solid[:, :2])[0, 0]), float(solid[0, 2])


def _nearest(
    piece: Piece, made: Callable[[float], Piece], setting: Setting, to: Point, tried: Array
) -> float:
    """Return the value whose section ends nearest to a place; searched twice, finer again."""

    shaping = shaping_of(made(float(tried[len(tried) // 2])))
    end = _chord(piece.shape, _across(piece, shaping))[-1:]

    def away(value: float) -> float:
        try:
            x, y = _tip(made(value), end, setting)
        except InputError:
            return math.inf
        return math.hypot(x - to[0], y - to[1])

    best = float(min(tried.tolist(), key=away))
    step = abs(float(tried[1] - tried[0])) if tried[0] else best * 0.03
    step = max(step, 0.03 * abs(best))
    finer = np.linspace(best - step, best + step, 21)
    best = float(min(finer.tolist(), key=away))
    return round(best) if abs(best) > 12 else round(best, 1)


# Through an edge


def edge_profile(
    knife: Knife, thickness: float, low: float, high: float, carrier: float, reach: float
) -> Array:
    """Return the foam at an edge, from `reach` mm inside to the cut; x outwards, y up, (n, 2)."""
    whole = high - low
    heights = [low, high]
    if knife.blade and low < (low + high) / 2 < high:
        heights.insert(1, (low + high) / 2)
    cut = [(knife.away(z - low, whole, carrier - low), z) for z in heights]
    if knife.round:
        r = min(knife.round, whole)
        turn = np.linspace(0, math.pi / 2, 9)
        cut = [(0.0, low), *[(r * math.cos(a) - r, high - r + r * math.sin(a)) for a in turn]]
    inner = [(-reach, high), (-reach, low)]
    return np.array([*cut, *inner])


def edge_section(
    piece: Piece, knife: Knife, mate: tuple[Piece, Knife, float] | None = None
) -> Section:
    """Return the section through an edge, with its neighbour where it has one.

    Args:
        piece: whose edge it is.
        knife: along the edge.
        mate: (piece, knife, dihedral) of the neighbour.
    """
    run = knife_run(piece)
    own = edge_profile(knife, piece.thickness, run.low, run.high, run.carrier, SHOWN_FOAM)
    bands = [Band(own, piece.thickness, piece.name)]
    measures: list[tuple[Point, str]] = []
    if mate is not None:
        other, theirs, dihedral = mate
        there = knife_run(other)
        shape = edge_profile(theirs, other.thickness, there.low, there.high, there.carrier,
                             SHOWN_FOAM)  # fmt: skip
        flipped = shape * [-1.0, 1.0] - np.array([0.0, there.carrier])
        turn = -math.radians(180 - dihedral)
        cos, sin = math.cos(turn), math.sin(turn)
        turned = flipped @ np.array([[cos, sin], [-sin, cos]])
        bands.append(
            Band(turned + np.array([0.0, run.carrier]), other.thickness, other.name, other=True)
        )
        words = f"{dihedral:g}° between the outer faces"
        measures.append(((-SHOWN_FOAM, run.high + 5), words))
    corner = own[1 if len(own) == 4 else len(own) - 3]
    handle = Handle("edge", (float(corner[0]), float(corner[1])), "pull to bevel it")
    return Section(tuple(bands), (handle,), None, tuple(measures))


def pulled_edge(piece: Piece, profile: Profile, to: Point) -> Profile:
    """Return the profile of an edge whose outer corner is pulled to a place."""
    run = knife_run(piece)
    if profile.kind is ProfileKind.BLADE:
        return replace(profile, width=max(round(-to[0] * 2) / 2, 0.5))
    if profile.kind is ProfileKind.ROUND:
        return replace(profile, width=min(max(round(-to[0] * 2) / 2, 0.5), run.whole))
    height = max(run.high - run.carrier, run.whole / 2)
    angle = round(math.degrees(math.atan2(to[0], height)))
    angle = max(-75, min(75, angle))
    if angle == 0:
        return Profile(ProfileKind.SQUARE)
    return Profile(ProfileKind.OUT if angle > 0 else ProfileKind.IN, float(abs(angle)))


# Through a groove


def groove_section(piece: Piece, index: int) -> Section:
    """Return the section across one of the piece's grooves or scores, outer face up.

    Raises:
        InputError: the line is not cut.
    """
    line, t = piece.lines[index], piece.thickness
    crease = line.crease
    if crease is None:
        raise InputError("line", "it says nothing of how it is cut", "an undercut or a score")
    if line.kind is LineKind.SCORE:
        depth, half = SCORE_DEPTH * t, SCORE_KERF
    else:
        depth = max(t - crease.skin, 0.0)
        half = max(depth * math.tan(math.radians(abs(crease.angle)) / 2), SCORE_KERF)
    # A score is cut into the face that shows.
    front = crease.front or line.kind is LineKind.SCORE
    face, foot = (t, t - depth) if front else (0.0, depth)
    groove = [(half, face), (0.0, foot), (-half, face)]
    if front:
        corners = [(-SHOWN_FOAM, 0.0), (SHOWN_FOAM, 0.0), (SHOWN_FOAM, t), *groove,
                   (-SHOWN_FOAM, t)]  # fmt: skip
    else:
        corners = [(SHOWN_FOAM, t), (-SHOWN_FOAM, t), (-SHOWN_FOAM, 0.0), *groove[::-1],
                   (SHOWN_FOAM, 0.0)]  # fmt: skip
    band = Band(np.array(corners), t, piece.name)
    if line.kind is LineKind.SCORE:
        return Section((band,), (), None, (((half + 2, foot), f"{depth:g} mm deep"),))
    handles = (
        Handle("groove wall", (half, face), "pull to fold it further"),
        Handle("groove foot", (0.0, foot), "pull to leave more skin"),
    )
    words = f"{2 * half:.1f} mm wide, {crease.skin:g} mm of skin"
    return Section((band,), handles, None, (((-SHOWN_FOAM, t + 5), words),))


def pulled_groove(piece: Piece, index: int, handle: str, to: Point) -> Piece:
    """Return the piece with a groove's wall or foot pulled to a place."""
    line, t = piece.lines[index], piece.thickness
    crease = line.crease
    if crease is None:
        return piece
    if handle == "groove foot":
        skin = to[1] if crease.front else t - to[1]
        crease = replace(crease, skin=round(min(max(skin, 0.0), t - 0.5) * 2) / 2)
    else:
        depth = max(t - crease.skin, 0.1)
        angle = 2 * math.degrees(math.atan2(abs(to[0]), depth))
        sign = -1.0 if crease.angle < 0 else 1.0
        crease = replace(crease, angle=sign * float(min(max(round(angle), 5), 160)))
    changed = replace(line, crease=crease)
    return replace(piece, lines=(*piece.lines[:index], changed, *piece.lines[index + 1 :]))


# Through the stack


def stack_section(piece: Piece, cuts: tuple[Cut, ...]) -> Section:
    """Return the stack along the piece's longer side: how thick it is where."""
    frame = _across(piece, Plain())
    bands, handles, measures = [], [], []
    for k, cut in enumerate(c for c in cuts if c.place is not None):
        place = cut.place
        assert place is not None
        low, high = (_reach(s, frame) for s in (cut.inner, cut.outer))
        corners = [(low[0], place.lift), (low[1], place.lift),
                   (high[1], place.lift + place.thickness),
                   (high[0], place.lift + place.thickness)]  # fmt: skip
        bands.append(Band(np.array(corners), place.thickness, cut.what or "the piece"))
        if k:
            side = place.lift + place.thickness / 2
            handles.append(Handle(f"inset {k}", (high[1], side), "pull to make it shorter"))
    base = [c.place for c in cuts if c.place is not None]
    if base:
        bottom = min(p.lift for p in base)
        top = max(p.lift + p.thickness for p in base)
        right = max(float(b.outline[:, 0].max()) for b in bands)
        measures.append(((right + 4, (top + bottom) / 2), f"{top - bottom:g} mm in all"))
    return Section(tuple(bands), tuple(handles), None, tuple(measures))


def _reach(shape: Shape, frame: Frame) -> tuple[float, float]:
    along = frame.into(shape.outer)[:, 0]
    return float(along.min()), float(along.max())


def pulled_layer(piece: Piece, number: int, cuts: tuple[Cut, ...], to: Point) -> Piece:
    """Return the piece with one layer's end pulled to a place: its inset changes.

    `number` counts the layers as they are cut, from 1.
    """
    frame = _across(piece, Plain())
    _, end = _reach(cuts[0].outer, frame)
    order = [layer for layer, _, _ in layer_places(piece, Setting())][1:]
    layer = order[number - 1]
    assert layer is not None
    by = round(end - to[0])
    size = LayerSize.INSET if by > 0 else LayerSize.OVERSIZE if by < 0 else LayerSize.SAME
    if layer.size is LayerSize.STEPPED:
        # It is told from the layer beneath: that far further in.
        by = round(layer.by + outward(piece, layer) + by)
        size = LayerSize.STEPPED if by > 0 else LayerSize.SAME
    changed = replace(layer, size=size, by=float(min(abs(by), 400)))
    layers = tuple(changed if k is layer else k for k in piece.build.layers)
    return replace(piece, build=replace(piece.build, layers=layers))
