"""A picture to be traced and what is known of it; kept apart, as it needs no picture library."""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import numpy.typing as npt

Picture = npt.NDArray[np.uint8]
"""Grey levels (h, w), 0 black."""


class Ink(StrEnum):
    """Which side of a drawn line is the outline, seen from the piece: its foam lies inside."""

    INSIDE = "inside"
    MIDDLE = "middle"
    OUTSIDE = "outside"


@dataclass(frozen=True)
class LoadedPicture:
    """A picture in grey (h, w), upright, and the resolution that its file states, or None."""

    grey: Picture
    dpi: float | None


@dataclass(frozen=True)
class PictureScale:
    """How a picture's scale is known; the first that is given counts.

    Attributes:
        rectangle: (width, height) in mm of a sheet that is seen as a whole.
        mm_per_pixel: from one known length.
        dpi: of a scan.
    """

    rectangle: tuple[float, float] | None = None
    mm_per_pixel: float | None = None
    dpi: float | None = None
