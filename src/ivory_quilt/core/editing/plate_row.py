"""A row of overlapping plates from one profile, the last one ending where it should."""

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

MOST = 60


class PlateRow(Struct, frozen=True):
    """Plates that lap one over the next, up a limb or down a back.

    Attributes:
        count: how many.
        length: from the low edge of the first to the high edge of the last, mm.
        overlap: by which each covers the next, mm.
        taper: size of the last against the first, 1: all alike.
    """

    count: int
    length: float
    overlap: float
    taper: float = 1.0

    def __post_init__(self) -> None:
        if not 2 <= self.count <= MOST:
            raise InputError("plates", f"{self.count}", f"2 to {MOST}")
        if not 1 <= self.length <= 10_000:
            raise InputError("length of the row", f"{self.length:g} mm", "1 to 10000 mm")
        if not 0 <= self.overlap <= 1000:
            raise InputError("overlap", f"{self.overlap:g} mm", "0 to 1000 mm")
        if not 0.1 <= self.taper <= 10:
            raise InputError("last against the first", f"{100 * self.taper:g} %", "10 to 1000 %")

    def shares(self) -> Array:
        """Return how large each plate is against the first, evenly graded, (n,)."""
        return np.linspace(1.0, self.taper, self.count)

    def scales(self, height: float) -> Array:
        """Return the scale of each plate of a profile so tall, so that the row comes out.

        From Σ heights − (n − 1) × overlap = length.

        Raises:
            InputError: an overlap as tall as a plate.
        """
        shares = self.shares()
        first = (self.length + (self.count - 1) * self.overlap) / shares.sum()
        if first * shares.min() <= self.overlap + 1e-9:
            raise InputError(
                "overlap",
                f"{self.overlap:g} mm of a plate {first * shares.min():.1f} mm tall",
                "less than the smallest plate",
            )
        return np.asarray(first * shares / height)

    def reckon(self, height: float) -> Reckoning:
        """Explain the first plate's height.

        Raises:
            InputError: see `scales`.
        """
        scales = self.scales(height)
        total = float(self.shares().sum())
        foam = self.length + (self.count - 1) * self.overlap
        return Reckoning(
            "plates",
            {
                "count": self.count,
                "length": self.length,
                "overlap": self.overlap,
                "taper": self.taper,
            },
            {"first": float(scales[0]) * height, "last": float(scales[-1]) * height},
            (
                Step(
                    "foam in the row",
                    f"{self.length:g} + {self.count - 1} × {self.overlap:g}",
                    foam,
                    "mm",
                ),
                Step("first plate", f"{foam:g} ÷ {total:.3f}", foam / total, "mm"),
                Step("last plate", f"× {self.taper:g}", foam / total * self.taper, "mm"),
            ),
            "arithmetic: heights less overlaps make up the row",
        )
