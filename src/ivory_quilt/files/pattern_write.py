"""Patterns out, in open formats: SVG and DXF at true size, everything on a layer of its own.

What is written comes in again as it went out: layers are named as the readers know them.
"""

from collections.abc import Iterable
from pathlib import PurePath

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.pattern.edges import mark_tick
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece
from ivory_quilt.core.units import show_thickness
from ivory_quilt.files.dxf_write import DxfDrawing
from ivory_quilt.files.svg_write import SvgDrawing, SvgLayer

BETWEEN = 20.0  # mm between pieces on the sheet
LAYERS = {
    LineKind.SCORE: "score",
    LineKind.SLIT: "slit",
    LineKind.FOLD: "fold",
    LineKind.UNDERCUT: "undercut",
    LineKind.MARK: "marks",
    LineKind.CENTRE: "centre line",
    LineKind.GRAIN: "grain",
    LineKind.OTHER: "other face",
}
CUT, MATCH, WORDS = "cut", "match marks", "words"
COLOURS = {CUT: ("#a3243b", 1), MATCH: ("#26212b", 7), WORDS: ("#26212b", 7)}
OTHER = ("#235a8c", 5)
TICK = 6.0  # mm


def write_pattern(pieces: Iterable[Piece], name: str) -> bytes:
    """Return pieces as a drawing; the ending of `name` says which format.

    Raises:
        InputError: it is neither .svg nor .dxf.
    """
    kind = PurePath(name).suffix.lower()
    laid = lay_out(pieces)
    if kind == ".svg":
        return _svg(laid)
    if kind == ".dxf":
        return _dxf(laid)
    raise InputError(name, f"'{kind}' is not written", ".svg or .dxf")


def lay_out(pieces: Iterable[Piece], width: float = 1400.0) -> list[Piece]:
    """Return pieces side by side in rows, none on another, all at positive coordinates."""
    laid = []
    x, y, row = BETWEEN, BETWEEN, 0.0
    for piece in pieces:
        x0, y0, _, _ = piece.shape.bounds
        if x > BETWEEN and x + piece.shape.width > width:
            x, y, row = BETWEEN, y + row + BETWEEN, 0.0
        move = np.array([x - x0, y - y0])
        laid.append(piece.moved_by(lambda points, move=move: points + move))  # type: ignore[misc]
        x += piece.shape.width + BETWEEN
        row = max(row, piece.shape.height)
    return laid


def piece_words(piece: Piece) -> str:
    """Return a piece's name and how it is cut, in the words that the readers understand."""
    hand = {Hand.NONE: "", Hand.LEFT: " left", Hand.RIGHT: " right", Hand.PAIR: " pair"}[piece.hand]
    # Makers count the parts of a pair, not the pairs.
    return f"{piece.name}: cut {piece.cut_count}{hand}, {show_thickness(piece.thickness)}"


def _strokes(piece: Piece) -> list[tuple[str, Array]]:
    """Return the open lines of a piece with their layers."""
    made = [(LAYERS[k.kind], k.points) for k in piece.lines]
    for mark in piece.match_marks:
        x, y = mark
        tick = mark_tick(piece.shape, mark, TICK)
        made.append((MATCH, np.array(tick if tick else [(x, y), (x, y + TICK)])))
    return made


def _texts(piece: Piece) -> list[tuple[str, Point]]:
    x, y = piece.shape.label_point
    return [(piece_words(piece), (x, y)), *((k.text, k.at) for k in piece.labels)]


def _svg(pieces: list[Piece]) -> bytes:
    width = max((p.shape.bounds[2] for p in pieces), default=0.0) + BETWEEN
    height = max((p.shape.bounds[3] for p in pieces), default=0.0) + BETWEEN
    svg = SvgDrawing(width, height)
    cut = _layer(svg, CUT)
    for piece in pieces:
        cut.path(svg.outline(piece.shape), id=piece.id, label=piece.name)
        for name, points in _strokes(piece):
            _layer(svg, name).path(svg.line(points))
    words = svg.layer(WORDS, fill=COLOURS[WORDS][0], text_anchor="middle")
    for piece in pieces:
        for text, (x, y) in _texts(piece):
            words.text(f"{x:.3f}", f"{height - y:.3f}", "6", text)
    return svg.to_bytes()


def _layer(svg: SvgDrawing, name: str) -> SvgLayer:
    return svg.layer(name, fill="none", stroke=COLOURS.get(name, OTHER)[0], stroke_width="0.3")


def _dxf(pieces: list[Piece]) -> bytes:
    drawing = DxfDrawing()
    for layer in (CUT, *LAYERS.values(), MATCH, WORDS):
        drawing.layer(layer, COLOURS.get(layer, OTHER)[1])
    for piece in pieces:
        for ring in piece.shape.rings:
            drawing.line(CUT, ring, closed=True)
        for layer, points in _strokes(piece):
            drawing.line(layer, points)
        for text, at in _texts(piece):
            drawing.text(WORDS, text, at)
    return drawing.to_bytes()
