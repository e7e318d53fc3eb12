"""What the Buy station shows and does, without a widget."""

import re
from decimal import Decimal

from ivory_quilt.core.document.project import free_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.cutting import EDGE
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stock.foam_stock import ShopStock, StockItem, StockKind
from ivory_quilt.core.stock.purchase import PurchaseLine
from ivory_quilt.core.stock.usual_sizes import usual_bars, usual_consumables, usual_foam
from ivory_quilt.core.units import (
    counted,
    parse_length,
    parse_money,
    show_money,
    show_thickness,
    typed_length,
)
from ivory_quilt.desk.session import Session

KINDS = (
    (StockKind.SHEET, "sheet"),
    (StockKind.TILE, "tile"),
    (StockKind.ROLL, "roll"),
    (StockKind.OFFCUT, "offcut"),
    (StockKind.SCRAP, "scrap"),
)
DEFAULT_MARGIN = {
    StockKind.SHEET: 5.0,
    StockKind.TILE: 20.0,  # the interlocking edge, 15 to 25 mm: common practice, no source
    StockKind.ROLL: 5.0,
    StockKind.OFFCUT: EDGE,
    StockKind.SCRAP: EDGE,
}


class StockForm(Struct, frozen=True):
    """Stock as a maker types it."""

    kind: StockKind
    material: str
    thickness: str
    length: str
    breadth: str
    owned: int
    price: str
    margin: str
    name: str = ""
    outline: Shape | None = None
    corners: str = ""
    sides: str = ""


def corners_of(text: str) -> Shape:
    """Read an outline as typed: ``0,0; 420,0; 420,180; 0,390``, mm or with units.

    Raises:
        InputError: naming the corner that is none, or an outline that crosses itself.
    """
    points = []
    for number, part in enumerate(filter(None, (p.strip() for p in text.split(";"))), 1):
        x, comma, y = part.partition(",")
        where = f"corner {number}"
        if not comma:
            raise InputError(where, f"'{part}'", "x, comma, y: 0,0; 420,0; 420,180; 0,390")
        points.append((parse_length(x, where=where), parse_length(y, where=where)))
    if len(points) < 3:
        raise InputError("corners", f"{counted(len(points), 'corner')}", "three or more")
    return Shape.make(points, where="corners")


def stock_from(form: StockForm, stock: ShopStock, item_id: str | None = None) -> StockItem:
    """Make a stock item of a form.

    Raises:
        InputError: naming the field that makes no sense.
    """
    thickness = parse_length(form.thickness, where="thickness")
    if not 0.1 <= thickness <= 200:
        raise InputError("thickness", f"'{form.thickness}'", "0.1 to 200 mm")
    margin = typed_length(form.margin or "0", where="edge strip")
    if form.outline is not None:
        shape = form.outline
    elif form.corners.strip():
        shape = corners_of(form.corners)
    else:
        length = typed_length(form.length, where="length")
        breadth = typed_length(form.breadth, where="width")
        for where, value in (("length", length), ("width", breadth)):
            if not 1 <= value <= 1e6:
                raise InputError(where, f"{value:g} mm", "1 mm to 1 km")
        shape = rectangle(length, breadth)
    price = parse_money(form.price, where="price") if form.price.strip() else None
    if price is None and form.owned == 0:
        raise InputError("stock", "none is owned and it has no price", "a number or a price")
    foam = Foam(thickness, form.material)
    name = form.name.strip() or f"{show_thickness(thickness)} {dict(KINDS)[form.kind]}"
    ident = item_id or fresh_stock_id(name, stock)
    return StockItem(
        ident, name, form.kind, foam, shape, form.owned, price, margin, sides=form.sides
    )


def fresh_stock_id(name: str, stock: ShopStock) -> str:
    """Return a short id that the shop does not know yet."""
    wish = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "stock"
    return free_name(wish, {i.id for i in stock.items})


class BuyRow(Struct, frozen=True):
    """One line of a foam's table, as text."""

    name: str
    origin: str
    amount: str
    unit_price: str
    cost: str
    line: PurchaseLine


class BuyPresenter:
    """Rows to show, and changes to the shop."""

    def __init__(self, session: Session) -> None:
        """Work on `session`."""
        self.session = session

    def rows(self, foam: FoamPlan) -> list[BuyRow]:
        """Return what is taken of one foam: to buy first."""
        sign = self.session.stock.currency
        rows = []
        for line in (*foam.line.bought, *foam.line.from_shelf):
            per = " / m" if line.item.kind is StockKind.ROLL else ""
            price = "" if line.owned or line.item.price is None else f"{line.item.price:.2f}{per}"
            rows.append(
                BuyRow(
                    line.item.name,
                    "on the shelf" if line.owned else line.item.make or "to buy",
                    line.amount_text,
                    price,
                    show_money(line.cost, sign) if not line.owned else "owned",
                    line,
                )
            )
        return rows

    def set_owned(self, item: StockItem, owned: int) -> None:
        """Say how many of an item lie on the shelf."""
        if owned == 0 and not item.sold:
            self.remove(item)
        else:
            self.session.try_shop(lambda: self.session.put_stock(replace(item, owned=owned)))

    def remove(self, item: StockItem) -> None:
        """Take an item out of the shop."""
        self.session.try_shop(lambda: self.session.remove_stock(item.id))

    def set_price(self, item: StockItem, text: str) -> None:
        """Say what an item costs; empty means that it cannot be bought.

        Raises:
            InputError: not an amount of money.
        """
        price: Decimal | None = parse_money(text, where="price") if text.strip() else None
        if price is None and item.owned == 0 and not item.offered:
            raise InputError("price", "none is owned and it has no price", "a price")
        self.session.put_stock(replace(item, price=price))

    def add_usual(self, *, metric: bool = False, imperial: bool = False) -> None:
        """Put the sizes that foam usually comes in into the catalogue, to be priced."""
        items = usual_foam(metric=metric, imperial=imperial)
        store = self.session.store

        def add() -> None:
            with store.together():
                for item in items:
                    store.put(item)
                for bar in usual_bars(metric=metric, imperial=imperial):
                    store.put_bar(bar)
                for what in usual_consumables():
                    store.put_consumable(what)

        if self.session.try_shop(add):
            self.session.reload_stock()
            text = f"{len(items)} usual sizes are in the catalogue, from memory, without prices."
            self.session.tell(text, "good")

    def add(self, form: StockForm) -> StockItem:
        """Put new stock on the shelf or into the catalogue.

        Raises:
            InputError: see `stock_from`.
        """
        item = stock_from(form, self.session.stock)
        self.session.put_stock(item)
        return item
