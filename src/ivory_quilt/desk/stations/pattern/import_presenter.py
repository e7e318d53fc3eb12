"""Files on their way in: read, scaled, traced, joined, mended; then pieces of the project."""

from functools import partial
from pathlib import Path

from ivory_quilt.core.document.project import (
    Project,
    add_pieces,
    change_pieces,
    fresh_id,
    put_pieces,
)
from ivory_quilt.core.editing.reshape import fold_edge, unfolded
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.reading.found import FoundPiece, Reading, ReadProblem
from ivory_quilt.core.reading.hints import Hints
from ivory_quilt.core.reading.tracing.picture import LoadedPicture
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import counted, parse_scalar, typed_length
from ivory_quilt.desk.imports.drawing import DrawingImport
from ivory_quilt.desk.imports.pages import PagesImport
from ivory_quilt.desk.imports.picture import PictureImport, first_choices
from ivory_quilt.desk.imports.reader import PendingImport
from ivory_quilt.desk.session import Session


class ImportPresenter:
    """Patterns on their way into the project."""

    def __init__(self, session: Session) -> None:
        """Bring patterns into `session`'s project."""
        self.session = session
        self.imports: list[DrawingImport] = []
        self.pictures: list[PictureImport] = []
        self.pages: PagesImport | None = None
        self.defaults: dict[str, object] = {"material": "eva", "thickness": 6.0}

    @property
    def selected(self) -> tuple[str, ...]:
        """The pieces selected on the board."""
        return self.session.selected

    @selected.setter
    def selected(self, ids: tuple[str, ...]) -> None:
        self.session.selected = tuple(ids)

    def take(self, found: PendingImport) -> None:
        """Bring a file's pieces in, or keep it waiting for its scale, tracing or joining."""
        if isinstance(found, PagesImport):
            self.pages = found
            self.session.tell(found.summary(), "good" if found.placed.joined > 1 else "heat")
            return
        if isinstance(found, PictureImport):
            self.pictures.append(found)
            return
        if found.reading.needs_scale:
            self.imports.append(found)
            self.session.tell(f"{found.file} has no size units: enter one length you know.", "heat")
            return
        self._add(found)

    def take_pages(self, found: PagesImport, made: Reading | LoadedPicture) -> None:
        """Bring joined pages in; one picture of them is traced first."""
        self.pages = None
        if isinstance(made, Reading):
            self._add(DrawingImport(found.file, b"", made))
        else:
            self.pictures.append(PictureImport(found.file, made, first_choices(made)))

    def take_singly(self, found: PagesImport, reading: Reading) -> None:
        """Bring in the pages of a PDF that were read each on its own."""
        self.pages = None
        self.take(DrawingImport(found.file, found.data, reading))

    def bring_in(self, found: PictureImport) -> None:
        """Take over what a picture's tracing found."""
        if found.reading is not None:
            self.leave(found)
            self._add(DrawingImport(found.file, b"", found.reading))

    def leave(self, found: PictureImport) -> None:
        """Let a picture go."""
        self.pictures = [p for p in self.pictures if p is not found]

    @staticmethod
    def scale_said(in_file: str, real: str) -> float:
        """Return mm a unit, of one known length of a file without size units.

        Raises:
            InputError: not two lengths above zero.
        """
        drawn = parse_scalar(in_file, where="length in the file")
        true = typed_length(real, where="real length")
        if drawn <= 0 or true <= 0:
            raise InputError("known length", f"{in_file} = {real}", "two lengths above 0")
        return true / drawn

    def set_scale(self, found: DrawingImport, reading: Reading) -> None:
        """Bring in a file that was read again at its true scale."""
        if any(one is found for one in self.imports):
            self.imports = [one for one in self.imports if one is not found]
            found.reading = reading
            self._add(found)

    def _add(self, found: DrawingImport) -> None:
        pieces = [p.to_piece(**self.defaults) for p in found.reading.pieces]
        count = counted(len(pieces), "piece")
        if pieces:
            named = _with_ids(self.session.project, pieces, Path(found.file).stem)
            before = set(p.id for p in self.session.project.pieces)
            self.session.edit(f"Import {found.file}", lambda p: add_pieces(p, named))
            added = [p.id for p in self.session.project.pieces if p.id not in before]
            found.brought_in |= zip((p.id for p in found.reading.pieces), added, strict=True)
            self.selected = tuple(added)
        if found.open_problems:
            self.imports.append(found)
            many = len(found.open_problems)
            things = "thing" if many == 1 else "things"
            self.session.tell(f"{found.file}: {count}, {many} {things} to check.", "heat")
        else:
            self.session.tell(f"{found.file}: {count} imported.", "good" if pieces else "heat")

    def mend(self, found: DrawingImport, problem: ReadProblem) -> None:
        """Take one offered mend."""
        before = found.reading.pieces
        found.reading = found.reading.take(problem)
        new = found.reading.pieces[len(before) :]
        if new:
            pieces = [p.to_piece(**self.defaults) for p in new]
            named = _with_ids(self.session.project, pieces, Path(found.file).stem)
            self.session.edit(f"Fix: {problem.mend}", lambda p: add_pieces(p, named))
            found.brought_in |= zip((p.id for p in new), (p.id for p in named), strict=True)
        elif problem.adds_line is not None:
            self._add_line(found, problem)
        elif problem.hints_of:
            self._take_hints(found, [problem.hints_of], f"Apply: {problem.mend}")
        if not found.open_problems:
            self.dismiss(found)

    def take_all_hints(self, found: DrawingImport) -> None:
        """Take over what the writing in a file says, on all its pieces, as one step."""
        waiting = [p for p in found.open_problems if p.hints_of]
        for problem in waiting:
            found.reading = found.reading.take(problem)
        self._take_hints(found, [p.hints_of for p in waiting], f"Apply labels: {found.file}")
        if not found.open_problems:
            self.dismiss(found)

    def _take_hints(self, found: DrawingImport, owners: list[str], label: str) -> None:
        changes = []
        folded: set[str] = set()
        for owner in owners:
            drawn = next(p for p in found.reading.pieces if p.id == owner)
            piece = self._brought_in(found, drawn)
            if piece is not None:
                changes.append((piece.id, decided_by(drawn.hints, piece)))
                folded |= {piece.id} if drawn.hints.on_fold else set()

        def take(project: Project) -> Project:
            for piece_id, fields in changes:
                project = change_pieces(project, [piece_id], **fields)
                if piece_id in folded and fold_edge(project.piece(piece_id)) is not None:
                    project = put_pieces(project, [unfold_piece(project.piece(piece_id))])
            return project

        self.session.edit(label, take)

    def _add_line(self, found: DrawingImport, problem: ReadProblem) -> None:
        """Put a line into the piece that was brought in from the same outline."""
        assert problem.adds_line is not None
        owner = next(p for p in found.reading.pieces if p.id == problem.adds_line[0])
        if (piece := self._brought_in(found, owner)) is not None:
            lines = (*piece.lines, owner.to_piece().lines[-1])
            edit = partial(change_pieces, piece_ids=[piece.id], lines=lines)
            self.session.edit(f"Fix: {problem.mend}", edit)

    def _brought_in(self, found: DrawingImport, drawn: FoundPiece) -> Piece | None:
        """Return the project's piece that came from a drawn outline, if it is still there."""
        known = {p.id: p for p in self.session.project.pieces}
        return known.get(found.brought_in.get(drawn.id, ""))

    def dismiss(self, found: DrawingImport) -> None:
        """Let the rest of a file go."""
        if found in self.imports:
            self.imports.remove(found)


