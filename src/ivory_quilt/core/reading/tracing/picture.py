"""A picture to be traced and what is known of it; kept apart, as it needs no picture library."""

from enum import StrEnum

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import parse_length, parse_scalar

Picture = npt.NDArray[np.uint8]
"""Grey levels (h, w), 0 black."""

SIMPLIFIED = 0.08
"""mm: how far a simplified outline may leave the traced one."""


class Ink(StrEnum):
    """Which side of a drawn line is the outline, seen from the piece: its foam lies inside."""

    INSIDE = "inside"
    MIDDLE = "middle"
    OUTSIDE = "outside"


class LoadedPicture(Struct, frozen=True):
    """A picture in grey (h, w), upright, as it is looked at.

    Attributes:
        dpi: the resolution that its file states, or None.
        shrunk: how many of the file's own pixels one of these takes along a side.
    """

    grey: Picture
    dpi: float | None
    shrunk: float = 1.0


class PictureScale(Struct, frozen=True):
    """How a picture's scale is known; the first that is given counts.

    Attributes:
        rectangle: (width, height) in mm of a sheet that is seen as a whole.
        mm_per_pixel: from one known length.
        dpi: of a scan.
    """

    rectangle: tuple[float, float] | None = None
    mm_per_pixel: float | None = None
    dpi: float | None = None


class TickRow(Struct, frozen=True):
    """Even ticks along a line: how many, how many pixels apart, how unevenly (pixels, rms)."""

    count: int
    pixels: float
    spread: float


def parse_dpi(text: str, *, where: str) -> float:
    """Read a scan's resolution in pixels an inch.

    Raises:
        InputError: not a number that scanners have.
    """
    dpi = parse_scalar(text, where=where)
    if not 20 <= dpi <= 10_000:
        raise InputError(where, text, "20 to 10000 pixels an inch")
    return dpi


def parse_sheet(text: str, *, where: str) -> tuple[float, float]:
    """Read a sheet's size as typed, ``210x297`` or ``18in × 12in``; return (width, height) in mm.

    Raises:
        InputError: not two lengths that a sheet has.
    """
    width, times, height = text.lower().replace("×", "x").partition("x")
    if not times:
        raise InputError(where, f"'{text}'", "WIDTHxHEIGHT in mm, e.g. 210x297")
    sides = (
        parse_length(width, where=f"{where}, width"),
        parse_length(height, where=f"{where}, height"),
    )
    if min(sides) < 10 or max(sides) > 10_000:
        raise InputError(where, f"'{text}'", "10 to 10000 mm")
    return sides
