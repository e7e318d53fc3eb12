"""What is really cut for a piece: one cut for each of its layers, its wrap and its covers.

From the pattern outline, in this order: the layer's own size; its length on the form; what heat
takes; bevels; what is left for trimming. Scaling a pattern comes before all of it and so never
scales an allowance.
"""

import math
from collections.abc import Iterable, Mapping

import numpy as np

from ivory_quilt.core.edges.profiles import Knife, apart, footprint, knives_of, outline_at, widest
from ivory_quilt.core.editing.resize import offset_shape
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.flatten import before_heat, laid_flat
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.forming.shaping import Change, Place, Plain, Shaping
from ivory_quilt.core.geometry.shape import Array, Pose, Shape
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.build import LayerSide, LayerSize
from ivory_quilt.core.pattern.edges import beside_middle, edge_line, edges_moved, edges_of
from ivory_quilt.core.pattern.piece import FaceUp, Label, LineKind, Piece, PieceLine, TraceRule
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.contact import standing_on, with_contact
from ivory_quilt.core.stacks.cut import ALONE, Cut, CutContext, KnifeRun, knife_run, outward
from ivory_quilt.core.stacks.dressing import dressing
from ivory_quilt.core.stacks.layer_places import layer_places
from ivory_quilt.core.stacks.placing import drawn_on, marked_to_place, on_base, set_back
from ivory_quilt.core.stacks.sewing import sewn
from ivory_quilt.core.stacks.work_marks import with_works_drawn

WORDS_IN = 9.0  # mm that words about an edge stand inside it


def cuts_of(piece: Piece, context: CutContext = ALONE) -> tuple[Cut, ...]:
    """Return everything that is cut for a piece, the piece itself first.

    Raises:
        InputError: a form, bevel or layer that cannot be; the message says which.
    """
    if piece.count == 0:
        return ()
    if context.knives is None:
        context = replace(context, knives=knives_of(piece))
    cuts: list[Cut] = []
    if context.base is not None:
        cuts.append(_on_its_base(piece, context))
    else:
        shaping = shaping_of(piece)
        number = 0
        for index, side, place in layer_places(piece, context):
            if index is None:
                cuts.append(_own(piece, shaping, place, context))
                continue
            number += 1
            cuts.append(_layer(piece, index, side, place, number, shaping, context))
    if piece.build.split > 1:
        cuts[0] = _split(cuts[0], piece.build.split)
    return (*cuts, *dressing(piece, cuts[0], context))


def _own(piece: Piece, shaping: Shaping, place: Place, context: CutContext) -> Cut:
    # Edges keep their names whatever the outline becomes.
    marked = drawn_on(replace(piece, edges=edges_of(piece)), context.placed)
    marked = standing_on(marked, context)
    if context.ground is not None:
        marked = with_contact(marked, context.ground, context)
    marked = with_works_drawn(marked)
    if piece.build.rod:
        marked = _with_trench(marked)
    flat = laid_flat(marked, shaping, place)
    changes = _worth(shaping.changes(place)) if not isinstance(shaping, Plain) else ()
    knives = context.knives or ()
    if piece.build.sewing is not None:
        flat, more = sewn(flat, piece.build.sewing)
        changes, knives = (*changes, *more), ()
    return _cut("", "", flat, changes, place, context, knives, knife_run(piece))


def _on_its_base(piece: Piece, context: CutContext) -> Cut:
    """Cut a piece that lies on a base: as long as its place on the base's form."""
    base = context.base
    assert base is not None
    piece = marked_to_place(piece, base)
    shaping = shaping_of(base)
    neutral = context.book(piece.material).neutral
    lift = base.thickness
    place = Place(lift, piece.thickness, lift + neutral * piece.thickness)
    knives, run = context.knives or (), KnifeRun(lift, lift + piece.thickness, lift)
    if isinstance(shaping, Plain):
        return _cut("", "", piece, (), place, context, knives, run)
    there = on_base(piece, base)
    flat = laid_flat(there, shaping, place)
    on_it = laid_flat(
        there,
        shaping,
        Place(0.0, base.thickness, context.book(base.material).neutral * base.thickness),
    )
    grown = set_back(flat, piece, base)
    drift = max(flat.shape.width - on_it.shape.width, flat.shape.height - on_it.shape.height, 0.0)
    reckoned = Reckoning(
        "drift",
        {"under": base.thickness, "over": piece.thickness, "neutral": neutral},
        {"drift": drift},
        (
            Step(
                "as drawn on the flat base",
                "extent of the mark",
                max(on_it.shape.width, on_it.shape.height),
                "mm",
            ),
            Step(
                "on its own neutral line",
                "laid flat from the base's form",
                max(flat.shape.width, flat.shape.height),
                "mm",
            ),
            Step("drift", "the difference", drift, "mm"),
        ),
        "length of each layer's own neutral line: angle × radius (bend allowance)",
        ("Makers start at the middle and work outwards.",),
    )
    change = Change(f"drift on '{base.name}', which curves under it", drift, reckoned)
    return _cut("", "", grown, _worth((change,)), place, context, knives, run)


