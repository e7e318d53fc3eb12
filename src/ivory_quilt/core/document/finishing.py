"""Edits of what is done to faces: works on pieces, lines that are cut, tones given on."""

from collections.abc import Callable, Iterable

from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.document.seam_book import keep_edges
from ivory_quilt.core.edges.groove_check import first_crease
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import LineKind, Piece, Turn
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.region_shapes import line_names, region_on, with_name_kept
from ivory_quilt.core.pattern.sewing import Sewing
from ivory_quilt.core.pattern.surface import SurfaceWork
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.sewing import sewn

MOST_WORKS = 60

Works = tuple[SurfaceWork, ...]


def set_works(
    project: Project, piece_ids: Iterable[str], change: Callable[[Works], Works]
) -> Project:
    """Change what is done to the faces of pieces; lines and edges that it names keep their names.

    Raises:
        InputError: a place that a piece does not have, or too many works.
    """
    ids = tuple(dict.fromkeys(piece_ids))
    by_edge = [
        i
        for i in ids
        if any(w.region.on is RegionKind.EDGE for w in change(project.piece(i).build.works))
    ]
    project = keep_edges(project, by_edge)
    return put_pieces(project, [_with_works(project.piece(i), change) for i in ids])


def _with_works(piece: Piece, change: Callable[[Works], Works]) -> Piece:
    old = piece.build.works
    works = change(old)
    if len(works) > MOST_WORKS:
        raise InputError(f"piece '{piece.name}'", f"{len(works)} works", f"at most {MOST_WORKS}")
    for work in works:
        if work not in old and region_on(piece, work.region).is_empty:
            raise InputError(
                f"piece '{piece.name}', {work.kind.value}",
                f"there is no foam at {work.region.words}",
                "an edge or line that it has; a line that closes, to fill what it encloses",
            )
        piece = with_name_kept(piece, work.region)
    return replace(piece, build=replace(piece.build, works=works))


def set_sewing(
    project: Project, piece_ids: Iterable[str], change: Callable[[Sewing], Sewing | None]
) -> Project:
    """Change how pieces of cloth are sewn; None: they are cut as drawn.

    What is sewn keeps the names of its edges, and lies along the grain.

    Raises:
        InputError: it cannot be cut so.
    """
    ids = tuple(dict.fromkeys(piece_ids))
    project = keep_edges(project, ids)
    made = []
    for ident in ids:
        piece = project.piece(ident)
        first = piece.build.sewing is None
        sewing = change(piece.build.sewing or Sewing())
        if sewing is not None:
            sewn(piece, sewing)  # refuses what cannot be
        turn = Turn.DIRECTION if sewing is not None and first else piece.turn
        made.append(replace(piece, turn=turn, build=replace(piece.build, sewing=sewing)))
    return put_pieces(project, made)


def set_line_kind(project: Project, piece_id: str, name: str, kind: LineKind) -> Project:
    """Say what a knife does along one of a piece's lines: nothing, a score, a slit.

    Raises:
        InputError: no such line.
    """
    piece = project.piece(piece_id)
    names = line_names(piece)
    if name not in names:
        raise InputError(f"piece '{piece.name}'", f"no line {name}", "one of its lines")
    crease = first_crease(kind) if kind is LineKind.SCORE else None
    lines = tuple(
        replace(k, kind=kind, crease=crease, name=n) if n == name else k
        for k, n in zip(piece.lines, names, strict=True)
    )
    return put_pieces(project, [replace(piece, lines=lines)])


def places_of(piece: Piece, width: float) -> tuple[tuple[FaceRegion, str], ...]:
    """Return the places of a piece that something may be done to, each with its words.

    `width` is that of strips along edges and lines, mm.
    """
    edges = [e.name for e in edges_of(piece)]
    names = line_names(piece)
    found = [
        (FaceRegion(), "all of it"),
        (FaceRegion(RegionKind.EDGE, "", width), "along all edges"),
    ]
    found += [(FaceRegion(RegionKind.EDGE, e, width), f"along edge {e}") for e in edges]
    # Strokes of one ornament have one name.
    for name, line in dict(zip(names, piece.lines, strict=True)).items():
        if line.kind in (LineKind.GRAIN, LineKind.OTHER):
            continue
        found.append((FaceRegion(RegionKind.LINE, name, width), f"along line {name}"))
        inside = FaceRegion(RegionKind.LINE, name)
        if not region_on(piece, inside).is_empty:
            found.append((inside, f"inside line {name}"))
    return tuple(found)


def give_tones(project: Project, source: str, others: Iterable[str]) -> Project:
    """Give the tones of one piece to others as well, in their order."""
    more = tuple(dict.fromkeys(others))
    paint = tuple(
        replace(a, pieces=tuple(dict.fromkeys((*a.pieces, *more))))
        if a.pieces and source in a.pieces
        else a
        for a in project.paint
    )
    return replace(project, paint=paint)
