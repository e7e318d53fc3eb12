"""A small SVG writer for the demo's patterns: they come in as a drawing program would save them.

Coordinates are millimetres, y upwards, as the maker thinks; the file has y downwards and a view
box in another unit, as files do.
"""

from dataclasses import dataclass, field
from html import escape

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


@dataclass
class Drawn:
    """One piece as drawn: outline, holes and score lines, about its own corner."""

    name: str
    outline: str
    size: Point
    holes: list[str] = field(default_factory=list)
    scores: list[str] = field(default_factory=list)


def quoteattr(text: str) -> str:
    """Return `text` as a quoted XML attribute."""
    return f'"{escape(text)}"'


def drawing(pieces: list[Drawn], columns_width: float = 1400.0) -> bytes:
    """Return an SVG drawing with `pieces` side by side: a cut layer and a score layer."""
    cut, score = [], []
    x, y, row, widest = 10.0, 10.0, 0.0, 0.0
    for piece in pieces:
        w, h = piece.size
        if x > 10 and x + w > columns_width:
            x, y, row = 10.0, y + row + 20, 0.0
        place = f'transform="translate({x:.3f},{y + h:.3f})"'
        ident = quoteattr(piece.name.replace(" ", "_"))
        label = f"inkscape:label={quoteattr(piece.name)}"
        data = " ".join([piece.outline, *piece.holes])
        cut.append(f'<path id={ident} {label} {place} d="{data}"/>')
        score += [f'<path {place} d="{s}"/>' for s in piece.scores]
        x += w + 20
        row, widest = max(row, h), max(widest, x)
    width, height = widest + 10, y + row + 10
    layer = 'inkscape:groupmode="layer" style="fill:none;stroke:#000000" inkscape:label'
    return "\n".join(
        [
            '<?xml version="1.0" encoding="UTF-8" standalone="no"?>',
            '<svg xmlns="http://www.w3.org/2000/svg"',
            ' xmlns:inkscape="http://www.inkscape.org/namespaces/inkscape"',
            f' width="{width / 10:.4f}cm" height="{height / 10:.4f}cm"'
            f' viewBox="0 0 {width:.3f} {height:.3f}" version="1.1">',
            f'<g {layer}="Cut">',
            *cut,
            "</g>",
            f'<g {layer}="Score lines">',
            *score,
            "</g>",
            "</svg>",
            "",
        ]
    ).encode()
