"""Rows of ornaments put onto a piece: holes, marks, and how often their pieces are cut."""

from collections import Counter
from itertools import cycle, islice

import numpy as np
import shapely

from ivory_quilt.core.document.project import Project, add_pieces, put_pieces
from ivory_quilt.core.editing.ornament_field import OrnamentField, as_row, field_places
from ivory_quilt.core.editing.ornament_row import OrnamentRow, RowOf, RowPlaces, row_places
from ivory_quilt.core.editing.plate_row import PlateRow
from ivory_quilt.core.editing.reshape import scaled_piece
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Array, Pose, Shape
from ivory_quilt.core.pattern.piece import Hand, Label, LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace

TOUCH = 0.5  # mm: holes nearer to each other tear (our choice)


def with_row(project: Project, piece_id: str, row: OrnamentRow) -> tuple[Project, RowPlaces]:
    """Put a row onto a piece; return the project and where the row stands.

    Holes are cut into the piece. What is glued on gets marks; of pieces as many are cut as stand in
    the row on every copy and both hands of the piece: instead of one that was only drawn, else
    beside those that there are.

    Raises:
        InputError: no room for it, or one would reach over the edge; nothing is changed then.
    """
    piece = project.piece(piece_id)
    places = row_places(piece, row)
    return _put(project, piece, row, places, row.sizes(len(places.middles)))


def with_field(project: Project, piece_id: str, field: OrnamentField) -> tuple[Project, RowPlaces]:
    """Put ornaments all over a piece; see `with_row`.

    Raises:
        InputError: no room for any, too many, or they meet; nothing is changed then.
    """
    piece = project.piece(piece_id)
    if field.row.of is RowOf.PIECES:  # as much room as the largest of them takes, however turned
        shapes = [project.piece(i).shape for i in field.row.pieces]
        size = max(float(np.hypot(s.width, s.height)) for s in shapes)
        field = replace(field, row=replace(field.row, first=size, last=size))
    places, sizes = field_places(piece, field)
    return _put(project, piece, as_row(field, len(sizes)), places, sizes)


def with_plates(project: Project, piece_id: str, row: PlateRow) -> Project:
    """Make a row of overlapping plates of a piece: plates alike are one piece, cut so often.

    The piece itself becomes the first plate. On each but the last a line marks how far the next
    one covers it.

    Raises:
        InputError: the row does not come out.
    """
    piece = project.piece(piece_id)
    scales = row.scales(piece.shape.height).tolist()
    if abs(row.taper - 1) < 1e-9:
        plate = _lapped(scaled_piece(piece, scales[0]), row.overlap)
        return put_pieces(project, [replace(plate, count=piece.count * row.count)])
    made = []
    for k, scale in enumerate(scales, 1):
        plate = replace(scaled_piece(piece, scale), name=f"{piece.name} {k}")
        plate = plate if k == len(scales) else _lapped(plate, row.overlap)
        made.append(plate if k == 1 else replace(plate, id=f"{piece.id}-{k}"))
    return add_pieces(put_pieces(project, made[:1]), made[1:])


def _lapped(plate: Piece, overlap: float) -> Piece:
    """Return a plate with a line where the next one's low edge comes to lie."""
    x0, _, x1, y1 = plate.shape.bounds
    if overlap <= 0:
        return plate
    across = shapely.LineString([(x0 - 1, y1 - overlap), (x1 + 1, y1 - overlap)])
    met = plate.shape.polygon.intersection(across)
    lines = [np.asarray(g.coords) for g in getattr(met, "geoms", [met]) if g.length > 1]
    marks = tuple(PieceLine(LineKind.MARK, line) for line in lines)
    return replace(plate, lines=(*plate.lines, *marks))


