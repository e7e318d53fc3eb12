"""Where scrap comes from, and which piece's it is.

Everything is measured on the layout: what of a sheet is neither part nor worth keeping is edge,
gap, hollow or rest, in this order, so that the four always add up to the scrap.
"""

from collections.abc import Iterator

import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.nesting.job import LayJob, Placement, RollSpec
from ivory_quilt.core.nesting.summary import used_stock
from ivory_quilt.core.record import Struct, field
from ivory_quilt.core.stock.keeping import KeepRule, kept_of, outlines_of

QUARTER = 4  # segments of a rounded corner: a gap is 2 mm


class ScrapShares(Struct, frozen=True):
    """Scrap by its cause and by piece; areas in mm².

    Attributes:
        edges: the strip along the sheets' edges that is not used.
        gaps: what is kept free around parts.
        hollows: what the parts' own outlines leave in their hulls.
        rest: what lies between and beside the parts: the sheet's size, or the layout.
        pieces: of each piece of the job, by its id; they add up to the same.
    """

    edges: float = 0.0
    gaps: float = 0.0
    hollows: float = 0.0
    rest: float = 0.0
    pieces: dict[str, float] = field(default_factory=dict)

    @property
    def total(self) -> float:
        """All scrap."""
        return self.edges + self.gaps + self.hollows + self.rest


class _OnSheet(Struct, frozen=True):
    edges: float
    gaps: float
    hollows: float
    rest: float
    own: tuple[tuple[str, float, float], ...]
    """Of each part: piece, its area, and the gap and hollow that it makes."""


def scrap_shares(job: LayJob, placements: tuple[Placement, ...], rule: KeepRule) -> ScrapShares:
    """Return the causes of a layout's scrap, and each piece's share of it.

    A part answers for its own gap and hollows; edges and rest are shared by area.
    """
    sheets = list(_sheets(job, placements, rule))
    pieces: dict[str, float] = {}
    for one in sheets:
        area = sum(a for _, a, _ in one.own)
        own = sum(o for _, _, o in one.own)
        made = one.gaps + one.hollows
        for piece, a, o in one.own:
            share = made * o / own if own > 0 else made * a / area
            pieces[piece] = pieces.get(piece, 0.0) + share + (one.edges + one.rest) * a / area
    return ScrapShares(
        sum(s.edges for s in sheets),
        sum(s.gaps for s in sheets),
        sum(s.hollows for s in sheets),
        sum(s.rest for s in sheets),
        pieces,
    )


def _sheets(job: LayJob, placements: tuple[Placement, ...], rule: KeepRule) -> Iterator[_OnSheet]:
    shapes = {p.id: p.shape for p in job.pieces}
    for (ident, _), members in sorted(used_stock(placements).items()):
        stock = job.stock[ident]
        parts = [shapes[m.piece].placed(m.pose).polygon for m in members]
        foam = stock.shape.polygon
        if isinstance(stock, RollSpec):
            reach = stock.length_for(max(p.bounds[2] for p in parts))
            foam = rectangle(reach, stock.width).polygon
        kept = outlines_of(kept_of(job, tuple(members), rule), rule)
        yield _on_sheet(foam, stock.margin, job.gap, parts, kept, [m.piece for m in members])


def _on_sheet(
    foam: Polygon,
    margin: float,
    gap: float,
    parts: list[Polygon],
    kept: list[Polygon],
    pieces: list[str],
) -> _OnSheet:
    left: BaseGeometry = foam.difference(shapely.union_all([*parts, *kept]))
    scrap = left.area
    edge = foam.difference(foam.buffer(-margin)) if margin else Polygon()
    left = left.difference(edge)
    edges = scrap - left.area
    grown = [p.buffer(gap / 2, quad_segs=QUARTER) for p in parts]
    before, left = left.area, left.difference(shapely.union_all(grown))
    gaps = before - left.area
    hulls = [Polygon(p.exterior).convex_hull for p in parts]
    before, left = left.area, left.difference(shapely.union_all(hulls))
    own = tuple(
        (piece, part.area, g.area - part.area + h.difference(g).area)
        for piece, part, g, h in zip(pieces, parts, grown, hulls, strict=True)
    )
    return _OnSheet(edges, gaps, before - left.area, left.area, own)
