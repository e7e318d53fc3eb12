"""All seams of a project together: how they fit, which were lost, what an edit does to them."""

from collections.abc import Callable, Iterable, Mapping
from functools import lru_cache

from ivory_quilt.core.document.project import Project, fresh_id, put_pieces
from ivory_quilt.core.document.resewing import resewn
from ivory_quilt.core.edges.mating import Mate, mate_of
from ivory_quilt.core.editing.surgery import CutLine, parted, with_dart
from ivory_quilt.core.editing.unite import united
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.fit import key_length
from ivory_quilt.core.measure.parts_around import AroundPart, PartsAround
from ivory_quilt.core.pattern.build import Profile, ProfileKind
from ivory_quilt.core.pattern.edges import edges_of, named_edge
from ivory_quilt.core.pattern.paint import with_edge_renamed
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, SeamFit, SeamVerdict, seam_fit
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import show_number

ONE_AFTER_OTHER = 0.05  # of a length: two halves whose lengths make up the whole follow each other


class SeamEntry(Struct, frozen=True):
    """A seam of the book; `fit` is None when one of its edges is no longer there.

    `mate` says how the cut faces come together; None as well where a bevel cannot be cut.
    """

    seam: Seam
    fit: SeamFit | None
    mate: Mate | None = None


class SeamChange(Struct, frozen=True):
    """What an edit does to one seam."""

    seam: Seam
    before: SeamFit
    after: SeamFit | None

    @property
    def sentence(self) -> str:
        """It in words, without the pieces' names."""
        if self.after is None:
            return "an edge is gone"
        was, now = self.before, self.after
        word = {
            SeamVerdict.SITS: "sits",
            SeamVerdict.EASE: "can be eased",
            SeamVerdict.NO: "does not fit",
        }
        off = show_number(abs(now.difference), 1)
        if was.verdict == now.verdict:
            return f"still {word[now.verdict]}, {off} mm apart"
        return f"{word[was.verdict]} now, then {word[now.verdict]}: {off} mm apart"


def seam_book(project: Project) -> tuple[SeamEntry, ...]:
    """Return every seam of a project with its fit."""
    known = {p.id: p for p in project.pieces}
    return tuple(
        SeamEntry(
            s,
            _fit(known.get(s.first.piece), known.get(s.second.piece), s, project.ease),
            _mate(s, known, project.seams),
        )
        for s in project.seams
    )


def _mate(seam: Seam, pieces: Mapping[str, Piece], seams: tuple[Seam, ...]) -> Mate | None:
    try:
        return mate_of(seam, pieces, seams)
    except InputError:
        return None


def fit_of(project: Project, seam: Seam) -> SeamFit | None:
    """Return how one seam fits, None when an edge is not there."""
    known = {p.id: p for p in project.pieces}
    return _fit(known.get(seam.first.piece), known.get(seam.second.piece), seam, project.ease)


def _fit(first: Piece | None, second: Piece | None, seam: Seam, percent: float) -> SeamFit | None:
    if first is None or second is None:
        return None
    return _kept_fit(first, second, seam, percent / 100)


@lru_cache(maxsize=4096)
def _kept_fit(first: Piece, second: Piece, seam: Seam, ease: float) -> SeamFit | None:
    try:
        return seam_fit(first, second, seam, ease)
    except InputError:
        return None


def seam_name(project: Project, seam: Seam) -> str:
    """Return a seam in words: "shin cuff B to shin ridge C"."""
    names = {p.id: p.name for p in project.pieces}
    first = f"{names.get(seam.first.piece, '?')} {seam.first.edge}"
    if seam.onto_other_hand:
        return f"{first} to its other hand"
    return f"{first} to {names.get(seam.second.piece, '?')} {seam.second.edge}"


