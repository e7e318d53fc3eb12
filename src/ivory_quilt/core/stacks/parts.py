"""Parts: every cut of a piece, once for each hand, as it lies on a sheet with the skin face up."""

from ivory_quilt.core.edges.profiles import apart, widest
from ivory_quilt.core.geometry.shape import Array, Pose, Shape
from ivory_quilt.core.pattern.edges import edges_moved, edges_of
from ivory_quilt.core.pattern.part import BevelledEdge, Part
from ivory_quilt.core.pattern.piece import FaceUp, Hand, LineKind, Piece, PieceLine, TraceRule
from ivory_quilt.core.stacks.cut import Cut
from ivory_quilt.core.stacks.layering import trimmed

_MIRROR = Pose(0.0, 0.0, 0.0, mirrored=True)


def parts_from(piece: Piece, cuts: tuple[Cut, ...], rule: TraceRule) -> tuple[Part, ...]:
    """Return the parts of cuts that were derived already."""
    return tuple(part for cut in cuts for part in _hands(piece, trimmed(cut, rule)))


def _hands(piece: Piece, cut: Cut) -> list[Part]:
    as_cut = cut.piece
    flip = (as_cut.face is FaceUp.TEXTURED) != cut.other_hand
    base = piece.id + cut.suffix
    if as_cut.hand is Hand.PAIR:
        hands = [
            (f"{base}/{hand.value}", hand, hand is not as_cut.drawn_hand)
            for hand in (Hand.LEFT, Hand.RIGHT)
        ]
    else:
        hands = [(base, as_cut.hand, False)]
    runs = apart(cut.outer, cut.footprint)
    bevels = _bevels(cut, cut.outer, 1.0), _bevels(cut, cut.inner, -1.0)
    return [
        _part(piece, cut, part_id, hand, runs, bevels, mirrored=flip != other)
        for part_id, hand, other in hands
    ]


def _bevels(cut: Cut, outline: Shape, seen: float) -> tuple[BevelledEdge, ...]:
    """Return where edges lie on a face that are not square; one that is gone is none.

    `seen`: -1 from the other face, where what leans out leans in.
    """
    angled = {k.edge: k.angle for k in cut.knives if k.angle}
    width = widest(cut.knives, cut.foam.thickness)
    known = edges_moved(edges_of(cut.piece), outline, width) if angled else ()
    here = (e for e in known if e.name in angled)
    return tuple(BevelledEdge(e.name, seen * angled[e.name], e.start, e.stop) for e in here)


def _part(
    piece: Piece,
    cut: Cut,
    part_id: str,
    hand: Hand,
    runs: list[Array],
    bevels: tuple[tuple[BevelledEdge, ...], tuple[BevelledEdge, ...]],
    *,
    mirrored: bool,
) -> Part:
    """Return one hand's part; `runs` are where bevels run out beside the knife's line."""
    as_cut = cut.piece
    lines, marks = as_cut.lines, as_cut.match_marks
    shape, up, down = cut.footprint, cut.outer, cut.inner
    near, far = bevels
    if mirrored:
        lines = tuple(line.placed(_MIRROR) for line in lines)
        marks = tuple((-x, y) for x, y in marks)
        shape, up, down = _mirrored(shape, up, down)
        near, far = (tuple(e.mirrored() for e in found) for found in bevels)
    bevelled = cut.outer is not cut.inner
    beside = tuple(PieceLine(LineKind.OTHER, run) for run in runs)
    lines = (*lines, *((run.placed(_MIRROR) for run in beside) if mirrored else beside))
    return Part(
        id=part_id,
        piece_id=piece.id,
        name=cut.name,
        hand=hand,
        foam=cut.foam,
        shape=shape,
        lines=lines,
        match_marks=marks,
        count=as_cut.count,
        mirrored=mirrored,
        may_flip=as_cut.face is FaceUp.EITHER and not bevelled,
        turn=as_cut.turn,
        marked=up if bevelled else None,
        far=down if bevelled else None,
        bevels=near,
        far_bevels=far,
        volume=cut.volume,
        notes=cut.notes,
        together=piece.id if any(c.together for c in piece.build.layers) else "",
        wanted=piece.wanted,
    )


def _mirrored(*shapes: Shape) -> list[Shape]:
    """Return shapes mirrored; the same object twice stays the same."""
    made: dict[int, Shape] = {}
    return [made.setdefault(id(s), s.mirrored()) for s in shapes]
