"""A simulated scanner and phone camera: pictures of patterns drawn in ink on a sheet of paper.

Everything is drawn by seed; the same seed gives the same picture.
"""

import math
from collections.abc import Sequence

import cv2
import numpy as np
import numpy.typing as npt

from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.record import Struct

Picture = npt.NDArray[np.uint8]
MM_PER_INCH = 25.4
SUBPIXEL_BITS = 6


class ScanConditions(Struct, frozen=True):
    """How good or bad a picture is.

    Attributes:
        dpi: pixels an inch, across the paper where it is seen largest.
        pen: width of the ink line, mm, drawn centred on the outline.
        skew: degrees that the paper lies turned.
        perspective: how far the paper's corners are moved, as a share of its longer side; with it
            the whole sheet and some table are in the picture.
        uneven: how much darker the dimmest place is than the brightest, 0 to 1.
        blur: standard deviation of the lens, pixels.
        noise: standard deviation of the sensor, grey levels of 255.
        grain: standard deviation of the paper's own tone.
    """

    dpi: float = 150.0
    pen: float = 0.7
    skew: float = 0.0
    perspective: float = 0.0
    uneven: float = 0.0
    blur: float = 0.6
    noise: float = 2.0
    grain: float = 2.0


FLAT_300 = ScanConditions(dpi=300.0, blur=0.7, noise=3.0, grain=3.0)
PHONE = ScanConditions(
    dpi=150.0, skew=4.0, perspective=0.06, uneven=0.35, blur=0.8, noise=6.0, grain=4.0
)


def scan(
    shapes: Sequence[Shape],
    paper: tuple[float, float],
    how: ScanConditions,
    seed: int,
    lines: Sequence[Array] = (),
) -> Picture:
    """Return a grey picture (h, w) of outlines drawn on a sheet of `paper` (width, height) mm.

    Shapes and open `lines` (n, 2) stand in the paper's coordinates, mm, y upwards from its lower
    left corner; what lies beyond the paper is not drawn.
    """
    random = np.random.default_rng(seed)
    drawn = [(ring, True) for shape in shapes for ring in shape.rings]
    flat = _draw([*drawn, *((line, False) for line in lines)], paper, how, random)
    picture = _photograph(flat, how, random) if _is_photo(how) else flat
    picture = _light(picture, how, random)
    if how.blur > 0:
        picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), how.blur))
    picture = picture + random.normal(0.0, how.noise, picture.shape)
    return np.clip(np.round(picture), 0, 255).astype(np.uint8)


def _is_photo(how: ScanConditions) -> bool:
    return how.perspective > 0 or how.skew != 0


def _draw(
    strokes: Sequence[tuple[Array, bool]],
    paper: tuple[float, float],
    how: ScanConditions,
    random: np.random.Generator,
) -> Array:
    """Draw the sheet square on, one pixel a 1/dpi inch; pixel (0, 0) covers the upper left."""
    scale = how.dpi / MM_PER_INCH
    width, height = round(paper[0] * scale), round(paper[1] * scale)
    over = 3  # drawn larger and shrunk, so that edges fall between pixels as they do in truth
    sheet: Picture = np.full((height * over, width * over), 235, dtype=np.uint8)
    pen = max(1, round(how.pen * scale * over))
    for points, closed in strokes:
        pixels = np.column_stack(
            (points[:, 0] * scale * over - 0.5, (paper[1] - points[:, 1]) * scale * over - 0.5)
        )
        fixed = np.round(pixels * 2**SUBPIXEL_BITS).astype(np.int32)
        cv2.polylines(sheet, [fixed], closed, 40, pen, cv2.LINE_AA, SUBPIXEL_BITS)
    small = cv2.resize(sheet, (width, height), interpolation=cv2.INTER_AREA).astype(np.float64)
    fibres = np.asarray(random.standard_normal(small.shape))
    rough = cv2.GaussianBlur(fibres, (0, 0), 1.2)
    return np.asarray(small + how.grain * rough / max(rough.std(), 1e-9))


def _photograph(flat: Array, how: ScanConditions, random: np.random.Generator) -> Array:
    """Look at the sheet at an angle, with the dark table around it."""
    height, width = flat.shape
    edge = 0.08 * max(width, height)
    turn = math.radians(how.skew)
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], dtype=np.float64) - 0.5
    middle = corners.mean(axis=0)
    rotation = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    seen = (corners - middle) @ rotation.T
    # Corners only ever come nearer to each other: the resolution is nowhere above what was drawn.
    seen *= 1 - random.uniform(0.0, how.perspective, seen.shape)
    seen += edge - seen.min(axis=0)
    size = np.ceil(seen.max(axis=0) + edge).astype(int)
    look = cv2.getPerspectiveTransform(corners.astype(np.float32), seen.astype(np.float32))
    table = random.normal(70.0, 3.0, (int(size[1]), int(size[0])))
    where = (int(size[0]), int(size[1]))
    picture = cv2.warpPerspective(
        flat, look, where, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    )
    # How much of each pixel is paper: drawn finer, so that the sheet's edge falls where it does.
    over = 4
    cover = np.zeros((where[1] * over, where[0] * over), dtype=np.uint8)
    fine = np.round(((seen + 0.5) * over - 0.5) * 2**SUBPIXEL_BITS).astype(np.int32)
    cv2.fillPoly(cover, [fine], 255, cv2.LINE_AA, SUBPIXEL_BITS)
    share = cv2.resize(cover, where, interpolation=cv2.INTER_AREA).astype(np.float64) / 255
    return np.asarray(share * picture + (1 - share) * table)


def _light(picture: Array, how: ScanConditions, random: np.random.Generator) -> Array:
    """Darken towards a side, as a lamp or a window does."""
    if how.uneven <= 0:
        return picture
    height, width = picture.shape
    x = np.linspace(-1, 1, width)[None, :]
    y = np.linspace(-1, 1, height)[:, None]
    angle = random.uniform(0, 2 * math.pi)
    slope = (math.cos(angle) * x + math.sin(angle) * y) / math.sqrt(2)
    return np.asarray(picture * (1 - how.uneven * (0.5 + 0.5 * slope)))


def png(picture: Picture) -> bytes:
    """Return a picture as the scanner saves it, the bytes of a PNG file."""
    done, data = cv2.imencode(".png", picture)
    if not done:
        raise ValueError("the picture cannot be written as PNG")
    return bytes(data)
