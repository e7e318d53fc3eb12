"""What the Pattern station shows and does, without a widget."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import partial
from pathlib import Path

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.found import FoundPiece, Reading, ReadProblem
from ivory_quilt.core.pattern.hints import Hints
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece, Turn
from ivory_quilt.core.pattern.reshape import fold_edge, mirrored_piece, unfolded
from ivory_quilt.core.project import (
    Project,
    add_pieces,
    change_pieces,
    fresh_id,
    put_pieces,
    remove_pieces,
    scale_pieces,
)
from ivory_quilt.core.reckon.sizes import print_scale
from ivory_quilt.core.review import Finding
from ivory_quilt.core.units import parse_length, parse_scalar, show_area, show_number
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.shape_presenter import ShapePresenter, follow_thickness
from ivory_quilt.desk.stations.pattern.trace_presenter import PictureImport, first_choices
from ivory_quilt.files.atomic import read_bytes
from ivory_quilt.files.drawings import ReadOptions, is_picture, read_drawing

HANDS = ((Hand.NONE, "either"), (Hand.LEFT, "left"), (Hand.RIGHT, "right"), (Hand.PAIR, "a pair"))
FACES = (
    (FaceUp.SKIN, "skin face"),
    (FaceUp.TEXTURED, "textured face"),
    (FaceUp.EITHER, "either, it is hidden"),
)
TURNS = (
    (Turn.QUARTERS, "by quarter turns"),
    (Turn.FREE, "freely"),
    (Turn.DIRECTION, "keeps the sheet's direction"),
)


def piece_note(piece: Piece) -> str:
    """Return what stands under a piece's name: "pair × 1", "left × 2", "× 6"."""
    word = {Hand.PAIR: "pair ", Hand.LEFT: "left ", Hand.RIGHT: "right ", Hand.NONE: ""}[piece.hand]
    return f"{word}× {piece.count}"


def facts(piece: Piece) -> list[tuple[str, str]]:
    """Return what can be measured on a piece."""
    shape = piece.shape
    size = f"{show_number(shape.width, 1)} × {show_number(shape.height, 1)} mm"
    found = [
        ("size", size),
        ("area", show_area(shape.area)),
        ("outline", f"{show_number(shape.outline_length, 1)} mm"),
    ]
    if shape.holes:
        found.append(("holes", str(len(shape.holes))))
    if piece.lines:
        found.append(("lines", str(len(piece.lines))))
    if piece.source.file:
        layer = f", layer {piece.source.layer}" if piece.source.layer else ""
        found.append(("from", f"{piece.source.file}{layer}"))
    return found


@dataclass
class Import:
    """A file that was read and still wants the maker: a scale, or mends to choose.

    `brought_in` holds the project's ids of the pieces that came of it, by their ids in the file.
    """

    file: str
    data: bytes
    reading: Reading
    brought_in: dict[str, str] = field(default_factory=dict)

    @property
    def open_problems(self) -> list[ReadProblem]:
        """Problems that nobody has mended yet."""
        return [p for p in self.reading.problems if not p.mended]

    @property
    def drawn_width(self) -> float:
        """Width of all outlines in the file's own units."""
        boxes = [p.shape.bounds for p in self.reading.pieces]
        if not boxes:
            return 0.0
        return max(b[2] for b in boxes) - min(b[0] for b in boxes)


