"""What is cut for every piece of a project, kept as long as nothing that it depends on changes."""

from collections.abc import Mapping
from functools import cached_property

from ivory_quilt.core.document.fastening import cloth_strip
from ivory_quilt.core.document.project import Project, rule_of
from ivory_quilt.core.edges.profiles import Knife, knives_of
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.pattern.build import PLAIN, LayerSize
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.pattern.piece import Piece, TraceRule
from ivory_quilt.core.pattern.spares import NO_SPARES, SpareRule, spares_of
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.bench_choices import SealOrder
from ivory_quilt.core.stacks.cut import ClothStrip, Cut, CutContext
from ivory_quilt.core.stacks.layering import books_of, cuts_of
from ivory_quilt.core.stacks.lengths import CutLength, cut_lengths
from ivory_quilt.core.stacks.parts import parts_from
from ivory_quilt.core.stock.foam_stock import ShopStock

THIN = 1.0  # mm: cloth that the shop does not have yet


class MadePiece(Struct, frozen=True, dict=True):
    """One piece with all that is cut for it.

    Attributes:
        problem: why it cannot be made as decided; then it is cut as drawn.
        edge_problem: the same of its bevels alone, which hang on its neighbours.
    """

    piece: Piece
    rule: TraceRule
    context: CutContext
    cuts: tuple[Cut, ...]
    parts: tuple[Part, ...]
    problem: str = ""
    edge_problem: str = ""
    spares: SpareRule = NO_SPARES

    @cached_property
    def lengths(self) -> tuple[CutLength, ...]:
        """The shaped lengths and rods that go with it."""
        return cut_lengths(self.piece, self.context.base)


def make_all(
    project: Project,
    stock: ShopStock,
    previous: Mapping[str, MadePiece],
    others: frozenset[str] | None = None,
) -> dict[str, MadePiece]:
    """Return what is cut for each piece, by its id, reusing what did not change.

    `others` are pieces that may be made otherwise than `previous` was; None: any.
    """
    books = {m.id: m.book for m in stock.materials}
    if project.bench.seal is SealOrder.BEFORE_CUT:  # it has shrunk already
        books = {i: replace(b, shrink_along=0.0, shrink_across=0.0) for i, b in books.items()}
    by_id = {p.id: p for p in project.pieces}
    placed: dict[str, list[Piece]] = {}
    for piece in project.pieces:
        on = piece.build.placing
        if on is not None and piece.count and on.base != piece.id:
            placed.setdefault(on.base, []).append(piece)
    strips = _strips(project, stock)
    looked_at = None
    if others is not None:  # fixings hang on wearers, too
        looked_at = others | strips.keys() | {i for i, m in previous.items() if m.context.strips}
    made = {}
    spares = project.spares
    for piece in project.pieces:
        old = previous.get(piece.id)
        if looked_at is not None and old is not None and piece.id not in looked_at:
            made[piece.id] = old
            continue
        context, problem = context_of(piece, project, books, by_id, placed)
        if piece.id in strips:
            context = replace(context, strips=strips[piece.id])
        rule = rule_of(project, piece)
        if (
            old is not None
            and old.piece is piece
            and old.rule == rule
            and old.context == context
            and old.edge_problem == problem
            and old.spares == spares
        ):
            made[piece.id] = old
        elif (
            old is not None
            and old.rule == rule
            and old.context == context
            and old.spares == spares
            and (counted := recounted(old, piece)) is not None
        ):
            made[piece.id] = counted
        else:
            fresh = make_piece(piece, rule, context, problem)
            made[piece.id] = replace(
                fresh, spares=spares, parts=with_spares(fresh.parts, piece, spares)
            )
    return made


def _strips(project: Project, stock: ShopStock) -> dict[str, tuple[ClothStrip, ...]]:
    """Return the strips of cloth that fixings are cut from, by the piece that they are on."""
    found: dict[str, tuple[ClothStrip, ...]] = {}
    for fixing in project.fixings:
        here = [i.foam.thickness for i in stock.items if i.foam.material == fixing.cloth]
        strip = cloth_strip(project, fixing, min(here, default=THIN))
        if strip is not None:
            found[fixing.piece] = (*found.get(fixing.piece, ()), strip)
    return found


def recounted(old: MadePiece, piece: Piece) -> MadePiece | None:
    """Return a made piece with another count, None where more than that is another."""
    before = old.piece.count
    if before == piece.count or replace(piece, count=before) != old.piece:
        return None
    if not (before and piece.count):
        return None  # of none, nothing is cut
    if any(c.piece.count != before for c in old.cuts) or any(p.count != before for p in old.parts):
        return None  # sheets that are sliced, say: what is cut is not as many as there are pieces
    return replace(
        old,
        piece=piece,
        cuts=tuple(replace(c, piece=replace(c.piece, count=piece.count)) for c in old.cuts),
        parts=with_spares(
            tuple(replace(p, count=piece.count) for p in old.parts), piece, old.spares
        ),
    )


def with_spares(parts: tuple[Part, ...], piece: Piece, rule: SpareRule) -> tuple[Part, ...]:
    """Return a piece's parts with as many spares as the piece or the rule says."""
    counts = [spares_of(piece, p.count, rule) for p in parts]
    if not any(counts) and not any(p.spares for p in parts):
        return parts
    return tuple(replace(p, spares=n) for p, n in zip(parts, counts, strict=True))


def context_of(
    piece: Piece,
    project: Project,
    books: Mapping[str, FoamBook],
    by_id: Mapping[str, Piece],
    placed: Mapping[str, list[Piece]],
) -> tuple[CutContext, str]:
    """Return what a piece's cuts depend on, and what is wrong with its knives."""
    knives: tuple[Knife, ...] = ()
    problem = ""
    build = piece.build
    if build.edges:
        try:
            knives = knives_of(piece, project.seams, by_id)
        except InputError as error:
            problem = str(error)
    others = {k.other for k in build.layers if k.size is LayerSize.PIECE}
    outlines = tuple(by_id[i] for i in sorted(others) if i in by_id)
    base = by_id.get(build.placing.base) if build.placing is not None else None
    if base is piece:
        base = None
    here = tuple(placed.get(piece.id, ()))
    # A base and what is glued onto it are bent as one: each needs the other's foam.
    together = (piece, *((base,) if base is not None else ()), *here)
    lying = tuple(p for p in here if not _stands(p))
    standing = tuple(p for p in here if _stands(p))
    base, ground = (None, base) if _stands(piece) else (base, None)
    known = books_of(books, together)
    return CutContext(known, knives, outlines, base, lying, ground, standing), problem


def _stands(piece: Piece) -> bool:
    """Whether a piece stands on another with an edge."""
    return piece.build.placing is not None and bool(piece.build.placing.stands)


def make_piece(piece: Piece, rule: TraceRule, context: CutContext, problem: str = "") -> MadePiece:
    """Derive one piece; one that cannot be made as decided is cut as drawn."""
    try:
        cuts = cuts_of(piece, context)
        parts = parts_from(piece, cuts, rule)
        return MadePiece(piece, rule, context, cuts, parts, problem, problem)
    except InputError as error:
        plain = replace(piece, build=PLAIN)
        cuts = cuts_of(plain, CutContext(context.books, ()))
        parts = parts_from(plain, cuts, rule)
        return MadePiece(piece, rule, context, cuts, parts, str(error), problem)
