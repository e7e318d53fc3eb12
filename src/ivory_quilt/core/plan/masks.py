"""Masks of what is painted in part, as templates that are printed like the others.

A mask covers what of a piece's outer face a tone is not on. It is cut from masking paper or film,
so often as there are pieces.
"""

from collections.abc import Collection

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, polygons_of
from ivory_quilt.core.pattern.build import PLAIN
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import FaceUp, Label, Piece
from ivory_quilt.core.pattern.region import RegionKind
from ivory_quilt.core.pattern.region_shapes import region_on
from ivory_quilt.core.pattern.surface import WorkFace
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import Template, TemplateUse, piece_numbers
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import Cut

PAPER, PAPER_THICKNESS = "masking paper", 0.1
LEAST = 25.0  # mm²: smaller bits are masked with tape


def mask_templates(plan: Plan, wanted: Collection[str] | None = None) -> tuple[Template, ...]:
    """Return the masks of all pieces that are painted in part, or of those `wanted`.

    They are as large as the outer face is that is cut, bend and bevels included.

    Raises:
        InputError: no tone is on a part of a piece whose place is known.
    """
    numbers = piece_numbers(plan)
    made = []
    for piece in plan.project.pieces:
        known = plan.made.get(piece.id)
        if not piece.count or known is None or (wanted is not None and piece.id not in wanted):
            continue
        for area in plan.project.paint:
            if area.covers(piece.id) and area.on is not RegionKind.WHOLE:
                masks = _masks(piece, known.cuts[0], area)
                made += [Template((TemplateUse(numbers[piece.id], m),), m) for m in masks]
    if not made:
        raise InputError(
            "masks",
            "no tone is on a strip, or inside a line, of these pieces",
            "a tone with a region, in Build's Finish",
        )
    return tuple(made)


def _masks(piece: Piece, cut: Cut, area: PaintArea) -> list[Piece]:
    face = replace(cut.piece, shape=cut.outer)
    painted = region_on(face, area.region)
    if painted.is_empty:
        return []  # a line that is not there, or encloses nothing
    left = face.shape.polygon.difference(painted)
    parts = [p for p in polygons_of(left) if p.area >= LEAST]
    found = []
    for number, polygon in enumerate(parts, 1):
        shape = Shape.from_polygon(polygon)
        which = f" {number} of {len(parts)}" if len(parts) > 1 else ""
        words = f"paint {area.tone} beside it"
        if shape.holes:
            words = f"cut out: paint {area.tone} there"
        if area.face is WorkFace.INNER:
            words += ", on the inner face: turn the mask over"
        hole = Shape.make(shape.holes[0]).label_point if shape.holes else shape.label_point
        found.append(
            Piece(
                f"{piece.id} mask {area.id} {number}",
                f"{piece.name}, mask{which}: {area.tone}",
                shape,
                material=PAPER,
                thickness=PAPER_THICKNESS,
                count=piece.count,
                hand=piece.hand,
                drawn_hand=piece.drawn_hand,
                face=FaceUp.SKIN,
                labels=(Label(words, hole),),
                build=PLAIN,
            )
        )
    return found
