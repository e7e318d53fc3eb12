"""The demo's patterns by strokes: they come in as a drawing program would save them.

Coordinates are millimetres, y upwards, as the maker thinks; the file has y downwards and a view
box in another unit, as files do.
"""

from ivory_quilt.core.record import Struct, field
from ivory_quilt.files.svg_write import SvgDrawing

Point = tuple[float, float]


class Path:
    """Path data by strokes, in mm."""

    def __init__(self, x: float, y: float) -> None:
        """Start at (x, y)."""
        self._data = [f"M {x:.3f},{-y:.3f}"]

    def to(self, *points: Point) -> "Path":
        """Go straight through `points`."""
        self._data += [f"L {x:.3f},{-y:.3f}" for x, y in points]
        return self

    def curve(self, c1: Point, c2: Point, end: Point) -> "Path":
        """Go along a cubic curve."""
        numbers = " ".join(f"{x:.3f},{-y:.3f}" for x, y in (c1, c2, end))
        self._data.append(f"C {numbers}")
        return self

    def arc(self, radius: float, end: Point, *, left: bool = True, large: bool = False) -> "Path":
        """Go along a circle's arc, turning left or right."""
        self._data.append(
            f"A {radius:.3f} {radius:.3f} 0 {int(large)} {int(not left)} {end[0]:.3f},{-end[1]:.3f}"
        )
        return self

    def close(self) -> str:
        """Return the closed path's data."""
        return " ".join([*self._data, "Z"])

    def open(self) -> str:
        """Return the open path's data."""
        return " ".join(self._data)


def disc(x: float, y: float, radius: float) -> str:
    """Return a full circle as closed path data."""
    return Path(x + radius, y).arc(radius, (x - radius, y)).arc(radius, (x + radius, y)).close()


class Drawn(Struct):
    """One piece as drawn: outline, holes and score lines, about its own corner."""

    name: str
    outline: str
    size: Point
    holes: list[str] = field(default_factory=list)
    scores: list[str] = field(default_factory=list)


def drawing(pieces: list[Drawn], columns_width: float = 1400.0) -> bytes:
    """Return an SVG drawing with `pieces` side by side: a cut layer and a score layer."""
    x, y, row, widest = 10.0, 10.0, 0.0, 0.0
    places = []
    for piece in pieces:
        w, h = piece.size
        if x > 10 and x + w > columns_width:
            x, y, row = 10.0, y + row + 20, 0.0
        places.append(f"translate({x:.3f},{y + h:.3f})")
        x += w + 20
        row, widest = max(row, h), max(widest, x)
    svg = SvgDrawing(round(widest + 10, 3), round(y + row + 10, 3))
    style = "fill:none;stroke:#000000"
    cut, score = svg.layer("Cut", style=style), svg.layer("Score lines", style=style)
    for piece, place in zip(pieces, places, strict=True):
        data = " ".join([piece.outline, *piece.holes])
        cut.path(data, id=piece.name.replace(" ", "_"), label=piece.name, transform=place)
        for line in piece.scores:
            score.path(line, transform=place)
    return svg.to_bytes("cm", 10.0)