def _layer(
    piece: Piece,
    index: int,
    side: LayerSide,
    place: Place,
    number: int,
    shaping: Shaping,
    context: CutContext,
) -> Cut:
    layer = piece.build.layers[index]
    own, steps = _sized(piece, index, context)
    flat = laid_flat(own, shaping, place)
    changes = list(steps)
    if not isinstance(shaping, Plain):
        changes += _worth(shaping.changes(place))
    word = "inner" if side is LayerSide.INNER else "outer"
    both = any(k.side is not LayerSide.OUTER for k in piece.build.layers)
    what = f"layer {number}, {word} side" if both else f"layer {number}"
    knives = (context.knives or ()) if layer.size is LayerSize.SAME else ()
    notes = ("cut two at once with the layer beneath, tacked together",) if layer.together else ()
    return replace(
        _cut(f"+{number}", what, flat, tuple(changes), place, context, knives, knife_run(piece)),
        other_hand=side is LayerSide.INNER,
        notes=notes,
    )


def _sized(piece: Piece, index: int, context: CutContext) -> tuple[Piece, list[Change]]:
    """Return the pattern of a layer: its own outline, foam and lines."""
    layer = piece.build.layers[index]
    shape, changes = piece.shape, []
    if layer.size is LayerSize.PIECE:
        other = context.outline(layer.other)
        if other is None:
            raise InputError(
                f"piece '{piece.name}', layer",
                f"its outline's piece '{layer.other}' is gone",
                "another outline",
            )
        shape = _centred_on(other.shape, piece.shape)
    elif by := outward(piece, index):
        inset = by < 0
        try:
            outer = offset_shape(Shape.make(piece.shape.outer), by)
            shape = Shape.make(outer.outer, piece.shape.holes)
            if shape_problem(shape):
                shape = outer  # the holes lie where the layer no longer is
        except InputError as error:
            raise InputError(
                f"piece '{piece.name}', layer {error.where}", error.problem, error.expected
            ) from None
        word = "smaller all around" if inset else "larger all around, trimmed after gluing"
        reckoned = Reckoning(
            "layer",
            {"by": by},
            {"offset": by},
            (Step("chosen", "outline moved out", by, "mm"),),
            "the maker's choice",
        )
        changes.append(Change(word, by, reckoned))
    face = FaceUp.EITHER if layer.hidden else piece.face
    made = replace(
        piece,
        shape=shape,
        face=face,
        thickness=layer.thickness,
        material=layer.material,
        lines=(),
        labels=(),
        match_marks=piece.match_marks if layer.size is LayerSize.SAME else (),
        edges=() if layer.size is not LayerSize.SAME else edges_of(piece),
    )
    return made, changes


def _centred_on(shape: Shape, other: Shape) -> Shape:
    (x0, y0, x1, y1), (u0, v0, u1, v1) = shape.bounds, other.bounds
    return shape.placed(Pose((u0 + u1 - x0 - x1) / 2, (v0 + v1 - y0 - y1) / 2))


