"""What may help where a group strains most when it is formed up: edits of its flat pieces.

Each is a proposal: it says nothing of whether it helps. Whoever asks has it formed up and compares.
How wide a dart, how long an edge is told by the shape itself: what its triangles ask for.
"""

import math
from collections.abc import Callable, Mapping
from enum import StrEnum

import numpy as np

from ivory_quilt.core.document.assembling import PieceAssembly
from ivory_quilt.core.document.darts import dish_verdict
from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.document.recutting import (
    crushed_along,
    inwards,
    on_piece,
    recut,
    stretched_along,
)
from ivory_quilt.core.document.seam_book import add_dart, part_piece
from ivory_quilt.core.editing.surgery import CutLine
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import BOOK, FoamBook
from ivory_quilt.core.forming.dishing import Remedy
from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape, WorstPlace
from ivory_quilt.core.geometry.shape import Array, as_point
from ivory_quilt.core.pattern.build import Face, Form, FormKind, Given
from ivory_quilt.core.pattern.edges import edge_length, edge_of
from ivory_quilt.core.pattern.piece import Edge, Piece
from ivory_quilt.core.pattern.seams import EdgeRef
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import show_number, show_thickness

CALM = 0.01  # strain: below it there is nothing to mend
GAPING = 3.0  # thicknesses that a group may stand off: then it is as bad as all of that
COLD = 0.05  # strain that foam takes without heat, from memory, no source
SHORT = 1.0  # mm: edges that differ by less are as long
MOST_SHARE = 3.0  # of the change that the shape asks for: more bends the piece out of its form
FLATTEST = 12.0  # of a panel's size: a ball of a larger radius is no bowl
LONGEST = 1.8  # times a ball's radius of its area: a longer piece is no bowl
LEAST_DART, MOST_DART = 2.0, 60.0  # mm
INTO = 0.6  # of the way across that a dart may reach
FADED = 0.3  # of the worst strain: a dart ends where no more is left
STEPS = 12  # places looked at along a dart


class MendKind(StrEnum):
    """Ways to mend."""

    DART = "dart"
    SEAM = "longer edge"
    RECUT = "drawn anew"
    PARTED = "one part more"
    THINNER = "thinner foam"
    HEAT = "deeper heat"


class Mend(Struct, frozen=True):
    """An edit that may help.

    Attributes:
        text: what is done, in a line; its amount stands where `{}` does.
        amount: how much, in `unit`; `low` to `high` makes sense, the same where there is no choice.
        project: with the edit made.
        piece: the piece that is edited.
        remake: returns the project with another amount; raises InputError where that cannot be.
        comes_to: returns the amount that a project has in truth, where that may be another.
        again: the parts that are drawn anew by the shape that they come to (`redrawn`).
    """

    kind: MendKind
    text: str
    amount: float
    low: float
    high: float
    unit: str
    project: Project
    piece: str
    remake: Callable[[float], Project]
    again: tuple[str, ...] = ()
    comes_to: Callable[[Project], float] | None = None

    @property
    def words(self) -> str:
        """What is done, in a line."""
        return self.text.replace("{}", show_number(self.amount, 0 if self.amount >= 10 else 1))

    def with_amount(self, amount: float) -> "Mend":
        """Return the same with another amount.

        Raises:
            InputError: the piece has no room for it.
        """
        amount = min(max(amount, self.low), self.high)
        project = self.remake(amount)
        if self.comes_to is not None:
            amount = self.comes_to(project)
        return replace(self, amount=amount, project=project)


def mends(
    project: Project,
    group: PieceAssembly,
    shape: FormedShape,
    thicknesses: tuple[float, ...] = (),
    books: Mapping[str, FoamBook] | None = None,
) -> tuple[Mend, ...]:
    """Return what may help at the worst place of a group's shape.

    Args:
        project: that the group is of.
        group: the assembly that was formed up.
        shape: what came of it, with its panels laid as they stand.
        thicknesses: of foam to be had, mm.
        books: of the foams, by material.
    """
    worst = shape.worst
    if abs(worst.strain) < CALM and all(abs(s.pull) < CALM for s in shape.seams):
        return ()
    at = _WorstSpot(project, group, shape, worst)
    book = (books or {}).get(at.piece.material, BOOK)
    tries: tuple[Callable[[], Mend | None], ...] = (
        lambda: _longer(project, group, shape),
        lambda: _dart(at),
        lambda: _drawn_anew(at),
        lambda: _one_more(at),
        lambda: _heated(at, book),
        lambda: _thinner(at, thicknesses),
    )
    found = []
    for one in tries:
        try:
            made = one()
        except InputError:  # no room for it there
            continue
        if made is not None:
            found.append(made)
    return tuple(found)


def redrawn(mend: Mend, group: PieceAssembly, shape: FormedShape) -> Mend:
    """Return a mend with its parts drawn anew by the shape that they came to.

    Raises:
        InputError: an outline would cross itself.
    """
    project = mend.project
    for ident in mend.again:
        panel, mirrored = _panel_of(group, shape, ident)
        project = put_pieces(project, [recut(project.piece(ident), panel, mirrored=mirrored)])
    return replace(mend, project=project, again=())


