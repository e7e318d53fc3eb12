"""What goes around a stack: the strip along its edge, covers over its faces."""

import math
from collections.abc import Iterator

from shapely import LineString

from ivory_quilt.core.editing.resize import offset_shape
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.shaping import ALL_AROUND, Change
from ivory_quilt.core.geometry.shape import Shape, polygons_of, rectangle, ring_length
from ivory_quilt.core.pattern.build import Cover, CoverKind, Wrap
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece, Turn
from ivory_quilt.core.pattern.region_shapes import lines_named, region_on
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import replace
from ivory_quilt.core.shapes.rules import edge_wrap
from ivory_quilt.core.stacks.case import sewn_case
from ivory_quilt.core.stacks.cut import ClothStrip, Cut, CutContext, stack_thickness

# mm: longer strips are cut in equal lengths, as a sheet of a metre gives (from memory, no source).
LONGEST_STRIP = 950.0
BACK_IN = 3.0  # mm that a cloth's back piece stays from the edge (from memory, no source)


def dressing(piece: Piece, own: Cut, context: CutContext) -> tuple[Cut, ...]:
    """Return the wrap and the covers of a piece, whose own cut is `own`."""
    made: list[Cut] = []
    if piece.build.wrap is not None:
        made.append(_wrap(piece, piece.build.wrap, own))
    if piece.build.cover is not None:
        sewn = piece.build.cover.kind is CoverKind.SEWN
        cover = piece.build.cover
        made += sewn_case(piece, cover, context) if sewn else _covers(piece, cover, own)
    made += _laid_on(piece, own)
    made += [_strip_of_cloth(piece, strip) for strip in context.strips]
    return tuple(made)


def _laid_on(piece: Piece, own: Cut) -> Iterator[Cut]:
    """Yield foil and cloth for places of a face, and what is let into carved grooves."""
    for number, work in enumerate(piece.build.works, 1):
        if work.kind is SurfaceKind.CARVE and work.material:
            yield from _inlay(piece, own, work, number)
        elif work.kind.laid_on:
            region = region_on(own.piece, work.region).buffer(work.margin, join_style="mitre")
            for nth, polygon in enumerate(polygons_of(region), 1):
                shape = Shape.from_polygon(polygon)
                made = _plain(piece, shape, work.thickness, work.material, piece.count)
                made = replace(made, turn=Turn.DIRECTION)
                why = Step("beyond its place", "the maker's choice", work.margin, "mm")
                reckoned = Reckoning(
                    "laid on",
                    {"margin": work.margin},
                    {"offset": work.margin},
                    (why,),
                    "the maker's choice",
                    ("Cement fumes: respirator, open windows, no flame.",),
                )
                change = Change("larger than its place", work.margin, reckoned, ALL_AROUND)
                yield Cut(
                    f"+{work.kind.value}{number}.{nth}",
                    f"{work.kind.value} on {work.region.words}",
                    made,
                    shape,
                    shape,
                    shape,
                    (),
                    (change,) if work.margin else (),
                    other_hand=work.face is WorkFace.INNER,
                )


def _inlay(piece: Piece, own: Cut, work: SurfaceWork, number: int) -> Iterator[Cut]:
    """Yield the strips that are let into a carved line: as long as it, as wide as the groove."""
    foam = own.piece.shape.polygon
    for nth, line in enumerate(lines_named(own.piece, work.region.of), 1):
        length = float(LineString(line.points).intersection(foam).length)
        if length <= work.region.width:
            continue
        strips = max(1, math.ceil(length / LONGEST_STRIP))
        shape = rectangle(length / strips, work.region.width)
        made = _plain(piece, shape, work.thickness, work.material, piece.count * strips)
        made = replace(made, face=FaceUp.EITHER, turn=Turn.QUARTERS)
        if piece.hand is Hand.PAIR:
            made = replace(made, hand=Hand.NONE, count=2 * made.count)
        notes = (f"in {strips} lengths",) if strips > 1 else ()
        words = f"inlay along {work.region.words}"
        yield Cut(f"+inlay{number}.{nth}", words, made, shape, shape, shape, (), (), notes=notes)


