"""The document: everything the maker decided, and nothing that can be worked out.

A `Project` is immutable. An edit is a function from project to project that shares whatever did
not change, so that undo is the previous value and derived things can be kept by identity.
"""

from collections.abc import Collection, Iterable, Mapping
from enum import StrEnum

from ivory_quilt.core.editing.reshape import scaled_piece
from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.formup.choices import GroupForm
from ivory_quilt.core.measure.fit_check import FitCheck
from ivory_quilt.core.measure.parts_around import PartsAround
from ivory_quilt.core.measure.study import Study
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.fixing import Fixing
from ivory_quilt.core.pattern.paint import PaintArea, check_paint
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import PLAIN_RULE, Piece, TraceRule
from ivory_quilt.core.pattern.seams import Seam
from ivory_quilt.core.pattern.spares import NO_SPARES, SpareRule
from ivory_quilt.core.pattern.thing import Thing
from ivory_quilt.core.pattern.version import PieceVersion
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.bench_choices import USUAL_CHOICES, BenchChoices
from ivory_quilt.core.shapes.recipe import remade
from ivory_quilt.core.stock.spent_sheet import SpentSheet

CopyKey = tuple[str, int]
"""A part's id and the number of its copy."""


class Paper(StrEnum):
    """Paper that templates are printed on."""

    A4 = "A4"
    LETTER = "Letter"
    A3 = "A3"
    A2 = "A2"
    A1 = "A1"
    A0 = "A0"
    TABLOID = "Tabloid"
    ROLL_24 = "Roll 24 in"
    ROLL_36 = "Roll 36 in"


class KeptLayout(Struct, frozen=True):
    """A layout of one foam that the maker keeps; it stands until another is kept.

    `pins` are the copies that must stay where they are when the rest is laid anew.
    """

    foam: Foam
    placements: tuple[Placement, ...] = ()
    pins: frozenset[CopyKey] = frozenset()

    def pinned(self) -> tuple[Placement, ...]:
        """Return the placements that are pinned."""
        return tuple(p for p in self.placements if (p.piece, p.copy) in self.pins)


class Project(Struct, frozen=True):
    """One suit: its pieces, the rules to lay them by, and the layouts the maker keeps.

    Attributes:
        gap: least distance between two parts on a sheet, mm; 2 mm is from memory, no source: a
            blade's width and a hand's unsteadiness.
        paper: what templates are printed on.
        seams: edges that are glued together; a seam whose edge is gone stays until it is let go.
        ease: how much of a seam can be eased in, percent.
        rule: how templates are traced and pieces trimmed.
        halves: whether symmetrical pieces are printed as a half on the fold.
        studies: reference pictures with lines over them.
        troupe: whose suits are made, in which size; empty: one suit as it is drawn.
        things: what is not foam: closures, lights, shoes.
        spares: how many parts are cut beyond what the suit takes.
        spent: sheets that are cut already; what they hold need not be laid any more.
        bench: when and by which school it is made.
        fixings: straps, buckles, rivets and the like.
        checks: of fit and movement, before anything permanent.
        paint: regions by tone, in the order in which they are painted.
        forms: how groups of pieces are formed up.
        girths: which parts go around which girths.
        versions: pieces as they once were, the oldest first.
    """

    name: str = "Untitled"
    pieces: tuple[Piece, ...] = ()
    gap: float = 2.0
    paper: Paper = Paper.A4
    layouts: tuple[KeptLayout, ...] = ()
    wearers: tuple[Wearer, ...] = ()
    seams: tuple[Seam, ...] = ()
    ease: float = 2.0
    rule: TraceRule = PLAIN_RULE
    halves: bool = False
    studies: tuple[Study, ...] = ()
    troupe: tuple[Member, ...] = ()
    things: tuple[Thing, ...] = ()
    spares: SpareRule = NO_SPARES
    spent: tuple[SpentSheet, ...] = ()
    bench: BenchChoices = USUAL_CHOICES
    fixings: tuple[Fixing, ...] = ()
    checks: tuple[FitCheck, ...] = ()
    paint: tuple[PaintArea, ...] = ()
    forms: tuple[GroupForm, ...] = ()
    girths: tuple[PartsAround, ...] = ()
    versions: tuple[PieceVersion, ...] = ()

    def __post_init__(self) -> None:
        if not 0 <= self.ease <= 20:
            raise InputError("ease", f"{self.ease:g} %", "0 to 20 %")
        if not 0 <= self.gap <= 100:
            raise InputError("gap", f"{self.gap:g} mm", "0 to 100 mm")
        check_paint(self.paint)
        cut = [s.id for s in self.spent]
        if len(set(cut)) != len(cut):
            raise InputError("cut sheets", "an id is used twice", "different ids")
        girths = [a.id for a in self.girths]
        if len(set(girths)) != len(girths):
            raise InputError("girths", "an id is used twice", "different ids")
        ids = [p.id for p in self.pieces]
        if len(set(ids)) != len(ids):
            twice = next(i for i in ids if ids.count(i) > 1)
            raise InputError(f"piece '{twice}'", "the id is used twice", "different ids")
        known = {w.id for w in self.wearers}
        members = [m.wearer for m in self.troupe]
        for wearer in members:
            if wearer not in known:
                raise InputError("troupe", f"no wearer '{wearer}'", "a wearer's id")
            if members.count(wearer) > 1:
                raise InputError("troupe", f"'{wearer}' is in it twice", "each wearer once")

    def piece(self, piece_id: str) -> Piece:
        """Return the piece with this id.

        Raises:
            InputError: there is none.
        """
        for piece in self.pieces:
            if piece.id == piece_id:
                return piece
        raise InputError(f"piece '{piece_id}'", "it is not in the project", "a piece's id")

    def piece_named(self, text: str, where: str, expected: str = "a piece's name") -> Piece:
        """Return the piece that a text names, by name or id, capitals or not.

        Raises:
            InputError: at `where`: there is none.
        """
        wish = text.strip().lower()
        for piece in self.pieces:
            if wish and wish in (piece.name.lower(), piece.id.lower()):
                return piece
        problem = f"'{text}'{nearest(text, [p.name for p in self.pieces])}"
        raise InputError(where, problem, expected)

    def wearer(self, wearer_id: str) -> Wearer:
        """Return the wearer with this id.

        Raises:
            InputError: there is none.
        """
        for wearer in self.wearers:
            if wearer.id == wearer_id:
                return wearer
        raise InputError(f"wearer '{wearer_id}'", "not in the project", "a wearer's id")

    def layout(self, foam: Foam) -> KeptLayout | None:
        """Return the layout kept for one foam, or None."""
        return next((k for k in self.layouts if k.foam == foam), None)


