"""What the Pattern station shows and does, without a widget."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece, Turn
from ivory_quilt.core.pattern.reading import Reading, ReadProblem
from ivory_quilt.core.project import (
    Project,
    add_pieces,
    change_pieces,
    fresh_id,
    remove_pieces,
)
from ivory_quilt.core.reckon.sizes import print_scale
from ivory_quilt.core.units import parse_length, parse_scalar, show_area, show_number
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.shape_presenter import ShapePresenter
from ivory_quilt.files.atomic import read_bytes
from ivory_quilt.files.svg_read import read_svg

SPACE = 26.0  # mm between pieces on the board
HEAD_SHARE = 0.05  # of the board's width: room for a heading, which keeps its screen size

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


@dataclass(frozen=True)
class BoardGroup:
    """Pieces of one foam on the board.

    `at` is the group's upper left corner, `head` the height of its heading, mm.
    """

    foam: Foam
    at: tuple[float, float]
    width: float
    head: float
    parts: int


@dataclass(frozen=True)
class BoardSpot:
    """Where a piece's own (0, 0) lies on the board, mm, y upwards."""

    piece: Piece
    at: tuple[float, float]


@dataclass(frozen=True)
class Board:
    """All pieces at one scale, grouped by foam."""

    groups: tuple[BoardGroup, ...]
    spots: tuple[BoardSpot, ...]
    width: float
    height: float


def arrange(pieces: Iterable[Piece], aspect: float = 1.45) -> Board:
    """Lay all pieces out in blocks, one a foam, in about the window's proportions."""
    groups: dict[Foam, list[Piece]] = {}
    for piece in pieces:
        groups.setdefault(Foam(piece.thickness, piece.material), []).append(piece)
    widest = max((p.shape.width for g in groups.values() for p in g), default=100.0)
    boards = [
        _arrange(groups, (widest + SPACE) * 1.2**k, columns)
        for k in range(14)
        for columns in (1, 2, 3)
    ]
    # The arrangement that can be shown largest.
    return min(boards, key=lambda board: max(board.width, board.height * aspect))


def _arrange(groups: dict[Foam, list[Piece]], limit: float, columns: int) -> Board:
    """Set the groups in columns of width `limit`, each where there is most room left."""
    head = limit * columns * HEAD_SHARE
    space = 3 * SPACE
    spots: list[BoardSpot] = []
    heads: list[BoardGroup] = []
    foot = [0.0] * columns
    for foam in sorted(groups):
        block, _, height = _block(groups[foam], limit, head)
        k = foot.index(min(foot))
        x, y = k * (limit + space), -foot[k]
        parts = sum(p.cut_count for p in groups[foam])
        heads.append(BoardGroup(foam, (x, y), limit, head, parts))
        spots += [BoardSpot(s.piece, (s.at[0] + x, s.at[1] + y)) for s in block]
        foot[k] += height + head * 0.5
    return Board(tuple(heads), tuple(spots), columns * (limit + space) - space, max(foot))


def _block(pieces: list[Piece], limit: float, head: float) -> tuple[list[BoardSpot], float, float]:
    """Set pieces in rows below a heading; return (spots, width, height)."""
    spots: list[BoardSpot] = []
    x, y, row, widest = 0.0, -head, 0.0, 0.0
    for piece in sorted(pieces, key=lambda p: (-p.shape.height, p.name, p.id)):
        x0, _, _, y1 = piece.shape.bounds
        if x > 0 and x + piece.shape.width > limit:
            x, y, row = 0.0, y - row - SPACE, 0.0
        spots.append(BoardSpot(piece, (x - x0, y - y1)))
        x += piece.shape.width + SPACE
        row = max(row, piece.shape.height)
        widest = max(widest, x - SPACE)
    return spots, widest, row - y


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
    """A file that was read and still wants the maker: a scale, or mends to choose."""

    file: str
    data: bytes
    reading: Reading

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
        self.session.edit(f"{label}: {what}", lambda p: change_pieces(p, ids, **changes))
        for key in ("material", "thickness"):
            if key in changes:
                self.defaults[key] = changes[key]
        if "thickness" in changes:
            self.shapes.thickness_changed(self.pieces, self.pieces[0].thickness)

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

    def scale_to(self, measured: str, real: str) -> None:
        """Scale all selected pieces so that a length of `measured` becomes `real`.

        Raises:
            InputError: not two lengths above zero.
        """
        factor = print_scale(
            nominal=parse_length(real, where="real length"),
            measured=parse_length(measured, where="present length"),
        ).results["correction"]
        ids = {p.id for p in self.pieces}

        def scale(project: Project) -> Project:
            for piece_id in ids:
                project = scale_piece(project, piece_id, float(factor))
            return project

        self.session.edit(f"Scale to {100 * float(factor):.1f} %", scale)

    # Files in

    def read(self, path: Path) -> Import:
        """Read an SVG file; may run on any thread.

        Raises:
            InputError: not a readable SVG drawing.
        """
        data = read_bytes(path)
        return Import(path.name, data, read_svg(data, file=path.name))

    def take(self, found: Import) -> None:
        """Bring a file's pieces in, or keep the file waiting for its scale."""
        if found.reading.needs_scale:
            self.imports.append(found)
            self.session.tell(f"{found.file} has no size units: say one length you know.", "heat")
            return
        self._add(found)

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
        found.reading = read_svg(found.data, file=found.file, mm_per_unit=true / drawn)
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
        elif problem.adds_line is not None:
            self._add_line(found, problem)
        if not found.open_problems:
            self.dismiss(found)

    def _add_line(self, found: Import, problem: ReadProblem) -> None:
        """Put a line into the piece that was brought in from the same outline."""
        assert problem.adds_line is not None
        owner = next(p for p in found.reading.pieces if p.id == problem.adds_line[0])
        fresh = owner.to_piece()
        for piece in self.session.project.pieces:
            if piece.source.file == found.file and piece.shape == fresh.shape:
                lines = (*piece.lines, fresh.lines[-1])
                edit = partial(change_pieces, piece_ids=[piece.id], lines=lines)
                self.session.edit(f"Mend: {problem.mend}", edit)
                return

    def dismiss(self, found: Import) -> None:
        """Let the rest of a file go."""
        if found in self.imports:
            self.imports.remove(found)


def scale_piece(project: Project, piece_id: str, factor: float) -> Project:
    """Scale one piece with its lines and marks; thickness stays."""
    piece = project.piece(piece_id)
    return change_pieces(
        project,
        [piece_id],
        shape=piece.shape.scaled(factor),
        lines=tuple(replace(k, points=k.points * factor) for k in piece.lines),
        match_marks=tuple((x * factor, y * factor) for x, y in piece.match_marks),
        recipe=None,  # it is no longer what its numbers say
    )


def _with_ids(project: Project, pieces: list[Piece], stem: str) -> list[Piece]:
    """Give pieces ids that say where they are from and are new to the project."""
    return [replace(p, id=fresh_id(project, f"{stem}-{p.id}".replace(" ", "-"))) for p in pieces]
