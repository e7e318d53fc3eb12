"""Printers that the shop knows, each with how true it prints.

A check bar of known length is printed and measured; printed ÷ nominal is the print's scale, its
inverse corrects it (common practice, no source).
"""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

MOST_OFF = 0.2  # a printer further off than this prints "fit to page"


class Printer(Struct, frozen=True):
    """A printer, and what its last check bar measured.

    Attributes:
        name: as the shop calls it.
        nominal: length that the bar should have, mm.
        measured: length that it had, mm.
        date: ISO date, or empty.
    """

    name: str
    nominal: float = 100.0
    measured: float = 100.0
    date: str = ""

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise InputError("printer", "it has no name", "a name")
        if not 0 < self.nominal <= 5000 or not 0 < self.measured <= 5000:
            raise InputError("check bar", "a length is missing", "two lengths above 0")
        if abs(self.measured / self.nominal - 1) > MOST_OFF:
            raise InputError(
                "check bar",
                f"{self.measured:g} mm instead of {self.nominal:g} mm is more than 20 % off",
                "a print at full size, not fitted to the page",
            )

    @property
    def correction(self) -> float:
        """The factor that makes its prints true."""
        return self.nominal / self.measured
