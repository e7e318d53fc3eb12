"""One sheet that does not take everything, thought of as a strip that is shortened to its length.

A strip is what the search shortens best, and how it does so does not depend on the sheet's length:
so a longer sheet never leaves more out. What lies past the sheet's end is left over.
"""

from collections.abc import Iterator
from decimal import Decimal

from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.nesting.job import (
    LayJob,
    PieceSpec,
    Placement,
    RollSpec,
    SheetSpec,
)
from ivory_quilt.core.record import replace

STRIP = "strip"
LONGER = 4.0  # times as long as its parts need: they all lie on it at first
PER_MM = Decimal("0.001")


def one_sheet(job: LayJob) -> SheetSpec | None:
    """Return the one rectangular sheet that a job is laid on, None for other jobs."""
    if len(job.sheets) != 1 or job.rolls or any(p.fixed for p in job.pieces):
        return None
    (sheet,) = job.sheets
    box = sheet.shape.width * sheet.shape.height
    plain = not sheet.shape.holes and not sheet.defects and abs(sheet.shape.area - box) < 1e-6 * box
    return sheet if sheet.quantity == 1 and plain else None


class StripView:
    """A job on one sheet as a job on a strip along the sheet's length, or across it."""

    def __init__(self, job: LayJob, sheet: SheetSpec, *, across: bool) -> None:
        """Think of `sheet` as a strip; `across`: along its y axis, everything turned by 90°."""
        self._sheet, self._across = sheet, across
        wide, high = sheet.shape.width, sheet.shape.height
        self.length, width = (high, wide) if across else (wide, high)
        usable = max(width - 2 * sheet.margin, 1.0)
        area = sum(p.shape.area * p.quantity for p in job.pieces)
        reach = max((max(p.shape.width, p.shape.height) for p in job.pieces), default=0.0)
        whole = self.length + LONGER * area / usable + 2 * reach
        strip = RollSpec(STRIP, width, whole, PER_MM, sheet.margin)
        pieces = tuple(self._turned(p) for p in job.pieces)
        self.job = LayJob(pieces, (), (strip,), job.gap)

    @property
    def target(self) -> Decimal:
        """The cost at which everything lies on the sheet."""
        return (PER_MM * Decimal(repr(round(self.length, 6)))).quantize(Decimal("0.01")) - Decimal(
            "0.01"
        )

    def _turned(self, piece: PieceSpec) -> PieceSpec:
        if not self._across or piece.rotations is None:
            return piece
        return replace(piece, rotations=tuple((r - 90.0) % 360.0 for r in piece.rotations))

    def on_sheet(self, placements: tuple[Placement, ...]) -> tuple[Placement, ...]:
        """Return what of a layout on the strip lies within the sheet, where it lies there."""
        shapes = {p.id: p.shape for p in self.job.pieces}
        end = self.length - self._sheet.margin + 1e-6
        left, low, _, _ = self._sheet.shape.bounds
        return tuple(
            replace(p, sheet=self._sheet.id, sheet_copy=0, pose=self._back(p.pose, left, low))
            for p in placements
            if shapes[p.piece].placed(p.pose).bounds[2] <= end
        )

    def _back(self, pose: Pose, left: float, low: float) -> Pose:
        if not self._across:
            return Pose(pose.x + left, pose.y + low, pose.rotation, pose.mirrored)
        # A quarter turn takes the strip's x axis to y; then it is moved to the right again.
        wide = self._sheet.shape.width
        turned = (pose.rotation + 90.0) % 360.0
        return Pose(left + wide - pose.y, low + pose.x, turned, pose.mirrored)


def strip_views(job: LayJob, sheet: SheetSpec) -> Iterator[StripView]:
    """Yield the two ways to think of a sheet as a strip."""
    yield StripView(job, sheet, across=False)
    yield StripView(job, sheet, across=True)
