"""What is doubtful in a project's pieces, with the place and a mend; checked before foam is cut.

Rules are common practice, no source: a hole no nearer to the edge than the foam is thick, nothing
narrower than that, left and right mirrored and never alike, a name on everything.
"""

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache, partial

import numpy as np
from shapely import Polygon

from ivory_quilt.core.edges.groove_check import grooves_cross, grooves_of
from ivory_quilt.core.edges.profiles import knives_of
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.geometry.outline import along_line, line_length
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.reshape import mirrored_piece, same_shape
from ivory_quilt.core.pattern.seams import Seam, Verdict, marks_evenly
from ivory_quilt.core.pattern.surgery import CutLine, with_strip
from ivory_quilt.core.project import (
    Project,
    change_piece,
    put_pieces,
    remove_pieces,
    rule_of,
    set_gap,
)
from ivory_quilt.core.seam_book import fit_of, keep_edges, let_meet, open_seam, seam_book, seam_name
from ivory_quilt.core.units import show_number, show_thickness

_NAMELESS = re.compile(r"^(piece|path|shape|outline)\s*\d*$", re.I)


@dataclass(frozen=True)
class Finding:
    """Something doubtful.

    Attributes:
        code: stable word for programs.
        message: one sentence.
        pieces: ids of the pieces it is about, the first of them the place to go to.
        mend: what would put it right, or an empty string.
        apply: does the mend.
        seam: the seam it is about, if it is about one.
    """

    code: str
    message: str
    pieces: tuple[str, ...]
    mend: str = ""
    apply: Callable[[Project], Project] | None = None
    seam: Seam | None = None

    @property
    def key(self) -> tuple[object, ...]:
        """What makes it the same finding as an earlier one."""
        return (self.code, self.pieces, self.seam)


def review(project: Project) -> tuple[Finding, ...]:
    """Return all findings, those that cost most foam first."""
    pieces = [p for p in project.pieces if p.count > 0]
    found = [*_hands(pieces), *_seams(project), *_duplicates(pieces)]
    for piece in pieces:
        found += _thin(piece)
        found += _holes(piece)
        found += _name(piece)
        found += _making(piece, project)
    twice = {f.pieces for f in found if f.code == "duplicate"}
    found += [f for f in _labels(pieces) if not any(set(f.pieces) == set(t) for t in twice)]
    found += _pen(project)
    return tuple(found)


def _seams(project: Project) -> list[Finding]:
    """Seams whose edges differ too much, whose marks miss, or whose edge is gone."""
    found = []
    for entry in seam_book(project):
        seam, fit = entry.seam, entry.fit
        ids = tuple(dict.fromkeys((seam.first.piece, seam.second.piece)))
        name = seam_name(project, seam)
        if fit is None:
            text = f"the seam {name} has lost an edge"
            found.append(
                Finding("seam-lost", text, ids, "open the seam", partial(open_seam, seam=seam))
            )
        elif fit.verdict is Verdict.NO:
            off, share = show_number(abs(fit.difference), 1), show_number(abs(fit.percent), 1)
            text = f"the seam {name} does not fit: {off} mm, {share} %"
            mend, apply = _lengthened(project, seam)
            found.append(Finding("seam-mismatch", text, ids, mend, apply, seam))
        elif (fit.landings or fit.lonely) and not fit.marks_meet:
            text = f"match marks of the seam {name} miss each other"
            count = len(fit.landings) + len(fit.lonely)
            found.append(
                Finding("seam-marks", text, ids, f"set {count} marks anew, evenly",
                        partial(_marked_anew, seam=seam, count=count), seam)
            )  # fmt: skip
        if fit is not None and entry.mate is not None and not entry.mate.good:
            text = f"the seam {name}: {entry.mate.sentence}"
            found.append(
                Finding("seam-bevels", text, ids, "bevel both edges to meet",
                        partial(let_meet, seam=seam), seam)
            )  # fmt: skip
    return found


