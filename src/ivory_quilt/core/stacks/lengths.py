"""Shaped lengths and rods: how long each must be where it lies on the formed piece.

What lies along the outside of a curve goes a longer way round than the pattern's edge: its length
is that of the line through its own middle, on the form (the centroid of its section, about which
what is bent keeps its length: beam bending, as in any text on the strength of materials).
"""

import math

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.forms import own_place, shaping_of
from ivory_quilt.core.forming.shaping import Plain
from ivory_quilt.core.geometry.outline import along_line, corners_along, line_length
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.pattern.build import Trim, TrimKind
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stacks.cut import knife_run
from ivory_quilt.core.stacks.layering import trench_line
from ivory_quilt.core.stacks.placing import pose_on

FINE = 0.5  # mm between places at which a line is put on the form
LEAST_PLACES, MOST_PLACES = 2000, 20_000
CENTROIDS = {
    TrimKind.ROUND: 0.5,
    TrimKind.SQUARE: 0.5,
    TrimKind.HALF: 2 / (3 * math.pi),
    TrimKind.BEVEL: 1 / 3,
}
"""Height of a section's centroid above its flat side ÷ its size (diameter or side)."""
HALVED = {
    TrimKind.ROUND: 2 / (3 * math.pi),
    TrimKind.SQUARE: 0.25,
    TrimKind.HALF: 2 / (3 * math.pi),
    TrimKind.BEVEL: 1 / 6,
}
"""The same of one sliced lengthwise: a round becomes a half-round, a half-round a quarter."""


class CutLength(Struct, frozen=True):
    """A shaped length, or a rod, to cut.

    Attributes:
        where: along what it lies: an edge's name, or the middle of the stack.
        trim: the shaped length; None for a rod.
        words: what it is: "10 mm half-round, trenched".
        count: how many, of this piece.
        length: mm.
        reckoning: how long, and why.
    """

    piece_id: str
    name: str
    where: str
    trim: Trim | None
    words: str
    count: int
    length: float
    reckoning: Reckoning


def cut_lengths(piece: Piece, base: Piece | None = None) -> tuple[CutLength, ...]:
    """Return the shaped lengths along a piece's edges, and its rod; edges that are gone are none.

    `base` is what the piece is glued onto, whose form it takes then.
    """
    made = []
    for trim in piece.build.trims:
        try:
            line = edge_line(piece, edge_of(piece, trim.edge))
        except InputError:
            continue
        count = math.ceil(piece.cut_count / 2) if trim.serves_two else piece.cut_count
        served = "one serves two edges" if trim.serves_two else "one an edge"
        length, steps = _trim_length(piece, base, line, trim)
        words = trim_words(trim)
        reckoned = Reckoning(
            "edge-roll",
            {"edge": trim.edge},
            {"length": length},
            (*steps, Step("lengths", served, count)),
            "length of the line through its own middle (bend allowance)",
        )
        made.append(
            CutLength(piece.id, piece.name, trim.edge, trim, words, count, length, reckoned)
        )
    if piece.build.rod and piece.cut_count:
        made.append(_rod(piece, base))
    return tuple(made)


def trim_words(trim: Trim) -> str:
    """Return what a shaped length is, and what is done to it."""
    along = f" along {100 * trim.sliced:g} %" if trim.halved and trim.sliced < 1 else ""
    done = (
        (f"halved{along}", trim.halved),
        ("trenched", trim.trenched),
        ("on the inner face", trim.inside and not trim.trenched),
    )
    return ", ".join([f"{trim.size:g} mm {trim.kind.value}", *(w for w, yes in done if yes)])


def _trim_length(
    piece: Piece, base: Piece | None, line: Array, trim: Trim
) -> tuple[float, tuple[Step, ...]]:
    """Return how long a shaped length is; of one sliced in part, both stretches each by itself."""
    if not trim.halved or trim.sliced == 1:
        return _on_the_form(piece, base, line, trim_height(piece, trim))
    whole = replace(trim, halved=False)
    flat = line_length(line)
    at = trim.sliced * flat
    places = np.union1d(corners_along(line), [0.0, at, flat])
    parts = [along_line(line, places[places <= at]), along_line(line, places[places >= at])]
    one, first = _on_the_form(piece, base, parts[0], trim_height(piece, trim))
    other, second = _on_the_form(piece, base, parts[1], trim_height(piece, whole))
    both = Step("sliced and whole", f"{one:.2f} + {other:.2f}", one + other, "mm")
    return one + other, (*first, *second, both)


