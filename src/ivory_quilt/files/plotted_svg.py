"""What a plotter cut, as SVG at true size: a layer a tool."""

from collections.abc import Sequence

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.files.svg_write import SvgDrawing


def plotted_svg(lines: Sequence[tuple[int, Array]], edge: float = 5.0) -> bytes:
    """Return a drawing of (tool, places `(n, 2)` mm), with `edge` mm around it."""
    if lines:
        every = np.vstack([places for _, places in lines])
        (x0, y0), (x1, y1) = every.min(axis=0).tolist(), every.max(axis=0).tolist()
    else:
        x0 = y0 = x1 = y1 = 0.0
    svg = SvgDrawing(x1 - x0 + 2 * edge, y1 - y0 + 2 * edge, x0 - edge, y1 + edge)
    for tool, places in lines:
        layer = svg.layer(f"tool {tool}", fill="none", stroke="#a3243b", stroke_width="0.2")
        layer.path(svg.line(places))
    return svg.to_bytes()
