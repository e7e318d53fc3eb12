"""An offcut's outline from a drawing at true size, or traced from a photo of it on paper."""

import re
from pathlib import Path

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.units import parse_scalar, typed_length
from ivory_quilt.files.atomic import read_bytes
from ivory_quilt.files.papers.tiling import PAGE_SIZE

BENEATH = ("A3", "A2", "A1", "A4", "Letter", "Tabloid", "600 × 400 mm", "200 dpi")
"""What a maker may say of a picture: the paper or mat beneath, or a scan's resolution."""


def read_outline(path: Path, beneath: str) -> Shape:
    """Return the largest outline of a file as the shape of an offcut.

    Args:
        path: a drawing at true size, a scan, or a photo.
        beneath: of a picture, the whole sheet of paper or mat that the offcut lies on, which gives
            scale and removes perspective, or a scan's resolution; empty when the file knows.

    Raises:
        InputError: no outline, no scale, or `beneath` is none of `BENEATH`'s kinds.
    """
    from ivory_quilt.files.drawings import ReadOptions, read_drawing
    from ivory_quilt.files.kinds import FileKind, kind_of

    options = ReadOptions()
    if kind_of(path.name) is FileKind.PICTURE and beneath.strip():
        dpi, rectangle = said_beneath(beneath)
        options = ReadOptions(dpi=dpi, rectangle=rectangle)
    reading = read_drawing(read_bytes(path), path.name, options)
    if reading.needs_scale:
        expected = "a drawing in mm, or the paper beneath and its size"
        raise InputError(path.name, "it has no scale", expected)
    if not reading.pieces:
        raise InputError(path.name, "it holds no closed outline", "the offcut's outline")
    return max((p.to_piece().shape for p in reading.pieces), key=lambda s: s.area)


def said_beneath(text: str) -> tuple[float | None, tuple[float, float] | None]:
    """Return (dots per inch, None) or (None, (length, width) in mm) of what a maker says.

    Raises:
        InputError: neither a paper, a size nor a resolution.
    """
    wish = text.strip()
    for paper in Paper:
        if wish.lower() == paper.value.lower():
            short, long = sorted(PAGE_SIZE[paper])
            return None, (long, short)
    if found := re.fullmatch(r"(.+?)\s*dpi", wish, re.IGNORECASE):
        dpi = parse_scalar(found[1], where="resolution")
        if not 10 <= dpi <= 10_000:
            raise InputError("resolution", f"{dpi:g} dpi", "10 to 10000 dpi")
        return dpi, None
    sides = re.split(r"\s*[×x*]\s*", wish)
    if len(sides) != 2:
        raise InputError("beneath", f"'{text}'", ", ".join(BENEATH))
    long, short = (typed_length(s, where="beneath") for s in sides)
    for value in (long, short):
        if not 20 <= value <= 5000:
            raise InputError("beneath", f"{value:g} mm", "20 mm to 5 m")
    return None, (long, short)
