"""Edits that take a piece apart or make it of other foam: darts, gores, panels, thicknesses."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from shapely import box

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import BOOK, FoamBook
from ivory_quilt.core.forming.dishing import Remedy, Verdict, dishing
from ivory_quilt.core.forming.dome import Dome
from ivory_quilt.core.forming.forms import own_place, shaping_of
from ivory_quilt.core.geometry.outline import Outline, line_length
from ivory_quilt.core.geometry.shape import Array, Shape, polygons_of
from ivory_quilt.core.making import make_piece
from ivory_quilt.core.pattern.build import Build, FormKind, Layer, LayerSize, Placing
from ivory_quilt.core.pattern.edges import corner_places, edge_line, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import Seam, SeamFit
from ivory_quilt.core.pattern.shapes.recipe import pieces_from
from ivory_quilt.core.plan import Plan
from ivory_quilt.core.project import (
    Project,
    add_pieces,
    change_piece,
    fresh_group,
    remove_pieces,
)
from ivory_quilt.core.seam_book import add_dart, joined_by_thickness
from ivory_quilt.core.stacks.thickness import Way, ways_to

ENOUGH = 0.85  # of what darts should take up; heat does the rest
SMALLEST_PANEL = 60.0  # mm²: no panel is smaller


# Dishing


def dish_verdict(piece: Piece, neutral: float, limit_percent: float) -> Verdict | None:
    """Return whether a dished piece goes by heat; None for one that is not dished.

    Raises:
        InputError: a form that cannot be.
    """
    shaping = shaping_of(piece)
    if not isinstance(shaping, Dome):
        return None
    radius = shaping.sphere(own_place(piece, neutral))
    return dishing(radius, shaping.angle, limit_percent / 100)


@dataclass(frozen=True)
class DartsCut:
    """Darts that a piece has: how many, and how much of its rim they take up, mm."""

    count: int
    width: float

    def answer(self, verdict: Verdict) -> bool:
        """Return whether they take up what a bowl's rim has too much."""
        return self.width >= ENOUGH * verdict.count * verdict.dart


def darts_in(project: Project, piece_id: str) -> DartsCut:
    """Return the darts that are cut into a piece: seams of two of its own edges that meet."""
    piece = project.piece(piece_id)
    edges = {e.name: e for e in edges_of(piece)}
    widths = []
    for seam in project.seams:
        if (
            seam.first.piece == seam.second.piece == piece_id
            and seam.first.edge != seam.second.edge
        ):
            one, other = edges.get(seam.first.edge), edges.get(seam.second.edge)
            if one is None or other is None:
                continue
            ends = [(one.start, other.stop), (other.start, one.stop)]
            # The tip is where both legs meet; the mouth is the other pair of ends.
            widths.append(max(math.dist(a, b) for a, b in ends))
    return DartsCut(len(widths), sum(widths))


def strained(project: Project, books: Mapping[str, FoamBook]) -> tuple[Piece, ...]:
    """Return dished pieces that go neither by heat nor with the darts they have."""
    found = []
    for piece in project.pieces:
        if piece.build.form.kind is not FormKind.DISHED or not piece.count:
            continue
        book = books.get(piece.material, BOOK)
        try:
            verdict = dish_verdict(piece, book.neutral, book.dish_limit)
        except InputError:
            continue
        if verdict is None or verdict.remedy is Remedy.HEAT:
            continue
        if verdict.remedy is Remedy.GORES or not darts_in(project, piece.id).answer(verdict):
            found.append(piece)
    return tuple(found)


def with_darts(project: Project, piece_id: str, verdict: Verdict) -> Project:
    """Cut the darts that a bowl needs, evenly around it, each with its seam.

    Raises:
        InputError: the bowl needs no darts, or there is no room for them.
    """
    if verdict.remedy is not Remedy.DARTS:
        raise InputError("darts", verdict.sentence, "a bowl that goes with darts")
    piece = project.piece(piece_id)
    outline = Outline(piece.shape.outer)
    middle = np.asarray(piece.shape.centroid)
    shaping = shaping_of(piece)
    assert isinstance(shaping, Dome)
    depth = verdict.depth / max(verdict.depth, shaping.radius) * shaping.radius
    starts = _clear_of_corners(outline, verdict.count)
    for mouth in outline.places(starts):
        inward = middle - mouth
        away = float(np.hypot(*inward))
        apex = mouth + inward * min(depth, 0.8 * away) / away
        project = add_dart(
            project, piece_id, tuple(mouth.tolist()), tuple(apex.tolist()), verdict.dart
        )
    return project