class PatternPresenter:
    """Edits of pieces, and files on their way in."""

    def __init__(self, session: Session) -> None:
        """Work on `session`."""
        self.session = session
        self.selected: tuple[str, ...] = ()
        self.imports: list[Import] = []
        self.pictures: list[PictureImport] = []
        self.findings: tuple[Finding, ...] = ()
        self.left_so: set[tuple[str, tuple[str, ...]]] = set()
        self.shapes = ShapePresenter(session)
        self.defaults: dict[str, object] = {"material": "eva", "thickness": 6.0}

    @property
    def pieces(self) -> list[Piece]:
        """The selected pieces that are still there."""
        known = {p.id: p for p in self.session.project.pieces}
        return [known[i] for i in self.selected if i in known]

    def change(self, label: str, **changes: object) -> None:
        """Change the same fields of all selected pieces."""
        ids = [p.id for p in self.pieces]
        if not ids:
            return
        what = self.pieces[0].name if len(ids) == 1 else f"{len(ids)} pieces"

        def edit(project: Project) -> Project:
            project = change_pieces(project, ids, **changes)
            return follow_thickness(project, ids) if "thickness" in changes else project

        self.session.edit(f"{label}: {what}", edit)
        for key in ("material", "thickness"):
            if key in changes:
                self.defaults[key] = changes[key]

    def delete(self) -> None:
        """Take the selected pieces out."""
        ids = [p.id for p in self.pieces]
        if ids:
            what = self.pieces[0].name if len(ids) == 1 else f"{len(ids)} pieces"
            self.session.edit(f"Delete {what}", lambda p: remove_pieces(p, ids))

    def copy(self) -> None:
        """Add a copy of each selected piece."""
        chosen = self.pieces
        if chosen:
            copies = [replace(p, name=f"{p.name} copy", recipe=None) for p in chosen]
            self.session.edit("Copy pieces", lambda p: add_pieces(p, copies))

    def mirror(self) -> None:
        """Turn the selected pieces into their other hand."""
        self._reshape("Mirror", mirrored_piece)

    def can_unfold(self) -> bool:
        """Return whether every selected piece has a straight edge to unfold at."""
        chosen = self.pieces
        return bool(chosen) and all(fold_edge(p) is not None for p in chosen)

    def unfold(self) -> None:
        """Unfold the selected half patterns at their folds.

        Raises:
            InputError: one of them is no half pattern.
        """
        self._reshape("Unfold", unfold_piece)

    def _reshape(self, label: str, change: Callable[[Piece], Piece]) -> None:
        fresh = {p.id: change(p) for p in self.pieces}
        if fresh:
            what = self.pieces[0].name if len(fresh) == 1 else f"{len(fresh)} pieces"
            self.session.edit(f"{label} {what}", lambda p: put_pieces(p, fresh.values()))

    # Review

    def open_findings(self) -> tuple[Finding, ...]:
        """Return what is doubtful in the pieces and was not left so."""
        known = {p.id for p in self.session.project.pieces}
        return tuple(
            f for f in self.findings if f.key not in self.left_so and known.issuperset(f.pieces)
        )

    def mend_finding(self, finding: Finding) -> None:
        """Do the mend that a finding offers."""
        if finding.apply is not None:
            self.session.edit(f"Mend: {finding.mend}", finding.apply)

    def leave_finding(self, finding: Finding) -> None:
        """Hide a finding while this project is open."""
        self.left_so.add(finding.key)

    def scale_to(self, measured: str, real: str) -> None:
        """Scale all selected pieces so that a length of `measured` becomes `real`.

        Raises:
            InputError: not two lengths above zero.
        """
        factor = print_scale(
            nominal=parse_length(real, where="real length"),
            measured=parse_length(measured, where="present length"),
        ).results["correction"]
        ids = [p.id for p in self.pieces]
        label = f"Scale to {100 * float(factor):.1f} %"
        self.session.edit(label, lambda p: scale_pieces(p, ids, float(factor)))

    # Files in

    def read(self, path: Path) -> Import | PictureImport:
        """Read a drawing, or load a picture; may run on any thread.

        Raises:
            InputError: not a readable file.
        """
        data = read_bytes(path)
        if is_picture(path.name):
            from ivory_quilt.files.picture_read import load_picture

            picture = load_picture(data, path.name)
            return PictureImport(path.name, picture, first_choices(picture))
        return Import(path.name, data, read_drawing(data, path.name))

    def take(self, found: Import | PictureImport) -> None:
        """Bring a file's pieces in, or keep the file waiting for its scale or its tracing."""
        if isinstance(found, PictureImport):
            self.pictures.append(found)
            return
        if found.reading.needs_scale:
            self.imports.append(found)
            self.session.tell(f"{found.file} has no size units: say one length you know.", "heat")
            return
        self._add(found)

    def bring_in(self, found: PictureImport) -> None:
        """Take over what a picture's tracing found."""
        if found.reading is not None:
            self.leave(found)
            self._add(Import(found.file, b"", found.reading))

    def leave(self, found: PictureImport) -> None:
        """Let a picture go."""
        self.pictures = [p for p in self.pictures if p is not found]

    def set_scale(self, found: Import, in_file: str, real: str) -> None:
        """Settle the scale of a file without size units by one known length.

        Raises:
            InputError: not two lengths above zero.
        """
        drawn = parse_scalar(in_file, where="length in the file")
        true = parse_length(real, where="real length")
        if drawn <= 0 or true <= 0:
            raise InputError("known length", f"{in_file} = {real}", "two lengths above 0")
        # Read again at the true scale: curves are flattened to the same tolerance as any other's.
        found.reading = read_drawing(found.data, found.file, ReadOptions(true / drawn))
        self.imports.remove(found)
        self._add(found)

    def _add(self, found: Import) -> None:
        pieces = [p.to_piece(**self.defaults) for p in found.reading.pieces]
        count = f"{len(pieces)} piece{'s' if len(pieces) != 1 else ''}"
        if pieces:
            named = _with_ids(self.session.project, pieces, Path(found.file).stem)
            before = set(p.id for p in self.session.project.pieces)
            self.session.edit(f"Bring in {found.file}", lambda p: add_pieces(p, named))
            added = [p.id for p in self.session.project.pieces if p.id not in before]
            found.brought_in |= zip((p.id for p in found.reading.pieces), added, strict=True)
            self.selected = tuple(added)
        if found.open_problems:
            self.imports.append(found)
            many = len(found.open_problems)
            things = "thing" if many == 1 else "things"
            self.session.tell(f"{found.file}: {count}, {many} {things} to look at.", "heat")
        else:
            self.session.tell(f"{found.file}: {count} brought in.", "good" if pieces else "heat")

    def mend(self, found: Import, problem: ReadProblem) -> None:
        """Take one offered mend."""
        before = found.reading.pieces
        found.reading = found.reading.take(problem)
        new = found.reading.pieces[len(before) :]
        if new:
            pieces = [p.to_piece(**self.defaults) for p in new]
            named = _with_ids(self.session.project, pieces, Path(found.file).stem)
            self.session.edit(f"Mend: {problem.mend}", lambda p: add_pieces(p, named))
            found.brought_in |= zip((p.id for p in new), (p.id for p in named), strict=True)
        elif problem.adds_line is not None:
            self._add_line(found, problem)
        elif problem.hints_of:
            self._take_hints(found, [problem.hints_of], f"Take over: {problem.mend}")
        if not found.open_problems:
            self.dismiss(found)

    def take_all_hints(self, found: Import) -> None:
        """Take over what the writing in a file says, on all its pieces, as one step."""
        waiting = [p for p in found.open_problems if p.hints_of]
        for problem in waiting:
            found.reading = found.reading.take(problem)
        self._take_hints(found, [p.hints_of for p in waiting], f"Take over writing: {found.file}")
        if not found.open_problems:
            self.dismiss(found)

    def _take_hints(self, found: Import, owners: list[str], label: str) -> None:
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

    def _add_line(self, found: Import, problem: ReadProblem) -> None:
        """Put a line into the piece that was brought in from the same outline."""
        assert problem.adds_line is not None
        owner = next(p for p in found.reading.pieces if p.id == problem.adds_line[0])
        if (piece := self._brought_in(found, owner)) is not None:
            lines = (*piece.lines, owner.to_piece().lines[-1])
            edit = partial(change_pieces, piece_ids=[piece.id], lines=lines)
            self.session.edit(f"Mend: {problem.mend}", edit)

    def _brought_in(self, found: Import, drawn: FoundPiece) -> Piece | None:
        """Return the project's piece that came from a drawn outline, if it is still there."""
        known = {p.id: p for p in self.session.project.pieces}
        return known.get(found.brought_in.get(drawn.id, ""))

    def dismiss(self, found: Import) -> None:
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
