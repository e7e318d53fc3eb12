"""Bowls that heat alone cannot make: darts cut into their rim, or gores in their place."""

import math
from collections.abc import Mapping

import numpy as np

from ivory_quilt.core.document.project import (
    Project,
    add_pieces,
    fresh_group,
    remove_pieces,
)
from ivory_quilt.core.document.seam_book import add_dart
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import BOOK, FoamBook
from ivory_quilt.core.forming.dishing import DishVerdict, Remedy, dishing
from ivory_quilt.core.forming.dome import Dome
from ivory_quilt.core.forming.forms import own_place, shaping_of
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.edges import corner_places, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.shapes.recipe import pieces_from

ENOUGH = 0.85  # of what darts should take up; heat does the rest (from memory, no source)


def dish_verdict(piece: Piece, neutral: float, limit_percent: float) -> DishVerdict | None:
    """Return whether a dished piece goes by heat; None for one that is not dished.

    Raises:
        InputError: a form that cannot be.
    """
    shaping = shaping_of(piece)
    if not isinstance(shaping, Dome):
        return None
    radius = shaping.sphere(own_place(piece, neutral))
    return dishing(radius, shaping.angle, limit_percent / 100)


class DartsCut(Struct, frozen=True):
    """Darts that a piece has: how many, and how much of its rim they take up, mm."""

    count: int
    width: float

    def answer(self, verdict: DishVerdict) -> bool:
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


def with_darts(project: Project, piece_id: str, verdict: DishVerdict) -> Project:
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
    depth = min(verdict.depth, shaping.radius)
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


def as_gores(project: Project, piece_id: str, verdict: DishVerdict) -> Project:
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
            g,
            name=f"{piece.name} gore",
            count=g.count * piece.count,
            hand=piece.hand,
            face=piece.face,
            turn=piece.turn,
        )
        for g in made
    )
    return add_pieces(remove_pieces(project, [piece_id]), gores)
