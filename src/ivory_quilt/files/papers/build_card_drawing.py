"""Drawings of the shop book's build cards: a piece with its edges, and what is seen across it."""

from typing import Any

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.making import MadePiece
from ivory_quilt.core.plan.templates import EdgeNote, Template, bevel_words
from ivory_quilt.core.stacks.form_section import form_section
from ivory_quilt.core.stacks.section import Section
from ivory_quilt.core.stacks.stack_section import stack_section
from ivory_quilt.files.papers.pen import BOLD, INK, SOFT, Pen
from ivory_quilt.files.papers.template_face import edge_outline

OUTSIDE = (0.25, (2.0, 1.0))


def draw_card(
    piece: Piece, template: Template | None, made: MadePiece, pen: Pen, room: tuple[float, float]
) -> None:
    """Draw a piece at the left, and at the right what is to be seen across it and its edges."""
    edges = template.edges if template is not None else ()
    half = room[0] / 2 - 4
    section = section_of(piece, made)
    profiles = template.profiles if template is not None else ()
    _outline(piece, edges, pen, (half if section is not None or profiles else room[0], room[1]))
    across, top = room[0] / 2 + 4, room[1]
    for names, angle, blade in profiles:
        outline = np.array(edge_outline(piece.thickness, angle, blade))
        pen.colour(INK, 0.3)
        top -= piece.thickness
        pen.polyline(outline + np.array((across, top)), closed=True)
        pen.colour(INK)
        right = across + float(outline[:, 0].max()) + 2
        pen.text((right, top + 1), f"{names}: {bevel_words(angle, blade)}", 7)
        top -= 3
    if section is not None:
        with pen.moved(across, 0.0):
            _section(section, pen, (half, max(top, 8.0)))


def section_of(piece: Piece, made: MadePiece) -> Section | None:
    """Return the cross-section of what a piece is built up to; None for one that stays plain."""
    try:
        if piece.build.form.kind is not FormKind.FLAT:
            return form_section(piece, made.context)
        if sum(c.place is not None for c in made.cuts) > 1:
            return stack_section(piece, made.cuts)
    except InputError:
        return None
    return None


def _outline(
    piece: Piece, edges: tuple[EdgeNote, ...], pen: Pen, room: tuple[float, float]
) -> None:
    """Draw a piece as large as it fits, with its lines and the letters of its edges."""
    move = _fitted([*piece.shape.rings], room)
    pen.colour(INK, 0.35)
    for ring in piece.shape.rings:
        pen.polyline(move(ring), closed=True)
    pen.colour(SOFT, *OUTSIDE)
    for line in piece.lines:
        pen.polyline(move(line.points), closed=False)
    pen.colour(INK)
    middle = move(np.array([piece.shape.label_point]))[0]
    for note in edges:
        points = move(np.array(note.line))
        at = points[len(points) // 2] if len(points) > 2 else points.mean(axis=0)
        if note.angle or note.blade:  # not square: thick, also without colour
            pen.colour(INK, 0.9)
            pen.polyline(points, closed=False)
        inwards = (middle - at) / max(1e-6, float(np.linalg.norm(middle - at))) * 3.0
        x, y = (at + inwards).tolist()
        pen.text((x, y - 1.0), note.name, 8, BOLD, centred=True)


def _section(section: Section, pen: Pen, room: tuple[float, float]) -> None:
    """Draw a cross-section as large as it fits: foam outlined, neutral lines dashed."""
    bands = [b.outline for b in section.bands]
    move = _fitted(bands, room)
    for band in section.bands:
        pen.colour(SOFT if band.other else INK, 0.3)
        pen.polyline(move(band.outline), closed=True)
        if band.neutral is not None:
            pen.colour(SOFT, *OUTSIDE)
            pen.polyline(move(band.neutral), closed=False)


def _fitted(outlines: list[Array], room: tuple[float, float]) -> Any:
    """Return what moves points to the middle of a room, as large as they fit but never enlarged."""
    points = np.vstack(outlines)
    low, high = points.min(axis=0), points.max(axis=0)
    size = np.maximum(high - low, 1e-6)
    scale = min(1.0, room[0] / size[0], (room[1] - 2) / size[1])
    shift = np.array([0.0, room[1]]) - np.array([0.0, size[1] * scale])

    def move(where: Array) -> Array:
        moved: Array = (where - low) * scale + shift
        return moved

    return move
