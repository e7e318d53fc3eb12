"""From raw paths, whatever file they came from, to pieces; and what is wrong with the rest.

Closed outlines become pieces, outlines inside them holes, lines on layers named for it become
score, fold or mark lines. Everything doubtful is reported with its place and a mend that the maker
may take; nothing is dropped in silence.
"""

import math
import re
from collections.abc import Iterable

import numpy as np
import shapely

from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Array, Point, Shape, ring, shapes_of, signed_area
from ivory_quilt.core.geometry.validity import (
    MOST_CROSSINGS,
    crossing,
    crossings,
    shape_problem,
    untangle,
)
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.core.reading.belonging import (
    NEAR,
    PieceFinder,
    depths_of,
    overlapping,
    parents_of,
    with_words,
)
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.duplicates import KnownOutlines
from ivory_quilt.core.reading.found import FoundPiece, Reading, ReadProblem
from ivory_quilt.core.reading.hints import NO_HINTS, read_hints
from ivory_quilt.core.reading.naming import STOCK_LAYER, holds_marks, line_kind, made_by_machine
from ivory_quilt.core.reading.progress import ReadProgress, ReadReport, tell_nobody
from ivory_quilt.core.record import replace

CLOSE_WITHIN = 0.5  # mm: an outline whose ends are this near is closed, and reported
TINY_AREA = 4.0  # mm²: nobody cuts less
MARK_WITHIN = 6.0  # mm of an outline that a match mark may lie off
MOST_TOLD = 200  # problems of one kind that are told one by one
MOST_TRIED = 20_000  # pairs of outlines that are compared


def assemble(
    paths: Iterable[RawPath],
    file: str = "",
    *,
    texts: Iterable[RawText] = (),
    page: int = 1,
    count: int = 0,
    report: ReadReport = tell_nobody,
) -> Reading:
    """Sort raw paths into pieces, holes, lines and problems; words near a piece become hints.

    `count` pieces of the file are known already: ids and default names go on from there.
    """
    return _Assembly(file, page, count, report).run(list(paths), texts)