def _making(piece: Piece, project: Project) -> list[Finding]:
    """Forms and bevels that cannot be, and grooves that weaken the foam."""
    found = []
    try:
        knives_of(piece, project.seams, {p.id: p for p in project.pieces})
        shaping_of(piece)
    except InputError as error:
        text = f"'{piece.name}' cannot be made as decided: {error.problem}"
        found.append(Finding("cannot-be-made", text, (piece.id,)))
    for groove in grooves_of(piece):
        for problem in groove.problems:
            text = f"an undercut of '{piece.name}': {problem}"
            found.append(Finding("groove", text, (piece.id,)))
    if grooves_cross(piece.lines):
        text = f"two folds of '{piece.name}' cross: foam cannot follow both"
        found.append(Finding("folds-cross", text, (piece.id,)))
    return found


def _lengthened(project: Project, seam: Seam) -> tuple[str, Callable[[Project], Project] | None]:
    """Return the mend of a seam that does not fit: a strip let in across the shorter edge.

    No mend where that does not bring the edges together, as on an edge that is much curved.
    """
    fit = fit_of(project, seam)
    if fit is None:
        return "", None
    ref = seam.second if fit.difference < 0 else seam.first
    width = abs(fit.difference)

    def apply(whole: Project) -> Project:
        whole = keep_edges(whole, [ref.piece])
        piece = whole.piece(ref.piece)
        line = edge_line(piece, edge_of(piece, ref.edge))
        half = line_length(line) / 2
        before, here, after = along_line(line, np.array([half - 1, half, half + 1]))
        across = np.array([before[1] - after[1], after[0] - before[0]])
        cut = CutLine(tuple(here.tolist()), tuple((here + across * 10).tolist()))
        return put_pieces(whole, [with_strip(piece, cut, width)])

    try:
        after_fit = fit_of(apply(project), seam)
    except InputError:
        return "", None
    if after_fit is None or after_fit.verdict is Verdict.NO:
        return "", None
    name = project.piece(ref.piece).name
    return f"let a strip of {show_number(width, 1)} mm into '{name}'", apply


def _marked_anew(project: Project, seam: Seam, count: int) -> Project:
    project = keep_edges(project, (seam.first.piece, seam.second.piece))
    first, second = project.piece(seam.first.piece), project.piece(seam.second.piece)
    return put_pieces(project, marks_evenly(first, second, seam, count))


def _labels(pieces: list[Piece]) -> list[Finding]:
    """Several pieces of one name cannot be told apart on the bench."""
    named: dict[str, list[Piece]] = {}
    for piece in pieces:
        named.setdefault(piece.name.strip().casefold(), []).append(piece)
    found = []
    for same in named.values():
        hands = {p.hand for p in same}
        told = len(same) == 2 and hands == {Hand.LEFT, Hand.RIGHT}
        if len(same) > 1 and not told:
            text = f"{len(same)} pieces are called '{same[0].name}'"
            ids = tuple(p.id for p in same)
            found.append(
                Finding("same-name", text, ids, "number them", partial(_numbered, ids=ids))
            )
    return found


def _numbered(project: Project, ids: tuple[str, ...]) -> Project:
    for k, ident in enumerate(ids, 1):
        project = change_piece(project, ident, name=f"{project.piece(ident).name} {k}")
    return project


def _pen(project: Project) -> list[Finding]:
    """Parts closer to each other than the pen is wide share its line."""
    rules = [(p, rule_of(project, p)) for p in project.pieces if p.count > 0]
    widest = max(rules, key=lambda r: r[1].pen, default=None)
    if widest is None or widest[1].pen <= project.gap:
        return []
    pen = show_number(widest[1].pen, 1)
    text = f"the pen is {pen} mm wide, parts lie {show_number(project.gap, 1)} mm apart"
    return [
        Finding("gap-under-pen", text, (widest[0].id,), f"lay parts {pen} mm apart",
                lambda p: set_gap(p, widest[1].pen))
    ]  # fmt: skip


