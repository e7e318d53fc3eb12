"""The JSON shape of sheets that are cut, as a project holds them."""

from decimal import Decimal

import msgspec

from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState, SpentSheet
from ivory_quilt.files.wire import Pair, Ring


class StockWire(msgspec.Struct):
    """Foam as it lay on the shelf."""

    id: str
    name: str
    kind: StockKind
    material: str
    thickness: float
    outline: Ring
    holes: list[Ring] = []
    owned: int = 0
    price: Decimal | None = None
    margin: float = 0.0
    make: str = ""
    defects: list[Ring] = []
    supplier: str = ""
    pack: int = 1
    available: int | None = None
    steps: tuple[tuple[int, Decimal], ...] = ()
    measured: float | None = None
    colour: str = ""
    place: str = ""
    offered: bool = False
    sides: str = ""
    state: str = ""


ALIKE = [name for name in StockItem.__struct_fields__ if name not in ("foam", "shape", "defects")]
"""What of stock stands in a file as it stands in the core."""


class CutPartWire(msgspec.Struct):
    """A part that was cut."""

    part: str
    label: str
    outline: Ring
    translation: Pair
    holes: list[Ring] = []
    mirrored: bool = False
    rotation: float = 0.0
    spoiled: bool = False
    state: CutState | None = None
    remark: str = ""
    settings: tuple[int, ...] = (0,)
    passes: int = 0


class SpentSheetWire(msgspec.Struct):
    """A sheet that was cut."""

    id: str
    item: StockWire
    owned: bool
    parts: list[CutPartWire]
    used_length: float | None = None
    left: list[StockWire] = []
    under_knife: bool = False
    order: tuple[int, ...] = ()


def spent_of(wire: SpentSheetWire) -> SpentSheet:
    """Return a cut sheet as a file holds it.

    Raises:
        InputError: an outline is none, or nothing lies on it.
    """
    where = f"cut sheet '{wire.id}'"
    parts = tuple(
        CutPart(
            p.part,
            p.label,
            Shape.make(p.outline, p.holes, where=f"{where}, '{p.label}'"),
            Pose(p.translation[0], p.translation[1], p.rotation, p.mirrored),
            _state(p),
            p.remark,
            p.settings,
            p.passes,
        )
        for p in wire.parts
    )
    left = tuple(_item(w) for w in wire.left)
    return SpentSheet(
        wire.id,
        _item(wire.item),
        wire.owned,
        wire.used_length,
        parts,
        left,
        wire.under_knife,
        wire.order,
    )


def _state(wire: CutPartWire) -> CutState:
    """Return how far a part is; older files only say whether it is spoiled."""
    if wire.state is not None:
        return wire.state
    return CutState.SPOILED if wire.spoiled else CutState.CUT


def _item(w: StockWire) -> StockItem:
    where = f"stock '{w.name}'"
    return StockItem(
        foam=Foam(w.thickness, w.material),
        shape=Shape.make(w.outline, w.holes, where=where),
        defects=tuple(Shape.make(d, where=f"{where}, flaw") for d in w.defects),
        **{name: getattr(w, name) for name in ALIKE},
    )


def spent_body(sheet: SpentSheet) -> dict[str, object]:
    """Return a cut sheet as it stands in a file."""
    return {
        "id": sheet.id,
        "item": _body(sheet.item),
        "owned": sheet.owned,
        "used_length": sheet.used_length,
        "parts": [
            {
                "part": p.part,
                "label": p.label,
                "outline": p.shape.outer,
                "holes": p.shape.holes,
                "mirrored": p.pose.mirrored,
                "rotation": p.pose.rotation,
                "translation": (p.pose.x, p.pose.y),
                "state": p.state,
                "remark": p.remark,
                "settings": p.settings,
                "passes": p.passes,
            }
            for p in sheet.parts
        ],
        "left": [_body(i) for i in sheet.left],
        "under_knife": sheet.under_knife,
        "order": sheet.order,
    }


def _body(item: StockItem) -> dict[str, object]:
    return {
        **{name: getattr(item, name) for name in ALIKE},
        "material": item.foam.material,
        "thickness": item.foam.thickness,
        "outline": item.shape.outer,
        "holes": item.shape.holes,
        "defects": [d.outer for d in item.defects],
    }
