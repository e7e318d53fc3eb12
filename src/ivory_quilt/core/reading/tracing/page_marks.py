"""Registration marks in a scan: crosses, corner ticks and diamonds that stand alone.

A mark is a blot of ink of a mark's size and form; its centre is found to a fraction of a pixel
from the middles of its strokes.
"""

import cv2
import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reading.pages.page import MarkKind, RegMark
from ivory_quilt.core.reading.tracing.picture import Picture
from ivory_quilt.core.reading.tracing.trace import even_light, ink_level
from ivory_quilt.core.record import Struct

Box = tuple[int, int, int, int]
"""Left, top, width, height in pixels."""
PAPER = 232  # grey level of clean paper in even light
SIZE = (2.5, 32.0)  # mm across
THINNEST = 3  # pixels that a stroke's search reaches to either side, at least
REACH = 0.9  # mm, beyond half the pen, that a stroke may be off level
CLEAN = 0.12  # of the quadrants between the arms that may be ink


class MarkedPicture(Struct, frozen=True):
    """A flat picture of one page in even light, its marks found and wiped out.

    Attributes:
        even: (h, w) grey in even light, `PAPER` where there is none of the ink, without the marks;
            in bytes, as a pattern may span dozens of pages.
        marks: in mm from the lower left corner, y upwards.
    """

    even: Picture
    marks: tuple[RegMark, ...]
    mm_per_pixel: float


def find_picture_marks(grey: Picture, mm_per_pixel: float) -> MarkedPicture:
    """Return a page's picture with its registration marks found.

    Raises:
        InputError: no ink can be told from the paper.
    """
    even = even_light(grey, mm_per_pixel)
    mask = (even < ink_level(even)).astype(np.uint8)
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    low, high = SIZE[0] / mm_per_pixel, SIZE[1] / mm_per_pixel
    wiped = even.copy()
    marks = []
    for contour in contours:
        x, y, w, h = cv2.boundingRect(contour)
        if not (low <= w <= high and low <= h <= high and 0.6 <= w / h <= 1.67):
            continue
        found = _mark(even, mask[y : y + h, x : x + w], contour, (x, y, w, h), mm_per_pixel)
        if found is None:
            continue
        kind, (column, row) = found
        place = ((column + 0.5) * mm_per_pixel, (grey.shape[0] - row - 0.5) * mm_per_pixel)
        marks.append(RegMark(kind, place, max(w, h) * mm_per_pixel))
        rows, columns = _around(y, h), _around(x, w)
        near = wiped[rows, columns]
        blot = np.zeros(near.shape, np.uint8)
        cv2.drawContours(blot, [contour], -1, 1, -1, offset=(-columns.start, -rows.start))
        near[cv2.dilate(blot, np.ones((7, 7), np.uint8)) > 0] = 1.0
    flat = np.clip(wiped * PAPER, 0, 255).astype(np.uint8)
    return MarkedPicture(flat, tuple(marks), mm_per_pixel)


def _around(start: int, length: int, by: int = 8) -> slice:
    return slice(max(0, start - by), start + length + by)


def _mark(
    even: Array, ink: Picture, contour: cv2.typing.MatLike, box: Box, mm: float
) -> tuple[MarkKind, tuple[float, float]] | None:
    """Return a blot's kind and its centre (column, row), None when it is no mark."""
    x, y, w, h = box
    share = cv2.contourArea(contour) / (w * h)
    if 0.4 <= share <= 0.62 and _is_diamond(contour, box):
        m = cv2.moments(contour)
        return MarkKind.DIAMOND, (m["m10"] / m["m00"], m["m01"] / m["m00"])
    if share > 0.45:
        return None
    pen = max(1.0, float(ink.sum()) / (w + h))
    columns, rows = ink.mean(axis=0), ink.mean(axis=1)
    across, down = int(np.argmax(_spread(rows, pen))), int(np.argmax(_spread(columns, pen)))
    if rows[across] < 0.75 or columns[down] < 0.75 or _clutter(ink, across, down, pen) > CLEAN:
        return None
    middle = (abs(across - (h - 1) / 2) < 0.12 * h, abs(down - (w - 1) / 2) < 0.12 * w)
    edge = (min(across, h - 1 - across) < 0.15 * h + pen, min(down, w - 1 - down) < 0.15 * w + pen)
    if not (all(middle) or all(edge)):
        return None
    kind = MarkKind.CROSS if all(middle) else MarkKind.CORNER
    return kind, _centre(even, box, (x + down, y + across), pen, mm)


def _spread(line: Array, pen: float) -> Array:
    n = max(1, round(pen))
    return np.convolve(line, np.ones(n) / n, mode="same")


def _clutter(ink: Picture, across: int, down: int, pen: float) -> float:
    """Return how much ink there is away from the two strokes."""
    away = np.ones(ink.shape, dtype=bool)
    half = round(1.5 * pen) + 1
    away[max(0, across - half) : across + half + 1] = False
    away[:, max(0, down - half) : down + half + 1] = False
    return float(ink[away].mean()) if away.any() else 1.0


def _is_diamond(contour: cv2.typing.MatLike, box: Box) -> bool:
    x, y, w, h = box
    corners = cv2.approxPolyDP(contour, 0.06 * (w + h), closed=True).reshape(-1, 2)
    if len(corners) != 4:
        return False
    wanted = np.array([[x + w / 2, y], [x + w, y + h / 2], [x + w / 2, y + h], [x, y + h / 2]])
    away = np.hypot(*(wanted[:, None] - corners[None]).transpose(2, 0, 1)).min(axis=1)
    return bool(away.max() < 0.15 * max(w, h))


def _centre(
    even: Array, box: Box, rough: tuple[int, int], pen: float, mm: float
) -> tuple[float, float]:
    """Return where the middles of the two strokes cross, to a fraction of a pixel."""
    x, y, w, h = box
    reach = max(THINNEST, round(pen / 2 + REACH / mm))
    dark = np.clip(1.0 - even, 0.0, 1.0)
    level = _stroke(dark, rough, (x, w), reach, pen)
    upright = _stroke(dark.T, rough[::-1], (y, h), reach, pen)
    # Row = a + b · column along the level stroke, column = c + d · row along the upright one.
    (a, b), (c, d) = level, upright
    column = (c + d * a) / (1 - b * d)
    return column, a + b * column


def _stroke(
    dark: Array, rough: tuple[int, int], span: tuple[int, int], reach: int, pen: float
) -> tuple[float, float]:
    """Return (row at column 0, slope) of a level stroke from the middles of its cross-sections."""
    at, row = rough
    columns = np.arange(span[0] + 1, span[0] + span[1] - 1)
    columns = columns[np.abs(columns - at) > 1.5 * pen + 1]  # clear of the other stroke
    rows = np.arange(max(0, row - reach), min(dark.shape[0], row + reach + 1))
    if len(columns) < 4:
        return float(row), 0.0
    section = dark[np.ix_(rows, columns)]
    section = np.clip(section - np.median(section, axis=0) - 0.05, 0.0, None)
    weight = section.sum(axis=0)
    good = weight > 0.3 * np.median(weight)
    middle = (section * rows[:, None]).sum(axis=0)[good] / weight[good]
    slope, start = np.polyfit(columns[good] - at, middle, 1) if good.sum() > 3 else (0.0, row)
    return float(start - slope * at), float(slope)