def join_edges(project: Project, seam: Seam) -> Project:
    """Add a seam; its pieces keep their edges from now on, so that names stay true.

    Raises:
        InputError: no such piece or edge, or an edge is in a seam already.
    """
    for ref in (seam.first, seam.second):
        piece = project.piece(ref.piece)
        if ref.edge not in {e.name for e in edges_of(piece)}:
            raise InputError(f"piece '{piece.name}'", f"it has no edge '{ref.edge}'", "an edge")
        if any(s.touches(ref) for s in project.seams):
            raise InputError(
                f"edge {ref.edge} of '{piece.name}'", "it is in a seam already", "a free edge"
            )
    project = keep_edges(project, (seam.first.piece, seam.second.piece))
    return replace(project, seams=(*project.seams, seam))


def let_meet(project: Project, seam: Seam) -> Project:
    """Let both edges of a seam be bevelled to meet each other."""
    project = keep_edges(project, [seam.first.piece, seam.second.piece])
    for ref in dict.fromkeys((seam.first, seam.second)):
        own = project.piece(ref.piece)
        build = own.build.with_profile(ref.edge, Profile(ProfileKind.MEET))
        project = put_pieces(project, [replace(own, build=build)])
    return project


def keep_edges(project: Project, piece_ids: Iterable[str]) -> Project:
    """Let pieces keep the edges that they have now, whatever happens to their outline."""
    pieces = [project.piece(i) for i in dict.fromkeys(piece_ids)]
    return put_pieces(project, [replace(p, edges=edges_of(p)) for p in pieces if not p.edges])


def open_seam(project: Project, seam: Seam) -> Project:
    """Take a seam out; the pieces stay."""
    return replace(project, seams=tuple(s for s in project.seams if s != seam))


def put_seam(project: Project, old: Seam, new: Seam) -> Project:
    """Put a seam in the place of another."""
    return replace(project, seams=tuple(new if s == old else s for s in project.seams))


def seam_changes(before: Project, after: Project) -> tuple[SeamChange, ...]:
    """Return the seams whose lengths an edit changes, in the book's order."""
    changed = []
    for seam in before.seams:
        was, now = fit_of(before, seam), fit_of(after, seam)
        if was is None or seam not in after.seams:
            continue
        if now is None or abs(now.first - was.first) + abs(now.second - was.second) > 0.01:
            changed.append(SeamChange(seam, was, now))
    return tuple(changed)


def joined_by_thickness(
    project: Project, piece_id: str, before: Mapping[str, Piece], after: Mapping[str, Piece]
) -> tuple[tuple[Seam, SeamFit, SeamFit], ...]:
    """Return the seams of a piece whose fit differs between two ways of cutting its project."""
    found = []
    for seam in project.seams:
        if piece_id not in (seam.first.piece, seam.second.piece):
            continue
        was, now = (
            _fit(k.get(seam.first.piece), k.get(seam.second.piece), seam, project.ease)
            for k in (before, after)
        )
        if was and now and abs(was.difference - now.difference) > 0.05:
            found.append((seam, was, now))
    return tuple(found)


# Edits of pieces that make or move seams


def _moved_refs(seams: Iterable[Seam], moved: Callable[[EdgeRef], EdgeRef]) -> tuple[Seam, ...]:
    """Return seams with each edge they name put through `moved`."""
    return tuple(replace(s, first=moved(s.first), second=moved(s.second)) for s in seams)


def rename_edge(project: Project, piece_id: str, old: str, new: str) -> Project:
    """Give an edge another name, in its piece, in all seams, and where it is painted.

    Raises:
        InputError: no such edge, or the name is empty or taken.
    """
    project = put_pieces(project, [named_edge(project.piece(piece_id), old, new)])

    def moved(ref: EdgeRef) -> EdgeRef:
        return EdgeRef(piece_id, new.strip()) if ref == EdgeRef(piece_id, old) else ref

    return replace(
        project,
        seams=_moved_refs(project.seams, moved),
        paint=with_edge_renamed(project.paint, piece_id, old, new.strip()),
    )


