"""Two pieces made one at an edge, as when a pattern was split only because paper is small."""

from collections.abc import Iterable

import numpy as np
from shapely import Polygon

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import Outline, along_line, line_length
from ivory_quilt.core.geometry.rigid import rigid_fit
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.pattern.edges import edge_letter, edge_line, edge_of, edges_of
from ivory_quilt.core.pattern.piece import Edge, Piece
from ivory_quilt.core.pattern.seams import Seam, SeamVerdict, seam_fit, walks_alike
from ivory_quilt.core.record import replace

SAMPLES = 41
APART = 1.0  # mm, root mean square, that the edges may lie off each other (our choice)
BRIDGE = 0.6  # mm of gap between them that is closed (our choice)
SPECK = 0.5  # mm²: a hole smaller than this is none
CLEAR = 0.05  # mm
OVERLAP = 0.02  # of the smaller piece that may be covered twice


def united(first: Piece, second: Piece, seam: Seam) -> tuple[Piece, dict[str, str]]:
    """Return two pieces as one, laid edge on edge; it keeps the first's id, name and decisions.

    Returns:
        (the whole, new names of the second's edges by their old ones).

    Raises:
        InputError: the edges do not lie on each other, the pieces are of different foam, or they
            would overlap.
    """
    where = f"'{first.name}' and '{second.name}'"
    if first.id == second.id or walks_alike(seam):
        raise InputError(where, "they are not two pieces side by side", "edges that meet face up")
    if (first.thickness, first.material) != (second.thickness, second.material):
        raise InputError(where, "they are cut from different foam", "one foam")
    if seam_fit(first, second, seam).verdict is SeamVerdict.NO:
        raise InputError(where, "their edges are not equally long", "edges within 2 %")
    one = edge_line(first, edge_of(first, seam.first.edge))
    other = edge_line(second, edge_of(second, seam.second.edge))[::-1]
    pose, off = rigid_fit(_sampled(other), _sampled(one))
    if off > APART:
        raise InputError(
            where,
            f"their edges differ in shape by {off:.1f} mm",
            "two edges that lie on each other",
        )
    moved = second.moved_by(pose.apply)
    a, b = first.shape.polygon, moved.shape.polygon
    # Edges that all but coincide have been seen to give a false intersection: kept clear of that.
    shared = a.buffer(-CLEAR, join_style="mitre").intersection(b.buffer(-CLEAR, join_style="mitre"))
    if shared.area > OVERLAP * min(a.area, b.area):
        raise InputError(where, "they would lie on each other", "edges that meet from two sides")
    gap = BRIDGE / 2 + off
    whole = a.buffer(gap, join_style="mitre").union(b.buffer(gap, join_style="mitre"))
    whole = whole.buffer(-gap, join_style="mitre")
    if not isinstance(whole, Polygon):
        raise InputError(where, "they do not join into one outline", "edges that meet all along")
    shape = Shape.from_polygon(_clean(whole))
    edges, renamed = _edges(first, moved, seam, Outline(shape.outer))
    inner = {
        m
        for m in (*first.match_marks, *moved.match_marks)
        if Outline(shape.outer).locate(m)[1] > 3.0
    }
    made = replace(
        first,
        shape=shape,
        lines=(*first.lines, *moved.lines),
        match_marks=tuple(m for m in (*first.match_marks, *moved.match_marks) if m not in inner),
        labels=(*first.labels, *moved.labels),
        edges=edges,
        recipe=None,
    )
    return made, renamed


def _clean(whole: Polygon) -> Polygon:
    """Return the union without specks along the seam and points that say nothing."""
    holes = [h for h in whole.interiors if Polygon(h).area > SPECK]
    whole = Polygon(whole.exterior, holes)
    thin = whole.simplify(0.004)
    return thin if isinstance(thin, Polygon) and thin.is_valid else whole


def _sampled(line: Array) -> Array:
    return along_line(line, np.linspace(0.0, line_length(line), SAMPLES))


def _edges(
    first: Piece, second: Piece, seam: Seam, outline: Outline
) -> tuple[tuple[Edge, ...], dict[str, str]]:
    """Return the whole's edges: those of both pieces but for the two that met."""
    kept = [e for e in edges_of(first) if e.name != seam.first.edge]
    taken = {e.name for e in edges_of(first)}
    renamed: dict[str, str] = {}
    more = []
    for edge in edges_of(second):
        if edge.name == seam.second.edge:
            continue
        name = edge.name if edge.name not in taken else _fresh(taken)
        taken.add(name)
        renamed[edge.name] = name
        more.append(replace(edge, name=name))

    def placed(edge: Edge) -> Edge:
        start, stop = (outline.place(outline.locate(p)[0]) for p in (edge.start, edge.stop))
        return Edge(edge.name, start, stop)

    edges = sorted((placed(e) for e in (*kept, *more)), key=lambda e: outline.locate(e.start)[0])
    return tuple(_gapless(edges)), renamed


def _fresh(taken: Iterable[str]) -> str:
    known = set(taken)
    return next(n for n in map(edge_letter, range(200)) if n not in known)


def _gapless(edges: list[Edge]) -> list[Edge]:
    """Let each edge stop where the next begins."""
    following = edges[1:] + edges[:1]
    return [replace(e, stop=n.start) for e, n in zip(edges, following, strict=True)]
