"""SVG out, for everything that writes it: true size, named layers, y downwards as files have it.

One user unit is one mm. Layers carry their name as vector editors show it, and as our own reader
finds it.
"""

from collections.abc import Iterable, Mapping
from html import escape

from ivory_quilt.core.errors import one_line
from ivory_quilt.core.geometry.shape import Array, Shape


def attribute(text: str) -> str:
    """Return `text` as a quoted XML attribute."""
    return f'"{escape(one_line(text))}"'


class SvgLayer:
    """A named layer; what is put on it is drawn in its style."""

    def __init__(self, name: str, style: Mapping[str, str]) -> None:
        """Start an empty layer; `style` are SVG attributes of all that lies on it."""
        self.name, self.style = name, dict(style)
        self.rows: list[str] = []

    def path(self, data: str, **attributes: str) -> None:
        """Draw path data; `attributes` (id, label, transform) come before it."""
        label = attributes.pop("label", "")
        given = dict(attributes) | ({"inkscape:label": label} if label else {})
        words = "".join(f"{name}={attribute(value)} " for name, value in given.items())
        self.rows.append(f"  <path {words}d={attribute(data)}/>")

    def text(self, x: str, y: str, size: str, text: str) -> None:
        """Write words about (x, y), already in the file's own coordinates."""
        place = f'x="{x}" y="{y}" font-size="{size}"'
        self.rows.append(f"  <text {place}>{escape(one_line(text))}</text>")

    def written(self) -> list[str]:
        """Return the layer's rows."""
        style = "".join(f" {name}={attribute(value)}" for name, value in self.style.items())
        name = attribute(self.name)
        head = f"<g inkscape:groupmode={attribute('layer')} inkscape:label={name}"
        return [f"{head}{style}>", *self.rows, "</g>"]


class SvgDrawing:
    """A drawing of so many mm, made of layers; (x0, y1) is what lies at its upper left corner."""

    def __init__(
        self, width: float, height: float, x0: float = 0.0, y1: float | None = None
    ) -> None:
        """Start an empty drawing, mm."""
        self.width, self.height = width, height
        self.x0, self.y1 = x0, height if y1 is None else y1
        self.about: list[str] = []
        self.layers: dict[str, SvgLayer] = {}

    def describe(self, title: str, words: str) -> None:
        """Say what the drawing shows."""
        said = (("title", title), ("desc", words))
        self.about = [f"<{tag}>{escape(one_line(text))}</{tag}>" for tag, text in said]

    def layer(self, name: str, **style: str) -> SvgLayer:
        """Return the layer of that name, made in a style when it is new (`_` stands for `-`)."""
        if name not in self.layers:
            named = {key.replace("_", "-"): value for key, value in style.items()}
            self.layers[name] = SvgLayer(name, named)
        return self.layers[name]

    def line(self, points: Iterable[Iterable[float]] | Array, *, closed: bool = False) -> str:
        """Return points (n, 2), mm and y upwards, as path data."""
        pairs = " L".join(f"{x - self.x0:.4f} {self.y1 - y:.4f}" for x, y in points)
        return f"M{pairs}{' Z' if closed else ''}"

    def outline(self, shape: Shape) -> str:
        """Return a shape's rings as path data."""
        return " ".join(self.line(r, closed=True) for r in shape.rings)

    def to_bytes(self, unit: str = "mm", mm_per_unit: float = 1.0) -> bytes:
        """Return the file; its size is given in `unit`, its coordinates stay mm."""
        # The size is that of the view box to the last digit, or the scale would not be 1.
        box = [f"{self.width:.4f}", f"{self.height:.4f}"]
        wide, high = box if mm_per_unit == 1 else [f"{float(b) / mm_per_unit:.6f}" for b in box]
        rows = [
            '<?xml version="1.0" encoding="UTF-8"?>',
            '<svg xmlns="http://www.w3.org/2000/svg"'
            ' xmlns:inkscape="http://www.inkscape.org/namespaces/inkscape"'
            f' width="{wide}{unit}" height="{high}{unit}"'
            f' viewBox="0 0 {box[0]} {box[1]}">',
            *self.about,
        ]
        for layer in self.layers.values():
            rows += layer.written()
        return "\n".join([*rows, "</svg>", ""]).encode()
