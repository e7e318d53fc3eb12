"""What cutting a sheet does to the shelf, and taking that back: all of it or nothing."""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import ShopStock, StockItem, StockKind
from ivory_quilt.core.stock.spent_sheet import SpentSheet
from ivory_quilt.shop.store import ShopStore


def move_foam(
    store: ShopStore, before: tuple[SpentSheet, ...], after: tuple[SpentSheet, ...]
) -> None:
    """Make the shelf follow a project in which other sheets are cut now than before.

    Raises:
        InputError: it cannot; the shelf is as it was.
    """
    old, new = {s.id: s for s in before}, {s.id: s for s in after}
    if not foam_moves(before, after):
        return
    with store.together():
        for ident, sheet in old.items():
            if ident not in new or new[ident].moved != sheet.moved:
                put_back(store, sheet)
        for ident, sheet in new.items():
            if ident not in old or old[ident].moved != sheet.moved:
                take_cut(store, sheet)


def foam_moves(before: tuple[SpentSheet, ...], after: tuple[SpentSheet, ...]) -> bool:
    """Return whether the shelf is another one once `after` are cut instead of `before`."""
    return before is not after and {s.id: s.moved for s in before} != {s.id: s.moved for s in after}


def take_cut(store: ShopStore, sheet: SpentSheet) -> None:
    """Take a cut sheet off the shelf, and put what is left of it there.

    Raises:
        InputError: the sheet is not on the shelf any more, or an offcut's label is in use.
    """
    with store.together():
        shop = store.stock()
        if sheet.owned:
            _take(store, shop, sheet)
        for item in sheet.moved[1]:
            known = shop.item(item.id)
            if known is None:
                store.put(item)
            elif item.kind is StockKind.SCRAP:
                store.put(replace(known, owned=known.owned + item.owned))
            else:
                problem = f"the label {item.id} is on another offcut by now"
                raise InputError(item.name, problem, "the same again: it gets another label")


def _take(store: ShopStore, shop: ShopStock, sheet: SpentSheet) -> None:
    item = shop.item(sheet.item.id)
    if item is None or item.owned < 1:
        raise InputError(sheet.item.name, "none is on the shelf any more", "a sheet that is there")
    _put_or_drop(store, replace(item, owned=item.owned - 1))


def _put_or_drop(store: ShopStore, item: StockItem) -> None:
    """Put an item back as it is now; one that is used up and not sold is none any more."""
    if item.owned or item.sold:
        store.put(item)
    else:
        store.remove(item.id)


def put_back(store: ShopStore, sheet: SpentSheet) -> None:
    """Put a sheet that was not cut after all back on the shelf, and take away what it left.

    Raises:
        InputError: something of what it left is used already.
    """
    with store.together():
        shop = store.stock()
        for item in sheet.moved[1]:
            known = shop.item(item.id)
            there = known.owned if known is not None else 0
            if there < item.owned and item.kind is not StockKind.SCRAP:
                problem = "it is not on the shelf any more: something was cut from it"
                raise InputError(item.name, problem, "the offcut as it was")
            if known is not None:
                _put_or_drop(store, replace(known, owned=max(0, there - item.owned)))
        if not sheet.owned:
            return
        known = shop.item(sheet.item.id)
        if known is None:
            store.put(replace(sheet.item, owned=1))
        else:
            store.put(replace(known, owned=known.owned + 1))