class _WorstSpot(Struct, frozen=True):
    """Where a shape strains most."""

    project: Project
    group: PieceAssembly
    shape: FormedShape
    worst: WorstPlace

    @property
    def panel(self) -> FormedPanel:
        return self.shape.panels[self.worst.panel]

    @property
    def mirrored(self) -> bool:
        return self.group.assembly.panels[self.worst.panel].mirrored

    @property
    def piece(self) -> Piece:
        return self.project.piece(self.group.pieces[self.worst.panel])

    @property
    def spot(self) -> Array:
        found: Array = self.panel.flat[self.worst.point]
        return found


def _panel_of(group: PieceAssembly, shape: FormedShape, piece_id: str) -> tuple[FormedPanel, bool]:
    """Return the first panel of a piece, and whether it lies mirrored."""
    k = group.pieces.index(piece_id)
    return shape.panels[k], group.assembly.panels[k].mirrored


def _dart(at: _WorstSpot) -> Mend | None:
    """Take out what is crushed along the nearest edge."""
    if at.worst.strain >= 0:
        return None
    panel, piece = at.panel, at.piece
    mouth, width = crushed_along(panel, at.spot)
    width = min(max(width, LEAST_DART), MOST_DART)
    way, across = inwards(panel, mouth, at.spot)
    deep = _depth(panel, mouth, way, across, at.worst.strain)
    ends = on_piece(np.array([mouth, mouth + deep * way]), mirrored=at.mirrored)
    first, tip = as_point(ends[0]), as_point(ends[1])

    def remake(amount: float) -> Project:
        return add_dart(at.project, piece.id, first, tip, amount)

    made = remake(width)
    words = f"A dart of {{}} mm, {show_number(deep, 0)} deep, in {piece.name}"
    return Mend(MendKind.DART, words, width, LEAST_DART, 3 * width, "mm", made, piece.id, remake)


def _depth(panel: FormedPanel, mouth: Array, way: Array, across: float, worst: float) -> float:
    """Return how far a dart goes in: to where the strain has faded."""
    for step in np.linspace(INTO / STEPS, INTO, STEPS).tolist():
        spot = mouth + way * step * across
        near = int(np.argmin(((panel.flat - spot) ** 2).sum(1)))
        if step > 0.2 and panel.smooth[near] > FADED * worst:
            return float(step * across)
    return INTO * across


def _longer(project: Project, group: PieceAssembly, shape: FormedShape) -> Mend | None:
    """Make the shorter side of the seam that pulls most as long as the other."""
    pulls = [
        (abs(o.pull), k)
        for k, o in enumerate(shape.seams)
        if abs(o.length_a - o.length_b) > SHORT and group.seams[k] < len(project.seams)
    ]
    if not pulls or max(pulls)[0] < CALM:
        return None
    seam = project.seams[group.seams[max(pulls)[1]]]
    if seam.onto_other_hand:
        return None
    one, other = (edge_length(*_edge(project, r)) for r in (seam.first, seam.second))
    short, long = sorted((one, other))
    ref = seam.first if one < other else seam.second
    piece = project.piece(ref.piece)
    panel, mirrored = _panel_of(group, shape, ref.piece)

    def redrawn_by(amount: float) -> Piece | None:
        """Return the piece as its shape asks for, the edge grown; None: it asks for less."""
        share, drawn = 1.0, piece
        for _ in range(4):  # the edge grows nearly evenly with the share: a few secant steps
            drawn = recut(piece, panel, share, mirrored=mirrored)
            grown = edge_length(drawn, edge_of(drawn, ref.edge)) - short
            if grown < 0.05 * amount:
                return None
            if abs(grown - amount) < 0.05:
                return drawn
            share = min(share * amount / grown, MOST_SHARE)
        return drawn if abs(grown - amount) < 0.1 * amount else None

    def remake(amount: float) -> Project:
        drawn = redrawn_by(amount)
        if drawn is None:  # else the whole piece is stretched along the edge
            drawn = stretched_along(piece, ref.edge, short + amount)
        return put_pieces(project, [drawn])

    def comes_to(made: Project) -> float:
        return edge_length(*_edge(made, ref)) - short

    more = long - short
    words = f"Edge {ref.edge} of {piece.name} {{}} mm longer"
    made = Mend(
        MendKind.SEAM,
        words,
        more,
        0.2 * more,
        2 * more,
        "mm",
        project,
        piece.id,
        remake,
        comes_to=comes_to,
    )
    return made.with_amount(more)


def _edge(project: Project, ref: EdgeRef) -> tuple[Piece, Edge]:
    piece = project.piece(ref.piece)
    return piece, edge_of(piece, ref.edge)