def trim_height(piece: Piece, trim: Trim) -> float:
    """Return how high a shaped length's own middle lies above the piece's inner face, mm.

    It lies on the outer face of what has the piece's outline, or on the inner one; one that is
    trenched is pushed over the edge, and its middle is the stack's.
    """
    run = knife_run(piece)
    if trim.trenched:
        return (run.low + run.high) / 2
    away = trim.size * (HALVED if trim.halved else CENTROIDS)[trim.kind]
    return run.low - away if trim.inside else run.high + away


def dowel(
    angle: float,
    inside_radius: float,
    thickness: float,
    size: float,
    middle: float = 0.5,
    inside: float = 0.0,
) -> Reckoning:
    """Reckon a shaped length around a bend, on its outer face, or with `inside` 1 on its inner one.

    `middle` is the height of its own middle above the face that it lies on, as a share of its
    size: 0.5 of a round or square, 0.212 of a half-round, 0.333 of a bevel strip.

    Raises:
        InputError: a value makes no sense, or there is no room inside.
    """
    within("angle", angle, 0.1, 360)
    above_zero("inside_radius", inside_radius)
    above_zero("thickness", thickness)
    above_zero("size", size)
    within("middle", middle, 0, 1)
    within("inside", inside, 0, 1)
    away = size * middle
    radius = inside_radius - away if inside else inside_radius + thickness + away
    if radius <= 0:
        raise InputError("size", f"{size:g} mm has no room inside", "a thinner one")
    length = math.radians(angle) * radius
    said = f"{inside_radius:g} − {away:.3f}"
    if not inside:
        said = f"{inside_radius:g} + {thickness:g} + {away:.3f}"
    return Reckoning(
        "dowel",
        {"angle": angle, "inside_radius": inside_radius, "thickness": thickness, "size": size},
        {"length": length, "radius": radius},
        (
            Step("radius of its own middle", said, radius, "mm"),
            Step("length", f"{angle:g}° × π ÷ 180 × {radius:.3f}", length, "mm"),
        ),
        "length of the line through its own middle (bend allowance)",
    )


def _rod(piece: Piece, base: Piece | None) -> CutLength:
    run = knife_run(piece)
    line = trench_line(piece)
    length, steps = _on_the_form(piece, base, line, (run.low + run.high) / 2)
    count = piece.cut_count
    reckoned = Reckoning(
        "rod",
        {"rod": piece.build.rod},
        {"length": length},
        (*steps, Step("rods", "one a part", count)),
        "length of the line through its own middle (bend allowance)",
    )
    words = f"{piece.build.rod:g} mm rod"
    return CutLength(piece.id, piece.name, "the middle", None, words, count, length, reckoned)


def _on_the_form(
    piece: Piece, base: Piece | None, line: Array, height: float
) -> tuple[float, tuple[Step, ...]]:
    """Return the length of a line `height` mm above the inner face, and how it was found.

    A form that cannot be leaves the pattern as it is: the piece is cut so, too.
    """
    flat = line_length(line)
    first = Step("roll the edge along a straight edge", "length on the pattern", flat, "mm")
    on = piece
    if base is not None and piece.build.placing is not None:
        line = pose_on(piece, base).apply(line)
        on, height = base, height + base.thickness
    try:
        shaping = shaping_of(on)
        if isinstance(shaping, Plain):
            return flat, (first,)
        place = own_place(on, 0.5)
        count = int(min(max(flat / FINE, LEAST_PLACES), MOST_PLACES))
        places = np.union1d(np.linspace(0, flat, count), corners_along(line))
        laid = shaping.flat(along_line(line, places), place)
        solid = shaping.space(laid, np.full(len(laid), height), place)
    except InputError:
        return flat, (first,)
    length = float(np.sqrt((np.diff(solid, axis=0) ** 2).sum(axis=1)).sum())
    middle = Step("its own middle above the inner face", "on the form", height, "mm")
    return length, (first, middle, Step("length through its middle", "on the form", length, "mm"))
