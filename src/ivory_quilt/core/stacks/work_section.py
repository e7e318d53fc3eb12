"""The section through a work on a face: how deep it goes, and the foam that is left."""

import numpy as np

from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.region import RegionKind
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace
from ivory_quilt.core.stacks.cut import stack_thickness
from ivory_quilt.core.stacks.section import Band, Section
from ivory_quilt.core.stacks.walls import Dent, walls_of
from ivory_quilt.core.units import show_number

SHOWN = 24.0  # mm of foam to either side
WIDE = 12.0  # mm: half of a place that goes on beyond the section
LEAST_SHOWN = 0.4  # mm: what is thinner is drawn so thick


def work_section(piece: Piece, number: int) -> Section:
    """Return the section through one of a piece's works, outer face up.

    With it is drawn what meets it from the other face where the least foam is left.
    """
    work, foam = piece.build.works[number], stack_thickness(piece)
    walls = [w for w in walls_of(piece) if any(d.work == number for d in w.dents)]
    dents = walls[0].dents if walls else ()
    top = _face(dents, WorkFace.OUTER, foam, work)
    low = _face(dents, WorkFace.INNER, foam, work)
    body = Band(np.array([*low, *top[::-1]]), foam, piece.name)
    bands, measures = [body], list[tuple[Point, str]]()
    if work.kind is SurfaceKind.CLAY or work.kind.laid_on:
        high = work.depth if work.kind is SurfaceKind.CLAY else work.thickness
        bands.append(_laid(work, high, foam))
        measures.append(((-SHOWN, foam + high + 5), f"{work.kind.value} {high:g} mm thick"))
    if walls:
        left = show_number(max(walls[0].left, 0.0), 1)
        words = f"{left} mm left, {show_number(walls[0].least, 1)} mm should stay"
        measures.append(((-SHOWN, foam + 5), words))
    return Section(tuple(bands), (), None, tuple(measures))


def _span(half: float, work: SurfaceWork) -> tuple[float, float]:
    """Return from where to where a place goes across the section."""
    if half:
        return -half, half
    if work.region.on is RegionKind.EDGE:
        return SHOWN - min(work.region.width, 1.5 * SHOWN), SHOWN
    return -WIDE, WIDE


def _face(dents: tuple[Dent, ...], face: WorkFace, foam: float, work: SurfaceWork) -> Array:
    """Return a face of the foam from left to right, with what is taken off it."""
    height = foam if face is WorkFace.OUTER else 0.0
    mine = next((d for d in dents if d.face is face), None)
    if mine is None:
        return np.array([(-SHOWN, height), (SHOWN, height)])
    left, right = _span(mine.half, work)
    deep = min(mine.depth, foam)
    foot = height - deep if face is WorkFace.OUTER else height + deep
    line = [(-SHOWN, height), (left, height), (left, foot), (right, foot), (right, height)]
    return np.array(line if right >= SHOWN else [*line, (SHOWN, height)])


def _laid(work: SurfaceWork, high: float, foam: float) -> Band:
    left, right = _span(work.region.width / 2 if work.kind.along_line else 0.0, work)
    thick = max(high, LEAST_SHOWN)
    low, top = (foam, foam + thick) if work.face is WorkFace.OUTER else (-thick, 0.0)
    outline = np.array([(left, low), (right, low), (right, top), (left, top)])
    return Band(outline, high, work.kind.value, other=True)