def _put(
    project: Project, piece: Piece, row: OrnamentRow, places: RowPlaces, sizes: Array
) -> tuple[Project, RowPlaces]:
    """Put what stands at places onto a piece."""
    if row.of is RowOf.PIECES:
        outlines = _standing(project, row, places)
    else:
        middles = [(float(x), float(y)) for x, y in places.middles]
        outlines = [circle(m, size / 2) for m, size in zip(middles, sizes.tolist(), strict=True)]
    _check(piece, outlines, row)
    if row.of is RowOf.HOLES:
        holes = [*(h.tolist() for h in piece.shape.holes), *(o.tolist() for o in outlines)]
        shape = Shape.make(piece.shape.outer.tolist(), holes, where=f"piece '{piece.name}'")
        return put_pieces(project, [replace(piece, shape=shape)]), places
    lines = [PieceLine(LineKind.MARK, np.vstack((o, o[:1]))) for o in outlines]
    x, y = places.middles[len(places.middles) // 2].tolist()
    label = Label(_words(project, row, len(outlines)), (x, y))
    marked = replace(piece, lines=(*piece.lines, *lines), labels=(*piece.labels, label))
    return put_pieces(project, [marked, *_counted(project, piece, row, len(outlines))]), places


def _standing(project: Project, row: OrnamentRow, places: RowPlaces) -> list[Array]:
    """Return the outlines of a row's pieces where they stand, each turned the way the row runs."""
    found = []
    turned = zip(places.middles, places.turns.tolist(), strict=True)
    for ident, (middle, turn) in zip(cycle(row.pieces), turned, strict=False):
        shape = project.piece(ident).shape
        x0, y0, x1, y1 = shape.bounds
        spun = Pose(0.0, 0.0, turn)
        centre = spun.apply(np.array([[(x0 + x1) / 2, (y0 + y1) / 2]]))[0]
        found.append(spun.apply(shape.outer) - centre + middle)
    return found


def _check(piece: Piece, outlines: list[Array], row: OrnamentRow) -> None:
    """Refuse what reaches over the edge or into another."""
    whole = piece.shape.polygon.buffer(1e-6)
    drawn = [shapely.Polygon(o) for o in outlines]
    over = [k for k, one in enumerate(drawn, 1) if not whole.covers(one)]
    if over:
        raise InputError(
            f"row on '{piece.name}'",
            f"number {over[0]} reaches over the edge or into a hole",
            "a larger inset, or smaller ones",
        )
    gap = TOUCH if row.of is RowOf.HOLES else 0.0
    tree = shapely.STRtree(drawn)
    pairs = tree.query(drawn, predicate="dwithin", distance=gap).T.tolist()
    near = [(a, b) for a, b in pairs if a < b]
    if row.of is not RowOf.HOLES:
        near = [(a, b) for a, b in near if drawn[a].intersection(drawn[b]).area > 1e-6]
    if near and row.of is not RowOf.PIECES:  # plates may overlap
        a, b = min(near)
        raise InputError(
            f"row on '{piece.name}'",
            f"numbers {a + 1} and {b + 1} meet",
            "fewer or smaller ones",
        )


def _words(project: Project, row: OrnamentRow, count: int) -> str:
    if row.of is RowOf.MARKS:
        return f"{count} × {row.first:g} mm" + (
            f" to {row.last:g} mm" if row.last != row.first else ""
        )
    many = Counter(islice(cycle(row.pieces), count))
    return ", ".join(f"{n} × {project.piece(i).name}" for i, n in many.items())


def _counted(project: Project, base: Piece, row: OrnamentRow, count: int) -> list[Piece]:
    """Return the row's pieces with so many more of each to cut."""
    bases = base.count * (2 if base.hand is Hand.PAIR else 1)
    many = Counter(islice(cycle(row.pieces), count))
    found = [(project.piece(ident), n * bases) for ident, n in many.items()]
    found = [(p, n + (p.count if p.count > 1 else 0)) for p, n in found]
    return [replace(p, count=n) for p, n in found if p.id != base.id]
