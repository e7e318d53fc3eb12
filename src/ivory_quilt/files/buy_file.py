"""Jobs of what to order, and their results, for the command line (docs/formats.md)."""

from decimal import Decimal
from pathlib import Path
from typing import Literal

import msgspec

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.nesting.job import LayJob, RollSpec, SheetSpec
from ivory_quilt.core.stock.buy_job import BuyFoam, BuyJob, BuyResult
from ivory_quilt.core.stock.catalogue import Offer, SoldLength, SoldRoll, SoldSheet, Supplier
from ivory_quilt.core.stock.lengths_job import BarStock, LengthDemand
from ivory_quilt.files.atomic import read_bytes
from ivory_quilt.files.job_wire import JobPieceWire
from ivory_quilt.files.lay_file import piece_of, result_body
from ivory_quilt.files.lengths_file import BarWire, LengthDemandWire, lengths_body
from ivory_quilt.files.wire import Ring, decode, encode

BUY_FORMAT = "ivory-quilt/buy-job"
BUY_RESULT = "ivory-quilt/buy-result"


class SupplierWire(msgspec.Struct):
    """Where goods come from."""

    id: str
    name: str = ""
    shipping: Decimal = Decimal(0)
    free_from: Decimal | None = None
    minimum: Decimal = Decimal(0)
    days: int = 0


class SoldSheetWire(msgspec.Struct):
    """A sheet as it is sold."""

    outline: Ring
    holes: list[Ring] = []
    margin: float = 0.0


class SoldRollWire(msgspec.Struct):
    """A roll as it is sold, whole."""

    width: float
    length: float
    margin: float = 0.0


class OfferWire(msgspec.Struct):
    """Something a supplier sells: a sheet, a roll or a length."""

    id: str
    supplier: str
    breaks: list[tuple[int, Decimal]]
    pack: int = 1
    available: int | None = None
    sheet: SoldSheetWire | None = None
    roll: SoldRollWire | None = None
    length: float | None = None


class OwnedWire(msgspec.Struct):
    """What is owned: a sheet with its outline, or a roll with its width."""

    id: str
    outline: Ring | None = None
    holes: list[Ring] = []
    quantity: int | None = 1
    margin: float = 0.0
    defects: list[Ring] = []
    width: float | None = None
    max_length: float | None = None
    cost: Decimal = Decimal(0)
    cost_per_mm: Decimal = Decimal(0)


class BuyFoamWire(msgspec.Struct):
    """One material in one thickness."""

    id: str
    pieces: list[JobPieceWire] = []
    owned: list[OwnedWire] = []
    offers: list[OfferWire] = []
    lengths: list[LengthDemandWire] = []
    bars: list[BarWire] = []
    kerf: float = 0.0


class BuyWire(msgspec.Struct):
    """What is to be ordered together."""

    format: Literal["ivory-quilt/buy-job"]
    version: int
    foams: list[BuyFoamWire]
    suppliers: list[SupplierWire] = []
    gap: float = 0.0


def load_buy(path: Path) -> BuyJob:
    """Read what is to be ordered.

    Raises:
        InputError: naming the field, the foam, the offer or the piece that is wrong.
    """
    return decode_buy(read_bytes(path), where=path.name)


def decode_buy(data: bytes, *, where: str = "job") -> BuyJob:
    """Make a job of its file's bytes.

    Raises:
        InputError: see `load_buy`.
    """
    wire = decode(data, BuyWire, where=where, format_name=BUY_FORMAT, newest=1)
    suppliers = tuple(
        Supplier(s.id, s.name, s.shipping, s.free_from, s.minimum, s.days) for s in wire.suppliers
    )
    return BuyJob(tuple(_foam(f, wire.gap) for f in wire.foams), suppliers)


def _foam(wire: BuyFoamWire, gap: float) -> BuyFoam:
    owned = [_owned(o, f"foam '{wire.id}', owned '{o.id}'") for o in wire.owned]
    job = LayJob(
        tuple(piece_of(p) for p in wire.pieces),
        tuple(o for o in owned if isinstance(o, SheetSpec)),
        tuple(o for o in owned if isinstance(o, RollSpec)),
        gap,
    )
    return BuyFoam(
        wire.id,
        job,
        tuple(_offer(o, f"foam '{wire.id}', offer '{o.id}'") for o in wire.offers),
        tuple(LengthDemand(d.id, d.length, d.quantity) for d in wire.lengths),
        tuple(BarStock(b.id, b.length, b.quantity, Decimal(0)) for b in wire.bars),
        wire.kerf,
    )


def _owned(wire: OwnedWire, where: str) -> SheetSpec | RollSpec:
    if wire.cost or wire.cost_per_mm:
        raise InputError(f"{where}, cost", "what is owned costs nothing", "0")
    if wire.outline is not None:
        shape = Shape.make(wire.outline, wire.holes, where=f"{where}, outline")
        flaws = tuple(Shape.make(d, where=f"{where}, defects") for d in wire.defects)
        return SheetSpec(wire.id, shape, wire.quantity, Decimal(0), wire.margin, flaws)
    if wire.width is None or wire.max_length is None:
        raise InputError(where, "neither a sheet nor a roll", "an outline, or width and max_length")
    return RollSpec(wire.id, wire.width, wire.max_length, Decimal(0), wire.margin)


def _offer(wire: OfferWire, where: str) -> Offer:
    kinds = [k for k in (wire.sheet, wire.roll, wire.length) if k is not None]
    if len(kinds) != 1:
        raise InputError(where, f"it has {len(kinds)} of them", "a sheet, a roll or a length")
    goods: SoldSheet | SoldRoll | SoldLength
    if wire.sheet is not None:
        sheet = wire.sheet
        shape = Shape.make(sheet.outline, sheet.holes, where=f"{where}, outline")
        goods = SoldSheet(shape, sheet.margin)
    elif wire.roll is not None:
        goods = SoldRoll(wire.roll.width, wire.roll.length, wire.roll.margin)
    else:
        goods = SoldLength(wire.length or 0.0)
    breaks = tuple((n, price) for n, price in wire.breaks)
    return Offer(wire.id, wire.supplier, goods, breaks, wire.pack, wire.available)


def encode_buy(result: BuyResult) -> bytes:
    """Return an order as the bytes of its file."""
    foams = []
    for foam in result.foams:
        body: dict[str, object] = {"id": foam.foam.id, "layout": result_body(foam.layout)}
        if foam.cuts is not None:
            body["lengths"] = lengths_body(foam.cuts)
        foams.append(body)
    return encode(
        {
            "format": BUY_RESULT,
            "version": 1,
            "seconds": round(result.seconds, 3),
            "total": _money(result.total),
            "bound": _money(result.bound),
            "goods": _money(result.goods),
            "shipping": _money(result.shipping),
            "order": [
                {
                    "offer": line.offer.id,
                    "packs": line.packs,
                    "price": _money(line.price),
                    "cost": _money(line.cost),
                }
                for line in result.lines
            ],
            "foams": foams,
            "scrap": round(result.scrap, 1),
            "kept": round(result.kept, 1),
        }
    )


def _money(amount: Decimal) -> str:
    """Return an exact amount, with two decimals at least."""
    cents = amount.quantize(Decimal("0.01"))
    return f"{cents if cents == amount else amount.normalize():f}"
