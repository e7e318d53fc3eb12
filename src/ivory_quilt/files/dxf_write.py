"""DXF out, for everything that writes it: R2010, millimetres, named layers, y upwards.

AutoCAD's release of 2010 is the oldest that every reader of today knows (AC1024).
"""

import io
from typing import Any

from ivory_quilt.core.errors import one_line
from ivory_quilt.core.geometry.shape import Array, Point


class DxfDrawing:
    """A drawing of lines and words on layers."""

    def __init__(self) -> None:
        """Start an empty drawing in mm."""
        from ezdxf import units
        from ezdxf.document import Drawing

        self._drawing: Any = Drawing.new("R2010")
        self._drawing.units = units.MM
        self._space = self._drawing.modelspace()

    def layer(self, name: str, colour: int) -> None:
        """Add a layer; `colour` is one of DXF's numbered colours."""
        self._drawing.layers.add(name, color=colour)

    def line(self, layer: str, points: Array, *, closed: bool = False) -> None:
        """Draw a line through points (n, 2), mm."""
        self._space.add_lwpolyline(points.tolist(), close=closed, dxfattribs={"layer": layer})

    def text(self, layer: str, text: str, at: Point, height: float = 5.0) -> None:
        """Write words that begin at a place; `height` of their capitals, mm."""
        entity = self._space.add_text(one_line(text), height=height, dxfattribs={"layer": layer})
        entity.set_placement(at)

    def to_bytes(self) -> bytes:
        """Return the file."""
        out = io.StringIO()
        self._drawing.write(out)
        return out.getvalue().encode("utf-8")
