"""A cut sheet as DXF, for a machine's own program: true size, one layer an operation."""

import numpy as np

from ivory_quilt.core.pattern.edges import mark_tick
from ivory_quilt.core.pattern.piece import LineKind
from ivory_quilt.core.reading.naming import STOCK_LAYER
from ivory_quilt.files.dxf_write import DxfDrawing
from ivory_quilt.files.papers.cut_sheets import CutSheet, part_label

CUT, SCORE, UNDERCUT, MARK = "cut", "score", "undercut", "mark"
MATCH, LABEL = "match marks", "label"
COLOURS = {CUT: 1, SCORE: 5, UNDERCUT: 6, MARK: 8, MATCH: 8, LABEL: 7, STOCK_LAYER: 9}
LAYER_OF = {LineKind.SCORE: SCORE, LineKind.UNDERCUT: UNDERCUT, LineKind.SLIT: CUT}
"""All other lines are marks: nothing is cut along them."""
LEAST, MOST = 3.0, 8.0  # mm: height of a label


def cut_sheet_dxf(sheet: CutSheet) -> bytes:
    """Return a sheet with its parts in cutting order, outlines as the knife goes in.

    The outline on the face that is up is cut; where a bevel makes the other face's differ, that is
    among the marks.
    """
    drawing = DxfDrawing()
    for layer, colour in COLOURS.items():
        drawing.layer(layer, colour)
    for ring in sheet.shape.rings:
        drawing.line(STOCK_LAYER, ring, closed=True)
    for part, placement in sheet.in_order:
        placed = part.line_up(placement.pose).placed(placement.pose)
        for ring in (*placed.rings[1:], placed.rings[0]):
            drawing.line(CUT, ring, closed=True)
        for line in part.lines:
            layer = LAYER_OF.get(line.kind, MARK)
            drawing.line(layer, line.placed(placement.pose).points)
        for mark in part.match_marks:
            tick = mark_tick(part.line_up(placement.pose), mark)
            if tick is not None:
                drawing.line(MATCH, placement.pose.apply(np.array(tick)))
        height = min(MOST, max(LEAST, min(placed.width, placed.height) / 6))
        text = part_label(part, placement, sheet.number_of(part, placement))
        drawing.text(LABEL, text, placed.label_point, height)
    return drawing.to_bytes()
