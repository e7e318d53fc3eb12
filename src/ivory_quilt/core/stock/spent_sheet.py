"""A sheet that was cut: its parts exist, whatever the shop has or the project becomes."""

from dataclasses import dataclass

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.stock.foam_stock import StockItem

SAME = 0.3  # mm: parts whose outlines differ by less are the same to a knife


@dataclass(frozen=True)
class CutPart:
    """One part that was cut.

    Attributes:
        part: its id in the plan.
        label: its name, hand and wearer, as they were.
        shape: its outline, as it lay face up.
        pose: where it lay on the sheet.
        spoiled: it was cut wrong or broke, and is asked for again.
    """

    part: str
    label: str
    shape: Shape
    pose: Pose
    spoiled: bool = False

    def is_still(self, shape: Shape) -> bool:
        """Return whether this is what the plan asks for now: the same outline."""
        if shape == self.shape:
            return True
        near = abs(shape.area - self.shape.area) <= SAME * shape.polygon.length
        return near and shape.polygon.hausdorff_distance(self.shape.polygon) <= SAME


@dataclass(frozen=True)
class SpentSheet:
    """One sheet, or length of a roll, that was cut.

    Attributes:
        id: among the project's cut sheets.
        item: what it was taken from, as it lay on the shelf or was sold.
        owned: whether it came off the shelf; else it was bought and cut at once.
        used_length: of a roll, mm; None of a sheet.
        left: what came onto the shelf: offcuts with their labels, scrap pieces, edge strips.
    """

    id: str
    item: StockItem
    owned: bool
    used_length: float | None
    parts: tuple[CutPart, ...]
    left: tuple[StockItem, ...] = ()

    def __post_init__(self) -> None:
        if not self.parts:
            raise InputError(f"cut sheet '{self.id}'", "nothing lies on it", "one part or more")

    @property
    def area(self) -> float:
        """Foam taken, mm²."""
        if self.used_length is not None:
            return self.used_length * self.item.breadth
        return self.item.shape.area

    @property
    def part_area(self) -> float:
        """Foam that became parts, mm²."""
        return sum(p.shape.area for p in self.parts)

    @property
    def kept(self) -> float:
        """Foam that went back to the shelf, mm²."""
        return sum(i.shape.area * i.owned for i in self.left)
