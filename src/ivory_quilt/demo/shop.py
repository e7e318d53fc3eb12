"""The demo's shop: invented makes and prices, tiles, a roll, and three irregular offcuts."""

from decimal import Decimal

from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.bars import BarItem, BarKind, BarSection
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind
from ivory_quilt.core.stock.foam_stock import Material, MaterialKind, StockItem, StockKind, sheet
from ivory_quilt.shop.store import ShopStore

MATERIALS = (
    Material(
        "eva",
        "EVA foam",
        both_faces_alike=True,
        book=FoamBook(shrink_along=0.6, shrink_across=0.4, density=0.12, springback=6),
    ),
    Material("tile", "EVA floor tile", both_faces_alike=False, book=FoamBook(density=0.1)),
    Material(
        "thermoplastic",
        "Thermoplastic sheet",
        both_faces_alike=True,
        book=FoamBook(density=1.1, dish_limit=40),
        kind=MaterialKind.PLASTIC,
    ),
    Material(
        "cloth",
        "Stretch cloth",
        both_faces_alike=False,
        book=FoamBook(density=0.25, dish_limit=30, stretch_along=15, stretch_across=40),
        kind=MaterialKind.CLOTH,
    ),
)


def _offcut(
    item_id: str,
    foam: Foam,
    points: list[tuple[float, float]],
    holes: tuple[list[tuple[float, float]], ...] = (),
) -> StockItem:
    shape = Shape.make(points, holes)
    return StockItem(item_id, f"offcut {item_id}", StockKind.OFFCUT, foam, shape, owned=1, margin=2)


def demo_stock() -> tuple[StockItem, ...]:
    """Return the demo's shelf and catalogue."""
    eva2, eva4, eva6, eva10 = (Foam(t, "eva") for t in (2.0, 4.0, 6.0, 10.0))
    tile8 = Foam(8.0, "tile")
    thorn, dew = "Thornmere", "Dewpond"
    items = (
        sheet(
            "T2-roll",
            "2 mm roll",
            eva2,
            (8000, 900),
            kind=StockKind.ROLL,
            price=Decimal("9.80"),
            margin=5,
            make=dew,
        ),
        sheet(
            "T2-half",
            "2 mm half sheet",
            eva2,
            (1000, 500),
            owned=0,
            price=Decimal("6.20"),
            margin=5,
            make=thorn,
        ),
        sheet(
            "T4-half",
            "4 mm half sheet",
            eva4,
            (1000, 500),
            owned=1,
            price=Decimal("8.90"),
            margin=5,
            make=thorn,
        ),
        sheet(
            "T4-full",
            "4 mm full sheet",
            eva4,
            (2000, 1000),
            price=Decimal("31.00"),
            margin=5,
            make=dew,
        ),
        _offcut("K3", eva4, [(0, 0), (420, 0), (420, 180), (250, 230), (180, 390), (0, 390)]),
        sheet(
            "T6-half",
            "6 mm half sheet",
            eva6,
            (1000, 500),
            owned=1,
            price=Decimal("11.50"),
            margin=5,
            make=thorn,
        ),
        sheet(
            "T6-full",
            "6 mm full sheet",
            eva6,
            (2000, 1000),
            price=Decimal("39.00"),
            margin=5,
            make=dew,
        ),
        _offcut(
            "K7",
            eva6,
            [(0, 40), (330, 0), (560, 90), (540, 330), (300, 420), (60, 380)],
            ([(240, 160), (330, 160), (330, 230), (240, 230)],),
        ),
        sheet(
            "T8-tile",
            "8 mm floor tile",
            tile8,
            (600, 600),
            kind=StockKind.TILE,
            owned=1,
            price=Decimal("4.90"),
            margin=20,
            make=dew,
        ),
        sheet(
            "T10-half",
            "10 mm half sheet",
            eva10,
            (1000, 500),
            price=Decimal("17.40"),
            margin=5,
            make=thorn,
        ),
        sheet(
            "T10-full",
            "10 mm full sheet",
            eva10,
            (2000, 1000),
            price=Decimal("61.00"),
            margin=5,
            make=dew,
        ),
        sheet(
            "W1-small",
            "1 mm small sheet",
            Foam(1.0, "thermoplastic"),
            (400, 300),
            owned=1,
            price=Decimal("8.50"),
            margin=2,
            make=dew,
        ),
        sheet(
            "C1-remnant",
            "remnant",
            Foam(1.0, "cloth"),
            (500, 450),
            owned=1,
            price=Decimal("8.20"),
            margin=10,
            make=thorn,
        ),
        _offcut("K9", eva10, [(0, 0), (260, 20), (300, 240), (120, 310), (0, 250)]),
    )
    return tuple(replace(i, supplier=i.make.lower()) if i.make else i for i in items)


def demo_suppliers() -> tuple[Supplier, ...]:
    """Return the demo's two suppliers."""
    return (
        Supplier("dewpond", "Dewpond", Decimal("7.40"), Decimal("90.00"), Decimal("10.00"), 6),
        Supplier("thornmere", "Thornmere", Decimal("5.90"), Decimal("60.00"), Decimal(0), 3),
    )


def demo_bars() -> tuple[BarItem, ...]:
    """Return the demo's shaped lengths."""
    half, rod = BarSection(BarKind.HALF, 10.0), BarSection(BarKind.ROD, 8.0)
    return (
        BarItem("H10", half, 1000.0, 0, Decimal("2.10"), "thornmere"),
        BarItem("R8", rod, 1000.0, 0, Decimal("1.60"), "dewpond"),
    )


def demo_consumables() -> tuple[Consumable, ...]:
    """Return what the demo's shop uses up."""
    cement, blade = ConsumableKind.CEMENT, ConsumableKind.BLADE
    primer, paint = ConsumableKind.PRIMER, ConsumableKind.PAINT
    clay = ConsumableKind.CLAY
    return (
        Consumable(
            "C1",
            "cement tin",
            cement,
            750,
            3.5,
            1,
            Decimal("11.80"),
            "thornmere",
            220,
            "2026-02-14",
            6,
        ),
        Consumable("P1", "brush-on primer", primer, 500, 9, 3, Decimal("14.20"), "dewpond", 180),
        Consumable("A1", "black paint", paint, 250, 8, 2, Decimal("7.90"), "dewpond", 250),
        Consumable("F1", "foam clay", clay, 500, 1.0, 1, Decimal("9.40"), "dewpond", 120),
        Consumable("B1", "knife blades", blade, 10, 12, 1, Decimal("4.60"), "thornmere", 4),
    )


def fill_demo_shop(store: ShopStore) -> None:
    """Fill an empty store with the demo's shop."""
    with store.together():
        for material in MATERIALS:
            store.put_material(material)
        for supplier in demo_suppliers():
            store.put_supplier(supplier)
        for item in demo_stock():
            store.put(item)
        for bar in demo_bars():
            store.put_bar(bar)
        for what in demo_consumables():
            store.put_consumable(what)