def _drawn_anew(at: _WorstSpot) -> Mend | None:
    """Give all pieces of the group the outlines that its shape asks for."""
    ids = tuple(dict.fromkeys(at.group.pieces))

    def remake(amount: float) -> Project:
        project = at.project
        for ident in ids:
            panel, mirrored = _panel_of(at.group, at.shape, ident)
            drawn = recut(project.piece(ident), panel, amount / 100, mirrored=mirrored)
            project = put_pieces(project, [drawn])
        return project

    what = at.piece.name if len(ids) == 1 else f"All {len(ids)} pieces"
    words = f"{what} drawn anew, as cut where they stand"
    return Mend(MendKind.RECUT, words, 100.0, 10.0, 200.0, "%", remake(100.0), at.piece.id, remake)


def _one_more(at: _WorstSpot) -> Mend | None:
    """Part the piece through the worst place; both parts are drawn anew by what comes of it."""
    panel, piece = at.panel, at.piece
    if at.worst.strain < 0:
        mouth, _ = crushed_along(panel, at.spot)
        way, _ = inwards(panel, mouth, at.spot)
        ends = np.array([mouth, mouth + 10 * way])
    else:
        middle = panel.flat.mean(0)
        way = np.linalg.svd(panel.flat - middle, full_matrices=False)[2][0]
        ends = np.array([at.spot, at.spot + 10 * way])
    first, second = on_piece(ends, mirrored=at.mirrored)
    line = CutLine(as_point(first), as_point(second))
    made = part_piece(at.project, piece.id, line)
    known = {p.id for p in at.project.pieces}
    parts = (piece.id, *(p.id for p in made.pieces if p.id not in known))
    words = f"{piece.name} in two, with a shaped seam through the worst place"
    return Mend(
        MendKind.PARTED, words, 1.0, 1.0, 1.0, "", made, piece.id, lambda _: made, again=parts
    )


def _heated(at: _WorstSpot, book: FoamBook) -> Mend | None:
    """Dish the piece by heat to the ball that comes nearest to its shape."""
    piece, panel = at.piece, at.panel
    if piece.build.form.kind not in (FormKind.FLAT, FormKind.FREE, FormKind.DISHED):
        return None
    radius = _ball(panel)
    size = math.sqrt(piece.shape.area / math.pi)
    reach = float(np.hypot(*(piece.shape.outer - piece.shape.centroid).T).max())
    if not size / 2 < radius < FLATTEST * size or reach > LONGEST * size:
        return None
    old = piece.build.form
    face = old.face if old.kind is FormKind.DISHED else Face.MIDDLE

    def remake(amount: float) -> Project:
        form = Form(FormKind.DISHED, Given.RADIUS, amount, face=face, beneath=old.beneath)
        dished = replace(piece, build=replace(piece.build, form=form))
        verdict = dish_verdict(dished, book.neutral, book.dish_limit)
        if verdict is None or verdict.remedy is not Remedy.HEAT:
            where = f"piece '{piece.name}'"
            raise InputError(where, "heat alone does not bring it there", "a wider bowl")
        return put_pieces(at.project, [dished])

    inside = round(max(radius - piece.thickness / 2 - old.beneath, 5.0), 1)
    words = f"{piece.name} heated and dished to a radius of {{}} mm inside"
    return Mend(
        MendKind.HEAT, words, inside, inside / 2, 3 * inside, "mm", remake(inside), piece.id, remake
    )


def _ball(panel: FormedPanel) -> float:
    """Return the radius of the ball that lies nearest to a panel's points, mm (least squares)."""
    places = panel.places - panel.places.mean(0)
    rows = np.column_stack([2 * places, np.ones(len(places))])
    found = np.linalg.lstsq(rows, (places**2).sum(1), rcond=None)[0]
    square = float(found[3]) + float((found[:3] ** 2).sum())
    return math.sqrt(max(square, 0.0))


def _thinner(at: _WorstSpot, thicknesses: tuple[float, ...]) -> Mend | None:
    """Cut all that is as thick in the group from the next thinner foam."""
    piece = at.piece
    below = [t for t in thicknesses if t < piece.thickness - 0.05]
    if not below or piece.build.layers:
        return None
    ids = {
        i
        for i in at.group.pieces
        if at.project.piece(i).thickness == piece.thickness and not at.project.piece(i).build.layers
    }

    def remake(amount: float) -> Project:
        return put_pieces(
            at.project, [replace(at.project.piece(i), thickness=amount) for i in sorted(ids)]
        )

    thin = max(below)
    what = piece.name if len(ids) == 1 else f"{len(ids)} pieces"
    words = f"{what} of {show_thickness(thin)} foam in place of {show_thickness(piece.thickness)}"
    return Mend(MendKind.THINNER, words, thin, thin, thin, "mm", remake(thin), piece.id, remake)


def hurt(shape: FormedShape) -> float:
    """Return how bad a shape is: its worst strain by what cold foam gives, and how far it is off.

    A gap of three thicknesses to its former counts like the strain that foam gives cold (our
    choice).
    """
    strain = max(abs(shape.strain.p01), shape.strain.p99) / COLD
    thick = min(p.thickness for p in shape.panels)
    return strain + (max(shape.off, 0.0) / (GAPING * thick) if shape.off is not None else 0.0)