def part_piece(project: Project, piece_id: str, line: CutLine) -> Project:
    """Part a piece along a line into two pieces, with a seam between them.

    Seams go on with the edges that they join; where the line crosses a joined edge, the edge that
    it meets is parted at the same share of its length.

    Raises:
        InputError: see `surgery.parted`.
    """
    piece = project.piece(piece_id)
    second_id = fresh_id(project, f"{piece_id}-2")
    one, other, cut, cut_other = parted(piece, line, second_id)
    at = project.pieces.index(piece)
    pieces = (*project.pieces[:at], one, other, *project.pieces[at + 1 :])
    girths = tuple(_parted_around(a, piece, one, other) for a in project.girths)
    cut_open = replace(project, pieces=pieces, girths=girths)
    made = resewn(project, cut_open, piece_id, (one.id, other.id))
    between = Seam(EdgeRef(one.id, cut.name), EdgeRef(other.id, cut_other.name))
    return replace(made, seams=(*made.seams, between))


def unite_pieces(project: Project, seam: Seam) -> Project:
    """Make the two pieces of a seam one; seams of their other edges go on.

    Raises:
        InputError: see `unite.united`.
    """
    first, second = project.piece(seam.first.piece), project.piece(seam.second.piece)
    made, renamed = united(first, second, seam)

    def moved(ref: EdgeRef) -> EdgeRef:
        if ref.piece != second.id:
            return ref
        return EdgeRef(first.id, renamed.get(ref.edge, ref.edge))

    others = [s for s in project.seams if {s.first, s.second} != {seam.first, seam.second}]
    seams = _moved_refs(others, moved)
    pieces = tuple(made if p.id == first.id else p for p in project.pieces if p.id != second.id)
    forms = tuple(
        replace(f, piece=first.id if f.piece == second.id else f.piece) for f in project.forms
    )
    girths = tuple(_united_around(a, first.id, second.id) for a in project.girths)
    return replace(project, pieces=pieces, seams=seams, forms=forms, girths=girths)


def _united_around(around: PartsAround, first: str, second: str) -> PartsAround:
    """Return a girth whose two parts became one piece: it goes around once for both."""
    there = any(p.piece == first for p in around.parts)
    kept = (p for p in around.parts if p.piece != second or not there)
    return replace(
        around, parts=tuple(replace(p, piece=first) if p.piece == second else p for p in kept)
    )


def _parted_around(around: PartsAround, old: Piece, one: Piece, other: Piece) -> PartsAround:
    """Return a girth with both halves of a part, where they go around one after the other."""
    parts: list[AroundPart] = []
    for part in around.parts:
        parts.append(part)
        long = key_length(old.shape, part.key)
        both = key_length(one.shape, part.key) + key_length(other.shape, part.key)
        if part.piece == old.id and abs(both - long) < ONE_AFTER_OTHER * long:
            parts.append(replace(part, piece=other.id))
    return replace(around, parts=tuple(parts))


def add_dart(
    project: Project,
    piece_id: str,
    mouth: tuple[float, float],
    apex: tuple[float, float],
    width: float,
) -> Project:
    """Cut a dart into a piece, and join its legs.

    Raises:
        InputError: see `surgery.with_dart`.
    """
    made, one, other = with_dart(project.piece(piece_id), mouth, apex, width)
    seam = Seam(EdgeRef(piece_id, one.name), EdgeRef(piece_id, other.name))
    cut = resewn(project, put_pieces(project, [made]), piece_id, (piece_id,))
    return replace(cut, seams=(*cut.seams, seam))


def joined_groups(project: Project) -> tuple[tuple[Piece, ...], ...]:
    """Return pieces that seams hold together, each group in the project's order; then the rest."""
    group: dict[str, set[str]] = {p.id: {p.id} for p in project.pieces}
    for seam in project.seams:
        a, b = group.get(seam.first.piece), group.get(seam.second.piece)
        if a is None or b is None or a is b:
            continue
        a |= b
        for member in b:
            group[member] = a
    seen: set[str] = set()
    groups, alone = [], []
    sewn = {r.piece for s in project.seams for r in (s.first, s.second)}
    for piece in project.pieces:
        if piece.id in seen:
            continue
        if piece.id not in sewn:
            alone.append(piece)
            continue
        members = group[piece.id]
        seen |= members
        groups.append(tuple(p for p in project.pieces if p.id in members))
    return (*groups, tuple(alone)) if alone else tuple(groups)