def _strip_of_cloth(piece: Piece, strip: ClothStrip) -> Cut:
    shape = rectangle(strip.length, strip.width)
    made = _plain(piece, shape, strip.thickness, strip.material, strip.count)
    hand = Hand.NONE if piece.hand is Hand.PAIR else piece.hand
    made = replace(made, face=FaceUp.EITHER, turn=Turn.QUARTERS, hand=hand)
    return Cut(f"+strap{strip.id}", strip.words, made, shape, shape, shape)


def _plain(piece: Piece, shape: Shape, thickness: float, material: str, count: int) -> Piece:
    return replace(
        piece,
        shape=shape,
        thickness=thickness,
        material=material,
        count=count,
        lines=(),
        match_marks=(),
        labels=(),
        edges=(),
        recipe=None,
    )


def _wrap(piece: Piece, wrap: Wrap, own: Cut) -> Cut:
    around = ring_length(own.outer.outer)
    stack = stack_thickness(piece)
    short = 0.0 if wrap.spare else wrap.stretch
    reckoned = edge_wrap(around, stack, short, wrap.overhang, wrap.spare)
    length, width = reckoned.figure("length"), reckoned.figure("width")
    lengths = max(1, math.ceil(length / LONGEST_STRIP))
    shape = Shape.make([(0, 0), (length / lengths, 0), (length / lengths, width), (0, width)])
    strip = _plain(piece, shape, wrap.thickness, wrap.material, piece.count * lengths)
    strip = replace(strip, face=FaceUp.EITHER, turn=Turn.QUARTERS)
    # A strip has no hand: both hands take the same.
    if piece.hand is Hand.PAIR:
        strip = replace(strip, hand=Hand.NONE, count=2 * strip.count)
    change = Change("cut short, so that it sits tight", -short, reckoned)
    if wrap.spare:
        change = Change("cut wide and long, to be trimmed flush", wrap.spare, reckoned)
    notes = ["cement the strip's end faces as well"]
    if lengths > 1:
        notes.append(f"in {lengths} lengths")
    if wrap.spare:
        notes.append("trim it flush once the cement holds: cut away from yourself")
    if wrap.overhang:
        notes.append(f"stands {wrap.overhang:g} mm past the stack: a recess")
    return Cut("+wrap", "edge wrap", strip, shape, shape, shape, (), (change,), notes=tuple(notes))


def _covers(piece: Piece, cover: Cover, own: Cut) -> list[Cut]:
    stack = stack_thickness(piece)
    core = Shape.make(own.footprint.outer)
    over = stack + cover.margin
    try:
        front = offset_shape(core, over)
        back = offset_shape(core, -BACK_IN)
    except InputError as error:
        raise InputError(
            f"piece '{piece.name}', cover", error.problem, "a smaller margin"
        ) from None
    reckoned = Reckoning(
        "cover",
        {"stack": stack, "margin": cover.margin},
        {"offset": over},
        (Step("down the edge and beyond", f"{stack:g} + {cover.margin:g}", over, "mm"),),
        "common practice, no source",
        ("Two covers a core, front and back.",)
        if cover.kind is CoverKind.SANDWICH
        else ("Two coats of cement on each side; the front wraps over the edge to the back.",),
    )
    change = Change(f"over the edge and {cover.margin:g} mm beyond", over, reckoned, ALL_AROUND)
    if cover.kind is CoverKind.SANDWICH:
        sheet = _plain(piece, front, cover.thickness, cover.material, 2 * piece.count)
        return [
            Cut(
                "+cover",
                "cover, front and back",
                sheet,
                front,
                front,
                front,
                (),
                (change,),
                notes=("pressed hot over the core: gloves",),
            )
        ]
    cloth = replace(
        _plain(piece, front, cover.thickness, cover.material, piece.count), turn=Turn.DIRECTION
    )
    lining = replace(cloth, shape=back)
    less = Change("stays back from the edge", -BACK_IN, reckoned, ALL_AROUND)
    return [
        Cut(
            "+front",
            "cloth front",
            cloth,
            front,
            front,
            front,
            (),
            (change,),
            notes=("wrapped over the edge to the back",),
        ),
        Cut("+back", "cloth back", lining, back, back, back, (), (less,), other_hand=True),
    ]