def fresh_id(project: Project, wish: str) -> str:
    """Return `wish`, or `wish-2`, `wish-3`, ... when it is taken."""
    return free_name(wish, {p.id for p in project.pieces})


def free_name(wish: str, taken: Collection[str]) -> str:
    """Return `wish`, or `wish-2`, `wish-3`, ... when it is `taken`."""
    name, n = wish, 1
    while name in taken:
        n += 1
        name = f"{wish}-{n}"
    return name


def add_pieces(project: Project, pieces: Iterable[Piece]) -> Project:
    """Add pieces at the end; ids that are taken are renewed."""
    taken = {p.id for p in project.pieces}
    added = []
    for piece in pieces:
        name = free_name(piece.id, taken)
        taken.add(name)
        added.append(piece if name == piece.id else replace(piece, id=name))
    return replace(project, pieces=(*project.pieces, *added))


def change_piece(project: Project, piece_id: str, **changes: object) -> Project:
    """Change fields of one piece; see `change_pieces`."""
    return change_pieces(project, [piece_id], **changes)


def change_pieces(project: Project, piece_ids: Iterable[str], **changes: object) -> Project:
    """Change the same fields of several pieces.

    Raises:
        InputError: no such piece, or a value that makes no sense.
    """
    wanted = set(piece_ids)
    for piece_id in wanted:
        project.piece(piece_id)
    pieces = tuple(
        replace(p, **changes) if p.id in wanted else p  # type: ignore[arg-type]
        for p in project.pieces
    )
    return replace(project, pieces=pieces)


def put_pieces(project: Project, pieces: Iterable[Piece]) -> Project:
    """Put pieces in place of those with the same ids.

    Raises:
        InputError: the project has no such piece.
    """
    fresh = {p.id: p for p in pieces}
    for piece_id in fresh:
        project.piece(piece_id)
    return replace(project, pieces=tuple(fresh.get(p.id, p) for p in project.pieces))


def shape_pieces(project: Project, group: str) -> tuple[Piece, ...]:
    """Return the pieces of one parametric shape, in its order."""
    found = [p for p in project.pieces if p.recipe is not None and p.recipe.group == group]
    return tuple(sorted(found, key=lambda p: p.recipe.index if p.recipe else 0))


def remake_shape(project: Project, group: str, values: Mapping[str, str]) -> Project:
    """Make a parametric shape anew with other numbers; its pieces stay where they stand.

    Raises:
        InputError: there is no such shape, or a number makes no sense.
    """
    old = shape_pieces(project, group)
    if not old:
        raise InputError(f"shape '{group}'", "it is not in the project", "a shape's group")
    kept = {p.id for p in old}
    fresh = remade(old, values)
    again = {p.id: p for p in fresh if p.id in kept}
    added = [p for p in fresh if p.id not in kept]
    pieces: list[Piece] = []
    for piece in project.pieces:
        if piece.id not in kept:
            pieces.append(piece)
        elif piece.id in again:
            pieces.append(again[piece.id])
        if piece is old[-1]:
            pieces += added
    return replace(add_pieces(replace(project, pieces=()), pieces), seams=project.seams)


