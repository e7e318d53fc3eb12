"""Jobs of lengths to cut from bars, and their results, for the command line (docs/formats.md)."""

from decimal import Decimal
from pathlib import Path
from typing import Literal

import msgspec

from ivory_quilt.core.stock.lengths_job import BarStock, LengthDemand, LengthsJob, LengthsPlan
from ivory_quilt.files.atomic import read_bytes
from ivory_quilt.files.wire import decode, encode

LENGTHS_FORMAT = "ivory-quilt/lengths-job"
LENGTHS_RESULT = "ivory-quilt/lengths-result"


class BarWire(msgspec.Struct):
    """A kind of bar in a job of lengths."""

    id: str
    length: float
    quantity: int | None = None
    cost: Decimal = Decimal(0)


class LengthDemandWire(msgspec.Struct):
    """A length that is wanted."""

    id: str
    length: float
    quantity: int = 1


class LengthsWire(msgspec.Struct):
    """A job of lengths."""

    format: Literal["ivory-quilt/lengths-job"]
    version: int
    stock: list[BarWire]
    demands: list[LengthDemandWire]
    kerf: float = 0.0
    end_trim: float = 0.0


def load_lengths(path: Path) -> LengthsJob:
    """Read a job of lengths.

    Raises:
        InputError: naming the field, the bar or the demand that is wrong.
    """
    return decode_lengths(read_bytes(path), where=path.name)


def decode_lengths(data: bytes, *, where: str = "job") -> LengthsJob:
    """Make a job of its file's bytes.

    Raises:
        InputError: see `load_lengths`.
    """
    wire = decode(data, LengthsWire, where=where, format_name=LENGTHS_FORMAT, newest=1)
    return LengthsJob(
        tuple(BarStock(b.id, b.length, b.quantity, b.cost) for b in wire.stock),
        tuple(LengthDemand(d.id, d.length, d.quantity) for d in wire.demands),
        wire.kerf,
        wire.end_trim,
    )


def encode_lengths(plan: LengthsPlan) -> bytes:
    """Return a plan of cuts as the bytes of its file."""
    return encode({"format": LENGTHS_RESULT, "version": 1, **lengths_body(plan)})


def lengths_body(plan: LengthsPlan) -> dict[str, object]:
    """Return a plan of cuts as it stands in files."""
    return {
        "cost": f"{plan.cost:.2f}",
        "cost_bound": f"{plan.bound:.2f}",
        "optimal": plan.optimal,
        "bars": [
            {"stock": b.stock, "count": b.count, "cuts": [list(c) for c in b.cuts], "left": b.left}
            for b in plan.bars
        ],
    }
