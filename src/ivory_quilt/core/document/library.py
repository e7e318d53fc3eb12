"""Pieces, groups and whole sets that the shop keeps, and brings into other projects."""

from collections.abc import Iterable

from ivory_quilt.core.document.project import Project, free_name, fresh_group
from ivory_quilt.core.editing.reshape import scaled_piece
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import Measure, Wearer, spot
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import show_number

CLOSE = 0.02  # of a measure: two wearers who differ by less are of one size (our choice)
MOST_PIECES = 2000


class LibrarySet(Struct, frozen=True):
    """Pieces with the seams between them, as the shop keeps them.

    Attributes:
        name: as the maker says: knee cups, the whole beetle.
        tags: words that it is found by.
        made_for: measures of the wearer that it was made for; empty: nobody said.
        when: ISO date on which it was kept.
        note: what is to be known of it.
    """

    id: str
    name: str
    pieces: tuple[Piece, ...]
    seams: tuple[Seam, ...] = ()
    tags: tuple[str, ...] = ()
    made_for: tuple[Measure, ...] = ()
    when: str = ""
    note: str = ""

    def __post_init__(self) -> None:
        if not self.id or not self.name.strip():
            raise InputError("set", "it has no name", "a name such as knee cups")
        if not 1 <= len(self.pieces) <= MOST_PIECES:
            raise InputError(
                f"set '{self.name}'", f"{len(self.pieces)} pieces", f"1 to {MOST_PIECES}"
            )
        ids = {p.id for p in self.pieces}
        if len(ids) != len(self.pieces):
            raise InputError(f"set '{self.name}'", "a piece is in it twice", "each piece once")
        if any(r.piece not in ids for s in self.seams for r in (s.first, s.second)):
            raise InputError(
                f"set '{self.name}'", "a seam's piece is missing", "both of its pieces"
            )

    def found_by(self, words: str) -> bool:
        """Return whether all words typed are in its name, its tags or its pieces' names."""
        text = " ".join((self.name, *self.tags, *(p.name for p in self.pieces))).lower()
        return all(word in text for word in words.lower().split())


class SizeMatch(Struct, frozen=True):
    """How a set that was made for one wearer meets another.

    Attributes:
        spots: (place's id, then, now) of the measures that both have, mm.
        factor: by which the set is scaled to meet them, as nearly as one factor can.
    """

    spots: tuple[tuple[str, float, float], ...]

    @property
    def factor(self) -> float:
        """The mean of now ÷ then (geometric, so that it turns round with the two wearers)."""
        if not self.spots:
            return 1.0
        product = 1.0
        for _, then, now in self.spots:
            product *= now / then
        return float(product ** (1 / len(self.spots)))

    @property
    def same(self) -> bool:
        """Whether the set was made for somebody of this size, as far as anybody knows."""
        return all(abs(now / then - 1) <= CLOSE for _, then, now in self.spots)

    @property
    def sentence(self) -> str:
        """What is to be said of it; empty where nothing is."""
        if not self.spots:
            return ""
        if self.same:
            return "Made for somebody of this size."
        worst = max(self.spots, key=lambda s: abs(s[2] / s[1] - 1))
        place, then, now = worst
        off = show_number(100 * abs(now / then - 1), 0)
        word = "larger" if now > then else "smaller"
        return (
            f"Made for another size: {spot(place).title.lower()} {show_number(then, 0)} mm then, "
            f"{show_number(now, 0)} mm now, {off} % {word}."
        )


def match_of(kept: LibrarySet, wearer: Wearer | None) -> SizeMatch:
    """Return how a set meets a wearer, by the measures that both have."""
    if wearer is None:
        return SizeMatch(())
    known = {m.spot: m.value for m in wearer.measures}
    return SizeMatch(
        tuple((m.spot, m.value, known[m.spot]) for m in kept.made_for if m.spot in known)
    )


def library_set(
    project: Project,
    piece_ids: Iterable[str],
    name: str,
    *,
    tags: Iterable[str] = (),
    wearer: Wearer | None = None,
    when: str = "",
    taken: Iterable[str] = (),
) -> LibrarySet:
    """Return pieces of a project as a set, with the seams between them.

    Args:
        project: whose pieces they are.
        piece_ids: which.
        name: of the set.
        tags: words that it is found by.
        wearer: for whom they were made.
        when: ISO date.
        taken: ids that sets have already.

    Raises:
        InputError: no such piece, or no name.
    """
    ids = list(dict.fromkeys(piece_ids))
    pieces = tuple(project.piece(i) for i in ids)
    seams = tuple(s for s in project.seams if {s.first.piece, s.second.piece} <= set(ids))
    return LibrarySet(
        free_name("set", set(taken)),
        name.strip(),
        pieces,
        seams,
        tuple(dict.fromkeys(t.strip().lower() for t in tags if t.strip())),
        wearer.measures if wearer is not None else (),
        when,
    )


def bring_in(
    project: Project, kept: LibrarySet, factor: float = 1.0
) -> tuple[Project, tuple[str, ...]]:
    """Return a project with a set added, scaled by a factor, and the ids its pieces have there.

    Pieces that were placed on others in the set are so again.

    Raises:
        InputError: the factor is not above zero.
    """
    taken = {p.id for p in project.pieces}
    renamed: dict[str, str] = {}
    for piece in kept.pieces:
        renamed[piece.id] = free_name(piece.id, taken)
        taken.add(renamed[piece.id])
    groups: dict[str, str] = {}
    pieces = []
    for piece in kept.pieces:
        made = scaled_piece(piece, factor) if abs(factor - 1) > 1e-9 else piece
        made = replace(made, id=renamed[piece.id])
        if made.recipe is not None:  # a shape of its own, whatever others were called
            group = made.recipe.group
            groups.setdefault(group, fresh_group(project, group))
            made = replace(made, recipe=replace(made.recipe, group=groups[group]))
        placing = made.build.placing
        if placing is not None and placing.base in renamed:
            placing = replace(placing, base=renamed[placing.base])
            made = replace(made, build=replace(made.build, placing=placing))
        elif placing is not None:
            made = replace(made, build=replace(made.build, placing=None))
        pieces.append(made)

    def moved(ref: EdgeRef) -> EdgeRef:
        return EdgeRef(renamed[ref.piece], ref.edge)

    seams = tuple(replace(s, first=moved(s.first), second=moved(s.second)) for s in kept.seams)
    made_project = replace(
        project, pieces=(*project.pieces, *pieces), seams=(*project.seams, *seams)
    )
    return made_project, tuple(renamed.values())
