"""Versions of the piece that is drafted, without a widget."""

from collections.abc import Callable
from datetime import date

from ivory_quilt.core.document.versions import (
    add_mock_ups,
    drop_version,
    keep_version,
    next_name,
    note_version,
    take_back,
    versions_of,
)
from ivory_quilt.core.editing.comparison import Comparison, compared
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.version import PieceVersion
from ivory_quilt.core.units import counted, show_number, typed_length
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.draft.telling import told_of_seams

MOST_EDGES = 4  # that are told


class VersionPresenter:
    """What a piece once was, laid over what it is."""

    def __init__(self, session: Session, piece: Callable[[], Piece | None]) -> None:
        """Keep versions of what `piece` returns."""
        self._session, self._piece = session, piece
        self.today: Callable[[], date] = date.today
        self.with_others = False
        """Whether the other selected pieces are kept and taken back with it."""
        self._compared: tuple[Piece, Piece, Comparison] | None = None
        self.beside = ""
        """The version that the piece is compared with."""

    @property
    def ids(self) -> tuple[str, ...]:
        """The pieces that are kept together."""
        piece = self._piece()
        if piece is None:
            return ()
        known = {p.id for p in self._session.project.pieces}
        others = [i for i in self._session.selected if i in known and i != piece.id]
        return (piece.id, *others) if self.with_others else (piece.id,)

    @property
    def others(self) -> int:
        """How many other pieces are selected."""
        piece = self._piece()
        known = {p.id for p in self._session.project.pieces}
        return len({i for i in self._session.selected if i in known} - {piece.id if piece else ""})

    @property
    def known(self) -> tuple[PieceVersion, ...]:
        """The versions of the piece."""
        piece = self._piece()
        return versions_of(self._session.project, (piece.id,)) if piece is not None else ()

    def next_name(self) -> str:
        """Return a name for the next version."""
        return next_name(self._session.project, self.ids)

    def was(self) -> Piece | None:
        """Return the piece as it was in the version compared, None where none is."""
        piece = self._piece()
        if piece is None:
            return None
        found = (v.piece(piece.id) for v in self.known if v.id == self.beside)
        return next(found, None)

    def comparison(self) -> Comparison | None:
        """Return what is different from the version compared."""
        piece, was = self._piece(), self.was()
        if piece is None or was is None:
            return None
        kept = self._compared
        if kept is None or kept[0] is not was or kept[1] is not piece:
            kept = self._compared = was, piece, compared(was, piece)
        return kept[2]

    # Doing

    def keep(self, name: str) -> None:
        """Keep the piece as it is.

        Raises:
            InputError: there is a version of this name.
        """
        name = name.strip() or self.next_name()
        ids, when = self.ids, self.today().isoformat()
        self._session.edit(f"Keep {name}", lambda p: keep_version(p, ids, name, when))
        self._session.tell(f"{name} of {counted(len(ids), 'piece')} kept.", "good")

    def take_back(self, version: PieceVersion) -> None:
        """Make the piece what it was; with the others, all pieces of the version."""
        ids = None if self.with_others else self.ids
        before = self._session.project
        self._session.edit(f"Take back {version.name}", lambda p: take_back(p, version.id, ids))
        told = told_of_seams(before, self._session.project)
        self._session.tell(told or f"As in {version.name} again.", "heat" if told else "good")

    def drop(self, version: PieceVersion) -> None:
        """Forget a version."""
        self._session.edit(f"Delete {version.name}", lambda p: drop_version(p, version.id))

    def note(self, version: PieceVersion, text: str) -> None:
        """Say what was found with a version."""
        if text.strip() != version.note:
            self._session.edit(f"Note: {version.name}", lambda p: note_version(p, version.id, text))

    def compare(self, version_id: str) -> None:
        """Lay a version over the piece, or take it away again."""
        self.beside = "" if version_id == self.beside else version_id

    def materials(self) -> list[tuple[str, str]]:
        """Return what a mock-up may be cut of: (words, id)."""
        piece = self._piece()
        known = [(m.name, m.id) for m in self._session.stock.materials]
        return sorted(known, key=lambda m: piece is not None and m[1] != piece.material)

    def mock_up(self, material: str, thickness: str) -> None:
        """Add the pieces once more as mock-ups, to be cut first.

        Raises:
            InputError: no thickness.
        """
        mm, ids = typed_length(thickness, where="mock-up"), self.ids
        self._session.edit("Add a mock-up", lambda p: add_mock_ups(p, ids, material, mm))
        self._session.tell(f"{counted(len(ids), 'mock-up')} added, to be cut first.", "good")

    # Words

    def words(self) -> str:
        """Return what is different from the version compared, in a sentence."""
        found = self.comparison()
        if found is None:
            return ""
        if found.same:
            return "The outline is the same."
        said = []
        if found.out is not None:
            said.append(f"reaches {_mm(found.out.by)} mm beyond it")
        if found.within is not None:
            said.append(f"stays {_mm(found.within.by)} mm short of it")
        for value, more, less in (
            (found.width, "wider", "narrower"),
            (found.height, "taller", "lower"),
        ):
            if abs(value) >= 0.05:
                said.append(f"{_mm(abs(value))} mm {more if value > 0 else less}")
        for edge in found.edges[:MOST_EDGES]:
            if edge.before is None or edge.after is None:
                said.append(f"edge {edge.name} is {'new' if edge.before is None else 'gone'}")
            else:
                off = edge.after - edge.before
                said.append(f"edge {edge.name} {'+' if off > 0 else '−'}{_mm(abs(off))} mm")
        if len(found.edges) > MOST_EDGES:
            said.append(f"{len(found.edges) - MOST_EDGES} more edges")
        text = ", ".join(said)
        return f"{text[:1].upper()}{text[1:]}."


def _mm(value: float) -> str:
    return show_number(value, 1)