def _hands(pieces: list[Piece]) -> list[Finding]:
    """Two hands cut alike, and a hand without its other."""
    found = []
    lefts = [p for p in pieces if p.hand is Hand.LEFT]
    rights = [p for p in pieces if p.hand is Hand.RIGHT]
    partnered: set[str] = set()
    for left in lefts:
        for right in rights:
            if right.id in partnered or not _may_partner(left, right):
                continue
            if same_shape(mirrored_piece(left).shape, right.shape):
                partnered |= {left.id, right.id}
                break
            if same_shape(left.shape, right.shape):
                partnered |= {left.id, right.id}
                found.append(_alike(left, right))
                break
    for piece in (*lefts, *rights):
        if piece.id not in partnered:
            word = "right" if piece.hand is Hand.LEFT else "left"
            found.append(
                Finding(
                    "missing-hand",
                    f"'{piece.name}' is {piece.hand.value}, and no {word} one mirrors it",
                    (piece.id,),
                    "make it a pair",
                    lambda project, p=piece: change_piece(  # type: ignore[misc]
                        project, p.id, hand=Hand.PAIR, drawn_hand=p.hand
                    ),
                )
            )
    return found


def _may_partner(left: Piece, right: Piece) -> bool:
    return (left.material, left.thickness) == (right.material, right.thickness)


def _alike(left: Piece, right: Piece) -> Finding:
    def mend(project: Project) -> Project:
        turned = mirrored_piece(project.piece(right.id))
        return change_piece(
            project, right.id, shape=turned.shape, lines=turned.lines,
            match_marks=turned.match_marks, recipe=None,
        )  # fmt: skip

    return Finding(
        "hands-alike",
        f"'{left.name}' and '{right.name}' are two hands of one shape, not mirrored",
        (right.id, left.id),
        f"mirror '{right.name}'",
        mend,
    )


def _duplicates(pieces: list[Piece]) -> list[Finding]:
    found = []
    seen: dict[tuple[object, ...], list[Piece]] = {}
    for piece in pieces:
        key = (
            piece.material, piece.thickness, piece.hand, piece.name.strip().lower(),
            round(piece.shape.area / 50),
        )  # fmt: skip
        for other in seen.get(key, ()):
            if same_shape(piece.shape, other.shape):
                found.append(_twice(other, piece))
                break
        seen.setdefault(key, []).append(piece)
    return found


def _twice(first: Piece, again: Piece) -> Finding:
    def mend(project: Project) -> Project:
        count = project.piece(first.id).count + project.piece(again.id).count
        return change_piece(remove_pieces(project, [again.id]), first.id, count=count)

    return Finding(
        "duplicate",
        f"'{again.name}' is in the project twice, with one outline",
        (again.id, first.id),
        f"keep one, cut {first.count + again.count} times",
        mend,
    )


def _thin(piece: Piece) -> list[Finding]:
    """Places narrower than the foam is thick, which tear or cannot be cut clean."""
    parts = _thick_parts(piece.shape, piece.thickness)
    if parts == 1:
        return []
    what = "has a neck" if parts else "is"
    foam = show_thickness(piece.thickness)
    text = f"'{piece.name}' {what} narrower than its foam is thick ({foam})"
    return [Finding("too-thin", text, (piece.id,))]


@lru_cache(maxsize=4096)
def _thick_parts(shape: Shape, thickness: float) -> int:
    """Return how many parts are left where everything narrower than the foam is taken away."""
    core = shape.polygon.buffer(-0.49 * thickness, quad_segs=4)
    return len([g for g in getattr(core, "geoms", [core]) if g.area > 1.0])


def _holes(piece: Piece) -> list[Finding]:
    nearest = _nearest_hole(piece.shape)
    if nearest >= piece.thickness:
        return []
    text = (
        f"a hole of '{piece.name}' is {show_number(nearest, 1)} mm from the edge, nearer than its "
        f"foam is thick ({show_thickness(piece.thickness)})"
    )
    return [Finding("hole-near-edge", text, (piece.id,))]


@lru_cache(maxsize=4096)
def _nearest_hole(shape: Shape) -> float:
    """Return the least distance of a hole from the edge, mm."""
    edge = Polygon(shape.outer).exterior
    return min((float(edge.distance(Polygon(h))) for h in shape.holes), default=math.inf)


def _name(piece: Piece) -> list[Finding]:
    if not _NAMELESS.match(piece.name.strip()):
        return []
    return [Finding("no-name", f"'{piece.name}' has no name of its own", (piece.id,))]
