"""A PDF page that is drawn on in millimetres, y upwards, with the shipped fonts.

The PDF library is loaded when the first page is drawn: it costs a third of a second, which the
window's start has not to spare.
"""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from functools import cache
from importlib.resources import files
from io import BytesIO
from typing import Any

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.errors import one_line
from ivory_quilt.core.geometry.shape import Array, Point, Shape

PT = 72 / 25.4
INK = (0.149, 0.129, 0.169)
SOFT = (0.361, 0.329, 0.388)
THREAD = (0.72, 0.67, 0.57)
CUT = (0.639, 0.141, 0.231)
SCORE = (0.137, 0.353, 0.549)
SANS, BOLD, MONO = "QuiltSans", "QuiltSans-Bold", "QuiltMono"
_FONTS = {SANS: "IBMPlexSans-Regular", BOLD: "IBMPlexSans-SemiBold", MONO: "IBMPlexMono-Regular"}

Colour = tuple[float, float, float]


@cache
def register_fonts() -> None:
    """Make the shipped fonts known to the PDF library."""
    from reportlab import rl_config
    from reportlab.lib.fonts import addMapping
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    # Streams as they are: written as letters they are a quarter larger, and slow to write.
    rl_config.useA85 = 0

    for name, file in _FONTS.items():
        data = files("ivory_quilt.data").joinpath("fonts", f"{file}.ttf").read_bytes()
        pdfmetrics.registerFont(TTFont(name, BytesIO(data)))
    # Flowing text asks by family; there is no slanted face.
    for name, family, bold in ((SANS, SANS, 0), (BOLD, SANS, 1), (MONO, MONO, 0), (MONO, MONO, 1)):
        addMapping(family, bold, 0, name)


