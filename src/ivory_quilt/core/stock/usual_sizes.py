"""Foam in the sizes it usually comes in, for a shop that begins empty.

All sizes are from memory, common practice, no source, and without prices: they can be laid and
counted at once, and what is not sold nearby is taken out again.
"""

from collections.abc import Iterator

from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.stock.bars import BarItem, BarKind, BarSection
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.units import MM_PER_INCH, show_number

FROM_MEMORY = "from memory"
"""Stands as the make of every usual size."""
METRIC_THICKNESSES = (2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0)
METRIC_SHEETS = ((1000.0, 500.0, "half sheet"), (2000.0, 1000.0, "full sheet"))
METRIC_TILES = ((8.0, 600.0), (12.0, 600.0))
INCH_SIXTEENTHS = (1, 2, 3, 4, 6, 8)
INCH_SHEETS = ((24.0, 24.0), (48.0, 24.0))
TILE_EDGE = 20.0  # mm of interlocking edge: 15 to 25, common practice


def usual_foam(*, metric: bool, imperial: bool) -> tuple[StockItem, ...]:
    """Return sheets, tiles, rolls and craft foam in metric sizes, imperial ones, or both.

    None is owned and none has a price; each is an offer to be priced.
    """
    return tuple((*(_metric() if metric else ()), *(_imperial() if imperial else ())))


def usual_bars(*, metric: bool, imperial: bool) -> tuple[BarItem, ...]:
    """Return dowels, half-rounds and bevel strips of a metre, or of 48 inches."""
    sizes = [(s, 1000.0) for s in (10.0, 12.0)] if metric else []
    sizes += [(n * MM_PER_INCH / 8, 48 * MM_PER_INCH) for n in (3, 4)] if imperial else []
    kinds = (BarKind.SQUARE, BarKind.ROUND, BarKind.HALF, BarKind.BEVEL)
    made = []
    for kind in kinds:
        for size, length in sizes:
            section = BarSection(kind, round(size, 3))
            made.append(BarItem(f"usual {section.name} {length:.0f}", section, length))
    return tuple(made)


def usual_consumables() -> tuple[Consumable, ...]:
    """Return what every shop uses up, with rates from memory and nothing at hand."""
    kinds = ConsumableKind
    return (
        Consumable("usual cement", "contact cement", kinds.CEMENT, 750, 3.5, 1, months=12),
        Consumable("usual sealer", "sealer", kinds.SEALER, 500, 8, 3),
        Consumable("usual filler", "flexible filler", kinds.FILLER, 250, 1.5, 1),
        Consumable("usual clay", "foam clay", kinds.CLAY, 500, 1.0, 1, months=6),
        Consumable("usual primer", "primer", kinds.PRIMER, 500, 9, 2),
        Consumable("usual paint", "paint", kinds.PAINT, 250, 8, 2),
        Consumable("usual blades", "knife blades", kinds.BLADE, 10, 12, 1),
    )


def _item(
    ident: str, name: str, kind: StockKind, foam: Foam, size: tuple[float, float], margin: float
) -> StockItem:
    shape = rectangle(*size)
    return StockItem(
        f"usual {ident}", name, kind, foam, shape, margin=margin, make=FROM_MEMORY, offered=True
    )


def _metric() -> Iterator[StockItem]:
    for thickness in METRIC_THICKNESSES:
        foam, word = Foam(thickness, "eva"), show_number(thickness, 1)
        for length, breadth, name in METRIC_SHEETS:
            ident = f"{word} mm {length:.0f}x{breadth:.0f}"
            title = f"{word} mm {name}"
            yield _item(ident, title, StockKind.SHEET, foam, (length, breadth), 5.0)
        if thickness <= 6:
            ident = f"{word} mm roll"
            yield _item(ident, ident, StockKind.ROLL, foam, (10_000.0, 1000.0), 5.0)
    for thickness, side in METRIC_TILES:
        ident = f"{thickness:.0f} mm floor tile"
        yield _item(ident, ident, StockKind.TILE, Foam(thickness, "tile"), (side, side), TILE_EDGE)
    craft = Foam(2.0, "eva")
    yield _item("craft A4", "2 mm craft foam A4", StockKind.SHEET, craft, (297.0, 210.0), 2.0)
    yield _item("craft A3", "2 mm craft foam A3", StockKind.SHEET, craft, (420.0, 297.0), 2.0)


def _imperial() -> Iterator[StockItem]:
    for count in INCH_SIXTEENTHS:
        thickness = round(count * MM_PER_INCH / 16, 3)
        word = _inches(count)
        for length, breadth in INCH_SHEETS:
            size = (length * MM_PER_INCH, breadth * MM_PER_INCH)
            ident = f"{word} in {length:.0f}x{breadth:.0f} in"
            title = f"{word} in sheet {length:.0f} × {breadth:.0f} in"
            yield _item(ident, title, StockKind.SHEET, Foam(thickness, "eva"), size, 5.0)
    side = 24 * MM_PER_INCH
    half = Foam(round(MM_PER_INCH / 2, 3), "tile")
    name = "1/2 in floor tile"
    yield _item(name, name, StockKind.TILE, half, (side, side), TILE_EDGE)
    craft = Foam(2.0, "eva")
    size = (18 * MM_PER_INCH, 12 * MM_PER_INCH)
    yield _item("craft 18x12 in", "craft foam 18 × 12 in", StockKind.SHEET, craft, size, 2.0)


def _inches(sixteenths: int) -> str:
    for top in (8, 4, 2, 1):
        if sixteenths % top == 0:
            return f"{sixteenths // top}/{16 // top}"
    return f"{sixteenths}/16"