class _Assembly:
    def __init__(self, file: str, page: int, count: int, report: ReadReport) -> None:
        self.file = file
        self.report = report
        self.told: dict[str, int] = {}
        self.page = page
        self.problems: list[ReadProblem] = []
        self.names: dict[str, int] = {}
        self.count = count
        self.names["Piece"] = count

    def run(self, paths: list[RawPath], texts: Iterable[RawText]) -> Reading:
        lines: list[tuple[LineKind, RawPath]] = []
        ticks: list[RawPath] = []
        rings: list[tuple[RawPath, Array]] = []
        open_paths: list[RawPath] = []
        for k, path in enumerate(paths):
            if k % 256 == 0:
                self.report(ReadProgress(k, len(paths), "outlines"))
            kind = line_kind(path.layer)
            if len(path.points) < 2 or path.layer == STOCK_LAYER:
                continue
            if holds_marks(path.layer):
                ticks.append(path)
            elif kind is not None:
                lines.append((kind, path))
            elif (outline := self._ring(path)) is not None:
                rings.append((path, outline))
            elif not path.closed:
                open_paths.append(path)
        self.report(ReadProgress(0, 0, "sorting outlines"))
        shapes = shapes_of([outline for _, outline in rings])
        areas = shapely.area(np.array([s.polygon for s in shapes], dtype=object)).tolist()
        closed = [
            (path, shape)
            for (path, outline), shape, area in zip(rings, shapes, areas, strict=True)
            if self._usable(path, outline, shape, area)
        ]
        closed = self._without_duplicates(closed)
        pieces = self._nest(closed)
        self._report_overlaps(pieces)
        finder = PieceFinder(pieces)
        self.report(ReadProgress(0, 0, "sorting lines and words"))
        pieces = self._with_lines(pieces, lines, finder)
        pieces = self._with_marks(pieces, ticks, finder)
        self._report_open(open_paths, pieces, finder)
        pieces = self._with_hints(pieces, texts, finder)
        self._tell_the_rest()
        return Reading(tuple(pieces), tuple(self.problems))

    # Outlines

    def _ring(self, path: RawPath) -> Array | None:
        """Return a path's ring when it is closed, or nearly."""
        points = path.points
        if not path.closed:
            gap = math.dist(points[0], points[-1])
            if gap > CLOSE_WITHIN or len(points) < 4:
                return None
            if gap > 1e-6:
                where = (float(points[-1, 0]), float(points[-1, 1]))
                self._say(
                    "open-outline",
                    f"{self._what(path)} was open by {gap:.2f} mm",
                    where,
                    f"closed {gap:.2f} mm",
                    mended=True,
                )
        try:
            return ring(points)
        except ValueError:
            self._tiny(path, points)
            return None

    def _usable(self, path: RawPath, outline: Array, shape: Shape, area: float) -> bool:
        """Return whether a ring is an outline that can be cut; say what is wrong otherwise."""
        if (at := crossing(shape.polygon)) is not None and self._crossing(path, outline, at):
            return False
        if area < TINY_AREA:
            self._tiny(path, outline)
            return False
        return True

    def _tiny(self, path: RawPath, points: Array) -> None:
        where = (float(points[0, 0]), float(points[0, 1]))
        fix: tuple[FoundPiece, ...] = ()
        area = 0.0
        if len(points) >= 3 and (area := abs(signed_area(points))) > 1e-6:
            shape = Shape.make(points)
            if not shape_problem(shape):
                fix = (self._found(path, shape),)
        mend = "keep it all the same" if fix else ""
        text = f"{self._what(path)} is tiny ({area:.2f} mm²) and was left out"
        self._say("tiny-outline", text, where, mend, fix=fix)

    def _crossing(self, path: RawPath, outline: Array, at: Point) -> bool:
        """Report a self-crossing outline; False when it encloses nothing worth a report."""
        if (count := crossings(outline)) > MOST_CROSSINGS:
            text = f"{self._what(path)} crosses itself {count} times or more and was left out"
            self._say("self-crossing", text, at)
            return True
        shapes = untangle(outline, TINY_AREA)
        if not shapes:
            return False
        fix = tuple(self._found(path, s) for s in shapes)
        mend = "untangle it" if len(fix) == 1 else f"split it into {len(fix)} outlines"
        text = f"{self._what(path)} crosses itself and was left out"
        self._say("self-crossing", text, at, mend, fix=fix)
        return True

    def _without_duplicates(
        self, closed: list[tuple[RawPath, Shape]]
    ) -> list[tuple[RawPath, Shape]]:
        kept: list[tuple[RawPath, Shape]] = []
        known = KnownOutlines()
        for path, shape in closed:
            if known.hold(shape):
                text = f"{self._what(path)} lies on another, equal outline and was left out"
                fix = (self._found(path, shape),)
                self._say("duplicate-outline", text, shape.label_point, "add it as well", fix=fix)
                continue
            known.add(shape)
            kept.append((path, shape))
        return kept

    def _nest(self, closed: list[tuple[RawPath, Shape]]) -> list[FoundPiece]:
        """Outlines at even depth are pieces, those just inside them are their holes."""
        polygons = [s.polygon for _, s in closed]
        parents = parents_of(polygons)
        depth = depths_of(parents, shapely.area(np.array(polygons, dtype=object)).tolist())
        inside: dict[int, list[Array]] = {}
        for (_, shape), parent in zip(closed, parents, strict=True):
            if parent is not None:
                inside.setdefault(parent, []).append(shape.outer)
        pieces = []
        for i, (path, shape) in enumerate(closed):
            if depth[i] % 2:
                continue
            holes = inside.get(i, ())
            whole = Shape.make(shape.outer, holes) if holes else shape
            if holes and (problem := shape_problem(whole)):
                self._say(
                    "hole-crosses",
                    f"holes of {self._what(path)} were left out: {problem}",
                    shape.label_point,
                )
                whole = shape
            pieces.append(self._found(path, whole))
        return pieces

    def _report_overlaps(self, pieces: list[FoundPiece]) -> None:
        """Two pieces drawn across each other are often a hole that runs over the edge."""
        polygons = [p.shape.polygon for p in pieces]
        where = (0.0, 0.0)
        for pair in overlapping(polygons, MOST_TRIED):
            if pair is None:
                text = "so many outlines lie on each other that not all were compared"
                self._say("overlapping-outlines", text, pieces[0].shape.label_point)
                continue
            a, b = (pieces[k] for k in pair)
            if self.told.get("overlapping-outlines", 0) < MOST_TOLD:
                both = a.shape.polygon.intersection(b.shape.polygon)
                at = both.representative_point()
                where = (float(at.x), float(at.y))
            text = f"'{a.name}' and '{b.name}' are drawn across each other; both were taken"
            self._say("overlapping-outlines", text, where)

    # Lines

    def _with_lines(
        self,
        pieces: list[FoundPiece],
        lines: list[tuple[LineKind, RawPath]],
        finder: PieceFinder,
    ) -> list[FoundPiece]:
        found = list(pieces)
        drawn: dict[int, list[PieceLine]] = {}
        for kind, path in lines:
            points = path.points
            if path.closed:
                points = np.vstack((points, points[:1]))
            owner = finder.owner(points)
            if owner is None:
                self._say(
                    "stray-line",
                    f"a {kind.value} line lies in no piece and was left out",
                    (float(points[0, 0]), float(points[0, 1])),
                )
                continue
            drawn.setdefault(owner, []).append(PieceLine(kind, _frozen(points)))
        for owner, more in drawn.items():
            found[owner] = replace(found[owner], lines=(*found[owner].lines, *more))
        return found

    def _with_marks(
        self, pieces: list[FoundPiece], ticks: list[RawPath], finder: PieceFinder
    ) -> list[FoundPiece]:
        """Short strokes on a layer for match marks: each lies where it meets an outline."""
        found = list(pieces)
        outlines: dict[int, Outline] = {}
        marks: dict[int, list[Point]] = {}
        for tick in ticks:
            best: tuple[float, int, Point] | None = None
            box = (*tick.points.min(axis=0).tolist(), *tick.points.max(axis=0).tolist())
            for k in finder.near(box, NEAR):
                outline = outlines.setdefault(k, Outline(found[k].shape.outer))
                for end in (tick.points[0], tick.points[-1]):
                    at, away = outline.locate((float(end[0]), float(end[1])))
                    if best is None or away < best[0]:
                        best = (away, k, outline.place(at))
            if best is None or best[0] > MARK_WITHIN:
                where = (float(tick.points[0, 0]), float(tick.points[0, 1]))
                self._say("stray-line", "a match mark lies on no outline and was left out", where)
                continue
            marks.setdefault(best[1], []).append(best[2])
        for k, more in marks.items():
            found[k] = replace(found[k], match_marks=(*found[k].match_marks, *more))
        return found

    def _report_open(
        self, paths: list[RawPath], pieces: list[FoundPiece], finder: PieceFinder
    ) -> None:
        for path in paths:
            points = path.points
            where = (float(points[-1, 0]), float(points[-1, 1]))
            gap = float(np.hypot(*(points[0] - points[-1])))
            if self.told.get("open-outline", 0) >= MOST_TOLD:
                self._say("open-outline", "", where)
                continue
            owner = finder.owner(points)
            text = f"{self._what(path)} is open by {gap:.1f} mm and was left out"
            if owner is not None:
                line = PieceLine(LineKind.SCORE, _frozen(points))
                self._say(
                    "open-outline",
                    text,
                    where,
                    f"keep it as a score line of {pieces[owner].name}",
                    adds_line=(pieces[owner].id, line),
                )
                continue
            fix: tuple[FoundPiece, ...] = ()
            if len(points) >= 3 and abs(signed_area(points)) >= TINY_AREA:
                outline = ring(points)
                if crossings(outline) <= MOST_CROSSINGS:
                    fix = tuple(self._found(path, s) for s in untangle(outline, TINY_AREA))
            mend = f"close it with a straight line of {gap:.1f} mm" if fix else ""
            self._say("open-outline", text, where, mend, fix=fix)

    # Words

    def _with_hints(
        self, pieces: list[FoundPiece], texts: Iterable[RawText], finder: PieceFinder
    ) -> list[FoundPiece]:
        """Give words to the piece they stand on, or the nearest; offer what they say."""
        hints = {k: p.hints for k, p in enumerate(pieces) if p.hints}
        plain: list[tuple[int, RawText]] = []
        # What also says how a piece is cut names it better than other words on it.
        order = sorted(texts, key=lambda t: (not read_hints(t.text).words(), -t.at[1], t.at[0]))
        for text in order:
            owner = finder.nearest(text.at)
            if owner is not None:
                said = read_hints(text.text)
                hints[owner] = hints.get(owner, NO_HINTS).with_more(said)
                if not said.words():
                    plain.append((owner, text))
        found = list(pieces)
        for k, said in sorted(hints.items()):
            piece = replace(found[k], hints=said)
            if said.name and piece.name.startswith("Piece "):
                piece = replace(piece, name=said.name)
            found[k] = piece
            if said.words():
                self._say(
                    "text-hint",
                    f"the label on '{piece.name}' says {said.words()}",
                    piece.shape.label_point,
                    f"apply it: {said.words()}",
                    hints_of=piece.id,
                )
        return with_words(found, plain)

    def _found(self, path: RawPath, shape: Shape) -> FoundPiece:
        self.count += 1
        # A drawing program's name of a path may say all that a template says.
        said = NO_HINTS if made_by_machine(path.name) else read_hints(path.name.replace("_", " "))
        if not said.sure:
            said = NO_HINTS
        return FoundPiece(
            f"p{self.count}",
            self._name(replace(path, name=said.name or path.name)),
            shape,
            (),
            path.layer,
            self.file,
            self.page,
            hints=said,
        )

    def _name(self, path: RawPath) -> str:
        for wish in (path.name, path.layer):
            text = " ".join(re.sub(r"_+", " ", wish).split())
            if text and not made_by_machine(text):
                break
        else:
            text = "Piece"
        self.names[text] = self.names.get(text, 0) + 1
        n = self.names[text]
        return f"{text} {n}" if n > 1 or text == "Piece" else text

    def _tell_the_rest(self) -> None:
        """Say how many problems of each kind were not told one by one."""
        for code, count in list(self.told.items()):
            if (more := count - MOST_TOLD) > 0:
                kind = code.replace("-", " ")
                text = f"{more} more of the kind '{kind}' were left out as well"
                self.problems.append(ReadProblem(code, text, (0.0, 0.0)))

    @staticmethod
    def _what(path: RawPath) -> str:
        named = path.name and not made_by_machine(path.name)
        return f"outline '{path.name}'" if named else "an outline"

    def _say(self, code: str, message: str, where: Point, mend: str = "", **rest: object) -> None:
        self.told[code] = self.told.get(code, 0) + 1
        if self.told[code] > MOST_TOLD:
            return  # counted, and told at the end
        self.problems.append(ReadProblem(code, message, where, mend, **rest))  # type: ignore[arg-type]


def _frozen(points: Array) -> Array:
    copy = np.ascontiguousarray(points, dtype=np.float64)
    copy.setflags(write=False)
    return copy