def _clear_of_corners(outline: Outline, count: int) -> Array:
    """Return places spread evenly around an outline, as far from its corners as they can be."""
    corners, step = corner_places(outline), outline.length / count
    spread = np.arange(count) * step
    if not len(corners):
        return np.asarray(spread, dtype=np.float64)

    def clear(shift: float) -> float:
        away = np.abs((spread + shift)[:, None] - corners[None, :]) % outline.length
        return float(np.minimum(away, outline.length - away).min())

    best = max(np.linspace(0.0, step, 48, endpoint=False).tolist(), key=clear)
    return np.asarray(spread + best, dtype=np.float64)


def as_gores(project: Project, piece_id: str, verdict: Verdict) -> Project:
    """Put gores in place of a bowl that needs them; they are rolled about their middle.

    Raises:
        InputError: the piece is not dished.
    """
    piece = project.piece(piece_id)
    shaping = shaping_of(piece)
    if not isinstance(shaping, Dome):
        raise InputError(f"piece '{piece.name}'", "it is not dished", "a dished piece")
    inside = shaping.inner
    numbers = {
        "diameter": f"{2 * inside * math.sin(shaping.angle):.3f}",
        "height": f"{inside * (1 - math.cos(shaping.angle)):.3f}",
        "count": f"{max(verdict.count, 3)}",
        "thickness": f"{piece.thickness:g}",
    }
    group = fresh_group(project, f"{piece_id}-gores")
    made = pieces_from("dome", numbers, group, material=piece.material, thickness=piece.thickness)
    gores = tuple(
        replace(
            g, name=f"{piece.name} gore", count=g.count * piece.count, hand=piece.hand,
            face=piece.face, turn=piece.turn,
        )
        for g in made
    )  # fmt: skip
    return add_pieces(remove_pieces(project, [piece_id]), gores)


# Panels on a base


@dataclass(frozen=True)
class PanelGrid:
    """How a base is covered with panels.

    Attributes:
        across: panels side by side.
        up: panels above each other.
        channel: between two panels, mm.
        rim: from the base's edge, mm.
        thickness: of the panels, mm.
        material: of the panels; empty for the base's.
    """

    across: int = 3
    up: int = 1
    channel: float = 4.0
    rim: float = 8.0
    thickness: float = 4.0
    material: str = ""

    def __post_init__(self) -> None:
        if not (1 <= self.across <= 20 and 1 <= self.up <= 20):
            raise InputError("panels", f"{self.across} × {self.up}", "1 to 20 each way")
        if not 0 <= self.channel <= 100 or not 0 <= self.rim <= 200:
            raise InputError("channel", f"{self.channel:g} mm", "0 to 100 mm")


def panels(base: Piece, grid: PanelGrid) -> tuple[Piece, ...]:
    """Return inlay panels on a base, an even channel between them.

    Raises:
        InputError: nothing is left of a panel.
    """
    inner = base.shape.polygon.buffer(-grid.rim, join_style="mitre")
    x0, y0, x1, y1 = base.shape.bounds
    wide, high = (x1 - x0) / grid.across, (y1 - y0) / grid.up
    half = grid.channel / 2
    made: list[Piece] = []
    for row in range(grid.up):
        for column in range(grid.across):
            left, foot = x0 + column * wide, y0 + row * high
            cell = box(
                left + half * (column > 0), foot + half * (row > 0),
                left + wide - half * (column < grid.across - 1),
                foot + high - half * (row < grid.up - 1),
            )  # fmt: skip
            for part in polygons_of(inner.intersection(cell)):
                if part.area >= SMALLEST_PANEL:
                    made.append(_panel(base, Shape.from_polygon(part), grid, len(made) + 1))
    if not made:
        raise InputError("panels", "nothing is left of them", "a narrower rim or channel")
    return tuple(made)


