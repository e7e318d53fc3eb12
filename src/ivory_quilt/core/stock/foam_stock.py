"""Foam to lay on: what lies on the shelf and what can be bought."""

from collections.abc import Iterable
from decimal import Decimal
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import BOOK, FoamBook
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stock.bars import BarItem
from ivory_quilt.core.stock.catalogue import Offer, SoldRoll, SoldSheet, Supplier
from ivory_quilt.core.stock.consumables import Consumable
from ivory_quilt.core.stock.keeping import USUAL_RULE, KeepRule
from ivory_quilt.core.stock.work_rates import USUAL_RATES, Rates
from ivory_quilt.core.units import EURO, Currency, show_money, show_thickness

NOBODY = "-"
"""The supplier of what nobody in particular sells: it ships for nothing."""


SIDES = ("left", "below", "right", "above")
"""The sides of a tile, as it lies."""


class StockKind(StrEnum):
    """How foam comes."""

    SHEET = "sheet"
    TILE = "tile"
    ROLL = "roll"
    OFFCUT = "offcut"
    SCRAP = "scrap"
    """Small pieces and strips, counted in heaps of one size: used before a sheet is opened."""


class StockItem(Struct, frozen=True):
    """One kind of stock of one foam, on the shelf, in the catalogue, or both.

    Attributes:
        shape: the sheet, tile or offcut, mm; of a roll, its full width (x: length, y: width).
        owned: how many lie on the shelf (a roll: 1 or 0).
        price: per piece, of a roll per metre; None when it cannot be bought.
        margin: edge strip that is not used, mm (a tile's interlocking edge).
        defects: marked flaws, of something of which only one is owned; parts that show avoid them.
        supplier: id of who sells it; empty where that is not known.
        pack: how many are sold together.
        available: packs that the supplier has; None for as many as are wanted.
        steps: further prices: (packs from, price of one pack), for all packs then.
        measured: thickness as measured, mm; None where nobody did.
        place: where it is kept.
        state: how it is, in a word: new, dented, bleached.
        offered: it can be bought, though nobody has said yet for how much.
        sides: of a tile, those with an interlocking edge, words of `SIDES`; empty for all four.
    """

    id: str
    name: str
    kind: StockKind
    foam: Foam
    shape: Shape
    owned: int = 0
    price: Decimal | None = None
    margin: float = 0.0
    make: str = ""
    defects: tuple[Shape, ...] = ()
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

    def __post_init__(self) -> None:
        where = f"stock '{self.name}'"
        if not self.id:
            raise InputError(where, "it has no id", "a short id")
        if self.owned < 0:
            raise InputError(where, f"owned {self.owned}", "0 or more")
        if self.price is not None and (not self.price.is_finite() or self.price < 0):
            raise InputError(where, f"price {self.price}", "0 or more")
        if not 0 <= self.margin < 500:
            raise InputError(where, f"margin {self.margin}", "0 to 500 mm")
        if problem := shape_problem(self.shape):
            raise InputError(where, problem, "a simple outline")
        if self.measured is not None and not 0.1 <= self.measured <= 200:
            raise InputError(f"{where}, measured", f"{self.measured:g} mm", "0.1 to 200 mm")
        if not set(self.sides.split()) <= set(SIDES):
            raise InputError(f"{where}, sides", f"'{self.sides}'", " ".join(SIDES))
        if self.price is not None:
            self.offer()  # refuses packs and price steps that make no sense

    @property
    def teeth(self) -> tuple[float, float, float, float]:
        """Depth of the interlocking edge at the left, below, at the right and above, mm."""
        if self.kind is not StockKind.TILE:
            return (0.0, 0.0, 0.0, 0.0)
        have = set(self.sides.split()) or set(SIDES)
        left, below, right, above = (self.margin if s in have else 0.0 for s in SIDES)
        return (left, below, right, above)

    @property
    def laid_on(self) -> tuple[Shape, float]:
        """The shape that parts are laid on, and its margin: a tile without some of its edges."""
        if self.kind is not StockKind.TILE or len(set(self.sides.split())) in (0, len(SIDES)):
            return self.shape, self.margin
        x0, y0, x1, y1 = self.shape.bounds
        left, below, right, above = self.teeth
        inner = rectangle(x1 - x0 - left - right, y1 - y0 - below - above)
        return inner.placed(Pose(x0 + left, y0 + below)), 0.0

    @property
    def sold(self) -> bool:
        """Whether it can be bought."""
        return self.offered or self.price is not None

    def offer(self) -> Offer:
        """Return what is sold; of a roll, all of it.

        Raises:
            InputError: it is not sold, or its packs or price steps make no sense.
        """
        if self.price is None:
            raise InputError(f"stock '{self.name}'", "it has no price", "a price")
        goods: SoldSheet | SoldRoll = SoldSheet(*self.laid_on)
        price = self.price * self.pack
        if self.kind is StockKind.ROLL:
            goods = SoldRoll(self.breadth, self.length, self.margin)
            price *= Decimal(repr(round(self.length, 3))) / 1000
        breaks = ((1, price), *self.steps)
        return Offer(self.id, self.supplier or NOBODY, goods, breaks, self.pack, self.available)

    @property
    def length(self) -> float:
        """Extent along the direction of the foam, mm."""
        return self.shape.width

    @property
    def breadth(self) -> float:
        """Extent across, mm."""
        return self.shape.height

    @property
    def size_text(self) -> str:
        """Size as makers say it."""
        size = f"{self.length:.0f} × {self.breadth:.0f} mm"
        return f"about {size}" if self.kind is StockKind.OFFCUT else size