def fresh_group(project: Project, wish: str) -> str:
    """Return a name for a new shape's group that no piece has."""
    return free_name(wish, {p.recipe.group for p in project.pieces if p.recipe is not None})


def remove_pieces(project: Project, piece_ids: Iterable[str]) -> Project:
    """Take pieces out of the project, with the seams that held them and their fixings."""
    gone = set(piece_ids)
    fixings = tuple(f for f in project.fixings if f.piece not in gone)
    asked = {f.thing for f in project.fixings if f.piece in gone}
    things = tuple(t for t in project.things if t.id not in asked)
    pieces = tuple(p for p in project.pieces if p.id not in gone)
    seams = tuple(s for s in project.seams if not gone & {s.first.piece, s.second.piece})
    paint = tuple(
        replace(a, pieces=tuple(p for p in a.pieces if p not in gone))
        for a in project.paint
        if not a.pieces or set(a.pieces) - gone
    )
    forms = tuple(replace(f, piece=_neighbour(project, f.piece, gone)) for f in project.forms)
    after = replace(project, pieces=pieces, seams=seams, fixings=fixings)
    forms = tuple(f for f in forms if f.piece not in gone)
    girths = tuple(
        replace(a, parts=tuple(p for p in a.parts if p.piece not in gone)) for a in project.girths
    )
    return replace(after, things=things, paint=paint, forms=forms, girths=girths)


def _neighbour(project: Project, piece_id: str, gone: set[str]) -> str:
    """Return a piece that stays and is joined to one that goes; the piece itself where none is."""
    if piece_id not in gone:
        return piece_id
    joined = (
        i
        for s in project.seams
        for i in (s.first.piece, s.second.piece)
        if piece_id in (s.first.piece, s.second.piece) and i not in gone
    )
    return next(joined, piece_id)


def keep_layout(project: Project, kept: KeptLayout) -> Project:
    """Keep a layout in place of the one kept for the same foam."""
    others = tuple(k for k in project.layouts if k.foam != kept.foam)
    return replace(project, layouts=tuple(sorted((*others, kept), key=lambda k: k.foam)))


def move_part(kept: KeptLayout, moved: Placement) -> KeptLayout:
    """Return the layout with one copy placed anew."""
    key = (moved.piece, moved.copy)
    placements = tuple(moved if (p.piece, p.copy) == key else p for p in kept.placements)
    return replace(kept, placements=placements)


def set_pins(kept: KeptLayout, keys: Iterable[CopyKey], *, pinned: bool) -> KeptLayout:
    """Return the layout with copies pinned or unpinned."""
    pins = kept.pins | set(keys) if pinned else kept.pins - set(keys)
    return replace(kept, pins=frozenset(pins))


def scale_pieces(project: Project, piece_ids: Iterable[str], factor: float) -> Project:
    """Scale pieces with their lines and marks; foam thickness stays, links to numbers go.

    Raises:
        InputError: no such piece, or a factor that makes no sense.
    """
    return put_pieces(project, [scaled_piece(project.piece(i), factor) for i in piece_ids])


def set_name(project: Project, name: str) -> Project:
    """Rename the project.

    Raises:
        InputError: the name is empty.
    """
    if not name.strip():
        raise InputError("project name", "it is empty", "a name")
    return replace(project, name=name.strip())


def set_paper(project: Project, paper: Paper) -> Project:
    """Choose the paper that templates are printed on."""
    return replace(project, paper=paper)


def set_rule(project: Project, rule: TraceRule) -> Project:
    """Choose how templates are traced and pieces trimmed, where a piece has no rule of its own."""
    return replace(project, rule=rule)


def set_halves(project: Project, *, halves: bool) -> Project:
    """Choose whether symmetrical pieces are printed as a half on the fold."""
    return replace(project, halves=halves)


def set_ease(project: Project, percent: float) -> Project:
    """Choose how much of a seam can be eased in, percent.

    Raises:
        InputError: not 0 to 20 %.
    """
    return replace(project, ease=percent)


def set_spares(project: Project, rule: SpareRule) -> Project:
    """Choose how many parts are cut beyond what the suit takes."""
    return replace(project, spares=rule)


def rule_of(project: Project, piece: Piece) -> TraceRule:
    """Return how a piece is traced and trimmed: its own rule, or the project's."""
    return piece.rule if piece.rule is not None else project.rule


def set_gap(project: Project, gap: float) -> Project:
    """Choose the least distance between two parts on a sheet, mm.

    Raises:
        InputError: not 0 to 100 mm.
    """
    return replace(project, gap=gap)