def _panel(base: Piece, shape: Shape, grid: PanelGrid, number: int) -> Piece:
    x0, y0, x1, y1 = base.shape.bounds
    u0, v0, u1, v1 = shape.bounds
    across = ((u0 + u1) / 2 - x0) / (x1 - x0)
    up = ((v0 + v1) / 2 - y0) / (y1 - y0)
    return Piece(
        f"{base.id}-panel-{number}", f"{base.name} panel {number}", shape,
        material=grid.material or base.material, thickness=grid.thickness,
        count=base.count, hand=base.hand,
        drawn_hand=base.drawn_hand, face=base.face, turn=base.turn,
        build=Build(placing=Placing(base.id, across, up)),
    )  # fmt: skip


def with_panels(project: Project, base_id: str, grid: PanelGrid) -> Project:
    """Add inlay panels to a base.

    Raises:
        InputError: see `panels`.
    """
    return add_pieces(project, panels(project.piece(base_id), grid))


# Thickness


def ways_for(plan: Plan, piece_id: str, wanted: float) -> tuple[Way, ...]:
    """Return every way to a thickness from the shop's foam of the piece's material.

    Raises:
        InputError: a thickness that makes no sense, or the shop has none of the material.
    """
    material = plan.project.piece(piece_id).material
    kinds = sorted({i.foam.thickness for i in plan.stock.items if i.foam.material == material})
    if not kinds:
        raise InputError("foam", f"the shop has none of '{material}'", "foam on the shelf")
    return ways_to(wanted, kinds)


def in_way(project: Project, piece_id: str, way: Way) -> Project:
    """Make a piece's thickness of other foam: laminated, split, or simply of another thickness.

    Raises:
        InputError: no such piece.
    """
    piece = project.piece(piece_id)
    build = replace(piece.build, split=way.split)
    if way.split > 1 or len(way.layers) == 1:
        return change_piece(project, piece_id, thickness=way.thickness, build=build)
    # The layers that make the thickness lie under those that were there.
    more = tuple(Layer(t, piece.material, LayerSize.SAME) for t in way.layers[1:])
    build = replace(build, layers=(*more, *build.layers))
    return change_piece(project, piece_id, thickness=way.layers[0], build=build)


@dataclass(frozen=True)
class EdgeChange:
    """How long an edge is cut in one thickness and in another, mm."""

    edge: str
    before: float
    after: float


@dataclass(frozen=True)
class ThicknessChange:
    """What another thickness does to a piece.

    Attributes:
        width: (before, after) of its box across, mm.
        height: the same upwards.
        edges: that are longer or shorter than before.
        seams: (seam, fit before, fit after) of those that change, as cut.
        project: with the other thickness.
    """

    width: tuple[float, float]
    height: tuple[float, float]
    edges: tuple[EdgeChange, ...]
    seams: tuple[tuple[Seam, SeamFit, SeamFit], ...]
    project: Project


def in_thickness(plan: Plan, piece_id: str, thickness: float) -> ThicknessChange:
    """Return what happens to a piece's cut outline when its foam is of another thickness.

    Raises:
        InputError: no such piece, or it cannot be made in that thickness.
    """
    project = plan.project
    changed = change_piece(project, piece_id, thickness=thickness)
    old = plan.made[piece_id]
    new = make_piece(changed.piece(piece_id), old.rule, old.setting)
    if new.problem:
        raise InputError(f"{thickness:g} mm", new.problem, "another thickness")
    one, two = old.cuts[0].piece, new.cuts[0].piece
    edges = []
    after = {e.name: line_length(edge_line(two, e)) for e in edges_of(two)}
    for edge in edges_of(one):
        length = line_length(edge_line(one, edge))
        if edge.name in after and abs(after[edge.name] - length) > 0.05:
            edges.append(EdgeChange(edge.name, length, after[edge.name]))
    cut = {i: m.cuts[0].piece for i, m in plan.made.items() if m.cuts}
    seams = joined_by_thickness(project, piece_id, cut, cut | {piece_id: two})
    return ThicknessChange(
        (one.shape.width, two.shape.width),
        (one.shape.height, two.shape.height),
        tuple(edges),
        seams,
        changed,
    )
