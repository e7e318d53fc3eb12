"""What is left of a sheet: worth keeping, or scrap."""

from collections.abc import Iterator
from dataclasses import dataclass

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.job import LayJob, Placement
from ivory_quilt.core.nesting.leftover import Leftover


@dataclass(frozen=True)
class KeepRule:
    """What is put back on the shelf: at least so large an empty rectangle, with so long a side.

    The defaults are from memory, common practice, no source: about a hand's breadth and twice it.
    """

    least_side: float = 80.0
    least_area: float = 20_000.0

    def __post_init__(self) -> None:
        if not 0 < self.least_side <= 5000:
            raise InputError("smallest side kept", f"{self.least_side:g} mm", "above 0 mm to 5 m")
        if not 0 < self.least_area <= 25e6:
            raise InputError("smallest area kept", f"{self.least_area:g} mm²", "above 0 to 25 m²")

    def keeps(self, room: Leftover) -> bool:
        """Return whether a leftover is worth a place on the shelf."""
        return min(room.width, room.height) >= self.least_side and room.area >= self.least_area


USUAL_RULE = KeepRule()


def kept_of(
    job: LayJob, placements: tuple[Placement, ...], rule: KeepRule = USUAL_RULE
) -> Iterator[Leftover]:
    """Yield what is left and worth keeping of every sheet in use; none of them share foam."""
    from ivory_quilt.core.nesting.leftovers import leftovers  # compiled code, for the engine alone

    for room in leftovers(job, placements):
        if rule.keeps(room):
            yield room
