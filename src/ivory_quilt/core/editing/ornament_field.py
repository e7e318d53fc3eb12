"""Ornaments and holes over the whole of a piece, in even rows, alike on both sides of its axis."""

import numpy as np
import shapely

from ivory_quilt.core.editing.ornament_row import MOST, OrnamentRow, RowPlaces
from ivory_quilt.core.editing.symmetry import Axis, axis_of
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct, replace

OVER = "*"
"""Where a row stands that fills the piece."""
HALVINGS = 40
LEAST = 1.0  # mm between middles
PHASES = ((0.0, 0.0), (0.0, 0.5), (0.5, 0.0), (0.5, 0.5))
"""Of a step that the lattice is moved across and along the axis: alike on both sides of it."""


class OrnamentField(Struct, frozen=True):
    """Rows over a piece.

    Attributes:
        row: what stands there and how large: `count`, or 0 where `spacing` says how far apart;
            `inset` is kept from all edges to the ornaments' rims; sizes grow from the low end of
            the axis to its high end.
        up: from row to row, mm; 0: as in a row, times √3/2 where they are staggered.
        staggered: whether each row stands in the gaps of the one before.
        turn: of the rows against the level, degrees, where the piece has no axis.
    """

    row: OrnamentRow
    up: float = 0.0
    staggered: bool = True
    turn: float = 0.0

    def __post_init__(self) -> None:
        if not (self.up == 0 or LEAST <= self.up <= 1000):
            raise InputError("from row to row", f"{self.up:g} mm", "1 to 1000 mm")

    def rise(self, spacing: float) -> float:
        """Return how far apart rows are that have a spacing."""
        if self.up:
            return self.up
        return spacing * (np.sqrt(3) / 2 if self.staggered else 1.0)


def field_places(piece: Piece, field: OrnamentField) -> tuple[RowPlaces, Array]:
    """Return where middles come over a piece, row by row, and how large each is, mm across.

    By a count the spacing is found that gives as many, or as nearly as many as it can.

    Raises:
        InputError: no place is so far from all edges, or there would be too many.
    """
    spacing = field.row.spacing or _spacing_for(piece, field)
    wanted = None if field.row.spacing else field.row.count
    middles, sizes = _best_phase(piece, field, spacing, wanted)
    where = f"field on '{piece.name}'"
    if not len(middles):
        raise InputError(
            where, "no place is so far from all edges", "smaller ones, or a smaller inset"
        )
    if len(middles) > MOST:
        raise InputError(where, f"{len(middles)} in it", f"1 to {MOST}")
    turn = _frame(piece, field)[1]
    return RowPlaces(middles, np.full(len(middles), turn), spacing), sizes


def _frame(piece: Piece, field: OrnamentField) -> tuple[Axis, float]:
    """Return the axis that rows stand square to, and which way they run, degrees."""
    x0, y0, x1, y1 = piece.shape.bounds
    found = axis_of(piece)
    if found is None:
        turn = np.radians(field.turn)
        way = (float(-np.sin(turn)), float(np.cos(turn)))
        return Axis(((x0 + x1) / 2, (y0 + y1) / 2), way), field.turn
    way = (
        found.way
        if found.way[1] > 1e-9 or (abs(found.way[1]) <= 1e-9 and found.way[0] < 0)
        else (
            -found.way[0],
            -found.way[1],
        )
    )
    middle = found.onto(((x0 + x1) / 2, (y0 + y1) / 2))
    return Axis(middle, way), float(np.degrees(np.arctan2(-way[0], way[1])))


def _best_phase(
    piece: Piece, field: OrnamentField, spacing: float, wanted: int | None
) -> tuple[Array, Array]:
    """Return the places with the axis through a middle or a gap, whichever gives most.

    With a number `wanted`, whichever comes nearest to it.
    """
    found = [_places(piece, field, spacing, phase) for phase in PHASES]
    return max(found, key=lambda f: len(f[0]) if wanted is None else -abs(len(f[0]) - wanted))


def _places(
    piece: Piece, field: OrnamentField, spacing: float, phase: tuple[float, float]
) -> tuple[Array, Array]:
    axis, _ = _frame(piece, field)
    up = np.array(axis.way)
    across = np.array((axis.way[1], -axis.way[0]))
    off = piece.shape.outer - np.array(axis.at)
    low, high = float((off @ up).min()), float((off @ up).max())
    wide = float(np.abs(off @ across).max())
    rise = field.rise(spacing)
    rows = np.arange(np.floor(low / rise), np.ceil(high / rise) + 1)
    reach = int(np.ceil(wide / spacing)) + 1
    if len(rows) * (2 * reach + 1) > 400 * MOST:
        return np.empty((MOST + 1, 2)), np.empty(MOST + 1)
    steps = np.arange(-reach, reach + 1)
    found = []
    for k in rows.tolist():
        shift = phase[0] + (0.5 if field.staggered and k % 2 else 0.0)
        at = (steps + shift)[:, None] * spacing * across + (k + phase[1]) * rise * up
        found.append(at + np.array(axis.at))
    middles = np.vstack(found)
    share = ((middles - np.array(axis.at)) @ up - low) / max(high - low, 1e-9)
    sizes = field.row.first + (field.row.last - field.row.first) * np.clip(share, 0, 1)
    foam = piece.shape.polygon
    shapely.prepare(foam)
    spots = shapely.points(middles)
    inside = shapely.covers(foam, spots)
    away = shapely.distance(foam.boundary, spots)
    good = inside & (away >= field.row.inset + sizes / 2 - 1e-9)
    return middles[good], sizes[good]


def _spacing_for(piece: Piece, field: OrnamentField) -> float:
    """Return the spacing that gives a count as nearly as it can, the wider of two as good."""
    wanted = field.row.count
    low, high = LEAST, max(piece.shape.width, piece.shape.height)
    best, best_off = high, float("inf")
    if field.row.first > LEAST:
        low = max(low, 0.5 * min(field.row.first, field.row.last))
    # The count falls as the spacing grows, in jumps: looked at finely, then nearer and nearer.
    for _ in range(3):
        tries = np.geomspace(low, high, HALVINGS)
        counts = [len(_best_phase(piece, field, float(s), wanted)[0]) for s in tries]
        for s, n in zip(tries.tolist(), counts, strict=True):
            off = abs(n - wanted)
            if n and (off < best_off or (off == best_off and s > best)):
                best, best_off = s, off
        step = (high / low) ** (1 / (HALVINGS - 1))
        low, high = best / step, best * step
    return best


def as_row(field: OrnamentField, count: int) -> OrnamentRow:
    """Return a field as the row of what stands in it."""
    return replace(field.row, count=count)
