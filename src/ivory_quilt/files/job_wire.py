"""The JSON shape of a layout job; docs/formats.md publishes its schema."""

from decimal import Decimal
from typing import Literal

import msgspec

from ivory_quilt.files.wire import Pair, Ring


class SheetWire(msgspec.Struct):
    """A kind of sheet in a layout job."""

    id: str
    outline: Ring
    holes: list[Ring] = []
    quantity: int | None = 1
    cost: Decimal = Decimal(0)
    margin: float = 0.0
    defects: list[Ring] = []


class RollWire(msgspec.Struct):
    """A roll in a layout job."""

    id: str
    width: float
    max_length: float
    cost_per_mm: Decimal = Decimal(0)
    margin: float = 0.0


class FixedWire(msgspec.Struct):
    """A placement that must stay; the piece is the one it stands in."""

    sheet: str
    translation: Pair
    copy: int = 0
    sheet_copy: int = 0
    mirrored: bool = False
    rotation: float = 0.0


class JobPieceWire(msgspec.Struct):
    """A piece in a layout job."""

    id: str
    outline: Ring
    holes: list[Ring] = []
    quantity: int = 1
    rotations: list[float] | Literal["free"] = msgspec.field(default_factory=lambda: [0.0])
    mirror: bool = False
    fixed: FixedWire | list[FixedWire] | None = None
    group: str | None = None
    hidden: bool = False
    worth: float = 1.0


class JobWire(msgspec.Struct):
    """A layout job."""

    format: Literal["ivory-quilt/lay-job"]
    version: int
    pieces: list[JobPieceWire]
    sheets: list[SheetWire] = []
    rolls: list[RollWire] = []
    gap: float = 0.0
