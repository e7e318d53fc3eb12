"""Every wearer's suit: the project's pieces in their size, and what is cut of them.

Suits of one size share everything but the names of their parts; what did not change since the last
plan is taken over.
"""

from collections.abc import Iterator, Mapping

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.editing.reshape import scaled_piece
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.making import MadePiece, make_all, with_spares
from ivory_quilt.core.record import Struct, field, replace
from ivory_quilt.core.stacks.cut import Cut
from ivory_quilt.core.stock.foam_stock import ShopStock

FOR = "@"  # between a part's id and its wearer's
MOST_NAMES = 3  # that stand on a template


class Suit(Struct, frozen=True):
    """What is cut for one wearer; without a member, the pieces as they are drawn, once.

    Attributes:
        member: who, how many and in which size.
        name: the wearer's name.
        made: what is cut for each piece, by the piece's id.
        parts: of each piece, by its id, named for the wearer and as often as suits are made.
    """

    member: Member | None
    name: str
    made: Mapping[str, MadePiece]
    parts: Mapping[str, tuple[Part, ...]]
    drawn: Mapping[str, Piece] = field(default_factory=dict)
    """The pieces that the sized ones were made of."""

    @property
    def count(self) -> int:
        """How many suits alike."""
        return self.member.count if self.member is not None else 1

    def all_parts(self) -> Iterator[Part]:
        """Yield the parts of every piece."""
        for parts in self.parts.values():
            yield from parts


def suits_of(
    project: Project,
    stock: ShopStock,
    made: Mapping[str, MadePiece],
    previous: tuple[Suit, ...],
    others: frozenset[str] | None = None,
) -> tuple[Suit, ...]:
    """Return all suits of a project; `made` is what is cut of the pieces as drawn.

    `others` are pieces that may be made otherwise than in `previous`; None: any.
    """
    if not project.troupe:
        return (Suit(None, "", made, {i: m.parts for i, m in made.items()}),)
    before = {s.member.wearer: s for s in previous if s.member is not None}
    by_size: dict[object, Suit] = {}
    suits = []
    for member in project.troupe:
        old = before.get(member.wearer)
        alike = by_size.get(member.size)
        cut = alike.made if alike is not None else _sized(project, stock, made, member, old, others)
        name = project.wearer(member.wearer).name
        parts = _named(cut, member, name, old)
        suit = Suit(member, name, cut, parts, {p.id: p for p in project.pieces})
        by_size.setdefault(member.size, suit)
        suits.append(suit)
    return tuple(suits)


def _sized(
    project: Project,
    stock: ShopStock,
    made: Mapping[str, MadePiece],
    member: Member,
    old: Suit | None,
    others: frozenset[str] | None,
) -> Mapping[str, MadePiece]:
    """Return what is cut of all pieces in one size."""
    pieces = []
    for piece in project.pieces:
        factor = member.scale_of(piece.id)
        if abs(factor - 1.0) <= 1e-9:
            pieces.append(piece)
        elif (
            old is not None
            and old.member is not None
            and old.drawn.get(piece.id) is piece
            and old.member.scale_of(piece.id) == factor
        ):
            pieces.append(old.made[piece.id].piece)
        else:
            pieces.append(_scaled(piece, factor))
    if all(a is b for a, b in zip(pieces, project.pieces, strict=True)):
        return made
    sized = replace(project, pieces=tuple(pieces))
    if old is None or old.member is None:
        return make_all(sized, stock, {})
    alike = old.member.size == member.size
    return make_all(sized, stock, old.made, others if alike else None)


def _scaled(piece: Piece, factor: float) -> Piece:
    """Return a piece in another size, with the edges of the drawn one.

    Looked for anew, in a smaller outline a corner might be none: an edge, and the bevel on it,
    would be another.
    """
    return scaled_piece(replace(piece, edges=edges_of(piece)), factor)


def _named(
    cut: Mapping[str, MadePiece], member: Member, name: str, old: Suit | None
) -> dict[str, tuple[Part, ...]]:
    """Return the parts under their wearer's name; those of before where nothing changed."""
    same = old is not None and old.member == member and old.name == name
    found = {}
    for piece_id, made in cut.items():
        if same and old is not None and old.made.get(piece_id) is made:
            found[piece_id] = old.parts[piece_id]
        else:
            named = tuple(
                replace(
                    part,
                    id=f"{part.id}{FOR}{member.wearer}",
                    count=part.count * member.count,
                    wearer=name,
                    together=f"{part.together}{FOR}{member.wearer}" if part.together else "",
                )
                for part in made.parts
            )
            found[piece_id] = with_spares(named, made.piece, made.spares)
    return found


def wearers_of(suits: tuple[Suit, ...]) -> list[tuple[str, str]]:
    """Return who gets a suit: (wearer's id, name); nobody where the pieces are made as drawn."""
    return [(s.member.wearer, s.name) for s in suits if s.member is not None]


class TemplateCut(Struct, frozen=True):
    """One thing to cut, as a template shows it.

    Attributes:
        piece: as it is cut, in its size, how often for all suits of that size.
        cut: what it is of its piece.
        piece_id: the project's piece.
        place: which of the things that are cut for its piece; 0 is the piece itself.
        whom: for whom, in words; empty where nobody is named.
        owner: the id of the first of those wearers, or empty.
        scale: factor on the piece as drawn.
    """

    piece: Piece
    cut: Cut
    piece_id: str
    place: int
    whom: str = ""
    owner: str = ""
    scale: float = 1.0


def template_cuts_of(suits: tuple[Suit, ...], wearer: str = "") -> tuple[TemplateCut, ...]:
    """Return what templates are made of: each piece as it is cut, with its layers, in each size.

    Suits of one size share their templates, which say for whom they are.

    Args:
        suits: of a plan.
        wearer: the id of the one wearer they are for; empty: all.
    """
    sizes: dict[object, list[Suit]] = {}
    for suit in suits:
        if suit.member is None:
            sizes[None] = [suit]
        elif not wearer or suit.member.wearer == wearer:
            sizes.setdefault(suit.member.size, []).append(suit)
    found: list[TemplateCut] = []
    for alike in sizes.values():
        member, many = alike[0].member, sum(s.count for s in alike)
        for ident, made in alike[0].made.items():
            for place, cut in enumerate(made.cuts):
                name = cut.piece.id + cut.suffix
                piece = replace(cut.piece, id=name, name=cut.name, rule=made.rule)
                if member is None:
                    found.append(TemplateCut(piece, cut, ident, place))
                    continue
                owner = member.wearer
                sized = replace(piece, id=f"{name}{FOR}{owner}", count=piece.count * many)
                scale = member.scale_of(ident)
                found.append(TemplateCut(sized, cut, ident, place, _for_whom(alike), owner, scale))
    return tuple(found)


def _for_whom(suits: list[Suit]) -> str:
    names = [s.name for s in suits]
    if len(names) <= MOST_NAMES:
        return ", ".join(names)
    return f"{', '.join(names[: MOST_NAMES - 1])} and {len(names) - MOST_NAMES + 1} more"
