"""Drawings that once never ended or took all memory: their times and memory, each read apart."""

import io
import math
import time
import zlib
from collections.abc import Callable, Iterable
from random import Random

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.errors import InputError
from ivory_quilt.files.apart import Apart
from ivory_quilt.files.drawings import ReadOptions, read_drawing

PROMISED = 10.0  # s


def svg(body: str) -> bytes:
    """Return a drawing of a square metre."""
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" width="1000mm" height="1000mm" '
        f'viewBox="0 0 1000 1000">{body}</svg>'
    ).encode()


def _square(x: float, y: float, side: float) -> str:
    return f'<rect x="{x:.4f}" y="{y:.4f}" width="{side:.4f}" height="{side:.4f}"/>'


def _outline(corners: Iterable[tuple[float, float]]) -> bytes:
    return svg(f'<path d="M{" L".join(f"{x:.4f},{y:.4f}" for x, y in corners)}Z"/>')


def rectangles(count: int = 90_000) -> bytes:
    """Return many small rectangles in rows."""
    side = math.ceil(math.sqrt(count))
    step = 990 / side
    wide = 0.8 * step
    return svg("".join(_square(k % side * step, k // side * step, wide) for k in range(count)))


def nested(count: int = 5000) -> bytes:
    """Return rings within rings."""
    step = 480 / count
    return svg("".join(_square(k * step, k * step, 1000 - 2 * k * step) for k in range(count)))


def overlapping(count: int = 3000) -> bytes:
    """Return circles that all lie on each other."""
    random = Random(1)
    return svg(
        "".join(
            f'<circle cx="{500 + random.uniform(-100, 100):.2f}" '
            f'cy="{500 + random.uniform(-100, 100):.2f}" r="{random.uniform(150, 380):.2f}"/>'
            for _ in range(count)
        )
    )


def star(points: int = 500) -> bytes:
    """Return one outline whose every side crosses nearly every other."""
    turn = math.pi * (points / 2 - 1) / (points / 2)
    return _outline(
        (500 + 450 * math.cos(k * turn), 500 + 450 * math.sin(k * turn)) for k in range(points)
    )


def zigzag(teeth: int = 250) -> bytes:
    """Return one outline that crosses itself as often as it has teeth."""
    there = [(1000 * k / teeth, 500 + (100 if k % 2 else -100)) for k in range(1, teeth + 1)]
    back = [(1000 - 1000 * k / teeth, 500 + (100 if k % 2 else -100)) for k in range(teeth + 1)]
    return _outline([(0, 500), *there, *back])


def open_lines(count: int = 30_000) -> bytes:
    """Return lines that close nothing."""
    random = Random(1)

    def place() -> str:
        return f"{random.uniform(0, 1000):.2f}"

    return svg(
        "".join(
            f'<line stroke="black" x1="{place()}" y1="{place()}" x2="{place()}" y2="{place()}"/>'
            for _ in range(count)
        )
    )


def many_points(count: int = 1_000_000) -> bytes:
    """Return one round outline of a million corners."""
    step = 2 * math.pi / count
    return _outline(
        (500 + 400 * math.cos(k * step), 500 + 400 * math.sin(k * step)) for k in range(count)
    )


def style_sheet(rules: int = 1500, elements: int = 3000) -> bytes:
    """Return rules that must be tried on every element."""
    sheet = "".join(f"g *:not(.a{k}) > *, .c{k} .d{k} {{fill:red}}" for k in range(rules))
    shapes = "".join(f'<rect x="{k / 4}" width="2" height="20"/>' for k in range(elements))
    return svg(f"<style>{sheet}</style><g>{shapes}</g>")


def copies(rows: int = 100) -> bytes:
    """Return a block in rows and columns: a MINSERT of ten thousand copies."""
    from ezdxf.document import Drawing

    document = Drawing.new("R2000")
    document.header["$INSUNITS"] = 4
    block = document.blocks.new("SCALE")
    block.add_lwpolyline([(0, 0), (8, 0), (8, 8), (0, 8)], close=True)
    block.add_circle((4, 4), 2)
    grid = {"row_count": rows, "column_count": rows, "row_spacing": 10, "column_spacing": 10}
    document.modelspace().add_blockref("SCALE", (0, 0), dxfattribs=grid)
    return _dxf(document)


def splines(count: int = 20_000, points: int = 8, reach: float = 1000.0) -> bytes:
    """Return curves through wild places."""
    from ezdxf.document import Drawing

    random, document = Random(1), Drawing.new("R2000")
    document.header["$INSUNITS"] = 4
    space = document.modelspace()
    for _ in range(count):
        places = [(random.uniform(0, reach), random.uniform(0, reach)) for _ in range(points)]
        space.add_open_spline(places)
    return _dxf(document)


def entity(text: str) -> bytes:
    """Return a DXF drawing of one entity, in group codes."""
    head = "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n"
    return f"{head}{text}0\nENDSEC\n0\nEOF\n".encode()


def _dxf(document: object) -> bytes:
    out = io.StringIO()
    document.write(out)  # type: ignore[attr-defined]
    return out.getvalue().encode()


def marks(count: int = 2000) -> bytes:
    """Return a page with words and crosses, all at one place."""
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    canvas = Canvas(out)
    for _ in range(count):
        canvas.drawString(100, 100, "x")
        canvas.line(90, 100, 110, 100)
        canvas.line(100, 90, 100, 110)
    canvas.save()
    return out.getvalue()


def far_curves(count: int = 1000) -> bytes:
    """Return curves that go a thousand kilometres."""
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    canvas = Canvas(out)
    for _ in range(count):
        path = canvas.beginPath()
        path.moveTo(0, 0)
        path.curveTo(1e9, 0, 0, 1e9, 1e9, 1e9)
        canvas.drawPath(path)
    canvas.save()
    return out.getvalue()


def inflating(size: int = 1_700_000_000) -> bytes:
    """Return a page whose few kilobytes inflate to gigabytes."""
    packer = zlib.compressobj(9)
    inner = b"".join(packer.compress(b" " * 10_000_000) for _ in range(size // 10_000_000))
    stream = zlib.compress(inner + packer.flush(), 9)
    filters = b"<</Filter[/FlateDecode/FlateDecode]/Length %d>>" % len(stream)
    objects = [
        b"<</Type/Catalog/Pages 2 0 R>>",
        b"<</Type/Pages/Kids[3 0 R]/Count 1>>",
        b"<</Type/Page/Parent 2 0 R/MediaBox[0 0 300 300]/Contents 4 0 R>>",
        filters + b"stream\n" + stream + b"\nendstream",
    ]
    out, places = b"%PDF-1.4\n", []
    for number, body in enumerate(objects, 1):
        places.append(len(out))
        out += b"%d 0 obj" % number + body + b"endobj\n"
    table = b"".join(b"%010d 00000 n \n" % at for at in places)
    return (
        out
        + b"xref\n0 5\n0000000000 65535 f \n"
        + table
        + b"trailer<</Size 5/Root 1 0 R>>\nstartxref\n%d\n%%%%EOF" % len(out)
    )


def picture(side: int = 10_900) -> bytes:
    """Return a scan just under the limit of pixels."""
    from PIL import Image, ImageDraw

    image = Image.new("L", (side, side), 250)
    pen = ImageDraw.Draw(image)
    for k in range(20):
        left = int(side * (0.04 + 0.046 * k))
        pen.rectangle((left, side // 20, left + side // 40, side * 4 // 5), outline=10, width=8)
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(600, 600))
    return out.getvalue()


CASES: dict[str, tuple[str, Callable[[], bytes]]] = {
    "90,000 rectangles": ("rectangles.svg", rectangles),
    "5,000 nested rings": ("nested.svg", nested),
    "10,000 MINSERT copies": ("copies.dxf", copies),
    "3,000 overlapping circles": ("overlapping.svg", overlapping),
    "an outline that crosses itself 250 times": ("zigzag.svg", zigzag),
    "a star of 500 points": ("star.svg", star),
    "30,000 open lines": ("lines.svg", open_lines),
    "a million points": ("points.svg", many_points),
    "a style sheet that multiplies": ("sheet.svg", style_sheet),
    "a spline of 500 wild points": ("spline.dxf", lambda: splines(1, 500, 9e4)),
    "20,000 splines": ("splines.dxf", splines),
    "an arc of 1e12": (
        "arc.dxf",
        lambda: entity("0\nARC\n8\n0\n10\n0\n20\n0\n40\n1e12\n50\n0\n51\n180\n"),
    ),
    "a circle about no number": (
        "nan.dxf",
        lambda: entity("0\nCIRCLE\n8\n0\n10\nnan\n20\n0\n40\n9\n"),
    ),
    "a line without end": (
        "endless.dxf",
        lambda: entity("0\nLINE\n8\n0\n10\n0\n20\n0\n11\n1e999\n21\n0\n"),
    ),
    "2,000 marks at one place": ("marks.pdf", marks),
    "1,000 curves at 1e9": ("far.pdf", far_curves),
    "a page that inflates to 1.7 GB": ("inflating.pdf", inflating),
    "119 million pixels": ("scan.png", picture),
}
"""By what it is: the file's name, and how it is made."""
BARS = tuple(CASES)[:3]


def bench_hostile() -> list[Figure]:
    """Measure each in a process of its own."""
    figures = []
    for what, (name, make) in CASES.items():
        data = make()
        with Apart() as apart:
            began = time.perf_counter()
            try:
                reading = apart.run(read_drawing, data, name, ReadOptions(), what=name)
                ended = f"{len(reading.pieces)} pieces"
            except InputError:
                ended = "refused in a sentence"
            took = time.perf_counter() - began
            limit = PROMISED if what in BARS else None
            figures.append(Figure(f"{what}: {ended}", took, "s", limit))
            if apart.peak:
                figures.append(Figure(f"{what}: memory", apart.peak / 1e6, "MB", 1000))
    return figures
