"""A sheet that is cut, or under the knife: its parts exist, whatever the project becomes."""

from collections import Counter
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.foam_stock import StockItem

SAME = 0.3  # mm: parts whose outlines differ by less are the same to a knife


class CutState(StrEnum):
    """How far a part on a sheet under the knife is."""

    WAITING = "to cut"
    CUT = "cut"
    CHANGED = "changed"
    """Cut, but otherwise than drawn; it is used all the same."""
    SPOILED = "spoiled"
    """Cut wrong or broken: it is asked for again, and its place on the sheet is gone."""


class CutPart(Struct, frozen=True):
    """One part of a sheet that is cut or under the knife.

    Attributes:
        part: its id in the plan.
        label: its name, hand and wearer, as they were.
        shape: its outline, as it lay face up.
        pose: where it lay on the sheet.
        state: whether it is cut, and as it should be.
        remark: what was changed, or why it is spoiled; may be empty.
        settings: the blade's angles from square, degrees: one pass around it for each, in order.
        passes: how many of them are made while it waits to come free.
    """

    part: str
    label: str
    shape: Shape
    pose: Pose
    state: CutState = CutState.CUT
    remark: str = ""
    settings: tuple[int, ...] = (0,)
    passes: int = 0

    def __post_init__(self) -> None:
        if not 0 <= self.passes < len(self.settings):
            raise InputError(
                f"cut part '{self.label}'",
                f"{self.passes} of its {len(self.settings)} passes are made, and it waits",
                "fewer than it has, one or more",
            )

    @property
    def waiting(self) -> bool:
        """Whether it has not come free yet."""
        return self.state is CutState.WAITING

    @property
    def last_pass(self) -> bool:
        """Whether it comes free with the next pass around it."""
        return self.passes >= len(self.settings) - 1

    @property
    def spoiled(self) -> bool:
        """Whether it is asked for again."""
        return self.state is CutState.SPOILED

    @property
    def made(self) -> bool:
        """Whether it is there to be used."""
        return self.state in (CutState.CUT, CutState.CHANGED)

    def is_still(self, shape: Shape) -> bool:
        """Return whether this is what the plan asks for now: the same outline."""
        if shape == self.shape:
            return True
        near = abs(shape.area - self.shape.area) <= SAME * shape.polygon.length
        return near and shape.polygon.hausdorff_distance(self.shape.polygon) <= SAME


class SpentSheet(Struct, frozen=True):
    """One sheet, or length of a roll, that is cut or under the knife.

    Attributes:
        id: among the project's cut sheets.
        item: what it was taken from, as it lay on the shelf or was sold.
        owned: whether it came off the shelf; else it was bought and cut at once.
        used_length: of a roll, mm; None of a sheet.
        parts: in the order in which they are cut.
        left: what comes onto the shelf: offcuts with their labels, scrap pieces, edge strips.
        under_knife: whether it is being cut: it is off the shelf, what is left of it is not there.
        order: numbers of parts, once for each pass around one, as they are made; empty: each part
            after the other.
    """

    id: str
    item: StockItem
    owned: bool
    used_length: float | None
    parts: tuple[CutPart, ...]
    left: tuple[StockItem, ...] = ()
    under_knife: bool = False
    order: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        where = f"cut sheet '{self.id}'"
        if not self.parts:
            raise InputError(where, "nothing lies on it", "one part or more")
        if self.order and Counter(self.order) != {
            k: len(p.settings) for k, p in enumerate(self.parts)
        }:
            raise InputError(where, "its order of passes is not that of its parts", "each once")

    @property
    def passes(self) -> tuple[tuple[int, int], ...]:
        """(part, which of its passes) of all passes around parts, as they are made."""
        if not self.order:
            return tuple((k, n) for k, p in enumerate(self.parts) for n in range(len(p.settings)))
        seen: Counter[int] = Counter()
        found = []
        for number in self.order:
            found.append((number, seen[number]))
            seen[number] += 1
        return tuple(found)

    @property
    def to_make(self) -> tuple[tuple[int, int], ...]:
        """Those passes that are not made yet."""
        parts = self.parts
        return tuple((k, n) for k, n in self.passes if parts[k].waiting and n >= parts[k].passes)

    def has(self, state: CutState) -> tuple[int, ...]:
        """Return the numbers of the parts that are in a state."""
        return tuple(k for k, part in enumerate(self.parts) if part.state is state)

    @property
    def moved(self) -> tuple[StockItem | None, tuple[StockItem, ...]]:
        """What went off the shelf for it, and what it put there."""
        return (self.item if self.owned else None, () if self.under_knife else self.left)

    @property
    def area(self) -> float:
        """Foam taken, mm²."""
        if self.used_length is not None:
            return self.used_length * self.item.breadth
        return self.item.shape.area

    @property
    def part_area(self) -> float:
        """Foam that became parts, spoiled ones too, mm²."""
        return sum(p.shape.area for p in self.parts)

    @property
    def kept(self) -> float:
        """Foam that went back to the shelf, mm²."""
        return sum(i.shape.area * i.owned for i in self.left)
