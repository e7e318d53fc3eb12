"""What a file holds before the maker decides anything: paths, words, pieces, problems."""

import numpy as np

from ivory_quilt.core.geometry.shape import Array, Point, Shape
from ivory_quilt.core.pattern.piece import Label, Piece, PieceLine, Source
from ivory_quilt.core.reading.hints import NO_HINTS, Hints
from ivory_quilt.core.record import Struct, replace


class FoundPiece(Struct, frozen=True):
    """A piece that a file holds, before the maker decides anything about it."""

    id: str
    name: str
    shape: Shape
    lines: tuple[PieceLine, ...] = ()
    layer: str = ""
    file: str = ""
    page: int = 1
    hints: Hints = NO_HINTS
    match_marks: tuple[Point, ...] = ()
    labels: tuple[Label, ...] = ()

    def to_piece(self, **decided: object) -> Piece:
        """Return it as a piece, moved so that its box starts at the origin."""
        x0, y0, _, _ = self.shape.bounds
        shift = np.array([x0, y0])
        drawn = Piece(
            self.id,
            self.name,
            self.shape,
            lines=self.lines,
            match_marks=self.match_marks,
            labels=self.labels,
            source=Source(self.file, self.layer, self.page),
        )
        return replace(drawn.moved_by(lambda points: points - shift), **decided)  # type: ignore[arg-type]


class ReadProblem(Struct, frozen=True):
    """Something doubtful in a file.

    Attributes:
        code: stable word for programs ("open-outline", "self-crossing", ...).
        where: its place in mm.
        mend: what would put it right, or was done ("closed 0.3 mm").
        mended: whether that was done already.
        fix: the pieces that come in when the maker takes the mend.
        adds_line: (index of the piece, line) when the mend is a line in a piece.
        hints_of: id of the piece whose hints the mend takes over.
    """

    code: str
    message: str
    where: Point
    mend: str = ""
    mended: bool = False
    fix: tuple[FoundPiece, ...] = ()
    adds_line: tuple[str, PieceLine] | None = None
    hints_of: str = ""


class Reading(Struct, frozen=True):
    """What a file holds.

    `drawn_at` are the outlines in a picture's own pixels (column, row), when it was traced.
    """

    pieces: tuple[FoundPiece, ...]
    problems: tuple[ReadProblem, ...]
    needs_scale: bool = False
    drawn_at: tuple[Array, ...] = ()

    def take(self, problem: ReadProblem) -> "Reading":
        """Return the reading with one mend taken."""
        pieces = self.pieces + problem.fix
        if problem.adds_line is not None:
            owner, line = problem.adds_line
            pieces = tuple(
                replace(p, lines=(*p.lines, line)) if p.id == owner else p for p in pieces
            )
        done = replace(problem, mended=True, fix=(), adds_line=None, hints_of="")
        return replace(
            self,
            pieces=pieces,
            problems=tuple(done if p is problem else p for p in self.problems),
        )

    def scaled(self, factor: float) -> "Reading":
        """Return the reading with all lengths times `factor`, its scale settled."""

        def line(k: PieceLine) -> PieceLine:
            return replace(k, points=k.points * factor)

        def piece(p: FoundPiece) -> FoundPiece:
            return replace(
                p,
                shape=p.shape.scaled(factor),
                lines=tuple(map(line, p.lines)),
                match_marks=tuple((x * factor, y * factor) for x, y in p.match_marks),
                labels=tuple(replace(k, at=(k.at[0] * factor, k.at[1] * factor)) for k in p.labels),
            )

        def problem(p: ReadProblem) -> ReadProblem:
            adds = (p.adds_line[0], line(p.adds_line[1])) if p.adds_line else None
            where = (p.where[0] * factor, p.where[1] * factor)
            return replace(p, where=where, fix=tuple(map(piece, p.fix)), adds_line=adds)

        return Reading(
            tuple(map(piece, self.pieces)), tuple(map(problem, self.problems)), needs_scale=False
        )