def decided_by(hints: Hints, piece: Piece) -> dict[str, object]:
    """Return what writing on a pattern decides about a piece.

    A pair that is said to be cut twice is one pair: makers count the parts.
    """
    fields: dict[str, object] = {}
    if hints.thickness is not None:
        fields["thickness"] = hints.thickness
    if hints.hand is not None:
        fields["hand"] = hints.hand
    if hints.quantity is not None:
        pair = hints.hand is Hand.PAIR or (hints.hand is None and piece.hand is Hand.PAIR)
        even = pair and hints.quantity % 2 == 0
        fields["count"] = hints.quantity // 2 if even else hints.quantity
    return fields


def unfold_piece(piece: Piece) -> Piece:
    """Return a half pattern as the whole.

    Raises:
        InputError: no straight edge to unfold at, or not half a pattern.
    """
    edge = fold_edge(piece)
    if edge is None:
        raise InputError(f"piece '{piece.name}'", "no straight edge to unfold at", "half a pattern")
    return unfolded(piece, edge)


def _with_ids(project: Project, pieces: list[Piece], stem: str) -> list[Piece]:
    """Give pieces ids that say where they are from and are new to the project."""
    return [replace(p, id=fresh_id(project, f"{stem}-{p.id}".replace(" ", "-"))) for p in pieces]
