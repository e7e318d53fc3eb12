"""From raw paths, whatever file they came from, to pieces; and what is wrong with the rest.

Closed outlines become pieces, outlines inside them holes, lines on layers named for it become
score, fold or mark lines. Everything doubtful is reported with its place and a mend that the maker
may take; nothing is dropped in silence.
"""

import re
from collections.abc import Iterable
from dataclasses import replace

import numpy as np
from shapely import STRtree

from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Array, Point, Shape, ring, signed_area
from ivory_quilt.core.geometry.validity import crossing, shape_problem, untangle
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.core.reading.belonging import (
    NEAR,
    depth_of,
    nearest_piece,
    owner_of,
    parents_of,
    with_words,
)
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.found import FoundPiece, Reading, ReadProblem
from ivory_quilt.core.reading.hints import Hints, read_hints

CLOSE_WITHIN = 0.5  # mm: an outline whose ends are this near is closed, and reported
TINY_AREA = 4.0  # mm²: nobody cuts less
MARK_WITHIN = 6.0  # mm of an outline that a match mark may lie off
_MATCH = re.compile(r"\b(match|hash|notch|notches)\b", re.I)
SAME_WITHIN = 0.05  # mm: two outlines nearer than this everywhere are one, drawn twice

_KINDS = (
    (LineKind.UNDERCUT, re.compile(r"\bunder ?cuts?\b", re.I)),
    (LineKind.SCORE, re.compile(r"\b(score|scores|groove|panel ?lines?|engrave)\b", re.I)),
    (LineKind.CENTRE, re.compile(r"\b(cent(re|er) ?lines?|axis)\b", re.I)),
    (LineKind.GRAIN, re.compile(r"\b(grain|direction)\b", re.I)),
    (LineKind.FOLD, re.compile(r"\b(fold|folds|crease)\b", re.I)),
    (LineKind.MARK, re.compile(r"\b(mark|marks|guides?|notes?|pen)\b", re.I)),
)
_MACHINE_NAME = re.compile(
    r"^(path|rect|circle|ellipse|polygon|polyline|line|g|group|use|svg|layer|object|shape|curve|id|cut|cuts|outlines?)?"
    r"[-_ ]?[0-9_.:-]*$",
    re.I,
)


def line_kind(layer: str) -> LineKind | None:
    """Return what a layer's name says is done along its lines, or None."""
    words = re.sub(r"[_\-.]+", " ", layer)
    return next((kind for kind, pattern in _KINDS if pattern.search(words)), None)


def assemble(
    paths: Iterable[RawPath],
    file: str = "",
    *,
    texts: Iterable[RawText] = (),
    page: int = 1,
    count: int = 0,
) -> Reading:
    """Sort raw paths into pieces, holes, lines and problems; words near a piece become hints.

    `count` pieces of the file are known already: ids and default names go on from there.
    """
    return _Assembly(file, page, count).run(list(paths), texts)