def _cut(
    suffix: str,
    what: str,
    flat: Piece,
    changes: tuple[Change, ...],
    place: Place,
    context: CutContext,
    knives: tuple[Knife, ...],
    run: KnifeRun,
) -> Cut:
    """Take heat off, and hold the knife, which goes through the foam along `run`."""
    t = flat.thickness
    if flat.build.form.heated or flat.build.sealed:
        flat, shrunk = before_heat(flat, context.book(flat.material))
        changes = (*changes, *shrunk)
    low = max(place.lift, run.low) - run.low
    levels = [low + t, low]
    middle = run.whole / 2
    if low < middle < low + t and any(k.blade for k in knives):
        levels.append(middle)
    faces = [outline_at(flat, knives, z, run.whole, run.carrier - run.low) for z in levels]
    outer, inner = faces[:2]
    made = []
    for knife in knives:
        if knife.angle:
            reckoned = knife.reckon(t)
            more = reckoned.figure("offset")
            where = f"from the inner to the outer face at {knife.edge}"
            made.append(Change(knife.why, more, reckoned, where))
    marked, other = (inner, outer) if flat.face is FaceUp.TEXTURED else (outer, inner)
    edges = edges_moved(flat.edges, marked, widest(knives, t))
    told = _with_knives(replace(flat, shape=marked, edges=edges), other, knives)
    return Cut(
        suffix,
        what,
        told,
        outer,
        inner,
        footprint(faces),
        knives,
        (*changes, *made),
        place,
        waist=(faces[2], middle - low) if len(faces) > 2 else None,
    )


def _with_knives(piece: Piece, other: Shape, knives: tuple[Knife, ...]) -> Piece:
    """Write beside each bevelled edge how it is cut, and draw the outline on the other face."""
    lines = [PieceLine(LineKind.OTHER, line) for line in apart(other, piece.shape)]
    labels = []
    inward = min(WORDS_IN, 0.3 * min(piece.shape.width, piece.shape.height))
    known = {e.name: e for e in edges_of(piece)} if knives else {}
    for knife in knives:
        if knife.edge in known and (knife.angle or knife.blade):
            text = f"{knife.edge}: {abs(knife.angle):.0f}° {'out' if knife.angle > 0 else 'in'}"
            if knife.blade:
                text = f"{knife.edge}: blade, {knife.blade:g} mm"
            labels.append(Label(text, beside_middle(edge_line(piece, known[knife.edge]), -inward)))
    if not lines and not labels:
        return piece
    return replace(piece, lines=(*piece.lines, *lines), labels=(*piece.labels, *labels))


def _split(cut: Cut, parts: int) -> Cut:
    """Cut from a sheet `parts` times as thick, to be sliced."""
    piece = cut.piece
    thick = replace(piece, thickness=piece.thickness * parts, count=math.ceil(piece.count / parts))
    note = f"slice each into {parts} with a long blade; one rough face each"
    return replace(cut, piece=thick, notes=(*cut.notes, note))


def _with_trench(piece: Piece) -> Piece:
    """Draw the middle of the rod's trench, along the centre line or the longest way through."""
    rod = piece.build.rod
    line = trench_line(piece)
    middle = (line[0] + line[-1]) / 2
    label = Label(f"trench {rod:g} wide, {rod / 2:g} deep", (float(middle[0]), float(middle[1])))
    return replace(
        piece, lines=(*piece.lines, PieceLine(LineKind.MARK, line)), labels=(*piece.labels, label)
    )


def trench_line(piece: Piece) -> Array:
    """Return the middle of a rod's trench: the centre line, or the longest way through."""
    line = next((k.points for k in piece.lines if k.kind is LineKind.CENTRE), None)
    return _longest_axis(piece.shape) if line is None else line


def _longest_axis(shape: Shape) -> Array:
    """Return a line through the foam along its main direction of area."""
    points = shape.outer - shape.centroid
    _, _, axes = np.linalg.svd(points, full_matrices=False)
    along = points @ axes[0]
    inset = 0.06 * float(np.ptp(along))
    low, high = float(along.min()) + inset, float(along.max()) - inset
    made = np.asarray(shape.centroid) + np.array([[low], [high]]) * axes[0]
    made.setflags(write=False)
    return np.asarray(made)


def _worth(changes: tuple[Change, ...]) -> tuple[Change, ...]:
    """Leave out what nobody could cut."""
    return tuple(c for c in changes if abs(c.amount) >= 0.05)


def trimmed(cut: Cut, rule: TraceRule) -> Cut:
    """Return a cut with what is left standing for the trimming."""
    if not rule.trim:
        return cut
    return replace(
        cut,
        outer=offset_shape(cut.outer, rule.trim),
        inner=offset_shape(cut.inner, rule.trim),
        footprint=offset_shape(cut.footprint, rule.trim),
    )


def books_of(
    known: Mapping[str, FoamBook], pieces: Iterable[Piece]
) -> tuple[tuple[str, FoamBook], ...]:
    """Return the book values that matter to pieces and their layers."""
    materials = {m for p in pieces for m in (p.material, *(k.material for k in p.build.layers))}
    return tuple((m, known[m]) for m in sorted(materials) if m in known)
