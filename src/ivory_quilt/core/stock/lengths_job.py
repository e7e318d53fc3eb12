"""Shaped lengths to cut from bars: what is asked, and what is answered.

Dowels, half-rounds, edge strips, webbing and narrow rolls are one-dimensional goods. A cut takes a
kerf between two lengths and before a leftover; each end of a bar loses its trim.
"""

import math
from collections.abc import Sequence
from decimal import Decimal

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

FINEST = 1e-3  # mm: lengths are counted in whole steps of this
LONGEST = 1e7  # mm
MOST_BARS, MOST_CUTS = 100_000, 100_000
DEAREST = Decimal(10**9)


class BarStock(Struct, frozen=True):
    """A kind of bar: `length` in mm, `quantity` None for as many as needed, cost of one."""

    id: str
    length: float
    quantity: int | None = None
    cost: Decimal = Decimal(0)


class LengthDemand(Struct, frozen=True):
    """A length in mm that is wanted `quantity` times."""

    id: str
    length: float
    quantity: int = 1


class LengthsJob(Struct, frozen=True):
    """Lengths to cut from bars at the least cost.

    Attributes:
        kerf: lost between two cuts and before a leftover, mm.
        end_trim: lost at each end of every bar, mm.
    """

    stock: tuple[BarStock, ...]
    demands: tuple[LengthDemand, ...]
    kerf: float = 0.0
    end_trim: float = 0.0

    def __post_init__(self) -> None:
        _check(self)

    def usable(self, bar: BarStock) -> float:
        """Return the length of a bar between its trims, mm."""
        return bar.length - 2 * self.end_trim

    def room(self, bar: BarStock, lengths: Sequence[float]) -> float:
        """Return what is left of a bar after some cuts, mm; below 0 they do not fit."""
        if not lengths:
            return self.usable(bar)
        left = self.usable(bar) - sum(lengths) - self.kerf * (len(lengths) - 1)
        # The last cut frees the leftover; of one thinner than the blade nothing stays.
        return left if left <= 0 else max(0.0, left - self.kerf)


class CutBar(Struct, frozen=True):
    """`count` bars of one kind that are cut alike: ((demand, how many), …), `left` in mm."""

    stock: str
    count: int
    cuts: tuple[tuple[str, int], ...]
    left: float


class LengthsPlan(Struct, frozen=True):
    """What is cut from what. `bound`: no way to cut all can cost less (proven)."""

    bars: tuple[CutBar, ...]
    cost: Decimal
    bound: Decimal

    @property
    def optimal(self) -> bool:
        """Whether nothing can cost less."""
        return self.cost == self.bound


def _check(job: LengthsJob) -> None:
    for name, value in (("kerf", job.kerf), ("end_trim", job.end_trim)):
        if not 0 <= value <= 1000:
            raise InputError(name, f"{value:g}", "0 to 1000 mm")
    seen: set[str] = set()
    for bar in job.stock:
        where = f"stock '{bar.id}'"
        if bar.id in seen:
            raise InputError(where, "the id is used twice", "different ids")
        seen.add(bar.id)
        _check_length(bar.length, where)
        if bar.quantity is not None and not 0 <= bar.quantity <= MOST_BARS:
            raise InputError(f"{where}, quantity", f"{bar.quantity}", f"0 to {MOST_BARS}, or null")
        if not bar.cost.is_finite() or not 0 <= bar.cost <= DEAREST:
            raise InputError(f"{where}, cost", f"{bar.cost}"[:40], f"0 to {DEAREST}")
    seen = set()
    longest = max((job.usable(b) for b in job.stock if b.quantity != 0), default=0.0)
    for demand in job.demands:
        where = f"demand '{demand.id}'"
        if demand.id in seen:
            raise InputError(where, "the id is used twice", "different ids")
        seen.add(demand.id)
        _check_length(demand.length, where)
        if not 0 <= demand.quantity <= MOST_CUTS:
            raise InputError(f"{where}, quantity", f"{demand.quantity}", f"0 to {MOST_CUTS}")
        if demand.quantity and demand.length > longest + FINEST / 2:
            text = f"{demand.length:g} mm is longer than any bar between its trims"
            raise InputError(f"{where}, length", text, f"at most {longest:g} mm")


def _check_length(length: float, where: str) -> None:
    if not (math.isfinite(length) and FINEST <= length <= LONGEST):
        expected = f"above 0 and at most {LONGEST / 1000:g} m"
        raise InputError(f"{where}, length", f"{length:g} mm", expected)