class _Assembly:
    def __init__(self, file: str, page: int, count: int) -> None:
        self.file = file
        self.page = page
        self.problems: list[ReadProblem] = []
        self.names: dict[str, int] = {}
        self.count = count
        self.names["Piece"] = count

    def run(self, paths: list[RawPath], texts: Iterable[RawText]) -> Reading:
        lines: list[tuple[LineKind, RawPath]] = []
        ticks: list[RawPath] = []
        closed: list[tuple[RawPath, Shape]] = []
        open_paths: list[RawPath] = []
        for path in paths:
            kind = line_kind(path.layer)
            if len(path.points) < 2:
                continue
            if _MATCH.search(re.sub(r"[_\-.]+", " ", path.layer)):
                ticks.append(path)
            elif kind is not None:
                lines.append((kind, path))
            elif (shape := self._closed(path)) is not None:
                closed.append((path, shape))
            elif not path.closed:
                open_paths.append(path)
        closed = self._without_duplicates(closed)
        pieces = self._nest(closed)
        self._report_overlaps(pieces)
        pieces = self._with_lines(pieces, lines)
        pieces = self._with_marks(pieces, ticks)
        self._report_open(open_paths, pieces)
        pieces = self._with_hints(pieces, texts)
        return Reading(tuple(pieces), tuple(self.problems))

    # Outlines

    def _closed(self, path: RawPath) -> Shape | None:
        points = path.points
        gap = float(np.hypot(*(points[0] - points[-1])))
        if not path.closed:
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
            outline = ring(points)
        except ValueError:
            self._tiny(path, points)
            return None
        if (at := crossing(outline)) is not None and self._crossing(path, outline, at):
            return None
        if abs(signed_area(outline)) < TINY_AREA:
            self._tiny(path, outline)
            return None
        return Shape.make(outline)

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
        by_size: dict[tuple[int, int], list[Shape]] = {}
        for path, shape in closed:
            x0, y0, x1, y1 = shape.bounds
            key = (round((x0 + x1) / 2), round((y0 + y1) / 2))
            near = [
                s
                for dx in (-1, 0, 1)
                for dy in (-1, 0, 1)
                for s in by_size.get((key[0] + dx, key[1] + dy), ())
            ]
            if any(_same(shape, s) for s in near):
                text = f"{self._what(path)} lies on another, equal outline and was left out"
                fix = (self._found(path, shape),)
                self._say("duplicate-outline", text, shape.label_point, "add it as well", fix=fix)
                continue
            by_size.setdefault(key, []).append(shape)
            kept.append((path, shape))
        return kept

    def _nest(self, closed: list[tuple[RawPath, Shape]]) -> list[FoundPiece]:
        """Outlines at even depth are pieces, those just inside them are their holes."""
        polygons = [s.polygon for _, s in closed]
        parents = parents_of(polygons)
        depth = [depth_of(i, parents) for i in range(len(closed))]
        pieces = []
        for i, (path, shape) in enumerate(closed):
            if depth[i] % 2:
                continue
            holes = [closed[j][1].outer for j, p in enumerate(parents) if p == i and depth[j] % 2]
            whole = Shape.make(shape.outer, holes)
            if problem := shape_problem(whole):
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
        if not polygons:
            return
        left, right = STRtree(polygons).query(polygons, predicate="overlaps")
        for i, j in zip(left.tolist(), right.tolist(), strict=True):
            if i < j:
                a, b = pieces[i], pieces[j]
                at = polygons[i].intersection(polygons[j]).representative_point()
                text = f"'{a.name}' and '{b.name}' are drawn across each other; both were taken"
                self._say("overlapping-outlines", text, (float(at.x), float(at.y)))

    # Lines

    def _with_lines(
        self, pieces: list[FoundPiece], lines: list[tuple[LineKind, RawPath]]
    ) -> list[FoundPiece]:
        found = list(pieces)
        for kind, path in lines:
            points = path.points
            if path.closed:
                points = np.vstack((points, points[:1]))
            owner = owner_of(points, found)
            if owner is None:
                self._say(
                    "stray-line",
                    f"a {kind.value} line lies in no piece and was left out",
                    (float(points[0, 0]), float(points[0, 1])),
                )
                continue
            line = PieceLine(kind, _frozen(points))
            found[owner] = replace(found[owner], lines=(*found[owner].lines, line))
        return found

    def _with_marks(self, pieces: list[FoundPiece], ticks: list[RawPath]) -> list[FoundPiece]:
        """Short strokes on a layer for match marks: each lies where it meets an outline."""
        found = list(pieces)
        for tick in ticks:
            best: tuple[float, int, Point] | None = None
            for k, piece in enumerate(found):
                x0, y0, x1, y1 = piece.shape.bounds
                low, high = tick.points.min(axis=0), tick.points.max(axis=0)
                if low[0] > x1 + NEAR or high[0] < x0 - NEAR:
                    continue
                if low[1] > y1 + NEAR or high[1] < y0 - NEAR:
                    continue
                outline = Outline(piece.shape.outer)
                for end in (tick.points[0], tick.points[-1]):
                    at, away = outline.locate((float(end[0]), float(end[1])))
                    if best is None or away < best[0]:
                        best = (away, k, outline.place(at))
            if best is None or best[0] > MARK_WITHIN:
                where = (float(tick.points[0, 0]), float(tick.points[0, 1]))
                self._say("stray-line", "a match mark lies on no outline and was left out", where)
                continue
            piece = found[best[1]]
            found[best[1]] = replace(piece, match_marks=(*piece.match_marks, best[2]))
        return found

    def _report_open(self, paths: list[RawPath], pieces: list[FoundPiece]) -> None:
        for path in paths:
            points = path.points
            where = (float(points[-1, 0]), float(points[-1, 1]))
            gap = float(np.hypot(*(points[0] - points[-1])))
            owner = owner_of(points, pieces)
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
                fix = tuple(self._found(path, s) for s in untangle(ring(points), TINY_AREA))
            mend = f"close it with a straight line of {gap:.1f} mm" if fix else ""
            self._say("open-outline", text, where, mend, fix=fix)

    # Words

    def _with_hints(self, pieces: list[FoundPiece], texts: Iterable[RawText]) -> list[FoundPiece]:
        """Give words to the piece they stand on, or the nearest; offer what they say."""
        hints: dict[int, Hints] = {}
        plain: list[tuple[int, RawText]] = []
        # What also says how a piece is cut names it better than other words on it.
        order = sorted(texts, key=lambda t: (not read_hints(t.text).words(), -t.at[1], t.at[0]))
        for text in order:
            owner = nearest_piece(text.at, pieces)
            if owner is not None:
                said = read_hints(text.text)
                hints[owner] = hints.get(owner, Hints()).with_more(said)
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
        return FoundPiece(
            f"p{self.count}", self._name(path), shape, (), path.layer, self.file, self.page
        )

    def _name(self, path: RawPath) -> str:
        for wish in (path.name, path.layer):
            text = " ".join(re.sub(r"_+", " ", wish).split())
            if text and not _MACHINE_NAME.match(text):
                break
        else:
            text = "Piece"
        self.names[text] = self.names.get(text, 0) + 1
        n = self.names[text]
        return f"{text} {n}" if n > 1 or text == "Piece" else text

    @staticmethod
    def _what(path: RawPath) -> str:
        named = path.name and not _MACHINE_NAME.match(path.name)
        return f"outline '{path.name}'" if named else "an outline"

    def _say(self, code: str, message: str, where: Point, mend: str = "", **rest: object) -> None:
        self.problems.append(ReadProblem(code, message, where, mend, **rest))  # type: ignore[arg-type]


def _frozen(points: Array) -> Array:
    copy = np.ascontiguousarray(points, dtype=np.float64)
    copy.setflags(write=False)
    return copy


def _same(a: Shape, b: Shape) -> bool:
    if np.abs(np.subtract(a.bounds, b.bounds)).max() > SAME_WITHIN:
        return False
    if abs(a.area - b.area) > SAME_WITHIN * (a.outline_length + b.outline_length):
        return False
    return bool(a.polygon.exterior.hausdorff_distance(b.polygon.exterior) <= SAME_WITHIN)
