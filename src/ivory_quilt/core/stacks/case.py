"""A sewn case over a core: a panel for each face, and a strip around the edge.

The middle of the cloth lies everywhere as far off the foam: half its own thickness and the ease.
"""

import math
from collections.abc import Iterator

import numpy as np

from ivory_quilt.core.editing.resize import offset_shape
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.flatten import laid_flat
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.forming.shaping import ALL_AROUND, Change, Place
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.pattern.build import Cover
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Hand, Piece, Turn
from ivory_quilt.core.pattern.sewing import Sewing
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import Cut, CutContext
from ivory_quilt.core.stacks.layer_places import layer_places
from ivory_quilt.core.stacks.sewing import sewn

LONGEST = 1400.0  # mm: longer strips are joined of equal lengths, as cloth is wide (from memory)


def sewn_case(piece: Piece, cover: Cover, context: CutContext) -> tuple[Cut, ...]:
    """Return both panels and the strip of a sewn case.

    Raises:
        InputError: the panels would have no room on the form.
    """
    return tuple(_case(piece, cover, context))


def _case(piece: Piece, cover: Cover, context: CutContext) -> Iterator[Cut]:
    places = [p for _, _, p in layer_places(piece, context)]
    low = min(p.lift for p in places)
    top = max(p.lift + p.thickness for p in places)
    off = cover.thickness / 2 + cover.ease
    shaping = shaping_of(piece)
    bare = replace(
        piece,
        thickness=cover.thickness,
        material=cover.material,
        lines=(),
        labels=(),
        recipe=None,
        turn=Turn.DIRECTION,
        edges=edges_of(piece),
    )
    around = []
    for suffix, words, height, inner in (
        ("+sewn front", "sewn front", top + off, False),
        ("+sewn back", "sewn back", low - off, True),
    ):
        place = Place(height - cover.thickness / 2, cover.thickness, height)
        flat = laid_flat(bare, shaping, place)
        try:
            panel = offset_shape(flat.shape, off)
        except InputError as error:
            where = f"piece '{piece.name}', {words}"
            raise InputError(where, error.problem, error.expected) from None
        around.append(Outline(panel.outer).length)
        stitched = replace(flat, shape=panel, edges=(), match_marks=_corners(flat, panel))
        cut, told = sewn(stitched, Sewing(cover.margin))
        change = Change("off the foam", off, _off(cover), ALL_AROUND)
        yield Cut(
            suffix,
            words,
            cut,
            cut.shape,
            cut.shape,
            cut.shape,
            (),
            (change, *told),
            other_hand=inner,
            notes=("stitch it to the strip, leave an opening, turn, close by hand",),
        )
    length, wide = sum(around) / 2, top - low + 2 * off
    yield _strip(piece, cover, length, wide)


def _corners(flat: Piece, panel: Shape) -> tuple[tuple[float, float], ...]:
    """Return where the strip's notches meet a panel: beside the pattern's corners."""
    outline = Outline(panel.outer)
    return tuple(outline.place(outline.locate(e.start)[0]) for e in edges_of(flat))


def _strip(piece: Piece, cover: Cover, length: float, wide: float) -> Cut:
    lengths = max(1, math.ceil(length / LONGEST))
    shape = rectangle(length / lengths, wide)
    strip = replace(
        piece,
        shape=shape,
        thickness=cover.thickness,
        material=cover.material,
        lines=(),
        labels=(),
        match_marks=(),
        recipe=None,
        edges=(),
        turn=Turn.DIRECTION,
        count=piece.count * lengths * (2 if piece.hand is Hand.PAIR else 1),
        hand=Hand.NONE if piece.hand is Hand.PAIR else piece.hand,
    )
    cut, told = sewn(strip, Sewing(cover.margin))
    reckoned = Reckoning(
        "case strip",
        {"length": length, "width": wide},
        {"length": length, "width": wide},
        (
            Step("around both panels, in the middle", "mean of their stitches", length, "mm"),
            Step("as wide as the core and the cloth on it", "stack + 2 × off", wide, "mm"),
        ),
        "length of the offset outline",
    )
    change = Change("around the edge", length, reckoned)
    notes = (f"in {lengths} lengths",) if lengths > 1 else ()
    words = "sewn strip"
    return Cut(
        "+sewn strip", words, cut, cut.shape, cut.shape, cut.shape, (), (change, *told), notes=notes
    )


def _off(cover: Cover) -> Reckoning:
    off = cover.thickness / 2 + cover.ease
    said = f"{cover.thickness:g} ÷ 2 + {cover.ease:g}"
    return Reckoning(
        "case",
        {"thickness": cover.thickness, "ease": cover.ease},
        {"off": off},
        (Step("middle of the cloth off the foam", said, off, "mm"),),
        "offset of the outline; the ease is the maker's choice",
    )


def box_case(
    width: float,
    height: float,
    thickness: float,
    cloth: float = 1.0,
    ease: float = 0.0,
    allowance: float = 10.0,
) -> Reckoning:
    """Reckon the sewn case of a box: two panels and a strip around its edge.

    Raises:
        InputError: a value makes no sense.
    """
    for name, value in (("width", width), ("height", height), ("thickness", thickness)):
        above_zero(name, value)
    above_zero("cloth", cloth)
    within("ease", ease, 0, 100)
    within("allowance", allowance, 0, 200)
    off, more = cloth / 2 + ease, 2 * allowance
    w, h, t = width + 2 * off, height + 2 * off, thickness + 2 * off
    return Reckoning(
        "sewn-case",
        {"width": width, "height": height, "thickness": thickness, "cloth": cloth, "ease": ease},
        {
            "panel_width": w + more,
            "panel_height": h + more,
            "strip_length": 2 * (w + h) + more,
            "strip_width": t + more,
        },
        (
            Step("middle of the cloth off the core", f"{cloth:g} ÷ 2 + {ease:g}", off, "mm"),
            Step("panel, cut width", f"{width:g} + 2 × {off:g} + {more:g}", w + more, "mm"),
            Step("panel, cut height", f"{height:g} + 2 × {off:g} + {more:g}", h + more, "mm"),
            Step("strip, cut length", f"2 × ({w:g} + {h:g}) + {more:g}", 2 * (w + h) + more, "mm"),
            Step("strip, cut width", f"{thickness:g} + 2 × {off:g} + {more:g}", t + more, "mm"),
        ),
        "surface of the box that lies so far outside",
        ("Two panels and one strip; leave an opening to turn it.",),
    )


def stitched_metres(cuts: tuple[Cut, ...]) -> float:
    """Return how much is stitched on the cases among some cuts, each once, m."""
    length = 0.0
    for cut in cuts:
        if cut.suffix in ("+sewn front", "+sewn back"):
            ring = next(k.points for k in cut.piece.lines if len(k.points) > 3)
            length += float(np.hypot(*np.diff(ring, axis=0).T).sum())
    return length / 1000