class MaterialKind(StrEnum):
    """What a material is; each looks different in drawings."""

    FOAM = "foam"
    SOFT = "soft foam"
    PLASTIC = "thermoplastic"
    CLOTH = "cloth"


class Material(Struct, frozen=True):
    """A kind of foam: its id, its name, whether both faces look alike, and its book values."""

    id: str
    name: str
    both_faces_alike: bool = False
    book: FoamBook = BOOK
    kind: MaterialKind = MaterialKind.FOAM


class Reservation(Struct, frozen=True):
    """`count` of one item of the shelf that a project holds; `name` is the project's."""

    project: str
    name: str
    item: str
    count: int


class ShopStock(Struct, frozen=True):
    """Everything the shop can cut from and buy, with the shop's currency.

    Attributes:
        reserved: what projects hold of the shelf.
        keep: which offcuts are worth a place on it.
    """

    items: tuple[StockItem, ...] = ()
    materials: tuple[Material, ...] = ()
    currency: Currency = EURO
    suppliers: tuple[Supplier, ...] = ()
    bars: tuple[BarItem, ...] = ()
    consumables: tuple[Consumable, ...] = ()
    reserved: tuple[Reservation, ...] = ()
    keep: KeepRule = USUAL_RULE
    rates: Rates = USUAL_RATES
    sealed: bool = False
    """Whether its sheets have the sizes that they have after heat has closed their faces."""

    def sealed_first(self) -> "ShopStock":
        """Return the shop with whole sheets of foam as large as heat leaves them.

        Offcuts and scrap come from sheets that were sealed already.
        """
        if self.sealed:
            return self
        whole = (StockKind.SHEET, StockKind.TILE, StockKind.ROLL)
        items = []
        for item in self.items:
            book = self.material(item.foam.material).book
            along, across = 1 - book.shrink_along / 100, 1 - book.shrink_across / 100
            if item.kind in whole and (along, across) != (1.0, 1.0):
                item = replace(item, shape=item.shape.stretched(along, across))
            items.append(item)
        return replace(self, items=tuple(items), sealed=True)

    def money(self, amount: Decimal) -> str:
        """Show an amount in the shop's currency."""
        return show_money(amount, self.currency)

    def supplier_name(self, supplier_id: str) -> str:
        """Return a supplier's name, or its id when the shop does not know it."""
        found = next((s for s in self.suppliers if s.id == supplier_id), None)
        return (found.name or found.id) if found else supplier_id

    def free_for(self, project_id: str) -> "ShopStock":
        """Return the shop with what other projects hold taken off the shelf."""
        held: dict[str, int] = {}
        for one in self.reserved:
            if one.project != project_id:
                held[one.item] = held.get(one.item, 0) + one.count
        if not held:
            return self
        items = tuple(
            replace(i, owned=max(0, i.owned - held[i.id])) if i.id in held else i
            for i in self.items
        )
        bars = tuple(
            replace(b, owned=max(0, b.owned - held[b.id])) if b.id in held else b for b in self.bars
        )
        return replace(self, items=items, bars=bars)

    def material(self, material_id: str) -> Material:
        """Return a material; one that the shop does not know has default book values."""
        found = next((m for m in self.materials if m.id == material_id), None)
        return found or Material(material_id, material_id)

    def of(self, foam: Foam) -> tuple[StockItem, ...]:
        """Return the stock of one foam, in shelf order."""
        return tuple(i for i in self.items if i.foam == foam)

    def same_for(self, foam: Foam, other: "ShopStock") -> bool:
        """Return whether one foam can be cut from, bought and kept here as in another shop."""
        rules = (self.keep, self.suppliers, self.material(foam.material))
        others = (other.keep, other.suppliers, other.material(foam.material))
        return rules == others and self.of(foam) == other.of(foam)

    def item(self, item_id: str) -> StockItem | None:
        """Return the item with this id, or None."""
        return next((i for i in self.items if i.id == item_id), None)

    def foam_name(self, foam: Foam, among: Iterable[Foam] = ()) -> str:
        """Return a short name: "6 mm", or what it is where that says more or `among` are two."""
        kind = self.material(foam.material).kind
        if kind is not MaterialKind.FOAM:
            return kind.value.capitalize()
        name = show_thickness(foam.thickness)
        alike = [f for f in among if f.thickness == foam.thickness and f != foam]
        return f"{name} {self.material_name(foam.material)}" if alike else name

    def material_name(self, material_id: str) -> str:
        """Return the material's name, or its id when the shop does not know it."""
        return next((m.name for m in self.materials if m.id == material_id), material_id)


def sheet(
    item_id: str,
    name: str,
    foam: Foam,
    size: tuple[float, float],
    *,
    kind: StockKind = StockKind.SHEET,
    owned: int = 0,
    price: Decimal | None = None,
    margin: float = 0.0,
    make: str = "",
) -> StockItem:
    """Return a rectangular sheet, tile or roll of `size` (length, breadth) in mm."""
    shape = rectangle(*size)
    return StockItem(item_id, name, kind, foam, shape, owned, price, margin, make)