class Pen:
    """Draws one PDF document."""

    def __init__(self, page: tuple[float, float], title: str, scale: float = 1.0) -> None:
        """Start a document with pages of `page` mm, all strokes enlarged by `scale`."""
        from reportlab.pdfgen.canvas import Canvas

        register_fonts()
        self._out = BytesIO()
        self._canvas = Canvas(self._out, pagesize=(page[0] * PT, page[1] * PT), invariant=1)
        self._canvas.setTitle(title)
        self._canvas.setCreator("Ivory Quilt")
        self._scale = scale
        self._begin()

    @classmethod
    def on(cls, canvas: Any) -> "Pen":
        """Return a pen that draws on the page of another document, about its present origin."""
        pen = cls.__new__(cls)
        pen._canvas, pen._scale = canvas, 1.0
        return pen

    def _begin(self) -> None:
        if self._scale != 1.0:
            self._canvas.scale(self._scale, self._scale)

    def next_page(self, size: tuple[float, float] | None = None) -> None:
        """End the page; the next stroke starts another, of `size` mm where it is given."""
        self._canvas.showPage()
        if size is not None:
            self.set_page(size)
        self._begin()

    def set_page(self, size: tuple[float, float]) -> None:
        """Let the page that is drawn on, and those after it, be `size` mm."""
        self._canvas.setPageSize((size[0] * PT, size[1] * PT))

    def finish(self) -> bytes:
        """Return the document."""
        self._canvas.save()
        return self._out.getvalue()

    def colour(self, colour: Colour, width: float = 0.3, dash: tuple[float, ...] = ()) -> None:
        """Set colour, line width (mm) and dashes (mm) of what follows."""
        self._canvas.setLineJoin(1)
        self._canvas.setLineCap(1)
        self._canvas.setStrokeColorRGB(*colour)
        self._canvas.setFillColorRGB(*colour)
        self._canvas.setLineWidth(width * PT)
        self._canvas.setDash([d * PT for d in dash] if dash else [])

    def clip(self, x: float, y: float, width: float, height: float) -> None:
        """Keep what follows inside a rectangle until `unclip`."""
        self._canvas.saveState()
        path = self._canvas.beginPath()
        path.rect(x * PT, y * PT, width * PT, height * PT)
        self._canvas.clipPath(path, stroke=0, fill=0)

    def unclip(self) -> None:
        """Undo `clip`."""
        self._canvas.restoreState()

    @contextmanager
    def moved(self, x: float, y: float) -> Iterator[None]:
        """Draw about (x, y)."""
        with self.turned(x, y, 0.0):
            yield

    @contextmanager
    def turned(self, x: float, y: float, degrees: float) -> Iterator[None]:
        """Draw about (x, y), turned counter-clockwise."""
        self._canvas.saveState()
        self._canvas.translate(x * PT, y * PT)
        self._canvas.rotate(degrees)
        yield
        self._canvas.restoreState()

    @contextmanager
    def furniture(self) -> Iterator[None]:
        """Draw what is the page's and no outline: readers leave it out (ISO 32000-1, 14.8.2.2)."""
        self._canvas.addLiteral("/Artifact BMC")
        yield
        self._canvas.addLiteral("EMC")

    def line(self, x1: float, y1: float, x2: float, y2: float) -> None:
        """Draw a straight line."""
        self._canvas.line(x1 * PT, y1 * PT, x2 * PT, y2 * PT)

    def rectangle(self, x: float, y: float, width: float, height: float, *, fill: bool) -> None:
        """Draw a rectangle, outlined or filled."""
        self._canvas.rect(
            x * PT, y * PT, width * PT, height * PT, stroke=int(not fill), fill=int(fill)
        )

    def modules(self, corner: Point, side: float, dark: npt.NDArray[np.bool_]) -> None:
        """Fill the dark squares of a code, its upper left corner at `corner`, `side` mm each."""
        path = self._canvas.beginPath()
        for row, column in np.argwhere(dark).tolist():
            x, y = corner[0] + column * side, corner[1] - (row + 1) * side
            path.rect(x * PT, y * PT, side * PT, side * PT)
        self._canvas.setFillColorRGB(0.0, 0.0, 0.0)
        self._canvas.drawPath(path, stroke=0, fill=1)

    def polyline(self, points: Array, *, closed: bool) -> None:
        """Draw straight lines through points (n, 2)."""
        self._paths([(points, closed)], stroke=1, fill=0)

    def shape(self, shape: Shape) -> None:
        """Draw a shape's outline and holes."""
        self._paths([(r, True) for r in shape.rings], stroke=1, fill=0)

    def fill(self, shape: Shape) -> None:
        """Fill a shape, its holes left out."""
        self._canvas._fillMode = 0  # even-odd
        self._paths([(r, True) for r in shape.rings], stroke=0, fill=1)

    def _paths(self, rings: Iterable[tuple[Array, bool]], stroke: int, fill: int) -> None:
        path = self._canvas.beginPath()
        for points, closed in rings:
            first, *others = (points * PT).tolist()
            path.moveTo(*first)
            # As `lineTo` writes it, to a thousandth of a point: outlines have many thousand places,
            # and the library takes longer to write a number than all else together.
            path._code.append(" ".join(f"{x:.3f} {y:.3f} l" for x, y in others))
            if closed:
                path.close()
        self._canvas.drawPath(path, stroke=stroke, fill=fill)

    def text(
        self,
        at: Point,
        text: str,
        size: float,
        font: str = SANS,
        *,
        centred: bool = False,
        right: bool = False,
    ) -> None:
        """Write a line of text; `size` is in points, `at` its baseline."""
        self._canvas.setFont(font, size)
        draw = self._canvas.drawString
        if centred:
            draw = self._canvas.drawCentredString
        elif right:
            draw = self._canvas.drawRightString
        draw(at[0] * PT, at[1] * PT, one_line(text))

    @staticmethod
    def text_width(text: str, size: float, font: str = SANS) -> float:
        """Return the width of a line of text, mm."""
        from reportlab.pdfbase import pdfmetrics

        register_fonts()
        return float(pdfmetrics.stringWidth(text, font, size)) / PT

    @staticmethod
    def wrapped(text: str, width: float, size: float, font: str = SANS) -> list[str]:
        """Return a text in lines that are no wider than `width`, mm."""
        from reportlab.lib.utils import simpleSplit

        register_fonts()
        return list(simpleSplit(text, font, size, width * PT))
